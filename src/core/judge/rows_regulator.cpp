#include "core/judge/row_maker.h"
#include "core/values/format.h"

#include <algorithm>

namespace offshoot::rows {

namespace {

Value railVoltage(const State& s) { return s.high_v; }
std::string railWorking(const State& s) { return "highest predicted output: " + volts(s.high_v); }

} // namespace

void RowMaker::converterRows()
{
    switch (m_s.topology) {
    case Topology::Flyback:
        flybackRows();
        auxiliaryRows();
        break;
    case Topology::Forward:
    case Topology::HalfBridge:
    case Topology::FullBridge:
        forwardRows();
        break;
    case Topology::Buck:
        buckRows();
        break;
    case Topology::Boost:
        boostRows();
        break;
    case Topology::Linear:
    case Topology::SeriesPass:
        linearRows();
        break;
    case Topology::SealedModule:
        sealedRows();
        break;
    case Topology::Unregulated:
        break; // no converter: its chain is simulated
    }
}

/// V ≤ V_in,min·D_max − drop, and the input at least the headroom above the output.
void RowMaker::buckRows()
{
    std::vector<std::string> assumed;
    const double duty = orAssume(m_s.converter.duty_max, 1, assumed, "largest duty 1");
    const double drop_v = orAssume(m_s.regulator.drop_v, 0, assumed, "no drop in switch and choke");
    const Value& v_in = m_s.direct.min_v;
    const Value reach_v = v_in && *v_in * duty > drop_v ? Value(*v_in * duty - drop_v) : Value();
    add(
        RowId::OutputReach, reach_v, railVoltage, upToLimit, "V ≤ V_in,min·D_max − drop",
        [&](const State&) {
            return reach_v ? volts(*v_in) + " × " + significant(duty, 3) + " − " + volts(drop_v) + " = " +
                                 volts(*reach_v) + " at most"
                           : std::string();
        },
        assumed);
    const Value& headroom_v = m_s.regulator.headroom_v;
    add(
        RowId::InputHeadroom, headroom_v ? v_in : Value(),
        [&](const State& s) { return headroom_v ? Value(s.high_v + *headroom_v) : Value(); }, upToLimit,
        "V + headroom ≤ V_in,min",
        [&](const State& s) {
            return volts(s.high_v) + " + " + volts(*headroom_v) + " = " + volts(s.high_v + *headroom_v);
        });
}

/// Below its input a boost stage passes the input straight through its diode.
void RowMaker::boostRows()
{
    const Value& v_max = m_s.direct.max_v;
    add(
        RowId::BoostFloor, v_max, [](const State& s) -> Value { return s.low_v; },
        [](double value, double limit) {
            return Judged{limit / value, judgeUse(limit / value, {1, 1})};
        },
        "V ≥ V_in,max: below it the input passes straight through the diode",
        [](const State& s) { return "lowest predicted output: " + volts(s.low_v); });
    std::vector<std::string> assumed;
    const double efficiency = orAssume(m_s.efficiency, usual::efficiency, assumed, "efficiency 80 %");
    const double ripple_a = orAssume(m_s.regulator.ripple_a, 0, assumed, "no ripple in the choke");
    const Value& v_min = m_s.direct.min_v;
    const auto peak = [&](const State& s) {
        return v_min ? Value(s.high_v * s.i_a / (efficiency * *v_min) + ripple_a / 2) : Value();
    };
    add(
        RowId::SwitchPeakCurrent, m_s.regulator.i_peak_a, peak, upper, "V·I/(η·V_in,min) + ripple/2",
        [&](const State& s) {
            return volts(s.high_v) + " × " + amps(s.i_a) + " / (" + significant(efficiency, 2) + " × " +
                   volts(*v_min) + ") + " + amps(ripple_a / 2) + " = " + amps(*peak(s));
        },
        assumed);
}

/// Dropout at the ripple trough of the lowest mains; T_j = T_a + (V_in,mean − V)·I·θ at the highest mains.
void RowMaker::linearRows()
{
    const Value& v_min = m_s.direct.min_v;
    const auto across = [&](const State& s) { return v_min ? Value(*v_min - s.high_v) : Value(); };
    add(RowId::Dropout, m_s.regulator.drop_v, across, needed,
        "V_in,min − V must exceed the dropout, at the ripple trough and the lowest mains",
        [&](const State& s) { return volts(*v_min) + " − " + volts(s.high_v) + " = " + volts(*across(s)); });
    const Value& theta = m_s.regulator.theta_k_per_w;
    const Value& v_mean = m_s.direct.mean_v;
    const double ambient_k = m_s.regulator.t_ambient_k;
    const auto junction = [&](const State& s) -> Value {
        if (!theta || !v_mean)
            return std::nullopt;
        return ambient_k + std::max(0.0, *v_mean - s.low_v) * s.i_a * *theta;
    };
    const auto temperature = [](double kelvin) { return formatValue(kelvin, Quantity::Temperature); };
    add(
        RowId::JunctionTemperature, m_s.regulator.t_j_max_k, junction,
        [ambient_k](double value, double limit) {
            // The share of the rise allowed above the ambient; a share of kelvin would say nothing.
            if (limit <= ambient_k)
                return Judged{std::nullopt, Verdict::Breaks};
            return upper(value - ambient_k, limit - ambient_k);
        },
        "T_j = T_a + (V_in,mean − V)·I·θ, at the highest mains",
        [&](const State& s) {
            return temperature(ambient_k) + " + (" + volts(*v_mean) + " − " + volts(s.low_v) + ") × " +
                   amps(s.i_a) + " × " + significant(*theta, 3) + " K/W = " + temperature(*junction(s));
        },
        {"ambient " + temperature(ambient_k)});
}

/// What is inside is the maker's affair: the papers' trim range rules.
void RowMaker::sealedRows()
{
    const Value& least = m_rail.trim_min_v;
    add(
        RowId::TrimRange, m_rail.trim_max_v, railVoltage,
        [least, low_v = m_planned.low_v](double value, double limit) {
            if (least && !atLeast(low_v, *least))
                return Judged{*least / low_v, Verdict::Breaks};
            return upToLimit(value, limit);
        },
        "within the trim range of the papers", railWorking);
}

} // namespace offshoot::rows
