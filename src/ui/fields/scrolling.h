#pragma once

#include <QScrollArea>

namespace offshoot::ui {

/// An area that a widget fills, and in which it scrolls where there is less room than it needs.
QScrollArea* scrolling(QWidget* widget);

} // namespace offshoot::ui
