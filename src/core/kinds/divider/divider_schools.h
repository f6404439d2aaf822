// Of a divider that is planned: whether to retune at all, and how.
#pragma once

#include "core/kinds/job_figures.h"
#include "core/kinds/school.h"

namespace offshoot {

/// None until the divider is known and a part planned.
void dividerSchools(const Job& job, const Figures& figures, FiguresOf figuresOf, std::vector<School>& all);

} // namespace offshoot
