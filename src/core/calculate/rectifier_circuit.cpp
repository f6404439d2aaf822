#include "core/calculate/rectifier_circuit.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace offshoot {

namespace {

constexpr double boltzmann_v_per_k = 8.617333262e-5;

} // namespace

RectifierCircuit::RectifierCircuit(const RectifierChain& chain)
    : m_chain(chain)
    , m_doubler(chain.rectifier.kind == SimRectifier::Doubler)
    , m_paths(chain.rectifier.kind == SimRectifier::Half ? 1 : 2)
    , m_in_series(chain.rectifier.kind == SimRectifier::Bridge ? 2 : 1)
{
    const auto state = [this](bool voltage) {
        m_is_voltage[m_states] = voltage;
        return m_states++;
    };
    if (m_doubler) {
        state(true);
        state(true);
    }
    // The node each section stands at: a series element leads to the next one.
    std::vector<std::size_t> node_of(chain.filter.size());
    std::size_t node = 0;
    for (std::size_t i = 0; i < chain.filter.size(); ++i) {
        node_of[i] = node;
        node += chain.filter[i].kind == SmoothingKind::C ? 0U : 1U;
    }
    addLoads(0, node_of);
    for (std::size_t i = 0; i < chain.filter.size(); ++i) {
        const SmoothingSection& s = chain.filter[i];
        if (s.kind == SmoothingKind::C) {
            m_elements.push_back({ElementKind::Capacitor, i, state(true), s.c_f, s.esr_ohm, 0});
            continue;
        }
        const std::size_t at = s.kind == SmoothingKind::L ? state(false) : 0;
        m_elements.push_back(
            {ElementKind::Series, i, at, 0, s.r_ohm, s.kind == SmoothingKind::L ? s.l_h : 0});
        addLoads(node_of[i] + 1, node_of);
    }
    m_main_load = m_loads.size();
    m_elements.push_back({ElementKind::Load, m_main_load, 0, 0, 0, 0});
    m_loads.push_back(&chain.load);
    if (chain.source.l_h) {
        m_source_state[0] = state(false);
        m_source_state[1] =
            chain.rectifier.kind == SimRectifier::FullWaveCt ? state(false) : m_source_state[0];
    }
    m_folds.resize(m_elements.size());
    m_load_v.assign(m_loads.size(), crest());
    m_element_v.resize(m_elements.size());
    m_element_a.resize(m_elements.size());
}

/// The tap loads of one node stand in front of its sections.
void RectifierCircuit::addLoads(std::size_t node, const std::vector<std::size_t>& nodes)
{
    for (const TapLoad& tap : m_chain.tap_loads)
        if (nodes[static_cast<std::size_t>(tap.section)] == node) {
            m_elements.push_back({ElementKind::Load, m_loads.size(), 0, 0, 0, 0});
            m_loads.push_back(&tap.load);
        }
}

SimState RectifierCircuit::initial() const
{
    SimState x{};
    if (m_doubler) {
        x[0] = m_chain.rectifier.upper->v0_v;
        x[1] = m_chain.rectifier.lower->v0_v;
    }
    for (const Element& element : m_elements)
        if (element.kind == ElementKind::Capacitor)
            x[element.state] = m_chain.filter[element.section].v0_v;
    return x;
}

double RectifierCircuit::crest() const { return std::numbers::sqrt2 * m_chain.source.v_rms_v; }

double RectifierCircuit::emf(double t_s) const
{
    return crest() * std::sin(2 * std::numbers::pi * m_chain.source.f_hz * t_s + m_phase_rad);
}

// ---- loads

RectifierCircuit::LoadLine RectifierCircuit::lineOf(const SimLoad& load, double v_v) const
{
    if (load.resistance_ohm)
        return {1 / *load.resistance_ohm, 0};
    const double v_min = load.v_min_v;
    if (load.current_a)
        return v_v >= v_min ? LoadLine{0, *load.current_a} : LoadLine{*load.current_a / v_min, 0};
    const double p = *load.power_w;
    if (v_v < v_min)
        return {p / (v_min * v_min), 0};
    return {-p / (v_v * v_v), 2 * p / v_v}; // tangent of P/v
}

bool RectifierCircuit::lineHolds(const SimLoad& load, double guess_v, double v_v) const
{
    if (load.resistance_ohm)
        return true;
    const bool above = v_v >= load.v_min_v;
    if (above != (guess_v >= load.v_min_v))
        return std::abs(v_v - load.v_min_v) < 1e-9 * load.v_min_v;
    return load.current_a || !above || std::abs(v_v - guess_v) <= 1e-9 * v_v;
}

// ---- folding from the load to the rectifier

void RectifierCircuit::fold(const SimState& history)
{
    double g = 0;
    double j = 0;
    for (std::size_t k = m_elements.size(); k-- > 0;) {
        const Element& element = m_elements[k];
        switch (element.kind) {
        case ElementKind::Capacitor: {
            const double z = m_h / element.c_f + element.r_ohm;
            g += 1 / z;
            j += history[element.state] / z;
            break;
        }
        case ElementKind::Load: {
            const LoadLine line = lineOf(*m_loads[element.section], m_load_v[element.section]);
            g += line.g_s;
            j -= line.i0_a;
            break;
        }
        case ElementKind::Series: {
            const double kick_ohm = element.l_h / m_h;
            const double z = element.r_ohm + kick_ohm;
            const double e_v = element.l_h > 0 ? kick_ohm * history[element.state] : 0;
            const double below = 1 + z * g;
            j = (j - e_v * g) / below;
            g /= below;
            break;
        }
        }
        m_folds[k] = {g, j};
    }
}

/// How the fold at the rectifier moves with the history; only j does.
RectifierCircuit::Fold RectifierCircuit::foldDelta(const SimState& d_history) const
{
    double j = 0;
    for (std::size_t k = m_elements.size(); k-- > 0;) {
        const Element& element = m_elements[k];
        const double g_right = k + 1 < m_elements.size() ? m_folds[k + 1].g : 0;
        if (element.kind == ElementKind::Capacitor) {
            j += d_history[element.state] / (m_h / element.c_f + element.r_ohm);
        } else if (element.kind == ElementKind::Series) {
            const double kick_ohm = element.l_h / m_h;
            const double e_v = element.l_h > 0 ? kick_ohm * d_history[element.state] : 0;
            j = (j - e_v * g_right) / (1 + (element.r_ohm + kick_ohm) * g_right);
        }
    }
    return {m_folds.front().g, j};
}

// ---- the diodes

/// v of a whole path at i ≥ 0 (a junction from −i_s on).
double RectifierCircuit::pathVoltage(double i_a, std::size_t path) const
{
    const SimDiode& d = m_chain.rectifier.diode;
    switch (d.model) {
    case DiodeModel::Threshold:
        return m_in_series * (i_a > 0 ? d.v_f_v + i_a * d.r_ohm : 0);
    case DiodeModel::Exponential:
        return m_in_series * (m_junction_v[path] + i_a * d.r_ohm);
    case DiodeModel::Valve:
        return m_in_series *
               (i_a > 0 ? std::cbrt(std::pow(i_a / d.perveance_a_v15, 2)) + i_a * d.r_plate_ohm : 0);
    }
    return 0;
}

/// dv/di of a path that conducts.
double RectifierCircuit::pathSlope(std::size_t path) const
{
    const SimDiode& d = m_chain.rectifier.diode;
    switch (d.model) {
    case DiodeModel::Threshold:
        return m_in_series * d.r_ohm;
    case DiodeModel::Exponential: {
        const double thermal_v = d.n * boltzmann_v_per_k * d.t_k;
        return m_in_series * (thermal_v / std::max(d.i_s_a + m_i[path], 1e-300) + d.r_ohm);
    }
    case DiodeModel::Valve: {
        const double s = std::cbrt(m_i[path] / d.perveance_a_v15);
        return m_in_series * (2.0 / 3 / (d.perveance_a_v15 * std::max(s, 1e-9)) + d.r_plate_ohm);
    }
    }
    return 0;
}

/// The current of one path alone: e = m·i + v(i); 0 where it blocks.
double RectifierCircuit::solveOne(double e_v, double each_ohm) const
{
    const SimDiode& d = m_chain.rectifier.diode;
    const double n = m_in_series;
    if (d.model == DiodeModel::Threshold)
        return std::max(0.0, (e_v - n * d.v_f_v) / (each_ohm + n * d.r_ohm));
    if (e_v <= 0)
        return 0;
    // With s = (i/K)^(1/3) the valve's law is a cubic, rising and convex: Newton from above.
    const double a = (each_ohm + n * d.r_plate_ohm) * d.perveance_a_v15;
    double s = std::min(std::sqrt(e_v / n), a > 0 ? std::cbrt(e_v / a) : 1e300);
    constexpr int most_rounds = 60;
    for (int i = 0; i < most_rounds; ++i) {
        const double value = s * s * (a * s + n) - e_v;
        const double change = value / (s * (3 * a * s + 2 * n));
        s -= change;
        if (std::abs(change) <= 1e-14 * s)
            break;
    }
    return d.perveance_a_v15 * s * s * s;
}

/// Both paths conduct: a commutation, or a choke that keeps its current.
void RectifierCircuit::solveBoth()
{
    const SimDiode& d = m_chain.rectifier.diode;
    const double det_floor = 1e-300;
    std::array<double, 2> i = m_i;
    for (double& a : i)
        a = std::max(a, 1e-12);
    constexpr int most_rounds = 100;
    for (int round = 0; round < most_rounds; ++round) {
        m_i = i;
        std::array<double, 2> f{};
        for (std::size_t k = 0; k < 2; ++k)
            f[k] = m_open_v[k] - m_ohm[k][0] * i[0] - m_ohm[k][1] * i[1] - pathVoltage(i[k], k);
        const double a = m_ohm[0][0] + pathSlope(0);
        const double b = m_ohm[1][1] + pathSlope(1);
        const double det = std::max(a * b - m_ohm[0][1] * m_ohm[1][0], det_floor);
        const std::array<double, 2> change{(b * f[0] - m_ohm[0][1] * f[1]) / det,
                                           (a * f[1] - m_ohm[1][0] * f[0]) / det};
        double largest = 0;
        for (std::size_t k = 0; k < 2; ++k) {
            const double next = i[k] + change[k];
            largest = std::max(largest, std::abs(change[k]) / (std::abs(i[k]) + 1e-12));
            i[k] = next > 0 ? next : i[k] * 0.1;
        }
        if (largest < 1e-12 || (d.model == DiodeModel::Threshold && round > 2 && largest < 1e-9))
            break;
    }
    m_i = i;
}

/// Junctions never quite block: their voltages are the unknowns.
void RectifierCircuit::solveJunctions()
{
    const SimDiode& d = m_chain.rectifier.diode;
    const double thermal_v = d.n * boltzmann_v_per_k * d.t_k;
    const double critical_v = thermal_v * std::log(thermal_v / (d.i_s_a * std::numbers::sqrt2));
    const double n = m_in_series;
    constexpr int most_rounds = 200;
    for (int round = 0; round < most_rounds; ++round) {
        std::array<double, 2> f{};
        std::array<double, 2> slope{};
        for (std::size_t k = 0; k < m_paths; ++k) {
            const double bend = std::exp(std::min(m_junction_v[k] / thermal_v, 600.0));
            m_i[k] = d.i_s_a * (bend - 1);
            slope[k] = d.i_s_a * bend / thermal_v;
        }
        for (std::size_t k = 0; k < m_paths; ++k) {
            f[k] = m_open_v[k] - n * (m_junction_v[k] + d.r_ohm * m_i[k]);
            for (std::size_t other = 0; other < m_paths; ++other)
                f[k] -= m_ohm[k][other] * m_i[other];
        }
        const double a = n + (m_ohm[0][0] + n * d.r_ohm) * slope[0];
        std::array<double, 2> change{f[0] / a, 0};
        if (m_paths == 2) {
            const double b = n + (m_ohm[1][1] + n * d.r_ohm) * slope[1];
            const double up = m_ohm[0][1] * slope[1];
            const double down = m_ohm[1][0] * slope[0];
            const double det = a * b - up * down;
            change = {(b * f[0] - up * f[1]) / det, (a * f[1] - down * f[0]) / det};
        }
        double largest = 0;
        for (std::size_t k = 0; k < m_paths; ++k) {
            double next = m_junction_v[k] + change[k];
            // Past the knee the exponential runs away from its tangent: go there on a logarithm.
            if (next > critical_v && next - m_junction_v[k] > 2 * thermal_v)
                next = m_junction_v[k] > 0
                           ? m_junction_v[k] + thermal_v * std::log1p((next - m_junction_v[k]) / thermal_v)
                           : critical_v;
            largest = std::max(largest, std::abs(next - m_junction_v[k]) / (thermal_v + std::abs(next)));
            m_junction_v[k] = next;
        }
        if (largest < 1e-11)
            break;
    }
    for (std::size_t k = 0; k < m_paths; ++k)
        m_i[k] = d.i_s_a * std::expm1(std::min(m_junction_v[k] / thermal_v, 600.0));
}

/// E and M of the paths: what drives each with none conducting, and what each ampere takes from it.
void RectifierCircuit::openVoltages(double t_s, const SimState& history)
{
    const double e_v = emf(t_s);
    const auto& l_h = m_chain.source.l_h;
    const double kick_ohm = l_h ? *l_h / m_h : 0;
    m_source_z = m_chain.source.r_ohm + kick_ohm;
    m_emf = {e_v, -e_v};
    if (l_h) {
        const bool halves = m_chain.rectifier.kind == SimRectifier::FullWaveCt;
        m_emf[0] += kick_ohm * history[m_source_state[0]];
        m_emf[1] += (halves ? 1 : -1) * kick_ohm * history[m_source_state[1]];
    }
    const double r = m_source_z;
    const double g = m_folds.front().g;
    const double j = m_folds.front().j;
    if (m_doubler) {
        const SmoothingSection& upper = *m_chain.rectifier.upper;
        const SmoothingSection& lower = *m_chain.rectifier.lower;
        Doubler& d = m_double;
        d.upper_z = m_h / upper.c_f + upper.esr_ohm;
        d.lower_z = m_h / lower.c_f + lower.esr_ohm;
        d.upper_v = history[0];
        d.lower_v = history[1];
        // i_filter = g·v_P − j with v_P = upper + lower.
        const double inner = 1 + g * (d.upper_z + d.lower_z);
        const double open_a = (g * (d.upper_v + d.lower_v) - j) / inner;
        m_open_v = {m_emf[0] - (d.upper_v - d.upper_z * open_a), m_emf[1] - (d.lower_v - d.lower_z * open_a)};
        const double u = g * d.upper_z / inner;
        const double l = g * d.lower_z / inner;
        m_ohm = {
            {{r + d.upper_z * (1 - u), -r - d.upper_z * l}, {-r - d.lower_z * u, r + d.lower_z * (1 - l)}}};
        return;
    }
    const double v_open = j / g;
    const double z = 1 / g;
    m_open_v = {m_emf[0] - v_open, m_emf[1] - v_open};
    const double between = m_chain.rectifier.kind == SimRectifier::Bridge ? z - r : z;
    m_ohm = {{{r + z, between}, {between, r + z}}};
}

void RectifierCircuit::solveDiodes(double t_s, const SimState& history)
{
    openVoltages(t_s, history);
    const SimDiode& d = m_chain.rectifier.diode;
    if (d.model == DiodeModel::Exponential)
        return solveJunctions();
    const double threshold = d.model == DiodeModel::Threshold ? m_in_series * d.v_f_v : 0;
    m_i = {solveOne(m_open_v[0], m_ohm[0][0]), 0};
    if (m_paths == 1 || m_open_v[1] - m_ohm[1][0] * m_i[0] <= threshold)
        return;
    m_i = {0, solveOne(m_open_v[1], m_ohm[1][1])};
    if (m_open_v[0] - m_ohm[0][1] * m_i[1] <= threshold)
        return;
    solveBoth();
}

// ---- unfolding

double RectifierCircuit::unfoldChain(const SimState& history, double v_p, SimState& x)
{
    double v = v_p;
    for (std::size_t k = 0; k < m_elements.size(); ++k) {
        const Element& element = m_elements[k];
        m_element_v[k] = v;
        switch (element.kind) {
        case ElementKind::Capacitor:
            m_element_a[k] = (v - history[element.state]) / (m_h / element.c_f + element.r_ohm);
            x[element.state] = history[element.state] + m_h / element.c_f * m_element_a[k];
            break;
        case ElementKind::Load: {
            const LoadLine line = lineOf(*m_loads[element.section], m_load_v[element.section]);
            m_element_a[k] = line.g_s * v + line.i0_a;
            break;
        }
        case ElementKind::Series: {
            const double i_a = m_folds[k].g * v - m_folds[k].j;
            m_element_a[k] = i_a;
            const double kick_ohm = element.l_h / m_h;
            const Fold& right = m_folds[k + 1]; // a load stands behind every series element
            // Behind a large impedance the chain says its voltage better than a difference of large numbers.
            if ((element.r_ohm + kick_ohm) * right.g > 1)
                v = (i_a + right.j) / right.g;
            else if (element.l_h > 0)
                v -= element.r_ohm * i_a + kick_ohm * (i_a - history[element.state]);
            else
                v -= element.r_ohm * i_a;
            if (element.l_h > 0)
                x[element.state] = i_a;
            break;
        }
        }
    }
    return v;
}

void RectifierCircuit::unfold(const SimState& history, SimState& x)
{
    x = {};
    const Fold& fold = m_folds.front();
    if (m_doubler) {
        Doubler& d = m_double;
        const double v_open = d.upper_v + d.lower_v + d.upper_z * m_i[0] + d.lower_z * m_i[1];
        const double sum_z = d.upper_z + d.lower_z;
        d.filter_a = (fold.g * v_open - fold.j) / (1 + fold.g * sum_z);
        m_v_p = v_open - sum_z * d.filter_a;
        x[0] = history[0] + m_h / m_chain.rectifier.upper->c_f * (m_i[0] - d.filter_a);
        x[1] = history[1] + m_h / m_chain.rectifier.lower->c_f * (m_i[1] - d.filter_a);
    } else {
        m_v_p = (m_i[0] + m_i[1] + fold.j) / fold.g;
    }
    unfoldChain(history, m_v_p, x);
    if (m_chain.source.l_h) {
        if (m_chain.rectifier.kind == SimRectifier::FullWaveCt) {
            x[m_source_state[0]] = m_i[0];
            x[m_source_state[1]] = m_i[1];
        } else {
            x[m_source_state[0]] = m_i[0] - m_i[1];
        }
    }
}

/// Whether the folded chain meets the rectifier in one voltage: a power load's tangent falls, and may fall
/// too steeply for the capacitors within this step. A doubler's own stand before a chain that may be a load
/// alone.
bool RectifierCircuit::hasOneAnswer() const
{
    const double g = m_folds.front().g;
    if (!m_doubler)
        return g > 0;
    const auto ohms = [this](const SmoothingSection& half) { return m_h / half.c_f + half.esr_ohm; };
    return 1 + g * (ohms(*m_chain.rectifier.upper) + ohms(*m_chain.rectifier.lower)) > 0;
}

bool RectifierCircuit::solve(double t_s, double h_s, const SimState& history, SimState& x)
{
    m_h = h_s;
    m_t = t_s;
    constexpr int most_rounds = 40;
    for (int round = 0; round < most_rounds; ++round) {
        fold(history);
        if (!hasOneAnswer())
            return false;
        solveDiodes(t_s, history);
        unfold(history, x);
        bool holds = true;
        for (std::size_t k = 0; k < m_elements.size(); ++k) {
            if (m_elements[k].kind != ElementKind::Load)
                continue;
            const std::size_t load = m_elements[k].section;
            const double v = m_element_v[k];
            if (!std::isfinite(v))
                return false;
            holds = lineHolds(*m_loads[load], m_load_v[load], v) && holds;
            m_load_v[load] = v;
        }
        if (holds)
            return true;
    }
    return false;
}

void RectifierCircuit::tangent(const SimState& d_history, SimState& dx) const
{
    const Fold moved = foldDelta(d_history);
    const double g = moved.g;
    std::array<double, 2> d_emf{};
    if (m_chain.source.l_h) {
        const double kick_ohm = *m_chain.source.l_h / m_h;
        const bool halves = m_chain.rectifier.kind == SimRectifier::FullWaveCt;
        d_emf = {kick_ohm * d_history[m_source_state[0]],
                 (halves ? 1 : -1) * kick_ohm * d_history[m_source_state[1]]};
    }
    std::array<double, 2> d_open{};
    const Doubler& d = m_double;
    const double inner = 1 + g * (d.upper_z + d.lower_z);
    if (m_doubler) {
        const double d_a = (g * (d_history[0] + d_history[1]) - moved.j) / inner;
        d_open = {d_emf[0] - (d_history[0] - d.upper_z * d_a), d_emf[1] - (d_history[1] - d.lower_z * d_a)};
    } else {
        d_open = {d_emf[0] - moved.j / g, d_emf[1] - moved.j / g};
    }
    std::array<double, 2> d_i{};
    const bool junction = m_chain.rectifier.diode.model == DiodeModel::Exponential;
    const bool first = junction || m_i[0] > 0;
    const bool second = m_paths == 2 && (junction || m_i[1] > 0);
    const double a = first ? m_ohm[0][0] + pathSlope(0) : 0;
    const double b = second ? m_ohm[1][1] + pathSlope(1) : 0;
    if (first && second) {
        const double det = a * b - m_ohm[0][1] * m_ohm[1][0];
        d_i = {(b * d_open[0] - m_ohm[0][1] * d_open[1]) / det,
               (a * d_open[1] - m_ohm[1][0] * d_open[0]) / det};
    } else if (first) {
        d_i[0] = d_open[0] / a;
    } else if (second) {
        d_i[1] = d_open[1] / b;
    }
    dx = {};
    double v = 0;
    if (m_doubler) {
        const double v_open = d_history[0] + d_history[1] + d.upper_z * d_i[0] + d.lower_z * d_i[1];
        const double filter_a = (g * v_open - moved.j) / inner;
        v = v_open - (d.upper_z + d.lower_z) * filter_a;
        dx[0] = d_history[0] + m_h / m_chain.rectifier.upper->c_f * (d_i[0] - filter_a);
        dx[1] = d_history[1] + m_h / m_chain.rectifier.lower->c_f * (d_i[1] - filter_a);
    } else {
        v = (d_i[0] + d_i[1] + moved.j) / g;
    }
    unfoldTangent(d_history, v, dx);
    if (m_chain.source.l_h) {
        if (m_chain.rectifier.kind == SimRectifier::FullWaveCt) {
            dx[m_source_state[0]] = d_i[0];
            dx[m_source_state[1]] = d_i[1];
        } else {
            dx[m_source_state[0]] = d_i[0] - d_i[1];
        }
    }
}

void RectifierCircuit::unfoldTangent(const SimState& d_history, double v, SimState& dx) const
{
    // j is needed at every series element: from the right again, kept on the way.
    std::array<double, 2 * most_states> js{};
    double j = 0;
    for (std::size_t k = m_elements.size(); k-- > 0;) {
        const Element& element = m_elements[k];
        const double g_right = k + 1 < m_elements.size() ? m_folds[k + 1].g : 0;
        if (element.kind == ElementKind::Capacitor) {
            j += d_history[element.state] / (m_h / element.c_f + element.r_ohm);
        } else if (element.kind == ElementKind::Series) {
            const double kick_ohm = element.l_h / m_h;
            const double e_v = element.l_h > 0 ? kick_ohm * d_history[element.state] : 0;
            j = (j - e_v * g_right) / (1 + (element.r_ohm + kick_ohm) * g_right);
        }
        js[k] = j;
    }
    for (std::size_t k = 0; k < m_elements.size(); ++k) {
        const Element& element = m_elements[k];
        if (element.kind == ElementKind::Capacitor) {
            const double i_a = (v - d_history[element.state]) / (m_h / element.c_f + element.r_ohm);
            dx[element.state] = d_history[element.state] + m_h / element.c_f * i_a;
        } else if (element.kind == ElementKind::Series) {
            const double i_a = m_folds[k].g * v - js[k];
            v -= element.r_ohm * i_a;
            if (element.l_h > 0) {
                v -= element.l_h / m_h * (i_a - d_history[element.state]);
                dx[element.state] = i_a;
            }
        }
    }
}

void RectifierCircuit::look(double t_s, SimMoment& moment) const
{
    moment.t_s = t_s;
    moment.middle = false; // a step may hold a switching
    moment.e_v = emf(t_s);
    moment.diode_a = m_i;
    moment.node_v.clear();
    moment.node_a.clear();
    moment.series_a.clear();
    moment.place_v.clear();
    moment.place_v.push_back(m_v_p);
    const bool halves = m_chain.rectifier.kind == SimRectifier::FullWaveCt;
    moment.half_a = halves ? m_i : std::array<double, 2>{m_i[0] - m_i[1], 0};
    moment.source_a = m_i[0] - m_i[1];
    // Without current nothing drops in the source; with it the implicit step knows what does.
    const auto terminal = [&](std::size_t half, double i_a, double open_v) {
        return i_a == 0 ? open_v : m_emf[half] - m_source_z * i_a;
    };
    switch (m_chain.rectifier.kind) {
    case SimRectifier::Half:
        moment.diode_v = {terminal(0, m_i[0], moment.e_v) - m_v_p, 0};
        break;
    case SimRectifier::FullWaveCt:
        moment.diode_v = {terminal(0, m_i[0], moment.e_v) - m_v_p, terminal(1, m_i[1], -moment.e_v) - m_v_p};
        break;
    case SimRectifier::Bridge: {
        const double u = terminal(0, moment.source_a, moment.e_v);
        moment.diode_v = {(u - m_v_p) / 2, (-u - m_v_p) / 2};
        break;
    }
    case SimRectifier::Doubler: {
        const double u = terminal(0, moment.source_a, moment.e_v);
        const double upper_v = m_double.upper_v + m_double.upper_z * (m_i[0] - m_double.filter_a);
        const double lower_v = m_double.lower_v + m_double.lower_z * (m_i[1] - m_double.filter_a);
        moment.diode_v = {u - upper_v, -u - lower_v};
        moment.node_v.push_back(upper_v);
        moment.node_v.push_back(lower_v);
        moment.node_a.push_back(m_i[0] - m_double.filter_a);
        moment.node_a.push_back(m_i[1] - m_double.filter_a);
        break;
    }
    }
    for (std::size_t k = 0; k < m_elements.size(); ++k) {
        const Element& element = m_elements[k];
        if (element.kind == ElementKind::Capacitor) {
            moment.node_v.push_back(m_element_v[k]);
            moment.node_a.push_back(m_element_a[k]);
        } else if (element.kind == ElementKind::Series) {
            moment.series_a.push_back(m_element_a[k]);
            moment.place_v.push_back(m_element_v[k + 1]); // the load at least stands behind it
        } else if (element.section == m_main_load) {
            moment.load_v = m_element_v[k];
            moment.load_a = m_element_a[k];
        }
    }
}

} // namespace offshoot
