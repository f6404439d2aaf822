#include "core/judge/row_maker.h"
#include "core/values/format.h"

#include <algorithm>

namespace offshoot::rows {

namespace {

std::string cause(const Supply& supply)
{
    switch (supply.topology) {
    case Topology::Flyback:
    case Topology::SealedModule:
        return "I_allowed = min(I_rated, I_rated·(V_found + V_f)/(V + V_f)): the primary limit fixes the "
               "power";
    case Topology::Forward:
    case Topology::HalfBridge:
    case Topology::FullBridge:
        return "I_allowed: the smallest of the rectifier, choke and winding ratings; power falls with V";
    case Topology::Boost:
        return "I_allowed = min(I_rated, η·V_in,min·(I_peak − ripple/2)/V)";
    case Topology::Buck:
    case Topology::Linear:
    case Topology::SeriesPass:
    case Topology::Unregulated:
        break;
    }
    return "I_allowed = I_rated";
}

} // namespace

void RowMaker::outputCurrentRow()
{
    std::vector<std::string> assumed;
    if (m_s.topology == Topology::Flyback)
        assumeDrop(assumed);
    const Value allowed = allowedCurrent(m_s, m_rail, m_plan);
    const bool power_stays = m_s.topology == Topology::Flyback || m_s.topology == Topology::SealedModule;
    const double drop_v = m_s.topology == Topology::Flyback ? rectifierDrop() : 0;
    add(
        RowId::OutputCurrent, allowed, [](const State& s) -> Value { return s.i_a; }, upToLimit, cause(m_s),
        [&](const State& s) {
            if (!allowed)
                return std::string();
            if (!m_found || !power_stays || !m_rail.i_rated_a)
                return amps(*allowed) + " at most";
            const double rated_a = *m_rail.i_rated_a;
            const double same_power_a = rated_a * (m_found->high_v + drop_v) / (s.high_v + drop_v);
            return amps(rated_a) + " × (" + volts(m_found->high_v) + " + " + volts(drop_v) + ") / (" +
                   volts(s.high_v) + " + " + volts(drop_v) + ") = " + amps(same_power_a) +
                   (same_power_a > rated_a ? "; no more than the rated " + amps(rated_a) : " at most");
        },
        assumed);
    // The limit itself moved with the voltage, so more of it is used although the load is the same.
    m_rows.back().worse =
        m_found && allowed && m_rail.i_rated_a && *allowed < *m_rail.i_rated_a * (1 - limit_share);
}

/// Where the parts' own currents were read, they are held against what the load draws.
void RowMaker::currentRows()
{
    const auto current = [](const State& s) -> Value { return s.i_a; };
    const auto working = [](const State& s) { return "the load's " + amps(s.i_a); };
    if (m_rail.rectifier.i_rated_a || isBuckDerived(m_s.topology))
        add(RowId::RectifierCurrent, m_rail.rectifier.i_rated_a, current, upper, "I ≤ rated current",
            working);
    if (m_rail.choke_rated_a || isBuckDerived(m_s.topology))
        add(RowId::ChokeCurrent, m_rail.choke_rated_a, current, upper, "I ≤ rated current", working);
    if (m_rail.winding.i_rated_a || isBuckDerived(m_s.topology))
        add(RowId::WindingCurrent, m_rail.winding.i_rated_a, current, upper, "I ≤ rated current", working);
}

/// Flyback V + V_in,max·N_s/N_p; buck-derived V_p,max·N_s/N_p, twice that for a centre tap; buck V_in,max;
/// boost V. A linear regulator has none of its own.
void RowMaker::rectifierRow()
{
    const Value turns = ratio();
    const Value& rating = m_rail.rectifier.v_rrm_v;
    if (m_s.topology == Topology::Flyback) {
        const auto reverse = [&](const State& s) {
            return turns ? Value(s.high_v + highestInput() / *turns) : Value();
        };
        add(RowId::RectifierReverse, rating, reverse, upper, "V + V_in,max·N_s/N_p", [&](const State& s) {
            return volts(s.high_v) + " + " + volts(highestInput()) + " / " + significant(*turns, 4) + " = " +
                   volts(*reverse(s));
        });
    } else if (isBuckDerived(m_s.topology)) {
        const double v_p_v = highestInput() * (m_s.topology == Topology::HalfBridge ? 0.5 : 1);
        const double taps = m_rail.winding.centre_tapped ? 2 : 1;
        const auto reverse = [&](const State&) { return turns ? Value(taps * v_p_v / *turns) : Value(); };
        add(RowId::RectifierReverse, rating, reverse, upper,
            m_rail.winding.centre_tapped ? "2·V_p,max·N_s/N_p (centre tap)" : "V_p,max·N_s/N_p",
            [&](const State& s) {
                return (m_rail.winding.centre_tapped ? "2 × " : "") + volts(v_p_v) + " / " +
                       significant(*turns, 4) + " = " + volts(*reverse(s));
            });
    } else if (m_s.topology == Topology::Buck) {
        add(
            RowId::RectifierReverse, rating, [this](const State&) { return m_s.direct.max_v; }, upper,
            "V_in,max", [this](const State&) { return "highest input: " + volts(*m_s.direct.max_v); });
    } else if (m_s.topology == Topology::Boost) {
        add(
            RowId::RectifierReverse, rating, [](const State& s) -> Value { return s.high_v; }, upper, "V",
            [](const State& s) { return "highest predicted output: " + volts(s.high_v); });
    }
}

void RowMaker::outputRows()
{
    const auto rail_v = [](const State& s) -> Value { return s.high_v; };
    const auto rail_working = [](const State& s) { return "highest predicted output: " + volts(s.high_v); };
    add(RowId::OutputCapacitorVoltage, m_rail.capacitor.v_rated_v, rail_v, upper, "V ≤ rated voltage",
        rail_working);
    m_rows.back().part = m_rail.capacitor.name;
    if (m_rail.trip.kind == TripKind::Winding)
        windingTripRow();
    else if (m_rail.trip.kind != TripKind::None)
        add(RowId::TripVoltage, m_rail.trip.v_v, rail_v, trip, "V < 0.95·V_trip", rail_working);
}

/// A trip that senses the auxiliary winding moves with the turns, not with the divider.
void RowMaker::windingTripRow()
{
    std::vector<std::string> assumed;
    const double aux_drop = auxiliaryDrop(assumed);
    add(
        RowId::TripVoltage, m_rail.trip.v_v,
        [&](const State& s) { return auxiliarySupply(s.high_v, aux_drop); }, trip,
        "V_cc = (V + V_f)·N_aux/N_s − V_f,aux < 0.95·V_trip",
        [&](const State& s) { return auxiliaryWorking(s.high_v, aux_drop); }, assumed);
}

void RowMaker::hungOnRows()
{
    if (m_rail.minimum_load.fitted != false) {
        const auto& r = m_rail.minimum_load.r_ohm;
        const auto power = [&](const State& s) -> Value {
            return r ? Value(s.high_v * s.high_v / *r) : Value();
        };
        add(RowId::MinimumLoadPower, m_rail.minimum_load.power_w, power, resistorPower, "V²/R",
            [&](const State& s) {
                return volts(s.high_v) + "² / " + formatOhms(*r) + " = " +
                       formatValue(*power(s), Quantity::Power);
            });
    }
    if (m_rail.indicator.fitted != false) {
        std::vector<std::string> assumed;
        const double v_f_v = orAssume(m_rail.indicator.v_f_v, usual::indicator_v, assumed, "LED drop 2 V");
        const auto& r = m_rail.indicator.r_ohm;
        const auto power = [&](const State& s) -> Value {
            const double across = std::max(0.0, s.high_v - v_f_v);
            return r ? Value(across * across / *r) : Value();
        };
        add(
            RowId::IndicatorPower, m_rail.indicator.power_w, power, resistorPower, "(V − V_f)²/R",
            [&](const State& s) {
                return "(" + volts(s.high_v) + " − " + volts(v_f_v) + ")² / " + formatOhms(*r) + " = " +
                       formatValue(*power(s), Quantity::Power) + "; LED " +
                       amps(std::max(0.0, s.high_v - v_f_v) / *r);
            },
            assumed);
    }
}

/// Everybody else who uses the rail: it moves for them too.
void RowMaker::userRows()
{
    for (const RailUser& user : m_rail.users) {
        add(
            RowId::UserVoltage, user.max_v, [](const State& s) -> Value { return s.high_v; },
            [least = user.min_v, low_v = m_planned.low_v](double value, double limit) {
                if (least && !atLeast(low_v, *least))
                    return Judged{*least / low_v, Verdict::Breaks};
                return upToLimit(value, limit);
            },
            "within what this user bears",
            [&](const State& s) {
                return "rail at " + volts(s.low_v) + " to " + volts(s.high_v) +
                       (user.connector.empty() ? std::string() : ", at " + user.connector);
            });
        m_rows.back().part = user.name;
    }
    if (m_role == RailRole::Follows && m_rail.users.empty()) {
        add(
            RowId::UserVoltage, Value(), [](const State& s) -> Value { return s.high_v; }, upToLimit,
            "this rail moves with the loop of the changed one",
            [](const State& s) { return "rail at " + volts(s.low_v) + " to " + volts(s.high_v); });
        m_rows.back().part = m_rail.name + " moves along";
    }
}

void RowMaker::feedbackRows()
{
    const ReferenceStage& stage = m_rail.feedback.stage;
    if (!isMainsSwitcher(m_s.topology))
        return; // no reference across the barrier: the regulator senses its own output
    const bool bridge = m_s.topology == Topology::HalfBridge || m_s.topology == Topology::FullBridge;
    if (bridge && !stage.r_led_ohm)
        return; // their controllers usually stand on the secondary side
    if (!stage.own_supply) {
        std::vector<std::string> assumed;
        const double most =
            orAssume(stage.cathode_max_v, usual::cathode_v, assumed, "cathode rating 36 V (431-type)");
        add(
            RowId::ReferenceCathode, most, [](const State& s) -> Value { return s.high_v; }, upper,
            "V ≤ cathode rating: with the LED dark the cathode stands at the rail",
            [](const State& s) { return "highest predicted output: " + volts(s.high_v); }, assumed);
    }
    std::vector<std::string> assumed;
    const double v_f_v = orAssume(stage.v_f_v, usual::opto_v, assumed, "optocoupler LED drop 1.2 V");
    const double v_ka_v = m_rail.feedback.reference ? m_rail.feedback.reference->v_ref_v : 2.495;
    if (!m_rail.feedback.reference)
        assumed.emplace_back("least cathode voltage 2.495 V");
    const auto available = [&](const State& s) -> Value {
        return stage.r_led_ohm ? Value((s.low_v - v_f_v - v_ka_v) / *stage.r_led_ohm) : Value();
    };
    Value wanted = stage.i_needed_a;
    if (wanted && !stage.has_bias)
        *wanted += usual::reference_bias_a;
    add(
        RowId::OptocouplerCurrent, wanted, available, needed,
        "(V − V_f,opto − V_ka,min)/R must exceed what is needed",
        [&](const State& s) {
            return "(" + volts(s.low_v) + " − " + volts(v_f_v) + " − " + volts(v_ka_v) + ") / " +
                   formatOhms(*stage.r_led_ohm) + " = " + amps(*available(s)) +
                   (stage.has_bias ? "" : "; the need includes 1 mA for the reference");
        },
        assumed);
}

} // namespace offshoot::rows
