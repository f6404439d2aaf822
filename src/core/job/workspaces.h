// What the workspaces of Plan show, computed from the job: one function for each. They are asked when their
// page is seen, so that an edit elsewhere does not pay for them.
#pragma once

#include "core/calculate/current_limit.h"
#include "core/calculate/dummy_load.h"
#include "core/calculate/hiccup.h"
#include "core/calculate/rewind.h"
#include "core/calculate/trim.h"
#include "core/job/evaluation.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// One trimmer against every rail it moves.
struct TrimView
{
    std::string trimmer;
    std::optional<TrimResult> result; ///< nothing until a rail has a reading and a window
    TrimInput input;
    std::string sentence; ///< the answer
    std::string next;     ///< which reading tells the causes apart; empty where none is wanted
};
TrimView trimView(const Job& job, std::size_t trimmer);

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
MinimumLoadView minimumLoadView(const Job& job, const Evaluation& evaluation, const Rail& rail);

/// What a rail gives with a dummy load of `ohm` beside the least its users draw, by the line of its readings;
/// nothing without a line.
std::optional<double> voltageWithDummy(const Job& job, const Evaluation& evaluation, const Rail& rail,
                                       double ohm);

/// What the plan takes of an option from the drawer.
DummyLoadPlan dummyLoadPlan(const std::string& rail, const DummyLoadOption& option);
/// Of several parts the coarsest tolerance and the least power count.
ShuntPlan shuntPlan(const ShuntOption& option);

struct RewindView
{
    std::optional<RewindInput> input;
    std::optional<RewindResult> result;
    std::string sentence;         ///< the answer, or what is still to be read
    std::optional<School> school; ///< rewind or the divider alone; a mains winding has no divider
};
RewindView rewindView(const Job& job, const Evaluation& evaluation, const Rail& rail);

struct LimitView
{
    std::optional<LimitInput> input;
    std::optional<LimitResult> result;
    std::string sentence;
};
LimitView limitView(const Job& job, const Evaluation& evaluation);

struct HiccupView
{
    HiccupInput input;
    HiccupResult result;
    std::string sentence;
};
/// For the unit as it was seen: with the plan's set point, but without the cures that are planned for it.
HiccupView hiccupView(const Job& job);

/// One kind of reading over the units of a batch.
struct BatchRow
{
    std::string point;
    std::string load;
    Quantity quantity;
    std::vector<std::optional<double>> values; ///< one for each unit
    std::optional<double> spread;              ///< highest less lowest; nothing for a single unit
    std::optional<ReadingWindow> window;
    std::vector<Verdict> verdicts; ///< one for each unit
};
struct BatchView
{
    std::vector<std::string> units; ///< "1" is what was logged without a number
    std::vector<BatchRow> rows;
};
BatchView batchView(const Job& job, const Evaluation& evaluation);

} // namespace offshoot
