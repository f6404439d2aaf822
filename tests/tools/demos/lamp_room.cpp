// Lamp room clock: a discrete 9 V regulator on an unregulated 17 V source gives way to a module of a stamp's
// size; a small radio hangs on the same source, which rises when it is loaded less. Carried to the plan.
#include "core/kinds/module/module_view.h"
#include "demo_shelf.h"
#include "demos/demos.h"

namespace offshoot::demos {

void describeLampRoom(Job& job)
{
    job.drawer = drawer("saltmarsh-point");
    job.title = "Lamp room clock";
    job.need.target = Target{9.0, 8.7, 9.3};
    job.need.current_a = 0.35;
    job.need.least_a = 0.08;
    job.need.peak_a = 0.5;
    job.need.ripple_max_v = 0.05;
    job.need.why = "the clock's movement names 9 V";
    job.need.must_not_change = "the radio on the same source";
    job.need.load.name = "Clock";
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Knot 9";
    supply.topology = Topology::SeriesPass;
    supply.efficiency = 0.5;
    supply.fuse = {.value_a = 0.315, .v_rated_v = 250.0, .type = "T"};
    supply.bulk = {.c_f = 2200e-6, .v_rated_v = 25.0, .bleeder_ohm = 4700};
    supply.direct = {.min_v = 12.6, .mean_v = 16.4, .max_v = 18.7};
    supply.regulator = {.drop_v = 2.0, .theta_k_per_w = 14.0, .t_ambient_k = 308.15, .t_j_max_k = 423.15};
    supply.feed = RegulatorFeed{.open_v = 17.0,
                                .r_ohm = 3.3,
                                .ripple_v = 1.1,
                                .ripple_at_a = 0.4,
                                .others_a = 0.05,
                                .others = "the radio"};
    supply.mains_side.clues = {{.part = "transformer plate",
                                .kind = ClueKind::TransformerPrimary,
                                .rating_v = 230.0,
                                .f_rated_hz = 50.0},
                               {.part = "label", .kind = ClueKind::Label, .min_v = 220.0, .max_v = 240.0}};
    Rail& rail = supply.rails.front();
    rail.name = "9V";
    rail.v_v = 8.4;
    rail.i_rated_a = 0.5;
    rail.capacitor = {.name = "C2", .c_f = 470e-6, .v_rated_v = 16.0};
    rail.indicator = {.fitted = false};
    rail.minimum_load = {.fitted = false};
    rail.trip = {.kind = TripKind::None};
    rail.users = {{.name = "Clock movement",
                   .connector = "two screws",
                   .typical_a = 0.35,
                   .least_a = 0.08,
                   .min_v = 8.5,
                   .max_v = 9.5,
                   .if_lost = "the clock stops"}};
}

void workLampRoom(Bench& bench)
{
    bench.upTo("found.inspect", {{"found.earth", {"earth 0.1R"}}});
    bench.type("note the pass transistor is too hot to touch, and the output has sagged to 8.4 V");
    bench.session().edit(QStringLiteral("plan"), [](Job& job) {
        const Shelf shelf = demoShelf();
        planModule(job, *entryNamed(shelf.units, "Sprat 9"));
    });
}

} // namespace offshoot::demos
