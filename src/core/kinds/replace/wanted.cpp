#include "core/kinds/replace/wanted.h"

#include "core/kinds/replace/fit_view.h"
#include "core/kinds/replace/reach.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

namespace {

constexpr double usual_window = 0.05;
constexpr double zero_celsius_k = 273.15;

OutputPolarity polarityOf(const Rail& rail)
{
    return rail.negative ? OutputPolarity::Negative : OutputPolarity::Positive;
}

WantedRail firstRail(const Job& job)
{
    const Need& need = job.need;
    WantedRail wanted{.name = job.found.rails.front().name,
                      .v = need.target->v,
                      .min_v = need.target->min_v,
                      .max_v = need.target->max_v,
                      .current_a = *need.current_a,
                      .peak_a = need.peak_a,
                      .least_a = std::min(need.least_a.value_or(0), *need.current_a),
                      .ripple_max_v = need.ripple_max_v,
                      .polarity = polarityOf(job.found.rails.front())};
    if (need.peak_a && *need.peak_a < *need.current_a)
        wanted.peak_a.reset();
    return wanted;
}

/// A rail beside the first; nothing where neither the need nor a user asks for it.
std::optional<WantedRail> otherRail(const Job& job, const Rail& rail, std::vector<std::string>& assumed)
{
    auto window = windowOf(job, rail);
    if (!window && (rail.users.empty() || !rail.v_v))
        return std::nullopt;
    if (!window) {
        window = VoltageWindow{*rail.v_v * (1 - usual_window), *rail.v_v * (1 + usual_window)};
        assumed.push_back(rail.name + ": ± 5 % of what it gives");
    }
    const double middle_v = (window->min_v + window->max_v) / 2;
    const auto usual_a = typicalCurrent(rail);
    if (!usual_a)
        assumed.push_back(rail.name + ": nothing drawn, enter its users in Found");
    return WantedRail{.name = rail.name,
                      .v = std::clamp(rail.v_v.value_or(middle_v), window->min_v, window->max_v),
                      .min_v = window->min_v,
                      .max_v = window->max_v,
                      .current_a = usual_a.value_or(0),
                      .least_a = std::min(leastCurrent(rail), usual_a.value_or(0)),
                      .polarity = polarityOf(rail)};
}

/// What feeds it: the mains, or what stands in front of a unit on DC.
bool setInput(const Job& job, WantedUnit& wanted, std::string& missing)
{
    const Mains& mains = job.need.mains;
    if (job.found.dcFed()) {
        const DirectInput& direct = job.found.direct;
        if (!direct.min_v || !direct.max_v || *direct.min_v > *direct.max_v) {
            missing = "Enter in Found between which voltages the feed lies.";
            return false;
        }
        wanted.feed = DcFeed{*direct.min_v, *direct.max_v};
        return true;
    }
    if (mains.v_assumed) {
        missing = mains_unsaid;
        return false;
    }
    wanted.mains = WantedMains{.v = mains.v_v, .spread = mains.spread, .f_hz = mains.f_hz};
    return true;
}

} // namespace

Wanted wantedOf(const Job& job)
{
    Wanted out{.unit = std::nullopt};
    if (!job.need.target || !job.need.current_a) {
        out.missing = "Say in Need what the load wants and draws.";
        return out;
    }
    WantedUnit wanted{.rails = {firstRail(job)}};
    for (std::size_t i = 1; i < job.found.rails.size(); ++i)
        if (auto rail = otherRail(job, job.found.rails[i], out.assumed))
            wanted.rails.push_back(std::move(*rail));
    if (!setInput(job, wanted, out.missing))
        return out;
    if (const auto& ambient_k = job.found.regulator.t_ambient_k)
        wanted.ambient_k = *ambient_k;
    else
        out.assumed.push_back(significant(wanted.ambient_k - zero_celsius_k, 3) + " °C around it");
    if (const auto& space = job.found.space) {
        wanted.space = space->inside;
        wanted.clear_m = space->clear_m;
    }
    out.assumed.emplace_back("the window holds at its terminals: what drops on the run comes on top");
    out.unit = std::move(wanted);
    return out;
}

void doubtEarth(UnitsOption& option, const std::vector<ShelfUnit>& units)
{
    for (MatchedUnit& unit : option.units) {
        const auto is = [&](const ShelfUnit& shelf) { return shelf.name == unit.name; };
        const auto found = std::ranges::find_if(units, is);
        if (found == units.end() || found->protection_class != 1 || !unit.earth_verdict)
            continue;
        unit.earth_verdict = worse(*unit.earth_verdict, Verdict::Unknown);
        unit.verdict = worse(unit.verdict, Verdict::Unknown);
        option.verdict = worse(option.verdict, Verdict::Unknown);
    }
}

std::optional<UnitsOption> plannedMatch(const Job& job)
{
    auto wanted = wantedOf(job).unit;
    if (!job.plan.replace || !wanted)
        return std::nullopt;
    const std::vector<ReplacingUnit>& units = job.plan.replace->units;
    std::vector<ShelfUnit> shelf;
    std::vector<ShelfEntry> entries;
    for (const ReplacingUnit& unit : units) {
        shelf.push_back(unit.entry.unit);
        entries.push_back(unit.entry);
    }
    std::vector<ServedBy> served;
    const auto place = [&](const WantedRail& rail) -> std::optional<ServedBy> {
        for (std::size_t u = 0; u < units.size(); ++u)
            for (const ServedRail& own : units[u].rails)
                for (std::size_t o = 0; own.rail == rail.name && o < shelf[u].outputs.size(); ++o)
                    if (shelf[u].outputs[o].name == own.output)
                        return ServedBy{u, o};
        return std::nullopt;
    };
    std::erase_if(wanted->rails, [&](const WantedRail& rail) {
        const auto by = place(rail);
        if (by)
            served.push_back(*by);
        return !by;
    });
    UnitsOption option = matchAs(*wanted, shelf, served);
    if (job.found.earth_class != EarthClass::ClassI)
        doubtEarth(option, shelf);
    boundByFeed(option, job.found, entries);
    return option;
}

std::string unitNames(const UnitsOption& option)
{
    std::string text;
    for (const MatchedUnit& unit : option.units)
        text += (text.empty() ? "" : " and ") + unit.name;
    return text;
}

std::string unitNames(const ReplacePlan& plan)
{
    std::string text;
    for (const ReplacingUnit& unit : plan.units)
        text += (text.empty() ? "" : " and ") + unit.entry.unit.name;
    return text;
}

std::string unitLabel(const ReplacePlan& plan, std::size_t unit)
{
    const std::string& name = plan.units.at(unit).entry.unit.name;
    const auto same = [&](const ReplacingUnit& other) { return other.entry.unit.name == name; };
    return std::ranges::count_if(plan.units, same) > 1 ? name + " (" + std::to_string(unit + 1) + ")" : name;
}

std::string actionText(UnitAction action, const MatchedUnit& unit)
{
    std::string text;
    const auto each = [&](const std::string& more) { text += (text.empty() ? "" : ", ") + more; };
    switch (action) {
    case UnitAction::Trim:
        for (const MatchedRail& rail : unit.rails)
            each("set " + rail.output + " to " + volts(rail.set_v));
        return text;
    case UnitAction::DummyLoad:
        for (const MatchedRail& rail : unit.rails)
            if (rail.dummy_a > 0)
                each("a dummy load of " + amps(rail.dummy_a) + " on " + rail.output);
        for (const IdleOutput& idle : unit.idle)
            each("a dummy load of " + amps(idle.dummy_a) + " on " + idle.output + ", which serves nobody");
        return text;
    case UnitAction::SelectMains:
        return unit.selector ? "the selector at " + *unit.selector
                             : "a selector that has no place for this mains";
    case UnitAction::OpenBond:
        return "the bond of its output opened, never the protective earth";
    case UnitAction::Enable:
        return "its enable pin held on";
    }
    return text;
}

std::vector<PlannedDummy> plannedDummies(const ReplacingUnit& unit)
{
    std::vector<PlannedDummy> all;
    for (const ServedRail& served : unit.rails)
        if (served.dummy_a > 0)
            all.push_back({served.output, served.set_v, served.dummy_a});
    for (const LoadedOutput& idle : unit.idle) {
        const auto output = std::ranges::find(unit.entry.unit.outputs, idle.output, &UnitOutput::name);
        if (output != unit.entry.unit.outputs.end())
            all.push_back({idle.output, output->v, idle.dummy_a});
    }
    return all;
}

ReplacePlan replacePlan(const UnitsOption& option, const std::vector<ShelfEntry>& entries)
{
    ReplacePlan plan;
    for (const MatchedUnit& unit : option.units) {
        const ShelfEntry* entry = entryNamed(entries, unit.name);
        if (entry == nullptr)
            continue;
        ReplacingUnit made{.entry = *entry, .rails = {}, .selector = unit.selector};
        for (const MatchedRail& rail : unit.rails)
            made.rails.push_back(
                {.rail = rail.name, .output = rail.output, .set_v = rail.set_v, .dummy_a = rail.dummy_a});
        for (const IdleOutput& idle : unit.idle)
            made.idle.push_back({.output = idle.output, .dummy_a = idle.dummy_a});
        plan.units.push_back(std::move(made));
    }
    return plan;
}

void planReplacement(Job& job, ReplacePlan plan)
{
    Plan made;
    made.wire = job.plan.wire;
    made.panel = job.plan.panel;
    made.rehouse = job.plan.rehouse;
    made.max_parts = job.plan.max_parts;
    made.unknown = job.plan.unknown;
    if (job.plan.replace) {
        plan.new_wires = job.plan.replace->new_wires;
        plan.unknown = job.plan.replace->unknown;
    }
    made.replace = std::move(plan);
    job.plan = std::move(made);
}

namespace {

bool everyUnitFits(const Job& job)
{
    for (std::size_t i = 0; i < job.plan.replace->units.size(); ++i) {
        const FitView view = fitView(job, i);
        if (!view.now || view.now->verdict != Verdict::Fits)
            return false;
    }
    return true;
}

/// The first one kept out of a half of the case, the second wherever it then goes best.
std::optional<Job> placedBeside(const Job& job, const NamedBox& half)
{
    Job trial = job;
    for (ReplacingUnit& unit : trial.plan.replace->units)
        unit.place.reset();
    trial.found.space->keep_out.push_back(
        {half.name, half.x_m, half.y_m, half.z_m, half.dx_m, half.dy_m, half.dz_m});
    const auto first = bestPlace(trial, 0);
    trial.found.space = job.found.space;
    trial.plan.replace->units[0].place = first;
    trial.plan.replace->units[1].place = bestPlace(trial, 1);
    return first && everyUnitFits(trial) ? std::optional(std::move(trial)) : std::nullopt;
}

} // namespace

void placeUnits(Job& job)
{
    if (!job.plan.replace || !job.found.space)
        return;
    std::vector<ReplacingUnit>& units = job.plan.replace->units;
    const bool all_free =
        std::ranges::none_of(units, [](const ReplacingUnit& u) { return u.place.has_value(); });
    for (std::size_t i = 0; i < units.size(); ++i)
        if (!units[i].place)
            units[i].place = bestPlace(job, i);
    if (units.size() < 2 || !all_free || everyUnitFits(job))
        return;
    const BoxSize& in = job.found.space->inside;
    const auto half = [&](double x_m, double y_m, double dx_m, double dy_m) {
        return NamedBox{
            .name = "half", .x_m = x_m, .y_m = y_m, .z_m = 0, .dx_m = dx_m, .dy_m = dy_m, .dz_m = in.z_m};
    };
    for (const NamedBox& other : {half(in.x_m / 2, 0, in.x_m / 2, in.y_m), half(0, 0, in.x_m / 2, in.y_m),
                                  half(0, in.y_m / 2, in.x_m, in.y_m / 2), half(0, 0, in.x_m, in.y_m / 2)})
        if (auto placed = placedBeside(job, other)) {
            job.plan.replace = std::move(placed->plan.replace);
            return;
        }
}

} // namespace offshoot
