// What the plan drags along: every part's use of its limit as a bar, worst first; opening one shows the
// working and the ways to answer it. Narrow windows fold it to a strip of marks.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QAbstractListModel>
#include <QListView>
#include <QStyledItemDelegate>
#include <QWidget>

class QLabel;
class QPushButton;

namespace offshoot::ui {

class ConsequencesModel : public QAbstractListModel
{
    Q_OBJECT

public:
    explicit ConsequencesModel(JobSession& session, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    const ConsequenceRow& row(int i) const { return m_rows.at(static_cast<std::size_t>(i)); }

private:
    void take();
    JobSession& m_session;
    std::vector<ConsequenceRow> m_rows;
    // What an opened row also tells:
    std::vector<Acceptance> m_accepted;
    std::vector<Refit> m_refits;
};

class ConsequencesDelegate : public QStyledItemDelegate
{
    Q_OBJECT

public:
    ConsequencesDelegate(const ConsequencesModel& model, JobSession& session, Look& look, QObject* parent);
    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override;
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
    void setFolded(bool folded) { m_folded = folded; }
    /// The one row that shows its working, or none.
    std::optional<RowKey> opened;

private:
    QString workingText(const ConsequenceRow& row) const;

    const ConsequencesModel& m_model;
    JobSession& m_session;
    Look& m_look;
    bool m_folded = false;
};

class ConsequencesPanel : public QWidget
{
    Q_OBJECT

public:
    ConsequencesPanel(JobSession& session, Look& look, QWidget* parent = nullptr);
    void setFolded(bool folded);
    bool folded() const { return m_folded; }

Q_SIGNALS:
    void unfoldWanted();
    void planWanted();

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void toggle(const QModelIndex& index);
    void showAnswers();
    void fitAnother();
    void accept();

    JobSession& m_session;
    Look& m_look;
    ConsequencesModel* m_model;
    ConsequencesDelegate* m_delegate;
    QListView* m_list;
    QLabel* m_title;
    QLabel* m_order;
    QLabel* m_empty;
    QWidget* m_answers;
    QPushButton* m_fit;
    QPushButton* m_accept;
    QPushButton* m_change;
    bool m_folded = false;
};

/// "27.6 V of 35 V", "17.3 V", "rating not read".
QString figureOf(const ConsequenceRow& row);
QString partOf(const ConsequenceRow& row, const Job& job);

} // namespace offshoot::ui
