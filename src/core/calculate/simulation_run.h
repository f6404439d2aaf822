// A rectifier circuit over time, whatever its diodes and loads: steps with error control, those of a
// two-stage, second-order, L-stable Runge-Kutta method (SDIRK, γ = 1 − 1/√2; Alexander 1977).
#pragma once

#include "core/calculate/chain_integrator.h"
#include "core/calculate/rectifier_circuit.h"

namespace offshoot {

class SimRun : public ChainIntegrator
{
public:
    SimRun(const RectifierChain& chain, const SimProgress& progress)
        : ChainIntegrator(chain, progress)
        , m_circuit(chain)
    {}

    std::size_t states() const override { return m_circuit.states(); }
    bool isVoltage(std::size_t state) const override { return m_circuit.isVoltage(state); }
    SimState initial() const override { return m_circuit.initial(); }
    void setPhase(double phase_rad) override { m_circuit.setPhase(phase_rad); }
    void integrate(SimState& x, double t0_s, double t1_s, const Seen& seen,
                   std::vector<SimState>* derivative = nullptr) override;

protected:
    void run(SimState& x, double t1_s, const Seen& seen, std::vector<SimState>* derivative) override;
    double mostAmps() const override { return m_most_a; }
    std::optional<std::array<std::size_t, 2>> sourceStates() const override
    {
        return m_circuit.sourceStates();
    }
    std::vector<double> stepsTaken() const override { return m_taken_s; }
    void repeatSteps(std::vector<double> steps_s) override { m_repeated_s = std::move(steps_s); }

private:
    bool step(SimState& x, double t_s, double h_s, SimState& next, double& error,
              std::vector<SimState>* derivative);
    double currentScale(const SimState& x) const;
    double pulseError(const std::array<double, 2>& first_a) const;
    void begin(const SimState& x, double t_s, const Seen& seen);
    void take(SimState& x, const SimState& next, double t_s, const Seen& seen,
              std::vector<SimState>* derivative);
    unsigned conducting();

    RectifierCircuit m_circuit;
    SimState m_slope{}; ///< dx/dt at the end of the last step
    bool m_has_slope = false;
    SimMoment m_moment{};
    std::vector<double> m_taken_s;    ///< steps of the last stretch with a derivative
    std::vector<double> m_repeated_s; ///< those of a lap, if laps repeat any
    unsigned m_paths_on = 0;
    std::array<double, 2> m_path_a{}; ///< currents of the paths at the end of the last step
    double m_path_seen_a = 0;         ///< the largest of this integration
    double m_path_most_a = 0;         ///< and of the one before, by which pulses are measured
    double m_most_a = 0;
    std::vector<SimState> m_carried; ///< the derivative after the step tried last
};

} // namespace offshoot
