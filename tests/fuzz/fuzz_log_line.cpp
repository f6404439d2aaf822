// Any line typed into a job with a rail: no crash, and what is understood has a value or a text.
#include "core/evaluate/log_line.h"

#include <cmath>
#include <cstdint>
#include <cstdlib>

using namespace offshoot;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    static const Job job = [] {
        Job made;
        made.found.rails.front().name = "24V";
        made.found.bulk.c_f = 1e-4;
        made.need.target = Target{27.6, 27.3, 27.9};
        return made;
    }();
    static const Evaluation evaluation = evaluate(job, 0);
    const std::string text(reinterpret_cast<const char*>(data), size);
    const LogLine line = readLogLine(text, job, evaluation, "bulk");
    if (line.entry && line.entry->kind == LogKind::Reading && !std::isfinite(*line.entry->value))
        std::abort();
    if (line.entry && !line.problem.empty())
        std::abort();
    (void)completions(text, job);
    return 0;
}
