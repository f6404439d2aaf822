#include "core/evaluate/choose_view.h"

#include "core/values/figures.h"
#include "core/values/format.h"

#include <algorithm>

namespace offshoot {

namespace {

OutputPolarity polarityOf(const Rail& rail)
{
    return rail.negative ? OutputPolarity::Negative : OutputPolarity::Positive;
}

/// The need as `units.match` takes it; the sentence says what is missing.
std::optional<WantedUnit> wantedUnit(const Job& job, ChooseView& view)
{
    const Need& need = job.need;
    if (!need.target || !need.current_a) {
        view.sentence = "Say in Need what the load wants and draws.";
        return std::nullopt;
    }
    WantedUnit wanted{.rails = {}};
    const Rail& first = job.found.rails.front();
    wanted.rails.push_back({.name = first.name,
                            .v = need.target->v,
                            .min_v = need.target->min_v,
                            .max_v = need.target->max_v,
                            .current_a = *need.current_a,
                            .peak_a = need.peak_a,
                            .least_a = std::min(need.least_a.value_or(0), *need.current_a),
                            .ripple_max_v = need.ripple_max_v,
                            .polarity = polarityOf(first)});
    if (need.peak_a && *need.peak_a < *need.current_a)
        wanted.rails.back().peak_a.reset();
    for (const RailNeed& other : need.others) {
        const Rail* rail = railNamed(job.found, other.rail);
        if (rail == nullptr || rail == &first)
            continue;
        const double v =
            std::clamp(rail->v_v.value_or((other.min_v + other.max_v) / 2), other.min_v, other.max_v);
        const auto usual_a = typicalCurrent(*rail);
        if (!usual_a)
            view.assumed.push_back(other.rail + ": nothing drawn, enter its users in Found");
        wanted.rails.push_back({.name = other.rail,
                                .v = v,
                                .min_v = other.min_v,
                                .max_v = other.max_v,
                                .current_a = usual_a.value_or(0),
                                .least_a = std::min(leastCurrent(*rail), usual_a.value_or(0)),
                                .polarity = polarityOf(*rail)});
    }
    if (job.found.dcFed()) {
        const DirectInput& direct = job.found.direct;
        if (!direct.min_v || !direct.max_v || *direct.min_v > *direct.max_v) {
            view.sentence = "Enter in Found between which voltages the feed lies.";
            return std::nullopt;
        }
        wanted.feed = DcFeed{*direct.min_v, *direct.max_v};
    } else if (need.mains.v_assumed) {
        view.sentence = mains_unsaid;
        return std::nullopt;
    } else {
        wanted.mains = WantedMains{.v = need.mains.v_v, .spread = need.mains.spread, .f_hz = need.mains.f_hz};
    }
    constexpr double zero_celsius_k = 273.15;
    view.assumed.push_back(significant(wanted.ambient_k - zero_celsius_k, 3) + " °C around it");
    view.assumed.emplace_back("the window holds at its terminals: what drops on the run comes on top");
    return wanted;
}

/// An old unit of class II says nothing of an earth: whether one that needs it may take its place is not
/// known.
void doubtEarth(std::vector<UnitsOption>& options, const std::vector<ShelfEntry>& shelf)
{
    for (UnitsOption& option : options)
        for (MatchedUnit& unit : option.units) {
            const ShelfEntry* entry = entryNamed(shelf, unit.name);
            if (entry == nullptr || entry->unit.protection_class != 1 || !unit.earth_verdict)
                continue;
            unit.earth_verdict = worse(*unit.earth_verdict, Verdict::Unknown);
            unit.verdict = worse(unit.verdict, Verdict::Unknown);
            option.verdict = worse(option.verdict, Verdict::Unknown);
        }
    std::ranges::stable_sort(options, {}, [](const UnitsOption& option) { return badness(option.verdict); });
}

School repairOrReplace(const ChooseView& view, const Figures& figures)
{
    int breaks = 0;
    for (const ConsequenceRow& row : figures.consequences.rows)
        breaks += row.counted && row.verdict == Verdict::Breaks ? 1 : 0;
    const std::string repair = breaks == 0   ? "nothing counted breaks as planned; holes and wires stay"
                               : breaks == 1 ? "one part breaks as planned"
                                             : std::to_string(breaks) + " parts break as planned";
    const UnitsOption* best = view.options.empty() ? nullptr : &view.options.front();
    const bool serves = best != nullptr && best->verdict != Verdict::Breaks;
    const std::string replace = best == nullptr ? "nothing on the shelf has outputs for it"
                                                : unitNames(*best) + ": most used " +
                                                      formatPercent(best->worst_use) + ", " + asksFor(*best);
    const bool replaces = breaks > 0 && serves;
    return {"Repair or replace",
            {{"Repair", repair}, {"Replace", replace}},
            replaces ? std::size_t{1} : std::size_t{0},
            replaces      ? "The old one does not bear it, and one on the shelf does."
            : breaks == 0 ? "What is there bears it; another unit has other holes, terminals and habits."
                          : "Nothing on the shelf bears it either."};
}

std::string sentenceOf(const ChooseView& view)
{
    if (view.options.empty())
        return "Nothing on the shelf has an output for every rail.";
    const UnitsOption& best = view.options.front();
    const std::string name = unitNames(best);
    switch (best.verdict) {
    case Verdict::Fits:
        return name + " would do: most used " + formatPercent(best.worst_use) + ", " + asksFor(best) + ".";
    case Verdict::Tight:
        return name + " would just do: most used " + formatPercent(best.worst_use) + ", " + asksFor(best) +
               ".";
    case Verdict::Unknown:
        return name + " may do: something of it is not known yet.";
    case Verdict::Breaks:
        break;
    }
    return "Nothing on the shelf serves it; each says why at its right.";
}

} // namespace

std::string unitNames(const UnitsOption& option)
{
    std::string text;
    for (const MatchedUnit& unit : option.units)
        text += (text.empty() ? "" : " and ") + unit.name;
    return text;
}

std::string asksFor(const UnitsOption& option)
{
    std::string text;
    for (const MatchedUnit& unit : option.units)
        for (const UnitAction action : unit.actions)
            text += (text.empty() ? "" : ", ") + actionText(action, unit);
    return text.empty() ? "asks for nothing" : text;
}

ChooseView chooseView(const Job& job, const Figures& figures, const std::vector<ShelfEntry>& shelf,
                      std::int64_t most)
{
    ChooseView view;
    view.wanted = wantedUnit(job, view);
    if (!view.wanted)
        return view;
    if (shelf.empty()) {
        view.sentence = "The shelf is empty: type a plate below, or import one.";
        return view;
    }
    UnitsMatchInput in{.need = *view.wanted, .shelf = {}, .max_units = most};
    for (const ShelfEntry& entry : shelf)
        in.shelf.push_back(entry.unit);
    in.limit = static_cast<std::int64_t>(most_on_shelf);
    view.options = unitsMatch(in).options;
    if (job.found.earth_class != EarthClass::ClassI)
        doubtEarth(view.options, shelf);
    view.school = repairOrReplace(view, figures);
    view.sentence = sentenceOf(view);
    return view;
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

std::vector<JudgedLine> judgedLines(const MatchedUnit& unit)
{
    std::vector<JudgedLine> lines;
    const auto add = [&](const std::string& text, std::optional<Verdict> verdict) {
        if (verdict)
            lines.push_back({text, *verdict});
    };
    const auto share = [](const std::optional<double>& use) {
        return use ? formatPercent(*use) : std::string("not known");
    };
    for (const MatchedRail& rail : unit.rails) {
        const std::string on = rail.name + " on " + rail.output + ": ";
        add(on + "gives " + volts(rail.set_v), rail.voltage_verdict);
        add(on + "usual current " + share(rail.current_use), rail.current_verdict);
        add(on + "peak " + share(rail.peak_use), rail.peak_verdict);
        add(on + "ripple " + share(rail.ripple_use), rail.ripple_verdict);
        add(on + (rail.dummy_a > 0 ? "wants " + amps(rail.dummy_a) + " more load" : "loaded enough"),
            rail.least_verdict);
    }
    for (const IdleOutput& idle : unit.idle)
        add(idle.output + " serves nobody and wants " + amps(idle.dummy_a), unit.idle_verdict);
    add("all outputs together " + share(unit.total_use), unit.total_verdict);
    add(unit.input_verdict == Verdict::Breaks  ? "does not run on this supply"
        : unit.input_verdict == Verdict::Tight ? "runs on this supply, not on its extremes"
                                               : "runs on this supply, extremes too",
        unit.input_verdict);
    add(unit.earth_verdict == Verdict::Breaks ? "wants a protective earth that is not there"
        : unit.earth_verdict == Verdict::Unknown
            ? "earth: look for its sign on the unit, measure it at the socket"
            : "protection class suits",
        unit.earth_verdict);
    add(unit.floating_verdict == Verdict::Unknown
            ? "whether an output is tied to its case is not known: measure it"
        : unit.floating_verdict == Verdict::Tight ? "an output is tied to its case"
                                                  : "outputs float",
        unit.floating_verdict);
    add("its size against the space", unit.space_verdict);
    std::ranges::stable_sort(lines, std::ranges::greater{},
                             [](const JudgedLine& line) { return badness(line.verdict); });
    return lines;
}

} // namespace offshoot
