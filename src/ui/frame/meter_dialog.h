// What the meter in hand is good for, as its data sheet states it: ±(share of the reading + counts).
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QDialog>

namespace offshoot::ui {

class MeterDialog : public QDialog
{
    Q_OBJECT

public:
    MeterDialog(JobSession& session, const Look& look, QWidget* parent = nullptr);
    /// It is to be held against a better one.
    bool holdWanted() const { return m_hold; }

private:
    bool m_hold = false;
};

} // namespace offshoot::ui
