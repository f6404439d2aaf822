// `sense.plan`: remote sense. What arrives with the sense wires at the load, at the terminals, opened or
// swapped; does the unit's range, ceiling and trip bear it, and does the loop stay steady?
//
// Node equations at the sense pins: a pin sees the far end through its lead and its own terminal through the
// fallback resistor, and draws the sense current. With p, n the drops of the two leads and k = R_lead/(R_lead
// + R_fallback): V_load = V_set − k·(p − i_s·R_fb) − k·(n − i_s·R_fb).
#pragma once

#include "core/values/verdict.h"

#include <optional>
#include <vector>

namespace offshoot {

struct SenseWindow
{
    double min_v;
    double max_v;
};
void fields(Fields& f, SenseWindow& value);

struct SenseInput
{
    double v_set_v;
    double current_a;
    double r_positive_ohm; ///< of the load lead
    double r_negative_ohm;
    double r_sense_lead_ohm = 0;               ///< each
    std::optional<double> r_fallback_ohm = {}; ///< each, terminal to sense pin inside the unit
    double sense_current_a = 0;                ///< drawn by each pin
    std::optional<double> sense_range_v = {};  ///< the most it can make up for
    std::optional<double> ceiling_v = {};      ///< most the terminals can give
    std::optional<double> ovp_v = {};          ///< over-voltage trip at the terminals
    std::optional<double> rated_w = {};
    std::optional<double> load_capacitor_f = {};
    std::optional<double> bandwidth_hz = {}; ///< of the loop
    std::optional<SenseWindow> window = {};  ///< wanted at the load
};
void fields(Fields& f, SenseInput& in);

enum class SenseState { Remote, Local, PositiveOpen, NegativeOpen, BothOpen, Reversed };
template <>
struct Words<SenseState>
{
    static constexpr std::array<std::string_view, 6> list{"remote",        "local",     "positive_open",
                                                          "negative_open", "both_open", "reversed"};
};

struct SenseOutcome
{
    SenseState state;
    std::optional<double> v_load_v; ///< nothing where the output runs away
    std::optional<double> v_terminal_v;
    bool runaway;
    Verdict verdict;
};
void fields(Fields& f, SenseOutcome& out);

struct SenseResult
{
    double drop_v;
    std::vector<SenseOutcome> states; ///< in the order of SenseState
    std::optional<double> range_use;
    Verdict range_verdict;
    Verdict ceiling_verdict;
    Verdict ovp_verdict;
    double power_w;
    Verdict power_verdict;
    double regulation_local;
    std::optional<double> loop_use;
    Verdict loop_verdict;
    Verdict verdict;
};
void fields(Fields& f, SenseResult& out);

/// From here the pole of leads and load capacitor unsettles the loop, as a share of its bandwidth.
inline constexpr double sense_loop_breaks = 0.5;

/// The states of the wires by the equations at the head of this file, volts at load and terminals; what has
/// no limit entered is unknown, what loses its sense runs away. Throws nothing.
SenseResult sensePlan(const SenseInput& in);

} // namespace offshoot
