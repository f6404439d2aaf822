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
/// Of the crest, for a capacitor's error in a step.
constexpr double volt_tolerance = 2e-6;
/// Of the largest current seen, for a choke's.
constexpr double amp_tolerance = 2e-5;
/// Of the largest current of a path, for the bend of its pulse: fifty steps for half a sine.
constexpr double pulse_tolerance = 0.004;
constexpr double longest_step_share = 1.0 / 200;
constexpr double shortest_step_share = 1e-8;
constexpr double switching_share = 1.0 / 4000;
/// A state that differs by less, as a share of what is usual here, is the same to a person.
constexpr double near = 2e-6;
/// Newton's step from where next to nothing changes with the state.
constexpr double far = 1e6;
constexpr double gamma_sdirk = 1 - 0.5 * std::numbers::sqrt2;
DocumentError unsolved()
{
    return DocumentError(ErrorCode::NoSolution, "", "the run did not get there in five million steps");
}

} // namespace

void SimRun::count()
{
    if (++m_steps > most_steps)
        throw unsolved();
    constexpr std::int64_t every = 2048;
    if (m_progress && m_steps % every == 0) {
        const double share = static_cast<double>(m_steps) / static_cast<double>(m_steps + 40 * every);
        if (!m_progress(m_share_from + (m_share_to - m_share_from) * share))
            throw SimCancelled{};
    }
}

double SimRun::currentScale(const SimState& x) const
{
    double most = m_most_a;
    for (std::size_t i = 0; i < m_circuit.states(); ++i)
        if (!m_circuit.isVoltage(i))
            most = std::max(most, std::abs(x[i]));
    return most;
}

/// The paths that carry more than a trace of their largest current, as bits.
unsigned SimRun::conducting()
{
    constexpr double trace = 1e-4;
    const auto [first_a, second_a] = m_circuit.pathAmps();
    m_path_most_a = std::max({m_path_most_a, std::abs(first_a), std::abs(second_a)});
    return (first_a > trace * m_path_most_a ? 1U : 0U) | (second_a > trace * m_path_most_a ? 2U : 0U);
}

/// A path's current is no state: how far its pulse bends in the step, in tolerances, from its values at the
/// step's start, after the first stage and at its end.
double SimRun::pulseError(const std::array<double, 2>& first_a) const
{
    double error = 0;
    for (std::size_t k = 0; k < first_a.size(); ++k) {
        const double last_a = m_circuit.pathAmps()[k];
        const double bend_a =
            2 * ((last_a - first_a[k]) / (1 - gamma_sdirk) - (first_a[k] - m_path_a[k]) / gamma_sdirk);
        const double share = std::abs(bend_a) / (pulse_tolerance * std::max(m_path_most_a, 1e-30));
        error = std::max(error, std::pow(share, 1.5)); // it goes with h², the step's error with h³
    }
    return error;
}

/// One step of two stages; false where a stage has no solution. `error` is in tolerances.
bool SimRun::step(SimState& x, double t_s, double h_s, SimState& next, double& error,
                  std::vector<SimState>* derivative)
{
    const std::size_t n = m_circuit.states();
    const double stage_s = gamma_sdirk * h_s;
    constexpr double carry = (1 - gamma_sdirk) / gamma_sdirk;
    SimState first{};
    if (!m_circuit.solve(t_s + stage_s, stage_s, x, first))
        return false;
    const auto first_a = m_circuit.pathAmps();
    if (derivative != nullptr) {
        m_carried.resize(n);
        for (std::size_t j = 0; j < n; ++j) {
            SimState moved{};
            m_circuit.tangent((*derivative)[j], moved);
            for (std::size_t i = 0; i < n; ++i)
                m_carried[j][i] = (*derivative)[j][i] + carry * (moved[i] - (*derivative)[j][i]);
        }
    }
    SimState history{};
    for (std::size_t i = 0; i < n; ++i)
        history[i] = x[i] + carry * (first[i] - x[i]);
    if (!m_circuit.solve(t_s + h_s, stage_s, history, next))
        return false;
    if (derivative != nullptr)
        for (std::size_t j = 0; j < n; ++j) {
            SimState moved{};
            m_circuit.tangent(m_carried[j], moved);
            m_carried[j] = moved;
        }
    // The third derivative from three slopes; a kink in between shows as a large one.
    error = 0;
    const double amp_scale = amp_tolerance * currentScale(next);
    constexpr double error_share = 0.05;
    SimState slope{};
    for (std::size_t i = 0; i < n; ++i) {
        const double k1 = (first[i] - x[i]) / stage_s;
        slope[i] = (next[i] - history[i]) / stage_s;
        const double k0 = m_has_slope ? m_slope[i] : k1;
        const double bend = 2 * ((slope[i] - k1) / (1 - gamma_sdirk) - (k1 - k0) / gamma_sdirk); // h·h·x'''
        const double scale = m_circuit.isVoltage(i) ? volt_tolerance * m_circuit.crest() : amp_scale;
        error = std::max(error, error_share * std::abs(bend) * h_s / std::max(scale, 1e-30));
    }
    error = std::max(error, pulseError(first_a));
    if (error <= 1)
        m_slope = slope;
    return true;
}

/// What flows at the start, before anything has moved.
void SimRun::begin(const SimState& x, double t_s, const Seen& seen)
{
    m_has_slope = false;
    constexpr double at_once_share = 1e-7;
    SimState still{};
    if (!m_circuit.solve(t_s, m_circuit.period() * at_once_share, x, still))
        return;
    m_path_a = m_circuit.pathAmps();
    if (seen) {
        m_circuit.look(t_s, m_moment);
        seen(m_moment);
    }
}

void SimRun::take(SimState& x, const SimState& next, double t_s, const Seen& seen,
                  std::vector<SimState>* derivative)
{
    x = next;
    m_most_a = currentScale(x);
    m_path_a = m_circuit.pathAmps();
    if (derivative != nullptr)
        derivative->swap(m_carried);
    if (seen) {
        m_circuit.look(t_s, m_moment);
        seen(m_moment);
    }
}

void SimRun::integrate(SimState& x, double t0_s, double t1_s, const Seen& seen,
                       std::vector<SimState>* derivative)
{
    const double period = m_circuit.period();
    const double longest = period * longest_step_share;
    const double shortest = period * shortest_step_share;
    if (m_path_seen_a > 0) // after the surge pulses are smaller
        m_path_most_a = m_path_seen_a;
    m_path_seen_a = 0;
    begin(x, t0_s, seen);
    m_cycle_s.clear();
    double t = t0_s;
    double h = longest / 20;
    while (t < t1_s - shortest) {
        h = std::min({h, longest, t1_s - t});
        SimState next{};
        double error = 0;
        count();
        const bool solved = step(x, t, h, next, error, derivative);
        // A path that begins or ends to conduct is followed closely: its current is no state of its own.
        const unsigned paths = conducting();
        if (solved && paths != m_paths_on && h > period * switching_share) {
            h = std::max(period * switching_share, h / 4);
            continue;
        }
        if ((!solved || error > 1) && h > shortest) {
            h = std::max(shortest, h * (solved ? std::clamp(0.9 / std::cbrt(error), 0.2, 0.8) : 0.25));
            continue;
        }
        if (!solved)
            throw unsolved();
        t += h;
        take(x, next, t, seen, derivative);
        m_paths_on = paths;
        m_path_seen_a = std::max({m_path_seen_a, std::abs(m_path_a[0]), std::abs(m_path_a[1])});
        m_has_slope = error <= 1;
        if (derivative != nullptr)
            m_cycle_s.push_back(h);
        h *= std::clamp(0.9 / std::cbrt(std::max(error, 1e-6)), 0.4, 2.0);
        h = std::max(h, shortest);
    }
}

void SimRun::cycle(SimState& x, const Seen& seen, std::vector<SimState>* derivative)
{
    if (!m_same_steps) {
        integrate(x, 0, m_circuit.period(), seen, derivative);
        return;
    }
    begin(x, 0, seen);
    double t = 0;
    for (const double h : m_cycle_s) {
        SimState next{};
        double error = 0;
        count();
        if (!step(x, t, h, next, error, derivative))
            throw unsolved();
        t += h;
        take(x, next, t, seen, derivative);
    }
}

SimState SimRun::followed(SimState x)
{
    // A power load may have two answers: the one it tends to is found by following it until it hardly moves.
    const int most_cycles = m_circuit.hasPowerLoad() ? 4000 : 3;
    for (int cycle = 0; cycle < most_cycles; ++cycle) {
        const SimState before = x;
        integrate(x, 0, m_circuit.period(), {});
        double moved = 0;
        for (std::size_t i = 0; i < m_circuit.states(); ++i)
            if (m_circuit.isVoltage(i))
                moved = std::max(moved, std::abs(x[i] - before[i]) / m_circuit.crest());
        constexpr double still = 1e-5;
        if (moved < still && cycle > 2)
            break;
    }
    return x;
}

SimRun::Shot SimRun::shoot(const SimState& x)
{
    const std::size_t n = m_circuit.states();
    std::vector<SimState> derivative(n);
    for (std::size_t i = 0; i < n; ++i)
        derivative[i][i] = 1;
    Shot shot{x, {}, 0, 0, 0, {}};
    cycle(shot.reached, {}, &derivative);
    shot.steps_s = m_cycle_s;
    const auto size = static_cast<Eigen::Index>(n);
    const auto scale_of = [this](std::size_t state) {
        return m_circuit.isVoltage(state) ? m_circuit.crest() : std::max(m_most_a, 1e-12);
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
    if (m_circuit.hasPowerLoad())
        shot.growth = kept.eigenvalues().cwiseAbs().maxCoeff();
    for (std::size_t i = 0; i < n; ++i) {
        shot.move[i] = solved(static_cast<Eigen::Index>(i));
        shot.largest = std::max(shot.largest, std::abs(shot.move[i]) / scale_of(i));
    }
    return shot;
}

bool SimRun::settled(const Shot& shot, double share)
{
    constexpr double exact = 2e-7;
    constexpr double still = 1e-9;
    // A capacitor that hardly loses anything points to zero from just above the steady state, and a little
    // below it charges: where no step that counts comes nearer, this is it. One that loses nothing at all
    // points nowhere: it stays.
    return shot.largest <= exact || (share * shot.largest <= near && shot.moved <= near) ||
           (shot.largest > far && shot.moved <= still);
}

SimState SimRun::periodic(const SimState& start)
{
    m_circuit.setPhase(0);
    m_same_steps = false;
    if (m_circuit.states() == 0)
        return start;
    SimState x = followed(start);
    Shot shot = shoot(x);
    double share = 1; // of Newton's step that is trusted
    int run_cycles = 1;
    constexpr int most_run_cycles = 64;
    constexpr int most_rounds = 400;
    for (int round = 0; round < most_rounds; ++round) {
        // Steps chosen anew for each cycle leave a grain that Newton's method cannot get below.
        constexpr double grain = 1e-4;
        if (!m_same_steps && shot.largest <= grain) {
            m_same_steps = true;
            m_cycle_s = shot.steps_s;
        }
        if (settled(shot, share)) {
            constexpr double grows = 1 + 1e-4; // more than the derivative of a slow chain is uncertain by
            if (shot.growth > grows)
                break; // a balance that the least thing upsets
            return x;
        }
        if (shot.largest > far || share * shot.largest <= near) {
            x = shot.reached; // no straight line leads there: let it run, longer each time
            m_same_steps = false;
            for (int cycle = 1; cycle < run_cycles; ++cycle)
                integrate(x, 0, m_circuit.period(), {});
            run_cycles = std::min(2 * run_cycles, most_run_cycles);
            shot = shoot(x);
            share = 1;
            continue;
        }
        share = std::min(share, 1 / shot.largest);
        SimState next = x;
        for (std::size_t i = 0; i < m_circuit.states(); ++i)
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
                        m_circuit.hasPowerLoad()
                            ? "there is no steady state, for a load of constant power swings with the chain "
                              "before it or is about to collapse; more capacitance beside it stills that"
                            : "no steady state was found");
}

} // namespace offshoot
