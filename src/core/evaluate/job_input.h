// A job from outside, as `job.evaluate` and the report take it: a file's content, or that with a time and a
// shelf.
#pragma once

#include "core/evaluate/evaluation.h"
#include "core/supply/shelf.h"

namespace offshoot {

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

/// The input: a job file's content, or `{job, now_s?, shelf?}` around it.
Json jobInputSchema();

} // namespace offshoot
