#include "core/calculate/divider_search.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace offshoot {

namespace {

/// The volts across the added network in the changed divider.
double voltsAcross(const DividerOption& option, const Legs& changed, double v_ref_v)
{
    const bool top = joinsTop(option.method);
    const double leg_v = top ? option.v - v_ref_v : v_ref_v;
    const bool in_series =
        option.method == DividerMethod::SeriesBottom || option.method == DividerMethod::SeriesTop;
    const double leg_ohm = top ? changed.top_ohm : changed.bottom_ohm;
    return in_series ? leg_v * option.added_ohm / leg_ohm : leg_v;
}

std::optional<double> widthRatio(const std::optional<VoltageRange>& plain,
                                 const std::optional<VoltageRange>& given)
{
    if (!plain || !given || given->max_v == given->min_v)
        return std::nullopt;
    return (plain->max_v - plain->min_v) / (given->max_v - given->min_v);
}

/// The legs every nominal figure works on: moved to the best estimate where there is a reading.
Legs workingLegs(const DividerSolveInput& in)
{
    const Legs nominal = in.divider.nominal();
    return in.before ? movedLegs(nominal, legFactor(in.divider, *in.before)) : nominal;
}

int openRank(const FaultResult& open)
{
    switch (open.outcome.value_or(Outcome::Low)) {
    case Outcome::Low:
    case Outcome::InWindow:
        return 0;
    case Outcome::High:
        return 1;
    case Outcome::Runaway:
        return 2;
    }
    return 0;
}

/// The order of the list before ties: what a person looks for first.
bool preferredDivider(const DividerOption& a, const DividerOption& b)
{
    const auto key = [](const DividerOption& o) {
        return std::tuple(!o.in_window, !o.worst_in_window, openRank(o.if_open), o.parts_ohm.size(),
                          std::round(std::abs(o.error_v) * 1e9), o.method, o.parts_ohm, o.shape);
    };
    return key(a) < key(b);
}

} // namespace

DividerOption evaluateOption(const DividerSolveInput& in, DividerMethod method, const Network& network,
                             const std::vector<StockItem>& parts)
{
    const Reference& reference = in.divider.reference;
    const Legs legs = workingLegs(in);
    DividerOption option{};
    option.method = method;
    option.network = network;
    option.parts_ohm = network.parts();
    option.added_range = rangeOf(network, parts);
    option.parts = parts;
    option.added_ohm = network.ohm();
    const Legs changed = withAdded(method, legs, option.added_ohm);
    option.v = dividerVoltage(reference.v_ref_v, reference.i_ref_a, changed);
    option.error_v = option.v - in.target.v;
    option.in_window = within(option.v, in.target.min_v, in.target.max_v);
    const AddedRange added{method, option.added_range};
    const auto plain = plainRange(in.divider, added);
    const auto given = in.before ? rangeGivenReading(in.divider, *in.before, added) : plain;
    const VoltageRange worst = given.value_or(VoltageRange{option.v, option.v});
    option.worst_min_v = worst.min_v;
    option.worst_max_v = worst.max_v;
    option.worst_in_window = atLeast(worst.min_v, in.target.min_v) && atMost(worst.max_v, in.target.max_v);
    option.if_open = faultResult(reference, withAddedOpen(method, legs), &in.target);
    option.if_short = faultResult(reference, withAddedShort(method, legs), &in.target);
    option.divider_a = reference.v_ref_v / changed.bottom_ohm;
    option.loop_gain_scale = legs.top_ohm / changed.top_ohm;
    const PartsPower power = partsPower(network, parts, voltsAcross(option, changed, reference.v_ref_v));
    option.power_w_max = power.w_max;
    option.power_use = power.use;
    option.power_verdict = power.verdict;
    option.has_before = in.before.has_value();
    if (in.before)
        option.gain = widthRatio(plain, given);
    return option;
}

DividerSolveResult dividerSolve(const DividerSolveInput& in)
{
    DividerSolveResult result{};
    const Reference& reference = in.divider.reference;
    auto found = plainRange(in.divider, std::nullopt);
    if (in.before) {
        checkBefore(in.divider, *in.before);
        found = rangeGivenReading(in.divider, *in.before, std::nullopt);
        if (!found)
            throw DocumentError(ErrorCode::Inconsistent, "/before/v",
                                "this divider cannot give this reading");
    }
    const Legs legs = workingLegs(in);
    result.found_v = dividerVoltage(reference.v_ref_v, reference.i_ref_a, legs);
    result.found_min_v = found->min_v;
    result.found_max_v = found->max_v;
    for (std::size_t i = 0; i < method_count; ++i)
        result.exact.ohm[i] = exactAdded(static_cast<DividerMethod>(i), legs, reference, in.target.v);

    const std::vector<StockItem> stock = sortedStock(in.stock);
    if (stock.empty())
        return result;
    for (DividerMethod method : in.methods)
        for (std::size_t count = 1; count <= static_cast<std::size_t>(in.max_parts); ++count) {
            const auto error = [&in, &legs, method](double added_ohm) {
                return dividerVoltage(in.divider.reference.v_ref_v, in.divider.reference.i_ref_a,
                                      withAdded(method, legs, added_ohm)) -
                       in.target.v;
            };
            CombinationSearch search(stock, count, static_cast<std::size_t>(in.limit), error);
            for (const PartChoice& choice : search.run()) {
                result.options.push_back(evaluateOption(in, method, choice.network, choice.parts));
                result.options.back().shape = choice.shape;
            }
        }
    // Stable: combinations equal so far keep the better tolerance and power first.
    std::stable_sort(result.options.begin(), result.options.end(), preferredDivider);
    return result;
}

// ---- documents

void fields(Fields& f, DividerSolveInput& in)
{
    constexpr std::size_t most_items = 1000;
    constexpr std::size_t most_for_three = 250;
    dividerFields(f, in.divider, true);
    f.need("target", in.target);
    f.oneOf({"stock", "series"});
    std::optional<StockSeries> series;
    f.may("stock", in.stock, {0, most_items});
    f.may("series", series);
    if (series)
        in.stock = stockOf(*series);
    f.demand(in.stock.size() <= most_items, ErrorCode::OutOfRange, "series", "more than 1000 values");
    f.may("methods", in.methods, {1, method_count});
    f.demand(std::set(in.methods.begin(), in.methods.end()).size() == in.methods.size(),
             ErrorCode::Inconsistent, "methods", "a method stands here twice");
    f.may("max_parts", in.max_parts, 1, 3);
    f.demand(in.max_parts < 3 || sortedStock(in.stock).size() <= most_for_three, ErrorCode::OutOfRange,
             "max_parts", "three parts need a drawer of at most 250 different items");
    f.may("limit", in.limit, 1, 100);
    f.may("before", in.before);
}

void fields(Fields& f, DividerOption& out)
{
    f.need("method", out.method);
    f.need("shape", out.shape);
    f.need("network", out.network);
    f.need("parts_ohm", out.parts_ohm, range::positive);
    f.need("added_ohm", out.added_ohm);
    f.need("v", out.v);
    f.need("error_v", out.error_v);
    f.need("in_window", out.in_window);
    f.need("worst_min_v", out.worst_min_v);
    f.need("worst_max_v", out.worst_max_v);
    f.need("worst_in_window", out.worst_in_window);
    f.need("if_open", out.if_open);
    f.need("if_short", out.if_short);
    f.need("divider_a", out.divider_a);
    f.need("loop_gain_scale", out.loop_gain_scale);
    f.need("power_w_max", out.power_w_max);
    f.may("power_use", out.power_use);
    f.need("power_verdict", out.power_verdict);
    if (out.has_before)
        f.may("gain", out.gain);
}

void fields(Fields& f, ExactOhms& out)
{
    for (std::size_t i = 0; i < method_count; ++i)
        f.may(Words<DividerMethod>::list[i], out.ohm[i]);
}

void fields(Fields& f, DividerSolveResult& out)
{
    f.need("found_v", out.found_v);
    f.need("found_min_v", out.found_min_v);
    f.need("found_max_v", out.found_max_v);
    f.need("exact", out.exact);
    f.need("options", out.options);
}

} // namespace offshoot
