// Any line typed into a job with a rail: no crash, and what is understood has a value or a text. As a move at
// the simulated unit's bench: its words read back as the same move, and whatever it does leaves finite volts.
#include "core/evaluate/log_line.h"
#include "core/rehearse/bench.h"

#include <cmath>
#include <cstdint>
#include <cstdlib>

using namespace offshoot;

namespace {

void tryAsMove(const std::string& text, const Job& job)
{
    static Bench bench(job, 1, {});
    try {
        const BenchMove move = benchMoveFrom(text, "/moves/0");
        if (benchMoveFrom(move.text(), "/moves/0").kind != move.kind)
            std::abort();
        const BenchAnswer answer = bench.play(move, "/moves/0");
        if (answer.reading && answer.reading->value && !std::isfinite(*answer.reading->value))
            std::abort();
    } catch (const DocumentError&) {
        // It is told what there is.
    }
    if (!std::isfinite(*bench.storeVolts("bulk")) || !std::isfinite(bench.timeS()))
        std::abort();
}

} // namespace

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
    tryAsMove(text, job);
    return 0;
}
