// A reading followed over time: when to stop, and how long that will still take.
#pragma once

#include "core/job/log.h"

#include <optional>
#include <vector>

namespace offshoot {

/// What ends a recording; the first that comes.
struct StopRules
{
    std::optional<double> after_s = {};
    /// It stayed within so much, from lowest to highest, for so long. Both or neither.
    std::optional<double> steady_within = {};
    std::optional<double> steady_for_s = {};
    std::optional<double> below = {};
    std::optional<double> above = {};
};

class Recorder
{
public:
    explicit Recorder(StopRules rules)
        : m_rules(rules)
    {}
    /// `t_s` since it began, rising. What ends it, once something does.
    std::optional<RecordingEnd> take(double t_s, double value);
    const std::vector<double>& times() const { return m_t_s; }
    const std::vector<double>& values() const { return m_values; }
    /// Until one of the rules ends it, as the curve goes: an exponential through three of its points; nothing
    /// where that says nothing.
    std::optional<double> leftS() const;
    /// What the log keeps of it.
    KeptRecording kept(double begun_s, RecordingEnd ended) const;

private:
    std::optional<double> steadySinceS() const;

    StopRules m_rules;
    std::vector<double> m_t_s;
    std::vector<double> m_values;
};

/// Its points as CSV: seconds and the value, with a heading.
std::string recordingCsv(const Recorder& recorder, const std::string& heading);

} // namespace offshoot
