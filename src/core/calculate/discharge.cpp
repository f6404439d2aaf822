#include "core/calculate/discharge.h"

#include "core/values/format.h"
#include "core/values/preferred.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

double dischargeTime(double r_ohm, double c_f, double v0_v, double v_v)
{
    return v0_v <= v_v ? 0 : r_ohm * c_f * std::log(v0_v / v_v);
}

namespace {

constexpr double long_wait_s = 300;
constexpr double short_wait_s = 60;

/// Sets the three times every discharge path has.
template <class Path>
void setTimes(Path& path, double c_f, double v0_v)
{
    path.t60_s = dischargeTime(path.r_ohm, c_f, v0_v, 60);
    path.t42_s = dischargeTime(path.r_ohm, c_f, v0_v, 42);
    path.t10_s = dischargeTime(path.r_ohm, c_f, v0_v, 10);
}

DischargePlanResult::Tool toolWith(double r_ohm, const DischargePlanInput& in,
                                   const DischargePlanResult& result)
{
    const auto given = in.tool.value_or(DischargePlanInput::Tool{});
    DischargePlanResult::Tool tool{};
    tool.r_ohm = r_ohm;
    setTimes(tool, result.c_f, in.v0_v);
    tool.i_peak_a = in.v0_v / r_ohm;
    tool.p_peak_w = in.v0_v * in.v0_v / r_ohm;
    tool.energy_j = result.energy_j;
    tool.pulse_verdict = judgeUse(useOf(tool.energy_j, given.pulse_j));
    tool.left_on_verdict = judgeUse(useOf(tool.p_peak_w, given.power_w), resistor_power_bounds);
    tool.voltage_verdict = judgeUse(useOf(in.v0_v, given.v_max_v));
    return tool;
}

} // namespace

DischargePlanResult dischargePlan(const DischargePlanInput& in)
{
    DischargePlanResult result{};
    const bool series = in.arrangement == CapacitorArrangement::Series;
    double sum = 0;
    for (const auto& capacitor : in.capacitors) {
        sum += series ? 1 / capacitor.c_f : capacitor.c_f;
        result.recovery_share = std::max(result.recovery_share, recoveryShare(capacitor.kind));
    }
    result.c_f = series ? 1 / sum : sum;
    result.energy_j = 0.5 * result.c_f * in.v0_v * in.v0_v;
    if (in.bleeder_ohm) {
        DischargePlanResult::Bleeder bleeder{};
        bleeder.r_ohm = *in.bleeder_ohm;
        bleeder.tau_s = bleeder.r_ohm * result.c_f;
        setTimes(bleeder, result.c_f, in.v0_v);
        bleeder.power_w = in.v0_v * in.v0_v / bleeder.r_ohm;
        bleeder.verdict = judgeUse(useOf(bleeder.power_w, in.bleeder_power_w), resistor_power_bounds);
        result.bleeder = bleeder;
    }
    if (in.v0_v > in.v_end_v)
        result.tool_max_ohm = in.t_s / (result.c_f * std::log(in.v0_v / in.v_end_v));
    const auto tool_ohm = in.tool && in.tool->r_ohm ? in.tool->r_ohm : result.tool_max_ohm;
    if (tool_ohm)
        result.tool = toolWith(*tool_ohm, in, result);
    result.recovery_v = result.recovery_share * in.v0_v;
    result.wait_s = atLeast(result.recovery_v, dead_v) ? long_wait_s : short_wait_s;
    for (const auto& capacitor : in.capacitors)
        result.each_v.push_back(series ? in.v0_v * result.c_f / capacitor.c_f : in.v0_v);
    return result;
}

DischargeTool dischargeTool(double v0_v, double c_f)
{
    constexpr double small_w = 25;
    constexpr double large_w = 100;
    constexpr double patience_s = 60;
    static constexpr std::array<double, 4> sold_w{5, 10, small_w, large_w};
    const auto toolOf = [&](double most_w) {
        const auto ohms = valuesWithin(Series::E6, 1, 1e7);
        const auto at = std::ranges::find_if(ohms, [&](double r) { return v0_v * v0_v / r <= most_w; });
        const double ohm = at == ohms.end() ? ohms.back() : *at;
        DischargeTool tool{.ohm = ohm,
                           .v_v = v0_v,
                           .power_w = v0_v * v0_v / ohm,
                           .energy_j = 0.5 * c_f * v0_v * v0_v,
                           .seconds = dischargeTime(ohm, c_f, v0_v, dead_v),
                           .rated_w = most_w};
        for (const double rated_w : sold_w)
            if (rated_w >= tool.power_w) {
                tool.rated_w = rated_w;
                break;
            }
        return tool;
    };
    const DischargeTool gentle = toolOf(small_w);
    return gentle.seconds <= patience_s ? gentle : toolOf(large_w);
}

std::string DischargeTool::text() const
{
    static constexpr std::array<double, 8> sold_v{50, 100, 200, 350, 500, 750, 1000, 2500};
    const auto rated = std::ranges::find_if(sold_v, [this](double v) { return v >= v_v; });
    return formatOhms(ohm) + ", " + formatValue(rated_w, Quantity::Power) + " wirewound, for " +
           formatValue(rated == sold_v.end() ? v_v : *rated, Quantity::Voltage) + " or more (" +
           formatValue(power_w, Quantity::Power, 2) + " at first, " + significant(energy_j, 2) + " J, " +
           formatDuration(std::max(1.0, std::ceil(seconds))) + " to 10 V)";
}

void fields(Fields& f, DischargePlanInput::Capacitor& value)
{
    f.need("c_f", value.c_f, range::positive);
    f.may("kind", value.kind);
    f.may("name", value.name);
}

void fields(Fields& f, DischargePlanInput::Tool& value)
{
    f.may("r_ohm", value.r_ohm, range::positive);
    f.may("pulse_j", value.pulse_j, range::positive);
    f.may("power_w", value.power_w, range::positive);
    f.may("v_max_v", value.v_max_v, range::positive);
}

void fields(Fields& f, DischargePlanInput& in)
{
    f.need("v0_v", in.v0_v, range::positive);
    f.need("capacitors", in.capacitors, {1, 50});
    f.may("arrangement", in.arrangement);
    f.may("bleeder_ohm", in.bleeder_ohm, range::positive);
    f.may("bleeder_power_w", in.bleeder_power_w, range::positive);
    f.demand(!in.bleeder_power_w || in.bleeder_ohm, ErrorCode::Inconsistent, "bleeder_power_w",
             "a rating without its bleeder_ohm");
    f.may("t_s", in.t_s, range::positive);
    f.may("v_end_v", in.v_end_v, range::positive);
    f.may("tool", in.tool);
}

void fields(Fields& f, DischargePlanResult::Bleeder& out)
{
    f.need("r_ohm", out.r_ohm);
    f.need("tau_s", out.tau_s);
    f.need("t60_s", out.t60_s);
    f.need("t42_s", out.t42_s);
    f.need("t10_s", out.t10_s);
    f.need("power_w", out.power_w);
    f.need("verdict", out.verdict);
}

void fields(Fields& f, DischargePlanResult::Tool& out)
{
    f.need("r_ohm", out.r_ohm);
    f.need("t60_s", out.t60_s);
    f.need("t42_s", out.t42_s);
    f.need("t10_s", out.t10_s);
    f.need("i_peak_a", out.i_peak_a);
    f.need("p_peak_w", out.p_peak_w);
    f.need("energy_j", out.energy_j);
    f.need("pulse_verdict", out.pulse_verdict);
    f.need("left_on_verdict", out.left_on_verdict);
    f.need("voltage_verdict", out.voltage_verdict);
}

void fields(Fields& f, DischargePlanResult& out)
{
    f.need("c_f", out.c_f);
    f.need("energy_j", out.energy_j);
    f.may("bleeder", out.bleeder);
    f.may("tool_max_ohm", out.tool_max_ohm);
    f.may("tool", out.tool);
    f.need("recovery_share", out.recovery_share);
    f.need("recovery_v", out.recovery_v);
    f.need("wait_s", out.wait_s);
    f.need("each_v", out.each_v, range::any);
}

} // namespace offshoot
