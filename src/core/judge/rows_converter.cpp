#include "core/judge/row_maker.h"
#include "core/values/format.h"

#include <algorithm>

namespace offshoot::rows {

void RowMaker::flybackRows()
{
    std::vector<std::string> assumed;
    assumeDrop(assumed);
    std::vector<std::string> with_spike = assumed;
    if (!m_s.converter.spike_v)
        with_spike.emplace_back("leakage spike 0.3·V_or");
    const auto spike = [&](double v_or) { return m_s.converter.spike_v.value_or(usual::spike_share * v_or); };
    const auto drain = [&](const State& s) -> Value {
        const Value v_or = reflected(s);
        return v_or ? Value(highestInput() + *v_or + spike(*v_or)) : Value();
    };
    const auto reflected_working = [&](const State& s) {
        return "V_or = (" + volts(s.high_v) + " + " + volts(rectifierDrop()) + ") × " +
               significant(*ratio(), 4) + " = " + volts(*reflected(s));
    };
    add(
        RowId::SwitchVoltage, m_s.converter.v_rated_v, drain, upper, "V_in,max + V_or + V_spike",
        [&](const State& s) {
            return volts(highestInput()) + " + " + volts(*reflected(s)) + " + " +
                   volts(spike(*reflected(s))) + " = " + volts(*drain(s)) + "; " + reflected_working(s);
        },
        with_spike);
    add(
        RowId::ClampLevel, m_s.converter.clamp_v, [&](const State& s) { return reflected(s); }, clamp,
        "V_or = (V + V_f)·N_p/N_s; fits when the clamp is ≥ 1.4·V_or, breaks at ≤ 1.1·V_or",
        reflected_working, assumed);

    std::vector<std::string> trough = assumed;
    const double v_in_min_v = lowestBus(trough);
    const auto duty = [&](const State& s) -> Value {
        const Value v_or = reflected(s);
        return v_or ? Value(*v_or / (*v_or + v_in_min_v)) : Value();
    };
    add(
        RowId::ConverterDuty, m_s.converter.duty_max, duty, upper, "V_or / (V_or + V_in,min)",
        [&](const State& s) {
            return volts(*reflected(s)) + " / (" + volts(*reflected(s)) + " + " + volts(v_in_min_v) +
                   ") = " + significant(*duty(s), 3);
        },
        trough);
}

void RowMaker::auxiliaryRows()
{
    std::vector<std::string> assumed;
    const double aux_drop = auxiliaryDrop(assumed);
    const std::string formula = "V_cc = (V + V_f)·N_aux/N_s − V_f,aux";
    add(
        RowId::AuxiliaryLow, m_s.auxiliary.off_v,
        [&](const State& s) { return auxiliarySupply(s.low_v, aux_drop); }, lockout, formula,
        [&](const State& s) { return auxiliaryWorking(s.low_v, aux_drop); }, assumed);
    add(
        RowId::AuxiliaryHigh, m_s.auxiliary.max_v,
        [&](const State& s) { return auxiliarySupply(s.high_v, aux_drop); }, upper, formula,
        [&](const State& s) { return auxiliaryWorking(s.high_v, aux_drop); }, assumed);
}

/// V_max = D_eff·V_p,min·N_s/N_p − V_f: the largest duty at the choke, at the lowest input.
void RowMaker::forwardRows()
{
    std::vector<std::string> assumed;
    assumeDrop(assumed);
    const double half = m_s.topology == Topology::HalfBridge ? 0.5 : 1;
    const double v_p_min_v = half * lowestBus(assumed);
    const Value turns = ratio();
    Value reach_v;
    if (turns && m_s.converter.duty_max)
        reach_v = *m_s.converter.duty_max * v_p_min_v / *turns - rectifierDrop();
    add(
        RowId::OutputReach, reach_v && *reach_v > 0 ? reach_v : Value(),
        [](const State& s) -> Value { return s.high_v; }, upper, "V ≤ D_eff·V_p,min·N_s/N_p − V_f",
        [&](const State&) {
            return reach_v ? significant(*m_s.converter.duty_max, 3) + " × " + volts(v_p_min_v) + " / " +
                                 significant(*turns, 4) + " − " + volts(rectifierDrop()) + " = " +
                                 volts(*reach_v) + " at most"
                           : std::string();
        },
        assumed);
    const auto drain = [this](const State&) -> Value {
        return highestInput() * (m_s.topology == Topology::Forward ? 2 : 1);
    };
    add(
        RowId::SwitchVoltage, m_s.converter.v_rated_v, drain, upper,
        m_s.topology == Topology::Forward ? "2·V_in,max (reset winding of equal turns)" : "V_in,max",
        [&](const State& s) { return volts(*drain(s)) + "; it does not follow the output"; },
        m_s.topology == Topology::Forward ? std::vector<std::string>{"reset to twice the input"}
                                          : std::vector<std::string>{});
}

} // namespace offshoot::rows
