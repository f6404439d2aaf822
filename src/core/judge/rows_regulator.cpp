#include "core/judge/row_maker.h"
#include "core/values/format.h"

#include <algorithm>

namespace offshoot::rows {

namespace {

std::string railWorking(const State& s) { return "output at " + volts(*s.low_v) + " to " + volts(*s.high_v); }

std::string temperature(double kelvin) { return formatValue(kelvin, Quantity::Temperature); }

/// The share of the rise allowed above the ambient; a share of kelvin would say nothing.
Judged junction(Value t_j_k, Value limit_k, double ambient_k)
{
    if (limit_k && *limit_k <= ambient_k)
        return {t_j_k, limit_k, std::nullopt, Verdict::Breaks};
    const auto rise = [&](double kelvin) { return kelvin - ambient_k; };
    const Judged j = most(when(rise, t_j_k), when(rise, limit_k));
    return {t_j_k, limit_k, j.use, j.verdict};
}

} // namespace

void RowMaker::converterRows()
{
    switch (m_s.topology) {
    case Topology::Flyback:
        flybackRows();
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
    case Topology::SealedModule: // the papers' trim range rules, rail by rail
    case Topology::Unregulated:  // no converter: its chain is simulated
        break;
    }
}

/// V ≤ V_in,min·D_max − drop, and the input at least the headroom above the output. The switch bears the
/// input.
void RowMaker::buckRows()
{
    const Value& v_in = m_s.direct.min_v;
    const Value& duty = m_s.converter.duty_max;
    const Value& drop_v = m_s.regulator.drop_v;
    Notes notes;
    notes.need(v_in.has_value(), "the lowest input");
    notes.need(duty.has_value(), "the largest duty");
    notes.need(drop_v.has_value(), "what is lost in switch and choke");
    const Value reach_v =
        when([](double v, double d, double drop) { return v * d - drop; }, v_in, duty, drop_v);
    add(
        RowId::OutputReach, Drive::Rise, [&](const State& s) { return reached(s.high_v, reach_v); },
        "V ≤ V_in,min·D_max − drop",
        [&](const State&) {
            return reach_v ? volts(*v_in) + " × " + significant(*duty, 3) + " − " + volts(*drop_v) + " = " +
                                 volts(*reach_v) + " at most"
                           : std::string();
        },
        notes);

    const Value& headroom_v = m_s.regulator.headroom_v;
    notes = {};
    notes.need(v_in.has_value(), "the lowest input");
    notes.need(headroom_v.has_value(), "the headroom its papers ask for");
    const auto wanted = [&](const State& s) {
        return when([](double v, double room) { return v + room; }, s.high_v, headroom_v);
    };
    add(
        RowId::InputHeadroom, Drive::Rise,
        [&](const State& s) { return most(wanted(s), v_in, to_the_limit); }, "V + headroom ≤ V_in,min",
        [&](const State& s) {
            return volts(*s.high_v) + " + " + volts(*headroom_v) + " = " + volts(*wanted(s));
        },
        notes);

    const Value& highest_v = m_s.direct.max_v;
    notes = {};
    notes.need(highest_v.has_value(), "the highest input");
    notes.need(m_s.converter.v_rated_v.has_value(), "the switch's rated voltage");
    add(
        RowId::SwitchVoltage, Drive::None,
        [&](const State&) { return most(highest_v, m_s.converter.v_rated_v); }, "V_in,max",
        [&](const State&) { return "highest input: " + volts(*highest_v); }, notes);
}

/// Below its input a boost stage passes the input straight through its diode; above V_in,min/(1 − D_max) it
/// does not reach. The switch bears the output and the diode's drop.
void RowMaker::boostRows()
{
    const Value& v_max = m_s.direct.max_v;
    const Value& v_min = m_s.direct.min_v;
    Notes notes;
    notes.need(v_max.has_value(), "the highest input");
    add(
        RowId::BoostFloor, Drive::Fall, [&](const State& s) { return least(s.low_v, v_max, to_the_limit); },
        "V ≥ V_in,max: below it the input passes straight through the diode",
        [](const State& s) { return "lowest predicted output: " + volts(*s.low_v); }, notes);

    notes = {};
    const double drop_v = rectifierDrop(notes);
    const Value& duty = m_s.converter.duty_max;
    notes.need(v_min.has_value(), "the lowest input");
    notes.need(duty.has_value(), "the largest duty");
    const Value reach_v = duty && *duty >= 1
                              ? std::nullopt
                              : when([&](double v, double d) { return v / (1 - d) - drop_v; }, v_min, duty);
    add(
        RowId::OutputReach, Drive::Rise, [&](const State& s) { return reached(s.high_v, reach_v); },
        "V ≤ V_in,min/(1 − D_max) − V_f",
        [&](const State&) {
            return reach_v ? volts(*v_min) + " / (1 − " + significant(*duty, 3) + ") − " + volts(drop_v) +
                                 " = " + volts(*reach_v) + " at most"
                           : std::string();
        },
        notes);

    notes = {};
    const double diode_v = rectifierDrop(notes);
    const auto drain = [&](const State& s) { return when([&](double v) { return v + diode_v; }, s.high_v); };
    notes.need(m_s.converter.v_rated_v.has_value(), "the switch's rated voltage");
    add(
        RowId::SwitchVoltage, Drive::Rise,
        [&](const State& s) { return most(drain(s), m_s.converter.v_rated_v); }, "V + V_f",
        [&](const State& s) { return volts(*s.high_v) + " + " + volts(diode_v) + " = " + volts(*drain(s)); },
        notes);

    notes = {};
    const double eta = efficiency(notes);
    const Value& ripple_a = m_s.regulator.ripple_a;
    notes.need(m_at->planned.i_a.has_value(), "the current on " + m_at->rail->name);
    notes.need(v_min.has_value(), "the lowest input");
    notes.need(ripple_a.has_value(), "the ripple in the choke");
    notes.need(m_s.regulator.i_peak_a.has_value(), "the switch's peak rating");
    const auto peak = [&](const State& s) {
        return when(
            [&](double v, double i, double in, double ripple) { return v * i / (eta * in) + ripple / 2; },
            s.high_v, s.i_a, v_min, ripple_a);
    };
    add(
        RowId::SwitchPeakCurrent, Drive::Rise,
        [&](const State& s) { return most(peak(s), m_s.regulator.i_peak_a); }, "V·I/(η·V_in,min) + ripple/2",
        [&](const State& s) {
            return volts(*s.high_v) + " × " + amps(*s.i_a) + " / (" + significant(eta, 2) + " × " +
                   volts(*v_min) + ") + " + amps(*ripple_a / 2) + " = " + amps(*peak(s));
        },
        notes);
}

/// Dropout at the ripple trough of the lowest mains; T_j = T_a + (V_in,mean − V)·I·θ at the highest mains.
void RowMaker::linearRows()
{
    const Value& v_min = m_s.direct.min_v;
    Notes notes;
    notes.need(v_min.has_value(), "the lowest voltage in front of the regulator");
    notes.need(m_s.regulator.drop_v.has_value(), "the dropout it needs");
    const auto across = [&](const State& s) {
        return when([](double in, double v) { return in - v; }, v_min, s.high_v);
    };
    add(
        RowId::Dropout, Drive::Rise, [&](const State& s) { return least(across(s), m_s.regulator.drop_v); },
        "V_in,min − V must exceed the dropout, at the ripple trough and the lowest mains",
        [&](const State& s) { return volts(*v_min) + " − " + volts(*s.high_v) + " = " + volts(*across(s)); },
        notes);

    const Value& theta = m_s.regulator.theta_k_per_w;
    const Value& v_mean = m_s.direct.mean_v;
    notes = {};
    const double ambient_k = ambient(notes);
    notes.need(m_at->planned.i_a.has_value(), "the current on " + m_at->rail->name);
    notes.need(v_mean.has_value(), "the mean voltage in front of the regulator");
    notes.need(theta.has_value(), "its thermal resistance");
    notes.need(m_s.regulator.t_j_max_k.has_value(), "its junction limit");
    const auto hot = [&](const State& s) {
        return when([&](double in, double v, double i,
                        double k) { return ambient_k + std::max(0.0, in - v) * i * k; },
                    v_mean, s.low_v, s.i_a, theta);
    };
    add(
        RowId::JunctionTemperature, Drive::Fall,
        [&](const State& s) { return junction(hot(s), m_s.regulator.t_j_max_k, ambient_k); },
        "T_j = T_a + (V_in,mean − V)·I·θ, at the highest mains",
        [&](const State& s) {
            return temperature(ambient_k) + " + (" + volts(*v_mean) + " − " + volts(*s.low_v) + ") × " +
                   amps(*s.i_a) + " × " + significant(*theta, 3) + " K/W = " + temperature(*hot(s));
        },
        notes);
    shortedRow();
}

/// With the output shorted the regulator drops all of its input at the current where it limits.
void RowMaker::shortedRow()
{
    const Value& theta = m_s.regulator.theta_k_per_w;
    const Value& v_mean = m_s.direct.mean_v;
    Notes notes;
    const double ambient_k = ambient(notes);
    const Value limit_a = limitCurrent(m_s, *m_at->rail);
    if (limit_a)
        notes.assumed.emplace_back("the limit holds its current down to a short");
    notes.need(limit_a.has_value(), "the current at which it limits");
    notes.need(v_mean.has_value(), "the mean voltage in front of the regulator");
    notes.need(theta.has_value(), "its thermal resistance");
    notes.need(m_s.regulator.t_j_max_k.has_value(), "its junction limit");
    const Value hot_k =
        when([&](double in, double i, double k) { return ambient_k + in * i * k; }, v_mean, limit_a, theta);
    add(
        RowId::JunctionShorted, Drive::None,
        [&](const State&) { return junction(hot_k, m_s.regulator.t_j_max_k, ambient_k); },
        "T_j = T_a + V_in,mean·I_limit·θ",
        [&](const State&) {
            return temperature(ambient_k) + " + " + volts(*v_mean) + " × " + amps(*limit_a) + " × " +
                   significant(*theta, 3) + " K/W = " + temperature(*hot_k);
        },
        notes);
}

/// What is inside a sealed module is the maker's affair: the papers' trim range rules.
void RowMaker::trimRow()
{
    const Rail& rail = *m_at->rail;
    Notes notes;
    notes.need(rail.trim_min_v && rail.trim_max_v, "the trim range in the module's papers");
    add(
        RowId::TrimRange, Drive::Both,
        [&](const State& s) { return between(s, rail.trim_min_v, rail.trim_max_v, m_at->found.low_v); },
        "within the trim range of the papers", railWorking, notes);
}

} // namespace offshoot::rows
