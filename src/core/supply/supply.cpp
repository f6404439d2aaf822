#include "core/supply/supply.h"

#include <cmath>

namespace offshoot {

double inputCrest(const InputRectifier& input, double mains_v)
{
    switch (input.kind) {
    case InputKind::Bridge:
        return std::sqrt(2.0) * mains_v;
    case InputKind::Doubler:
        return 2 * std::sqrt(2.0) * mains_v;
    case InputKind::PowerFactorStage: {
        constexpr double usual_bus_v = 385;
        return input.bus_v.value_or(usual_bus_v);
    }
    }
    return 0;
}

std::optional<FoundDivider> Feedback::divider() const
{
    if (!reference || !top || !bottom)
        return std::nullopt;
    return FoundDivider{*reference, *top, *bottom, tolerance};
}

void fields(Fields& f, Mains& value)
{
    constexpr Range mains_frequency{10, 1000};
    f.may("v_v", value.v_v, range::positive);
    f.may("spread", value.spread, range::fraction);
    f.may("f_hz", value.f_hz, mains_frequency);
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

void fields(Fields& f, Cable& value) { f.may("r_loop_ohm", value.r_loop_ohm, range::not_negative); }

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
    f.may("v_v", value.v_v, range::positive);
    f.may("i_rated_a", value.i_rated_a, range::positive);
    f.may("rectifier", value.rectifier);
    f.may("capacitor", value.capacitor);
    f.may("feedback", value.feedback);
    f.may("indicator", value.indicator);
    f.may("minimum_load", value.minimum_load);
    f.may("trip", value.trip);
    f.may("cable", value.cable);
}

void fields(Fields& f, Supply& value)
{
    f.may("name", value.name);
    f.may("topology", value.topology);
    f.may("earth_class", value.earth_class);
    f.may("efficiency", value.efficiency, Range{0.01, 1});
    f.may("fuse", value.fuse);
    f.may("inrush", value.inrush);
    f.may("input", value.input);
    f.may("bulk", value.bulk);
    f.may("converter", value.converter);
    f.may("transformer", value.transformer);
    f.may("auxiliary", value.auxiliary);
    // One rail so far: a supply with several needs what couples them.
    f.may("rails", value.rails, {1, 1});
}

} // namespace offshoot
