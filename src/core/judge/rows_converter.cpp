#include "core/judge/row_maker.h"
#include "core/values/format.h"

#include <algorithm>

namespace offshoot::rows {

void RowMaker::flybackRows()
{
    Notes base;
    const double drop_v = rectifierDrop(base);
    const Value turns = ratio(base);
    const auto reflected = [&](const State& s) {
        return when([&](double v, double n) { return (v + drop_v) * n; }, s.high_v, turns);
    };
    const auto reflected_working = [&](const State& s) {
        return "V_or = (" + volts(*s.high_v) + " + " + volts(drop_v) + ") × " + significant(*turns, 4) +
               " = " + volts(*reflected(s));
    };

    Notes notes = base;
    const Value in_v = highestBus(notes);
    if (!m_s.converter.spike_v)
        notes.assumed.emplace_back("leakage spike 0.3·V_or");
    notes.need(m_s.converter.v_rated_v.has_value(), "the switch's rated voltage");
    const auto spike = [&](double v_or) { return m_s.converter.spike_v.value_or(usual::spike_share * v_or); };
    const auto drain = [&](const State& s) {
        return when([&](double v_in, double v_or) { return v_in + v_or + spike(v_or); }, in_v, reflected(s));
    };
    add(
        RowId::SwitchVoltage, Drive::Rise,
        [&](const State& s) { return most(drain(s), m_s.converter.v_rated_v); }, "V_in,max + V_or + V_spike",
        [&](const State& s) {
            return volts(*in_v) + " + " + volts(*reflected(s)) + " + " + volts(spike(*reflected(s))) + " = " +
                   volts(*drain(s)) + "; " + reflected_working(s);
        },
        notes);

    notes = base;
    notes.need(m_s.converter.clamp_v.has_value(), "the clamp's level");
    add(
        RowId::ClampLevel, Drive::Rise,
        [&](const State& s) { return clampRoom(reflected(s), m_s.converter.clamp_v); },
        "V_or = (V + V_f)·N_p/N_s; fits when the clamp is ≥ 1.4·V_or, breaks at ≤ 1.1·V_or",
        reflected_working, notes);

    notes = base;
    const Value low_v = lowestBus(notes);
    notes.need(m_s.converter.duty_max.has_value(), "the controller's largest duty");
    const auto duty = [&](const State& s) {
        return when([](double v_or, double v_in) { return v_or / (v_or + v_in); }, reflected(s), low_v);
    };
    add(
        RowId::ConverterDuty, Drive::Rise,
        [&](const State& s) { return most(duty(s), m_s.converter.duty_max); }, "V_or / (V_or + V_in,min)",
        [&](const State& s) {
            return volts(*reflected(s)) + " / (" + volts(*reflected(s)) + " + " + volts(*low_v) +
                   ") = " + significant(*duty(s), 3);
        },
        notes);
    auxiliaryRows();
}

void RowMaker::auxiliaryRows()
{
    Notes base;
    const double drop_v = rectifierDrop(base);
    const double aux_drop_v = auxiliaryDrop(base);
    const Value turns = auxiliaryRatio(base);
    const std::string formula = "V_cc = (V + V_f)·N_aux/N_s − V_f,aux";
    const auto supply = [&](Value v) { return auxiliarySupply(v, turns, drop_v, aux_drop_v); };
    const auto working = [&](Value v) {
        return "(" + volts(*v) + " + " + volts(drop_v) + ") × " + significant(*turns, 4) + " − " +
               volts(aux_drop_v) + " = " + volts(*supply(v));
    };
    Notes notes = base;
    notes.need(m_s.auxiliary.off_v.has_value(), "the controller's lockout");
    // Within a tenth above the off-threshold it is tight; below it starves.
    constexpr UseBounds lockout{1 / 1.1, 1};
    add(
        RowId::AuxiliaryLow, Drive::Fall,
        [&](const State& s) { return least(supply(s.low_v), m_s.auxiliary.off_v, lockout); }, formula,
        [&](const State& s) { return working(s.low_v); }, notes);
    notes = base;
    notes.need(m_s.auxiliary.max_v.has_value(), "the controller's highest supply");
    add(
        RowId::AuxiliaryHigh, Drive::Rise,
        [&](const State& s) { return most(supply(s.high_v), m_s.auxiliary.max_v); }, formula,
        [&](const State& s) { return working(s.high_v); }, notes);
}

/// V_max = D_eff·V_p,min·N_s/N_p − V_f: the largest duty at the choke, at the lowest input.
void RowMaker::forwardRows()
{
    Notes notes;
    const double drop_v = rectifierDrop(notes);
    const double half = m_s.topology == Topology::HalfBridge ? 0.5 : 1;
    const Value low_v = lowestBus(notes);
    const Value turns = ratio(notes);
    const Value& duty = m_s.converter.duty_max;
    notes.need(duty.has_value(), "the largest duty at the choke");
    const Value reach_v =
        when([&](double d, double v, double n) { return d * half * v / n - drop_v; }, duty, low_v, turns);
    add(
        RowId::OutputReach, Drive::Rise, [&](const State& s) { return reached(s.high_v, reach_v); },
        "V ≤ D_eff·V_p,min·N_s/N_p − V_f",
        [&](const State&) {
            return reach_v ? significant(*duty, 3) + " × " + volts(half * *low_v) + " / " +
                                 significant(*turns, 4) + " − " + volts(drop_v) + " = " + volts(*reach_v) +
                                 " at most"
                           : std::string();
        },
        notes);
    const bool forward = m_s.topology == Topology::Forward;
    notes = {};
    const Value drain_v = when([&](double v) { return forward ? 2 * v : v; }, highestBus(notes));
    if (forward)
        notes.assumed.emplace_back("reset to twice the input");
    notes.need(m_s.converter.v_rated_v.has_value(), "the switch's rated voltage");
    add(
        RowId::SwitchVoltage, Drive::None,
        [&](const State&) { return most(drain_v, m_s.converter.v_rated_v); },
        forward ? "2·V_in,max (reset winding of equal turns)" : "V_in,max",
        [&](const State&) { return volts(*drain_v) + "; it does not follow the output"; }, notes);
}

} // namespace offshoot::rows
