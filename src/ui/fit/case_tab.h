// The case as measured: inside, what stays in it, vents, old holes, where the wires are held; and how high
// the unit stands.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>
#include <functional>

class QFormLayout;
class QLabel;
class QLineEdit;

namespace offshoot::ui {

class CaseTab : public QWidget
{
    Q_OBJECT

public:
    /// `unit` tells which unit of the plan the standoff is of.
    CaseTab(JobSession& session, Look& look, std::function<std::size_t()> unit, QWidget* parent = nullptr);

private:
    void addLengths(QFormLayout& form);
    void showInside();
    void setInside();

    JobSession& m_session;
    std::function<std::size_t()> m_unit;
    QLineEdit* m_inside;
    QLabel* m_said;
    QWidget* m_rest = nullptr; ///< what is in the case
};

} // namespace offshoot::ui
