// Found: the units of a job that joins several. The first is the one on the bench; a further one is entered
// as a copy of it and made its own cell by cell.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>

namespace offshoot::ui {

class UnitsPage : public QWidget
{
    Q_OBJECT

public:
    UnitsPage(JobSession& session, Look& look, QWidget* parent = nullptr);
};

} // namespace offshoot::ui
