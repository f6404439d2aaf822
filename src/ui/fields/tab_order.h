// What is built late comes last in the Tab order, wherever it stands: here it takes its own place.
#pragma once

#include <QWidget>

namespace offshoot::ui {

/// Puts what Tab reaches on `page` right behind what it reaches on `before`; first of all where it is a part
/// of that.
void tabBehind(QWidget& before, QWidget& page);

} // namespace offshoot::ui
