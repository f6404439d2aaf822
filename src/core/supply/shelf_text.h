// Ranges and sizes as people write them on plates and in tables.
#pragma once

#include "core/supply/shelf_unit.h"
#include "core/values/quantity.h"

#include <optional>
#include <string>
#include <utility>

namespace offshoot {

/// "21.6-28.8", "100…240V", "47 - 63": both ends in the quantity, none below zero, in order. Else nothing.
std::optional<std::pair<double, double>> rangeIn(const std::string& text, Quantity quantity);
/// "129x97x30" in millimetres, also with × between and mm or cm behind. Else nothing.
std::optional<BoxSize> sizeIn(std::string text);

} // namespace offshoot
