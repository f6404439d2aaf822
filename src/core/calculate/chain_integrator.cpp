#include "core/calculate/chain_integrator.h"

#include "core/calculate/simulation_run.h"

#include <Eigen/Dense>
#include <Eigen/Eigenvalues>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace offshoot {

namespace {

constexpr std::int64_t most_steps = 5'000'000;
/// A state that differs by less, as a share of what is usual here, is the same to a person.
constexpr double near = 2e-6;
/// Newton's step from where next to nothing changes with the state.
constexpr double far = 1e6;

bool drawsPower(const RectifierChain& chain)
{
    const auto draws = [](const SimLoad& load) { return load.power_w.value_or(0) > 0; };
    return draws(chain.load) || std::ranges::any_of(chain.tap_loads, draws, &TapLoad::load);
}

/// Whether the second half of a cycle is the first over again.
bool repeatsByHalves(const RectifierChain& chain)
{
    return chain.rectifier.kind == SimRectifier::Bridge || chain.rectifier.kind == SimRectifier::FullWaveCt;
}

} // namespace

ChainIntegrator::ChainIntegrator(const RectifierChain& chain, const SimProgress& progress)
    : m_progress(progress)
    , m_period_s(1 / chain.source.f_hz)
    , m_lap_s(repeatsByHalves(chain) ? m_period_s / 2 : m_period_s)
    , m_crest_v(std::numbers::sqrt2 * chain.source.v_rms_v)
    , m_has_power_load(drawsPower(chain))
{}

void ChainIntegrator::count()
{
    if (++m_steps > most_steps)
        throw DocumentError(ErrorCode::NoSolution, "", "the run did not get there in five million steps");
    constexpr std::int64_t every = 2048;
    if (m_progress && m_steps % every == 0) {
        const double share = static_cast<double>(m_steps) / static_cast<double>(m_steps + 40 * every);
        if (!m_progress(m_share_from + (m_share_to - m_share_from) * share))
            throw SimCancelled{};
    }
}

void ChainIntegrator::lap(SimState& x, const Seen& seen, std::vector<SimState>* derivative)
{
    run(x, m_lap_s, seen, derivative);
    const auto halves = sourceStates();
    if (m_lap_s == m_period_s || !halves)
        return;
    const auto exchange = [first = halves->front(), second = halves->back()](SimState& state) {
        if (first == second)
            state[first] = -state[first];
        else
            std::swap(state[first], state[second]);
    };
    exchange(x);
    if (derivative != nullptr)
        std::ranges::for_each(*derivative, exchange);
}

SimState ChainIntegrator::followed(SimState x)
{
    // A power load may have two answers: the one it tends to is found by following it until it hardly moves.
    const int most_cycles = m_has_power_load ? 4000 : 3;
    for (int cycle = 0; cycle < most_cycles; ++cycle) {
        const SimState before = x;
        integrate(x, 0, period(), {});
        double moved = 0;
        for (std::size_t i = 0; i < states(); ++i)
            if (isVoltage(i))
                moved = std::max(moved, std::abs(x[i] - before[i]) / crest());
        constexpr double still = 1e-5;
        if (moved < still && cycle > 2)
            break;
    }
    return x;
}

ChainIntegrator::Shot ChainIntegrator::shoot(const SimState& x)
{
    const std::size_t n = states();
    std::vector<SimState> derivative(n);
    for (std::size_t i = 0; i < n; ++i)
        derivative[i][i] = 1;
    Shot shot{x, {}, 0, 0, 0, {}};
    lap(shot.reached, {}, &derivative);
    shot.steps_s = stepsTaken();
    const auto size = static_cast<Eigen::Index>(n);
    const auto scale_of = [this](std::size_t state) {
        return isVoltage(state) ? crest() : std::max(mostAmps(), 1e-12);
    };
    Eigen::MatrixXd kept(size, size);
    Eigen::VectorXd rhs(size);
    for (std::size_t i = 0; i < n; ++i) {
        const auto row = static_cast<Eigen::Index>(i);
        rhs(row) = shot.reached[i] - x[i];
        shot.moved = std::max(shot.moved, std::abs(rhs(row)) / scale_of(i));
        for (std::size_t j = 0; j < n; ++j)
            kept(row, static_cast<Eigen::Index>(j)) = derivative[j][i];
    }
    const auto qr = (Eigen::MatrixXd::Identity(size, size) - kept).colPivHouseholderQr();
    const Eigen::VectorXd solved = qr.solve(rhs);
    if (!kept.allFinite() || !solved.allFinite() || !qr.isInvertible()) {
        // A constant current drains what nothing charges: no state leads anywhere else.
        shot.largest = std::numeric_limits<double>::infinity();
        return shot;
    }
    if (m_has_power_load)
        shot.growth = std::pow(kept.eigenvalues().cwiseAbs().maxCoeff(), m_period_s / m_lap_s);
    for (std::size_t i = 0; i < n; ++i) {
        shot.move[i] = solved(static_cast<Eigen::Index>(i));
        shot.largest = std::max(shot.largest, std::abs(shot.move[i]) / scale_of(i));
    }
    return shot;
}

bool ChainIntegrator::settled(const Shot& shot, double share)
{
    constexpr double exact = 2e-7;
    constexpr double still = 1e-9;
    // A capacitor that hardly loses anything points to zero from just above the steady state, and a little
    // below it charges: where no step that counts comes nearer, this is it. One that loses nothing at all
    // points nowhere: it stays.
    return shot.largest <= exact || (share * shot.largest <= near && shot.moved <= near) ||
           (shot.largest > far && shot.moved <= still);
}

SimState ChainIntegrator::periodic(const SimState& start)
{
    setPhase(0);
    bool same_steps = false;
    repeatSteps({});
    if (states() == 0)
        return start;
    SimState x = followed(start);
    Shot shot = shoot(x);
    double share = 1; // of Newton's step that is trusted
    int run_cycles = 1;
    constexpr int most_run_cycles = 64;
    constexpr int most_rounds = 400;
    for (int round = 0; round < most_rounds; ++round) {
        // Steps chosen anew for each lap leave a grain that Newton's method cannot get below.
        constexpr double grain = 1e-4;
        if (!same_steps && shot.largest <= grain) {
            same_steps = true;
            repeatSteps(shot.steps_s);
        }
        if (settled(shot, share)) {
            constexpr double grows = 1 + 1e-4; // more than the derivative of a slow chain is uncertain by
            if (shot.growth > grows)
                break; // a balance that the least thing upsets
            return x;
        }
        if (shot.largest > far || share * shot.largest <= near) {
            x = shot.reached; // no straight line leads there: let it run, longer each time
            same_steps = false;
            repeatSteps({});
            for (int cycle = 1; cycle < run_cycles; ++cycle)
                integrate(x, 0, period(), {});
            run_cycles = std::min(2 * run_cycles, most_run_cycles);
            shot = shoot(x);
            share = 1;
            continue;
        }
        share = std::min(share, 1 / shot.largest);
        SimState next = x;
        for (std::size_t i = 0; i < states(); ++i)
            next[i] += share * shot.move[i];
        Shot there = shoot(next);
        if (there.moved < shot.moved) {
            x = next;
            shot = std::move(there);
            share = std::min(1.0, 4 * share);
        } else {
            share /= 4;
        }
    }
    throw DocumentError(ErrorCode::NoSolution, "",
                        m_has_power_load
                            ? "there is no steady state, for a load of constant power swings with the chain "
                              "before it or is about to collapse; more capacitance beside it stills that"
                            : "no steady state was found");
}

std::optional<SimState> ChainIntegrator::periodicNear(SimState start)
{
    setPhase(0);
    repeatSteps({});
    if (states() == 0)
        return start;
    // Newton's step leaves the square of what it moves.
    constexpr double enough = 2e-3;
    constexpr double too_far = 0.5;
    constexpr int most_rounds = 6;
    for (int round = 0; round < most_rounds; ++round) {
        const Shot shot = shoot(start);
        if (!(shot.largest < too_far))
            return std::nullopt;
        for (std::size_t i = 0; i < states(); ++i)
            start[i] += shot.move[i];
        if (shot.largest <= enough)
            return start;
    }
    return std::nullopt;
}

std::unique_ptr<ChainIntegrator> integratorOf(const RectifierChain& chain, const SimProgress& progress)
{
    auto exact = exactIntegrator(chain, progress);
    return exact ? std::move(exact) : std::make_unique<SimRun>(chain, progress);
}

} // namespace offshoot
