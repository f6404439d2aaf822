// Beacon float charge: a 24 V flyback retuned to 27.6 V for twelve lead-acid cells, up to half load.
#include "demos/demos.h"

namespace offshoot::demos {

void describeBeacon(Job& job)
{
    job.drawer = drawer("saltmarsh-point");
    job.title = "Beacon float charge";
    job.need.target = Target{27.6, 27.3, 27.9};
    job.need.current_a = 2.0;
    job.need.ripple_max_v = 0.12;
    job.meter.probe_factor = 1;
    job.need.why =
        "float charge of 12 lead-acid cells at 16 °C: 12 × (2.27 V − 3.3 mV/K × (16 − 25)) = 27.60 V";
    job.need.must_not_change = "the connector and the beacon's own wiring";
    job.need.load.name = "Beacon";
    job.need.load.kind = LoadKind::Battery;
    job.need.load.battery = {
        .v_flat_v = 21.0, .r_ohm = 0.15, .i_charge_max_a = 5.0, .capacity_c = 24 * 3600.0, .fuse_a = 5.0};
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Dunlin 60";
    supply.efficiency = 0.84;
    supply.enclosure = Enclosure::OpenFrame;
    supply.fuse = {.value_a = 2.0, .v_rated_v = 250.0, .type = "T"};
    supply.inrush.r_ohm = 5;
    supply.input.kind = InputKind::Bridge;
    supply.input.v_rrm_v = 600;
    supply.bulk = {.c_f = 100e-6, .v_rated_v = 400.0, .bleeder_ohm = 470e3};
    supply.converter = {.v_rated_v = 650.0, .spike_v = 60.0, .clamp_v = 180.0, .duty_max = 0.5};
    supply.transformer = {.primary_turns_per_secondary = 4.0, .auxiliary_turns_per_secondary = 0.58};
    supply.auxiliary = {.off_v = 9.0, .max_v = 18.0};
    supply.mains_side.noise_hz = 41e3;
    Rail& rail = supply.rails.front();
    rail.name = "24V";
    rail.v_v = 24;
    rail.i_rated_a = 2.5;
    rail.rectifier = {.kind = RectifierKind::Schottky, .v_f_v = 0.5, .v_rrm_v = 150.0, .i_rated_a = 10.0};
    rail.capacitor = {.name = "Output capacitors C7 C8", .c_f = 2000e-6, .v_rated_v = 35.0};
    rail.indicator = {.fitted = true, .r_ohm = 4700.0, .v_f_v = 2.0, .power_w = 0.25};
    rail.minimum_load = {.fitted = true, .r_ohm = 2200.0, .power_w = 1.0};
    rail.trip = {.kind = TripKind::Zener, .v_v = 33.0};
    rail.cable.r_loop_ohm = 0.04;
    rail.feedback.reference = Reference{.v_ref_v = 2.495, .tolerance = 0.01, .i_ref_a = 2e-6};
    rail.feedback.top = Network(22e3);
    rail.feedback.bottom = Network(2550);
    rail.feedback.stage = {.r_led_ohm = 2200.0, .v_f_v = 1.2, .i_needed_a = 2e-3};
    const StockItem part{.ohm = 15e3, .tolerance = 0.01, .power_w = 0.25};
    job.plan.trimmer.pot_ohm = 10e3;
    job.plan.trimmer.fixed_ohm = 10e3;
    job.plan.chosen = ChosenNetwork{DividerMethod::ParallelBottom, Network(15e3), {part}};
}

void workBeacon(Bench& bench)
{
    bench.upTo("found.inspect");
    bench.type("note output capacitors look sound, dust blown out");
    const Bench::Says says{
        {"found.lamp_output", {"out 24.05 +-30mV"}},    {"found.no_load", {"out 24.05 +-30mV"}},
        {"found.light", {"out 24.04 @0.18A +-30mV"}},   {"found.half", {"out 24.02 @0.89A +-30mV"}},
        {"found.full", {"out 23.98 @1.8A +-30mV"}},     {"change.measure", {"bottom 2174R +-20R"}},
        {"bringup.lamp_output", {"out 27.69 +-30mV"}},  {"bringup.no_load", {"out 27.70 +-30mV"}},
        {"bringup.light", {"out 27.69 @0.21A +-30mV"}}, {"bringup.half", {"out 27.66 @1A +-30mV"}}};
    constexpr std::uint64_t unit = 7;
    const ReadingLoad half{1, Quantity::Current};
    const std::vector<std::string> before{"lamp_in",  "plug_in",  "probe out", "unplug",
                                          "lamp_out", "load 24R", "plug_in"};
    bench.upTo("found.full", says);
    std::vector<std::string> moves = before;
    moves.emplace_back("capture ripple comma");
    bench.capture("found-1A.csv", moves, unit, half);
    bench.upTo("bringup.half", says);
    moves = before;
    moves.insert(moves.end(),
                 {"unplug", "load none", "discharge 4k7 60", "wait 60", "fit", "lamp_in", "plug_in",
                  "probe out", "unplug", "lamp_out", "load 27R6", "plug_in", "capture ripple semicolon"});
    bench.capture("changed-1A.csv", moves, unit, half);
}

} // namespace offshoot::demos
