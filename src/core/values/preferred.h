// Preferred numbers of IEC 60063: E3 to E192.
#pragma once

#include "core/values/fields.h"

#include <optional>
#include <vector>

namespace offshoot {

enum class Series { E3, E6, E12, E24, E48, E96, E192 };
template <>
struct Words<Series>
{
    static constexpr std::array<std::string_view, 7> list{"E3", "E6", "E12", "E24", "E48", "E96", "E192"};
};

/// The series' numbers of one decade as whole hundreds: 100 to 9xx.
const std::vector<int>& decade(Series series);

/// Every value of the series from `from_ohm` to `to_ohm`, ends included, ascending.
std::vector<double> valuesWithin(Series series, double from_ohm, double to_ohm);

/// The smallest series that holds the value (any decade), or nothing: then it was probably misread.
std::optional<Series> smallestSeriesWith(double value);

} // namespace offshoot
