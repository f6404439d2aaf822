#include "core/judge/row_maker.h"
#include "core/values/format.h"

#include <algorithm>

namespace offshoot::rows {

namespace {

constexpr double drain_days = 30;
constexpr double drain_share = 0.1;

} // namespace

void RowMaker::flatBatteryRow()
{
    const Battery& battery = m_in.load.battery;
    std::vector<std::string> assumed;
    if (!battery.r_ohm || !battery.v_flat_v)
        assumed.emplace_back("the supply's current limit holds");
    const Value allowed = allowedCurrent(m_s, m_rail, m_plan);
    const auto flat_a = [&](const State& s) -> Value {
        if (!battery.r_ohm || !battery.v_flat_v)
            return allowed;
        const double pushed = std::max(0.0, s.high_v - *battery.v_flat_v) / *battery.r_ohm;
        return allowed ? std::min(*allowed, pushed) : pushed;
    };
    add(
        RowId::BatteryFlatCurrent, battery.i_charge_max_a, flat_a, upper,
        "min(I_allowed, (V − V_flat)/R_battery)",
        [&](const State& s) {
            if (!battery.r_ohm || !battery.v_flat_v)
                return "held by the supply's limit at " + amps(*flat_a(s));
            return "(" + volts(s.high_v) + " − " + volts(*battery.v_flat_v) + ") / " +
                   formatOhms(*battery.r_ohm) + " = " +
                   amps((s.high_v - *battery.v_flat_v) / *battery.r_ohm) + "; the supply limits at " +
                   (allowed ? amps(*allowed) : "an unread current") +
                   " or hiccups until the battery has risen";
        },
        assumed);
}

void RowMaker::batteryRows()
{
    flatBatteryRow();
    const Battery& battery = m_in.load.battery;
    const bool blocked = battery.blocking_diode.value_or(false);
    const auto drain = [&](const State& s) -> Value {
        if (blocked)
            return 0.0;
        double i_a = 0;
        if (const auto divider = m_rail.feedback.divider())
            i_a += s.high_v / (divider->top.ohm() + divider->bottom.ohm());
        if (m_rail.minimum_load.r_ohm && m_rail.minimum_load.fitted != false)
            i_a += s.high_v / *m_rail.minimum_load.r_ohm;
        if (m_rail.indicator.r_ohm && m_rail.indicator.fitted != false)
            i_a += (s.high_v - m_rail.indicator.v_f_v.value_or(usual::indicator_v)) / *m_rail.indicator.r_ohm;
        return i_a;
    };
    Value limit;
    if (battery.capacity_c)
        limit = *battery.capacity_c * drain_share / (drain_days * 86400);
    add(RowId::BatteryBackFeed, limit, drain, upper,
        "what the dead supply draws from the battery, against a tenth of its charge in 30 days",
        [&](const State& s) {
            return blocked ? std::string("a diode blocks it")
                           : "divider, bleeder and indicator draw " + amps(*drain(s)) + " with the mains off";
        },
        {"a tenth of the charge in 30 days is bearable"});
    crowbarRow();
}

/// Nothing is compared here: a crowbar either meets a battery or it does not.
void RowMaker::crowbarRow()
{
    const Battery& battery = m_in.load.battery;
    const auto nothing = [](const State&) -> Value { return std::nullopt; };
    add(RowId::BatteryCrowbar, std::nullopt, nothing, upper,
        "a crowbar that fires shorts the battery through itself", [](const State&) { return std::string(); });
    ConsequenceRow& row = m_rows.back();
    if (!m_rail.trip.kind)
        return;
    const bool crowbar = m_rail.trip.kind == TripKind::Crowbar;
    const bool blocked = battery.blocking_diode.value_or(false);
    row.verdict = !crowbar || blocked ? Verdict::Fits : battery.fuse_a ? Verdict::Tight : Verdict::Breaks;
    row.worse = row.verdict != Verdict::Fits;
    row.working = !crowbar         ? "no crowbar in this supply"
                  : blocked        ? "a diode keeps the battery from it"
                  : battery.fuse_a ? "only the battery's " + amps(*battery.fuse_a) + " fuse ends it"
                                   : "nothing ends it: fit a fuse at the battery";
}

} // namespace offshoot::rows
