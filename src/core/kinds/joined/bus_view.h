// Units side by side: how they share the load.
#pragma once

#include "core/calculate/ballast.h"
#include "core/calculate/parallel.h"
#include "core/kinds/job_figures.h"
#include "core/kinds/joined/units.h"
#include "core/supply/connections.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// The units of the job on one bus with the need's load; nothing until each has a set point and the load a
/// current.
struct BusModel
{
    std::optional<ParallelInput> input;
    std::vector<std::string> assumed;
    std::string missing; ///< what is still to be entered
};
BusModel busModel(const Job& job, const Figures& figures);

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
ParallelView parallelView(const Job& job, const Figures& figures);
/// The units side by side: each positive over its ballast and diode to the bus.
Connections busConnections(const Job& job, const Figures& figures);
/// Rows of units side by side.
std::vector<ConsequenceRow> shareRows(const BusModel& model);

} // namespace offshoot
