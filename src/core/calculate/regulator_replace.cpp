#include "core/calculate/regulator_replace.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

/// A boost stage needs its input this much below its output to have a hold on it.
constexpr double boost_clear = 0.95;
constexpr Range efficiency_range{0, 1, true};

/// What a stage draws: its own current, or a power through an efficiency.
struct Stage
{
    bool converter;
    double efficiency;
};

struct SourcePoint
{
    double v; ///< mean
    double in_a;
    double ripple_v; ///< peak to peak
};

std::optional<SourcePoint> sourcePoint(const RegulatorReplaceInput& in, const Stage& stage, double open_v,
                                       double out_a)
{
    const RegulatorSource& source = in.source;
    const double left_v = open_v - source.r_ohm * in.others_a;
    double in_a = out_a;
    double v = left_v - source.r_ohm * out_a;
    if (stage.converter) {
        const double drawn_w = in.output.v * out_a / stage.efficiency;
        const double root = left_v * left_v - 4 * source.r_ohm * drawn_w;
        if (left_v <= 0 || root < 0)
            return std::nullopt;
        v = (left_v + std::sqrt(root)) / 2;
        in_a = drawn_w / v;
    }
    const double ripple_v =
        source.ripple_v * (in_a + in.others_a) / source.ripple_at_a.value_or(in.output.current_a);
    if (!(v > ripple_v / 2))
        return std::nullopt; // the trough would lie below the return
    return SourcePoint{v, in_a, ripple_v};
}

RegulatorPoint pointOf(const RegulatorReplaceInput& in, const Stage& stage)
{
    const RegulatorOutput& out = in.output;
    const double nominal_v = in.source.open_v;
    const double lowest_v = nominal_v * (1 - in.source.spread);
    const double highest_v = nominal_v * (1 + in.source.spread);
    RegulatorPoint point{};
    if (const auto at = sourcePoint(in, stage, nominal_v, out.current_a)) {
        point.in_a = at->in_a;
        point.source_v = at->v;
    }
    if (const auto at = sourcePoint(in, stage, lowest_v, out.peak_a.value_or(out.current_a)))
        point.in_trough_v = at->v - at->ripple_v / 2;
    if (const auto at = sourcePoint(in, stage, highest_v, out.least_a))
        point.in_crest_v = at->v + at->ripple_v / 2;
    if (const auto at = sourcePoint(in, stage, highest_v, out.current_a))
        point.loss_w = stage.converter ? out.v * out.current_a * (1 / stage.efficiency - 1)
                                       : std::max(0.0, (at->v - out.v) * out.current_a);
    return point;
}

JudgedUse judged(std::optional<double> use) { return {use, judgeUse(use)}; }

JudgedUse headroomUse(const RegulatorReplaceInput& in, const RegulatorPoint& after)
{
    if (in.module.kind != ModuleKind::Linear && in.module.kind != ModuleKind::Buck)
        return {};
    if (!after.in_trough_v)
        return {std::nullopt, Verdict::Unknown};
    const double left_v = *after.in_trough_v - in.output.v;
    if (left_v <= 0)
        return {std::nullopt, Verdict::Breaks};
    return judged(in.module.headroom_v / left_v);
}

std::optional<Verdict> boostVerdict(const RegulatorReplaceInput& in, const RegulatorPoint& after)
{
    if (in.module.kind != ModuleKind::Boost)
        return std::nullopt;
    if (!after.in_crest_v)
        return Verdict::Unknown;
    return atMost(*after.in_crest_v, boost_clear * in.output.v) ? Verdict::Fits
           : *after.in_crest_v < in.output.v                    ? Verdict::Tight
                                                                : Verdict::Breaks;
}

Verdict outVerdict(const RegulatorReplaceInput& in)
{
    const RegulatorModule& m = in.module;
    if ((m.out_min_v && !atLeast(in.output.v, *m.out_min_v)) ||
        (m.out_max_v && !atMost(in.output.v, *m.out_max_v)))
        return Verdict::Breaks;
    return m.out_min_v && m.out_max_v ? Verdict::Fits : Verdict::Unknown;
}

JudgedUse thermalUse(const RegulatorModule& m, std::optional<double> loss_w)
{
    if (!m.theta_k_per_w)
        return {};
    if (m.t_j_max_k && *m.t_j_max_k <= m.ambient_k)
        return {std::nullopt, Verdict::Breaks};
    if (!m.t_j_max_k || !loss_w)
        return {std::nullopt, Verdict::Unknown};
    return judged(*loss_w * *m.theta_k_per_w / (*m.t_j_max_k - m.ambient_k));
}

Verdict worstOf(const RegulatorReplaceResult& r)
{
    Verdict worst = r.operating ? r.out_verdict : Verdict::Breaks;
    for (const auto& verdict : {r.headroom.verdict, r.boost_verdict, r.in_min.verdict, r.in_max.verdict,
                                r.current.verdict, r.thermal.verdict})
        if (verdict)
            worst = worse(worst, *verdict);
    return worst;
}

} // namespace

void fields(Fields& f, RegulatorSource& value)
{
    f.need("open_v", value.open_v, range::positive);
    f.may("r_ohm", value.r_ohm, range::not_negative);
    f.may("ripple_v", value.ripple_v, range::not_negative);
    f.may("ripple_at_a", value.ripple_at_a, range::positive);
    f.may("spread", value.spread, range::fraction);
}

void fields(Fields& f, RegulatorOutput& value)
{
    f.need("v", value.v, range::positive);
    f.need("current_a", value.current_a, range::positive);
    f.may("peak_a", value.peak_a, range::positive);
    f.may("least_a", value.least_a, range::not_negative);
    f.demand(value.peak_a.value_or(value.current_a) >= value.current_a, ErrorCode::Inconsistent, "peak_a",
             "the peak lies below the usual current");
    f.demand(value.least_a <= value.current_a, ErrorCode::Inconsistent, "least_a",
             "the least current lies above the usual one");
}

void fields(Fields& f, OldRegulator& value)
{
    f.need("kind", value.kind);
    f.may("efficiency", value.efficiency, efficiency_range);
}

void fields(Fields& f, RegulatorModule& value)
{
    f.need("kind", value.kind);
    f.may("in_min_v", value.in_min_v, range::positive);
    f.may("in_max_v", value.in_max_v, range::positive);
    f.may("headroom_v", value.headroom_v, range::not_negative);
    f.may("out_min_v", value.out_min_v, range::positive);
    f.may("out_max_v", value.out_max_v, range::positive);
    f.may("rated_a", value.rated_a, range::positive);
    f.may("efficiency", value.efficiency, efficiency_range);
    f.may("theta_k_per_w", value.theta_k_per_w, range::positive);
    f.may("t_j_max_k", value.t_j_max_k, range::positive);
    f.may("ambient_k", value.ambient_k, range::positive);
    const auto ordered = [](const std::optional<double>& low, const std::optional<double>& high) {
        return !low || !high || *low <= *high;
    };
    f.demand(ordered(value.in_min_v, value.in_max_v), ErrorCode::Inconsistent, "in_min_v",
             "the least input lies above the most");
    f.demand(ordered(value.out_min_v, value.out_max_v), ErrorCode::Inconsistent, "out_min_v",
             "the least output lies above the most");
}

void fields(Fields& f, RegulatorReplaceInput& in)
{
    f.need("source", in.source);
    f.may("others_a", in.others_a, range::not_negative);
    f.need("output", in.output);
    f.may("old", in.old);
    f.need("new", in.module);
}

void fields(Fields& f, RegulatorPoint& out)
{
    f.may("in_a", out.in_a);
    f.may("in_trough_v", out.in_trough_v);
    f.may("in_crest_v", out.in_crest_v);
    f.may("loss_w", out.loss_w);
    f.may("source_v", out.source_v);
}

void fields(Fields& f, RegulatorReplaceResult& out)
{
    f.may("before", out.before);
    f.need("after", out.after);
    f.may("saved_w", out.saved_w);
    f.may("source_rise_v", out.source_rise_v);
    f.may("headroom_use", out.headroom.use);
    f.may("headroom_verdict", out.headroom.verdict);
    f.may("boost_verdict", out.boost_verdict);
    f.may("in_min_use", out.in_min.use);
    f.may("in_min_verdict", out.in_min.verdict);
    f.may("in_max_use", out.in_max.use);
    f.may("in_max_verdict", out.in_max.verdict);
    f.need("out_verdict", out.out_verdict);
    f.may("current_use", out.current.use);
    f.may("current_verdict", out.current.verdict);
    f.may("junction_k", out.junction_k);
    f.may("thermal_use", out.thermal.use);
    f.may("thermal_verdict", out.thermal.verdict);
    f.need("operating", out.operating);
    f.need("verdict", out.verdict);
}

RegulatorReplaceResult regulatorReplace(const RegulatorReplaceInput& in)
{
    const RegulatorModule& m = in.module;
    RegulatorReplaceResult r{};
    if (in.old)
        r.before = pointOf(in, {in.old->kind == OldRegulatorKind::Converter, in.old->efficiency});
    r.after = pointOf(in, {m.kind != ModuleKind::Linear, m.efficiency});
    if (r.before && r.before->loss_w && r.after.loss_w)
        r.saved_w = *r.before->loss_w - *r.after.loss_w;
    if (r.before && r.before->source_v && r.after.source_v)
        r.source_rise_v = *r.after.source_v - *r.before->source_v;
    r.headroom = headroomUse(in, r.after);
    r.boost_verdict = boostVerdict(in, r.after);
    r.in_min = judged(useOf(m.in_min_v, r.after.in_trough_v));
    r.in_max = judged(useOf(r.after.in_crest_v, m.in_max_v));
    r.out_verdict = outVerdict(in);
    r.current = judged(useOf(in.output.peak_a.value_or(in.output.current_a), m.rated_a));
    if (m.theta_k_per_w && r.after.loss_w)
        r.junction_k = m.ambient_k + *r.after.loss_w * *m.theta_k_per_w;
    r.thermal = thermalUse(m, r.after.loss_w);
    r.operating = r.after.in_a && r.after.in_trough_v && r.after.in_crest_v && r.after.loss_w;
    r.verdict = worstOf(r);
    return r;
}

} // namespace offshoot
