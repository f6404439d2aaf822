// What each station of the power path shows: found, planned and measured figures, its worst verdict, and the
// power that leaves the path there.
#pragma once

#include "core/evaluate/evaluation.h"
#include "core/supply/station.h"

namespace offshoot {

/// Empty for a job of one unit.
std::vector<UnitView> unitViews(const Job& job, const Evaluation& evaluation);
std::vector<RailView> railViews(const Job& job, const Evaluation& evaluation);
/// Needs the rails and the path.
std::vector<StationView> stationViews(const Job& job, const Evaluation& evaluation);

/// Along the path, the feedback behind what it acts on where there is one.
std::vector<Station> walkOf(const Job& job, const Evaluation& evaluation);
/// Their views.
std::vector<StationView> stationsShown(const Job& job, const Evaluation& evaluation);

} // namespace offshoot
