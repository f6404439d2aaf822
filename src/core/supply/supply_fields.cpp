// The supply as documents have it: its keys, ranges and what must go together.
#include "core/supply/supply.h"

#include <algorithm>

namespace offshoot {

namespace {

constexpr std::int64_t most_turns = 10000;
constexpr std::size_t most_rails = 12;

/// A key that keeps its usual value while nobody said it, and is left out again when written.
template <class T, class... Bounds>
void maySay(Fields& f, std::string_view key, T& value, bool& assumed, Bounds... bounds)
{
    std::optional<T> said;
    if (!f.reading() && !assumed)
        said = value;
    f.may(key, said, bounds...);
    assumed = !said;
    value = said.value_or(value);
}

} // namespace

void fields(Fields& f, Mains& value)
{
    maySay(f, "v_v", value.v_v, value.v_assumed, range::positive);
    maySay(f, "spread", value.spread, value.spread_assumed, range::fraction);
    f.may("f_hz", value.f_hz, mains_hz);
}

void fields(Fields& f, Fuse& value)
{
    f.may("value_a", value.value_a, range::positive);
    f.may("v_rated_v", value.v_rated_v, range::positive);
    f.may("type", value.type);
}

void fields(Fields& f, Inrush& value) { f.may("r_ohm", value.r_ohm, range::positive); }

void fields(Fields& f, InputRectifier& value)
{
    f.may("kind", value.kind);
    f.may("v_rrm_v", value.v_rrm_v, range::positive);
    f.may("bus_v", value.bus_v, range::positive);
}

void fields(Fields& f, BulkCapacitor& value)
{
    f.may("c_f", value.c_f, range::positive);
    f.may("v_rated_v", value.v_rated_v, range::positive);
    f.may("t_rated_k", value.t_rated_k, range::positive);
    f.may("kind", value.kind);
    f.may("bleeder_ohm", value.bleeder_ohm, range::positive);
}

void fields(Fields& f, SwitchStage& value)
{
    f.may("v_rated_v", value.v_rated_v, range::positive);
    f.may("spike_v", value.spike_v, range::not_negative);
    f.may("clamp_v", value.clamp_v, range::positive);
    f.may("duty_max", value.duty_max, Range{0, 1, true, true});
}

void fields(Fields& f, Transformer& value)
{
    f.may("primary_turns_per_secondary", value.primary_turns_per_secondary, range::positive);
    f.may("auxiliary_turns_per_secondary", value.auxiliary_turns_per_secondary, range::positive);
    f.may("primary_turns", value.primary_turns, 1, most_turns);
    f.may("auxiliary_turns", value.auxiliary_turns, 1, most_turns);
}

void fields(Fields& f, DirectInput& value)
{
    f.may("min_v", value.min_v, range::positive);
    f.may("mean_v", value.mean_v, range::positive);
    f.may("max_v", value.max_v, range::positive);
}

void fields(Fields& f, Regulator& value)
{
    f.may("drop_v", value.drop_v, range::not_negative);
    f.may("headroom_v", value.headroom_v, range::not_negative);
    f.may("i_peak_a", value.i_peak_a, range::positive);
    f.may("ripple_a", value.ripple_a, range::not_negative);
    f.may("theta_k_per_w", value.theta_k_per_w, range::positive);
    f.may("t_ambient_k", value.t_ambient_k, range::positive);
    f.may("t_j_max_k", value.t_j_max_k, range::positive);
}

void fields(Fields& f, CurrentSense& value)
{
    f.may("threshold", value.threshold);
    f.may("shunt", value.shunt);
    f.may("shunt_tolerance", value.shunt_tolerance, range::fraction);
    f.may("part_power_w", value.part_power_w, range::positive);
    f.may("lead_ohm", value.lead_ohm, range::not_negative);
    f.may("in_loop", value.in_loop);
    f.may("primary_side", value.primary_side);
    f.may("hiccup_duty", value.hiccup_duty, Range{0, 1, true});
}

void fields(Fields& f, Trimmer& value)
{
    f.may("name", value.name, name_length);
    f.may("rails", value.rails);
    f.may("min_scale", value.min_scale, range::positive);
    f.may("max_scale", value.max_scale, range::positive);
    f.demand(!value.min_scale || !value.max_scale || *value.min_scale <= *value.max_scale,
             ErrorCode::Inconsistent, {}, "min_scale is above max_scale");
}

void fields(Fields& f, RegulatorFeed& value)
{
    f.may("open_v", value.open_v, range::positive);
    f.may("r_ohm", value.r_ohm, range::not_negative);
    f.may("ripple_v", value.ripple_v, range::not_negative);
    f.may("ripple_at_a", value.ripple_at_a, range::positive);
    f.may("others_a", value.others_a, range::not_negative);
    f.may("others", value.others);
}

void fields(Fields& f, Wire& value)
{
    f.may("name", value.name, name_length);
    f.may("colour", value.colour);
    f.may("function", value.function);
    f.may("measured", value.measured);
    f.may("rail", value.rail);
    f.may("current_a", value.current_a, range::not_negative);
    f.may("area_m2", value.area_m2, range::positive);
    f.may("length_m", value.length_m, range::not_negative);
    f.may("insulation_v", value.insulation_v, range::not_negative);
    f.may("connector_a", value.connector_a, range::positive);
}

void fields(Fields& f, MainsEntry& value)
{
    f.may("inlet_a", value.inlet_a, range::positive);
    f.may("switch_a", value.switch_a, range::positive);
    f.may("cord_a", value.cord_a, range::positive);
}

void fields(Fields& f, SecondaryWinding& value)
{
    f.may("turns", value.turns, 1, most_turns);
    f.may("primary_turns_per_secondary", value.primary_turns_per_secondary, range::positive);
    f.may("centre_tapped", value.centre_tapped);
    f.may("i_rated_a", value.i_rated_a, range::positive);
}

void fields(Fields& f, RailUser& value)
{
    f.may("name", value.name, name_length);
    f.may("connector", value.connector);
    f.may("typical_a", value.typical_a, range::not_negative);
    f.may("least_a", value.least_a, range::not_negative);
    f.may("min_v", value.min_v, range::not_negative);
    f.may("max_v", value.max_v, range::positive);
    f.may("if_lost", value.if_lost);
}

void fields(Fields& f, Auxiliary& value)
{
    f.may("v_f_v", value.v_f_v, range::not_negative);
    f.may("off_v", value.off_v, range::positive);
    f.may("max_v", value.max_v, range::positive);
}

void fields(Fields& f, OutputRectifier& value)
{
    f.may("kind", value.kind);
    f.may("v_f_v", value.v_f_v, range::not_negative);
    f.may("v_rrm_v", value.v_rrm_v, range::positive);
    f.may("i_rated_a", value.i_rated_a, range::positive);
}

void fields(Fields& f, OutputCapacitor& value)
{
    f.may("name", value.name, name_length);
    f.may("c_f", value.c_f, range::positive);
    f.may("v_rated_v", value.v_rated_v, range::positive);
    f.may("t_rated_k", value.t_rated_k, range::positive);
}

void fields(Fields& f, Indicator& value)
{
    f.may("fitted", value.fitted);
    f.may("r_ohm", value.r_ohm, range::positive);
    f.may("v_f_v", value.v_f_v, range::not_negative);
    f.may("power_w", value.power_w, range::positive);
}

void fields(Fields& f, RailResistor& value)
{
    f.may("fitted", value.fitted);
    f.may("r_ohm", value.r_ohm, range::positive);
    f.may("power_w", value.power_w, range::positive);
}

void fields(Fields& f, Trip& value)
{
    f.may("kind", value.kind);
    f.may("v_v", value.v_v, range::positive);
}

void fields(Fields& f, ReferenceStage& value)
{
    f.may("cathode_max_v", value.cathode_max_v, range::positive);
    f.may("own_supply", value.own_supply);
    f.may("r_led_ohm", value.r_led_ohm, range::positive);
    f.may("v_f_v", value.v_f_v, range::not_negative);
    f.may("i_needed_a", value.i_needed_a, range::positive);
    f.may("has_bias", value.has_bias);
}

void fields(Fields& f, Feedback& value)
{
    f.may("reference", value.reference);
    f.may("top", value.top);
    f.may("bottom", value.bottom);
    f.may("tolerance", value.tolerance, range::fraction);
    f.may("stage", value.stage);
}

void fields(Fields& f, Cable& value)
{
    constexpr std::int64_t most_conductors = 100;
    f.may("r_loop_ohm", value.r_loop_ohm, range::positive);
    f.may("length_m", value.length_m, range::positive);
    f.may("area_m2", value.area_m2, range::positive);
    f.may("conductors", value.conductors, 1, most_conductors);
    f.may("contact_ohm", value.contact_ohm, range::not_negative);
    f.may("temperature_k", value.temperature_k, {60, 600});
}

void fields(Fields& f, RemoteSense& value)
{
    f.may("fitted", value.fitted);
    f.may("r_lead_ohm", value.r_lead_ohm, range::not_negative);
    f.may("r_fallback_ohm", value.r_fallback_ohm, range::positive);
    f.may("current_a", value.current_a, range::not_negative);
    f.may("range_v", value.range_v, range::positive);
    f.may("ceiling_v", value.ceiling_v, range::positive);
    f.may("bandwidth_hz", value.bandwidth_hz, range::positive);
    f.may("load_capacitor_f", value.load_capacitor_f, range::positive);
}

void fields(Fields& f, Joint& value)
{
    f.may("v_set_v", value.v_set_v, range::positive);
    f.may("r_out_ohm", value.r_out_ohm, range::not_negative);
    f.may("i_limit_a", value.i_limit_a, range::positive);
    f.may("limit", value.limit);
    f.may("lead_length_m", value.lead_length_m, range::positive);
    f.may("lead_area_m2", value.lead_area_m2, range::positive);
    f.may("diode", value.diode);
    f.may("bonded", value.bonded);
    f.may("isolation_v", value.isolation_v, range::positive);
    f.may("reverse_diode", value.reverse_diode);
}

void fields(Fields& f, Battery& value)
{
    f.may("v_flat_v", value.v_flat_v, range::positive);
    f.may("r_ohm", value.r_ohm, range::positive);
    f.may("i_charge_max_a", value.i_charge_max_a, range::positive);
    f.may("capacity_c", value.capacity_c, range::positive);
    f.may("fuse_a", value.fuse_a, range::positive);
    f.may("blocking_diode", value.blocking_diode);
}

void fields(Fields& f, Load& value)
{
    f.may("name", value.name, name_length);
    f.may("kind", value.kind);
    f.may("battery", value.battery);
}

void fields(Fields& f, Rail& value)
{
    f.may("name", value.name, name_length);
    f.may("negative", value.negative);
    f.may("v_v", value.v_v, range::positive);
    f.may("i_rated_a", value.i_rated_a, range::positive);
    f.may("regulated_by", value.regulated_by);
    f.may("winding", value.winding);
    f.may("choke_rated_a", value.choke_rated_a, range::positive);
    f.may("trim_min_v", value.trim_min_v, range::positive);
    f.may("trim_max_v", value.trim_max_v, range::positive);
    f.may("users", value.users);
    f.may("rectifier", value.rectifier);
    f.may("capacitor", value.capacitor);
    f.may("feedback", value.feedback);
    f.may("indicator", value.indicator);
    f.may("minimum_load", value.minimum_load);
    f.may("trip", value.trip);
    f.may("cable", value.cable);
    f.may("sense", value.sense);
}

namespace {

/// A rail follows another one's loop, not its own follower's.
void checkRails(const Fields& f, const Supply& supply)
{
    for (std::size_t i = 0; i < supply.rails.size(); ++i) {
        const Rail& rail = supply.rails[i];
        const std::string at = f.path() + "/rails/" + std::to_string(i);
        if (!rail.regulated_by)
            continue;
        const Rail* leader = railNamed(supply, *rail.regulated_by);
        if (leader == nullptr || leader == &rail || leader->regulated_by)
            throw DocumentError(ErrorCode::Inconsistent, at + "/regulated_by",
                                "names no rail that has a loop of its own");
    }
}

} // namespace

void fields(Fields& f, Supply& value)
{
    f.may("name", value.name);
    maySay(f, "topology", value.topology, value.topology_assumed);
    f.may("silhouette", value.silhouette);
    f.may("seen", value.seen);
    if (f.reading())
        takeLikelyKind(value);
    f.may("earth_class", value.earth_class);
    f.may("enclosure", value.enclosure);
    f.may("efficiency", value.efficiency, Range{0.01, 1});
    f.may("entry", value.entry);
    f.may("fuse", value.fuse);
    f.may("inrush", value.inrush);
    f.may("input", value.input);
    f.may("bulk", value.bulk);
    f.may("converter", value.converter);
    f.may("transformer", value.transformer);
    f.may("auxiliary", value.auxiliary);
    f.may("direct", value.direct);
    f.may("regulator", value.regulator);
    f.may("current_limit", value.current_limit);
    f.may("rails", value.rails, {1, most_rails});
    f.demandUniqueNames("rails", value.rails);
    f.may("trimmers", value.trimmers);
    f.may("wires", value.wires);
    f.may("joint", value.joint);
    f.may("mains_side", value.mains_side);
    f.may("space", value.space);
    f.may("feed", value.feed);
    checkRails(f, value);
}

} // namespace offshoot
