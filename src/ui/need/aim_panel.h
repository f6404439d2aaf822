// What is to be done? The first question of an empty job.
#pragma once

#include "core/job/aim.h"
#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>

class QPainter;

namespace offshoot::ui {

class AimPanel : public QWidget
{
    Q_OBJECT

public:
    AimPanel(JobSession& session, Look& look, QWidget* parent = nullptr);

Q_SIGNALS:
    /// Answered, or put off.
    void done();
};

/// "Make it give another voltage" as a small drawing.
void paintAim(QPainter& painter, const QRectF& box, Aim aim, const Look& look);

} // namespace offshoot::ui
