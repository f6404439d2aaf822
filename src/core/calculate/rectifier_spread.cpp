#include "core/calculate/rectifier_spread.h"

#include "core/calculate/rectifier_trace.h"

#include <algorithm>
#include <atomic>
#include <future>
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

void widen(ChainSpread& all, const ChainSpread& more)
{
    all.without += more.without;
    if (more.states == 0)
        return;
    if (all.states == 0) {
        const int without = all.without;
        all = more;
        all.without = without;
        return;
    }
    all.states += more.states;
    for (std::size_t i = 0; i < all.places.size(); ++i)
        all.places[i] = {std::min(all.places[i].trough_v, more.places[i].trough_v),
                         std::max(all.places[i].crest_v, more.places[i].crest_v)};
    if (more.low_v < all.low_v) {
        all.low_v = more.low_v;
        all.lowest = more.lowest;
    }
    if (more.high_v > all.high_v) {
        all.high_v = more.high_v;
        all.highest = more.highest;
    }
    if (more.ripple_v > all.ripple_v) {
        all.ripple_v = more.ripple_v;
        all.roughest = more.roughest;
    }
}

/// Every corner that is looked at. They follow each other so that two neighbours differ in one thing only
/// where that can be: the state of one is near that of the next.
std::vector<ChainCorner> cornersOf(const RectifierChain& chain)
{
    ChainCorner corner;
    const std::vector<Varied> varied = variedOf(chain, corner);
    const std::size_t parts = varied.size();
    const bool each = parts < 7; // two ends of the mains with 2^6
    const int ends = each ? 1 << (parts + 1) : most_corners;
    std::mt19937 random(1); // the same chain, the same answer
    std::vector<ChainCorner> all;
    for (int k = 0; k < most_states_seen; ++k) {
        const auto number = static_cast<std::uint32_t>(k);
        const std::uint32_t bits = each ? number ^ number >> 1U : static_cast<std::uint32_t>(random());
        const auto share = [&](std::size_t at) {
            if (k < ends)
                return (bits >> at & 1U) != 0 ? 1.0 : -1.0;
            return std::uniform_real_distribution(-1.0, 1.0)(random);
        };
        corner.mains = 1 + chain.source.spread * share(parts);
        for (std::size_t i = 0; i < parts; ++i)
            *varied[i].at = 1 + varied[i].tolerance * share(i);
        all.push_back(corner);
    }
    return all;
}

/// Looks at some of the corners, each from the state of the one before.
class SpreadRun
{
public:
    explicit SpreadRun(const RectifierChain& chain)
        : m_chain(chain)
    {}

    void see(const ChainCorner& corner)
    {
        const RectifierChain chain = atCorner(m_chain, corner);
        const auto integrator = integratorOf(chain, {});
        ChainSpread one;
        one.states = 1;
        try {
            const std::vector<SimMoment> lap = lapFrom(*integrator, start(*integrator, corner));
            const CycleTrace trace(lap);
            for (std::size_t k = 0; k < lap.front().place_v.size(); ++k) {
                const auto v = [k](const SimMoment& m) { return m.place_v[k]; };
                one.places.push_back({trace.least(v), trace.most(v)});
            }
        } catch (const DocumentError&) {
            ++m_out.without;
            return;
        }
        one.low_v = one.places.back().trough_v;
        one.high_v = one.places.back().crest_v;
        one.ripple_v = one.high_v - one.low_v;
        one.lowest = one.highest = one.roughest = corner;
        widen(m_out, one);
    }

    const ChainSpread& result() const { return m_out; }

private:
    SimState start(ChainIntegrator& integrator, const ChainCorner& corner)
    {
        std::optional<SimState> found;
        // A load of constant power may tend to another state from elsewhere.
        if (m_warm && !integrator.hasPowerLoad()) {
            SimState near = *m_warm;
            for (double& value : near)
                value *= corner.mains / m_warm_mains;
            found = integrator.periodicNear(near);
        }
        m_warm = found ? *found : integrator.periodic(integrator.initial());
        m_warm_mains = corner.mains;
        return *m_warm;
    }

    const RectifierChain& m_chain;
    std::optional<SimState> m_warm;
    double m_warm_mains = 1;
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
    const std::vector<ChainCorner> corners = cornersOf(chain);
    const std::size_t half = corners.size() / 2;
    std::atomic<bool> stopped = false;
    // Two at a time; the one on this thread asks whether it is still wanted.
    auto other = std::async(std::launch::async, [&] {
        SpreadRun run(chain);
        for (std::size_t k = half; k < corners.size() && !stopped; ++k)
            run.see(corners[k]);
        return run.result();
    });
    SpreadRun run(chain);
    for (std::size_t k = 0; k < half && !stopped; ++k) {
        stopped = progress && !progress(static_cast<double>(k) / static_cast<double>(half));
        if (!stopped)
            run.see(corners[k]);
    }
    const ChainSpread rest = other.get();
    if (stopped)
        throw SimCancelled{};
    ChainSpread all = run.result();
    widen(all, rest);
    return all;
}

} // namespace offshoot
