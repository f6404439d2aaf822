// The temporary trimmer's travel: its ends in volts, the stretch inside the window, the preset and the
// target.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>

namespace offshoot::ui {

class TravelPicture : public QWidget
{
    Q_OBJECT

public:
    TravelPicture(JobSession& session, Look& look, QWidget* parent = nullptr);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    JobSession& m_session;
    Look& m_look;
};

} // namespace offshoot::ui
