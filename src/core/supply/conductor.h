// The resistance of copper.
#pragma once

namespace offshoot {

/// Resistance of one conductor, any length from 0 up, at a temperature in kelvin.
double conductorOhm(double length_m, double area_m2, double temperature_k);

} // namespace offshoot
