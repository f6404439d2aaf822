#include "core/calculate/current_limit.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

struct Threshold
{
    double v;
    double min_v;
    double max_v;
};

Threshold thresholdOf(const LimitThreshold& t)
{
    const auto at = [&t](double sign) {
        if (t.v_v)
            return *t.v_v * (1 + sign * t.tolerance);
        const double bottom = t.bottom->ohm() * (1 + sign * t.divider_tolerance.value_or(0));
        const double top = t.top->ohm() * (1 - sign * t.divider_tolerance.value_or(0));
        return *t.v_ref_v * (1 + sign * t.tolerance) * bottom / (top + bottom);
    };
    return {at(0), at(-1), at(1)};
}

void judgeShunt(LimitResult& result, const LimitInput& in, const Threshold& threshold)
{
    const Network& shunt = *in.shunt;
    const double r_ohm = shunt.ohm();
    const OhmRange range = OhmRange::of(shunt, in.shunt_tolerance);
    result.r_sense_ohm = r_ohm + in.lead_ohm;
    const double i_a = threshold.v / *result.r_sense_ohm;
    result.i_limit_a = i_a;
    result.i_limit_min_a = threshold.min_v / (range.max_ohm + in.lead_ohm);
    result.i_limit_max_a = threshold.max_v / (range.min_ohm + in.lead_ohm);
    result.power_w = i_a * i_a * r_ohm;
    // With resistance of the leads in the path the hottest shunt may be at either end of its tolerance.
    result.power_worst_w = 0;
    for (double ohm : {range.min_ohm, range.max_ohm}) {
        const double corner_a = threshold.max_v / (ohm + in.lead_ohm);
        result.power_worst_w = std::max(*result.power_worst_w, corner_a * corner_a * ohm);
    }
    result.power_hiccup_w = *result.power_w * in.hiccup_duty;
    result.parts.emplace();
    const auto powers = shunt.powers(i_a * r_ohm);
    for (std::size_t i = 0; i < powers.size(); ++i) {
        const auto use = useOf(powers[i], in.part_power_w);
        result.parts->push_back({shunt.parts()[i], powers[i], use, judgeUse(use, resistor_power_bounds)});
    }
    result.load_use = useOf(in.load_a, result.i_limit_min_a);
    result.load_verdict = judgeUse(result.load_use);
    result.protect_use = useOf(result.i_limit_max_a, in.rated_a);
    result.protect_verdict = judgeUse(result.protect_use);
    if (in.load_a)
        result.drop_v = *in.load_a * *result.r_sense_ohm;
    if (in.rail_v && (in.in_loop || result.drop_v))
        result.rail_at_load_v = *in.rail_v - (in.in_loop ? 0 : *result.drop_v);
}

ShuntOption optionOf(const PartChoice& choice, const ShuntSearch& search, double lead_ohm,
                     const Threshold& threshold)
{
    ShuntOption o{};
    o.shape = choice.shape;
    o.network = choice.network;
    o.stock = choice.parts;
    o.ohm = choice.network.ohm();
    o.i_limit_a = threshold.v / (o.ohm + lead_ohm);
    o.error_a = o.i_limit_a - search.a;
    o.in_window = within(o.i_limit_a, search.min_a, search.max_a);
    const OhmRange range = rangeOf(choice.network, choice.parts);
    o.worst_min_a = threshold.min_v / (range.max_ohm + lead_ohm);
    o.worst_max_a = threshold.max_v / (range.min_ohm + lead_ohm);
    o.worst_in_window = atLeast(o.worst_min_a, search.min_a) && atMost(o.worst_max_a, search.max_a);
    o.power = partsPower(choice.network, choice.parts, o.i_limit_a * o.ohm);
    return o;
}

bool preferredShunt(const ShuntOption& a, const ShuntOption& b)
{
    const auto key = [](const ShuntOption& o) {
        return std::tuple(!o.in_window, !o.worst_in_window, o.network.parts().size(),
                          std::round(std::abs(o.error_a) * 1e9), o.network.parts(), o.shape);
    };
    return key(a) < key(b);
}

void findShunts(LimitResult& result, const LimitInput& in, const Threshold& threshold)
{
    const ShuntSearch& search = *in.search;
    if (const double exact_ohm = threshold.v / search.a - in.lead_ohm; exact_ohm > 0)
        result.exact_ohm = exact_ohm;
    result.options.emplace();
    const auto stock = sortedStock(search.stock);
    const auto error = [&](double ohm) { return threshold.v / (ohm + in.lead_ohm) - search.a; };
    for (std::size_t count = 1; count <= static_cast<std::size_t>(search.max_parts); ++count)
        for (const PartChoice& choice :
             CombinationSearch(stock, count, static_cast<std::size_t>(search.limit), error).run())
            result.options->push_back(optionOf(choice, search, in.lead_ohm, threshold));
    // Stable: combinations equal so far keep the better tolerance and power first.
    std::ranges::stable_sort(*result.options, preferredShunt);
}

} // namespace

LimitResult limitShunt(const LimitInput& in)
{
    LimitResult result{};
    const Threshold threshold = thresholdOf(in.threshold);
    result.v_threshold_v = threshold.v;
    result.v_threshold_min_v = threshold.min_v;
    result.v_threshold_max_v = threshold.max_v;
    if (in.shunt)
        judgeShunt(result, in, threshold);
    if (in.search)
        findShunts(result, in, threshold);
    return result;
}

// ---- documents

Verdict ShuntOption::verdict() const
{
    const Verdict window = worst_in_window ? Verdict::Fits : in_window ? Verdict::Tight : Verdict::Breaks;
    return worse(window, power.verdict);
}

Verdict LimitResult::heatVerdict() const
{
    return parts ? worstOf(*parts, &ShuntPart::verdict) : Verdict::Fits;
}

Verdict LimitResult::limitVerdict() const
{
    return worse(load_verdict.value_or(Verdict::Unknown), protect_verdict.value_or(Verdict::Unknown));
}

void fields(Fields& f, ShuntSearch& value)
{
    constexpr std::size_t most_items = 1000;
    constexpr std::size_t most_for_three = 250;
    f.need("min_a", value.min_a, range::positive);
    f.need("a", value.a, range::positive);
    f.need("max_a", value.max_a, range::positive);
    f.demand(within(value.a, value.min_a, value.max_a), ErrorCode::Inconsistent, "a",
             "not between min_a and max_a");
    f.need("stock", value.stock, {0, most_items});
    f.may("max_parts", value.max_parts, 1, 3);
    f.demand(value.max_parts < 3 || sortedStock(value.stock).size() <= most_for_three, ErrorCode::OutOfRange,
             "max_parts", "three parts need a drawer of at most 250 different items");
    f.may("limit", value.limit, 1, 100);
}

void fields(Fields& f, LimitInput& in)
{
    f.need("threshold", in.threshold);
    f.may("shunt", in.shunt);
    f.may("shunt_tolerance", in.shunt_tolerance, range::fraction);
    f.may("part_power_w", in.part_power_w, range::positive);
    f.may("lead_ohm", in.lead_ohm, range::not_negative);
    f.may("load_a", in.load_a, range::positive);
    f.may("rated_a", in.rated_a, range::positive);
    f.may("hiccup_duty", in.hiccup_duty, {0, 1, true});
    f.may("rail_v", in.rail_v, range::positive);
    f.may("in_loop", in.in_loop);
    f.may("search", in.search);
    f.demand(in.shunt || in.search, ErrorCode::Inconsistent, {}, "a shunt or a search, at least one");
}

void fields(Fields& f, ShuntPart& out)
{
    f.need("ohm", out.ohm);
    f.need("power_w", out.power_w);
    f.may("use", out.use);
    f.need("verdict", out.verdict);
}

void fields(Fields& f, ShuntOption& out)
{
    f.need("shape", out.shape);
    f.need("network", out.network);
    std::vector<double> parts_ohm = out.network.parts();
    f.need("parts_ohm", parts_ohm, range::positive);
    f.need("ohm", out.ohm);
    f.need("i_limit_a", out.i_limit_a);
    f.need("error_a", out.error_a);
    f.need("in_window", out.in_window);
    f.need("worst_min_a", out.worst_min_a);
    f.need("worst_max_a", out.worst_max_a);
    f.need("worst_in_window", out.worst_in_window);
    f.need("power_w_max", out.power.w_max);
    f.may("power_use", out.power.use);
    f.need("power_verdict", out.power.verdict);
}

void fields(Fields& f, LimitResult& out)
{
    f.need("v_threshold_v", out.v_threshold_v);
    f.need("v_threshold_min_v", out.v_threshold_min_v);
    f.need("v_threshold_max_v", out.v_threshold_max_v);
    f.may("r_sense_ohm", out.r_sense_ohm);
    f.may("i_limit_a", out.i_limit_a);
    f.may("i_limit_min_a", out.i_limit_min_a);
    f.may("i_limit_max_a", out.i_limit_max_a);
    f.may("power_w", out.power_w);
    f.may("power_worst_w", out.power_worst_w);
    f.may("power_hiccup_w", out.power_hiccup_w);
    f.may("parts", out.parts);
    f.may("load_use", out.load_use);
    f.may("load_verdict", out.load_verdict);
    f.may("protect_use", out.protect_use);
    f.may("protect_verdict", out.protect_verdict);
    f.may("drop_v", out.drop_v);
    f.may("rail_at_load_v", out.rail_at_load_v);
    f.may("exact_ohm", out.exact_ohm);
    f.may("options", out.options);
}

} // namespace offshoot
