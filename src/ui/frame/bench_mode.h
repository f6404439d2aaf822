// Bench mode: one step at a time in type readable at two metres. Space accepts what may be accepted; it never
// changes the isolation state.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>

class QLineEdit;

namespace offshoot::ui {

class BenchMode : public QWidget
{
    Q_OBJECT

public:
    BenchMode(JobSession& session, Look& look, QWidget* parent = nullptr);
    /// The step shown; nothing when every step is done.
    const StepView* current() const;
    /// What Space would do, or why it does nothing.
    QString hint() const;

Q_SIGNALS:
    void closed();

protected:
    void paintEvent(QPaintEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void accept();
    void take();

    JobSession& m_session;
    Look& m_look;
    QLineEdit* m_entry;
    QString m_message;
};

} // namespace offshoot::ui
