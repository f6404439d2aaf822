// Figures as sentences show them: value and unit, as format.h makes them, under short names.
#pragma once

#include "core/values/format.h"

namespace offshoot {

namespace lengths {
inline constexpr double mm = 1e-3; ///< in metres
}

inline std::string volts(double v_v) { return formatVolts(v_v); }
inline std::string amps(double i_a) { return formatValue(i_a, Quantity::Current); }
inline std::string watts(double p_w) { return formatValue(p_w, Quantity::Power); }
/// A length in millimetres, without its unit: to a tenth below a metre.
inline std::string millimetres(double length_m) { return significant(length_m * 1e3, 4); }

} // namespace offshoot
