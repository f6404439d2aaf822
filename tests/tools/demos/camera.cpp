// Mast camera: 5 V at the end of twelve metres of thin pair. The camera keeps its power, so it draws more as
// its voltage falls; the sense terminals make up for less than drops. Carried to the plan.
#include "demos/demos.h"

namespace offshoot::demos {

void describeCamera(Job& job)
{
    job.drawer = drawer("saltmarsh-point");
    job.title = "Mast camera";
    job.need.target = Target{5.0, 4.75, 5.25};
    job.need.current_a = 0.8;
    job.need.draws = LoadDraw::Power;
    job.need.why = "the camera wants 5 V ± 5 %, 4 W with its heater";
    job.need.load.name = "Mast camera";
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Tern 15";
    supply.earth_class = EarthClass::ClassII;
    supply.efficiency = 0.78;
    supply.fuse = {.value_a = 1.0, .v_rated_v = 250.0, .type = "T"};
    supply.inrush.r_ohm = 15;
    supply.input.kind = InputKind::Bridge;
    supply.input.v_rrm_v = 800;
    supply.bulk = {.c_f = 33e-6, .v_rated_v = 400.0, .bleeder_ohm = 1e6};
    supply.converter = {.v_rated_v = 650.0, .spike_v = 45.0, .clamp_v = 150.0, .duty_max = 0.5};
    supply.transformer = {.primary_turns_per_secondary = 16, .auxiliary_turns_per_secondary = 2.5};
    supply.auxiliary = {.v_f_v = 0.9, .off_v = 8.5, .max_v = 20.0};
    supply.trimmers = {{.name = "VR1", .min_scale = 0.95, .max_scale = 1.06}};
    Rail& rail = supply.rails.front();
    rail.name = "5V";
    rail.v_v = 5.1;
    rail.i_rated_a = 3;
    rail.rectifier = {.kind = RectifierKind::Schottky, .v_f_v = 0.45, .v_rrm_v = 60.0, .i_rated_a = 8.0};
    rail.capacitor = {.name = "C6", .c_f = 2200e-6, .v_rated_v = 10.0};
    rail.indicator = {.fitted = true, .r_ohm = 470.0, .v_f_v = 2.0, .power_w = 0.25};
    rail.minimum_load = {.fitted = false};
    rail.trip = {.kind = TripKind::Crowbar, .v_v = 6.2};
    rail.cable = {.length_m = 12.0, .area_m2 = awgArea(22), .contact_ohm = 0.04, .temperature_k = 303.15};
    rail.sense = {.fitted = true,
                  .r_lead_ohm = 0.6,
                  .r_fallback_ohm = 10.0,
                  .current_a = 0.001,
                  .range_v = 0.5,
                  .ceiling_v = 5.5,
                  .bandwidth_hz = 2000.0,
                  .load_capacitor_f = 470e-6};
    rail.users = {{.name = "Mast camera",
                   .connector = "J3 1-2",
                   .typical_a = 0.8,
                   .least_a = 0.2,
                   .min_v = 4.75,
                   .max_v = 5.25,
                   .if_lost = "the picture of the bar at night"}};
    rail.feedback.reference = Reference{.v_ref_v = 2.495, .tolerance = 0.01, .i_ref_a = 2e-6};
    rail.feedback.top = Network(2400);
    rail.feedback.bottom = Network(2300);
    rail.feedback.stage = {.r_led_ohm = 220.0, .v_f_v = 1.2, .i_needed_a = 2e-3};
}

void workCamera(Bench& bench)
{
    bench.upTo("found.ripple", {{"found.lamp_output", {"5V 5.09 +-15mV"}},
                                {"found.no_load", {"5V 5.10 +-15mV"}},
                                {"found.light", {"5V 5.10 @0.082A +-15mV"}},
                                {"found.half", {"5V 5.09 @0.39A +-15mV"}},
                                {"found.full", {"5V 5.08 @0.82A +-15mV"}}});
    bench.type("note at the camera 3.6 V, and it starts over and over");
    bench.session().edit(QStringLiteral("plan"),
                         [](Job& job) { job.plan.wire = WirePlan{.area_m2 = 2.5e-6, .conductors = 1}; });
}

} // namespace offshoot::demos
