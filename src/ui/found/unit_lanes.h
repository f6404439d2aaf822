// The units of a job as lanes that meet: what each gives, the lead to where they join, what of it is earthed.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>

namespace offshoot::ui {

class UnitLanes : public QWidget
{
    Q_OBJECT

public:
    UnitLanes(JobSession& session, Look& look, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void refresh();
    void paintUnit(QPainter& painter, const QRectF& box, std::size_t unit) const;
    void paintMeeting(QPainter& painter, std::size_t count) const;
    void paintLeadOf(QPainter& painter, const QRectF& box, const Joint& joint) const;

    JobSession& m_session;
    Look& m_look;
};

} // namespace offshoot::ui
