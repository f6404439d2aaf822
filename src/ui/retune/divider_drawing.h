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
    /// `withPlan` draws the added network and the fault lines below.
    DividerDrawing(JobSession& session, Look& look, bool withPlan, QWidget* parent = nullptr);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void paintLeg(QPainter& painter, bool top, double y0, double y1) const;
    void paintAdded(QPainter& painter, const DividerOption& option, double y0, double y1) const;
    void paintFaults(QPainter& painter, double y) const;

    JobSession& m_session;
    Look& m_look;
    bool m_withPlan;
};

/// "across the bottom leg" and so on.
QString methodPhrase(DividerMethod method);
/// "low", "in the window", "high", "runs away".
QString outcomePhrase(const FaultResult& fault);

} // namespace offshoot::ui
