#include "core/calculate/rectifier.h"

#include "core/calculate/chain_integrator.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace offshoot {

namespace {

constexpr double charged = 0.95;
/// A diode conducts while it carries more than this share of its peak.
constexpr double conducting = 1e-3;

DocumentError noSolution(const std::string& path, const std::string& message)
{
    return DocumentError(ErrorCode::NoSolution, path, message);
}

/// Names of the capacitors in the order of a moment's nodes.
std::vector<std::string> nodeNames(const RectifierChain& chain)
{
    std::vector<std::string> names;
    if (chain.rectifier.kind == SimRectifier::Doubler)
        names = {"upper", "lower"};
    for (std::size_t i = 0; i < chain.filter.size(); ++i)
        if (chain.filter[i].kind == SmoothingKind::C)
            names.push_back(std::to_string(i));
    return names;
}

const SmoothingSection& capacitorOf(const RectifierChain& chain, const std::string& node)
{
    if (node == "upper")
        return *chain.rectifier.upper;
    if (node == "lower")
        return *chain.rectifier.lower;
    return chain.filter[std::stoul(node)];
}

std::vector<std::int64_t> seriesSections(const RectifierChain& chain)
{
    std::vector<std::int64_t> sections;
    for (std::size_t i = 0; i < chain.filter.size(); ++i)
        if (chain.filter[i].kind != SmoothingKind::C)
            sections.push_back(static_cast<std::int64_t>(i));
    return sections;
}

/// How far the parabola through three even moments rises above the middle one; 0 where its crest is not
/// between them.
double crestAbove(double a, double middle, double b)
{
    const double slope = (b - a) / 2;
    const double bend = a - 2 * middle + b;
    return bend < 0 && std::abs(slope) < -bend ? -slope * slope / (2 * bend) : 0;
}

/// A function of time given at the integrator's moments: mean, rms and extremes; by Simpson's rule and on
/// parabolas where a stretch has its middle.
class Trace
{
public:
    explicit Trace(const std::vector<SimMoment>& moments)
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
    SimFigures figures(Value value) const
    {
        SimFigures out{};
        out.v_mean_v = mean(value);
        out.v_max_v = most(value);
        out.v_min_v = -most([&](const SimMoment& m) { return -value(m); });
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
class Peak
{
public:
    void see(const SimMoment& moment, double i_a)
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

class SteadyReport
{
public:
    SteadyReport(const RectifierChain& chain, const std::vector<SimMoment>& cycle)
        : m_chain(chain)
        , m_trace(cycle)
    {}

    SteadyResult run()
    {
        m_out.no_load_v = m_chain.noLoadVolts();
        setLoad();
        setNodes();
        setDiodes();
        setSeries();
        setSource();
        setPlaces();
        return std::move(m_out);
    }

private:
    void setLoad()
    {
        m_out.load.v = m_trace.figures([](const SimMoment& m) { return m.load_v; });
        m_out.load.i_mean_a = m_trace.mean([](const SimMoment& m) { return m.load_a; });
        m_out.load.power_w = m_trace.mean([](const SimMoment& m) { return m.load_v * m.load_a; });
        m_out.load.collapsed =
            !m_chain.load.resistance_ohm && !atLeast(m_out.load.v.v_min_v, m_chain.load.v_min_v);
    }

    void setNodes()
    {
        const auto names = nodeNames(m_chain);
        for (std::size_t k = 0; k < names.size(); ++k)
            m_out.nodes.push_back({names[k], m_trace.figures([k](const SimMoment& m) { return m.node_v[k]; }),
                                   m_trace.rms([k](const SimMoment& m) { return m.node_a[k]; })});
    }

    std::vector<std::string> diodeNames() const
    {
        switch (m_chain.rectifier.kind) {
        case SimRectifier::Half:
            return {"d1"};
        case SimRectifier::FullWaveCt:
            return {"d1", "d2"};
        case SimRectifier::Bridge:
            return {"d1_d4", "d2_d3"};
        case SimRectifier::Doubler:
            return {"upper", "lower"};
        }
        return {};
    }

    void setDiodes()
    {
        const auto names = diodeNames();
        const double each = m_chain.rectifier.kind == SimRectifier::Bridge ? 2 : 1;
        for (std::size_t k = 0; k < names.size(); ++k) {
            const auto amps = [k](const SimMoment& m) { return m.diode_a[k]; };
            SimDiodeFigures out{
                names[k], std::max(0.0, m_trace.most(amps)), m_trace.rms(amps), m_trace.mean(amps), 0, 0};
            if (out.i_peak_a > 0)
                out.conduction_rad =
                    2 * std::numbers::pi * m_trace.shareAbove(conducting * out.i_peak_a, amps);
            out.v_reverse_peak_v =
                std::max(0.0, m_trace.most([k](const SimMoment& m) { return -m.diode_v[k]; }));
            m_out.diodes.push_back(out);
            m_out.diode_loss_w +=
                each * m_trace.mean([k](const SimMoment& m) { return m.diode_a[k] * m.diode_v[k]; });
        }
    }

    void setSeries()
    {
        const auto sections = seriesSections(m_chain);
        for (std::size_t k = 0; k < sections.size(); ++k) {
            const auto amps = [k](const SimMoment& m) { return m.series_a[k]; };
            const double rms = m_trace.rms(amps);
            const double r_ohm = m_chain.filter[static_cast<std::size_t>(sections[k])].r_ohm;
            m_out.series.push_back({sections[k], m_trace.mean(amps), rms, rms * rms * r_ohm});
        }
    }

    void setSource()
    {
        SimSourceFigures& s = m_out.source;
        const double halves = m_chain.rectifier.kind == SimRectifier::FullWaveCt ? 2 : 1;
        s.i_rms_a = m_trace.rms([](const SimMoment& m) { return m.half_a[0]; });
        s.i_peak_a = m_trace.most([](const SimMoment& m) { return std::abs(m.half_a[0]); });
        s.va = halves * m_chain.source.v_rms_v * s.i_rms_a;
        s.power_w = m_trace.mean([](const SimMoment& m) { return m.e_v * m.source_a; });
        if (s.va > 0)
            s.power_factor = s.power_w / s.va;
        s.loss_w = halves * m_chain.source.r_ohm * s.i_rms_a * s.i_rms_a;
    }

    void setPlaces()
    {
        for (std::size_t k = 0; k <= m_out.series.size(); ++k)
            m_out.places.push_back(m_trace.figures([k](const SimMoment& m) { return m.place_v[k]; }));
    }

    const RectifierChain& m_chain;
    Trace m_trace;
    SteadyResult m_out{};
};

/// What the rectifier charges first; nothing behind a choke.
std::optional<double> firstCapacitance(const RectifierChain& chain)
{
    if (chain.rectifier.kind == SimRectifier::Doubler)
        return std::max(chain.rectifier.upper->c_f, chain.rectifier.lower->c_f);
    const auto first = std::ranges::find_if(
        chain.filter, [](const SmoothingSection& s) { return s.kind != SmoothingKind::R; });
    return first != chain.filter.end() && first->kind == SmoothingKind::C ? std::optional(first->c_f)
                                                                          : std::nullopt;
}

/// Rows for every limit given, and what nobody has read.
void judge(const RectifierInput& in, SteadyResult& out)
{
    const RectifierChain& chain = in.chain;
    const RectifierRatings& r = in.ratings;
    const auto row = [&out](const std::string& part, const std::string& quantity, double planned,
                            double limit, double use, UseBounds bounds = default_bounds) {
        out.verdicts.push_back({part, quantity, planned, limit, use, judgeUse(use, bounds)});
    };
    const auto rated = [&](const std::string& quantity, double planned, const std::optional<double>& limit,
                           bool must_read) {
        if (limit)
            row("rectifier", quantity, planned, *limit, planned / *limit);
        else if (must_read)
            out.unread.push_back({"rectifier", quantity});
    };
    double reverse_v = 0;
    double peak_a = 0;
    double mean_a = 0;
    for (const SimDiodeFigures& diode : out.diodes) {
        reverse_v = std::max(reverse_v, diode.v_reverse_peak_v);
        peak_a = std::max(peak_a, diode.i_peak_a);
        mean_a = std::max(mean_a, diode.i_mean_a);
    }
    const double crest_v = std::numbers::sqrt2 * chain.source.v_rms_v * (1 + chain.source.spread);
    if (chain.hasCapacitor())
        reverse_v = std::max(reverse_v, crest_v * (chain.rectifier.kind == SimRectifier::Bridge ? 1 : 2));
    rated("v_piv_v", reverse_v, r.v_piv_v, true);
    rated("i_peak_a", peak_a, r.i_peak_a, true);
    rated("i_mean_a", mean_a, r.i_mean_a, true);
    if (out.i_hot_a)
        rated("i_hot_a", *out.i_hot_a, r.i_hot_a, false);
    if (const auto first_f = firstCapacitance(chain))
        rated("c_first_max_f", *first_f, r.c_first_max_f, false);
    if (r.r_plate_min_ohm) {
        const double has_ohm = chain.source.r_ohm + chain.rectifier.diode.seriesOhm();
        row("rectifier", "r_plate_min_ohm", has_ohm, *r.r_plate_min_ohm, *r.r_plate_min_ohm / has_ohm);
    }
    for (const SimNode& node : out.nodes) {
        const SmoothingSection& capacitor = capacitorOf(chain, node.section);
        const bool half = node.section == "upper" || node.section == "lower";
        const double highest_v = std::max(half ? crest_v : out.no_load_v, node.v.v_max_v);
        if (capacitor.v_rated_v)
            row(node.section, "v_rated_v", highest_v, *capacitor.v_rated_v, highest_v / *capacitor.v_rated_v);
        else
            out.unread.push_back({node.section, "v_rated_v"});
        if (capacitor.i_ripple_a)
            row(node.section, "i_ripple_a", node.capacitor_i_rms_a, *capacitor.i_ripple_a,
                node.capacitor_i_rms_a / *capacitor.i_ripple_a);
    }
    for (const SimSeries& series : out.series) {
        const SmoothingSection& part = chain.filter[static_cast<std::size_t>(series.section)];
        const std::string name = std::to_string(series.section);
        if (part.i_rated_a)
            row(name, "i_rated_a", series.i_mean_a, *part.i_rated_a, series.i_mean_a / *part.i_rated_a);
        if (part.power_rated_w)
            row(name, "power_rated_w", series.power_w, *part.power_rated_w,
                series.power_w / *part.power_rated_w, resistor_power_bounds);
    }
    out.verdict = out.unread.empty() ? Verdict::Fits : Verdict::Unknown;
    for (const SimVerdict& verdict : out.verdicts)
        out.verdict = worse(out.verdict, verdict.verdict);
}

/// One cycle of the periodic state.
std::vector<SimMoment> periodicCycle(ChainIntegrator& run, const SimState& start, SimState& at)
{
    at = run.periodic(start);
    std::vector<SimMoment> cycle;
    constexpr std::size_t many = 256;
    cycle.reserve(many);
    SimState x = at;
    run.cycle(x, [&cycle](const SimMoment& m) { cycle.push_back(m); });
    return cycle;
}

/// A hot rectifier switched on at the crest with every capacitor empty: the largest diode current of two
/// cycles.
double hotPeak(const RectifierChain& chain, const SimProgress& progress)
{
    RectifierChain empty = chain;
    for (SmoothingSection& section : empty.filter)
        section.v0_v = 0;
    for (auto* capacitor : {&empty.rectifier.upper, &empty.rectifier.lower})
        if (*capacitor)
            (*capacitor)->v0_v = 0;
    const auto run = integratorOf(empty, progress);
    run->setPhase(std::numbers::pi / 2);
    std::array<Peak, 2> peaks;
    SimState x = run->initial();
    run->integrate(x, 0, 2 * run->period(), [&peaks](const SimMoment& m) {
        for (std::size_t k = 0; k < 2; ++k)
            peaks[k].see(m, m.diode_a[k]);
    });
    return std::max(peaks[0].most(), peaks[1].most());
}

SteadyResult simulateSteady(const RectifierInput& in, const SimProgress& progress)
{
    const auto run = integratorOf(in.chain, progress);
    SimState at{};
    const std::vector<SimMoment> cycle = periodicCycle(*run, run->initial(), at);
    SteadyResult out = SteadyReport(in.chain, cycle).run();
    if (in.ratings.i_hot_a)
        out.i_hot_a = hotPeak(in.chain, progress);
    judge(in, out);
    if (in.points) {
        const double step_s = run->period() / static_cast<double>(*in.points);
        out.waveforms = waveformsOf(cycle, *in.points, step_s);
        out.traces = tracesOf(in.chain, cycle, *in.points, step_s);
    }
    return out;
}

/// Gathers what a start shows while it runs.
class StartWatch
{
public:
    StartWatch(const RectifierChain& chain, bool keep)
        : m_chain(chain)
        , m_keep(keep)
        , m_sections(seriesSections(chain))
    {
        for (const std::int64_t section : m_sections)
            m_out.start.series.push_back({section, 0});
        for (const std::string& name : nodeNames(chain))
            m_out.nodes.push_back({name, 0});
        constexpr std::size_t many = 8192;
        m_load.reserve(many);
    }

    void see(const SimMoment& m)
    {
        StartFigures& s = m_out.start;
        m_source_a.see(m, std::max(std::abs(m.half_a[0]), std::abs(m.half_a[1])));
        for (std::size_t k = 0; k < 2; ++k)
            m_diode_a[k].see(m, m.diode_a[k]);
        s.v_load_max_v = std::max(s.v_load_max_v, m.load_v);
        for (std::size_t k = 0; k < m_out.nodes.size(); ++k)
            m_out.nodes[k].v_max_v = std::max(m_out.nodes[k].v_max_v, m.node_v[k]);
        if (!m_load.empty())
            addStep(m);
        s.v_end_v = m.load_v;
        m_load.emplace_back(m.t_s, m.load_v);
        if (m_keep)
            m_moments.push_back(m);
        if (m_load.size() == 1)
            m_last = {m.t_s, m.half_a, m.series_a};
    }

    StartResult finish(double v_final_v, const std::optional<std::int64_t>& points, double t_end_s)
    {
        StartFigures& s = m_out.start;
        s.i_peak_a = m_source_a.most();
        s.t_peak_s = m_source_a.at();
        s.diode_i_peak_a = std::max(m_diode_a[0].most(), m_diode_a[1].most());
        s.source_j = s.i2t_a2s * m_chain.source.r_ohm;
        s.v_final_v = v_final_v;
        for (std::size_t k = 0; k < m_load.size() && !s.t95_s; ++k) {
            const double wanted = charged * v_final_v;
            if (m_load[k].second < wanted)
                continue;
            s.t95_s = m_load[k].first;
            if (k > 0) {
                const auto& [t0, v0] = m_load[k - 1];
                s.t95_s = t0 + (m_load[k].first - t0) * (wanted - v0) / (m_load[k].second - v0);
            }
        }
        m_out.no_load_v = m_chain.noLoadVolts();
        if (points)
            m_out.waveforms = waveformsOf(m_moments, *points, t_end_s / static_cast<double>(*points - 1));
        return std::move(m_out);
    }

private:
    /// What the squares of the currents add up to from the moment before; over a whole stretch by Simpson's
    /// rule, and otherwise as if they were straight.
    void addStep(const SimMoment& m)
    {
        StartFigures& s = m_out.start;
        const Amps now{m.t_s, m.half_a, m.series_a};
        if (m.middle) {
            m_middle = now;
            return;
        }
        const double h = now.t_s - m_last.t_s;
        const auto square = [&](const auto& amps) {
            const double from = amps(m_last);
            const double to = amps(now);
            const double middle = m_middle ? amps(*m_middle) : 0;
            return m_middle ? h / 6 * (from * from + 4 * middle * middle + to * to)
                            : h / 3 * (from * from + from * to + to * to);
        };
        for (std::size_t k = 0; k < 2; ++k)
            s.i2t_a2s += square([k](const Amps& a) { return a.half_a[k]; });
        for (std::size_t k = 0; k < m_sections.size(); ++k)
            s.series[k].energy_j += m_chain.filter[static_cast<std::size_t>(m_sections[k])].r_ohm *
                                    square([k](const Amps& a) { return a.series_a[k]; });
        m_middle.reset();
        m_last = now;
    }

    const RectifierChain& m_chain;
    bool m_keep;
    Peak m_source_a;
    std::array<Peak, 2> m_diode_a;
    std::vector<std::int64_t> m_sections;
    struct Amps
    {
        double t_s = 0;
        std::array<double, 2> half_a{};
        SimList series_a;
    };
    Amps m_last;
    std::optional<Amps> m_middle;
    std::vector<std::pair<double, double>> m_load;
    std::vector<SimMoment> m_moments;
    StartResult m_out{};
};

StartResult simulateStart(const RectifierInput& in, const SimProgress& progress)
{
    const auto run = integratorOf(in.chain, progress);
    run->setShare(0, 0.8);
    run->setPhase(in.chain.source.phase_rad);
    StartWatch watch(in.chain, in.points.has_value());
    SimState x = run->initial();
    run->integrate(x, 0, *in.t_end_s, [&watch](const SimMoment& m) { watch.see(m); });
    run->setShare(0.8, 1);
    SimState at{};
    const std::vector<SimMoment> cycle = periodicCycle(*run, run->initial(), at);
    const double v_final_v = Trace(cycle).mean([](const SimMoment& m) { return m.load_v; });
    return watch.finish(v_final_v, in.points, *in.t_end_s);
}

/// The steady mean at a node against the dropping resistor: it falls as R grows.
class Dropper
{
public:
    Dropper(const DropperInput& in, const SimProgress& progress)
        : m_in(in)
        , m_progress(progress)
        , m_chain(in.chain)
    {
        if (in.node)
            m_node = nodeOf(*in.node);
        m_sections = seriesSections(in.chain);
        m_series = static_cast<std::size_t>(std::ranges::find(m_sections, in.place) - m_sections.begin());
    }

    DropperResult run()
    {
        constexpr double least_ohm = 1e-3;
        constexpr double most_ohm = 1e9;
        double low = std::log(least_ohm);
        double high = std::log(most_ohm);
        double at_low = meanAt(least_ohm) - m_in.v_target_v;
        if (std::abs(at_low) <= tolerance())
            return result(least_ohm);
        double at_high = meanAt(most_ohm) - m_in.v_target_v;
        if (at_low < 0 || at_high > 0)
            throw noSolution("/v_target_v", at_low < 0 ? "more than there is without a resistor"
                                                       : "less than the largest resistor leaves");
        // Regula falsi after Illinois, on the logarithm; a halving now and then keeps it honest.
        constexpr int most_rounds = 80;
        for (int round = 0; round < most_rounds; ++round) {
            const bool halve = round % 3 == 0;
            const double u = halve ? (low + high) / 2
                                   : std::clamp(low + (high - low) * at_low / (at_low - at_high), low, high);
            const auto mean = tryMean(std::exp(u));
            if (!mean)
                break;
            const double value = *mean - m_in.v_target_v;
            const bool narrow = high - low < 1e-12; // nearer than a simulated mean can tell apart
            if (std::abs(value) <= (narrow ? grain() : tolerance()))
                return result(std::exp(u));
            if (narrow)
                break;
            if (value > 0) {
                low = u;
                at_low = value;
                at_high *= halve ? 1 : 0.5;
            } else {
                high = u;
                at_high = value;
                at_low *= halve ? 1 : 0.5;
            }
        }
        throw noSolution("/v_target_v", "the voltage jumps over the target: the load collapses there");
    }

private:
    double tolerance() const { return 2e-6 * m_in.v_target_v; }
    double grain() const { return 1e-4 * m_in.v_target_v; }

    std::size_t nodeOf(std::int64_t section) const
    {
        const auto names = nodeNames(m_chain);
        return static_cast<std::size_t>(std::ranges::find(names, std::to_string(section)) - names.begin());
    }

    /// Nothing where a power load can neither stay up nor fall.
    std::optional<double> tryMean(double r_ohm)
    {
        try {
            return meanAt(r_ohm);
        } catch (const DocumentError&) {
            return std::nullopt;
        }
    }

    double meanAt(double r_ohm)
    {
        m_chain.filter[static_cast<std::size_t>(m_in.place)].r_ohm = r_ohm;
        const auto run = integratorOf(m_chain, m_progress);
        // A power load may tend to another state from elsewhere: then every run starts at the beginning.
        const bool warm = m_warm && !run->hasPowerLoad();
        m_cycle = periodicCycle(*run, warm ? *m_warm : run->initial(), m_at);
        m_warm = m_at;
        return Trace(m_cycle).mean(
            [this](const SimMoment& m) { return m_node ? m.node_v[*m_node] : m.load_v; });
    }

    DropperResult result(double r_ohm)
    {
        DropperResult out{};
        const Trace trace(m_cycle);
        out.r_ohm = r_ohm;
        out.v_v = trace.mean([this](const SimMoment& m) { return m_node ? m.node_v[*m_node] : m.load_v; });
        out.i_rms_a = trace.rms([this](const SimMoment& m) { return m.series_a[m_series]; });
        out.power_w = out.i_rms_a * out.i_rms_a * r_ohm;
        out.power_verdict = judgeUse(useOf(out.power_w, m_in.power_rated_w), resistor_power_bounds);
        const SimFigures load = trace.figures([](const SimMoment& m) { return m.load_v; });
        out.load_v = load.v_mean_v;
        out.load_ripple_pp_v = load.ripple_pp_v;
        return out;
    }

    const DropperInput& m_in;
    const SimProgress& m_progress;
    RectifierChain m_chain;
    std::optional<std::size_t> m_node;
    std::vector<std::int64_t> m_sections;
    std::size_t m_series;
    std::optional<SimState> m_warm;
    SimState m_at{};
    std::vector<SimMoment> m_cycle;
};

} // namespace

RectifierResult rectifierSimulate(const RectifierInput& in, const SimProgress& progress)
{
    RectifierResult out{};
    if (in.mode == SimMode::Steady)
        out.steady = simulateSteady(in, progress);
    else
        out.start = simulateStart(in, progress);
    return out;
}

RectifierResult rectifierSimulate(const RectifierInput& in) { return rectifierSimulate(in, {}); }

DropperResult rectifierDropper(const DropperInput& in, const SimProgress& progress)
{
    return Dropper(in, progress).run();
}

DropperResult rectifierDropper(const DropperInput& in) { return rectifierDropper(in, {}); }

} // namespace offshoot
