#include "core/calculate/mains_fuse.h"

#include <algorithm>
#include <span>

namespace offshoot {

namespace {

constexpr double mains_most_a = 10;
constexpr std::span values_a(fuse_values_a.begin(), std::ranges::upper_bound(fuse_values_a, mains_most_a));
/// R10 numbers are rounded: twice 1.6 is 3.15.
constexpr double rounding = 1.02;

double neededCurrent(const FuseInput& in)
{
    if (in.va)
        return *in.va / *in.mains_v;
    if (in.current_a)
        return *in.current_a;
    return *in.old_a * *in.old_v / *in.new_v;
}

Verdict atLeastVerdict(const std::optional<double>& has, const std::optional<double>& wants)
{
    if (!has || !wants)
        return Verdict::Unknown;
    return atLeast(*has, *wants) ? Verdict::Fits : Verdict::Breaks;
}

} // namespace

FuseResult mainsFuse(const FuseInput& in)
{
    FuseResult out{};
    out.needed_a = in.factor * neededCurrent(in);
    out.speed = in.speed;
    const auto value =
        std::ranges::find_if(values_a, [&](double a) { return atLeast(a, out.needed_a / rounding); });
    if (value != values_a.begin())
        out.below_a = *std::prev(value);
    if (value != values_a.end()) {
        out.value_a = *value;
        out.over = *value / out.needed_a - 1;
    }
    out.range = !out.value_a                              ? FuseRange::Above
                : atLeast(out.needed_a, values_a.front()) ? FuseRange::Inside
                                                          : FuseRange::Below;
    out.voltage_verdict = atLeastVerdict(in.v_rated_v, in.old_a ? in.new_v : in.mains_v);
    out.breaking_verdict = atLeastVerdict(in.breaking_a, in.prospective_a);
    if (in.inrush)
        out.inrush_i2t_a2s = in.inrush->i2t();
    out.inrush_use = useOf(out.inrush_i2t_a2s, in.melting_i2t_a2s);
    out.inrush_verdict = judgeUse(out.inrush_use, melting_bounds);
    return out;
}

void fields(Fields& f, FuseSurge& value)
{
    f.may("i2t_a2s", value.i2t_a2s, range::positive);
    f.may("i_peak_a", value.i_peak_a, range::positive);
    f.may("tau_s", value.tau_s, range::positive);
    const bool wave = value.i_peak_a || value.tau_s;
    f.demand(!value.i2t_a2s || !wave, ErrorCode::Inconsistent, value.i_peak_a ? "i_peak_a" : "tau_s",
             "belongs to another way of saying the surge");
    f.demand(value.i2t_a2s || wave, ErrorCode::Missing, "i2t_a2s", "the surge is wanted here");
    f.demand(value.i2t_a2s || value.i_peak_a, ErrorCode::Missing, "i_peak_a", "the peak is wanted with it");
    f.demand(value.i2t_a2s || value.tau_s, ErrorCode::Missing, "tau_s",
             "the time constant is wanted with it");
}

void fields(Fields& f, FuseInput& in)
{
    f.may("va", in.va, range::positive);
    f.may("current_a", in.current_a, range::positive);
    f.may("mains_v", in.mains_v, range::positive);
    f.may("old_a", in.old_a, range::positive);
    f.may("old_v", in.old_v, range::positive);
    f.may("new_v", in.new_v, range::positive);
    f.may("factor", in.factor, {1, 10});
    f.may("speed", in.speed);
    f.may("v_rated_v", in.v_rated_v, range::positive);
    f.may("breaking_a", in.breaking_a, range::positive);
    f.may("prospective_a", in.prospective_a, range::positive);
    f.may("inrush", in.inrush);
    f.may("melting_i2t_a2s", in.melting_i2t_a2s, range::positive);
    const bool by_old = in.old_a || in.old_v || in.new_v;
    const bool by_mains = in.va || in.current_a;
    const std::string other = in.old_a ? "old_a" : in.old_v ? "old_v" : "new_v";
    f.demand(!by_old || (!by_mains && !in.mains_v), ErrorCode::Inconsistent, other,
             "belongs to another way of asking");
    f.demand(!in.va || !in.current_a, ErrorCode::Inconsistent, "current_a",
             "belongs to another way of asking");
    f.demand(by_old || by_mains, ErrorCode::Missing, "old_a",
             "a rating, a current or the old fuse is wanted");
    f.demand(!by_mains || in.mains_v, ErrorCode::Missing, "mains_v", "the mains is wanted with it");
    f.demand(!by_old || in.old_a, ErrorCode::Missing, "old_a", "the old fuse's value is wanted");
    f.demand(!by_old || in.old_v, ErrorCode::Missing, "old_v", "the old mains is wanted");
    f.demand(!by_old || in.new_v, ErrorCode::Missing, "new_v", "the new mains is wanted");
}

void fields(Fields& f, FuseResult& out)
{
    f.need("needed_a", out.needed_a);
    f.may("value_a", out.value_a);
    f.may("below_a", out.below_a);
    f.may("over", out.over);
    f.need("range", out.range);
    f.need("speed", out.speed);
    f.need("voltage_verdict", out.voltage_verdict);
    f.need("breaking_verdict", out.breaking_verdict);
    f.may("inrush_i2t_a2s", out.inrush_i2t_a2s);
    f.may("inrush_use", out.inrush_use);
    f.need("inrush_verdict", out.inrush_verdict);
}

} // namespace offshoot
