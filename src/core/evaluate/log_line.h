// The log line: one line, one entry. Forgiving of case and order; says how it understood before it counts.
//     out 24.03 @0.5A · bulk 3.2V · earth 0.08R · ripple 42mV @2A · lamp flash · note cap looks cooked
//     capture ~/after.csv ripple @2A
#pragma once

#include "core/evaluate/capture_reading.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace offshoot {

/// A name a reading can be taken at, and what is measured there unless the unit says otherwise.
struct LogPoint
{
    std::string name;
    Quantity quantity;
    bool needs_power; ///< means nothing on a dead unit
};

/// The points of a job: rails, reservoirs and the usual test points.
std::vector<LogPoint> logPoints(const Job& job);

struct LogLine
{
    std::optional<LogEntry> entry;     ///< without id, time, isolation and stage
    std::optional<CaptureAsk> capture; ///< instead: a file that is to be read for its entry
    std::string echo;                  ///< the full understanding in words
    std::optional<ReadingJudgement> judgement;
    std::optional<ReadingWindow> window;
    std::string question; ///< to be answered before it is logged, such as "is the unit live?"
    std::string problem;  ///< what does not read
    std::size_t problem_at = 0;
    std::size_t problem_length = 0;
    std::string suggestion; ///< for a word nobody knows
};

/// Reads what is typed so far. `last_point` stands in where no point is named.
LogLine readLogLine(std::string_view text, const Job& job, const Evaluation& evaluation,
                    const std::string& last_point);

/// What could be meant by the word being typed.
std::vector<std::string> completions(std::string_view text, const Job& job);

} // namespace offshoot
