// Wind recorder: a supply of plus and minus 15 V that nobody can get any more gives way to two units of one
// output each. Carried to the plan; the mains branches to both by new wires.
#include "core/kinds/replace/wanted.h"
#include "core/kinds/replace/wiring_view.h"
#include "core/values/figures.h"
#include "demo_shelf.h"
#include "demos/demos.h"

namespace offshoot::demos {

namespace {

using offshoot::lengths::mm;

CaseSpace recorderCase()
{
    CaseSpace space{.inside = {200 * mm, 160 * mm, 55 * mm}};
    space.keep_out = {{.name = "inlet",
                       .x_m = 150 * mm,
                       .y_m = 132 * mm,
                       .z_m = 0,
                       .dx_m = 50 * mm,
                       .dy_m = 28 * mm,
                       .dz_m = 32 * mm},
                      {.name = "pen motor",
                       .x_m = 0,
                       .y_m = 112 * mm,
                       .z_m = 0,
                       .dx_m = 52 * mm,
                       .dy_m = 48 * mm,
                       .dz_m = 50 * mm}};
    space.holes = {{60 * mm, 20 * mm, 3.2 * mm}, {140 * mm, 20 * mm, 3.2 * mm}};
    space.mains_from = FloorPoint{150 * mm, 132 * mm};
    space.output_from = FloorPoint{30 * mm, 100 * mm};
    return space;
}

Rail rail(const char* name, bool negative)
{
    Rail made{};
    made.name = name;
    made.negative = negative;
    made.v_v = 15;
    made.i_rated_a = 1;
    made.capacitor = {.name = negative ? "C8" : "C4", .c_f = 470e-6, .v_rated_v = 25.0};
    made.indicator = {.fitted = false};
    made.minimum_load = {.fitted = false};
    made.trip = {.kind = TripKind::None};
    made.users = {{.name = negative ? "Amplifiers, minus" : "Amplifiers, plus",
                   .connector = negative ? "J3 3" : "J3 1",
                   .typical_a = 0.6,
                   .least_a = 0.2,
                   .min_v = 14.25,
                   .max_v = 15.75,
                   .if_lost = "the pen rests at its stop"}};
    return made;
}

Wire wire(const char* name, const char* colour, WireFunction function, const char* of, double length_mm)
{
    Wire made;
    made.name = name;
    made.colour = colour;
    made.function = function;
    made.measured = true;
    made.rail = of;
    made.current_a = of[0] != 0 ? 0.6 : 0.2;
    made.area_m2 = 0.75e-6;
    made.length_m = length_mm * mm;
    if (function == WireFunction::Line || function == WireFunction::Neutral)
        made.insulation_v = 500;
    return made;
}

} // namespace

void describeWindRecorder(Job& job)
{
    job.drawer = drawer("power-resistors");
    job.title = "Wind recorder";
    job.need.target = Target{15, 14.4, 15.6};
    job.need.current_a = 0.6;
    job.need.least_a = 0.2;
    job.need.ripple_max_v = 0.1;
    job.need.others = {{.rail = "-15V", .min_v = 14.4, .max_v = 15.6}};
    job.need.why = "the amplifiers' papers name ± 15 V ± 5 %";
    job.need.load.name = "Recorder";
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Godwit 30";
    supply.topology = Topology::Flyback;
    supply.efficiency = 0.74;
    supply.entry = {.inlet_a = 10.0, .switch_a = 6.0, .cord_a = 6.0};
    supply.fuse = {.value_a = 1.0, .v_rated_v = 250.0, .type = "T"};
    supply.input.kind = InputKind::Bridge;
    supply.bulk = {.c_f = 47e-6, .v_rated_v = 400.0, .bleeder_ohm = 470e3};
    supply.mains_side.clues = {{.part = "label", .kind = ClueKind::Label, .min_v = 200.0, .max_v = 240.0}};
    supply.rails = {rail("+15V", false), rail("-15V", true)};
    supply.space = recorderCase();
    supply.wires = {wire("PE", "green-yellow", WireFunction::Earth, "", 300),
                    wire("L", "brown", WireFunction::Line, "", 260),
                    wire("N", "blue", WireFunction::Neutral, "", 260),
                    wire("1", "orange", WireFunction::Output, "+15V", 220),
                    wire("2a", "black", WireFunction::Return, "+15V", 220),
                    wire("2b", "black", WireFunction::Return, "-15V", 220),
                    wire("3", "violet", WireFunction::Output, "-15V", 220)};
}

void workWindRecorder(Bench& bench)
{
    bench.upTo("found.inspect", {{"found.earth", {"earth 0.12R"}}});
    bench.type("note it ticks and gives nothing: its transformer is not to be had");
    bench.session().edit(QStringLiteral("plan"), [](Job& job) {
        const Shelf shelf = demoShelf();
        const ShelfEntry* entry = entryNamed(shelf.units, "Dunlet 15");
        UnitsMatchInput in{.need = *wantedOf(job).unit, .shelf = {entry->unit}, .max_units = 2};
        planReplacement(job, replacePlan(unitsMatch(in).options.front(), shelf.units));
        placeUnits(job);
        job.plan.replace->new_wires = missingWires(job);
        for (Wire& made : job.plan.replace->new_wires) {
            made.area_m2 = 0.75e-6;
            made.length_m = 0.35;
        }
    });
}

} // namespace offshoot::demos
