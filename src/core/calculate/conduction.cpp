#include "core/calculate/conduction.h"

#include <Eigen/LU>

#include <cmath>
#include <numbers>

namespace offshoot {

namespace {

bool isDoubler(const RectifierChain& chain) { return chain.rectifier.kind == SimRectifier::Doubler; }
bool hasHalves(const RectifierChain& chain) { return chain.rectifier.kind == SimRectifier::FullWaveCt; }
double inPath(const RectifierChain& chain) { return chain.rectifier.kind == SimRectifier::Bridge ? 2 : 1; }

bool isBit(std::uint32_t bits, std::size_t at) { return (bits >> at & 1U) != 0; }

} // namespace

ChainStates::ChainStates(const RectifierChain& chain)
{
    const auto state = [this](bool voltage) {
        is_voltage[count] = voltage;
        return count++;
    };
    if (isDoubler(chain)) {
        state(true);
        state(true);
    }
    std::vector<std::size_t> stiff{none}; // the state of each node's capacitors without ESR
    stiff_f = {0};
    for (const SmoothingSection& section : chain.filter) {
        const std::size_t node = nodes - 1;
        node_of.push_back(node);
        switch (section.kind) {
        case SmoothingKind::C:
            if (section.esr_ohm > 0) {
                of_section.push_back(state(true));
                break;
            }
            if (stiff[node] == none)
                stiff[node] = state(true);
            of_section.push_back(stiff[node]);
            stiff_f[node] += section.c_f;
            break;
        case SmoothingKind::L:
        case SmoothingKind::R:
            of_section.push_back(section.kind == SmoothingKind::L ? state(false) : none);
            ++nodes;
            stiff.push_back(none);
            stiff_f.push_back(0);
            break;
        }
    }
    of_source = {none, none};
    if (chain.source.l_h) {
        of_source[0] = state(false);
        of_source[1] = hasHalves(chain) ? state(false) : of_source[0];
    }
    for (const TapLoad& tap : chain.tap_loads) {
        loads.push_back(&tap.load);
        load_node.push_back(node_of[static_cast<std::size_t>(tap.section)]);
    }
    loads.push_back(&chain.load);
    load_node.push_back(nodes - 1);
}

/// Kirchhoff's laws with every capacitor as a voltage and every choke as a current that is known: solved once
/// for all states, sine and one.
class Conduction::Network
{
public:
    Network(const RectifierChain& chain, const ChainStates& states, const ConductionKey& key)
        : m_chain(chain)
        , m_states(states)
        , m_key(key)
        , m_width(static_cast<Eigen::Index>(states.count) + 3)
    {
        m_stiff_at.assign(states.nodes, 0);
        m_size = series(0) + static_cast<Eigen::Index>(states.nodes) - 1;
        for (std::size_t node = 0; node < states.nodes; ++node)
            if (states.stiff_f[node] > 0)
                m_stiff_at[node] = m_size++;
        m_laws = Eigen::MatrixXd::Zero(m_size, m_size);
        m_known = Eigen::MatrixXd::Zero(m_size, m_width);
        m_pinned = choke();
        setSource();
        setPaths();
        setChain();
        m_answer = m_laws.partialPivLu().solve(m_known);
    }

    LinearRow terminal(std::size_t half) const { return row(static_cast<Eigen::Index>(half)); }
    LinearRow path(std::size_t k) const { return row(2 + static_cast<Eigen::Index>(k)); }
    LinearRow filter() const { return row(4); }
    LinearRow node(std::size_t k) const { return row(volts(k)); }
    LinearRow along(std::size_t k) const { return row(series(k)); }
    /// Into one capacitor of the filter.
    LinearRow into(std::size_t section) const
    {
        const SmoothingSection& c = m_chain.filter[section];
        const std::size_t at = m_states.node_of[section];
        if (c.esr_ohm > 0)
            return (node(at) - unit(m_states.of_section[section])) / c.esr_ohm;
        return row(m_stiff_at[at]) * (c.c_f / m_states.stiff_f[at]);
    }
    LinearRow draw(std::size_t load) const
    {
        const SimLoad& l = *m_states.loads[load];
        return conductance(load) * node(m_states.load_node[load]) +
               (conductance(load) > 0 ? 0.0 : l.current_a.value_or(0)) * unit(one());
    }
    /// A doubler's capacitor with its ESR.
    LinearRow half(std::size_t k) const { return unit(k) + capacitorOf(k).esr_ohm * (path(k) - filter()); }
    /// What a path's far end stands at.
    LinearRow behind(std::size_t k) const { return isDoubler(m_chain) ? half(k) : node(0); }
    LinearRow emf() const { return std::numbers::sqrt2 * m_chain.source.v_rms_v * unit(sine()); }
    LinearRow unit(std::size_t at) const
    {
        LinearRow made = LinearRow::Zero(m_width);
        made(static_cast<Eigen::Index>(at)) = 1;
        return made;
    }
    std::size_t sine() const { return m_states.count; }
    std::size_t one() const { return m_states.count + 2; }
    const SmoothingSection& capacitorOf(std::size_t k) const
    {
        return k == 0 ? *m_chain.rectifier.upper : *m_chain.rectifier.lower;
    }
    /// The choke that stands still with nothing before it; `filter.size()` where there is none.
    std::size_t pinned() const { return m_pinned; }
    bool conducts() const { return m_key.on[0] || m_key.on[1]; }

private:
    static constexpr Eigen::Index first_node = 5;
    Eigen::Index volts(std::size_t k) const { return first_node + static_cast<Eigen::Index>(k); }
    Eigen::Index series(std::size_t k) const { return volts(m_states.nodes + k); }
    LinearRow row(Eigen::Index at) const { return m_answer.row(at); }

    double conductance(std::size_t load) const
    {
        const SimLoad& l = *m_states.loads[load];
        if (l.resistance_ohm)
            return 1 / *l.resistance_ohm;
        return isBit(m_key.fallen, load) ? *l.current_a / l.v_min_v : 0;
    }

    /// With every path blocked a first choke has nothing that could feed it: the nodes before it float.
    std::size_t choke() const
    {
        const std::size_t none = m_chain.filter.size();
        if (conducts() || isDoubler(m_chain))
            return none;
        for (std::size_t i = 0; i < m_chain.filter.size(); ++i) {
            if (m_chain.filter[i].kind == SmoothingKind::C)
                return none;
            if (m_chain.filter[i].kind == SmoothingKind::L)
                return i;
        }
        return none;
    }

    void setSource()
    {
        const SimSource& source = m_chain.source;
        const double crest_v = std::numbers::sqrt2 * source.v_rms_v;
        const bool halves = hasHalves(m_chain);
        const auto at_sine = static_cast<Eigen::Index>(sine());
        for (Eigen::Index k = 0; k < 2; ++k) {
            const auto half = static_cast<std::size_t>(k);
            if (k == 1 && !halves) { // the other end of the same winding
                m_laws(1, 0) = m_laws(1, 1) = 1;
                continue;
            }
            const bool fed = halves ? m_key.on[half] : conducts();
            if (source.l_h && fed) {
                m_laws(k, 2 + k) = 1;
                if (!halves)
                    m_laws(0, 3) = -1;
                m_known(k, static_cast<Eigen::Index>(m_states.of_source[half])) = 1;
                continue;
            }
            m_laws(k, k) = 1;
            m_known(k, at_sine) = (k == 0 ? 1 : -1) * crest_v;
            m_laws(k, 2 + k) = source.r_ohm;
            if (!halves)
                m_laws(0, 3) = -source.r_ohm;
        }
    }

    void setPaths()
    {
        const SimDiode& diode = m_chain.rectifier.diode;
        const double n = inPath(m_chain);
        for (Eigen::Index k = 0; k < 2; ++k) {
            const Eigen::Index law = 2 + k;
            if (!m_key.on[static_cast<std::size_t>(k)]) {
                m_laws(law, 2 + k) = 1;
                continue;
            }
            m_laws(law, k) = 1;
            m_laws(law, 2 + k) = -n * diode.r_ohm;
            m_known(law, static_cast<Eigen::Index>(one())) = n * diode.v_f_v;
            if (isDoubler(m_chain)) {
                const double esr_ohm = capacitorOf(static_cast<std::size_t>(k)).esr_ohm;
                m_laws(law, 2 + k) -= esr_ohm;
                m_laws(law, 4) = esr_ohm;
                m_known(law, k) = 1;
            } else {
                m_laws(law, volts(0)) = -1;
            }
        }
        // What the filter is fed.
        if (!isDoubler(m_chain)) {
            m_laws(4, 4) = 1;
            m_laws(4, 2) = m_laws(4, 3) = -1;
            return;
        }
        m_laws(4, volts(0)) = 1;
        for (Eigen::Index k = 0; k < 2; ++k) {
            const double esr_ohm = capacitorOf(static_cast<std::size_t>(k)).esr_ohm;
            m_laws(4, 2 + k) = -esr_ohm;
            m_laws(4, 4) += esr_ohm;
            m_known(4, k) = 1;
        }
    }

    void setChain()
    {
        m_laws(volts(0), 4) = 1; // currents into each node
        std::size_t link = 0;
        for (std::size_t i = 0; i < m_chain.filter.size(); ++i) {
            const SmoothingSection& section = m_chain.filter[i];
            const std::size_t node = m_states.node_of[i];
            if (section.kind != SmoothingKind::C) {
                setSeries(i, link++);
            } else if (section.esr_ohm > 0) {
                m_laws(volts(node), volts(node)) -= 1 / section.esr_ohm;
                m_known(volts(node), static_cast<Eigen::Index>(m_states.of_section[i])) -=
                    1 / section.esr_ohm;
            } else {
                const Eigen::Index stiff = m_stiff_at[node];
                m_laws(volts(node), stiff) = -1;
                m_laws(stiff, volts(node)) = 1;
                m_known(stiff, static_cast<Eigen::Index>(m_states.of_section[i])) = 1;
            }
        }
        for (std::size_t load = 0; load < m_states.loads.size(); ++load) {
            const Eigen::Index node = volts(m_states.load_node[load]);
            const double siemens = conductance(load);
            m_laws(node, node) -= siemens;
            if (!(siemens > 0))
                m_known(node, static_cast<Eigen::Index>(one())) +=
                    m_states.loads[load]->current_a.value_or(0);
        }
    }

    void setSeries(std::size_t section, std::size_t link)
    {
        const SmoothingSection& part = m_chain.filter[section];
        const Eigen::Index at = series(link);
        m_laws(volts(link), at) = -1;
        m_laws(volts(link + 1), at) = 1;
        m_laws(at, at) = 1;
        if (part.kind == SmoothingKind::L && section != m_pinned) {
            m_known(at, static_cast<Eigen::Index>(m_states.of_section[section])) = 1;
            return;
        }
        // A choke without current takes no voltage either.
        m_laws(at, at) = -part.r_ohm;
        m_laws(at, volts(link)) = 1;
        m_laws(at, volts(link + 1)) = -1;
    }

    const RectifierChain& m_chain;
    const ChainStates& m_states;
    const ConductionKey& m_key;
    Eigen::Index m_width;
    Eigen::Index m_size = 0;
    std::size_t m_pinned = 0;
    std::vector<Eigen::Index> m_stiff_at; ///< the current into each node's capacitors without ESR
    Eigen::MatrixXd m_laws;
    Eigen::MatrixXd m_known;
    Eigen::MatrixXd m_answer;
};

Conduction::Conduction(const RectifierChain& chain, const ChainStates& states, const ConductionKey& key)
    : m_key(key)
{
    const Network network(chain, states, key);
    setRates(chain, states, network);
    setChecks(chain, states, network);
    setLook(chain, states, network);
    setAdvance(1 / chain.source.f_hz);
}

void Conduction::setRates(const RectifierChain& chain, const ChainStates& states, const Network& network)
{
    const auto width = static_cast<Eigen::Index>(states.count) + 3;
    m_rate = LinearMap::Zero(width, width);
    const auto rate = [this](std::size_t state) { return m_rate.row(static_cast<Eigen::Index>(state)); };
    if (isDoubler(chain))
        for (std::size_t k = 0; k < 2; ++k)
            rate(k) = (network.path(k) - network.filter()) / network.capacitorOf(k).c_f;
    std::size_t link = 0;
    for (std::size_t i = 0; i < chain.filter.size(); ++i) {
        const SmoothingSection& section = chain.filter[i];
        if (section.kind == SmoothingKind::C) {
            rate(states.of_section[i]) = network.into(i) / section.c_f;
            continue;
        }
        if (i == network.pinned())
            m_still.push_back(states.of_section[i]);
        else if (section.kind == SmoothingKind::L)
            rate(states.of_section[i]) =
                (network.node(link) - network.node(link + 1) - section.r_ohm * network.along(link)) /
                section.l_h;
        ++link;
    }
    const bool halves = hasHalves(chain);
    for (std::size_t half = 0; chain.source.l_h && half < (halves ? 2U : 1U); ++half) {
        const std::size_t state = states.of_source[half];
        if (halves ? m_key.on[half] : network.conducts())
            rate(state) = ((half == 0 ? 1 : -1) * network.emf() - network.terminal(half) -
                           chain.source.r_ohm * network.unit(state)) /
                          *chain.source.l_h;
        else
            m_still.push_back(state);
    }
    const double omega = 2 * std::numbers::pi * chain.source.f_hz;
    m_rate(width - 3, width - 2) = omega;
    m_rate(width - 2, width - 3) = -omega;
}

void Conduction::setChecks(const RectifierChain& chain, const ChainStates& states, const Network& network)
{
    std::vector<LinearRow> values;
    std::vector<LinearRow> bends;
    const LinearRow one = network.unit(network.one());
    for (std::size_t k = 0; k < (chain.rectifier.kind == SimRectifier::Half ? 1U : 2U); ++k) {
        m_bounds.push_back({static_cast<int>(k), 0});
        if (m_key.on[k]) {
            values.push_back(network.path(k));
            bends.emplace_back(network.path(k) * m_rate);
        } else {
            values.emplace_back(network.behind(k) - network.terminal(k) +
                                inPath(chain) * chain.rectifier.diode.v_f_v * one);
        }
    }
    for (std::size_t load = 0; load < states.loads.size(); ++load) {
        const SimLoad& l = *states.loads[load];
        if (!l.current_a)
            continue;
        m_bounds.push_back({-1, load});
        const LinearRow above = network.node(states.load_node[load]) - l.v_min_v * one;
        values.emplace_back(isBit(m_key.fallen, load) ? LinearRow(-above) : above);
    }
    for (std::size_t state = 0; state < states.count; ++state)
        if (!states.is_voltage[state])
            bends.emplace_back(m_rate.row(static_cast<Eigen::Index>(state)));
    const auto bounds = static_cast<Eigen::Index>(values.size());
    m_checks.resize(2 * bounds + static_cast<Eigen::Index>(bends.size()), m_rate.cols());
    for (Eigen::Index i = 0; i < bounds; ++i) {
        m_checks.row(i) = values[static_cast<std::size_t>(i)];
        m_checks.row(bounds + i) = values[static_cast<std::size_t>(i)] * m_rate;
    }
    for (std::size_t i = 0; i < bends.size(); ++i)
        m_checks.row(2 * bounds + static_cast<Eigen::Index>(i)) = bends[i];
}

void Conduction::setAdvance(double cycle_s)
{
    const Eigen::Index width = m_rate.rows();
    double least_s = cycle_s / steps_in_cycle;
    for (int level = 1; level < levels; ++level)
        least_s /= 2;
    // The series of a step in which nothing changes by more than a twentieth.
    constexpr double small = 0.05;
    constexpr int terms = 8;
    const double largest = m_rate.cwiseAbs().rowwise().sum().maxCoeff();
    int doublings = 0;
    while (largest * least_s > small) {
        least_s /= 2;
        ++doublings;
    }
    const LinearMap step = m_rate * least_s;
    LinearMap moved = step; // e^X − 1, which keeps the digits of what hardly moves
    LinearMap term = step;
    for (int k = 2; k <= terms; ++k) {
        term = (term * step / k).eval();
        moved += term;
    }
    const auto twice = [&moved] { moved = (2 * moved + moved * moved).eval(); };
    for (; doublings > 0; --doublings)
        twice();
    m_advance.resize(levels);
    for (int level = levels - 1; level >= 0; --level) {
        m_advance[static_cast<std::size_t>(level)] = LinearMap::Identity(width, width) + moved;
        twice();
    }
}

void Conduction::setLook(const RectifierChain& chain, const ChainStates& states, const Network& network)
{
    std::vector<LinearRow> rows{network.emf(), network.path(0), network.path(1)};
    const bool bridge = chain.rectifier.kind == SimRectifier::Bridge;
    for (std::size_t k = 0; k < 2; ++k)
        rows.emplace_back((network.terminal(k) - network.behind(k)) / (bridge ? 2 : 1));
    if (chain.rectifier.kind == SimRectifier::Half)
        rows.back().setZero();
    const bool halves = hasHalves(chain);
    rows.emplace_back(halves ? network.path(0) : LinearRow(network.path(0) - network.path(1)));
    rows.emplace_back((halves ? 1.0 : 0.0) * network.path(1));
    rows.push_back(network.node(states.nodes - 1));
    rows.push_back(network.draw(states.loads.size() - 1));
    const auto count = [&rows, before = rows.size()] { return rows.size() - before; };
    std::vector<LinearRow> amps;
    if (isDoubler(chain))
        for (std::size_t k = 0; k < 2; ++k) {
            rows.push_back(network.half(k));
            amps.emplace_back(network.path(k) - network.filter());
        }
    for (std::size_t i = 0; i < chain.filter.size(); ++i)
        if (chain.filter[i].kind == SmoothingKind::C) {
            rows.push_back(network.node(states.node_of[i]));
            amps.push_back(network.into(i));
        }
    m_capacitors = count();
    rows.insert(rows.end(), amps.begin(), amps.end());
    m_places = states.nodes;
    m_series = m_places - 1;
    for (std::size_t k = 0; k + 1 < states.nodes; ++k)
        rows.push_back(network.along(k));
    for (std::size_t k = 0; k < states.nodes; ++k)
        rows.push_back(network.node(k));
    m_look.resize(static_cast<Eigen::Index>(rows.size()), m_rate.cols());
    for (std::size_t i = 0; i < rows.size(); ++i)
        m_look.row(static_cast<Eigen::Index>(i)) = rows[i];
}

void Conduction::look(const LinearState& x, double t_s, SimMoment& moment) const
{
    constexpr Eigen::Index most_looked = 9 + 2 * (most_linear - 1) + 2 * 17;
    Eigen::Matrix<double, Eigen::Dynamic, 1, Eigen::ColMajor, most_looked, 1> seen;
    multiply(m_look, x, seen);
    const double* at = seen.data();
    moment.t_s = t_s;
    moment.e_v = at[0];
    moment.diode_a = {at[1], at[2]};
    moment.diode_v = {at[3], at[4]};
    moment.half_a = {at[5], at[6]};
    moment.source_a = at[1] - at[2];
    moment.load_v = at[7];
    moment.load_a = at[8];
    at += 9;
    const auto take = [&at](SimList& list, std::size_t count) {
        list.assign(at, count);
        at += count;
    };
    take(moment.node_v, m_capacitors);
    take(moment.node_a, m_capacitors);
    take(moment.series_a, m_series);
    take(moment.place_v, m_places);
}

} // namespace offshoot
