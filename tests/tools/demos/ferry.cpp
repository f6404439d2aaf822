// Ferry shed display: 5 V and 12 V on one loop. The lamps that loaded the 12 V rail went, so it wanders; a
// dummy load takes their place. Carried to the plan.
#include "demos/demos.h"

namespace offshoot::demos {

void describeFerry(Job& job)
{
    job.drawer = drawer("power-resistors");
    job.title = "Ferry shed display";
    job.need.target = Target{5.0, 4.9, 5.1};
    job.need.current_a = 2.0;
    job.need.least_a = 0.6;
    job.need.peak_a = 2.6;
    job.need.others = {{.rail = "12V", .min_v = 11.4, .max_v = 12.6}};
    job.need.why = "the display's logic names 5 V ± 2 %, its drivers 12 V ± 5 %";
    job.need.must_not_change = "the display's own cable";
    job.need.load.name = "Display";
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Turnstone 40";
    supply.efficiency = 0.78;
    supply.fuse = {.value_a = 1.6, .v_rated_v = 250.0, .type = "T"};
    supply.inrush.r_ohm = 8;
    supply.input.kind = InputKind::Bridge;
    supply.input.v_rrm_v = 600;
    supply.bulk = {.c_f = 68e-6, .v_rated_v = 400.0, .bleeder_ohm = 330e3};
    supply.converter = {.v_rated_v = 600.0, .spike_v = 45.0, .clamp_v = 170.0, .duty_max = 0.5};
    supply.transformer = {.primary_turns_per_secondary = 17.5,
                          .auxiliary_turns_per_secondary = 2.5,
                          .primary_turns = 70,
                          .auxiliary_turns = 10};
    supply.auxiliary = {.off_v = 9.5, .max_v = 20.0};
    supply.trimmers = {{.name = "VR1", .min_scale = 0.94, .max_scale = 1.05}};
    Rail& logic = supply.rails.front();
    logic.name = "5V";
    logic.v_v = 5;
    logic.i_rated_a = 4;
    logic.winding = {.turns = 4, .i_rated_a = 6.0};
    logic.rectifier = {.kind = RectifierKind::Schottky, .v_f_v = 0.45, .v_rrm_v = 45.0, .i_rated_a = 10.0};
    logic.capacitor = {.name = "C11 C12", .c_f = 3300e-6, .v_rated_v = 10.0};
    logic.indicator = {.fitted = true, .r_ohm = 330.0, .v_f_v = 2.0, .power_w = 0.25};
    logic.minimum_load = {.fitted = false};
    logic.trip = {.kind = TripKind::Crowbar, .v_v = 6.2};
    logic.users = {{.name = "Display logic",
                    .connector = "J2 1-2",
                    .typical_a = 2.0,
                    .least_a = 0.6,
                    .min_v = 4.75,
                    .max_v = 5.25,
                    .if_lost = "the whole display"}};
    logic.feedback.reference = Reference{.v_ref_v = 2.495, .tolerance = 0.01, .i_ref_a = 2e-6};
    logic.feedback.top = Network(2400);
    logic.feedback.bottom = Network(2400);
    logic.feedback.stage = {.r_led_ohm = 220.0, .v_f_v = 1.2, .i_needed_a = 2e-3};
    Rail drivers{};
    drivers.name = "12V";
    drivers.v_v = 12;
    drivers.i_rated_a = 1.2;
    drivers.regulated_by = "5V";
    drivers.winding = {.turns = 9, .i_rated_a = 2.0};
    drivers.rectifier = {.kind = RectifierKind::Fast, .v_f_v = 0.9, .v_rrm_v = 100.0, .i_rated_a = 3.0};
    drivers.capacitor = {.name = "C14", .c_f = 1000e-6, .v_rated_v = 16.0};
    drivers.indicator = {.fitted = false};
    drivers.minimum_load = {.fitted = false};
    drivers.trip = {.kind = TripKind::None};
    drivers.users = {{.name = "Segment drivers",
                      .connector = "J2 4",
                      .typical_a = 0.12,
                      .least_a = 0.05,
                      .min_v = 11.0,
                      .max_v = 13.2,
                      .if_lost = "every digit goes dark"}};
    supply.rails.push_back(drivers);
    // The lamps drew a third of an ampere; this bank draws nearly that.
    job.plan.dummy_load = DummyLoadPlan{.rail = "12V", .network = Network(39), .part_power_w = 7.0};
}

void workFerry(Bench& bench)
{
    bench.upTo("found.inspect", {{"found.earth", {"earth 0.11R"}}});
    bench.type("note four lamps of the old display are gone: nothing loads 12V but the drivers");
    bench.upTo("found.power_full", {{"found.lamp_output", {"5V 5.01 +-15mV"}}});
    bench.type("5V 5.02 +-15mV");
    bench.type("12V 14.1 @0A +-40mV");
    bench.type("hunting");
    bench.type("12V 12.9 @0.1A +-40mV");
    bench.type("12V 12.55 @0.3A +-40mV");
    bench.type("12V 12.0 @0.6A +-40mV");
    bench.type("5V 5.01 @0.2A +-15mV");
    bench.type("5V 5.00 @1A +-15mV");
    bench.type("5V 4.99 @2A +-15mV");
}

} // namespace offshoot::demos
