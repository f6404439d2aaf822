// What each station of the power path shows: found, planned and measured figures, its worst verdict, and the
// power that leaves the path there.
#pragma once

#include "core/evaluate/evaluation.h"
#include "core/supply/station.h"

namespace offshoot {

std::string_view stationName(Station station);
/// Empty for a job of one unit.
std::vector<UnitView> unitViews(const Job& job, const Evaluation& evaluation);
std::vector<RailView> railViews(const Job& job, const Evaluation& evaluation);
/// Needs the rails.
std::vector<StationView> stationViews(const Job& job, const Evaluation& evaluation);

} // namespace offshoot
