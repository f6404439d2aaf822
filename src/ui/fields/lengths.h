// Lengths in millimetres, several in one line.
#pragma once

#include <QString>
#include <vector>

namespace offshoot::ui {

/// Metres: "12, 30", "12, 30, 5" or "45.5x26.5" in millimetres. Empty where it does not read.
std::vector<double> lengthsIn(const QString& text);
/// "45.5": millimetres without their unit.
QString mmText(double length_m);

} // namespace offshoot::ui
