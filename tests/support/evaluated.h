// A job as it is evaluated when its last entry is written; without entries, at a moment of 2027.
#pragma once

#include "core/evaluate/evaluation.h"

namespace offshoot::test {

inline double endOf(const Job& job) { return job.log.empty() ? 1.8e9 : job.log.back().time_s; }
inline Evaluation evaluated(const Job& job) { return evaluate(job, endOf(job)); }

} // namespace offshoot::test
