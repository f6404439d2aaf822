// Splicing bench: a computer-type supply made to feed a row of 5 V and 12 V outlets on the workbench. One
// trimmer moves both; some wires are not what their colour says. Carried to the plan.
#include "demos/demos.h"

namespace offshoot::demos {

namespace {

Rail branch(const char* name, double v, double i_a, const char* capacitor, double c_f, double v_rated_v)
{
    Rail rail{};
    rail.name = name;
    rail.v_v = v;
    rail.i_rated_a = i_a;
    rail.capacitor = {.name = capacitor, .c_f = c_f, .v_rated_v = v_rated_v};
    rail.indicator = {.fitted = false};
    rail.minimum_load = {.fitted = false};
    rail.trip = {.kind = TripKind::None};
    return rail;
}

void describeRails(Supply& supply)
{
    Rail& twelve = supply.rails.front();
    twelve = branch("12V", 12, 14, "C31", 2200e-6, 16);
    twelve.winding = {
        .turns = 7, .primary_turns_per_secondary = 40.0 / 7, .centre_tapped = true, .i_rated_a = 16.0};
    twelve.choke_rated_a = 18;
    twelve.rectifier = {.kind = RectifierKind::Fast, .v_f_v = 0.9, .v_rrm_v = 100.0, .i_rated_a = 20.0};
    twelve.trip = {.kind = TripKind::Zener, .v_v = 15.6};
    twelve.users = {{.name = "12 V outlets",
                     .connector = "yellow bundle",
                     .typical_a = 4.0,
                     .least_a = 0.0,
                     .min_v = 11.4,
                     .max_v = 12.6,
                     .if_lost = "half of the bench"},
                    {.name = "Fan",
                     .connector = "CN3",
                     .typical_a = 0.2,
                     .least_a = 0.2,
                     .min_v = 7.0,
                     .max_v = 13.8,
                     .if_lost = "cooling: the supply overheats"}};
    Rail five = branch("5V", 5, 20, "C32 C33", 4400e-6, 10);
    five.regulated_by = "12V";
    five.winding = {
        .turns = 3, .primary_turns_per_secondary = 40.0 / 3, .centre_tapped = true, .i_rated_a = 24.0};
    five.choke_rated_a = 24;
    five.rectifier = {.kind = RectifierKind::Schottky, .v_f_v = 0.5, .v_rrm_v = 60.0, .i_rated_a = 30.0};
    five.trip = {.kind = TripKind::Zener, .v_v = 6.3};
    five.users = {{.name = "5 V outlets",
                   .connector = "red bundle",
                   .typical_a = 6.0,
                   .least_a = 0.0,
                   .min_v = 4.75,
                   .max_v = 5.25,
                   .if_lost = "the other half of the bench"}};
    Rail three = branch("3V3", 3.3, 12, "C35", 2200e-6, 6.3);
    three.rectifier = {.kind = RectifierKind::Schottky, .v_f_v = 0.5, .v_rrm_v = 45.0, .i_rated_a = 20.0};
    three.users = {{.name = "Logic tester",
                    .connector = "orange",
                    .typical_a = 0.4,
                    .least_a = 0.0,
                    .min_v = 3.14,
                    .max_v = 3.46,
                    .if_lost = "the tester goes dark"}};
    Rail standby = branch("5VSB", 5.05, 2, "C41", 1000e-6, 10);
    standby.rectifier = {.kind = RectifierKind::Schottky, .v_f_v = 0.45, .v_rrm_v = 45.0, .i_rated_a = 3.0};
    standby.users = {{.name = "Enable circuit",
                      .connector = "inside",
                      .typical_a = 0.05,
                      .least_a = 0.05,
                      .min_v = 4.5,
                      .max_v = 5.5,
                      .if_lost = "the supply no longer starts"},
                     {.name = "Bench lamp",
                      .connector = "purple",
                      .typical_a = 0.5,
                      .least_a = 0.0,
                      .min_v = 4.5,
                      .max_v = 5.5,
                      .if_lost = "the lamp"}};
    for (Rail* rail : {&five, &three, &standby})
        supply.rails.push_back(*rail);
}

void describeWires(Supply& supply)
{
    using enum WireFunction;
    supply.wires = {
        {.name = "main 1", .colour = "yellow", .function = Output, .measured = true, .rail = "12V"},
        {.name = "main 2", .colour = "red", .function = Output, .measured = true, .rail = "5V"},
        {.name = "main 3", .colour = "black", .function = Return, .measured = true},
        {.name = "main 4", .colour = "green", .function = Enable, .measured = true},
        {.name = "main 5", .colour = "grey", .function = PowerGood, .measured = true},
        {.name = "main 6", .colour = "purple", .function = Standby, .measured = true, .rail = "5VSB"},
        {.name = "main 7", .colour = "brown", .function = Unknown, .measured = false}};
}

} // namespace

void describeSplicing(Job& job)
{
    job.drawer = drawer("power-resistors");
    job.title = "Splicing bench";
    job.need.target = Target{12.0, 11.4, 12.6};
    job.need.current_a = 4.0;
    job.need.least_a = 0.2;
    job.need.peak_a = 8.0;
    job.need.others = {{.rail = "5V", .min_v = 4.85, .max_v = 5.25}};
    job.need.why = "outlets of 12 V ± 5 % and 5 V −3 % +5 %";
    job.need.load.name = "Outlets";
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Curlew 350";
    supply.topology = Topology::HalfBridge;
    supply.efficiency = 0.72;
    supply.fuse = {.value_a = 5.0, .v_rated_v = 250.0, .type = "T"};
    supply.inrush.r_ohm = 4;
    supply.input.kind = InputKind::Bridge;
    supply.input.v_rrm_v = 600;
    supply.bulk = {.c_f = 340e-6, .v_rated_v = 400.0, .bleeder_ohm = 150e3};
    supply.converter = {.v_rated_v = 500.0, .duty_max = 0.9};
    supply.transformer = {.primary_turns_per_secondary = 40.0 / 7, .primary_turns = 40};
    supply.trimmers = {{.name = "VR2", .min_scale = 0.97, .max_scale = 1.06}};
    supply.current_limit = {.threshold = LimitThreshold{.v_v = 0.05, .tolerance = 0.1},
                            .shunt = Network(0.005),
                            .part_power_w = 2.0,
                            .lead_ohm = 0.0004};
    describeRails(supply);
    describeWires(supply);
    supply.rails.front().feedback.reference = Reference{.v_ref_v = 2.5, .tolerance = 0.02};
    supply.rails.front().feedback.stage.own_supply = true;
    job.plan.trim = TrimPlan{.trimmer = "VR2", .scale = 1.017};
}

void workSplicing(Bench& bench)
{
    bench.upTo("found.power_full",
               {{"found.earth", {"earth 0.06R"}}, {"found.lamp_output", {"12V 12.24 @0.4A +-50mV"}}});
    bench.type("12V 12.30 +-50mV");
    bench.type("5V 4.79 @6A +-20mV");
    bench.type("3V3 3.31 +-20mV");
    bench.type("5VSB 5.06 +-20mV");
    bench.type("12V 12.30 @0.4A +-50mV");
    bench.type("12V 12.21 @2A +-50mV");
    bench.type("12V 12.10 @4A +-50mV");
}

} // namespace offshoot::demos
