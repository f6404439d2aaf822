// Electrolytics that lay without voltage are formed again before the first power.
#pragma once

#include "core/job/job.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// An aluminium electrolytic that has lain without voltage is formed again through a resistor at its rated
/// voltage (pre-conditioning of IEC 60384-4), here with at most 5 mA, until it leaks less than the usual
/// datasheet limit 0.01·C·V + 3 µA.
struct Forming
{
    std::string name; ///< "C1"
    double v_v;
    double r_ohm;         ///< V/5 mA
    double r_power_w;     ///< V²/R, into a short
    double leakage_max_a; ///< done below this
};
/// Years without voltage from which an electrolytic is formed again (usual storage limit of datasheets).
inline constexpr double idle_years_max = 2;
/// The chain's capacitors whose value and rating are known; empty for a supply that was in use.
std::vector<Forming> formingsOf(const Job& job);

} // namespace offshoot
