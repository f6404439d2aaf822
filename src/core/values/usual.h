// Figures that stand in where nobody gave one, wherever they are asked for.
#pragma once

namespace offshoot {

/// Share of the nominal mains voltage, up and down (IEC 60038).
inline constexpr double usual_mains_spread = 0.10;
/// Output over input power of a supply.
inline constexpr double usual_efficiency = 0.8;

} // namespace offshoot
