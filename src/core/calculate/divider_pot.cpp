#include "core/calculate/divider_pot.h"

#include "core/values/bisect.h"
#include "core/values/preferred.h"
#include "core/values/verdict.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <tuple>

namespace offshoot {

namespace {

/// Output voltage along the travel x of 0 to 1; infinite where the loop is lost. Monotone in x.
class Travel
{
public:
    explicit Travel(const DividerPotInput& in)
        : m_in(in)
    {}

    Legs legs(double x) const
    {
        return withAdded(m_in.method, m_in.divider.nominal(), m_in.fixed_ohm + x * m_in.pot_ohm);
    }
    double voltage(double x) const
    {
        const Reference& reference = m_in.divider.reference;
        const Legs at = legs(x);
        return runsAway(at) ? std::numeric_limits<double>::infinity()
                            : dividerVoltage(reference.v_ref_v, reference.i_ref_a, at);
    }
    FaultResult result(double x) const { return faultResult(m_in.divider.reference, legs(x), target()); }
    const Target* target() const { return m_in.target ? &*m_in.target : nullptr; }

    /// Where the voltage passes `v`, by bisection to the last bit; an end of the travel if it never does.
    double crossing(double v) const
    {
        const bool rising = voltage(1) >= voltage(0);
        return bisect(0, 1, [&](double x) { return (voltage(x) < v) == rising; });
    }

private:
    const DividerPotInput& m_in;
};

double presetOhm(const DividerPotInput& in)
{
    const Legs legs = in.divider.nominal();
    if (replaces(in.method)) {
        const double leg = joinsTop(in.method) ? legs.top_ohm : legs.bottom_ohm;
        return std::clamp(leg - in.fixed_ohm, 0.0, in.pot_ohm);
    }
    const bool parallel =
        in.method == DividerMethod::ParallelBottom || in.method == DividerMethod::ParallelTop;
    return parallel ? in.pot_ohm : 0;
}

void findTarget(DividerPotResult& result, const DividerPotInput& in, const Travel& travel)
{
    const double low = std::min(travel.voltage(0), travel.voltage(1));
    const double high = std::max(travel.voltage(0), travel.voltage(1));
    const Target& target = *in.target;
    if (within(target.v, low, high)) {
        result.target_travel = travel.crossing(target.v);
        result.target_ohm = *result.target_travel * in.pot_ohm;
    }
    result.window_travel = 0;
    if (atMost(target.min_v, high) && atLeast(target.max_v, low))
        std::tie(result.window_from, result.window_to) = std::minmax(
            {travel.crossing(std::min(target.max_v, high)), travel.crossing(std::max(target.min_v, low))});
    if (low == high && within(low, target.min_v, target.max_v))
        std::tie(result.window_from, result.window_to) = std::pair(0.0, 1.0);
    if (result.window_from)
        result.window_travel = *result.window_to - *result.window_from;
}

} // namespace

DividerPotResult dividerPot(const DividerPotInput& in)
{
    const Reference& reference = in.divider.reference;
    const Travel travel(in);
    DividerPotResult result{};
    result.found_v = dividerVoltage(reference.v_ref_v, reference.i_ref_a, in.divider.nominal());
    result.at_zero = travel.result(0);
    result.at_full = travel.result(1);
    result.min_v = std::min(travel.voltage(0), travel.voltage(1));
    if (const double max = std::max(travel.voltage(0), travel.voltage(1)); std::isfinite(max))
        result.max_v = max;
    result.open_wiper = in.wiper_tied ? travel.result(1)
                                      : faultResult(reference, withAddedOpen(in.method, in.divider.nominal()),
                                                    travel.target());
    result.preset_ohm = presetOhm(in);
    if (const double v = travel.voltage(result.preset_ohm / in.pot_ohm); std::isfinite(v))
        result.preset_v = v;
    if (in.measured_ohm) {
        const Legs legs = withAdded(in.method, in.divider.nominal(), *in.measured_ohm);
        result.predicted_v = faultResult(reference, legs, nullptr).v;
    }
    if (in.target)
        findTarget(result, in, travel);
    return result;
}

TrimmerChoice usualTrimmerFor(double exact_ohm)
{
    constexpr double highest_start = 0.7;
    constexpr double least_end = 1.2;
    const auto fixed = valuesWithin(Series::E12, highest_start * exact_ohm / 2, highest_start * exact_ohm);
    TrimmerChoice choice{.pot_ohm = 0, .fixed_ohm = fixed.empty() ? 0 : fixed.back()};
    const double least_pot = least_end * exact_ohm - choice.fixed_ohm;
    const double decade_ohm = std::pow(10, std::floor(std::log10(least_pot)));
    for (double factor : {10.0, 5.0, 2.0, 1.0})
        if (factor * decade_ohm >= least_pot * (1 - limit_share))
            choice.pot_ohm = factor * decade_ohm;
    return choice;
}

void fields(Fields& f, DividerPotInput& in)
{
    dividerFields(f, in.divider, false);
    f.need("method", in.method);
    f.need("pot_ohm", in.pot_ohm, range::positive);
    f.may("fixed_ohm", in.fixed_ohm, range::not_negative);
    f.may("wiper_tied", in.wiper_tied);
    f.may("measured_ohm", in.measured_ohm, range::not_negative);
    f.may("target", in.target);
}

namespace {

/// Where the travel ends: voltage and runaway, without an outcome.
struct TravelEnd
{
    FaultResult at;
};

} // namespace

void fields(Fields& f, TravelEnd& out)
{
    f.may("v", out.at.v);
    f.need("runaway", out.at.runaway);
}

void fields(Fields& f, DividerPotResult& out)
{
    TravelEnd zero{out.at_zero};
    TravelEnd full{out.at_full};
    f.need("found_v", out.found_v);
    f.need("at_zero", zero);
    f.need("at_full", full);
    f.need("min_v", out.min_v);
    f.may("max_v", out.max_v);
    f.need("open_wiper", out.open_wiper);
    f.need("preset_ohm", out.preset_ohm);
    f.may("preset_v", out.preset_v);
    f.may("predicted_v", out.predicted_v);
    f.may("target_ohm", out.target_ohm);
    f.may("target_travel", out.target_travel);
    f.may("window_travel", out.window_travel);
}

} // namespace offshoot
