// Refreshing a view from the session only while somebody can see it.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>
#include <functional>

namespace offshoot::ui {

/// Runs `refresh` when `widget` is first shown, at every change of session or look while it is visible, and
/// when it is shown after a change it missed. Laying out rich text that nobody sees would cost most of an
/// edit.
void refreshWhileVisible(QWidget& widget, JobSession& session, Look& look, std::function<void()> refresh);

} // namespace offshoot::ui
