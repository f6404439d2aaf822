// A rectifier chain with threshold diodes is linear as long as the same diodes conduct: one such state as a
// matrix, x' = M·x with sine, cosine and one among the states, and its exact advance by e^(M·h).
//
// Steps are halvings of a thirty-second of a cycle, so that a switching is met by halving:
// e^(M·h) of every step is made once by scaling and squaring (Moler and Van Loan 2003), as
// e^(2·X) − 1 = 2·D + D² with D = e^X − 1 from a series of the least step.
#pragma once

#include "core/calculate/chain_integrator.h"

#include <Eigen/Core>

#include <array>
#include <vector>

namespace offshoot {

/// Its states, with sine, cosine and one.
inline constexpr int most_linear = static_cast<int>(most_states) + 3;
using LinearState = Eigen::Matrix<double, Eigen::Dynamic, 1, Eigen::ColMajor, most_linear + 1, 1>;
using LinearMap =
    Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::ColMajor, most_linear + 1, most_linear + 1>;
using LinearRow = Eigen::Matrix<double, 1, Eigen::Dynamic, Eigen::RowMajor, 1, most_linear + 1>;

/// m·x in the form that is quickest for so few columns, of which most chains have less than eight.
template <int columns = 4, class Result, class Map>
void multiply(const Map& m, const LinearState& x, Result& result)
{
    constexpr int most_columns = 9;
    if constexpr (columns > most_columns) {
        result.noalias() = m.lazyProduct(x);
    } else if (m.cols() == columns) {
        using Fixed = Eigen::Matrix<double, Eigen::Dynamic, columns>;
        const Eigen::Map<const Fixed> fixed(m.data(), m.rows(), columns);
        result.noalias() = fixed.lazyProduct(x.template head<columns>());
    } else {
        multiply<columns + 1>(m, x, result);
    }
}

/// Where in a chain its states are, the same in every state of conduction.
struct ChainStates
{
    explicit ChainStates(const RectifierChain& chain);

    static constexpr std::size_t none = most_states;
    std::size_t count = 0;
    std::array<bool, most_states> is_voltage{};
    std::size_t nodes = 1;            ///< from the rectifier to the load
    std::vector<std::size_t> node_of; ///< of each section: where it begins
    /// A capacitor's or choke's state; capacitors without ESR at one node share one.
    std::vector<std::size_t> of_section;
    std::vector<double> stiff_f;            ///< at each node: capacitance without ESR
    std::array<std::size_t, 2> of_source{}; ///< of the source's inductance
    std::vector<const SimLoad*> loads;      ///< the taps, then the load
    std::vector<std::size_t> load_node;
};

/// Which paths conduct, and which loads of constant current have fallen to a resistance.
struct ConductionKey
{
    std::array<bool, 2> on{};
    std::uint32_t fallen = 0; ///< a bit for each load
    bool operator==(const ConductionKey&) const = default;
};

class Conduction
{
public:
    static constexpr int levels = 18; ///< 0 a thirty-second of a cycle, each next the half
    static constexpr int steps_in_cycle = 32;

    Conduction(const RectifierChain& chain, const ChainStates& states, const ConductionKey& key);

    const ConductionKey& key() const { return m_key; }
    const LinearMap& advance(int level) const { return m_advance[static_cast<std::size_t>(level)]; }

    /// What keeps it this state while it is positive: the current of a path that conducts, what a path that
    /// blocks lacks; the volts of a load above its least, or below.
    struct Bound
    {
        int path;         ///< or −1
        std::size_t load; ///< where it is no path
    };
    const std::vector<Bound>& bounds() const { return m_bounds; }
    /// What is asked of every step: each bound, how it changes; then how the current of each path that
    /// conducts and of each choke changes, which bends fastest.
    using Checks = Eigen::Matrix<double, Eigen::Dynamic, 1, Eigen::ColMajor, 3 * most_linear, 1>;
    Checks checks(const LinearState& x) const
    {
        Checks checked;
        multiply(m_checks, x, checked);
        return checked;
    }
    /// Chokes without a path stand still at zero.
    const std::vector<std::size_t>& still() const { return m_still; }

    void look(const LinearState& x, double t_s, SimMoment& moment) const;

private:
    class Network;

    void setRates(const RectifierChain& chain, const ChainStates& states, const Network& network);
    void setChecks(const RectifierChain& chain, const ChainStates& states, const Network& network);
    void setAdvance(double cycle_s);
    void setLook(const RectifierChain& chain, const ChainStates& states, const Network& network);

    ConductionKey m_key;
    LinearMap m_rate;
    std::vector<LinearMap> m_advance;
    std::vector<Bound> m_bounds;
    std::vector<std::size_t> m_still;
    Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::ColMajor> m_checks;
    /// Rows: EMF, diode currents and volts, halves' currents, load volts and amperes, then capacitors' volts
    /// and amperes, series amperes, places.
    Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::ColMajor> m_look;
    std::size_t m_capacitors = 0;
    std::size_t m_series = 0;
    std::size_t m_places = 0;
};

} // namespace offshoot
