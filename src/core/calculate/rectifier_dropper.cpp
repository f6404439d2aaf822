// The dropping resistor of a rectifier chain: each guess simulated to its steady state.
#include "core/calculate/rectifier_trace.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

DocumentError noSolution(const std::string& path, const std::string& message)
{
    return DocumentError(ErrorCode::NoSolution, path, message);
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
        const auto names = capacitorNames(m_chain);
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
        return CycleTrace(m_cycle).mean(
            [this](const SimMoment& m) { return m_node ? m.node_v[*m_node] : m.load_v; });
    }

    DropperResult result(double r_ohm)
    {
        DropperResult out{};
        const CycleTrace trace(m_cycle);
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

DropperResult rectifierDropper(const DropperInput& in, const SimProgress& progress)
{
    return Dropper(in, progress).run();
}

DropperResult rectifierDropper(const DropperInput& in) { return rectifierDropper(in, {}); }

} // namespace offshoot
