// Hatch heater: three 15 V modules side by side for a heater that none can carry alone. Their own droop lets
// them share, unevenly; carried to the plan, with the ballast still to be chosen.
#include "demos/demos.h"

namespace offshoot::demos {

void describeHeater(Job& job)
{
    job.drawer = drawer("power-resistors");
    job.title = "Hatch heater";
    job.need.target = Target{14.8, 14.2, 15.2};
    job.need.current_a = 11;
    job.need.draws = LoadDraw::Resistance;
    job.need.why = "the heater's plate says 165 W at 15 V";
    job.need.load.name = "Hatch heater";
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Plover 75";
    supply.efficiency = 0.84;
    supply.fuse = {.value_a = 2.0, .v_rated_v = 250.0, .type = "T"};
    supply.inrush.r_ohm = 5;
    supply.input.kind = InputKind::Bridge;
    supply.input.v_rrm_v = 800;
    supply.bulk = {.c_f = 100e-6, .v_rated_v = 400.0, .bleeder_ohm = 470e3};
    supply.converter = {.v_rated_v = 700.0, .spike_v = 40.0, .clamp_v = 170.0, .duty_max = 0.5};
    supply.transformer = {.primary_turns_per_secondary = 6, .auxiliary_turns_per_secondary = 0.9};
    supply.auxiliary = {.v_f_v = 0.9, .off_v = 8.5, .max_v = 22.0};
    supply.trimmers = {{.name = "VR1", .min_scale = 0.93, .max_scale = 1.07}};
    Rail& rail = supply.rails.front();
    rail.name = "15V";
    rail.v_v = 15;
    rail.i_rated_a = 5;
    rail.rectifier = {.kind = RectifierKind::Schottky, .v_f_v = 0.5, .v_rrm_v = 150.0, .i_rated_a = 15.0};
    rail.capacitor = {.name = "C9 C10", .c_f = 2200e-6, .v_rated_v = 25.0};
    rail.indicator = {.fitted = true, .r_ohm = 2200.0, .v_f_v = 2.0, .power_w = 0.25};
    rail.minimum_load = {.fitted = false};
    rail.trip = {.kind = TripKind::Zener, .v_v = 18.0};
    rail.users = {{.name = "Hatch heater",
                   .connector = "ring terminals",
                   .typical_a = 11.0,
                   .least_a = 0.0,
                   .min_v = 0.0,
                   .max_v = 16.0,
                   .if_lost = "the hatch ices up"}};
    rail.feedback.reference = Reference{.v_ref_v = 2.495, .tolerance = 0.01, .i_ref_a = 2e-6};
    rail.feedback.top = Network(10e3);
    rail.feedback.bottom = Network(1990);
    rail.feedback.stage = {.r_led_ohm = 1000.0, .v_f_v = 1.2, .i_needed_a = 1.5e-3};
    supply.joint = {.r_out_ohm = 0.05,
                    .i_limit_a = 5.5,
                    .lead_length_m = 0.6,
                    .lead_area_m2 = 2.5e-6,
                    .bonded = Bond::None,
                    .isolation_v = 250.0};
    Supply second = supply;
    second.joint.v_set_v = 15.0;
    Supply third = second;
    third.joint.v_set_v = 14.97;
    job.others = {second, third};
    job.plan.join = JoinPlan{.kind = Joining::SideBySide};
}

void workHeater(Bench& bench)
{
    bench.upTo("found.bonds",
               {{"found.bonds", {"bond 8.2M", "bond 7.9M #2", "bond 8.4M #3", "load-earth 12M"}}});
    bench.upTo("found.no_load.3", {{"found.lamp_output", {"15V 15.03 +-20mV"}},
                                   {"found.lamp_output.2", {"15V 15.00 #2 +-20mV"}},
                                   {"found.lamp_output.3", {"15V 14.97 #3 +-20mV"}},
                                   {"found.no_load", {"15V 15.04 +-20mV"}},
                                   {"found.light", {"15V 15.03 @0.38A +-20mV"}},
                                   {"found.half", {"15V 15.01 @1.8A +-20mV"}},
                                   {"found.full", {"15V 14.97 @3.8A +-20mV"}},
                                   {"found.no_load.2", {"15V 15.00 #2 +-20mV"}},
                                   {"found.no_load.3", {"15V 14.97 #3 +-20mV"}}});
    bench.type("note the third one sags first when the heater is cold");
}

} // namespace offshoot::demos
