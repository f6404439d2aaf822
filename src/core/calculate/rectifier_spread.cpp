#include "core/calculate/rectifier_spread.h"

#include "core/calculate/chain_integrator.h"

#include <algorithm>
#include <random>

namespace offshoot {

namespace {

constexpr int most_states_seen = 216;
constexpr int most_corners = 128;

/// What varies besides the mains: where it stands in a corner, and by how much.
struct Varied
{
    double* at;
    double tolerance;
};

std::vector<Varied> variedOf(const RectifierChain& chain, ChainCorner& corner)
{
    std::vector<Varied> all;
    const auto add = [&all](double& at, const SmoothingSection& section) {
        if (section.kind != SmoothingKind::R)
            all.push_back({&at, section.tolerance.value_or(usual_tolerance)});
    };
    corner.sections.assign(chain.filter.size(), 1);
    if (chain.rectifier.kind == SimRectifier::Doubler) {
        add(corner.upper, *chain.rectifier.upper);
        add(corner.lower, *chain.rectifier.lower);
    }
    for (std::size_t i = 0; i < chain.filter.size(); ++i)
        add(corner.sections[i], chain.filter[i]);
    return all;
}

void scale(SmoothingSection& section, double share)
{
    section.c_f *= share;
    section.l_h *= share;
}

class SpreadRun
{
public:
    SpreadRun(const RectifierChain& chain, const SimProgress& progress)
        : m_chain(chain)
        , m_progress(progress)
        , m_varied(variedOf(chain, m_corner))
    {}

    ChainSpread run()
    {
        const double spread = m_chain.source.spread;
        const std::size_t parts = m_varied.size();
        const bool each = parts < 7; // two ends of the mains with 2^6
        const int corners = each ? 1 << (parts + 1) : most_corners;
        std::mt19937 random(1); // the same chain, the same answer
        for (int k = 0; k < most_states_seen; ++k) {
            if (m_progress && !m_progress(static_cast<double>(k) / most_states_seen))
                throw SimCancelled{};
            const auto bits = each ? static_cast<std::uint32_t>(k) : random();
            const auto share = [&](std::size_t at) {
                if (k < corners)
                    return (bits >> at & 1U) != 0 ? 1.0 : -1.0;
                return std::uniform_real_distribution(-1.0, 1.0)(random);
            };
            m_corner.mains = 1 + spread * share(parts);
            for (std::size_t i = 0; i < parts; ++i)
                *m_varied[i].at = 1 + m_varied[i].tolerance * share(i);
            see();
        }
        return std::move(m_out);
    }

private:
    void see()
    {
        const RectifierChain chain = atCorner(m_chain, m_corner);
        const auto integrator = integratorOf(chain, {});
        std::vector<ChainSpread::Place> places;
        try {
            SimState x =
                integrator->periodic(m_warm && !integrator->hasPowerLoad() ? *m_warm : integrator->initial());
            m_warm = x;
            integrator->cycle(x, [&places](const SimMoment& m) {
                if (places.empty())
                    for (const double v : m.place_v)
                        places.push_back({v, v});
                for (std::size_t i = 0; i < places.size(); ++i)
                    places[i] = {std::min(places[i].trough_v, m.place_v[i]),
                                 std::max(places[i].crest_v, m.place_v[i])};
            });
        } catch (const DocumentError&) {
            ++m_out.without;
            return;
        }
        take(places);
    }

    void take(const std::vector<ChainSpread::Place>& places)
    {
        const ChainSpread::Place& load = places.back();
        const double ripple_v = load.crest_v - load.trough_v;
        if (m_out.states++ == 0) {
            m_out.places = places;
            m_out.low_v = load.trough_v;
            m_out.high_v = load.crest_v;
            m_out.ripple_v = ripple_v;
            m_out.lowest = m_out.highest = m_out.roughest = m_corner;
            return;
        }
        for (std::size_t i = 0; i < places.size(); ++i) {
            ChainSpread::Place& outermost = m_out.places[i];
            outermost = {std::min(outermost.trough_v, places[i].trough_v),
                         std::max(outermost.crest_v, places[i].crest_v)};
        }
        if (load.trough_v < m_out.low_v) {
            m_out.low_v = load.trough_v;
            m_out.lowest = m_corner;
        }
        if (load.crest_v > m_out.high_v) {
            m_out.high_v = load.crest_v;
            m_out.highest = m_corner;
        }
        if (ripple_v > m_out.ripple_v) {
            m_out.ripple_v = ripple_v;
            m_out.roughest = m_corner;
        }
    }

    const RectifierChain& m_chain;
    const SimProgress& m_progress;
    ChainCorner m_corner;
    std::vector<Varied> m_varied; ///< into the corner
    std::optional<SimState> m_warm;
    ChainSpread m_out;
};

} // namespace

RectifierChain atCorner(const RectifierChain& chain, const ChainCorner& corner)
{
    RectifierChain made = chain;
    made.source.v_rms_v *= corner.mains;
    for (std::size_t i = 0; i < made.filter.size(); ++i)
        scale(made.filter[i], corner.sections[i]);
    if (made.rectifier.upper)
        scale(*made.rectifier.upper, corner.upper);
    if (made.rectifier.lower)
        scale(*made.rectifier.lower, corner.lower);
    return made;
}

ChainSpread chainSpread(const RectifierChain& chain, const SimProgress& progress)
{
    return SpreadRun(chain, progress).run();
}

} // namespace offshoot
