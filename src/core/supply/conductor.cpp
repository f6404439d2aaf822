#include "core/supply/conductor.h"

namespace offshoot {

namespace {

constexpr double copper_ohm_m = 1.724e-8;
constexpr double copper_per_k = 0.00393;
constexpr double reference_k = 293.15;

} // namespace

double conductorOhm(double length_m, double area_m2, double temperature_k)
{
    return copper_ohm_m * length_m / area_m2 * (1 + copper_per_k * (temperature_k - reference_k));
}

} // namespace offshoot
