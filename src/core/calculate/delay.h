// `delay.rc`: how long an R·C takes to reach a threshold, with the capacitor's leakage and both tolerances,
// or which R makes a wanted time; and how long it must be off before it delays again.
//
// V_end = V_s − R·I_leak; t = R·C·ln((V_end − V_i)/(V_end − V_th)).
#pragma once

#include "core/values/fields.h"

#include <optional>

namespace offshoot {

struct DelayInput
{
    double c_f;
    std::optional<double> r_ohm = {}; ///< one of the two
    std::optional<double> t_s = {};
    double v_supply_v;
    double v_initial_v = 0;
    double v_threshold_v;
    double i_leak_a = 0;
    double r_tolerance = 0;
    double c_tolerance = 0;
    std::optional<double> r_discharge_ohm = {};
};
void fields(Fields& f, DelayInput& in);

struct DelayResult
{
    double t_s;
    double r_ohm;
    double v_final_v;
    double t_min_s;
    std::optional<double> t_max_s; ///< nothing if it may never get there
    std::optional<double> reset_s; ///< off for less and it closes too soon
};
void fields(Fields& f, DelayResult& out);

/// Throws DocumentError `no_solution` at /v_threshold_v or /i_leak_a.
DelayResult delayRc(const DelayInput& in);

} // namespace offshoot
