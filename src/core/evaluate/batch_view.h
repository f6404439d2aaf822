// The same points read of every unit of a batch.
#pragma once

#include "core/evaluate/evaluation.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// One kind of reading over the units of a batch.
struct BatchRow
{
    std::string point;
    std::string load;
    Quantity quantity;
    std::vector<std::optional<double>> values; ///< one for each unit
    std::optional<double> spread;              ///< highest less lowest; nothing for a single unit
    std::optional<ReadingWindow> window;
    std::vector<Verdict> verdicts;       ///< one for each unit
    std::optional<std::size_t> out = {}; ///< of three or more the one that lies apart from the rest
};
struct BatchView
{
    std::vector<std::string> units; ///< "1" is what was logged without a number
    std::vector<BatchRow> rows;
};
BatchView batchView(const Job& job, const Evaluation& evaluation);

} // namespace offshoot
