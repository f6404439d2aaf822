// Searchlight: a burnt-out supply of 12 V gives way to a rack unit with an enable pin and a standby output;
// nine wires each way are merged on its bars. Carried to the plan.
#include "core/kinds/replace/wanted.h"
#include "core/kinds/replace/wiring_view.h"
#include "core/values/figures.h"
#include "demo_shelf.h"
#include "demos/demos.h"

namespace offshoot::demos {

namespace {

using offshoot::lengths::mm;

Wire wire(std::string name, const char* colour, WireFunction function, const char* rail, double current_a,
          double area_m2)
{
    Wire made;
    made.name = std::move(name);
    made.colour = colour;
    made.function = function;
    made.measured = true;
    made.rail = rail;
    made.current_a = current_a;
    made.area_m2 = area_m2;
    made.length_m = 0.4;
    if (function == WireFunction::Line || function == WireFunction::Neutral)
        made.insulation_v = 500;
    return made;
}

Rail rail(const char* name, double rated_a, RailUser user)
{
    Rail made{};
    made.name = name;
    made.v_v = 12;
    made.i_rated_a = rated_a;
    made.indicator = {.fitted = false};
    made.minimum_load = {.fitted = false};
    made.trip = {.kind = TripKind::None};
    made.users = {std::move(user)};
    return made;
}

} // namespace

void describeSearchlight(Job& job)
{
    job.drawer = drawer("power-resistors");
    job.title = "Searchlight";
    job.need.target = Target{12, 11.4, 12.6};
    job.need.current_a = 36;
    job.need.least_a = 1.2;
    job.need.peak_a = 45;
    job.need.others = {{.rail = "standby", .min_v = 11, .max_v = 13}};
    job.need.why = "the lamp is made for 12 V; above 12.6 V it does not last";
    job.need.load.name = "Lamp";
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Grebe 500";
    supply.topology = Topology::HalfBridge;
    supply.efficiency = 0.8;
    supply.entry = {.inlet_a = 10.0, .switch_a = 6.0, .cord_a = 6.0};
    supply.fuse = {.value_a = 6.3, .v_rated_v = 250.0, .type = "T"};
    supply.input.kind = InputKind::Bridge;
    supply.bulk = {.c_f = 470e-6, .v_rated_v = 400.0, .bleeder_ohm = 150e3};
    supply.mains_side.clues = {{.part = "label", .kind = ClueKind::Label, .min_v = 200.0, .max_v = 240.0}};
    supply.rails = {rail("12V", 40,
                         {.name = "Lamp",
                          .connector = "J1, nine pins each way",
                          .typical_a = 36,
                          .least_a = 1.2,
                          .min_v = 11.0,
                          .max_v = 12.6,
                          .if_lost = "no light"}),
                    rail("standby", 1,
                         {.name = "Control relay",
                          .connector = "J2",
                          .typical_a = 0.2,
                          .least_a = 0.2,
                          .min_v = 10.5,
                          .max_v = 13.5,
                          .if_lost = "it cannot be switched on"})};
    CaseSpace space{.inside = {340 * mm, 220 * mm, 95 * mm}};
    space.keep_out = {{.name = "inlet, switch",
                       .x_m = 0,
                       .y_m = 175 * mm,
                       .z_m = 0,
                       .dx_m = 55 * mm,
                       .dy_m = 45 * mm,
                       .dz_m = 50 * mm},
                      {.name = "relay",
                       .x_m = 290 * mm,
                       .y_m = 150 * mm,
                       .z_m = 0,
                       .dx_m = 45 * mm,
                       .dy_m = 60 * mm,
                       .dz_m = 45 * mm}};
    space.holes = {{40 * mm, 40 * mm, 4.2 * mm}, {300 * mm, 40 * mm, 4.2 * mm}};
    space.mains_from = FloorPoint{55 * mm, 190 * mm};
    space.output_from = FloorPoint{170 * mm, 0};
    supply.space = space;
    supply.wires = {wire("PE", "green-yellow", WireFunction::Earth, "", 0, 2.5e-6),
                    wire("L", "brown", WireFunction::Line, "", 2.6, 1.5e-6),
                    wire("N", "blue", WireFunction::Neutral, "", 2.6, 1.5e-6)};
    constexpr int each_way = 9;
    for (int i = 1; i <= each_way; ++i)
        supply.wires.push_back(
            wire("P" + std::to_string(i), "yellow", WireFunction::Output, "12V", 4, 1.5e-6));
    for (int i = 1; i <= each_way; ++i)
        supply.wires.push_back(
            wire("M" + std::to_string(i), "black", WireFunction::Return, "12V", 4, 1.5e-6));
    supply.wires.push_back(wire("S", "violet", WireFunction::Output, "standby", 0.2, 0.75e-6));
    supply.wires.push_back(wire("S−", "black", WireFunction::Return, "standby", 0.2, 0.75e-6));
}

void workSearchlight(Bench& bench)
{
    bench.upTo("found.inspect", {{"found.earth", {"earth 0.14R"}}});
    bench.type("note burnt through beside the bridge: smell of it in the whole lamp room");
    bench.session().edit(QStringLiteral("plan"), [](Job& job) {
        const Shelf shelf = demoShelf();
        const ShelfEntry* entry = entryNamed(shelf.units, "Cormorant 720");
        UnitsMatchInput in{.need = *wantedOf(job).unit, .shelf = {entry->unit}};
        planReplacement(job, replacePlan(unitsMatch(in).options.front(), shelf.units));
        placeUnits(job);
        job.plan.replace->new_wires = missingWires(job);
        for (Wire& made : job.plan.replace->new_wires)
            made.area_m2 = 0.75e-6;
    });
}

} // namespace offshoot::demos
