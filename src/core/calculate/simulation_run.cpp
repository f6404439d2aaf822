#include "core/calculate/simulation_run.h"

#include "core/values/fresh_registers.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace offshoot {

namespace {

/// Of the crest, for a capacitor's error in a step.
constexpr double volt_tolerance = 2e-6;
/// Of the largest current seen, for a choke's.
constexpr double amp_tolerance = 2e-5;
/// Of the largest current of a path, for the bend of its pulse: fifty steps for half a sine.
constexpr double pulse_tolerance = 0.004;
constexpr double longest_step_share = 1.0 / 200;
constexpr double shortest_step_share = 1e-8;
constexpr double switching_share = 1.0 / 4000;
constexpr double gamma_sdirk = 1 - 0.5 * std::numbers::sqrt2;
DocumentError unsolved()
{
    return DocumentError(ErrorCode::NoSolution, "", "the run did not get there in five million steps");
}

} // namespace

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
        const double scale = m_circuit.isVoltage(i) ? volt_tolerance * crest() : amp_scale;
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
    if (!m_circuit.solve(t_s, period() * at_once_share, x, still))
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
    freshRegisters();
    const double cycle_s = period();
    const double longest = cycle_s * longest_step_share;
    const double shortest = cycle_s * shortest_step_share;
    if (m_path_seen_a > 0) // after the surge pulses are smaller
        m_path_most_a = m_path_seen_a;
    m_path_seen_a = 0;
    begin(x, t0_s, seen);
    m_taken_s.clear();
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
        if (solved && paths != m_paths_on && h > cycle_s * switching_share) {
            h = std::max(cycle_s * switching_share, h / 4);
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
            m_taken_s.push_back(h);
        h *= std::clamp(0.9 / std::cbrt(std::max(error, 1e-6)), 0.4, 2.0);
        h = std::max(h, shortest);
    }
}

void SimRun::run(SimState& x, double t1_s, const Seen& seen, std::vector<SimState>* derivative)
{
    if (m_repeated_s.empty()) {
        integrate(x, 0, t1_s, seen, derivative);
        return;
    }
    begin(x, 0, seen);
    double t = 0;
    const double shortest = period() * shortest_step_share;
    for (std::size_t k = 0; t < t1_s - shortest; k = (k + 1) % m_repeated_s.size()) {
        SimState next{};
        double error = 0;
        count();
        if (!step(x, t, m_repeated_s[k], next, error, derivative))
            throw unsolved();
        t += m_repeated_s[k];
        take(x, next, t, seen, derivative);
    }
}

} // namespace offshoot
