// Sample bath: the regulator of a dead signal generator's case gives way to a bare adjustable module on the
// station's 24 V, which lets it reach less than its papers say; its trimmers come to the front. Carried to
// the plan.
#include "core/kinds/panel/panel_view.h"
#include "core/kinds/replace/wanted.h"
#include "core/kinds/replace/wiring_view.h"
#include "core/values/figures.h"
#include "demo_shelf.h"
#include "demos/demos.h"

namespace offshoot::demos {

namespace {

using offshoot::lengths::mm;

CaseSpace generatorCase()
{
    CaseSpace space{.inside = {180 * mm, 120 * mm, 62 * mm}};
    space.keep_out = {{.name = "weight",
                       .x_m = 120 * mm,
                       .y_m = 70 * mm,
                       .z_m = 0,
                       .dx_m = 60 * mm,
                       .dy_m = 50 * mm,
                       .dz_m = 45 * mm}};
    space.holes = {{30 * mm, 60 * mm, 3.2 * mm}, {70 * mm, 60 * mm, 3.2 * mm}};
    space.mains_from = FloorPoint{20 * mm, 116 * mm};
    space.output_from = FloorPoint{90 * mm, 6 * mm};
    return space;
}

Wire wire(const char* name, const char* colour, WireFunction function, double length_mm)
{
    Wire made;
    made.name = name;
    made.colour = colour;
    made.function = function;
    made.measured = true;
    if (function == WireFunction::Output || function == WireFunction::Return)
        made.rail = "12V";
    made.current_a = 2;
    made.area_m2 = 0.75e-6;
    made.length_m = length_mm * mm;
    return made;
}

RehousePlan broughtOut()
{
    constexpr std::int64_t helical = 10;
    RehousePlan plan;
    plan.pots = {{.name = "volts",
                  .wiring = PotWiring::ReturnSide,
                  .ohm = 50e3,
                  .turns = helical,
                  .wire_m = 0.12,
                  .twisted = true,
                  .reference_v = 1.25,
                  .other_ohm = 10e3},
                 {.name = "amperes",
                  .sets = PotSets::Amps,
                  .wiring = PotWiring::Divider,
                  .ohm = 10e3,
                  .turns = 1,
                  .wire_m = 0.12,
                  .twisted = true,
                  .guard_ohm = 100e3}};
    plan.spacers = {{.name = "spacer at the input", .carries = true, .current_a = 1.3, .area_m2 = 0.75e-6},
                    {.name = "spacer at the knob", .carries = false, .insulated = true}};
    plan.readouts = {{.name = "volts",
                      .points = {{.shown = 5.0, .truth = 5.02}, {.shown = 12.1, .truth = 12.05}},
                      .claim = ReadoutClaim{.reading_fraction = 0.01, .counts = 1, .resolution = 0.1}}};
    plan.fuse_a = 2.0;
    plan.feed_a = 8.0;
    return plan;
}

} // namespace

void describeSampleBath(Job& job)
{
    job.drawer = drawer("power-resistors");
    job.title = "Sample bath";
    job.need.target = Target{12, 11.4, 12.6};
    job.need.current_a = 1.5;
    job.need.peak_a = 2.0;
    job.need.least_a = 0.3;
    job.need.ripple_max_v = 0.1;
    job.need.measured = {
        {.state = "idle", .rail = "12V", .usual_a = 0.3},
        {.state = "stirring", .rail = "12V", .usual_a = 1.5, .least_a = 0.3, .peak_a = 2.0, .peak_s = 0.4}};
    job.need.why = "the stirrer names 12 V ± 5 %; other days another bath wants less";
    job.need.must_not_change = "the station's 24 V feed";
    job.need.load.name = "Sample bath";
    Supply& supply = job.found;
    supply.topology_assumed = false;
    supply.name = "Whimbrel 2";
    supply.topology = Topology::Buck;
    supply.efficiency = 0.8;
    supply.direct = {.min_v = 22.0, .mean_v = 24.5, .max_v = 28.0};
    supply.bulk = {.c_f = 470e-6, .v_rated_v = 50.0, .bleeder_ohm = 2200};
    supply.fuse = {.value_a = 2.0, .v_rated_v = 60.0, .type = "T"};
    supply.space = generatorCase();
    Rail& rail = supply.rails.front();
    rail.name = "12V";
    rail.v_v = 12;
    rail.i_rated_a = 2;
    rail.capacitor = {.name = "C9", .c_f = 470e-6, .v_rated_v = 25.0};
    rail.indicator = {.fitted = false};
    rail.minimum_load = {.fitted = false};
    rail.trip = {.kind = TripKind::None};
    rail.users = {{.name = "Stirrer",
                   .connector = "two posts",
                   .typical_a = 1.5,
                   .least_a = 0.3,
                   .min_v = 11.4,
                   .max_v = 12.6,
                   .if_lost = "the samples settle"}};
    supply.wires = {
        wire("F+", "red", WireFunction::Feed, 190), wire("F−", "black", WireFunction::FeedReturn, 190),
        wire("O+", "yellow", WireFunction::Output, 150), wire("O−", "black", WireFunction::Return, 150)};
}

void workSampleBath(Bench& bench)
{
    bench.upTo("found.inspect");
    bench.type("note it gives nothing, its switch is shorted; the case and the wires are good");
    bench.session().edit(QStringLiteral("plan"), [](Job& job) {
        const Shelf shelf = demoShelf();
        const ShelfEntry* entry = entryNamed(shelf.units, "Limpet 3");
        const UnitsMatchInput in{.need = *wantedOf(job).unit, .shelf = {entry->unit}};
        planReplacement(job, replacePlan(unitsMatch(in).options.front(), shelf.units));
        placeUnits(job);
        job.plan.rehouse = broughtOut();
        job.plan.panel = usualPanel(job);
        job.plan.panel->holes = {
            {.x_m = 12 * mm, .y_m = 12 * mm, .d_m = 10 * mm, .covered = true},
            {.x_m = 168 * mm, .y_m = 12 * mm, .dx_m = 10 * mm, .dy_m = 6 * mm, .covered = true}};
        for (PanelItem& item : job.plan.panel->items)
            if (item.kind == PanelPart::Readout) {
                item.dx_m = 45 * mm;
                item.dy_m = 26 * mm;
            }
    });
}

} // namespace offshoot::demos
