#include "core/judge/row_maker.h"
#include "core/values/format.h"

#include <algorithm>

namespace offshoot::rows {

namespace {

std::string allowedFormula(const Supply& supply)
{
    const std::string ratings = "; no more than the ratings read of rectifier, choke, winding and limit";
    switch (supply.topology) {
    case Topology::Flyback:
    case Topology::SealedModule:
        return "I_allowed = I_rated·min(1, (V_found + V_f)/(V + V_f)): the primary limit fixes the power" +
               ratings;
    case Topology::Boost:
        return "I_allowed = min(I_rated, η·V_in,min·(I_peak − ripple/2)/V)" + ratings;
    case Topology::Forward:
    case Topology::HalfBridge:
    case Topology::FullBridge:
    case Topology::Buck:
    case Topology::Linear:
    case Topology::SeriesPass:
    case Topology::Unregulated:
        break;
    }
    return "I_allowed = I_rated" + ratings;
}

std::string highest(const State& s) { return "highest predicted output: " + volts(*s.high_v); }

} // namespace

void RowMaker::railRows()
{
    outputCurrentRow();
    currentRows();
    rectifierRow();
    outputRows();
    hungOnRows();
    userRows();
    const Rail& rail = *m_at->rail;
    if (m_s.topology == Topology::SealedModule && (m_at->leads || rail.trim_min_v || rail.trim_max_v))
        trimRow();
    if (m_at->leads && isMainsSwitcher(m_s.topology))
        feedbackRows();
}

void RowMaker::outputCurrentRow()
{
    const Rail& rail = *m_at->rail;
    Notes notes;
    const bool flyback = m_s.topology == Topology::Flyback;
    const bool power_stays = flyback || m_s.topology == Topology::SealedModule;
    const double drop_v = flyback ? rectifierDrop(notes) : 0;
    if (m_s.topology == Topology::Boost) {
        efficiency(notes);
        notes.need(m_s.direct.min_v.has_value(), "the lowest input");
        notes.need(m_s.regulator.ripple_a.has_value(), "the ripple in the choke");
        notes.need(m_s.regulator.i_peak_a.has_value(), "the switch's peak rating");
    }
    notes.need(m_at->planned.i_a.has_value(), "the current on " + rail.name);
    notes.need(rail.i_rated_a.has_value(), "the rated output current");
    if (power_stays)
        notes.need(m_at->found.high_v.has_value(), "the voltage of " + rail.name + " as found");
    const auto allowed = [&](const State& s) { return allowedCurrent(m_s, rail, s.high_v); };
    add(
        RowId::OutputCurrent, power_stays || m_s.topology == Topology::Boost ? Drive::Rise : Drive::None,
        [&](const State& s) { return most(s.i_a, allowed(s)); }, allowedFormula(m_s),
        [&](const State& s) {
            const Value i_a = allowed(s);
            if (!i_a)
                return std::string();
            if (!power_stays || !s.high_v || !rail.v_v)
                return amps(*i_a) + " at most";
            const double same_power_a = *rail.i_rated_a * (*rail.v_v + drop_v) / (*s.high_v + drop_v);
            return amps(*rail.i_rated_a) + " × (" + volts(*rail.v_v) + " + " + volts(drop_v) + ") / (" +
                   volts(*s.high_v) + " + " + volts(drop_v) + ") = " + amps(same_power_a) +
                   (same_power_a > *i_a * (1 + limit_share) ? "; no more than the rated " + amps(*i_a)
                                                            : " at most");
        },
        notes);
}

/// Where the parts' own currents were read, they are held against what the load draws.
void RowMaker::currentRows()
{
    const Rail& rail = *m_at->rail;
    const auto row = [&](RowId id, const Value& rating, std::string_view what) {
        if (!rating && !isBuckDerived(m_s.topology))
            return;
        Notes notes;
        notes.need(m_at->planned.i_a.has_value(), "the current on " + rail.name);
        notes.need(rating.has_value(), std::string(what));
        add(
            id, Drive::None, [&](const State& s) { return most(s.i_a, rating); }, "I ≤ rated current",
            [](const State& s) { return "the load's " + amps(*s.i_a); }, notes);
    };
    row(RowId::RectifierCurrent, rail.rectifier.i_rated_a, "the output rectifier's rated current");
    row(RowId::ChokeCurrent, rail.choke_rated_a, "the choke's rated current");
    row(RowId::WindingCurrent, rail.winding.i_rated_a, "the winding's rated current");
}

/// Flyback V + V_in,max·N_s/N_p; buck-derived V_p,max·N_s/N_p, twice that for a centre tap; buck V_in,max;
/// boost V. A linear regulator has none of its own.
void RowMaker::rectifierRow()
{
    const Value& rating = m_at->rail->rectifier.v_rrm_v;
    Notes notes;
    notes.need(rating.has_value(), "the output rectifier's reverse rating");
    const auto add_row = [&](Drive drive, const std::function<Value(const State&)>& reverse,
                             const std::string& formula, const WorkingAt& working) {
        add(
            RowId::RectifierReverse, drive, [&](const State& s) { return most(reverse(s), rating); }, formula,
            working, notes);
    };
    if (m_s.topology == Topology::Flyback) {
        const Value turns = ratio(notes);
        const Value in_v = highestBus(notes);
        const auto reverse = [&](const State& s) {
            return when([](double v, double in, double n) { return v + in / n; }, s.high_v, in_v, turns);
        };
        add_row(Drive::Rise, reverse, "V + V_in,max·N_s/N_p", [&](const State& s) {
            return volts(*s.high_v) + " + " + volts(*in_v) + " / " + significant(*turns, 4) + " = " +
                   volts(*reverse(s));
        });
    } else if (isBuckDerived(m_s.topology)) {
        const bool bridge = m_s.topology != Topology::Forward;
        const std::optional<bool>& tapped = m_at->rail->winding.centre_tapped;
        if (bridge && !tapped)
            notes.assumed.emplace_back("no centre tap");
        const double taps = tapped.value_or(false) ? 2 : 1;
        const double half = m_s.topology == Topology::HalfBridge ? 0.5 : 1;
        const Value turns = ratio(notes);
        const Value in_v = highestBus(notes);
        const Value reverse = when([&](double in, double n) { return taps * half * in / n; }, in_v, turns);
        add_row(
            Drive::None, [&](const State&) { return reverse; },
            taps > 1 ? "2·V_p,max·N_s/N_p (centre tap)" : "V_p,max·N_s/N_p",
            [&](const State&) {
                return (taps > 1 ? "2 × " : "") + volts(half * *in_v) + " / " + significant(*turns, 4) +
                       " = " + volts(*reverse);
            });
    } else if (m_s.topology == Topology::Buck) {
        const Value& in_v = m_s.direct.max_v;
        notes.need(in_v.has_value(), "the highest input");
        add_row(
            Drive::None, [&](const State&) { return in_v; }, "V_in,max",
            [&](const State&) { return "highest input: " + volts(*in_v); });
    } else if (m_s.topology == Topology::Boost) {
        add_row(
            Drive::Rise, [](const State& s) { return s.high_v; }, "V", highest);
    }
}

void RowMaker::outputRows()
{
    const Rail& rail = *m_at->rail;
    Notes notes;
    notes.need(rail.capacitor.v_rated_v.has_value(), "the output capacitor's rated voltage");
    add(
        RowId::OutputCapacitorVoltage, Drive::Rise,
        [&](const State& s) { return most(s.high_v, rail.capacitor.v_rated_v); }, "V ≤ rated voltage",
        highest, notes)
        .part = rail.capacitor.name;
    if (rail.trip.kind == TripKind::Winding && m_s.topology == Topology::Flyback)
        return windingTripRow();
    if (rail.trip.kind == TripKind::None)
        return;
    notes = {};
    notes.need(rail.trip.kind.has_value(), "whether there is a zener or crowbar");
    notes.need(rail.trip.v_v.has_value(), "the voltage at which it trips");
    add(
        RowId::TripVoltage, Drive::Rise, [&](const State& s) { return belowTrip(s.high_v, rail.trip.v_v); },
        "V < 0.95·V_trip", highest, notes);
}

/// A trip that senses the auxiliary winding follows the auxiliary supply of the loop, whatever rail it
/// guards: it moves with the turns, not with the divider.
void RowMaker::windingTripRow()
{
    const MovedRail* own = m_at;
    m_at = &*std::ranges::find_if(m_moved, [&](const MovedRail& moved) {
        return moved.leads && loopOf(*moved.rail) == loopOf(*own->rail);
    });
    Notes notes;
    const double drop_v = rectifierDrop(notes);
    const double aux_drop_v = auxiliaryDrop(notes);
    const Value turns = auxiliaryRatio(notes);
    const Value& trip_v = own->rail->trip.v_v;
    notes.need(trip_v.has_value(), "the voltage at which it trips");
    const auto supply = [&](const State& s) { return auxiliarySupply(s.high_v, turns, drop_v, aux_drop_v); };
    ConsequenceRow& row = add(
        RowId::TripVoltage, Drive::Rise, [&](const State& s) { return belowTrip(supply(s), trip_v); },
        "V_cc = (V + V_f)·N_aux/N_s − V_f,aux < 0.95·V_trip",
        [&](const State& s) {
            return "(" + volts(*s.high_v) + " + " + volts(drop_v) + ") × " + significant(*turns, 4) + " − " +
                   volts(aux_drop_v) + " = " + volts(*supply(s));
        },
        notes);
    row.rail = own->rail->name;
    m_at = own;
}

void RowMaker::hungOnRows()
{
    const RailResistor& bleeder = m_at->rail->minimum_load;
    if (bleeder.fitted != false) {
        Notes notes;
        notes.need(bleeder.fitted || bleeder.r_ohm, "whether a bleeder is fitted");
        notes.need(bleeder.r_ohm.has_value(), "its ohms");
        notes.need(bleeder.power_w.has_value(), "its power");
        const auto power = [&](const State& s) {
            return when([](double v, double r) { return v * v / r; }, s.high_v, bleeder.r_ohm);
        };
        add(
            RowId::MinimumLoadPower, Drive::Rise,
            [&](const State& s) { return most(power(s), bleeder.power_w, resistor_power_bounds); }, "V²/R",
            [&](const State& s) {
                return volts(*s.high_v) + "² / " + formatOhms(*bleeder.r_ohm) + " = " +
                       formatValue(*power(s), Quantity::Power);
            },
            notes);
    }
    const Indicator& indicator = m_at->rail->indicator;
    if (indicator.fitted == false)
        return;
    Notes notes;
    const double v_f_v = notes.orAssume(indicator.v_f_v, usual::indicator_v, "LED drop 2 V");
    notes.need(indicator.fitted || indicator.r_ohm, "whether an indicator is fitted");
    notes.need(indicator.r_ohm.has_value(), "its resistor");
    notes.need(indicator.power_w.has_value(), "that resistor's power");
    const auto across = [&](double v) { return std::max(0.0, v - v_f_v); };
    const auto power = [&](const State& s) {
        return when([&](double v, double r) { return across(v) * across(v) / r; }, s.high_v, indicator.r_ohm);
    };
    add(
        RowId::IndicatorPower, Drive::Rise,
        [&](const State& s) { return most(power(s), indicator.power_w, resistor_power_bounds); },
        "(V − V_f)²/R",
        [&](const State& s) {
            return "(" + volts(*s.high_v) + " − " + volts(v_f_v) + ")² / " + formatOhms(*indicator.r_ohm) +
                   " = " + formatValue(*power(s), Quantity::Power) + "; LED " +
                   amps(across(*s.high_v) / *indicator.r_ohm);
        },
        notes);
}

/// Everybody else who uses the rail: it moves for them too.
void RowMaker::userRows()
{
    const Rail& rail = *m_at->rail;
    const auto rail_at = [](const State& s) {
        return "rail at " + (s.low_v ? volts(*s.low_v) : "an unknown voltage") + " to " +
               (s.high_v ? volts(*s.high_v) : "an unknown one");
    };
    for (const RailUser& user : rail.users) {
        Notes notes;
        notes.need(user.min_v && user.max_v, "what " + user.name + " bears");
        add(
            RowId::UserVoltage, Drive::Both,
            [&](const State& s) { return between(s, user.min_v, user.max_v, m_at->found.low_v); },
            "within what this user bears",
            [&](const State& s) {
                return rail_at(s) + (user.connector.empty() ? std::string() : ", at " + user.connector);
            },
            notes)
            .part = user.name;
    }
    if (!m_at->named && rail.users.empty()) {
        Notes notes;
        notes.need(false, "who uses the rail, and what they bear");
        add(
            RowId::UserVoltage, Drive::Both, [](const State& s) { return most(s.high_v, std::nullopt); },
            "this rail moves with the loop of the changed one", rail_at, notes)
            .part = rail.name + " moves along";
    }
}

void RowMaker::feedbackRows()
{
    const Feedback& feedback = m_at->rail->feedback;
    const ReferenceStage& stage = feedback.stage;
    const bool bridge = m_s.topology == Topology::HalfBridge || m_s.topology == Topology::FullBridge;
    if (bridge && !stage.r_led_ohm)
        return; // their controllers usually stand on the secondary side
    if (stage.own_supply)
        return; // it does not follow the output
    Notes notes;
    const double cathode_v =
        notes.orAssume(stage.cathode_max_v, usual::cathode_v, "cathode rating 36 V (431-type)");
    add(
        RowId::ReferenceCathode, Drive::Rise, [&](const State& s) { return most(s.high_v, cathode_v); },
        "V ≤ cathode rating: with the LED dark the cathode stands at the rail", highest, notes);

    notes = {};
    const double v_f_v = notes.orAssume(stage.v_f_v, usual::opto_v, "optocoupler LED drop 1.2 V");
    const Value v_ref_v = when([](const Reference& r) { return r.v_ref_v; }, feedback.reference);
    const double v_ka_v = notes.orAssume(v_ref_v, usual::reference_v, "least cathode voltage 2.495 V");
    notes.need(stage.r_led_ohm.has_value(), "the resistor of the optocoupler's LED");
    notes.need(stage.i_needed_a.has_value(), "the LED current the controller can ask for");
    const auto available = [&](const State& s) {
        return when([&](double v, double r) { return (v - v_f_v - v_ka_v) / r; }, s.low_v, stage.r_led_ohm);
    };
    const Value wanted =
        when([&](double i) { return stage.has_bias ? i : i + usual::reference_bias_a; }, stage.i_needed_a);
    add(
        RowId::OptocouplerCurrent, Drive::Fall, [&](const State& s) { return least(available(s), wanted); },
        "(V − V_f,opto − V_ka,min)/R must exceed what is needed",
        [&](const State& s) {
            return "(" + volts(*s.low_v) + " − " + volts(v_f_v) + " − " + volts(v_ka_v) + ") / " +
                   formatOhms(*stage.r_led_ohm) + " = " + amps(*available(s)) +
                   (stage.has_bias ? "" : "; the need includes 1 mA for the reference");
        },
        notes);
}

} // namespace offshoot::rows
