// Several units in one job: what each gives, how they share a load side by side, where each stands in a
// stack.
#pragma once

#include "core/calculate/parallel.h"
#include "core/calculate/stack.h"
#include "core/job/connections.h"
#include "core/job/evaluation.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// Units by their numbers, 1 is the one on the bench.
std::size_t unitCount(const Job& job);
const Supply& unitSupply(const Job& job, std::size_t unit);
/// What a unit was found to give: its last before-reading, else its set point or label. The evaluation speaks
/// for the unit on the bench.
std::optional<double> unitFound(const Job& job, const Evaluation& evaluation, std::size_t unit);
/// What it is to be set to: the plan's setting, else where it stands.
std::optional<double> unitSet(const Job& job, const Evaluation& evaluation, std::size_t unit);

/// The units of the job on one bus with the need's load; nothing until each has a set point and the load a
/// current.
struct BusModel
{
    std::optional<ParallelInput> input;
    std::vector<std::string> assumed;
    std::string missing; ///< what is still to be entered
};
BusModel busModel(const Job& job, const Evaluation& evaluation);

/// How good people make units share, each with what it does here.
struct ShareSchool
{
    std::string name;
    std::string figures;
    std::optional<ParallelResult> result; ///< nothing for one bigger unit
    ParallelInput input;
};

/// How near the set points must be to share within a tenth, by their leads and droop; 0 where nothing is near
/// enough.
double matchFor(const Job& job, const ParallelInput& bus);

struct ParallelView
{
    BusModel model;
    std::optional<ParallelResult> result;
    /// Total load, and every unit's current at it (by unit): curves that add up.
    std::vector<double> loads_a;
    std::vector<std::vector<double>> currents_a;
    std::vector<std::vector<UnitState>> states;
    double full_a = 0;  ///< end of the axis
    double match_v = 0; ///< set points this close share within a tenth; 0 where none is close enough
    BallastInput ballast_for;
    std::vector<BallastOption> ballasts; ///< from the drawer, then by longer leads
    std::vector<ShareSchool> schools;
    std::size_t pick = 0;
    std::string why;
    std::optional<ShareSpreadResult> before_trimming;
    std::optional<ShareSpreadResult> after_trimming;
    double before_spread_v = 0;
    std::string sentence;
};
ParallelView parallelView(const Job& job, const Evaluation& evaluation);

/// The units of the job in a row, bottom to top, with the plan's bonds opened and diodes fitted.
struct StackModel
{
    std::optional<StackInput> input;
    std::vector<std::string> assumed;
    std::string missing;
};
StackModel stackModel(const Job& job, const Evaluation& evaluation);

struct StackView
{
    StackModel model;
    std::optional<StackResult> result;
    StackInput as_found; ///< with the bonds as they were found
    Connections wiring;  ///< as it is to be
    std::string sentence;
    std::vector<std::string> advice; ///< how to do it safely, in order
};
StackView stackView(const Job& job, const Evaluation& evaluation);

/// The join's rows for the consequences panel, units in order.
std::vector<ConsequenceRow> joinRows(const Job& job, const Evaluation& evaluation);

} // namespace offshoot
