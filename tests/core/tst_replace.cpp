// Another unit in the old one's place: what the plan makes of the supply, its procedure, its wiring, its
// place in the case and the sheets at true scale.
#include "core/evaluate/before_after.h"
#include "core/evaluate/choose_view.h"
#include "core/evaluate/parts.h"
#include "core/kinds/kind.h"
#include "core/kinds/module/module_view.h"
#include "core/kinds/replace/fit_view.h"
#include "core/kinds/replace/replace_view.h"
#include "core/kinds/replace/templates.h"
#include "core/kinds/replace/wanted.h"
#include "core/kinds/replace/wire_colour.h"
#include "core/kinds/replace/wiring_card.h"
#include "core/kinds/replace/wiring_view.h"
#include "support/support.h"

#include <QRegularExpression>
#include <algorithm>
#include <cmath>
#include <random>
#include <set>

using namespace offshoot;
using namespace Qt::StringLiterals;

namespace {

Job tideHouse() { return readJob(test::sourceFile("data/jobs/tide-house-cabinet.offshoot")); }

std::size_t indexOf(const Evaluation& e, const std::string& id)
{
    const auto at = std::ranges::find_if(e.steps, [&](const StepView& v) { return v.step.id == id; });
    return static_cast<std::size_t>(at - e.steps.begin());
}

/// Every circle of a sheet with its middle, in millimetres of the paper.
std::vector<std::array<double, 3>> circles(const std::string& svg)
{
    std::vector<std::array<double, 3>> all;
    static const QRegularExpression circle(u"<circle cx='([^']+)' cy='([^']+)' r='([^']+)'"_s);
    for (auto at = circle.globalMatch(QString::fromStdString(svg)); at.hasNext();) {
        const auto match = at.next();
        all.push_back(
            {match.captured(1).toDouble(), match.captured(2).toDouble(), match.captured(3).toDouble()});
    }
    return all;
}

} // namespace

class TestReplace : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// The supply after the change is the unit of the shelf, with what hangs on its rails as it was.
    void plannedUnit()
    {
        const Job job = tideHouse();
        const Supply planned = plannedSupply(job);
        QCOMPARE(planned.name, std::string("Oyster 40"));
        QVERIFY(planned.housing() == Enclosure::Boxed && planned.opens() && planned.sealed());
        QCOMPARE(planned.rails.size(), job.found.rails.size());
        for (std::size_t i = 0; i < planned.rails.size(); ++i) {
            QCOMPARE(planned.rails[i].name, job.found.rails[i].name);
            QVERIFY(planned.rails[i].users == job.found.rails[i].users);
            QVERIFY(!planned.rails[i].feedback.reference);
        }
        QVERIFY(plannedChain(job) == nullptr);
        const Evaluation e = evaluate(job, 2e9);
        QCOMPARE(*e.planned_v, 5.0);
        QCOMPARE(*e.rails_planned_v[1], 12.0);
        // Nothing of the old transformer's droop is expected of the new unit, and no lamp lowers its output.
        const Step& first = e.steps[indexOf(e, "bringup.lamp_output")].step;
        QVERIFY(first.asks.front().window->min > 4.5);
    }

    /// Read, labelled, out; the new one met alone; earth first; tugged; measured again before power.
    void procedure()
    {
        const Job job = tideHouse();
        const Evaluation e = evaluate(job, 2e9);
        const std::vector<std::string> order{"change.photographs", "change.tags",        "change.out",
                                             "change.kept",        "change.alone.lead",  "change.alone.power",
                                             "change.mount",       "change.wire.1",      "change.tug",
                                             "change.lid",         "change.second_look", "change.earth",
                                             "change.insulation",  "bringup.power_lamp", "bringup.pins"};
        for (std::size_t i = 0; i < order.size(); ++i) {
            QVERIFY2(indexOf(e, order[i]) < e.steps.size(), order[i].c_str());
            if (i > 0)
                QVERIFY2(indexOf(e, order[i - 1]) < indexOf(e, order[i]), order[i].c_str());
        }
        const WiringView wiring = wiringView(job);
        std::size_t connected = 0;
        bool others = false;
        for (const StepView& view : e.steps) {
            if (!view.step.is(Does::ConnectWire))
                continue;
            ++connected;
            const auto wire = std::ranges::find_if(
                wiring.wires, [&](const PlannedWire& w) { return w.wire.name == view.step.parts.front(); });
            QVERIFY(wire != wiring.wires.end() && wire->terminal);
            QCOMPARE(view.step.parts.back(), wiring.terminals[*wire->terminal].name);
            const bool earth = wire->wire.function == WireFunction::Earth;
            QVERIFY2(!earth || !others, "an earth after another wire");
            others = others || !earth;
        }
        QCOMPARE(connected,
                 static_cast<std::size_t>(std::ranges::count_if(
                     wiring.wires, [](const PlannedWire& w) { return w.terminal && w.judged->measured; })));
    }

    /// What a unit asks for is a step of its own before its first power: a load on an output that would rise
    /// without it, also on one that serves nobody, and a bond that would earth a rail. Places are exact.
    void whatItAsksFor()
    {
        Job job = tideHouse();
        const Shelf shelf = readShelf(test::sourceFile("data/shelves/saltmarsh-point.shelf"));
        job.need.least_a = 0.1;
        UnitsMatchInput in{.need = *wantedOf(job).unit,
                           .shelf = {entryNamed(shelf.units, "Gannet 300")->unit}};
        in.shelf.front().outputs.front().bonded = Bond::Positive;
        const UnitsOption option = unitsMatch(in).options.front();
        std::vector<ShelfEntry> entries{*entryNamed(shelf.units, "Gannet 300")};
        entries.front().unit = in.shelf.front();
        planReplacement(job, replacePlan(option, entries));
        ReplacingUnit& unit = job.plan.replace->units.front();
        unit.place = PlacedAt{.x_m = 0.01375, .y_m = 0.1385};
        const Evaluation e = evaluate(job, 2e9);
        const std::size_t power = indexOf(e, "change.alone.power");
        const auto dummies = plannedDummies(unit);
        std::size_t wanted = option.units.front().idle.size();
        for (const MatchedRail& rail : option.units.front().rails)
            wanted += rail.dummy_a > 0 ? std::size_t{1} : std::size_t{0};
        QVERIFY(wanted > 0);
        QCOMPARE(dummies.size(), wanted);
        for (const PlannedDummy& dummy : dummies) {
            const std::size_t at = indexOf(e, "change.dummy." + dummy.output);
            QVERIFY2(at < power, dummy.output.c_str());
            QVERIFY(dummyLoad(dummy).current_a >= dummy.least_a);
            QVERIFY(dummyLoad(dummy).rated_w >= 1.5 * dummyLoad(dummy).power_w);
        }
        const bool opens = std::ranges::count(option.units.front().actions, UnitAction::OpenBond) > 0;
        QCOMPARE(indexOf(e, "change.bond") < power, opens);
        const std::string& mount = e.steps[indexOf(e, "change.mount")].step.detail;
        QVERIFY2(mount.find("13.75 mm from the left") != std::string::npos &&
                     mount.find("138.5 mm from the front") != std::string::npos,
                 mount.c_str());
    }

    /// Of two ranges without a selector the one that holds the mains speaks for the unit.
    void rangesWithoutSelector()
    {
        Job job = tideHouse();
        ReplacingUnit& unit = job.plan.replace->units.front();
        unit.entry.unit.input.ranges = {{90, 132}, {180, 264}};
        for (const double mains_v : {115.0, 230.0}) {
            job.need.mains.v_v = mains_v;
            const auto clues = plannedSupply(job).mains_side.clues;
            QCOMPARE(clues.size(), 1U);
            QVERIFY(clues.front().min_v < mains_v && clues.front().max_v > mains_v);
        }
    }

    /// What nobody measured stays at the old side, whatever its colour.
    void unmeasuredStays()
    {
        Job job = tideHouse();
        const auto left = [&] {
            const WiringView view = wiringView(job);
            return std::ranges::count_if(view.wires, [](const PlannedWire& w) { return !w.terminal; });
        };
        QCOMPARE(left(), 1);
        for (Wire& wire : job.found.wires)
            wire.function = WireFunction::Unknown;
        QCOMPARE(left(), static_cast<std::ptrdiff_t>(job.found.wires.size()));
        QVERIFY(wiringView(job).verdict == Verdict::Breaks); // the terminals that must have one have none
        // An output that serves nobody needs none, at its end and its return.
        const auto must = [&job] {
            QStringList names;
            for (const PlannedTerminal& terminal : wiringView(job).terminals)
                if (terminal.must)
                    names << QString::fromStdString(terminal.name);
            return names;
        };
        const QStringList all = must();
        QVERIFY(all.contains(u"12 V out"_s) && all.contains(u"12 V return"_s));
        auto& rails = job.plan.replace->units.front().rails;
        std::erase_if(rails, [](const ServedRail& rail) { return rail.output == "12 V"; });
        QStringList fewer = all;
        fewer.removeIf([](const QString& name) { return name.startsWith(u"12 V"); });
        QCOMPARE(must(), fewer);
        QCOMPARE(fewer.size(), all.size() - 2);
    }

    /// A wire goes to a terminal of its function only, and what somebody pulled stays where it is.
    void pulledWires()
    {
        std::mt19937 random(20261128);
        for (int round = 0; round < 300; ++round) {
            Job job = tideHouse();
            ReplacePlan& plan = *job.plan.replace;
            for (NewTerminal& terminal : plan.units.front().entry.terminals)
                terminal.max_wires = 1 + static_cast<std::int64_t>(random() % 3);
            auto second = plan.units.front().entry.terminals[3];
            second.name += " too";
            plan.units.front().entry.terminals.push_back(second);
            std::ranges::shuffle(job.found.wires, random);
            const WiringView free = wiringView(job);
            const std::size_t wire = random() % free.wires.size();
            const std::size_t terminal = random() % free.terminals.size();
            plan.pulled = {{.wire = free.wires[wire].wire.name, .terminal = free.terminals[terminal].name}};
            const WiringView view = wiringView(job);
            const Wire& serves = free.terminals[terminal].serves;
            const Wire& moved = free.wires[wire].wire;
            if (serves.function == moved.function && serves.rail == moved.rail)
                QVERIFY(view.wires[wire].terminal == terminal);
            std::vector<std::int64_t> on(view.terminals.size(), 0);
            for (const PlannedWire& each : view.wires) {
                if (!each.terminal)
                    continue;
                ++on[*each.terminal];
                QVERIFY(view.terminals[*each.terminal].serves.function == each.wire.function);
                if (!each.wire.rail.empty())
                    QCOMPARE(view.terminals[*each.terminal].serves.rail, each.wire.rail);
            }
            for (std::size_t t = 0; t < on.size(); ++t)
                QVERIFY(on[t] <= view.terminals[t].most);
        }
    }

    /// New wires close every gap, and then nothing is missing.
    void newWires()
    {
        Job job = tideHouse();
        job.found.wires.clear();
        const auto made = missingWires(job);
        QVERIFY(made.size() >= 6);
        job.plan.replace->new_wires = made;
        const WiringView view = wiringView(job);
        QVERIFY(view.missing.empty());
        QVERIFY(std::ranges::all_of(view.wires, [](const PlannedWire& w) { return w.terminal && w.added; }));
        QVERIFY(missingWires(job).empty());
    }

    /// A screw reaches through floor and standoff into the unit, and no further than it takes one; what its
    /// shelf entry does not say is assumed, and the step says so.
    void screws()
    {
        Job job = tideHouse();
        ReplacingUnit& unit = job.plan.replace->units.front();
        const double to_unit_m = job.found.space->floor_m + unit.place->standoff_m;
        for (const std::optional<double> depth_m :
             {std::optional<double>(), std::optional(2e-3), std::optional(4e-3), std::optional(9e-3)}) {
            unit.entry.screw_depth_m = depth_m;
            const FixingScrew screw = fitView(job, 0).screw.value();
            QNEAR(screw.most_m, to_unit_m + depth_m.value_or(5e-3), 1e-9);
            QNEAR(screw.least_m, to_unit_m + std::min(3e-3, depth_m.value_or(5e-3)), 1e-9);
            QVERIFY(screw.length_m == 0 ||
                    (screw.length_m >= screw.least_m - 1e-9 && screw.length_m <= screw.most_m + 1e-9));
            QCOMPARE(screw.assumed, !depth_m);
            const auto steps = evaluate(job, 2e9).steps;
            const auto mount = std::ranges::find_if(
                steps, [](const StepView& v) { return v.step.detail.find("Screws: ") != std::string::npos; });
            QVERIFY(mount != steps.end());
            QCOMPARE(mount->step.detail.find("is assumed") != std::string::npos, !depth_m);
        }
    }

    /// Left gap, unit and right gap are the case, in every turn; no place is better than the best.
    void gapsAndPlaces()
    {
        Job job = tideHouse();
        job.found.space->keep_out.clear();
        job.found.space->vents.clear();
        const BoxSize inside = job.found.space->inside;
        std::mt19937 random(7);
        const PlacedAt best = *bestPlace(job, 0);
        const double best_m = fitAt(job, 0, best).now->slack_m;
        for (int i = 0; i < 200; ++i) {
            const PlacedAt at{.turn = static_cast<std::int64_t>(random() % 4) * 90,
                              .x_m = static_cast<double>(random() % 120) * 1e-3,
                              .y_m = static_cast<double>(random() % 60) * 1e-3,
                              .standoff_m = static_cast<double>(random() % 9) * 1e-3};
            const FitView view = fitAt(job, 0, at);
            const NamedBox unit = placedOutline(job.plan.replace->units.front(), at);
            QNEAR(unit.z_m, at.standoff_m, 1e-12);
            QVERIFY(std::abs(view.gaps[0].m + unit.dx_m + view.gaps[1].m - inside.x_m) < 1e-12);
            QVERIFY(std::abs(view.gaps[2].m + unit.dy_m + view.gaps[3].m - inside.y_m) < 1e-12);
            if (view.now->verdict == Verdict::Fits && view.now->reused >= fitAt(job, 0, best).now->reused)
                QVERIFY(view.now->slack_m <= best_m + 1e-9);
            for (const NearThing& near : view.near) {
                const double wall_m =
                    std::min({near.from.x_m, inside.x_m - near.from.x_m, near.from.y_m,
                              inside.y_m - near.from.y_m, near.from.z_m, inside.z_m - near.from.z_m});
                QVERIFY(std::abs(near.distance_m - std::abs(wall_m)) < 1e-9);
            }
        }
    }

    /// What stays counts as what it is made of: taken for the case's own where nobody said, and not at all
    /// where it insulates.
    void surfaces()
    {
        Job job = tideHouse();
        CaseSpace& space = *job.found.space;
        const TerminalSpot from = fitView(job, 0).near.front().from;
        constexpr double gap = 0.001;
        constexpr double side = 0.01;
        for (const bool earthed : {true, false})
            for (const Surface surface :
                 {Surface::AsCase, Surface::EarthedMetal, Surface::OtherMetal, Surface::Insulating}) {
                space.earthed_metal = earthed;
                space.keep_out = {{.name = "block",
                                   .x_m = from.x_m + gap,
                                   .y_m = from.y_m - side / 2,
                                   .z_m = std::max(0.0, from.z_m - side / 2),
                                   .dx_m = side,
                                   .dy_m = side,
                                   .dz_m = side,
                                   .surface = surface}};
                const auto near = fitView(job, 0).near;
                QVERIFY(std::ranges::is_sorted(near, {},
                                               [](const NearThing& n) { return n.distance_m / n.wanted_m; }));
                const auto block = std::ranges::find(near, std::string("block"), &NearThing::what);
                QCOMPARE(block != near.end(), surface != Surface::Insulating);
                if (block == near.end())
                    continue;
                QVERIFY(std::abs(block->distance_m - gap) < 1e-9);
                const bool six = surface == Surface::EarthedMetal || (surface == Surface::AsCase && earthed);
                QCOMPARE(block->wanted_m, six ? to_earthed_m : to_touched_m);
                QCOMPARE(readJob(writeJob(job)).found.space->keep_out.front().surface, surface);
            }
    }

    /// A millimetre is a millimetre on the paper, and the line to check the printer by is 100 of them.
    void trueScale()
    {
        const Job job = tideHouse();
        const TemplateSheets sheets = drillTemplate(job, 0);
        QVERIFY2(sheets.problem.empty(), sheets.problem.c_str());
        QVERIFY(sheets.pages.front().find("width='210mm' height='297mm' viewBox='0 0 210 297'") !=
                std::string::npos);
        static const QRegularExpression ruler(u"<line x1='15' y1='284' x2='115' y2='284'"_s);
        QVERIFY(QString::fromStdString(sheets.pages.front()).contains(ruler));
        const FitView view = fitView(job, 0);
        std::vector<std::array<double, 3>> drawn = circles(sheets.pages.front());
        QCOMPARE(drawn.size(), job.found.space->holes.size() + view.now->drill.size());
        const double high_mm = job.found.space->inside.y_m * 1e3;
        const auto holds = [&](const RoundHole& hole) {
            return std::ranges::any_of(drawn, [&](const auto& c) {
                return std::abs(c[0] - hole.x_m * 1e3) < 1e-4 &&
                       std::abs(c[1] - (high_mm - hole.y_m * 1e3)) < 1e-4 &&
                       std::abs(c[2] - hole.d_m * 500) < 1e-4;
            });
        };
        for (const RoundHole& hole : job.found.space->holes)
            QVERIFY(holds(hole));
        for (const DrilledHole& hole : view.now->drill)
            QVERIFY(holds(hole.hole));
    }

    /// What stands before the unit and behind its wires has its own ratings: 5 V × 2.1 A and 12 V × 0.6 A
    /// over the unit's efficiency and a power factor of 0.6, at 207 V.
    void keptParts()
    {
        Job job = tideHouse();
        const ReplacingUnit& unit = job.plan.replace->units.front();
        const double input_w =
            (5.0 * 2.1 + 12.0 * 0.6) / unit.entry.unit.efficiency.value_or(usual_efficiency);
        const auto of = [&](RowId id, const std::string& part) {
            const auto rows = figuresOf(job).consequences.rows;
            return *std::ranges::find_if(
                rows, [&](const ConsequenceRow& r) { return r.id == id && r.part == part; });
        };
        const ConsequenceRow cord = of(RowId::NewEntry, "Cord");
        QVERIFY(std::abs(*cord.planned - input_w / (0.6 * 207)) < 1e-9);
        QVERIFY(cord.verdict == Verdict::Fits);
        job.found.entry.cord_a = 0.1;
        QVERIFY(of(RowId::NewEntry, "Cord").verdict == Verdict::Breaks);
        job.found.entry.cord_a.reset();
        QVERIFY(of(RowId::NewEntry, "Cord").verdict == Verdict::Unknown);
        QVERIFY(of(RowId::NewConnector, "W4 (red)").verdict == Verdict::Fits); // 1.3 of 2 A
        job.found.wires[3].connector_a = 1;
        QVERIFY(of(RowId::NewConnector, "W4 (red)").verdict == Verdict::Breaks);
    }

    /// Volts, ripple, mains current and temperature of the old one beside those of the new one.
    void besideEachOther()
    {
        const auto rows = beforeAfter(evaluate(tideHouse(), 0));
        for (const char* name : {"full load", "ripple, full load", "mains current, full load", "temperature"})
            QVERIFY2(std::ranges::any_of(rows, [&](const BeforeAfter& row) { return row.name == name; }),
                     name);
        Job kept = tideHouse();
        kept.plan.replace.reset();
        QVERIFY(std::ranges::none_of(beforeAfter(evaluate(kept, 0)), [](const BeforeAfter& row) {
            return row.name.starts_with("mains current") || row.name == "temperature";
        }));
    }

    void twoBeside_data()
    {
        QTest::addColumn<bool>("across"); // the halves lie to the left and right
        QTest::addColumn<bool>("hung");   // there is something over where the first one would go
        for (const bool across : {true, false})
            for (const bool hung : {false, true})
                QTest::addRow("%s%s", across ? "across" : "deep", hung ? ", hung" : "") << across << hung;
    }
    /// Two that fill a half of the case each go beside each other, though the first alone goes best into the
    /// middle; the higher one not below what hangs there.
    void twoBeside()
    {
        QFETCH(bool, across);
        QFETCH(bool, hung);
        Job job = tideHouse();
        CaseSpace& space = *job.found.space;
        space.keep_out.clear();
        space.holes.clear();
        space.vents.clear();
        const BoxSize in = space.inside = {0.3, 0.24, 0.2};
        if (hung)
            space.keep_out.push_back({.name = "lamp holder",
                                      .x_m = 0,
                                      .y_m = 0,
                                      .z_m = 0.05,
                                      .dx_m = across ? 0.06 : in.x_m,
                                      .dy_m = across ? in.y_m : 0.035,
                                      .dz_m = 0.15});
        auto& units = job.plan.replace->units;
        units.front().place.reset();
        ShelfEntry& entry = units.front().entry;
        entry.holes.clear();
        entry.spots.clear();
        entry.zones.clear();
        entry.unit.size = across ? BoxSize{0.12, 0.09, 0.06} : BoxSize{0.08, 0.09, 0.06};
        Job alone = job;
        units.push_back(units.front());
        units.back().entry.unit.size = across ? BoxSize{0.14, 0.225, 0.03} : BoxSize{0.285, 0.11, 0.03};
        placeUnits(job);
        for (std::size_t i = 0; i < 2; ++i) {
            const FitView view = fitView(job, i);
            QVERIFY2(view.now && view.now->verdict == Verdict::Fits, view.sentence.c_str());
        }
        const auto corner = [&](const Job& of, std::size_t unit) {
            const PlacedAt& place = *of.plan.replace->units[unit].place;
            return across ? place.x_m / in.x_m : place.y_m / in.y_m;
        };
        QCOMPARE(corner(job, 0) < 0.4, !hung);
        QCOMPARE(corner(job, 1) < 0.4, hung);
        placeUnits(alone);
        QVERIFY2(corner(alone, 0) > 0.2 && corner(alone, 0) < 0.45, QByteArray::number(corner(alone, 0)));
    }

    /// A case that no sheet holds is tiled; one that would take a ream is refused.
    void tiled()
    {
        Job job = tideHouse();
        job.found.space->inside = {0.5, 0.4, 0.1};
        const TemplateSheets sheets = drillTemplate(job, 0);
        QVERIFY(sheets.pages.size() > 1);
        for (std::size_t i = 0; i < sheets.pages.size(); ++i)
            QVERIFY(sheets.pages[i].find("sheet " + std::to_string(i + 1) + " of " +
                                         std::to_string(sheets.pages.size())) != std::string::npos);
        // Each goes on where the one before it ends, with what both show.
        std::vector<QPointF> moved;
        static const QRegularExpression shift(u"translate\\((-?[0-9.]+),(-?[0-9.]+)\\)"_s);
        for (const std::string& page : sheets.pages) {
            const auto match = shift.match(QString::fromStdString(page));
            moved.emplace_back(match.captured(1).toDouble(), match.captured(2).toDouble());
        }
        std::set<double> across;
        std::set<double> down;
        for (const QPointF& at : moved) {
            QVERIFY(at.x() <= moved.front().x() && at.y() <= moved.front().y());
            across.insert(-at.x());
            down.insert(-at.y());
        }
        QCOMPARE(across.size() * down.size(), sheets.pages.size());
        for (const auto& [steps, room] : {std::pair(across, 210.0), std::pair(down, 297.0)})
            for (auto step = steps.begin(); step != steps.end() && std::next(step) != steps.end(); ++step) {
                const double by = *std::next(step) - *step;
                QVERIFY(by > 0.6 * room && by < room);
            }
        job.found.space->inside = {3, 2, 0.1};
        QVERIFY(drillTemplate(job, 0).pages.empty() && !drillTemplate(job, 0).problem.empty());
        job.found.space.reset();
        QVERIFY(!adapterPlate(job, 0).problem.empty());
    }

    /// What stands on the floor is cut out of the plate as far as the plate goes.
    void cutOut()
    {
        Job job = tideHouse();
        CaseSpace& space = *job.found.space;
        const BoxSize& inside = space.inside;
        space.keep_out.push_back(
            {.name = "all of it", .x_m = 0, .y_m = 0, .dx_m = inside.x_m, .dy_m = inside.y_m, .dz_m = 0.001});
        static const QRegularExpression rect(
            u"<rect (x='[^']+' y='[^']+' width='[^']+' height='[^']+')([^>]*)>"_s);
        const TemplateSheets sheets = adapterPlate(job, 0);
        QVERIFY2(!sheets.pages.empty(), sheets.problem.c_str());
        std::set<QString> plate;
        std::set<QString> cut;
        for (const QRegularExpressionMatch& found :
             rect.globalMatch(QString::fromStdString(sheets.pages.front()))) {
            if (!found.captured(2).contains(u"dasharray"_s))
                plate.insert(found.captured(1));
            else if (found.captured(2).contains(u"'1 1'"_s))
                cut.insert(found.captured(1));
        }
        QCOMPARE(cut.size(), std::size_t{1});
        QVERIFY(plate.contains(*cut.begin()));
    }

    /// A bond that would earth the rail is opened, unless the unit is in a case that does not open.
    void newBond()
    {
        Job job = tideHouse();
        ShelfEntry& entry = job.plan.replace->units.front().entry;
        entry.unit.outputs.front().bonded = Bond::Positive;
        for (const auto& [mounting, verdict] :
             {std::pair(Mounting::Cage, Verdict::Tight), {Mounting::Adapter, Verdict::Breaks}}) {
            entry.mounting = mounting;
            const auto rows = figuresOf(job).consequences.rows;
            const auto bond = std::ranges::find(rows, RowId::NewBond, &ConsequenceRow::id);
            QVERIFY(bond != rows.end());
            QCOMPARE(bond->verdict, verdict);
        }
    }

    /// Every wire stands on the card, at most one page of it, with four and with two hundred.
    void card()
    {
        for (const std::size_t count : {4U, 40U, 200U}) {
            Job job = tideHouse();
            const Wire like = job.found.wires[3];
            job.found.wires.resize(0);
            for (std::size_t i = 0; i < count; ++i) {
                job.found.wires.push_back(like);
                job.found.wires.back().name = "T" + std::to_string(i) + ".";
            }
            const std::string svg = wiringCard(job, "28 November 2026");
            static const QRegularExpression text(u"<text x='([^']+)' y='([^']+)' font-size='([^']+)'"_s);
            for (auto at = text.globalMatch(QString::fromStdString(svg)); at.hasNext();) {
                const auto match = at.next();
                QVERIFY(match.captured(1).toDouble() >= 10 && match.captured(1).toDouble() <= 200);
                QVERIFY(match.captured(2).toDouble() > 10 && match.captured(2).toDouble() <= 290);
                QVERIFY(match.captured(3).toDouble() >= 1.5);
            }
            for (std::size_t i = 0; i < count; ++i)
                QVERIFY(svg.find("T" + std::to_string(i) + ".") != std::string::npos);
        }
    }

    /// The plan as taken is judged as it was when it was chosen, and its file keeps it without the shelf.
    void keepsItsOwnCopy()
    {
        const Job job = tideHouse();
        const auto match = plannedMatch(job);
        QVERIFY(match && match->units.size() == 1);
        const ShelfEntry& entry = job.plan.replace->units.front().entry;
        UnitsMatchInput in{.need = *wantedOf(job).unit, .shelf = {entry.unit}};
        const UnitsOption chosen = unitsMatch(in).options.front();
        QVERIFY(chosen.verdict == match->verdict);
        QCOMPARE(chosen.worst_use, match->worst_use);
        QVERIFY(readJob(writeJob(job)) == job);
        Json document = parseJson(writeJob(job));
        document["plan"]["replace"]["units"][0]["rails"][0]["output"] = "9 V";
        QVERIFY_THROWS_EXCEPTION(DocumentError, jobFrom(document));
        document = parseJson(writeJob(job));
        document["plan"]["replace"]["units"][0]["place"]["turn"] = 45;
        QVERIFY_THROWS_EXCEPTION(DocumentError, jobFrom(document));
    }

    /// The rows of a module are those of `regulator.replace`, and the old regulator's own are gone.
    void moduleRowsAreTheCalculation()
    {
        const Job job = readJob(test::sourceFile("data/jobs/lamp-room-clock.offshoot"));
        const auto in = moduleInput(job, job.plan.module->entry);
        QVERIFY(in);
        const RegulatorReplaceResult r = regulatorReplace(*in);
        const Evaluation e = evaluate(job, 2e9);
        const auto row = [&](RowId id) {
            return std::ranges::find(e.consequences.rows, id, &ConsequenceRow::id);
        };
        const auto end = e.consequences.rows.end();
        QVERIFY(row(RowId::ModuleHeadroom) != end && row(RowId::ModuleInput) != end);
        QVERIFY(row(RowId::ModuleHeadroom)->use == r.headroom.use);
        QVERIFY(row(RowId::ModuleInput)->planned == r.after.in_crest_v);
        QVERIFY(row(RowId::ModuleLow)->planned == r.after.in_trough_v);
        QVERIFY(row(RowId::SourceRise)->found == r.before->source_v);
        for (const RowId gone : {RowId::Dropout, RowId::JunctionTemperature, RowId::JunctionShorted})
            QVERIFY(row(gone) == end);
        // What has to be proven dead is the source as the lighter load lets it rise.
        const EnergyModel energy = energyModel(job, Condition::Planned);
        const auto bulk = std::ranges::find(energy.reservoirs, "bulk", &Reservoir::point);
        QVERIFY(bulk != energy.reservoirs.end());
        QVERIFY(bulk->v0_v >= in->source.open_v * (1 + in->source.spread) - 1e-9);
        QVERIFY(indexOf(e, "change.module_out") < indexOf(e, "change.module"));
        QVERIFY(indexOf(e, "bringup.power_full") < indexOf(e, "bringup.source"));
    }

    /// Of the modules on the shelf the best is no worse than any other, and one without a source is unknown.
    void moduleChoice()
    {
        Job job = readJob(test::sourceFile("data/jobs/lamp-room-clock.offshoot"));
        const Shelf shelf = readShelf(test::sourceFile("data/shelves/saltmarsh-point.shelf"));
        const ModuleView view = moduleView(job, shelf.units);
        QVERIFY(view.options.size() >= 4);
        for (std::size_t i = 1; i < view.options.size(); ++i)
            QVERIFY(badness(view.options[i - 1].result.verdict) <= badness(view.options[i].result.verdict));
        QVERIFY(view.planned && shelf.units[view.options[*view.planned].at].unit.name == "Sprat 9");
        QCOMPARE(view.school.sides.size(), 2U);
        job.found.feed.reset();
        QVERIFY(moduleView(job, shelf.units).options.empty() &&
                !moduleView(job, shelf.units).sentence.empty());
        const auto rows = moduleRows(job);
        QVERIFY(rows.size() == 1 && rows.front().verdict == Verdict::Unknown);
    }

    void colours()
    {
        QCOMPARE(wireColours("green-yellow"), (std::vector<std::string>{"#2f8a4c", "#e3c13a"}));
        QCOMPARE(wireColours("GNYE"), wireColours("green-yellow"));
        QCOMPARE(wireColours("BN"), wireColours("brown"));
        QVERIFY(wireColours("A1").empty() && wireColours("").empty() && wireColours("lead").empty());
    }

    /// What hangs on a rail is held against the most that the new output starts into, where both are known.
    void startsInto()
    {
        Job job = tideHouse();
        const std::string rail = job.plan.replace->units.front().rails.front().rail;
        const auto rowOf = [&] {
            const Evaluation e = evaluate(job, 2e9);
            const auto at = std::ranges::find_if(e.consequences.rows, [&](const ConsequenceRow& row) {
                return row.id == RowId::NewStart && row.rail == rail;
            });
            return at == e.consequences.rows.end() ? std::optional<ConsequenceRow>() : *at;
        };
        QVERIFY(!rowOf());
        for (Rail& found : job.found.rails)
            if (found.name == rail)
                found.sense.load_capacitor_f = 1e-3;
        job.plan.replace->units.front().entry.load_max_f.reset();
        QVERIFY(rowOf().value().verdict == Verdict::Unknown);
        job.plan.replace->units.front().entry.load_max_f = 4e-3;
        QVERIFY(rowOf().value().verdict == Verdict::Fits);
        job.plan.replace->units.front().entry.load_max_f = 0.9e-3;
        QVERIFY(rowOf().value().verdict == Verdict::Breaks);
    }

    /// What an output must at least give stands against what the load and its dummy draw, by what they are
    /// short of.
    void leastDrawn()
    {
        Job job = tideHouse();
        ReplacingUnit& unit = job.plan.replace->units.front();
        ServedRail& served = unit.rails.front();
        served.dummy_a = 0.3;
        for (UnitOutput& output : unit.entry.unit.outputs)
            output.least_a = 0.5;
        const Evaluation e = evaluate(job, 2e9);
        const auto row = std::ranges::find_if(e.consequences.rows, [&](const ConsequenceRow& r) {
            return r.id == RowId::NewLeast && r.rail == served.rail;
        });
        QVERIFY(row != e.consequences.rows.end());
        QVERIFY(*row->planned >= 0.3);
        QNEAR(*row->use, 0.5 / *row->planned, 1e-9);
    }

    /// A rail that somebody uses and no output serves breaks; one that nobody uses does not.
    void unservedRail()
    {
        Job job = tideHouse();
        std::erase_if(job.plan.replace->units.front().rails,
                      [](const ServedRail& served) { return served.rail == "12V"; });
        const auto broken = [&] {
            const Evaluation e = evaluate(job, 2e9);
            return std::ranges::any_of(e.consequences.rows, [](const ConsequenceRow& row) {
                return row.id == RowId::NewVoltage && row.rail == "12V" && row.verdict == Verdict::Breaks;
            });
        };
        QVERIFY(broken());
        job.found.rails[1].users.clear();
        job.need.others.clear();
        QVERIFY(!broken());
    }
};

REGISTER_TEST(TestReplace, void)
#include "tst_replace.moc"
