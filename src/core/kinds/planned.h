// What the plan makes of a job, over every kind of change in it.
#pragma once

#include "core/kinds/surge_limiter/inrush_view.h"
#include "core/kinds/windings/windings_view.h"
#include "core/procedure/isolation.h"

#include <string>
#include <vector>

namespace offshoot {

/// The units and their load as the plan leaves them, worked out once: other parts, turns, loads, shunt and
/// joints in place, of the load the ratings of its own parts that are fitted anew, and what the change of the
/// mains side comes to. Voltages stay as found.
struct PlannedUnit
{
    Supply supply;              ///< the unit on the bench
    std::vector<Supply> others; ///< as the job lists them
    Load load;
    std::optional<WindingsView> windings = {}; ///< where the plan connects them anew
    std::optional<PlannedLimiter> limiter = {};
    /// 1 is the unit on the bench.
    const Supply& of(std::size_t unit) const { return unit <= 1 ? supply : others.at(unit - 2); }
};
/// The unit with everything the plan changes, every kind in its turn; what is not planned stays as found.
PlannedUnit plannedUnit(const Job& job);
Supply plannedSupply(const Job& job);
/// What the plan changes, one line each: "15k across the bottom leg", "dummy load 39R on 12V".
std::vector<std::string> plannedChanges(const Job& job);
/// Whether anything at all is to be changed.
bool changesAnything(const Job& job);
/// Sources and reservoirs of the unit on the bench as it was found, or as the plan leaves it.
enum class Condition { Found, Planned };
/// Where its stored energy stands in a condition, from what is known of the capacitors.
EnergyModel energyModel(const Job& job, Condition condition);
/// As the unit stands by the log: found until it was powered after the change.
EnergyModel energyModel(const Job& job);

} // namespace offshoot
