// Sign-off: the last steps, found/planned/measured side by side, what is open, the exports, the next unit.
#pragma once

#include "ui/look.h"
#include "ui/procedure/procedure_view.h"
#include "ui/session.h"

#include <QAbstractButton>
#include <QWidget>

namespace offshoot::ui {

class CaptureIntake;
class CapturesPage;

class SignOffPage : public QWidget
{
    Q_OBJECT

public:
    SignOffPage(CaptureIntake& captures, JobSession& session, Look& look, QWidget* parent = nullptr);
    ProcedureView& steps() { return *m_steps; }
    CapturesPage& captures() { return *m_captures; }
    void showCaptures();

Q_SIGNALS:
    void exportWanted(const QString& kind); ///< "pdf", "html", "svg"
    void nextUnitWanted();

private:
    QWidget* compare();
    QWidget* units();
    QString onScreen(QString table) const;

    JobSession& m_session;
    Look& m_look;
    ProcedureView* m_steps;
    CapturesPage* m_captures;
    std::vector<QAbstractButton*> m_tabs;
};

} // namespace offshoot::ui
