// Units side by side: how they share the load.
#pragma once

#include "core/calculate/ballast.h"
#include "core/calculate/parallel.h"
#include "core/kinds/job_figures.h"
#include "core/kinds/joined/units.h"
#include "core/kinds/school.h"
#include "core/supply/connections.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// As planned; what would be where nothing joins them yet.
BusModel busModel(const Job& job, const Figures& figures);

/// How good people make units share, each with what it does here.
struct ShareWay
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
    std::vector<ShareWay> ways;
    School school; ///< the ways as sides
    std::string sentence;
};
/// How the joined units share the load, as set and as planned; says what is not entered yet.
ParallelView parallelView(const Job& job, const Figures& figures);

/// What a builder gets who sets them all to one voltage, as far as set points and leads allow: some
/// milliseconds of builds drawn at random.
struct ShareBuilds
{
    double before_spread_v; ///< ± of set points that nobody matched
    ShareSpreadResult before_trimming;
    ShareSpreadResult after_trimming; ///< as near as the meter tells apart
};
/// Builds of the same bus, their set points drawn as nobody matched them, then as near as the meter tells.
ShareBuilds shareBuilds(const Job& job, const ParallelInput& bus);
/// The units side by side: each positive over its ballast and diode to the bus.
Connections busConnections(const Job& job, const Figures& figures);
/// Rows of units side by side.
std::vector<ConsequenceRow> shareRows(const JoinedUnits& joined);

} // namespace offshoot
