// Rain gauge logger: an 18 V adapter brought down to 12.6 V by its divider. The controller's supply falls
// with the output: it starves and hiccups. Another winding ratio cures that; carried to the plan.
#include "demos/demos.h"

namespace offshoot::demos {

void describeRainGauge(Job& job)
{
    job.drawer = drawer("saltmarsh-point");
    job.title = "Rain gauge logger";
    job.need.target = Target{12.6, 12.3, 12.9};
    job.need.current_a = 1.2;
    job.need.peak_a = 1.6;
    job.need.ripple_max_v = 0.15;
    job.need.why = "the logger names 12.6 V ± 0.3 V";
    job.need.load.name = "Logger";
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Sanderling 36";
    supply.earth_class = EarthClass::ClassII;
    supply.efficiency = 0.85;
    supply.fuse = {.value_a = 1.0, .v_rated_v = 250.0, .type = "T"};
    supply.inrush.r_ohm = 10;
    supply.input.kind = InputKind::Bridge;
    supply.input.v_rrm_v = 800;
    supply.bulk = {.c_f = 68e-6, .v_rated_v = 400.0, .bleeder_ohm = 1e6};
    supply.converter = {.v_rated_v = 650.0, .spike_v = 50.0, .clamp_v = 150.0, .duty_max = 0.55};
    supply.transformer = {.primary_turns_per_secondary = 60.0 / 14,
                          .auxiliary_turns_per_secondary = 10.0 / 14,
                          .primary_turns = 60,
                          .auxiliary_turns = 10};
    supply.auxiliary = {.v_f_v = 0.9, .off_v = 9.0, .max_v = 20.0};
    Rail& rail = supply.rails.front();
    rail.name = "18V";
    rail.v_v = 18;
    rail.i_rated_a = 2;
    rail.winding = {.turns = 14, .i_rated_a = 3.0};
    rail.rectifier = {.kind = RectifierKind::Schottky, .v_f_v = 0.5, .v_rrm_v = 150.0, .i_rated_a = 8.0};
    rail.capacitor = {.name = "C8", .c_f = 1500e-6, .v_rated_v = 25.0};
    rail.indicator = {.fitted = true, .r_ohm = 3300.0, .v_f_v = 2.0, .power_w = 0.25};
    rail.minimum_load = {.fitted = false};
    rail.trip = {.kind = TripKind::Zener, .v_v = 22.0};
    rail.cable.r_loop_ohm = 0.09;
    rail.users = {{.name = "Logger",
                   .connector = "barrel plug",
                   .typical_a = 1.2,
                   .least_a = 0.08,
                   .min_v = 11.5,
                   .max_v = 14.0,
                   .if_lost = "the record of the rain"}};
    rail.feedback.reference = Reference{.v_ref_v = 2.495, .tolerance = 0.01, .i_ref_a = 2e-6};
    rail.feedback.top = Network(22e3);
    rail.feedback.bottom = Network(3540);
    rail.feedback.stage = {.r_led_ohm = 1500.0, .v_f_v = 1.2, .i_needed_a = 1.5e-3};
    supply.current_limit = {.threshold = LimitThreshold{.v_v = 0.5, .tolerance = 0.08},
                            .shunt = Network(0.33),
                            .part_power_w = 1.0,
                            .primary_side = true};
    job.hiccup = {.lamp_in = true,
                  .stops_lamp_out = false,
                  .stops_unloaded = false,
                  .stops_with_load = false,
                  .reaches_output = true};
}

void workRainGauge(Bench& bench)
{
    bench.upTo("found.ripple", {{"found.lamp_output", {"18V 18.02 +-40mV"}},
                                {"found.no_load", {"18V 18.03 +-40mV"}},
                                {"found.light", {"18V 18.02 @0.12A +-40mV"}},
                                {"found.half", {"18V 18.00 @0.6A +-40mV"}},
                                {"found.full", {"18V 17.97 @1.2A +-40mV"}}});
    bench.type("note last year's try with the divider alone: it reached 12.6 V and stopped, twice a second");
    bench.session().edit(QStringLiteral("plan"), [&bench](Job& job) {
        const DividerOption& best = bench.session().evaluation().candidates.front().option;
        job.plan.chosen = ChosenNetwork{best.method, best.network, best.parts};
        job.plan.rewind = RewindPlan{.rail = "18V", .turns = 10};
    });
}

} // namespace offshoot::demos
