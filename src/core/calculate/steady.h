// Tells when a live reading has come to rest on something, so that it can be taken with both hands full.
#pragma once

#include "core/calculate/reading.h"
#include "core/values/quantity.h"

#include <deque>
#include <optional>

namespace offshoot {

/// The last moments of a meter's readings. A reading rests when at least `least_samples` over `rest_s`
/// seconds lie within `rest_share` of its value, or within the last digits of a usual meter (1 mV, 1 mA, 20
/// mΩ). It is given once, until it has moved away by `moved_share`.
class SteadyReading
{
public:
    static constexpr double rest_s = 1.5;
    static constexpr std::size_t least_samples = 4;
    static constexpr double rest_share = 0.002;
    static constexpr double moved_share = 0.05;

    /// Adds a sample (finite, SI unit); the mean of the resting samples when it has just come to rest.
    std::optional<double> take(double time_s, double value, Quantity quantity);
    /// The next sample counts as given already: what it rests on belongs to something else.
    void skipResting();

private:
    struct Sample
    {
        double time_s;
        double value;
    };
    std::deque<Sample> m_samples;
    std::optional<double> m_given;
    Quantity m_quantity = Quantity::Voltage;
    bool m_skip = false;
};

/// Whether the probes are likely on the point at all: lifted ones read a steady nothing, which is no reading.
/// A voltage or current counts from a tenth of the window's lower edge (without one from 0.1); a resistance
/// always, since open probes read overload there.
bool probesOn(double value, Quantity quantity, const std::optional<ReadingWindow>& window);

} // namespace offshoot
