// What another unit has to serve: the need of this job as `units.match` takes it, and how the planned units
// answer it.
#pragma once

#include "core/calculate/units_match.h"
#include "core/job/job.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct Wanted
{
    std::optional<WantedUnit> unit;
    std::vector<std::string> assumed = {};
    std::string missing = {}; ///< what is still to be said, where there is no unit
};
/// The first rail by the need's own window; others by theirs, or where somebody uses them by ± 5 % of what
/// they give. Around it 25 °C, unless the unit found says otherwise.
Wanted wantedOf(const Job& job);

/// An old unit of class II says nothing of an earth: whether one that needs it may take its place is then not
/// known.
void doubtEarth(UnitsOption& option, const std::vector<ShelfUnit>& units);

/// How the units of the plan serve the need, rail by rail as the plan has them; nothing without a need.
std::optional<UnitsOption> plannedMatch(const Job& job);

/// "trim 24 V to 23.5 V", with the number that it takes.
std::string actionText(UnitAction action, const MatchedUnit& unit);
/// "Oyster 40 and Winkle 12".
std::string unitNames(const UnitsOption& option);
std::string unitNames(const ReplacePlan& plan);
/// Of a unit of the plan, with its number where two are called alike: "Dunlet 15 (2)".
std::string unitLabel(const ReplacePlan& plan, std::size_t unit);
/// A resistor that loads an output of a planned unit: where, and how much it has to draw at the least.
struct PlannedDummy
{
    std::string output; ///< as the unit calls it
    double v_v;
    double least_a;
};
/// The loads that its outputs need to regulate, those that serve a rail first.
std::vector<PlannedDummy> plannedDummies(const ReplacingUnit& unit);
/// The plan that an option of the shelf comes to; `entries` has every unit that it names.
ReplacePlan replacePlan(const UnitsOption& option, const std::vector<ShelfEntry>& entries);
/// Plans it: what was planned inside the unit that goes is dropped, the run to the load stays.
void planReplacement(Job& job, ReplacePlan plan);
/// Puts each unit where it goes best, where the case was measured and no place is planned: up to 50 ms each.
/// Where the second then finds no place that fits, the first is tried in each half of the case.
void placeUnits(Job& job);

} // namespace offshoot
