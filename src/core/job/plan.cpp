#include "core/job/plan.h"

#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

Plan::Plan() = default;
Plan::Plan(const Plan&) = default;
Plan::Plan(Plan&&) noexcept = default;
Plan& Plan::operator=(const Plan&) = default;
Plan& Plan::operator=(Plan&&) noexcept = default;
Plan::~Plan() = default;
bool Plan::operator==(const Plan&) const = default;

bool Refit::covers(const ConsequenceRow& judged) const
{
    return row == judged.id && (rail.empty() || rail == judged.rail);
}

bool Acceptance::covers(const ConsequenceRow& judged) const
{
    return row == judged.id && (rail.empty() || rail == judged.rail) && (part.empty() || part == judged.part);
}

std::string JoinPlan::ballastText() const
{
    if (!ballast_lead)
        return ballast->prettyText();
    return formatOhms(ballast->ohm()) + " by " + formatValue(ballast_lead->length_m, Quantity::Length, 2) +
           " more lead of " + formatValue(ballast_lead->area_m2, Quantity::WireSize);
}

std::string connectionText(const ConnectionPlan& connection)
{
    std::string text;
    std::int64_t last = 0;
    for (const PlannedSegment& s : connection.segments) {
        text += text.empty() ? "" : s.string == last ? " + " : " || ";
        text += s.from + "-" + s.to;
        last = s.string;
    }
    return text;
}

std::string wireText(const WirePlan& wire)
{
    const std::string size = formatValue(wire.area_m2, Quantity::WireSize);
    return wire.conductors > 1 ? std::to_string(wire.conductors) + " conductors of " + size + " each way"
                               : size + " wire";
}

void fields(Fields& f, ChosenNetwork& value)
{
    f.need("method", value.method);
    f.need("network", value.network);
    f.need("parts", value.parts, {1, max_network_parts});
    f.demand(value.parts.size() == value.network.parts().size(), ErrorCode::Inconsistent, "parts",
             "one entry for each part of the network is wanted");
}

void fields(Fields& f, TrimmerPlan& value)
{
    f.may("method", value.method);
    f.may("pot_ohm", value.pot_ohm, range::positive);
    f.may("fixed_ohm", value.fixed_ohm, range::not_negative);
    f.may("wiper_tied", value.wiper_tied);
    f.may("measured_ohm", value.measured_ohm, range::not_negative);
}

void fields(Fields& f, TrimPlan& value)
{
    f.need("trimmer", value.trimmer);
    f.may("scale", value.scale, range::positive);
}

void fields(Fields& f, DummyLoadPlan& value)
{
    f.need("rail", value.rail);
    f.need("network", value.network);
    f.may("part_power_w", value.part_power_w, range::positive);
}

void fields(Fields& f, RewindPlan& value)
{
    constexpr std::int64_t most_turns = 10000;
    f.need("rail", value.rail);
    f.need("turns", value.turns, 1, most_turns);
}

void fields(Fields& f, ShuntPlan& value)
{
    f.need("network", value.network);
    f.may("tolerance", value.tolerance, range::fraction);
    f.may("part_power_w", value.part_power_w, range::positive);
}

void fields(Fields& f, UnitSetting& value)
{
    f.need("unit", value.unit, 1, most_units);
    f.need("v_set_v", value.v_set_v, range::positive);
}

void fields(Fields& f, JoinPlan& value)
{
    f.may("kind", value.kind);
    f.may("settings", value.settings);
    f.may("ballast", value.ballast);
    f.may("ballast_power_w", value.ballast_power_w, range::positive);
    f.may("ballast_lead", value.ballast_lead);
    f.may("diode", value.diode);
    f.may("opened_bonds", value.opened_bonds, 1, most_units);
    f.may("reverse_diode", value.reverse_diode);
    f.may("earthed_node", value.earthed_node, 0, most_units);
}

void fields(Fields& f, WirePlan& value)
{
    f.need("area_m2", value.area_m2, range::positive);
    f.may("conductors", value.conductors, 1, most_units);
}

void fields(Fields& f, PlannedSegment& value)
{
    f.need("string", value.string, 0, 3);
    f.need("winding", value.winding);
    f.need("from", value.from);
    f.need("to", value.to);
}

void fields(Fields& f, ConnectionPlan& value) { f.may("segments", value.segments, {0, 4}); }

void fields(Fields& f, LimiterPlan& value)
{
    f.may("r_ohm", value.r_ohm, range::positive);
    f.may("power_w", value.power_w, range::positive);
    f.may("pulse_j", value.pulse_j, range::positive);
    f.may("fusible", value.fusible);
    f.may("bypass_s", value.bypass_s, range::not_negative);
    f.may("relay", value.relay);
    f.may("delay_c_f", value.delay_c_f, range::positive);
    f.may("delay_supply_v", value.delay_supply_v, range::positive);
    f.may("delay_threshold_v", value.delay_threshold_v, range::positive);
}

void fields(Fields& f, ServedRail& value)
{
    f.need("rail", value.rail);
    f.need("output", value.output);
    f.need("set_v", value.set_v, range::positive);
    f.may("dummy_a", value.dummy_a, range::not_negative);
}

void fields(Fields& f, LoadedOutput& value)
{
    f.need("output", value.output);
    f.need("dummy_a", value.dummy_a, range::positive);
}

void fields(Fields& f, PlacedAt& value)
{
    constexpr std::int64_t most_turn = 270;
    f.may("turn", value.turn, 0, most_turn);
    f.may("x_m", value.x_m);
    f.may("y_m", value.y_m);
    f.may("standoff_m", value.standoff_m, range::not_negative);
    f.demand(value.turn % 90 == 0, ErrorCode::OutOfRange, "turn", "a turn is 0, 90, 180 or 270");
}

void fields(Fields& f, ReplacingUnit& value)
{
    f.need("entry", value.entry);
    f.need("rails", value.rails, Lengths{1, 6});
    f.may("idle", value.idle, Lengths{0, 8});
    f.may("selector", value.selector);
    f.may("place", value.place);
    for (const ServedRail& rail : value.rails)
        f.demand(std::ranges::any_of(value.entry.unit.outputs,
                                     [&](const UnitOutput& o) { return o.name == rail.output; }),
                 ErrorCode::Inconsistent, "rails", "it has no output " + rail.output);
}

void fields(Fields& f, PulledWire& value)
{
    f.need("wire", value.wire);
    f.need("terminal", value.terminal);
}

void fields(Fields& f, ReplacePlan& value)
{
    f.need("units", value.units, Lengths{1, 2});
    f.may("new_wires", value.new_wires);
    f.may("pulled", value.pulled);
}

void fields(Fields& f, ModulePlan& value)
{
    f.need("entry", value.entry);
    f.need("set_v", value.set_v, range::positive);
}

void fields(Fields& f, Refit& value)
{
    f.need("row", value.row);
    f.need("rating", value.rating, range::positive);
    f.may("rail", value.rail);
}

void fields(Fields& f, Acceptance& value)
{
    f.need("row", value.row);
    f.need("reason", value.reason);
    f.may("rail", value.rail);
    f.may("part", value.part);
    f.demand(!rowInfo(value.row).mains_side, ErrorCode::Inconsistent, "row",
             "a break on the mains side cannot be accepted");
}

void fields(Fields& f, Plan& value)
{
    f.may("route", value.route);
    f.may("chosen", value.chosen);
    f.may("trimmer", value.trimmer);
    f.may("max_parts", value.max_parts, 1, 2);
    f.may("trim", value.trim);
    f.may("dummy_load", value.dummy_load);
    f.may("rewind", value.rewind);
    f.may("shunt", value.shunt);
    f.may("join", value.join);
    f.may("wire", value.wire);
    f.may("remote_sense", value.remote_sense);
    f.may("connection", value.connection);
    f.may("limiter", value.limiter);
    f.may("chain", value.chain);
    f.may("replace", value.replace);
    f.may("module", value.module);
    f.may("rehouse", value.rehouse);
    f.may("panel", value.panel);
    f.may("refits", value.refits);
    f.may("accepted", value.accepted);
}

} // namespace offshoot
