// A rectifier circuit over time: steps with error control, and the state that repeats itself after a cycle.
// Steps are those of a two-stage, second-order, L-stable Runge-Kutta method (SDIRK, γ = 1 − 1/√2; Alexander
// 1977); their derivative finds the periodic state by Newton's method (shooting).
#pragma once

#include "core/calculate/rectifier_circuit.h"

namespace offshoot {

/// One run of the integrator.
class SimRun
{
public:
    SimRun(RectifierCircuit& circuit, const SimProgress& progress)
        : m_circuit(circuit)
        , m_progress(progress)
    {}

    using Seen = std::function<void(const SimMoment&)>;
    /// From t0 to t1; `seen` is called at the start and after each step. With `derivative` the columns of
    /// dx(t1)/dx(t0) are carried along, by state.
    void integrate(SimState& x, double t0_s, double t1_s, const Seen& seen,
                   std::vector<SimState>* derivative = nullptr);
    /// One cycle from a rising zero of the EMF; after periodic() in the steps that led there.
    void cycle(SimState& x, const Seen& seen, std::vector<SimState>* derivative = nullptr);
    /// The state at a rising zero of the EMF that repeats itself after a cycle: the one that is tended to
    /// from `start`. Throws DocumentError `no_solution` where there is none.
    SimState periodic(const SimState& start);
    void setShare(double from, double to)
    {
        m_share_from = from;
        m_share_to = to;
    }

private:
    bool step(SimState& x, double t_s, double h_s, SimState& next, double& error,
              std::vector<SimState>* derivative);
    double currentScale(const SimState& x) const;
    double pulseError(const std::array<double, 2>& first_a) const;
    void begin(const SimState& x, double t_s, const Seen& seen);
    void take(SimState& x, const SimState& next, double t_s, const Seen& seen,
              std::vector<SimState>* derivative);
    void count();
    unsigned conducting();
    /// The state some cycles later, near enough for shooting.
    SimState followed(SimState x);
    /// One cycle from x, and Newton's step to the x that repeats itself.
    struct Shot
    {
        SimState reached;
        SimState move;
        double moved;   ///< largest change in the cycle, as a share of what is usual here
        double largest; ///< largest change of Newton's step, likewise
        double growth;  ///< of the deviation a cycle damps least, with a power load: Floquet's multiplier
        std::vector<double> steps_s;
    };
    static bool settled(const Shot& shot, double share);
    Shot shoot(const SimState& x);

    RectifierCircuit& m_circuit;
    const SimProgress& m_progress;
    std::int64_t m_steps = 0;
    double m_share_from = 0;
    double m_share_to = 1;
    SimState m_slope{}; ///< dx/dt at the end of the last step
    bool m_has_slope = false;
    SimMoment m_moment{};
    std::vector<double> m_cycle_s; ///< steps of the last cycle with a derivative
    bool m_same_steps = false;     ///< a cycle repeats those
    unsigned m_paths_on = 0;
    std::array<double, 2> m_path_a{}; ///< currents of the paths at the end of the last step
    double m_path_seen_a = 0;         ///< the largest of this integration
    double m_path_most_a = 0;         ///< and of the one before, by which pulses are measured
    double m_most_a = 0;
    std::vector<SimState> m_carried; ///< the derivative after the step tried last
};

} // namespace offshoot
