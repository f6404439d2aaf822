// Found: the rails, who uses them, the trimmers that move them and the wires of the harness, as tables.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>

namespace offshoot::ui {

class RailsPage : public QWidget
{
    Q_OBJECT

public:
    RailsPage(JobSession& session, Look& look, QWidget* parent = nullptr);
};

} // namespace offshoot::ui
