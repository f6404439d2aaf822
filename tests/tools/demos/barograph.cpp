// Barograph amplifier: a valve rectifier that drives more reservoir than it may. A smaller first capacitor
// and better ones behind it; carried to the plan.
#include "demos/demos.h"

namespace offshoot::demos {

void describeBarograph(Job& job)
{
    job.drawer = drawer("saltmarsh-point");
    job.title = "Barograph amplifier";
    job.need.target = Target{250, 235, 270};
    job.need.current_a = 0.07;
    job.need.ripple_max_v = 1.5;
    job.need.why = "the amplifier's plates want 250 V";
    job.need.load.name = "Amplifier";
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Whimbrel 25";
    supply.topology = Topology::Unregulated;
    supply.efficiency = 0.6;
    supply.fuse = {.value_a = 0.5, .v_rated_v = 250.0, .type = "T"};
    supply.bulk = {.c_f = 8e-6, .v_rated_v = 450.0, .bleeder_ohm = 220e3};
    supply.direct = {.min_v = 240.0, .mean_v = 272.0, .max_v = 451.0};
    Rail& rail = supply.rails.front();
    rail.name = "HT";
    rail.v_v = 257;
    rail.i_rated_a = 0.08;
    rail.capacitor = {.name = "C2", .c_f = 16e-6, .v_rated_v = 450.0};
    rail.indicator = {.fitted = false};
    rail.minimum_load = {.fitted = true, .r_ohm = 220e3, .power_w = 1.0};
    rail.trip = {.kind = TripKind::None};
    supply.mains_side.clues = {{.part = "transformer plate",
                                .kind = ClueKind::TransformerPrimary,
                                .rating_v = 230.0,
                                .f_rated_hz = 50.0},
                               {.part = "label", .kind = ClueKind::Label, .min_v = 220.0, .max_v = 240.0}};
    RectifierChain chain{
        .source = {.v_rms_v = 290, .f_hz = 50, .r_ohm = 160},
        .rectifier = {.kind = SimRectifier::FullWaveCt,
                      .diode = {.model = DiodeModel::Valve, .perveance_a_v15 = 2.5e-4, .r_plate_ohm = 50}},
        .filter = {},
        .load = {.current_a = 0.07}};
    chain.filter = {{.kind = SmoothingKind::C, .c_f = 8e-6, .v_rated_v = 450.0},
                    {.kind = SmoothingKind::L, .l_h = 10, .r_ohm = 220},
                    {.kind = SmoothingKind::C, .c_f = 16e-6, .esr_ohm = 2, .v_rated_v = 450.0}};
    supply.mains_side.chain = chain;
    supply.mains_side.ratings = {.v_piv_v = 1400.0,
                                 .i_peak_a = 0.4,
                                 .i_mean_a = 0.07,
                                 .c_first_max_f = 4e-6,
                                 .r_plate_min_ohm = 150.0};
}

void workBarograph(Bench& bench)
{
    bench.upTo("found.inspect", {{"found.earth", {"earth 0.09R"}}});
    bench.type("note the rectifier glows blue at the edges and was replaced twice");
    bench.session().edit(QStringLiteral("plan"), [](Job& job) {
        RectifierChain chain = *job.found.mains_side.chain;
        chain.filter[0].c_f = 3.9e-6;
        chain.filter[0].v_rated_v = 600;
        chain.filter[2].c_f = 33e-6;
        chain.filter[2].v_rated_v = 600;
        job.plan.chain = chain;
    });
}

} // namespace offshoot::demos
