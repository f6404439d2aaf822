// What the plan makes of a job, over every kind of change in it.
#pragma once

#include "core/job/job.h"

#include <string>
#include <vector>

namespace offshoot {

/// The supply as the plan leaves it: other parts, turns, loads and shunt in place. Voltages stay as found.
Supply plannedSupply(const Job& job);
/// The load as the plan leaves it: the ratings of its own parts that are fitted anew.
Load plannedLoad(const Job& job);
/// What the plan changes, one line each: "15k across the bottom leg", "dummy load 39R on 12V".
std::vector<std::string> plannedChanges(const Job& job);
/// Whether anything at all is to be changed.
bool changesAnything(const Job& job);

} // namespace offshoot
