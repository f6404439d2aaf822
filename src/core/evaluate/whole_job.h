// `job.evaluate`: everything that the window shows of a job, in SI units and stable words, for programs that
// read a job from outside.
#pragma once

#include "core/values/fields.h"

namespace offshoot {

/// The answer; `now_s` absent: the time of the last log entry.
Json jobEvaluate(const Json& input);
/// Its published JSON Schema.
Json jobEvaluateSchema();

} // namespace offshoot
