// Every part that a plan uses or asks for, and what is to be got.
#pragma once

#include "core/job/evaluation.h"

#include <string>
#include <vector>

namespace offshoot {

/// A part that the plan uses or asks for.
struct PartLine
{
    std::string name;     ///< "15k, 1 %, 250 mW"
    std::string where;    ///< "across the bottom leg"
    std::string replaces; ///< what goes out for it; empty where nothing does
    bool to_get = true;   ///< not in the drawer
    bool tool = false;    ///< for the work, not fitted: test loads, lamp, discharge resistor
};
std::vector<PartLine> partsOf(const Job& job, const Evaluation& evaluation);

} // namespace offshoot
