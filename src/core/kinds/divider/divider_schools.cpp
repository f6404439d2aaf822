// Of a divider that is planned: whether to retune at all, and how.
#include "core/kinds/divider/divider_schools.h"

#include "core/values/format.h"

#include <algorithm>

namespace offshoot {

namespace {

School retuneOrRewind(const Job& job, const Figures& figures, FiguresOf figuresOf)
{
    const double share = figures.planned->option.v / figures.found_v.value_or(figures.planned->option.v);
    // What the divider alone does is judged with the turns as they were found.
    std::optional<Figures> unwound;
    if (job.plan.rewind) {
        Job alone = job;
        alone.plan.rewind.reset();
        unwound = figuresOf(alone);
    }
    const ConsequenceRow* worst = nullptr;
    for (const ConsequenceRow& row : (unwound ? unwound->consequences : figures.consequences).rows)
        if (row.worse && row.use && rowInfo(row.id).mains_side &&
            (worst == nullptr || *row.use > *worst->use))
            worst = &row;
    const std::string nearest = worst != nullptr
                                    ? worst->part + " at " + formatPercent(*worst->use, 2) + " of its limit"
                                    : std::string("nothing on the primary side moves nearer its limit");
    constexpr double rewind_worth = 1.25;
    const bool far = share > rewind_worth || share < 1 / rewind_worth;
    const std::string factor = significant(share, 3);
    return {"Retune the divider or rewind the transformer",
            {{"Retune", "output × " + factor + ", controller supply × " + factor + "; " + nearest},
             {"Rewind", "secondary turns × " + factor +
                            ", controller supply unchanged; core apart, insulation to be made again"}},
            far ? std::size_t{1} : std::size_t{0},
            far ? "So far from the found voltage the auxiliary supply and the duty leave their range."
                : "Within a quarter of the found voltage the divider alone is the smaller risk."};
}

/// Adding keeps both found legs, so the before-reading stays worth something; replacing one throws it away.
School addOrReplace(const Figures& figures)
{
    const auto spread = [&](bool replacing) -> std::string {
        const auto best = std::ranges::find_if(figures.candidates, [replacing](const Candidate& candidate) {
            return candidate.option.in_window && replaces(candidate.option.method) == replacing;
        });
        if (best == figures.candidates.end())
            return "nothing in the drawer does it";
        return best->option.network.prettyText() + ": " + fixed(best->option.worst_min_v, 2) + " to " +
               fixed(best->option.worst_max_v, 2) + " V worst case";
    };
    return {
        "Add to a leg or replace it",
        {{"Add", spread(false)}, {"Replace", spread(true)}},
        0,
        figures.before && figures.before_possible
            ? "The before-reading knows both found legs together; a new leg is known by its own tolerance "
              "alone."
            : "Take a before-reading: it makes an added part several times closer, a replaced leg hardly."};
}

School trimmerOrFixed(const Figures& figures)
{
    const DividerOption& option = figures.planned->option;
    const DividerPotResult& trimmer = *figures.trimmer;
    const std::string travel = significant(trimmer.min_v, 4) + " V to " +
                               (trimmer.max_v ? significant(*trimmer.max_v, 4) + " V" : "runaway");
    return {"Leave a trimmer in or fit a fixed resistor",
            {{"Fixed", fixed(option.worst_min_v, 2) + " to " + fixed(option.worst_max_v, 2) +
                           " V, stays there for good"},
             {"Trimmer",
              "any voltage from " + travel + "; wiper open: " +
                  (trimmer.open_wiper.v ? formatVolts(*trimmer.open_wiper.v) : std::string("runs away")) +
                  (trimmer.target_ohm ? "" : "; the one entered does not reach the target")}},
            0,
            option.worst_in_window ? "The fixed part meets the window in its worst case."
                                   : "Find the value with a trimmer, then fit what it measured: wipers age."};
}

School whereToTrim(const Job& job)
{
    const bool battery = job.need.load.kind == LoadKind::Battery;
    const std::string load = job.need.current_a ? formatValue(*job.need.current_a, Quantity::Current)
                                                : std::string("the need's current");
    return {"Trim without load, on a dummy load, or on the real load",
            {{"Without", "sees the set point alone"},
             {"Dummy", "sees the droop at " + load},
             {"Real", battery ? "a battery holds its own voltage: never" : "wins over all others"}},
            battery ? std::size_t{1} : std::size_t{2},
            battery ? "The load is a source itself: set it on a resistor."
                    : "Trim roughly before, finally on the real load."};
}

} // namespace

void dividerSchools(const Job& job, const Figures& figures, FiguresOf figuresOf, std::vector<School>& all)
{
    if (!figures.planned || !figures.divider)
        return;
    all.push_back(retuneOrRewind(job, figures, figuresOf));
    all.push_back(addOrReplace(figures));
    all.push_back(trimmerOrFixed(figures));
    all.push_back(whereToTrim(job));
}

} // namespace offshoot
