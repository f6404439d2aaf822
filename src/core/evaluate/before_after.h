// What stands before and after the change: the same readings of both, side by side.
#pragma once

#include "core/evaluate/evaluation.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// One kind of reading, before the change and after it.
struct BeforeAfter
{
    std::string name; ///< "full load"
    std::optional<double> found;
    std::optional<double> found_u;
    std::optional<ReadingWindow> planned;
    std::optional<double> measured;
    std::optional<double> measured_u;
    Quantity quantity = Quantity::Voltage;
    std::optional<Verdict> verdict;      ///< of the measured one against its window
    std::optional<double> difference;    ///< measured less found
    std::optional<DifferenceVerdict> is; ///< real, or within the meter's accuracy
};
std::vector<BeforeAfter> beforeAfter(const Evaluation& evaluation);

} // namespace offshoot
