// `job.evaluate`: everything that the window shows of a job, in SI units and stable words, for programs that
// read a job from outside.
#pragma once

#include "core/evaluate/evaluation.h"
#include "core/supply/shelf.h"

namespace offshoot {

/// The answer; `now_s` absent: the time of the last log entry.
Json jobEvaluate(const Json& input);
/// Its published JSON Schema.
Json jobEvaluateSchema();
/// The input: a job file's content, or `{job, now_s?, shelf?}` around it.
Json jobInputSchema();

struct JobInput
{
    Job job;
    double now_s;
    std::vector<ShelfEntry> shelf = {}; ///< what could take the old one's place
};
/// A job within another document; what is wrong with it is told with `path` before its own.
Job jobWithin(const Json& document, const std::string& path);
/// Throws DocumentError, as the window says it.
JobInput readJobInput(const Json& input);
/// Evaluated with its chain simulated.
Evaluation evaluateWhole(const JobInput& input);

} // namespace offshoot
