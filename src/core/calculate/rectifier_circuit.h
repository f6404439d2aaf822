// The circuit of a rectifier chain as equations for one implicit step; simulation_run.h takes the steps.
//
// Everything but the diodes is linear within a step, so the chain is folded from the load back to the
// rectifier (a Norton equivalent at each node), at most two diode paths are solved there as a monotone
// problem with one answer, and the currents are unfolded again. Each step also gives the exact derivative of
// its result. At most 20 states.
#pragma once

#include "core/calculate/chain_integrator.h"

#include <array>
#include <vector>

namespace offshoot {

class RectifierCircuit
{
public:
    explicit RectifierCircuit(const RectifierChain& chain);

    std::size_t states() const { return m_states; }
    SimState initial() const;
    double crest() const;
    /// Whether the state of that place is a voltage; else a current.
    bool isVoltage(std::size_t state) const { return m_is_voltage[state]; }
    /// Of the source's inductance: of each half, or the same for both; nothing without.
    std::optional<std::array<std::size_t, 2>> sourceStates() const
    {
        return m_chain.source.l_h ? std::optional(m_source_state) : std::nullopt;
    }
    /// Phase of the source at t = 0.
    void setPhase(double phase_rad) { m_phase_rad = phase_rad; }

    /// One implicit stage: x with x = X + h·f(x, t). False where a load's line meets nothing: halve the step.
    bool solve(double t_s, double h_s, const SimState& history, SimState& x);
    /// dx for dX of the stage solved last.
    void tangent(const SimState& d_history, SimState& dx) const;
    /// Currents of the two paths at the stage solved last.
    const std::array<double, 2>& pathAmps() const { return m_i; }
    /// What is seen at the stage solved last.
    void look(double t_s, SimMoment& moment) const;

private:
    enum class ElementKind { Capacitor, Load, Series };
    struct Element
    {
        ElementKind kind;
        std::size_t section; ///< of the filter; of a load its place among the loads
        std::size_t state;   ///< of a capacitor or choke
        double c_f;
        double r_ohm; ///< ESR, choke's wire or resistor
        double l_h;   ///< 0 for a resistor
    };
    struct LoadLine
    {
        double g_s;
        double i0_a;
    };
    /// Folded at one element: current into it is g·v − j seen from its left.
    struct Fold
    {
        double g;
        double j;
    };

    void addLoads(std::size_t node, const std::vector<std::size_t>& nodes);
    double emf(double t_s) const;
    LoadLine lineOf(const SimLoad& load, double v_v) const;
    bool lineHolds(const SimLoad& load, double guess_v, double v_v) const;
    void fold(const SimState& history);
    Fold foldDelta(const SimState& d_history) const;
    bool hasOneAnswer() const;
    void solveDiodes(double t_s, const SimState& history);
    void openVoltages(double t_s, const SimState& history);
    void unfold(const SimState& history, SimState& x);
    double unfoldChain(const SimState& history, double v_p, SimState& x);
    /// dx of the filter's elements from dv behind the rectifier.
    void unfoldTangent(const SimState& d_history, double v, SimState& dx) const;

    double pathVoltage(double i_a, std::size_t path) const;
    double pathSlope(std::size_t path) const;
    double solveOne(double e_v, double each_ohm) const;
    void solveBoth();
    void solveJunctions();

    const RectifierChain& m_chain;
    std::vector<Element> m_elements; ///< from the rectifier to the load
    std::vector<const SimLoad*> m_loads;
    std::size_t m_main_load = 0;
    std::size_t m_states = 0;
    std::array<bool, most_states> m_is_voltage{};
    std::array<std::size_t, 2> m_source_state{}; ///< of the source's inductance
    bool m_doubler;
    std::size_t m_paths; ///< 1 or 2
    double m_in_series;  ///< elements in a path: 2 in a bridge
    double m_phase_rad = 0;

    // Of the stage being solved:
    double m_h = 0;
    double m_t = 0;
    std::vector<Fold> m_folds;       ///< one for each element, seen from its left
    std::vector<double> m_load_v;    ///< where each load's line was laid
    std::vector<double> m_element_v; ///< voltage at its left
    std::vector<double> m_element_a; ///< current through it
    double m_v_p = 0;
    std::array<double, 2> m_i{};
    std::array<double, 2> m_junction_v{};         ///< kept from stage to stage
    std::array<double, 2> m_open_v{};             ///< E
    std::array<std::array<double, 2>, 2> m_ohm{}; ///< M
    double m_source_z = 0;                        ///< r + L/h
    std::array<double, 2> m_emf{};                ///< e' of each half
    struct Doubler
    {
        double upper_z;
        double lower_z;
        double upper_v; ///< history
        double lower_v;
        double filter_a;
    } m_double{};
};

} // namespace offshoot
