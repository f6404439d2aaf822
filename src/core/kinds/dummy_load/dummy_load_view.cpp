#include "core/kinds/dummy_load/dummy_load_view.h"

#include "core/job/readings.h"
#include "core/values/figures.h"
#include "core/values/quantity.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

/// A "hunting" entry speaks of the reading logged just before it.
MinimumLoadInput loadReadings(const Job& job, const Rail& rail, const VoltageWindow& window, double moved)
{
    MinimumLoadInput in{.readings = {}, .window = window};
    const auto counted = liveVolts(job, rail.name);
    const auto struck = struckIds(job.log);
    const LogEntry* last = nullptr;
    for (const LogEntry& entry : job.log) {
        if (std::ranges::count(counted, &entry) > 0) {
            last = &entry;
            if (const auto a = loadAmps(entry))
                in.readings.push_back(
                    {.current_a = *a,
                     .v = *entry.value * rail.sign() * (entry.stage == ReadingStage::Found ? moved : 1)});
            else
                last = nullptr;
        } else if (entry.kind == LogKind::Hunting && last != nullptr && !struck.contains(entry.id)) {
            in.readings.back().hunting = true;
        } else if (entry.kind == LogKind::Reading) {
            last = nullptr;
        }
    }
    return in;
}

/// By what share the plan moves the readings from before it.
double movedShare(const Job& job, const Figures& figures, const Rail& rail)
{
    const Rail& first = job.found.rails.front();
    const bool moves_along = rail.name == first.name || movesWith(rail, first);
    return moves_along && figures.planned_v && figures.found_v ? *figures.planned_v / *figures.found_v : 1;
}

/// What its users draw at the least; the load in need may be one of those on the rail under change.
double leastCurrent(const Job& job, const Rail& rail)
{
    const double sum_a = offshoot::leastCurrent(rail);
    const bool changed = rail.name == job.found.rails.front().name;
    return changed ? std::max(sum_a, job.need.least_a.value_or(0)) : sum_a;
}

void wantedLoad(MinimumLoadView& view, const Rail& rail)
{
    constexpr double room = 1.6;
    constexpr double usual_share = 0.05;
    const auto& least = view.fit ? view.fit->least_current_a : std::nullopt;
    view.assumed = !least;
    const double from = least ? *least : usual_share * rail.i_rated_a.value_or(0);
    const double missing = std::max(0.0, from - view.present_a);
    view.wanted = {missing, missing * room};
    if (least && view.fit->most_current_a)
        view.wanted.max_a =
            std::min(view.wanted.max_a, std::max(missing, *view.fit->most_current_a - view.present_a));
}

std::string loadSentence(const MinimumLoadView& view, const Rail& rail)
{
    if (!view.fit)
        return rail.name + " has no window in Need: without one no load is the right one.";
    const MinimumLoadResult& fit = *view.fit;
    switch (fit.verdict) {
    case Verdict::Unknown:
        return fit.steady < 2
                   ? "Two steady readings at different loads draw the line: " + rail.name + " 12.4 @0.5A."
                   : "It still hunts at the highest load read: read further up.";
    case Verdict::Breaks:
        return "No load cures it: the line never enters the window.";
    case Verdict::Fits:
    case Verdict::Tight:
        break;
    }
    const double least_a = *fit.least_current_a;
    std::string text =
        rail.name + " needs " + (least_a > 0 ? "at least " + amps(least_a) : "no load") +
        (fit.steady_from_a.value_or(0) >= least_a && least_a > 0 ? " to be steady" : " to be in its window");
    if (least_a == 0)
        text += '.';
    else
        text += atLeast(view.present_a, least_a)
                    ? "; its users draw that already."
                    : "; its users draw " + amps(view.present_a) + " at the least.";
    if (fit.bent)
        text += " The readings bend: take more near the least load.";
    if (fit.extrapolated)
        text += " That lies outside what was read.";
    return text;
}

} // namespace

std::optional<double> voltageWithDummy(const Job& job, const Figures& figures, const Rail& rail, double ohm)
{
    const VoltageWindow any{0, Range::largest};
    const MinimumLoadResult fit =
        minimumLoadFit(loadReadings(job, rail, any, movedShare(job, figures, rail)));
    if (!fit.v0_v)
        return std::nullopt;
    // V = V_0 − R·(I_users + V/R_dummy)
    return (*fit.v0_v - *fit.r_ohm * leastCurrent(job, rail)) / (1 + *fit.r_ohm / ohm);
}

namespace {

/// The planned bank, else the best of the drawer.
std::string dummyFigures(const Job& job, const MinimumLoadView& view, const Rail& rail)
{
    constexpr double year_days = 365.25;
    constexpr double kilowatt_hour_j = 3.6e6;
    const auto& planned = job.plan.dummy_load;
    double power_w = 0;
    if (planned && planned->rail == rail.name && rail.v_v)
        power_w = *rail.v_v * *rail.v_v / planned->network.ohm();
    else if (!view.options.empty())
        power_w = view.options.front().power_w;
    else
        return view.wanted.max_a <= 0 ? "nothing is missing" : "nothing in the drawer does it";
    return formatValue(power_w, Quantity::Power) + " as heat, " +
           significant(power_w * seconds_per_day * year_days / kilowatt_hour_j, 2) +
           " kWh in a year of running";
}

School dummyOrAway(const Job& job, const MinimumLoadView& view, const Rail& rail)
{
    std::string lost;
    bool known = !rail.users.empty();
    for (const RailUser& user : rail.users) {
        known = known && !user.if_lost.empty();
        if (!user.if_lost.empty() && user.if_lost != "nothing")
            lost += (lost.empty() ? "" : "; ") + user.name + ": " + user.if_lost;
    }
    const bool nothing = known && lost.empty();
    const std::string away = !lost.empty() ? lost
                             : nothing     ? "nobody loses anything"
                                       : "not known: trace every wire and track of " + rail.name + " first";
    return {"A dummy load or the rail taken away",
            {{"Dummy load", dummyFigures(job, view, rail)}, {"Away", away}},
            nothing ? std::size_t{1} : std::size_t{0},
            nothing         ? "Nobody needs the rail: taking it away saves the heat."
            : !lost.empty() ? "Somebody loses something: the dummy load is the smaller change."
                            : "Until every user is known the rail stays."};
}

} // namespace

MinimumLoadView minimumLoadView(const Job& job, const Figures& figures, const Rail& rail)
{
    MinimumLoadView view{};
    view.present_a = leastCurrent(job, rail);
    const auto window = windowOf(job, rail);
    if (window) {
        view.input = loadReadings(job, rail, *window, movedShare(job, figures, rail));
        view.fit = minimumLoadFit(view.input);
    }
    wantedLoad(view, rail);
    view.sentence = loadSentence(view, rail);
    if (view.wanted.max_a > 0 && rail.v_v) {
        const double v =
            std::clamp(*rail.v_v, window ? window->min_v : 0, window ? window->max_v : *rail.v_v);
        constexpr std::int64_t shown = 40;
        view.options =
            dummyLoadOptions({.rail_v = v,
                              .rail_max_v = window ? std::optional(std::max(v, window->max_v)) : std::nullopt,
                              .current_a = view.wanted,
                              .stock = job.drawer,
                              .limit = shown})
                .options;
    }
    view.school = dummyOrAway(job, view, rail);
    return view;
}

DummyLoadPlan dummyLoadPlan(const std::string& rail, const DummyLoadOption& option)
{
    return {.rail = rail, .network = option.network, .part_power_w = option.part.power_w};
}

} // namespace offshoot
