#include "core/evaluate/choose_view.h"

#include "core/evaluate/evaluation.h"
#include "core/kinds/replace/reach.h"
#include "core/values/figures.h"
#include "core/values/format.h"

#include <algorithm>

namespace offshoot {

namespace {

/// The option that the plan holds.
std::optional<std::size_t> plannedOption(const Job& job, const std::vector<UnitsOption>& options)
{
    if (!job.plan.replace)
        return std::nullopt;
    const std::string names = unitNames(*job.plan.replace);
    const auto at =
        std::ranges::find_if(options, [&](const UnitsOption& option) { return unitNames(option) == names; });
    return at == options.end() ? std::nullopt : std::optional(static_cast<std::size_t>(at - options.begin()));
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
                                : !serves       ? "nothing on the shelf serves it"
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
    Wanted wanted = wantedOf(job);
    view.wanted = std::move(wanted.unit);
    view.assumed = std::move(wanted.assumed);
    view.sentence = std::move(wanted.missing);
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
    for (UnitsOption& option : view.options) {
        if (job.found.earth_class != EarthClass::ClassI)
            doubtEarth(option, in.shelf);
        boundByFeed(option, job.found, shelf);
    }
    std::ranges::stable_sort(view.options, {},
                             [](const UnitsOption& option) { return badness(option.verdict); });
    view.planned = plannedOption(job, view.options);
    // What repairing comes to is asked of the job without the replacement.
    if (job.plan.replace) {
        Job repaired = job;
        repaired.plan.replace.reset();
        view.school = repairOrReplace(view, figuresOf(repaired));
    } else {
        view.school = repairOrReplace(view, figures);
    }
    view.sentence = sentenceOf(view);
    return view;
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
