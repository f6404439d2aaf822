// What an adjustable module can reach on its feed.
#pragma once

#include "core/calculate/units_match.h"
#include "core/job/job.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct Reach
{
    double min_v;
    double max_v;
    std::string because; ///< what ends it above: "the feed: 22.0 V less 1.5 V", "the module"
    bool by_feed = false;
};
/// Of its first output; nothing of one that is not a module or whose feed is not known. Linear and down: at
/// most the lowest feed less the headroom; up: at least the highest feed over 0.95, below which the input
/// passes straight through.
std::optional<Reach> reachOf(const Supply& found, const ShelfEntry& entry);
/// The first unit of the plan that is an adjustable module on DC; null where none is.
const ReplacingUnit* plannedModule(const Job& job);

/// A rail set beyond the reach breaks, whatever its plate says.
void boundByFeed(UnitsOption& option, const Supply& found, const std::vector<ShelfEntry>& entries);

} // namespace offshoot
