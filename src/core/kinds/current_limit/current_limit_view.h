// The current limit between what the load draws and what the supply bears.
#pragma once

#include "core/calculate/current_limit.h"
#include "core/kinds/job_figures.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// Of several parts the coarsest tolerance and the least power count.
ShuntPlan shuntPlan(const ShuntOption& option);

struct LimitView
{
    std::optional<LimitInput> input;
    std::optional<LimitResult> result;
    std::string sentence;
};
/// Where the limit stands as found and as planned, and the drawer's shunts for the load's peak; says what is
/// not entered yet.
LimitView limitView(const Job& job, const Figures& figures);

} // namespace offshoot
