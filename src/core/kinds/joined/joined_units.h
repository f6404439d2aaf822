// The units of a job as the plan joins them.
#pragma once

#include "core/calculate/parallel.h"
#include "core/calculate/stack.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// The units on one bus with the need's load; nothing until each has a set point and the load a current.
struct BusModel
{
    std::optional<ParallelInput> input = {};
    std::vector<std::string> assumed = {};
    std::string missing = {}; ///< what is still to be entered
};

/// The units in a row, bottom to top, with the plan's bonds opened and diodes fitted.
struct StackModel
{
    std::optional<StackInput> input = {};
    std::vector<std::string> assumed = {};
    std::string missing = {};
};

/// What the plan's join makes of them, worked out once: of the two, the one that is planned.
struct JoinedUnits
{
    BusModel bus = {};
    std::optional<BusState> shared = {};
    StackModel stack = {};
    std::optional<StackResult> stacked = {};
};

} // namespace offshoot
