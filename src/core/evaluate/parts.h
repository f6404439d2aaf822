// The parts of a job: what its plan uses or asks for, and the tools of its steps.
#pragma once

#include "core/evaluate/evaluation.h"
#include "core/kinds/parts_list.h"

#include <vector>

namespace offshoot {

/// Every part that the plan uses or asks for, then the tools of its steps.
std::vector<PartLine> partsOf(const Job& job, const Evaluation& evaluation);
/// As a table: part,where,replaces,to_get,tool.
std::string writePartsCsv(const std::vector<PartLine>& parts);

} // namespace offshoot
