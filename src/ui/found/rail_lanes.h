// The rails as lanes: what each gives and bears, who draws how much of it, what turns it, which wires carry
// it.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>

namespace offshoot::ui {

constexpr double laneHigh = 58;

class RailLanes : public QWidget
{
    Q_OBJECT

public:
    RailLanes(JobSession& session, Look& look, QWidget* parent = nullptr);

Q_SIGNALS:
    void chosen(int rail);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    void refresh();
    void paintLane(QPainter& painter, const QRectF& box, const Rail& rail) const;
    void paintUsers(QPainter& painter, const QRectF& track, const Rail& rail) const;
    void paintWires(QPainter& painter, const QRectF& box, const Rail& rail) const;

    JobSession& m_session;
    Look& m_look;
};

} // namespace offshoot::ui
