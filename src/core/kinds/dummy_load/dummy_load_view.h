// A rail that needs a least load, and what is put across it.
#pragma once

#include "core/calculate/dummy_load.h"
#include "core/kinds/job_figures.h"
#include "core/kinds/school.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// Rail voltage against load current, from the readings that name their load.
struct MinimumLoadView
{
    MinimumLoadInput input;
    std::optional<MinimumLoadResult> fit; ///< nothing without a window
    double present_a;                     ///< least current that the rail's users draw together
    CurrentWindow wanted;                 ///< of a dummy load beside them
    bool assumed;                         ///< `wanted` is a usual start, not from the readings
    std::string sentence;
    std::vector<DummyLoadOption> options; ///< from the drawer
    School school;                        ///< a dummy load or the rail taken away
};
/// Readings from before the change are moved by the share that the plan moves the rail.
MinimumLoadView minimumLoadView(const Job& job, const Figures& figures, const Rail& rail);

/// What a rail gives with a dummy load of `ohm` beside the least its users draw, by the line of its readings;
/// nothing without a line.
std::optional<double> voltageWithDummy(const Job& job, const Figures& figures, const Rail& rail, double ohm);

/// What the plan takes of an option from the drawer.
DummyLoadPlan dummyLoadPlan(const std::string& rail, const DummyLoadOption& option);

} // namespace offshoot
