#include "core/rehearse/charged_store.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

ChargedStore::ChargedStore(double c_f, double recovered_share)
    : m_c_f(c_f)
{
    m_absorbing_f = c_f * recovered_share / (1 - recovered_share);
    const double both_f = c_f * m_absorbing_f / (c_f + m_absorbing_f); // in series
    m_link_s = both_f / recovers_in_s;
}

void ChargedStore::hold(double v_v, double t_s)
{
    m_plates_v = v_v;
    if (m_absorbing_f > 0)
        m_absorbed_v = v_v + (m_absorbed_v - v_v) * std::exp(-t_s * m_link_s / m_absorbing_f);
}

void ChargedStore::leave(double siemens, double t_s)
{
    if (m_absorbing_f == 0) {
        m_plates_v *= std::exp(-t_s * siemens / m_c_f);
        return;
    }
    // y' = A·y; e^(A·t) = e₁·(A − s₂)/(s₁ − s₂) − e₂·(A − s₁)/(s₁ − s₂), s₁ the slower of the two rates.
    const double a = -(siemens + m_link_s) / m_c_f;
    const double b = m_link_s / m_c_f;
    const double c = m_link_s / m_absorbing_f;
    const double d = -c;
    const double mean = (a + d) / 2;
    const double apart = std::hypot((a - d) / 2, std::sqrt(b * c));
    const double fast = mean - apart;
    const double slow = siemens * m_link_s / (m_c_f * m_absorbing_f) / fast; // their product is det A
    const double of_fast = std::exp(fast * t_s);
    const double of_slow = std::exp(slow * t_s);
    const double span = slow - fast;
    const auto with = [&](double diagonal, double own, double beside, double other) {
        return (of_slow * ((diagonal - fast) * own + beside * other) -
                of_fast * ((diagonal - slow) * own + beside * other)) /
               span;
    };
    const double plates_v = with(a, m_plates_v, b, m_absorbed_v);
    m_absorbed_v = with(d, m_absorbed_v, c, m_plates_v);
    m_plates_v = plates_v;
}

double ChargedStore::draw(double power_w, double stop_v, double siemens, double t_s)
{
    double drawn_s = 0;
    if (power_w > 0 && m_plates_v > stop_v) {
        // With w = V²: w' = −2·(P + G·w)/C. Without G it falls in a straight line.
        const double from = m_plates_v * m_plates_v;
        const double to = stop_v * stop_v;
        const double rest = siemens > 0 ? power_w / siemens : 0;
        const double until_s = siemens > 0 ? m_c_f / (2 * siemens) * std::log((from + rest) / (to + rest))
                                           : m_c_f * (from - to) / (2 * power_w);
        drawn_s = std::min(until_s, t_s);
        const double left = siemens > 0 ? (from + rest) * std::exp(-2 * siemens * drawn_s / m_c_f) - rest
                                        : from - 2 * power_w * drawn_s / m_c_f;
        hold(std::sqrt(std::max(left, 0.0)), drawn_s);
    }
    leave(siemens, t_s - drawn_s);
    return drawn_s;
}

} // namespace offshoot
