// Chart recorder: bought abroad, made for 115 V with two primaries, to run on 230 V 50 Hz. Label and parts
// disagree; the primaries go in series once their phase is proven. Carried to the plan.
#include "demos/demos.h"

namespace offshoot::demos {

void describeRecorder(Job& job)
{
    job.drawer = drawer("saltmarsh-point");
    job.title = "Chart recorder";
    job.need.target = Target{24, 23, 25};
    job.need.current_a = 2;
    job.need.ripple_max_v = 0.05;
    job.need.why = "the recorder's drive asks for 24 V ± 1 V";
    job.need.load.name = "Chart drive";
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Knot 110";
    supply.topology = Topology::Linear;
    supply.efficiency = 0.6;
    supply.fuse = {.value_a = 1.6, .v_rated_v = 250.0, .type = "T"};
    supply.input.kind = InputKind::Bridge;
    supply.input.v_rrm_v = 200;
    supply.bulk = {.c_f = 4700e-6, .v_rated_v = 50.0, .bleeder_ohm = 4700.0};
    supply.direct = {.min_v = 27.6, .mean_v = 31.0, .max_v = 37.0};
    supply.regulator = {.drop_v = 2.5, .theta_k_per_w = 3.5, .t_ambient_k = 308.15, .t_j_max_k = 423.15};
    Rail& rail = supply.rails.front();
    rail.name = "24V";
    rail.v_v = 24;
    rail.i_rated_a = 2.5;
    rail.capacitor = {.name = "C4", .c_f = 470e-6, .v_rated_v = 35.0};
    rail.indicator = {.fitted = true, .r_ohm = 2200.0, .v_f_v = 2.0, .power_w = 0.5};
    rail.minimum_load = {.fitted = false};
    rail.trip = {.kind = TripKind::None};
    MainsSide& side = supply.mains_side;
    side.clues = {{.part = "label", .kind = ClueKind::Label, .min_v = 110.0, .max_v = 120.0},
                  {.part = "primaries in series",
                   .kind = ClueKind::TransformerPrimary,
                   .rating_v = 230.0,
                   .f_rated_hz = 50.0},
                  {.part = "X1", .kind = ClueKind::XCap, .rating_v = 275.0},
                  {.part = "mains switch", .kind = ClueKind::Breaker, .seen = false},
                  {.part = "sister recorder", .kind = ClueKind::Sibling, .min_v = 220.0, .max_v = 240.0}};
    side.transformer = {
        .primaries =
            {{.name = "A", .start = "blue", .end = "grey", .v_v = 115, .i_max_a = 0.5, .r_ohm = 14.0},
             {.name = "B", .start = "violet", .end = "brown", .v_v = 115, .i_max_a = 0.5, .r_ohm = 15.0}},
        .f_rated_hz = 50.0,
        .va = 110.0,
        .regulation = 0.08,
        .secondaries = {{.name = "drive", .v_v = 24, .i_a = 4.2, .r_ohm = 0.31},
                        {.name = "lamp", .v_v = 6.3, .i_a = 1.0, .r_ohm = 0.2}},
        .selector = "115"};
}

void workRecorder(Bench& bench)
{
    bench.upTo("found.inspect", {{"found.earth", {"earth 0.12R"}}});
    bench.type("note never powered here: it is strapped for 115 V");
    bench.session().edit(QStringLiteral("plan"), [](Job& job) {
        job.plan.connection =
            ConnectionPlan{{{.string = 0, .winding = "A", .from = "blue", .to = "grey"},
                            {.string = 0, .winding = "B", .from = "violet", .to = "brown"}}};
    });
}

} // namespace offshoot::demos
