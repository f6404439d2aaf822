// Tide house cabinet: a tired iron-transformer supply in a steel cabinet gives way to a caged unit with two
// outputs, other holes and other terminals. Carried to the card, one wire still unmeasured.
#include "core/kinds/replace/wanted.h"
#include "core/values/figures.h"
#include "demo_shelf.h"
#include "demos/demos.h"

namespace offshoot::demos {

namespace {

using offshoot::lengths::mm;
constexpr double mm2 = 1e-6;

CaseSpace cabinet()
{
    CaseSpace space{.inside = {220 * mm, 150 * mm, 60 * mm}};
    space.keep_out = {{.name = "inlet, switch",
                       .x_m = 0,
                       .y_m = 0,
                       .z_m = 0,
                       .dx_m = 60 * mm,
                       .dy_m = 26 * mm,
                       .dz_m = 34 * mm},
                      {.name = "gauge board",
                       .x_m = 168 * mm,
                       .y_m = 70 * mm,
                       .z_m = 0,
                       .dx_m = 48 * mm,
                       .dy_m = 76 * mm,
                       .dz_m = 40 * mm,
                       .surface = Surface::OtherMetal}};
    space.vents = {{.name = "slots",
                    .x_m = 70 * mm,
                    .y_m = 147 * mm,
                    .z_m = 20 * mm,
                    .dx_m = 60 * mm,
                    .dy_m = 3 * mm,
                    .dz_m = 20 * mm}};
    // The old transformer's four and one of its rectifier.
    space.holes = {{78 * mm, 58 * mm, 4.2 * mm},
                   {78 * mm, 118 * mm, 4.2 * mm},
                   {138 * mm, 58 * mm, 4.2 * mm},
                   {138 * mm, 118 * mm, 4.2 * mm},
                   {30 * mm, 100 * mm, 3.2 * mm}};
    space.mains_from = FloorPoint{40 * mm, 26 * mm};
    space.output_from = FloorPoint{190 * mm, 70 * mm};
    return space;
}

Wire wire(const char* name, const char* colour, WireFunction function, const char* rail, double current_a,
          double area_mm2, double length_mm)
{
    Wire made;
    made.name = name;
    made.colour = colour;
    made.function = function;
    made.measured = function != WireFunction::Unknown;
    made.rail = rail;
    made.current_a = current_a;
    made.area_m2 = area_mm2 * mm2;
    made.length_m = length_mm * mm;
    if (function == WireFunction::Line || function == WireFunction::Neutral)
        made.insulation_v = 500;
    return made;
}

} // namespace

void describeTideHouse(Job& job)
{
    job.drawer = drawer("power-resistors");
    job.title = "Tide house cabinet";
    job.need.target = Target{5.0, 4.75, 5.25};
    job.need.current_a = 2.1;
    job.need.least_a = 0.4;
    job.need.peak_a = 2.6;
    job.need.ripple_max_v = 0.15;
    job.need.others = {{.rail = "12V", .min_v = 11.2, .max_v = 12.8}};
    job.need.why = "the gauge's board names 5 V ± 5 %, its lamp 12 V";
    job.need.must_not_change = "the gauge and its connector";
    job.need.load.name = "Tide gauge";
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Mudlark 30";
    supply.topology = Topology::SeriesPass;
    supply.efficiency = 0.45;
    supply.entry = {.inlet_a = 10.0, .switch_a = 6.0, .cord_a = 6.0};
    supply.fuse = {.value_a = 1.0, .v_rated_v = 250.0, .type = "T"};
    supply.bulk = {.c_f = 4700e-6, .v_rated_v = 25.0, .bleeder_ohm = 2200};
    supply.direct = {.min_v = 9.5, .mean_v = 12.5, .max_v = 16.0};
    supply.mains_side.clues = {{.part = "transformer plate",
                                .kind = ClueKind::TransformerPrimary,
                                .rating_v = 230.0,
                                .f_rated_hz = 50.0},
                               {.part = "label", .kind = ClueKind::Label, .min_v = 220.0, .max_v = 240.0}};
    Rail& logic = supply.rails.front();
    logic.name = "5V";
    logic.v_v = 5.21;
    logic.i_rated_a = 3;
    logic.capacitor = {.name = "C3", .c_f = 470e-6, .v_rated_v = 10.0};
    logic.minimum_load = {.fitted = false};
    logic.indicator = {.fitted = false};
    logic.trip = {.kind = TripKind::None};
    logic.users = {{.name = "Gauge board",
                    .connector = "J1 1-2",
                    .typical_a = 2.1,
                    .least_a = 0.4,
                    .min_v = 4.75,
                    .max_v = 5.25,
                    .if_lost = "no tide is recorded"}};
    Rail lamp{};
    lamp.name = "12V";
    lamp.v_v = 11.4;
    lamp.i_rated_a = 1;
    lamp.capacitor = {.name = "C6", .c_f = 1000e-6, .v_rated_v = 25.0};
    lamp.minimum_load = {.fitted = false};
    lamp.indicator = {.fitted = false};
    lamp.trip = {.kind = TripKind::None};
    lamp.users = {{.name = "Scale lamp",
                   .connector = "J1 4",
                   .typical_a = 0.6,
                   .least_a = 0.0,
                   .min_v = 10.5,
                   .max_v = 13.2,
                   .if_lost = "the scale is dark"}};
    supply.rails.push_back(lamp);
    supply.space = cabinet();
    supply.wires = {wire("W1", "green-yellow", WireFunction::Earth, "", 0, 1.0, 260),
                    wire("W2", "brown", WireFunction::Line, "", 0.3, 0.75, 220),
                    wire("W3", "blue", WireFunction::Neutral, "", 0.3, 0.75, 220),
                    wire("W4", "red", WireFunction::Output, "5V", 1.3, 1.5, 240),
                    wire("W5", "red", WireFunction::Output, "5V", 1.3, 1.5, 240),
                    wire("W6", "black", WireFunction::Return, "5V", 1.4, 1.5, 240),
                    wire("W7", "black", WireFunction::Return, "5V", 1.3, 1.5, 240),
                    wire("W8", "yellow", WireFunction::Output, "12V", 0.6, 1.0, 150),
                    wire("W9", "black-white", WireFunction::Return, "12V", 0.6, 1.0, 240),
                    wire("W10", "white", WireFunction::Unknown, "", 0, 0.5, 200)};
    constexpr double contact_a = 2; // of J1, a pin header
    for (Wire& each : supply.wires)
        if (!each.rail.empty())
            each.connector_a = contact_a;
}

void workTideHouse(Bench& bench)
{
    bench.upTo("found.inspect", {{"found.earth", {"earth 0.09R"}}});
    bench.type("note the transformer hums, and the 12 V rail sags below its lamp");
    bench.session().edit(QStringLiteral("plan"), [](Job& job) {
        const Shelf shelf = demoShelf();
        const ShelfEntry* entry = entryNamed(shelf.units, "Oyster 40");
        UnitsMatchInput in{.need = *wantedOf(job).unit, .shelf = {entry->unit}};
        planReplacement(job, replacePlan(unitsMatch(in).options.front(), shelf.units));
        placeUnits(job);
    });
}

} // namespace offshoot::demos
