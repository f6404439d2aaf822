#include "core/calculate/steady.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace offshoot {

namespace {

double allowance(double value, double share, Quantity quantity)
{
    const double last_digits = quantity == Quantity::Resistance ? 0.02 : 0.001;
    return std::max(share * std::abs(value), last_digits);
}

} // namespace

std::optional<double> SteadyReading::take(double time_s, double value, Quantity quantity)
{
    if (quantity != m_quantity)
        *this = {};
    m_quantity = quantity;
    if (m_skip)
        m_given = value;
    m_skip = false;
    if (m_given && std::abs(value - *m_given) > allowance(*m_given, moved_share, quantity))
        m_given.reset();
    m_samples.push_back({time_s, value});
    const auto [low, high] = std::ranges::minmax_element(m_samples, {}, &Sample::value);
    if (high->value - low->value > allowance(value, rest_share, quantity)) {
        m_samples = {{time_s, value}};
        return std::nullopt;
    }
    while (time_s - m_samples.front().time_s > 2 * rest_s)
        m_samples.pop_front();
    if (m_given || time_s - m_samples.front().time_s < rest_s || m_samples.size() < least_samples)
        return std::nullopt;
    const double sum = std::accumulate(m_samples.begin(), m_samples.end(), 0.0,
                                       [](double total, const Sample& s) { return total + s.value; });
    m_given = sum / static_cast<double>(m_samples.size());
    return m_given;
}

void SteadyReading::skipResting() { m_skip = true; }

bool probesOn(double value, Quantity quantity, const std::optional<ReadingWindow>& window)
{
    if (quantity == Quantity::Resistance)
        return true;
    constexpr double share = 0.1;
    const double edge = window && window->min ? std::abs(*window->min) : 1;
    return std::abs(value) >= share * edge;
}

} // namespace offshoot
