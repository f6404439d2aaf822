// A list of the job as a table a person types into: rows are added and removed, cells read what people write
// and keep it, with the message, when it does not read.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QAbstractTableModel>
#include <QWidget>
#include <functional>
#include <map>
#include <vector>

class QLabel;
class QTableView;

namespace offshoot::ui {

struct TableColumn
{
    QString title;
    std::function<QString(const Job&, std::size_t row)> get;
    /// Puts the text into the job; what is wrong with it, or empty.
    std::function<QString(Job&, std::size_t row, const QString& text)> set;
    QStringList choices = {}; ///< when not empty the cell offers these
    bool narrow = false;      ///< figures: no wider than they are
};

struct TableSpec
{
    QString name; ///< of the table
    QString one;  ///< of one row: "rail"
    std::function<std::size_t(const Job&)> count;
    std::function<void(Job&)> add = {}; ///< none: its rows come from elsewhere
    std::function<void(Job&, std::size_t row)> remove = {};
    std::vector<TableColumn> columns;
    std::size_t least = 0; ///< rows that must stay
};

class JobTableModel : public QAbstractTableModel
{
    Q_OBJECT

public:
    JobTableModel(TableSpec spec, JobSession& session, Look& look, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;
    const TableSpec& spec() const { return m_spec; }
    void add();
    void remove(int row);
    /// What its cells say is asked for again.
    void showAnew();

Q_SIGNALS:
    void problem(const QString& text);

private:
    void follow();

    TableSpec m_spec;
    JobSession& m_session;
    Look& m_look;
    int m_rows;
    std::map<std::pair<int, int>, QString> m_typed; ///< what did not read, until it does
};

class JobTable : public QWidget
{
    Q_OBJECT

public:
    JobTable(TableSpec spec, JobSession& session, Look& look, QWidget* parent = nullptr);

    /// Its first cell is ready to be typed into.
    void goTo(int row);

protected:
    void showEvent(QShowEvent* event) override;
    void changeEvent(QEvent* event) override;

private:
    void fit();

    Look& m_look;
    JobTableModel* m_model;
    QTableView* m_view;
    QLabel* m_problem;
};

// Cells of the usual kinds; `at` finds the member in the row.
using TextAt = std::function<std::string&(Job&, std::size_t)>;
using NumberAt = std::function<std::optional<double>&(Job&, std::size_t)>;
TableColumn textColumn(const QString& title, const TextAt& at, bool mayBeEmpty = true);
TableColumn numberColumn(const QString& title, Quantity quantity, const NumberAt& at);
TableColumn percentColumn(const QString& title, const NumberAt& at);

} // namespace offshoot::ui
