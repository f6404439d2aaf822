// `job.evaluate`: everything that the window shows of a job, in SI units and stable words, for programs that
// read a job from outside; and what stands before and after the change, and the parts, which the report shows
// too.
#pragma once

#include "core/job/connections.h"
#include "core/job/evaluation.h"

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

/// The answer; `now_s` absent: the time of the last log entry.
Json jobEvaluate(const Json& input);
/// Its published JSON Schema.
Json jobEvaluateSchema();
/// The input: a job file's content, or `{job, now_s?}` around it.
Json jobInputSchema();

struct JobInput
{
    Job job;
    double now_s;
};
/// Throws DocumentError, as the window says it.
JobInput readJobInput(const Json& input);
/// Evaluated with its chain simulated.
Evaluation evaluateWhole(const JobInput& input);

} // namespace offshoot
