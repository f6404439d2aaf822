// One quantity of the job as a line a person types in: parsed as they write it, kept as typed when it does
// not read, with the message beside it.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QWidget>
#include <functional>

class QFormLayout;

namespace offshoot::ui {

struct ValueSpec
{
    QString label;
    Quantity quantity;
    std::function<std::optional<double>(const Job&)> get;
    std::function<void(Job&, std::optional<double>)> set;
    double least = 0; ///< values must be above this unless `zeroAllowed`
    bool zeroAllowed = false;
    double most = 1e15;
    bool percent = false;     ///< typed and shown as a percentage, stored as a share
    bool ampereHours = false; ///< typed in Ah, stored in coulomb
    QString hint = {};
    /// What is wrong with the job when the value is set; what was typed stays then. Empty where nothing is.
    std::function<QString(const Job&)> wrong = {};
};

class ValueField : public QWidget
{
    Q_OBJECT

public:
    ValueField(ValueSpec spec, JobSession& session, QWidget* parent = nullptr);
    QLineEdit& line() { return *m_line; }
    const QString& label() const { return m_spec.label; }
    QString problem() const { return m_problem->text(); }

private:
    void commit();
    void show();
    void complain(const QString& message);
    std::optional<double> read(const QString& text, QString& message) const;
    QString write(double value) const;

    ValueSpec m_spec;
    JobSession& m_session;
    QLineEdit* m_line;
    QLabel* m_problem;
};

/// A field with its label before it.
void addValueRow(QFormLayout& form, ValueSpec spec, JobSession& session);

/// A text of the job in a line.
class TextField : public QLineEdit
{
    Q_OBJECT

public:
    TextField(const QString& what, const std::function<std::string(const Job&)>& get,
              std::function<void(Job&, std::string)> set, JobSession& session, QWidget* parent = nullptr);
};

/// A choice of the job, by its place in the list.
class ChoiceField : public QComboBox
{
    Q_OBJECT

public:
    ChoiceField(const QString& what, const QStringList& choices, const std::function<int(const Job&)>& get,
                const std::function<void(Job&, int)>& set, JobSession& session, QWidget* parent = nullptr);
};

/// A yes or no of the job.
class TickField : public QCheckBox
{
    Q_OBJECT

public:
    TickField(const QString& what, const std::function<bool(const Job&)>& get,
              const std::function<void(Job&, bool)>& set, JobSession& session, QWidget* parent = nullptr);
};

/// Networks and markings of a divider leg: typed values, colour bands ("red red black red brown") or chip
/// codes.
struct LegReading
{
    std::optional<Network> network;
    QString message; ///< how it was understood, or what is wrong
};
LegReading readLeg(const QString& text);

} // namespace offshoot::ui
