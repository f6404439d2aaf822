// Numbers as people read them: SI prefixes, sensible digits, resistor notation. Never the locale's.
#pragma once

#include "core/values/quantity.h"

#include <algorithm>
#include <string>
#include <vector>

namespace offshoot {

/// The shortest text that reads back to exactly this double ("0.25", "4700", "1e-06").
std::string plainNumber(double value);

/// `value` with `digits` significant digits, in fixed notation, without trailing zeros.
std::string significant(double value, int digits);

/// `value` with exactly `decimals` places.
std::string fixed(double value, int decimals);

/// With SI prefix and unit: 0.0331 A → "33.1 mA". Rounds before it chooses the prefix. Wire sizes as mm².
std::string formatValue(double value, Quantity quantity, int digits = 3);

/// As formatValue, with the decimals a voltage of this size deserves: 27.60 V, 5.08 V, 325 V.
std::string formatVolts(double volts);

/// Resistor notation with the prefix for a point: 4700 → "4k7", 0.22 → "0R22", 22000 → "22k".
std::string formatOhms(double ohm);

/// "1 %", "0.5 %".
std::string formatPercent(double fraction, int digits = 2);

/// "2 min 10 s", "45 s", "1 h 5 min".
std::string formatDuration(double seconds);

/// A word of the file format as people read it: "series parallel". Words that would not say enough have a
/// phrase of their own beside their enumeration.
template <class E>
std::string phrase(E value)
{
    std::string text(word(value));
    std::ranges::replace(text, '_', ' ');
    return text;
}

/// "a, b and c".
std::string listed(const std::vector<std::string>& names);

} // namespace offshoot
