// The filter between a noisy supply and its load.
#pragma once

#include "core/calculate/filter_response.h"
#include "core/job/job.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct NoiseView
{
    std::optional<FilterInput> input;
    std::optional<FilterResult> result;
    std::vector<double> f_hz; ///< of the curve
    std::vector<double> gain_db;
    std::optional<Damping> damping; ///< where it peaks
    std::string sentence;
};
NoiseView noiseView(const Job& job);

} // namespace offshoot
