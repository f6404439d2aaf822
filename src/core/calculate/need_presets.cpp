#include "core/calculate/need_presets.h"

#include "core/values/format.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

constexpr double cell_v = 2.27;
constexpr double per_kelvin_v = -3.3e-3;
constexpr double room_k = 298.15;

Target around(double v, double half) { return {v, v - half, v + half}; }

double toTenth(double v) { return std::round(v * 10) / 10; }

} // namespace

double floatVoltage(int cells, double temperature_k)
{
    return cells * (cell_v + per_kelvin_v * (temperature_k - room_k));
}

NeedPreset floatChargePreset(int cells, double temperature_k)
{
    constexpr double half_cell_v = 0.025;
    constexpr double zero_celsius_k = 273.15;
    const double exact_v = floatVoltage(cells, temperature_k);
    const std::string count = std::to_string(cells);
    return {around(toTenth(exact_v), std::max(toTenth(cells * half_cell_v), 0.1)),
            "float charge of " + count + " lead-acid cells at " +
                formatValue(temperature_k, Quantity::Temperature) + ": " + count +
                " × (2.27 V − 3.3 mV/K × (" + significant(temperature_k - zero_celsius_k, 3) +
                " − 25)) = " + fixed(exact_v, 2) + " V",
            true};
}

NeedPreset equipmentPreset(double v, double tolerance)
{
    return {around(v, v * tolerance),
            "the equipment names " + formatVolts(v) + " ± " + significant(tolerance * 100, 3) + " %", false};
}

NeedPreset benchPreset(double v) { return {around(v, v * 0.02), "a round bench voltage, ± 2 %", false}; }

} // namespace offshoot
