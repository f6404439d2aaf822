// Refreshing a view from the session only while somebody can see it.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>
#include <functional>
#include <utility>

namespace offshoot::ui {

/// Runs `refresh` when `widget` is first shown, at every change of session or look while it is visible, and
/// when it is shown after a change it missed. Laying out rich text that nobody sees would cost most of an
/// edit.
void refreshWhileVisible(QWidget& widget, JobSession& session, Look& look, std::function<void()> refresh);

/// Paints `widget` again when the session changes what `shown` takes from it: all that its picture is made
/// of.
template <typename Shown>
void repaintWhenOther(QWidget& widget, JobSession& session, Shown shown)
{
    QObject::connect(&session, &JobSession::changed, &widget, [&widget, shown, last = shown()]() mutable {
        if (auto now = shown(); now != last) {
            last = std::move(now);
            widget.update();
        }
    });
}

} // namespace offshoot::ui
