// `discharge.plan`: how long until a reservoir is safe, which resistor takes it down, how much comes back.
#pragma once

#include "core/supply/mains_parts.h"
#include "core/values/verdict.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

enum class CapacitorArrangement { Parallel, Series };
template <>
struct Words<CapacitorArrangement>
{
    static constexpr std::array<std::string_view, 2> list{"parallel", "series"};
};

struct DischargePlanInput
{
    struct Capacitor
    {
        double c_f;
        CapacitorKind kind = CapacitorKind::Aluminium;
        std::optional<std::string> name = {};
    };
    struct Tool
    {
        std::optional<double> r_ohm = {};
        std::optional<double> pulse_j = {};
        std::optional<double> power_w = {};
        std::optional<double> v_max_v = {};
    };
    double v0_v;
    std::vector<Capacitor> capacitors;
    CapacitorArrangement arrangement = CapacitorArrangement::Parallel;
    std::optional<double> bleeder_ohm = {};
    std::optional<double> bleeder_power_w = {};
    double t_s = 5;
    double v_end_v = 10;
    std::optional<Tool> tool = {};
};
void fields(Fields& f, DischargePlanInput& in);

struct DischargePlanResult
{
    struct Bleeder
    {
        double r_ohm;
        double tau_s;
        double t60_s; ///< to 60 V; likewise 42 V and 10 V
        double t42_s;
        double t10_s;
        double power_w;
        Verdict verdict;
    };
    struct Tool
    {
        double r_ohm;
        double t60_s;
        double t42_s;
        double t10_s;
        double i_peak_a;
        double p_peak_w;
        double energy_j;
        Verdict pulse_verdict;
        Verdict left_on_verdict;
        Verdict voltage_verdict;
    };
    double c_f;
    double energy_j;
    std::optional<Bleeder> bleeder;
    std::optional<double> tool_max_ohm;
    std::optional<Tool> tool;
    double recovery_share;
    double recovery_v;
    double wait_s;
    std::vector<double> each_v;
};
void fields(Fields& f, DischargePlanResult& out);

/// v = v₀·e^(−t/(R·C)), P = v₀²/R, E = C·v₀²/2 (textbook); what comes back is a share of v₀ by the kind of
/// capacitor (dielectric absorption, capacitor texts), and more of it is waited for longer. Throws nothing.
DischargePlanResult dischargePlan(const DischargePlanInput& in);

/// Time for R·C to fall from v0 to v: R·C·ln(v0/v), 0 if already below.
double dischargeTime(double r_ohm, double c_f, double v0_v, double v_v);

/// A resistor that can be bought and takes a reservoir down: E6 ohms, what its pulse asks of it, and how
/// long.
struct DischargeTool
{
    double ohm;
    double v_v;      ///< highest it can find, which it must bear
    double power_w;  ///< at first: V²/R
    double energy_j; ///< of the pulse: ½·C·V²
    double seconds;  ///< to 10 V
    double rated_w;  ///< wirewound as sold, which it may be left on with
    /// "6k8, 25 W wirewound for 500 V: 23 W and 8 J at first, 2.4 s".
    std::string text() const;
};
/// The smallest E6 resistor that may be left on at 25 W, or at 100 W where that would take over a minute.
/// `v0_v` above 10 V, `c_f` above 0.
DischargeTool dischargeTool(double v0_v, double c_f);

/// Below this a reservoir counts as dead, in volts.
inline constexpr double dead_v = 10;

} // namespace offshoot
