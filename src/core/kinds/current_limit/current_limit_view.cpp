#include "core/kinds/current_limit/current_limit_view.h"

#include "core/kinds/planned.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

ShuntPlan shuntPlan(const ShuntOption& option)
{
    ShuntPlan plan{.network = option.network, .tolerance = 0};
    for (const StockItem& part : option.stock) {
        plan.tolerance = std::max(plan.tolerance, part.tolerance);
        if (part.power_w)
            plan.part_power_w = std::min(plan.part_power_w.value_or(*part.power_w), *part.power_w);
    }
    return plan;
}

namespace {

std::string limitSentence(const LimitResult& r, const LimitInput& in, bool primary_side)
{
    if (!r.i_limit_a)
        return "No shunt is entered: read its marking, or choose one below.";
    std::string text = "Limits at " + amps(*r.i_limit_min_a) + " to " + amps(*r.i_limit_max_a) + ". ";
    if (primary_side)
        return text + "That is the peak of the switch current, not the output current.";
    text += !in.load_a ? "What the load draws at its peak is not said in Need. "
            : r.load_verdict == Verdict::Breaks
                ? "The load's " + amps(*in.load_a) + " may trip it in normal use. "
                : "The load's " + amps(*in.load_a) + " passes. ";
    text += !in.rated_a ? "What the supply bears was not read."
            : r.protect_verdict == Verdict::Breaks
                ? "It lets through more than the " + amps(*in.rated_a) + " the supply bears."
                : "It protects the supply.";
    return text;
}

} // namespace

LimitView limitView(const Job& job, const Figures& figures)
{
    LimitView view;
    const Supply& planned = figures.unit.supply;
    const CurrentSense& sense = planned.current_limit;
    if (!sense.threshold) {
        view.sentence =
            "Enter the threshold: a stated voltage, or the reference and the divider that make it.";
        return view;
    }
    const Rail& rail = planned.rails.front();
    const auto load_a = job.need.peak_a ? job.need.peak_a : job.need.current_a;
    std::optional<double> rated_a = rail.i_rated_a;
    for (const auto& [name, allowed] : figures.consequences.allowed_current_a)
        if (name == rail.name && allowed)
            rated_a = allowed;
    LimitInput in{.threshold = *sense.threshold,
                  .shunt = sense.shunt,
                  .shunt_tolerance = sense.shunt_tolerance,
                  .part_power_w = sense.part_power_w,
                  .lead_ohm = sense.lead_ohm,
                  .load_a = sense.primary_side ? std::nullopt : load_a,
                  .rated_a = sense.primary_side ? std::nullopt : rated_a,
                  .hiccup_duty = sense.hiccup_duty,
                  .rail_v = rail.v_v,
                  .in_loop = sense.in_loop};
    // Between what the load must be let have and what the supply bears, with a fifth of room to the load.
    if (!sense.primary_side && load_a && rated_a && *rated_a > *load_a) {
        constexpr std::int64_t shown = 12;
        in.search = ShuntSearch{.min_a = *load_a,
                                .a = std::sqrt(*load_a * *rated_a),
                                .max_a = *rated_a,
                                .stock = job.drawer,
                                .limit = shown};
    }
    if (!in.shunt && !in.search) {
        view.sentence =
            "Enter the shunt, or the load's peak and the supply's rating: then the drawer is searched.";
        return view;
    }
    view.result = limitShunt(in);
    view.sentence = limitSentence(*view.result, in, sense.primary_side);
    view.input = std::move(in);
    return view;
}

} // namespace offshoot
