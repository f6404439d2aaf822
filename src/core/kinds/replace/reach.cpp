#include "core/kinds/replace/reach.h"

#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

std::optional<Reach> reachOf(const Supply& found, const ShelfEntry& entry)
{
    constexpr double passes_through = 0.95;
    const DirectInput& feed = found.direct;
    if (!found.dcFed() || !entry.converts || !feed.min_v || !feed.max_v || entry.unit.outputs.empty())
        return std::nullopt;
    const UnitOutput& out = entry.unit.outputs.front();
    Reach reach{.min_v = out.trim_min_v.value_or(out.v),
                .max_v = out.trim_max_v.value_or(out.v),
                .because = "the module"};
    if (*entry.converts == ModuleKind::Linear || *entry.converts == ModuleKind::Buck) {
        const double top_v = *feed.min_v - entry.headroom_v;
        if (top_v < reach.max_v) {
            reach.max_v = std::max(0.0, top_v);
            reach.by_feed = true;
            reach.because = "the feed: " + volts(*feed.min_v) + " at its lowest, " + volts(entry.headroom_v) +
                            " of it the module's own";
        }
    }
    if (*entry.converts == ModuleKind::Boost)
        reach.min_v = std::max(reach.min_v, *feed.max_v / passes_through);
    return reach;
}

const ReplacingUnit* plannedModule(const Job& job)
{
    if (!job.plan.replace)
        return nullptr;
    const auto& units = job.plan.replace->units;
    const auto module = std::ranges::find_if(units, [&](const ReplacingUnit& unit) {
        return unit.entry.unit.outputs.front().trim_min_v && reachOf(job.found, unit.entry);
    });
    return module == units.end() ? nullptr : &*module;
}

void boundByFeed(UnitsOption& option, const Supply& found, const std::vector<ShelfEntry>& entries)
{
    for (MatchedUnit& unit : option.units) {
        const ShelfEntry* entry = entryNamed(entries, unit.name);
        const auto reach = entry != nullptr ? reachOf(found, *entry) : std::nullopt;
        if (!reach)
            continue;
        for (MatchedRail& rail : unit.rails)
            if (!within(rail.set_v, reach->min_v, reach->max_v)) {
                rail.voltage_verdict = unit.verdict = option.verdict = Verdict::Breaks;
            }
    }
}

} // namespace offshoot
