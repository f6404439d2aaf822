// What a run of a rectifier chain comes to, from the moments that were looked at: means, rms, extremes and
// peaks, and values at even times. Where a stretch has its middle, by Simpson's rule and on parabolas.
#pragma once

#include "core/calculate/chain_integrator.h"

#include <cmath>

namespace offshoot {

/// Names of the capacitors in the order of a moment's nodes.
std::vector<std::string> capacitorNames(const RectifierChain& chain);
/// The sections in the order of a moment's series currents.
std::vector<std::int64_t> seriesSections(const RectifierChain& chain);

/// How far the parabola through three even moments rises above the middle one; 0 where its crest is not
/// between them.
double crestAbove(double a, double middle, double b);

/// Functions of time given at the integrator's moments, which must outlive it; two moments at least.
class CycleTrace
{
public:
    explicit CycleTrace(const std::vector<SimMoment>& moments)
        : m_moments(moments)
    {}

    template <class Value>
    double mean(Value value) const
    {
        double sum = 0;
        double before = value(m_moments.front());
        for (std::size_t k = 1; k < m_moments.size(); ++k) {
            double here = value(m_moments[k]);
            double from_s = m_moments[k - 1].t_s;
            double middle = (before + here) / 2;
            if (m_moments[k].middle) {
                middle = here;
                here = value(m_moments[++k]);
            }
            sum += (before + 4 * middle + here) / 6 * (m_moments[k].t_s - from_s);
            before = here;
        }
        const double span = m_moments.back().t_s - m_moments.front().t_s;
        return span > 0 ? sum / span : value(m_moments.front());
    }
    template <class Value>
    double rms(Value value) const
    {
        return std::sqrt(mean([&](const SimMoment& m) { return value(m) * value(m); }));
    }
    template <class Value>
    double most(Value value) const
    {
        double highest = value(m_moments.front());
        for (std::size_t k = 1; k < m_moments.size(); ++k) {
            const double here = value(m_moments[k]);
            highest = std::max(highest, here);
            if (m_moments[k].middle)
                highest = std::max(highest,
                                   here + crestAbove(value(m_moments[k - 1]), here, value(m_moments[k + 1])));
        }
        return highest;
    }
    template <class Value>
    double least(Value value) const
    {
        return -most([&](const SimMoment& m) { return -value(m); });
    }
    template <class Value>
    SimFigures figures(Value value) const
    {
        SimFigures out{};
        out.v_mean_v = mean(value);
        out.v_max_v = most(value);
        out.v_min_v = least(value);
        out.ripple_pp_v = out.v_max_v - out.v_min_v;
        out.ripple_rms_v = rms([&](const SimMoment& m) { return value(m) - out.v_mean_v; });
        return out;
    }
    /// Share of the time with the value above a level, crossings taken on straight lines.
    template <class Value>
    double shareAbove(double level, Value value) const
    {
        double sum = 0;
        for (std::size_t k = 1; k < m_moments.size(); ++k) {
            const double a = value(m_moments[k - 1]) - level;
            const double b = value(m_moments[k]) - level;
            const double h = m_moments[k].t_s - m_moments[k - 1].t_s;
            if (a > 0 && b > 0)
                sum += h;
            else if (a > 0 || b > 0)
                sum += h * std::max(a, b) / (std::abs(a) + std::abs(b));
        }
        return sum / (m_moments.back().t_s - m_moments.front().t_s);
    }

private:
    const std::vector<SimMoment>& m_moments;
};

/// The largest of a current that is seen moment by moment, and when: on the parabola through three moments
/// where the highest of them is the middle of a stretch; otherwise the highest moment, which may lie a step
/// beside the crest in time.
class CurrentPeak
{
public:
    void see(const SimMoment& moment, double i_a);
    double most() const { return std::max(m_most_a, m_seen[1].i_a); }
    double at() const { return m_seen[1].i_a > m_most_a ? m_seen[1].t_s : m_at_s; }

private:
    struct Moment
    {
        double t_s = 0;
        double i_a = 0;
        bool middle = false;
    };
    std::array<Moment, 2> m_seen{}; ///< the two before
    std::int64_t m_count = 0;
    double m_highest_a = 0; ///< of the moments
    double m_most_a = 0;
    double m_at_s = 0;
};

/// `points` values `step_s` apart, on the lines or parabolas through the moments; volts, amperes, seconds.
SimWaveforms waveformsOf(const std::vector<SimMoment>& moments, std::int64_t points, double step_s);
/// One for each part of the chain, at the times of the waveforms.
std::vector<SimTrace> tracesOf(const RectifierChain& chain, const std::vector<SimMoment>& moments,
                               std::int64_t points, double step_s);

/// One cycle of the periodic state that is tended to from `start`; `at` becomes its beginning.
std::vector<SimMoment> periodicCycle(ChainIntegrator& run, const SimState& start, SimState& at);
/// One lap from a state that repeats itself: everything a cycle shows behind the rectifier.
std::vector<SimMoment> lapFrom(ChainIntegrator& run, SimState x);

} // namespace offshoot
