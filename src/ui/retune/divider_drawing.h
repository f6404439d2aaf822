// The divider drawn with its real parts: found legs, the added network where it joins, and what its joints
// do.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>

namespace offshoot::ui {

class DividerDrawing : public QWidget
{
    Q_OBJECT

public:
    /// The found divider; with the planned network; and with what its joints do, below.
    enum class Shows { Found, PlanAndFaults };
    DividerDrawing(JobSession& session, Look& look, Shows shows, QWidget* parent = nullptr);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void paintFaults(QPainter& painter, double y) const;

    JobSession& m_session;
    Look& m_look;
    Shows m_shows;
};

/// "across the bottom leg" and so on.
QString methodPhrase(DividerMethod method);
/// Those of every method, in their order.
QStringList methodPhrases();
/// "low", "in the window", "high", "runs away".
QString outcomePhrase(const FaultResult& fault);

} // namespace offshoot::ui
