// A rectifier chain over time where it is linear between switchings: threshold diodes, and loads of constant
// resistance or current. Each state of conduction is advanced by its matrix exponential, sine included; a
// switching is met by halving the step. Of itself exact: steps are as long as a chord may be between two
// moments that are looked at, each stretch with its middle, so that means and peaks are those of parabolas.
#include "core/calculate/chain_integrator.h"
#include "core/calculate/conduction.h"
#include "core/values/fresh_registers.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <numbers>

namespace offshoot {

namespace {

constexpr int deepest = Conduction::levels - 1;
/// Steps are not halved further than this for being bent.
constexpr int finest = 13;
/// Of the largest current: what a chord may be beside its curve; some ten steps for half a sine, each with
/// its middle.
constexpr double chord_share = 1e-2;
/// Halves towards a bound that are still looked at; what comes after is short.
constexpr int seen_halves = 3;

bool isLinear(const RectifierChain& chain)
{
    const auto linear = [](const SimLoad& load) { return !load.power_w; };
    return chain.rectifier.diode.model == DiodeModel::Threshold && linear(chain.load) &&
           std::ranges::all_of(chain.tap_loads, linear, &TapLoad::load);
}

class ExactRun : public ChainIntegrator
{
public:
    ExactRun(const RectifierChain& chain, const SimProgress& progress);

    std::size_t states() const override { return m_states.count; }
    bool isVoltage(std::size_t state) const override { return m_states.is_voltage[state]; }
    SimState initial() const override;
    void setPhase(double phase_rad) override { m_phase_rad = phase_rad; }
    void integrate(SimState& x, double t0_s, double t1_s, const Seen& seen,
                   std::vector<SimState>* derivative = nullptr) override;

protected:
    double mostAmps() const override { return m_most_a; }
    std::optional<std::array<std::size_t, 2>> sourceStates() const override
    {
        return m_states.of_source[0] == ChainStates::none ? std::nullopt : std::optional(m_states.of_source);
    }

private:
    const Conduction& conduction(const ConductionKey& key);
    /// The state of conduction that this moment contradicts least.
    const Conduction& fitting(const LinearState& x);
    /// Changes over what has passed its bound.
    const Conduction& switched(const Conduction& now, const LinearState& x);
    /// How a step is met: taken, or to be halved because a bound was passed in it, or because something bends
    /// too much in it to be seen at its ends only.
    enum class Trial { Easy, Good, Bent, Passed };
    Trial tried(const Conduction& now, const Conduction::Checks& from, const Conduction::Checks& to,
                double h_s, int level) const;
    /// What stands still is at zero, whatever came before.
    void settle(const Conduction& now, LinearState& x);
    void see(const Conduction& now, const LinearState& x, double t_s, const Seen& seen, bool middle = false);
    /// The largest current of the cycle so far, which forgets half of itself in each.
    void note(const Conduction& now, const Conduction::Checks& checks, const LinearState& x, double h_s);

    const RectifierChain& m_chain;
    ChainStates m_states;
    double m_phase_rad = 0;
    std::deque<Conduction> m_met; ///< a reference to one stays good
    double m_most_a = 0;          ///< of the chokes
    double m_lately_a = 0;        ///< of chokes and paths
    SimMoment m_moment{};
    LinearMap m_derivative;
};

ExactRun::ExactRun(const RectifierChain& chain, const SimProgress& progress)
    : ChainIntegrator(chain, progress)
    , m_chain(chain)
    , m_states(chain)
{}

SimState ExactRun::initial() const
{
    SimState x{};
    if (m_chain.rectifier.kind == SimRectifier::Doubler) {
        x[0] = m_chain.rectifier.upper->v0_v;
        x[1] = m_chain.rectifier.lower->v0_v;
    }
    for (std::size_t i = 0; i < m_chain.filter.size(); ++i)
        if (m_chain.filter[i].kind == SmoothingKind::C)
            x[m_states.of_section[i]] = m_chain.filter[i].v0_v;
    return x;
}

const Conduction& ExactRun::conduction(const ConductionKey& key)
{
    const auto met = std::ranges::find(m_met, key, &Conduction::key);
    return met != m_met.end() ? *met : m_met.emplace_back(m_chain, m_states, key);
}

const Conduction& ExactRun::fitting(const LinearState& x)
{
    const std::uint32_t paths = m_chain.rectifier.kind == SimRectifier::Half ? 2 : 4;
    const Conduction* best = nullptr;
    double least = 0;
    for (std::uint32_t on = 0; on < paths; ++on) {
        ConductionKey key{.on = {(on & 1U) != 0, (on & 2U) != 0}};
        // Which loads have fallen follows from the volts at their nodes, which hardly depend on it.
        for (int round = 0; round < 2; ++round) {
            const Conduction& tried = conduction(key);
            const auto checks = tried.checks(x);
            double against = 0;
            for (std::size_t i = 0; i < tried.bounds().size(); ++i) {
                const Conduction::Bound& bound = tried.bounds()[i];
                const double value = checks(static_cast<Eigen::Index>(i));
                if (value >= 0)
                    continue;
                if (bound.path < 0)
                    key.fallen ^= 1U << bound.load;
                // A path's current counts as the volts it would take in the source.
                const bool conducts = bound.path >= 0 && key.on[static_cast<std::size_t>(bound.path)];
                against -= value * (conducts ? m_chain.source.r_ohm : 1);
            }
            for (const std::size_t state : tried.still())
                against += std::abs(x(static_cast<Eigen::Index>(state))) * m_chain.source.r_ohm;
            if (best == nullptr || against < least) {
                best = &tried;
                least = against;
            }
        }
    }
    return *best;
}

const Conduction& ExactRun::switched(const Conduction& now, const LinearState& x)
{
    ConductionKey key = now.key();
    const auto checks = now.checks(x);
    for (std::size_t i = 0; i < now.bounds().size(); ++i) {
        if (checks(static_cast<Eigen::Index>(i)) >= 0)
            continue;
        const Conduction::Bound& bound = now.bounds()[i];
        if (bound.path < 0)
            key.fallen ^= 1U << bound.load;
        else
            key.on[static_cast<std::size_t>(bound.path)] = !key.on[static_cast<std::size_t>(bound.path)];
    }
    return conduction(key);
}

ExactRun::Trial ExactRun::tried(const Conduction& now, const Conduction::Checks& from,
                                const Conduction::Checks& to, double h_s, int level) const
{
    const auto bounds = static_cast<Eigen::Index>(now.bounds().size());
    for (Eigen::Index i = 0; i < bounds; ++i)
        if (to(i) < 0)
            return Trial::Passed;
    if (level >= finest)
        return Trial::Easy;
    for (Eigen::Index i = 0; i < bounds; ++i) {
        const double falls = from(bounds + i);
        const double rises = to(bounds + i);
        if (falls >= 0 || rises <= 0)
            continue;
        // It turned round on the way: where its tangents meet it was at least.
        const double met_s = (to(i) - from(i) - rises * h_s) / (falls - rises);
        if (from(i) + falls * met_s < 0)
            return Trial::Bent;
    }
    double bent_a = 0;
    for (Eigen::Index i = 2 * bounds; i < to.size(); ++i)
        bent_a = std::max(bent_a, std::abs(to(i) - from(i)) * h_s / 8);
    double amps = m_lately_a;
    for (Eigen::Index i = 0; i < bounds; ++i) {
        const int path = now.bounds()[static_cast<std::size_t>(i)].path;
        if (path >= 0 && now.key().on[static_cast<std::size_t>(path)])
            amps = std::max(amps, to(i));
    }
    const double share = bent_a / std::max(chord_share * amps, 1e-30);
    constexpr double easy = 0.25; // the step twice as long bends four times as much
    return share > 1 ? Trial::Bent : share < easy ? Trial::Easy : Trial::Good;
}

void ExactRun::settle(const Conduction& now, LinearState& x)
{
    for (const std::size_t state : now.still()) {
        x(static_cast<Eigen::Index>(state)) = 0;
        if (m_derivative.size() > 0)
            m_derivative.row(static_cast<Eigen::Index>(state)).setZero();
    }
}

void ExactRun::note(const Conduction& now, const Conduction::Checks& checks, const LinearState& x, double h_s)
{
    double amps = 0;
    for (std::size_t state = 0; state < m_states.count; ++state)
        if (!m_states.is_voltage[state])
            amps = std::max(amps, std::abs(x(static_cast<Eigen::Index>(state))));
    m_most_a = std::max(m_most_a, amps);
    for (std::size_t i = 0; i < now.bounds().size(); ++i) {
        const int path = now.bounds()[i].path;
        if (path >= 0 && now.key().on[static_cast<std::size_t>(path)])
            amps = std::max(amps, checks(static_cast<Eigen::Index>(i)));
    }
    m_lately_a = std::max(amps, m_lately_a * (1 - 0.5 * h_s / period()));
}

void ExactRun::see(const Conduction& now, const LinearState& x, double t_s, const Seen& seen, bool middle)
{
    now.look(x, t_s, m_moment);
    m_moment.middle = middle;
    seen(m_moment);
}

void ExactRun::integrate(SimState& x, double t0_s, double t1_s, const Seen& seen,
                         std::vector<SimState>* derivative)
{
    freshRegisters();
    const auto width = static_cast<Eigen::Index>(m_states.count);
    constexpr std::int64_t least_steps = std::int64_t{Conduction::steps_in_cycle} << deepest;
    const double least_s = period() / static_cast<double>(least_steps);
    const auto end = static_cast<std::int64_t>((t1_s - t0_s) / least_s + 0.5);
    LinearState state(width + 3);
    for (Eigen::Index i = 0; i < width; ++i)
        state(i) = x[static_cast<std::size_t>(i)];
    const double angle = m_phase_rad + 2 * std::numbers::pi * t0_s / period();
    state.tail<3>() << std::sin(angle), std::cos(angle), 1;
    m_derivative.resize(0, 0);
    if (derivative != nullptr)
        m_derivative = LinearMap::Identity(width, width); // of the run; the given one follows it at the end

    const Conduction* now = &fitting(state);
    settle(*now, state);
    if (seen)
        see(*now, state, t0_s, seen);
    Conduction::Checks from = now->checks(state);
    std::int64_t at = 0;
    constexpr int first = 3; // after a switching
    int level = first;
    int met_from = -1; // the level at which a bound was passed that is being met by halves
    while (at < end) {
        while ((std::int64_t{1} << (deepest - level)) > end - at)
            ++level;
        count();
        const std::int64_t step = std::int64_t{1} << (deepest - level);
        const double h_s = static_cast<double>(step) * least_s;
        LinearState next;
        multiply(now->advance(level), state, next);
        const Conduction::Checks to = now->checks(next);
        const Trial trial = tried(*now, from, to, h_s, level);
        if (trial >= Trial::Bent && level < deepest) {
            if (trial == Trial::Passed && met_from < 0)
                met_from = level;
            ++level;
            continue;
        }
        const double t_s = t0_s + static_cast<double>(at + step) * least_s;
        const bool meeting = met_from >= 0 && trial != Trial::Passed;
        // A bound is passed in the shortest step: what jumps there is seen from both sides, from within each.
        if (seen && trial == Trial::Passed)
            see(*now, state, t_s - h_s, seen);
        else if (seen && (!meeting || level <= met_from + seen_halves)) {
            if (level < finest) {
                LinearState between;
                multiply(now->advance(level + 1), state, between);
                see(*now, between, t_s - h_s / 2, seen, true);
            }
            see(*now, next, t_s, seen);
        }
        if (derivative != nullptr)
            m_derivative = now->advance(level).topLeftCorner(width, width).lazyProduct(m_derivative).eval();
        state = next;
        from = to;
        at += step;
        note(*now, from, state, h_s);
        if (trial == Trial::Passed) {
            now = &switched(*now, state);
            settle(*now, state);
            if (seen)
                see(*now, state, t_s, seen);
            from = now->checks(state);
            level = first;
            met_from = -1;
        } else if (meeting) {
            level = std::min(level + 1, deepest);
        } else if (trial == Trial::Easy && level > 0) {
            --level;
        }
    }
    for (Eigen::Index i = 0; i < width; ++i)
        x[static_cast<std::size_t>(i)] = state(i);
    for (std::size_t j = 0; derivative != nullptr && j < derivative->size(); ++j) {
        LinearState column(width);
        for (Eigen::Index i = 0; i < width; ++i)
            column(i) = (*derivative)[j][static_cast<std::size_t>(i)];
        column = (m_derivative * column).eval();
        for (Eigen::Index i = 0; i < width; ++i)
            (*derivative)[j][static_cast<std::size_t>(i)] = column(i);
    }
}

} // namespace

std::unique_ptr<ChainIntegrator> exactIntegrator(const RectifierChain& chain, const SimProgress& progress)
{
    return isLinear(chain) ? std::make_unique<ExactRun>(chain, progress) : nullptr;
}

} // namespace offshoot
