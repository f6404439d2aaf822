// Fog signal amplifier: a large capacitor bank behind a toroid that trips the breaker at switch-on. A
// resistor with a bypass tames it; carried to the plan.
#include "demos/demos.h"

namespace offshoot::demos {

void describeFogSignal(Job& job)
{
    job.drawer = drawer("saltmarsh-point");
    for (const StockItem& item : drawer("power-resistors"))
        job.drawer.push_back(item);
    job.title = "Fog signal amplifier";
    job.need.target = Target{54, 46, 64};
    job.need.current_a = 2;
    job.need.peak_a = 6;
    job.need.why = "the amplifier takes 46 to 64 V";
    job.need.load.name = "Amplifier";
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Bittern 500";
    supply.topology = Topology::Unregulated;
    supply.efficiency = 0.85;
    supply.fuse = {.value_a = 3.15, .v_rated_v = 250.0, .type = "T"};
    supply.input.kind = InputKind::Bridge;
    supply.input.v_rrm_v = 200;
    supply.bulk = {.c_f = 44e-3, .v_rated_v = 80.0, .bleeder_ohm = 2200.0};
    supply.direct = {.min_v = 47.0, .mean_v = 54.0, .max_v = 66.0};
    Rail& rail = supply.rails.front();
    rail.name = "54V";
    rail.v_v = 54;
    rail.i_rated_a = 7;
    rail.capacitor = {.name = "C1 C2", .c_f = 44e-3, .v_rated_v = 80.0};
    rail.indicator = {.fitted = true, .r_ohm = 4700.0, .v_f_v = 2.0, .power_w = 1.0};
    rail.minimum_load = {.fitted = true, .r_ohm = 2200.0, .power_w = 3.0};
    rail.trip = {.kind = TripKind::None};
    MainsSide& side = supply.mains_side;
    side.clues = {{.part = "transformer plate",
                   .kind = ClueKind::TransformerPrimary,
                   .rating_v = 230.0,
                   .f_rated_hz = 50.0},
                  {.part = "label", .kind = ClueKind::Label, .min_v = 220.0, .max_v = 240.0}};
    side.surge = {.ratio = 230.0 / 42,
                  .c_f = 44e-3,
                  .source_ohm = 1.1,
                  .esr_ohm = 0.2,
                  .i_surge_max_a = 300.0,
                  .breaker_trip_a = 110.0,
                  .fuse_i2t_a2s = 60.0,
                  .load_w = 45.0};
    RectifierChain chain{
        .source = {.v_rms_v = 42, .f_hz = 50, .r_ohm = 0.22},
        .rectifier = {.kind = SimRectifier::Bridge,
                      .diode = {.model = DiodeModel::Threshold, .v_f_v = 0.85, .r_ohm = 0.012}},
        .filter = {},
        .load = {.current_a = 2.0}};
    chain.filter.push_back(
        {.kind = SmoothingKind::C, .c_f = 44e-3, .esr_ohm = 0.008, .v_rated_v = 80.0, .i_ripple_a = 18.0});
    side.chain = chain;
    side.ratings = {.v_piv_v = 200.0, .i_peak_a = 300.0, .i_mean_a = 17.0};
}

void workFogSignal(Bench& bench)
{
    bench.upTo("found.lamp_off",
               {{"found.earth", {"earth 0.06R"}}, {"found.lamp_output", {"54V 55.2 +-200mV"}}});
    bench.type("note at the breaker it holds one time in three");
    constexpr std::uint64_t unit = 3;
    bench.capture("switched-on.csv",
                  {"lamp_in", "plug_in", "probe out", "unplug", "lamp_out", "plug_in", "capture surge tab"},
                  unit, {});
    bench.session().edit(QStringLiteral("plan"), [](Job& job) {
        job.plan.limiter = LimiterPlan{.r_ohm = 33.0,
                                       .power_w = 25.0,
                                       .pulse_j = 150.0,
                                       .fusible = true,
                                       .bypass_s = 0.7,
                                       .relay = BypassRelay{.i_make_max_a = 80.0, .i_run_max_a = 16.0},
                                       .delay_c_f = 100e-6,
                                       .delay_supply_v = 24.0,
                                       .delay_threshold_v = 16.0};
    });
}

} // namespace offshoot::demos
