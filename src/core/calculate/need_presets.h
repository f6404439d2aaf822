// Presets of the need: they fill its window and say why. The person may change every figure afterwards.
#pragma once

#include "core/calculate/divider.h"

#include <string>

namespace offshoot {

struct NeedPreset
{
    Target window;
    std::string why;
    bool battery; ///< the load is itself a source
};

/// Float voltage of `cells` (1 to 300) lead-acid cells in series at `temperature_k`, in volts:
/// 2.27 V a cell at 25 °C, −3.3 mV a cell and kelvin (lead-acid battery handbooks).
double floatVoltage(int cells, double temperature_k);

/// Float charge: the set point to a tenth of a volt, and 25 mV a cell either way, which a float charge bears.
NeedPreset floatChargePreset(int cells, double temperature_k);
/// Equipment that names a voltage (above zero) and a tolerance as a fraction (above 0, below 1).
NeedPreset equipmentPreset(double v, double tolerance);
/// A round voltage for the bench, ± 2 %.
NeedPreset benchPreset(double v);

} // namespace offshoot
