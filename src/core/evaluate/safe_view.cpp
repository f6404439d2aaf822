#include "core/evaluate/safe_view.h"

#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

LampLimitInput lampInput(const Job& job, const Evaluation& evaluation)
{
    constexpr double idle_share = 0.05;
    constexpr double light_share = 0.1;
    constexpr double small_w = 20;
    const auto target = unitTarget(job);
    constexpr double iron_share = 0.05; // of a mains transformer's VA
    constexpr double heater_share = 0.3;
    constexpr double heater_most_v = 13;
    const MainsTransformer& transformer = job.found.mains_side.transformer;
    double idle_w = transformer.va ? iron_share * *transformer.va : 0;
    const double out_w = target && evaluation.own_current_a ? target->v * *evaluation.own_current_a : small_w;
    const RectifierChain* chain = plannedChain(job);
    if (chain != nullptr && chain->rectifier.diode.model == DiodeModel::Valve) {
        double heaters_w = 0;
        for (const Secondary& s : transformer.secondaries)
            if (s.v_v <= heater_most_v)
                heaters_w += s.v_v * s.i_a.value_or(0);
        // Where nobody read them: a share of the transformer, else as much as the valves' own supply gives.
        if (heaters_w == 0)
            heaters_w = transformer.va ? heater_share * *transformer.va : out_w;
        idle_w += heaters_w;
    }
    return {.lamps_w = {},
            .lamp_v = job.need.mains.v_v,
            .mains_v = job.need.mains.v_v,
            .idle_w = std::max(idle_share * out_w, idle_w),
            .load_w = light_share * out_w,
            .efficiency = efficiencyOf(job.found, target ? target->v : 0),
            .unit = bearsLowMains(job.found.topology) ? LampUnit::Resistive : LampUnit::ConstantPower};
}

SafeView safeView(const Job& job, const Evaluation& evaluation)
{
    SafeView view;
    const bool dc = job.found.dcFed();
    if (!dc) {
        view.chosen_w = evaluation.lamp_w;
        LampLimitInput in = lampInput(job, evaluation);
        for (const double lamp_w : usual_lamps_w) {
            in.lamps_w = {lamp_w};
            view.lamps.push_back({lamp_w, lampLimit(in)});
        }
    }
    double longest_s = 0;
    for (const Reservoir& reservoir : evaluation.energy.reservoirs) {
        if (!reservoir.c_f)
            continue;
        view.banks.push_back(
            {reservoir, dischargePlan({.v0_v = reservoir.v0_v,
                                       .capacitors = {{.c_f = *reservoir.c_f, .kind = reservoir.kind}},
                                       .bleeder_ohm = reservoir.bleeder_ohm})});
        longest_s = std::max(longest_s, reservoir.discharge_s.value_or(0));
    }
    view.sentence =
        dc ? std::string("It runs on DC: a bench supply with a current limit takes the lamp's place")
        : view.chosen_w ? "Take the " + watts(*view.chosen_w) + " lamp"
                        : std::string("No usual lamp suits");
    if (!dc && bearsLowMains(job.found.topology))
        view.sentence += ", or bring it up slowly on a variable transformer";
    view.sentence += ". ";
    const bool every = std::ranges::all_of(evaluation.energy.reservoirs,
                                           [](const Reservoir& r) { return r.discharge_s.has_value(); });
    view.sentence += view.banks.empty() ? "Enter the reservoirs: without them nothing can be proven dead."
                     : every ? "Its bleeders take " + formatDuration(longest_s) + " to 10 V; then measure."
                             : "A reservoir keeps its charge until you take it down.";
    return view;
}

} // namespace offshoot
