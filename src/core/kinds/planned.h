// What the plan makes of a job, over every kind of change in it.
#pragma once

#include "core/job/job.h"

#include <string>
#include <vector>

namespace offshoot {

/// As the plan leaves them: other parts, turns, loads and shunt in place, and of the load the ratings of its
/// own parts that are fitted anew. Voltages stay as found.
struct PlannedUnit
{
    Supply supply;
    Load load;
};
PlannedUnit plannedUnit(const Job& job);
Supply plannedSupply(const Job& job);
/// What the plan changes, one line each: "15k across the bottom leg", "dummy load 39R on 12V".
std::vector<std::string> plannedChanges(const Job& job);
/// Whether anything at all is to be changed.
bool changesAnything(const Job& job);

} // namespace offshoot
