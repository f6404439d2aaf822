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
    CurrentPeak m_source_a;
    std::array<CurrentPeak, 2> m_diode_a;
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
    const auto steady = integratorOf(in.chain, progress); // the surge's currents are no measure for it
    steady->setShare(0.8, 1);
    SimState at{};
    const std::vector<SimMoment> cycle = periodicCycle(*steady, steady->initial(), at);
    const double v_final_v = CycleTrace(cycle).mean([](const SimMoment& m) { return m.load_v; });
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
