#include "core/job/recorder.h"

#include "core/values/format.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

std::optional<RecordingEnd> Recorder::take(double t_s, double value)
{
    m_t_s.push_back(t_s);
    m_values.push_back(value);
    if (m_rules.below && value < *m_rules.below)
        return RecordingEnd::Reached;
    if (m_rules.above && value > *m_rules.above)
        return RecordingEnd::Reached;
    if (const auto since_s = steadySinceS(); since_s && t_s - *since_s >= *m_rules.steady_for_s)
        return RecordingEnd::Steady;
    if (m_rules.after_s && t_s >= *m_rules.after_s)
        return RecordingEnd::Time;
    return std::nullopt;
}

/// Since when it has stayed within.
std::optional<double> Recorder::steadySinceS() const
{
    if (!m_rules.steady_within || !m_rules.steady_for_s || m_values.empty())
        return std::nullopt;
    double low = m_values.back();
    double high = low;
    double since_s = m_t_s.back();
    for (std::size_t i = m_values.size(); i-- > 0;) {
        low = std::min(low, m_values[i]);
        high = std::max(high, m_values[i]);
        if (high - low > *m_rules.steady_within)
            break;
        since_s = m_t_s[i];
        if (m_t_s.back() - since_s >= *m_rules.steady_for_s)
            break;
    }
    return since_s;
}

std::optional<double> Recorder::leftS() const
{
    std::optional<double> left;
    const auto sooner = [&](double s) { left = std::min(left.value_or(s), std::max(s, 0.0)); };
    if (m_values.empty())
        return m_rules.after_s;
    const double now_s = m_t_s.back();
    if (m_rules.after_s)
        sooner(*m_rules.after_s - now_s);
    constexpr std::size_t least = 9;
    if (m_values.size() < least)
        return left;
    // Means of the three thirds of the latter half: a + b·exp(−t/τ) at three even times.
    const auto mean = [&](std::size_t from, std::size_t to, const std::vector<double>& of) {
        double sum = 0;
        for (std::size_t i = from; i < to; ++i)
            sum += of[i];
        return sum / static_cast<double>(to - from);
    };
    const std::size_t half = m_values.size() / 2;
    const std::size_t third = (m_values.size() - half) / 3;
    const std::size_t from = m_values.size() - 3 * third;
    const double y1 = mean(from, from + third, m_values);
    const double y2 = mean(from + third, from + 2 * third, m_values);
    const double y3 = mean(from + 2 * third, m_values.size(), m_values);
    const double apart_s =
        mean(from + 2 * third, m_values.size(), m_t_s) - mean(from + third, from + 2 * third, m_t_s);
    const double ratio = (y3 - y2) / (y2 - y1);
    const bool settles = y2 != y1 && ratio > 0 && ratio < 1;
    if (!settles)
        return left;
    const double tau_s = -apart_s / std::log(ratio);
    const double end = y3 + (y3 - y2) * ratio / (1 - ratio);
    const double at_s = mean(from + 2 * third, m_values.size(), m_t_s); // where it is y3
    /// When it will be so far from its end.
    const auto whenFrom = [&](double away) { return at_s + tau_s * std::log(std::abs((y3 - end) / away)); };
    for (const auto& [bound, falls] : {std::pair(m_rules.below, true), std::pair(m_rules.above, false)})
        if (bound && ((falls && end < *bound) || (!falls && end > *bound)) && *bound != end)
            sooner(whenFrom(*bound - end) - now_s);
    if (m_rules.steady_within && m_rules.steady_for_s) {
        // From then on it moves by no more than that within the time.
        const double moves = 1 - std::exp(-*m_rules.steady_for_s / tau_s);
        sooner(whenFrom(*m_rules.steady_within / moves) + *m_rules.steady_for_s - now_s);
    }
    return left;
}

KeptRecording Recorder::kept(double begun_s, RecordingEnd ended) const
{
    constexpr std::size_t most = 400;
    const auto [low, high] = std::ranges::minmax(m_values);
    KeptRecording out{.file = {},
                      .begun_s = begun_s,
                      .lasted_s = m_t_s.back(),
                      .count = static_cast<std::int64_t>(m_values.size()),
                      .first = m_values.front(),
                      .lowest = low,
                      .highest = high,
                      .ended = ended};
    const std::size_t columns = std::min(most, m_values.size());
    for (std::size_t i = 0; i < columns; ++i) {
        const std::size_t at = columns < 2 ? 0 : i * (m_values.size() - 1) / (columns - 1);
        out.t_s.push_back(m_t_s[at]);
        out.values.push_back(m_values[at]);
    }
    return out;
}

std::string recordingCsv(const Recorder& recorder, const std::string& heading)
{
    std::string text = "time (s)," + heading + "\n";
    for (std::size_t i = 0; i < recorder.times().size(); ++i)
        text += plainNumber(recorder.times()[i]) + "," + plainNumber(recorder.values()[i]) + "\n";
    return text;
}

} // namespace offshoot
