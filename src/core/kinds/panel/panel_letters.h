// What is written on a front, from the plan.
#pragma once

#include "core/job/job.h"
#include "core/kinds/job_figures.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// One line or two: the first stands over the part, the second under it.
struct Letters
{
    std::string text;
    std::string why = {};
    std::optional<double> most_v = {}; ///< the highest that stands there
};

/// Of each part of the planned panel.
std::vector<Letters> plannedLetters(const Job& job, const Figures& figures);
/// Letters of two lines in one.
std::string oneLine(std::string letters);
/// The highest figure of volts in what somebody wrote: "0 to 36 V".
std::optional<double> promisedVolts(const std::string& letters);

} // namespace offshoot
