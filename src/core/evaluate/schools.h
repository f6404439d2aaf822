// The questions on which good people disagree, each with this job's own figures, a pick and its reason.
#pragma once

#include "core/evaluate/evaluation.h"
#include "core/kinds/school.h"

namespace offshoot {

/// Of a divider that is planned: needs the evaluation's divider, planned candidate, trimmer and consequences.
std::vector<School> schoolsOf(const Job& job, const Evaluation& evaluation);

} // namespace offshoot
