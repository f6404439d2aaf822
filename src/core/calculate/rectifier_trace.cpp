#include "core/calculate/rectifier_trace.h"

#include <algorithm>

namespace offshoot {

namespace {

/// Calls `at` for even times, each with what reads a value of a moment there: on parabolas or straight lines
/// between the moments.
template <class At>
void resample(const std::vector<SimMoment>& moments, std::int64_t points, double step_s, At at)
{
    std::size_t k = 0;
    for (std::int64_t i = 0; i < points; ++i) {
        const double t = static_cast<double>(i) * step_s;
        while (k + 2 < moments.size() && moments[k + 1].t_s < t)
            ++k;
        const SimMoment& a = moments[k];
        const SimMoment& b = moments[std::min(k + 1, moments.size() - 1)];
        const double share = b.t_s > a.t_s ? std::clamp((t - a.t_s) / (b.t_s - a.t_s), 0.0, 1.0) : 0;
        // Beside a middle a third moment bends the line.
        const SimMoment* beside = a.middle ? &moments[k - 1] : b.middle ? &moments[k + 2] : nullptr;
        at(t, [&](const auto& value) {
            const double from = value(a);
            const double to = value(b);
            const double bend = beside == nullptr ? 0
                                : a.middle        ? value(*beside) - 2 * from + to
                                                  : from - 2 * to + value(*beside);
            return from + share * (to - from) - share * (1 - share) / 2 * bend;
        });
    }
}

} // namespace

std::vector<std::string> capacitorNames(const RectifierChain& chain)
{
    std::vector<std::string> names;
    if (chain.rectifier.kind == SimRectifier::Doubler)
        names = {"upper", "lower"};
    for (std::size_t i = 0; i < chain.filter.size(); ++i)
        if (chain.filter[i].kind == SmoothingKind::C)
            names.push_back(std::to_string(i));
    return names;
}

std::vector<std::int64_t> seriesSections(const RectifierChain& chain)
{
    std::vector<std::int64_t> sections;
    for (std::size_t i = 0; i < chain.filter.size(); ++i)
        if (chain.filter[i].kind != SmoothingKind::C)
            sections.push_back(static_cast<std::int64_t>(i));
    return sections;
}

double crestAbove(double a, double middle, double b)
{
    const double slope = (b - a) / 2;
    const double bend = a - 2 * middle + b;
    return bend < 0 && std::abs(slope) < -bend ? -slope * slope / (2 * bend) : 0;
}

void CurrentPeak::see(const SimMoment& moment, double i_a)
{
    const auto& [t0, i0, straight] = m_seen[0];
    const auto& [t1, i1, middle] = m_seen[1];
    if (m_count > 0 && i1 >= i_a && i1 > m_highest_a && (m_count == 1 || i1 >= i0)) {
        m_highest_a = m_most_a = i1;
        m_at_s = t1;
        const double a = (t1 - t0) * (t1 - t0) * (i1 - i_a);
        const double b = (t1 - moment.t_s) * (t1 - moment.t_s) * (i1 - i0);
        const double c = (t1 - t0) * (i1 - i_a) - (t1 - moment.t_s) * (i1 - i0);
        const double t = c != 0 ? t1 - 0.5 * (a - b) / c : t1;
        if (m_count > 1 && t > t0 && t < moment.t_s)
            m_at_s = t;
        if (middle)
            m_most_a += crestAbove(i0, i1, i_a);
    }
    m_seen = {m_seen[1], {moment.t_s, i_a, moment.middle}};
    ++m_count;
}

SimWaveforms waveformsOf(const std::vector<SimMoment>& moments, std::int64_t points, double step_s)
{
    SimWaveforms out;
    resample(moments, points, step_s, [&out](double t_s, const auto& read) {
        out.t_s.push_back(t_s);
        out.v_load_v.push_back(read([](const SimMoment& m) { return m.load_v; }));
        out.i_source_a.push_back(read([](const SimMoment& m) { return m.source_a; }));
        out.v_source_v.push_back(read([](const SimMoment& m) { return m.e_v; }));
    });
    return out;
}

std::vector<SimTrace> tracesOf(const RectifierChain& chain, const std::vector<SimMoment>& moments,
                               std::int64_t points, double step_s)
{
    using Value = std::function<double(const SimMoment&)>;
    struct Probe
    {
        Value v;
        Value a;
    };
    std::vector<SimTrace> out;
    std::vector<Probe> probes;
    const auto add = [&](const std::string& part, Value v, Value a) {
        out.push_back({part, {}, {}});
        probes.push_back({std::move(v), std::move(a)});
    };
    add(
        "source", [](const SimMoment& m) { return m.e_v; }, [](const SimMoment& m) { return m.source_a; });
    add(
        "rectifier", [](const SimMoment& m) { return m.diode_v[0]; },
        [](const SimMoment& m) { return m.diode_a[0]; });
    std::size_t capacitor = chain.rectifier.kind == SimRectifier::Doubler ? 2 : 0;
    std::size_t link = 0;
    for (std::size_t i = 0; i < chain.filter.size(); ++i) {
        if (chain.filter[i].kind == SmoothingKind::C) {
            add(
                std::to_string(i), [capacitor](const SimMoment& m) { return m.node_v[capacitor]; },
                [capacitor](const SimMoment& m) { return m.node_a[capacitor]; });
            ++capacitor;
        } else {
            add(
                std::to_string(i), [link](const SimMoment& m) { return m.place_v[link + 1]; },
                [link](const SimMoment& m) { return m.series_a[link]; });
            ++link;
        }
    }
    add(
        "load", [](const SimMoment& m) { return m.load_v; }, [](const SimMoment& m) { return m.load_a; });
    resample(moments, points, step_s, [&](double, const auto& read) {
        for (std::size_t k = 0; k < out.size(); ++k) {
            out[k].v_v.push_back(read(probes[k].v));
            out[k].i_a.push_back(read(probes[k].a));
        }
    });
    return out;
}

std::vector<SimMoment> lapFrom(ChainIntegrator& run, SimState x)
{
    std::vector<SimMoment> lap;
    constexpr std::size_t many = 256;
    lap.reserve(many);
    run.lap(x, [&lap](const SimMoment& m) { lap.push_back(m); });
    return lap;
}

std::vector<SimMoment> periodicCycle(ChainIntegrator& run, const SimState& start, SimState& at)
{
    at = run.periodic(start);
    SimState x = at;
    std::vector<SimMoment> cycle;
    run.cycle(x, [&cycle](const SimMoment& m) { cycle.push_back(m); });
    return cycle;
}

} // namespace offshoot
