// The resistance of copper.
#pragma once

namespace offshoot {

/// Ω of one copper conductor of `length_m` (0 and up) and `area_m2` (above 0): 1.724e-8 Ω·m at 293.15 K
/// (annealed copper, IEC 60028), 0.393 % more for each kelvin.
double conductorOhm(double length_m, double area_m2, double temperature_k);

} // namespace offshoot
