#include "core/calculate/limiter_lamp.h"

#include "core/supply/supply.h"
#include "core/values/bisect.h"

#include <cmath>
#include <numeric>

namespace offshoot {

namespace {

constexpr double filament_exponent = 0.55;
/// What a resistive unit still has of the mains behind the lamp: enough to be judged by what it gives, or to
/// run.
constexpr double judged_from = 0.8;
constexpr double runs_from = 0.5;
/// A shorted unit leaves all of the mains to the lamps: they bear a little more than is written on them.
constexpr UseBounds short_bounds{1.05, 1.10};

/// The lamps as one element, with the mains and the unit around it.
struct Circuit
{
    double i_rated_a;
    double v_group_v;
    double mains_v;
    LampUnit unit;

    double lampCurrent(double v_lamp_v) const
    {
        return i_rated_a * std::pow(v_lamp_v / v_group_v, filament_exponent);
    }
    /// The lamp's share of the mains at which the most power passes.
    double lampAtMost() const { return mains_v * filament_exponent / (1 + filament_exponent); }
    double mostPower() const { return (mains_v - lampAtMost()) * lampCurrent(lampAtMost()); }
};

/// What an eye tells apart, by the lamp's share of its own voltage.
Glow glowOf(double share)
{
    if (share < 0.10)
        return Glow::Dark;
    if (share < 0.40)
        return Glow::Dim;
    return share < 0.75 ? Glow::Half : Glow::Bright;
}

LampState stateAt(const Circuit& c, double w)
{
    LampState state{.w = w, .v_unit_v = {}, .v_lamp_v = {}, .i_a = {}, .glow = Glow::Pulsing};
    double v_lamp_v = 0;
    if (c.unit == LampUnit::Resistive) {
        v_lamp_v = bisect(0, c.mains_v, [&](double v) {
            return c.lampCurrent(v) < (c.mains_v - v) * w / (c.mains_v * c.mains_v);
        });
    } else {
        if (!atMost(w, c.mostPower()))
            return state;
        v_lamp_v =
            bisect(0, c.lampAtMost(), [&](double v) { return (c.mains_v - v) * c.lampCurrent(v) < w; });
    }
    if (w == 0)
        v_lamp_v = 0;
    state.v_lamp_v = v_lamp_v;
    state.v_unit_v = c.mains_v - v_lamp_v;
    state.i_a = c.lampCurrent(v_lamp_v);
    state.glow = glowOf(v_lamp_v / c.v_group_v);
    return state;
}

Verdict judgeLoaded(const LampLimitResult& result, const LampLimitInput& in)
{
    const auto& v = result.loaded.v_unit_v;
    Verdict verdict = judgeUse(result.use);
    if (in.unit == LampUnit::Resistive) {
        const double share = v.value_or(0) / in.mains_v;
        verdict = atLeast(share, judged_from) ? Verdict::Fits
                  : atLeast(share, runs_from) ? Verdict::Tight
                                              : Verdict::Breaks;
    }
    const bool too_low = in.v_unit_min_v && v && !atLeast(*v, *in.v_unit_min_v);
    return !v || too_low ? Verdict::Breaks : verdict;
}

LampSign signOf(Glow glow)
{
    switch (glow) {
    case Glow::Dark:
    case Glow::Dim:
        return LampSign::FlashThenDim;
    case Glow::Half:
    case Glow::Bright:
        return LampSign::Bright;
    case Glow::Pulsing:
        return LampSign::Pulsing;
    }
    return LampSign::Bright;
}

} // namespace

LampLimitResult lampLimit(const LampLimitInput& in)
{
    const double watts = std::accumulate(in.lamps_w.begin(), in.lamps_w.end(), 0.0);
    const Circuit c{watts / in.lamp_v, static_cast<double>(in.series) * in.lamp_v, in.mains_v, in.unit};
    LampLimitResult result{};
    result.i_rated_a = c.i_rated_a;
    result.v_group_v = c.v_group_v;
    result.p_max_w = c.mostPower();
    result.v_lamp_at_max_v = c.lampAtMost();
    result.short_a = c.lampCurrent(in.mains_v);
    result.short_use = in.mains_v / c.v_group_v;
    result.short_verdict = judgeUse(result.short_use, short_bounds);
    result.cold_peak_a = std::sqrt(2.0) * in.mains_v * c.i_rated_a / (lamp_cold_share * c.v_group_v);
    result.idle = stateAt(c, in.idle_w);
    result.loaded = result.idle;
    if (in.load_w > 0)
        result.loaded = stateAt(c, in.idle_w + in.load_w / in.efficiency.value_or(usual_efficiency));
    if (in.unit == LampUnit::ConstantPower)
        result.use = result.loaded.w / result.p_max_w;
    result.verdict = judgeLoaded(result, in);
    result.expected = signOf(result.loaded.glow);
    result.signs = {{LampSign::Dark, LampMeaning::NoCurrent},
                    {LampSign::FlashThenDim, LampMeaning::Normal},
                    {LampSign::Bright, LampMeaning::Short},
                    {LampSign::Pulsing, LampMeaning::Hiccup}};
    if (in.load_w > 0 && !in.efficiency)
        result.assumed.emplace_back("efficiency");
    return result;
}

std::optional<double> chooseLamp(double mains_v, double input_w)
{
    std::optional<double> best;
    for (const double lamp_w : usual_lamps_w) {
        const auto result =
            lampLimit({.lamps_w = {lamp_w}, .lamp_v = mains_v, .mains_v = mains_v, .idle_w = input_w});
        if (result.verdict == Verdict::Fits && result.expected == LampSign::FlashThenDim &&
            (!best || lamp_w < *best))
            best = lamp_w;
    }
    return best;
}

void fields(Fields& f, LampLimitInput& in)
{
    f.need("lamps_w", in.lamps_w, range::positive, {1, 20});
    f.need("lamp_v", in.lamp_v, range::positive);
    f.may("series", in.series, 1, 10);
    f.need("mains_v", in.mains_v, range::positive);
    f.may("idle_w", in.idle_w, range::not_negative);
    f.may("load_w", in.load_w, range::not_negative);
    f.may("efficiency", in.efficiency, {0.01, 1});
    f.may("unit", in.unit);
    f.may("v_unit_min_v", in.v_unit_min_v, range::positive);
}

void fields(Fields& f, LampState& out)
{
    f.need("w", out.w);
    f.may("v_unit_v", out.v_unit_v);
    f.may("v_lamp_v", out.v_lamp_v);
    f.may("i_a", out.i_a);
    f.need("glow", out.glow);
}

void fields(Fields& f, LampLimitResult::Sign& out)
{
    f.need("sign", out.sign);
    f.need("means", out.means);
}

void fields(Fields& f, LampLimitResult& out)
{
    f.need("i_rated_a", out.i_rated_a);
    f.need("v_group_v", out.v_group_v);
    f.need("p_max_w", out.p_max_w);
    f.need("v_lamp_at_max_v", out.v_lamp_at_max_v);
    f.need("short_a", out.short_a);
    f.need("short_use", out.short_use);
    f.need("short_verdict", out.short_verdict);
    f.need("cold_peak_a", out.cold_peak_a);
    f.need("idle", out.idle);
    f.need("loaded", out.loaded);
    f.may("use", out.use);
    f.need("verdict", out.verdict);
    f.need("expected", out.expected);
    f.need("signs", out.signs);
    f.may("assumed", out.assumed);
}

} // namespace offshoot
