// What each unit of a job gives and is to be set to.
#pragma once

#include "core/kinds/job_figures.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// What a unit was found to give: its last before-reading, else its set point or label. The evaluation speaks
/// for the unit on the bench.
std::optional<double> unitFound(const Job& job, const Figures& figures, std::size_t unit);
/// The units as the plan joins them; nothing where it does not.
std::optional<JoinedUnits> joinedUnits(const Job& job, const Figures& figures);
/// What it is to be set to: the plan's setting, else where it stands.
std::optional<double> unitSet(const Job& job, const Figures& figures, std::size_t unit);

} // namespace offshoot
