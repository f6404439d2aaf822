#include "core/calculate/rectifier.h"

#include "core/calculate/rectifier_trace.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace offshoot {

namespace {

constexpr double charged = 0.95;
/// A diode conducts while it carries more than this share of its peak.
constexpr double conducting = 1e-3;

const SmoothingSection& capacitorOf(const RectifierChain& chain, const std::string& node)
{
    if (node == "upper")
        return *chain.rectifier.upper;
    if (node == "lower")
        return *chain.rectifier.lower;
    return chain.filter[std::stoul(node)];
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
        const auto names = capacitorNames(m_chain);
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
    CycleTrace m_trace;
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
    std::array<CurrentPeak, 2> peaks;
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
        for (const std::string& name : capacitorNames(chain))
            m_out.nodes.push_back({name, 0});
    }

    void see(const SimMoment& m)
    {
        StartFigures& s = m_out.start;
        m_source_a.see(m, std::max(std::abs(m.half_a[0]), std::abs(m.half_a[1])));
        for (std::size_t k = 0; k < 2; ++k)
            m_diode_a[k].see(m, m.diode_a[k]);
        for (std::size_t k = 0; k < m_out.nodes.size(); ++k)
            m_out.nodes[k].v_max_v = std::max(m_out.nodes[k].v_max_v, m.node_v[k]);
        const bool first = m_climbs.empty();
        if (first || m.load_v > s.v_load_max_v)
            m_climbs.push_back({first ? m.t_s : m_seen_s, first ? m.load_v : s.v_end_v, m.t_s, m.load_v});
        s.v_load_max_v = std::max(s.v_load_max_v, m.load_v);
        s.v_end_v = m.load_v;
        m_seen_s = m.t_s;
        if (m_keep)
            m_moments.push_back(m);
        if (first) {
            take(m, m_last);
            m_last_s = m.t_s;
        } else {
            addStep(m);
        }
    }

    StartResult finish(double v_final_v, const std::optional<std::int64_t>& points, double t_end_s)
    {
        StartFigures& s = m_out.start;
        s.i_peak_a = m_source_a.most();
        s.t_peak_s = m_source_a.at();
        s.diode_i_peak_a = std::max(m_diode_a[0].most(), m_diode_a[1].most());
        s.source_j = s.i2t_a2s * m_chain.source.r_ohm;
        s.v_final_v = v_final_v;
        const double wanted = charged * v_final_v;
        const auto reached = std::ranges::find_if(m_climbs, [&](const Climb& c) { return c.to_v >= wanted; });
        if (reached != m_climbs.end())
            s.t95_s = reached->to_v > reached->from_v
                          ? reached->from_s + (reached->to_s - reached->from_s) * (wanted - reached->from_v) /
                                                  (reached->to_v - reached->from_v)
                          : reached->to_s;
        m_out.no_load_v = m_chain.noLoadVolts();
        if (points)
            m_out.waveforms = waveformsOf(m_moments, *points, t_end_s / static_cast<double>(*points - 1));
        return std::move(m_out);
    }

private:
    /// Of the source's halves, then of the parts in series.
    using Currents = std::array<double, 2 + most_states>;

    void take(const SimMoment& m, Currents& currents) const
    {
        currents[0] = m.half_a[0];
        currents[1] = m.half_a[1];
        for (std::size_t k = 0; k < m_sections.size(); ++k)
            currents[2 + k] = m.series_a[k];
    }

    /// What the squares of the currents add up to from the moment before; over a whole stretch by Simpson's
    /// rule, and otherwise as if they were straight.
    void addStep(const SimMoment& m)
    {
        if (m.middle) {
            take(m, m_middle);
            m_has_middle = true;
            return;
        }
        Currents now{};
        take(m, now);
        const double h = m.t_s - m_last_s;
        const auto square = [&](std::size_t k) {
            const double from = m_last[k];
            const double to = now[k];
            const double middle = m_has_middle ? m_middle[k] : 0;
            return m_has_middle ? h / 6 * (from * from + 4 * middle * middle + to * to)
                                : h / 3 * (from * from + from * to + to * to);
        };
        StartFigures& s = m_out.start;
        s.i2t_a2s += square(0) + square(1);
        for (std::size_t k = 0; k < m_sections.size(); ++k)
            s.series[k].energy_j +=
                m_chain.filter[static_cast<std::size_t>(m_sections[k])].r_ohm * square(2 + k);
        m_has_middle = false;
        m_last = now;
        m_last_s = m.t_s;
    }

    /// The load's volts rose above all before: from what was seen last, to here.
    struct Climb
    {
        double from_s;
        double from_v;
        double to_s;
        double to_v;
    };

    const RectifierChain& m_chain;
    bool m_keep;
    CurrentPeak m_source_a;
    std::array<CurrentPeak, 2> m_diode_a;
    std::vector<std::int64_t> m_sections;
    Currents m_last{};
    Currents m_middle{};
    double m_last_s = 0;
    double m_seen_s = 0;
    bool m_has_middle = false;
    std::vector<Climb> m_climbs; ///< a level is met first in one of them
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
    const double before_zero = in.chain.source.phase_rad / (2 * std::numbers::pi);
    const double zero_s =
        (std::ceil(*in.t_end_s / run->period() + before_zero) - before_zero) * run->period();
    run->integrate(x, *in.t_end_s, zero_s, {});
    const auto steady = integratorOf(in.chain, progress); // the surge's currents are no measure for it
    steady->setShare(0.8, 1);
    // What the run tends to is near after a while; a load of constant power may fall over on the way.
    std::optional<SimState> at;
    if (!steady->hasPowerLoad())
        at = steady->periodicNear(x);
    const std::vector<SimMoment> lap = lapFrom(*steady, at ? *at : steady->periodic(steady->initial()));
    const double v_final_v = CycleTrace(lap).mean([](const SimMoment& m) { return m.load_v; });
    return watch.finish(v_final_v, in.points, *in.t_end_s);
}

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

} // namespace offshoot
