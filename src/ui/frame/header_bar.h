// The top line: the job, its need in one sentence, the counts, and the isolation state as a large control.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QAbstractButton>
#include <QWidget>

namespace offshoot::ui {

/// A plate with a drawn sign; pressing it opens what can be declared now.
class IsolationControl : public QAbstractButton
{
    Q_OBJECT

public:
    IsolationControl(JobSession& session, Look& look, QWidget* parent = nullptr);
    QSize sizeHint() const override;
    /// The words on the plate: state, and what is next.
    QString headline() const;
    QString detail() const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void openMenu();
    void refresh();

    JobSession& m_session;
    Look& m_look;
};

class HeaderBar : public QWidget
{
    Q_OBJECT

public:
    HeaderBar(JobSession& session, Look& look, QWidget* parent = nullptr);
    QSize sizeHint() const override;
    IsolationControl& isolation() { return *m_isolation; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    struct Said
    {
        QString title;
        QString need;
        Counts counts;
        bool operator==(const Said&) const = default;
    };
    void refresh();
    double paintCounts(QPainter& painter, double right) const;

    JobSession& m_session;
    Look& m_look;
    IsolationControl* m_isolation;
    Said m_said;
};

} // namespace offshoot::ui
