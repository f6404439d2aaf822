// The voltage ruler of the report.
#pragma once

#include "core/evaluate/evaluation.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// The voltage ruler: the need's window, what was found, the plan with both spreads, what was measured; empty
/// without a need.
std::string rulerSvg(const Job& job, const Evaluation& evaluation);

} // namespace offshoot
