#include "core/judge/row_maker.h"
#include "core/values/format.h"
#include "core/values/quantity.h"

#include <algorithm>

namespace offshoot::rows {

namespace {

constexpr double drain_days = 30;
constexpr double drain_share = 0.1;

} // namespace

void RowMaker::batteryRows()
{
    flatBatteryRow();
    backFeedRow();
    crowbarRow();
}

/// What the supply pushes into a flat battery: held by the resistance on the way, or by its own limit.
void RowMaker::flatBatteryRow()
{
    const Battery& battery = m_in.load.battery;
    const Rail& rail = *m_at->rail;
    Notes notes;
    const Value limit_a = limitCurrent(m_s, rail);
    const double cable_ohm = rail.cable.loopOhm().value_or(0);
    if (!rail.cable.loopOhm())
        notes.assumed.emplace_back("no resistance in the run to the battery");
    notes.need(battery.v_flat_v.has_value(), "the battery's voltage when flat");
    notes.need(battery.r_ohm.has_value(), "its resistance");
    notes.need(battery.i_charge_max_a.has_value(), "its largest charging current");
    const auto held = [&](const State& s) { return limit_a ? limit_a : allowedCurrent(m_s, rail, s.high_v); };
    if (!limit_a) {
        notes.need(rail.i_rated_a.has_value(), "the current at which the supply limits");
        notes.assumed.emplace_back("the supply limits at what it may give");
    }
    const auto pushed = [&](const State& s) {
        return when(
            [&](double v, double flat, double r) { return std::max(0.0, v - flat) / (r + cable_ohm); },
            s.high_v, battery.v_flat_v, battery.r_ohm);
    };
    const auto flat_a = [&](const State& s) {
        return when([](double a, double b) { return std::min(a, b); }, pushed(s), held(s));
    };
    add(
        RowId::BatteryFlatCurrent, Drive::Rise,
        [&](const State& s) { return most(flat_a(s), battery.i_charge_max_a); },
        "min(I_limit, (V − V_flat)/(R_battery + R_cable))",
        [&](const State& s) {
            return "(" + volts(*s.high_v) + " − " + volts(*battery.v_flat_v) + ") / (" +
                   formatOhms(*battery.r_ohm) + " + " + formatOhms(cable_ohm) + ") = " + amps(*pushed(s)) +
                   "; the supply limits at " + amps(*held(s)) + " or hiccups until the battery has risen";
        },
        notes);
}

/// With the mains off the battery feeds what stays across it. A part nobody looked for draws more.
void RowMaker::backFeedRow()
{
    const Battery& battery = m_in.load.battery;
    const Rail& rail = *m_at->rail;
    const bool blocked = battery.blocking_diode.value_or(false);
    Notes notes;
    notes.assumed.emplace_back("a tenth of the charge in 30 days is bearable");
    if (!battery.blocking_diode)
        notes.assumed.emplace_back("no diode between supply and battery");
    Value divider_ohm;
    if (rail.feedback.top && rail.feedback.bottom)
        divider_ohm = rail.feedback.top->ohm() + rail.feedback.bottom->ohm();
    const bool divides = m_at->leads && m_s.topology != Topology::Unregulated;
    const RailResistor& bleeder = rail.minimum_load;
    const Indicator& indicator = rail.indicator;
    const double v_f_v = indicator.v_f_v.value_or(usual::indicator_v);
    const std::size_t before = notes.unread.size();
    if (!blocked) {
        if (indicator.fitted != false && !indicator.v_f_v)
            notes.assumed.emplace_back("LED drop 2 V");
        notes.need(!divides || divider_ohm, "both legs of the divider");
        notes.need(bleeder.fitted == false || bleeder.r_ohm, "whether a bleeder is fitted, and its ohms");
        notes.need(indicator.fitted == false || indicator.r_ohm,
                   "whether an indicator is fitted, and its resistor");
    }
    const bool bound = notes.unread.size() > before;
    notes.need(battery.capacity_c.has_value(), "the battery's capacity");
    const Value limit =
        when([](double charge) { return charge * drain_share / (drain_days * seconds_per_day); },
             battery.capacity_c);
    const auto drain = [&](double v) {
        if (blocked)
            return 0.0;
        double i_a = divider_ohm ? v / *divider_ohm : 0;
        if (bleeder.r_ohm && bleeder.fitted != false)
            i_a += v / *bleeder.r_ohm;
        if (indicator.r_ohm && indicator.fitted != false)
            i_a += std::max(0.0, v - v_f_v) / *indicator.r_ohm;
        return i_a;
    };
    add(
        RowId::BatteryBackFeed, Drive::Rise,
        [&](const State& s) {
            Judged j = most(blocked ? Value(0) : when(drain, s.high_v), limit);
            if (bound && j.verdict != Verdict::Breaks)
                j = {.value = j.value, .limit = limit};
            return j;
        },
        "what the dead supply draws from the battery, against a tenth of its charge in 30 days",
        [&](const State& s) {
            return blocked ? std::string("a diode blocks it")
                           : "divider, bleeder and indicator draw " + std::string(bound ? "at least " : "") +
                                 amps(drain(*s.high_v)) + " with the mains off";
        },
        notes);
}

/// Nothing is compared here: a crowbar either meets a battery or it does not.
void RowMaker::crowbarRow()
{
    const Battery& battery = m_in.load.battery;
    const auto& kind = m_at->rail->trip.kind;
    const bool blocked = battery.blocking_diode.value_or(false);
    Notes notes;
    if (!battery.blocking_diode)
        notes.assumed.emplace_back("no diode between supply and battery");
    notes.need(kind.has_value(), "whether the supply has a crowbar");
    Judged judged;
    std::string working;
    if (blocked || (kind && *kind != TripKind::Crowbar)) {
        judged.verdict = Verdict::Fits;
        working = blocked ? "a diode keeps the battery from it" : "no crowbar in this supply";
    } else if (kind) {
        judged.verdict = battery.fuse_a ? Verdict::Tight : Verdict::Breaks;
        working = battery.fuse_a ? "only the battery's " + amps(*battery.fuse_a) + " fuse ends it"
                                 : "nothing ends it: fit a fuse at the battery";
    }
    addJudged(RowId::BatteryCrowbar, moves(Drive::Rise, *m_at), judged, judged,
              "a crowbar that fires shorts the battery through itself", working, notes);
}

} // namespace offshoot::rows
