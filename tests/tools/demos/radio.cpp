// Radio link: two surplus 24 V rack units stacked for 48 V, each with its negative tied to its case. Stacked
// like that the lower one is shorted through the earth; carried to the plan that frees the upper output.
#include "demos/demos.h"

namespace offshoot::demos {

void describeRadio(Job& job)
{
    job.drawer = drawer("saltmarsh-point");
    job.title = "Radio link";
    job.need.target = Target{48, 45, 52};
    job.need.current_a = 4;
    job.need.draws = LoadDraw::Power;
    job.need.why = "the radio link takes 45 to 52 V";
    job.need.load.name = "Radio link";
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Curlew 240";
    supply.topology = Topology::HalfBridge;
    supply.efficiency = 0.86;
    supply.fuse = {.value_a = 5.0, .v_rated_v = 250.0, .type = "T"};
    supply.inrush.r_ohm = 4;
    supply.input.kind = InputKind::Bridge;
    supply.input.v_rrm_v = 800;
    supply.bulk = {.c_f = 220e-6, .v_rated_v = 400.0, .bleeder_ohm = 150e3};
    supply.converter = {.v_rated_v = 500.0, .duty_max = 0.9};
    supply.transformer = {.primary_turns_per_secondary = 3.2};
    Rail& rail = supply.rails.front();
    rail.name = "24V";
    rail.v_v = 24;
    rail.i_rated_a = 10;
    rail.winding = {.centre_tapped = true, .i_rated_a = 14.0};
    rail.choke_rated_a = 14;
    rail.rectifier = {.kind = RectifierKind::Fast, .v_f_v = 0.9, .v_rrm_v = 300.0, .i_rated_a = 16.0};
    rail.capacitor = {.name = "C21", .c_f = 4700e-6, .v_rated_v = 35.0};
    rail.indicator = {.fitted = true, .r_ohm = 4700.0, .v_f_v = 2.0, .power_w = 0.25};
    rail.minimum_load = {.fitted = true, .r_ohm = 470.0, .power_w = 3.0};
    rail.trip = {.kind = TripKind::Crowbar, .v_v = 30.0};
    rail.feedback.reference = Reference{.v_ref_v = 2.495, .tolerance = 0.01, .i_ref_a = 2e-6};
    rail.feedback.top = Network(22e3);
    rail.feedback.bottom = Network(2550);
    rail.feedback.stage = {.own_supply = true, .r_led_ohm = 1500.0, .v_f_v = 1.2, .i_needed_a = 1.5e-3};
    supply.joint = {.i_limit_a = 11.0, .bonded = Bond::Negative, .isolation_v = 200.0};
    Supply upper = supply;
    upper.joint.v_set_v = 24.1;
    job.others = {upper};
    job.plan.join = JoinPlan{.kind = Joining::Stacked,
                             .opened_bonds = {2},
                             .reverse_diode = ReverseDiode{.v_rrm_v = 60, .i_a = 20}};
}

void workRadio(Bench& bench)
{
    bench.upTo("found.no_load.2", {{"found.bonds", {"bond 0.3R", "bond 0.2R #2", "load-earth 9M"}},
                                   {"found.lamp_output", {"24V 24.02 +-50mV"}},
                                   {"found.no_load", {"24V 24.03 +-50mV"}},
                                   {"found.light", {"24V 24.02 @0.39A +-50mV"}},
                                   {"found.half", {"24V 24.00 @2A +-50mV"}},
                                   {"found.full", {"24V 23.96 @3.9A +-50mV"}},
                                   {"found.lamp_output.2", {"24V 24.11 #2 +-50mV"}},
                                   {"found.no_load.2", {"24V 24.12 #2 +-50mV"}}});
    bench.type("note stacked on trial last winter: the lower one's fuse blew at once");
}

} // namespace offshoot::demos
