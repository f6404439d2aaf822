// What comes out to a front, and a module in a case of its own: reach, broken wires, heat, cut-outs, letters.
#include "core/evaluate/evaluation.h"
#include "core/evaluate/parts.h"
#include "core/kinds/kind.h"
#include "core/kinds/panel/panel_view.h"
#include "core/kinds/rehouse/rehouse_view.h"
#include "core/kinds/replace/wanted.h"
#include "core/values/figures.h"
#include "support/support.h"

#include <QRegularExpression>
#include <algorithm>
#include <cmath>
#include <random>

using namespace offshoot;
using namespace Qt::StringLiterals;

Q_DECLARE_METATYPE(offshoot::PotBreakInput)

namespace {

using offshoot::lengths::mm;

using ChangePlan = void (*)(RehousePlan&);
using ChangeJob = void (*)(Job&);

Job bath() { return readJob(test::sourceFile("data/jobs/sample-bath.offshoot")); }

/// The worst verdict of the rows of one kind, of one part where it is named.
Verdict verdictOf(const std::vector<ConsequenceRow>& rows, RowId id, const std::string& part = {})
{
    std::optional<Verdict> worst;
    for (const ConsequenceRow& row : rows)
        if (row.id == id && (part.empty() || row.part == part))
            worst = worst ? worse(*worst, row.verdict) : row.verdict;
    return worst.value_or(Verdict::Fits);
}

PanelView panelOf(const Job& job) { return panelView(job, figuresOf(job)); }

/// A front of 200 × 60 mm with one post in its middle.
Job onePost()
{
    Job job = bath();
    // A rheostat at the output, with a guard that bounds a broken wire.
    BroughtOut& pot = job.plan.rehouse->pots[0];
    pot.wiring = PotWiring::OutputSide;
    pot.ohm = 10e3;
    pot.other_ohm = 430;
    pot.guard_ohm = 3900;
    job.plan.panel = PanelPlan{.width_m = 200 * mm, .height_m = 60 * mm};
    job.plan.panel->items = {
        {.name = "out", .kind = PanelPart::Post, .x_m = 100 * mm, .y_m = 30 * mm, .serves = "12V"}};
    return job;
}

} // namespace

class TestFront : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// A wire ends at a post or a socket, whatever else serves the same rail.
    void posts()
    {
        PanelPlan panel;
        panel.items = {{.name = "shows", .kind = PanelPart::Readout, .serves = "12V"},
                       {.name = "turns", .kind = PanelPart::Potentiometer, .serves = "12V"},
                       {.name = "back", .kind = PanelPart::Post, .serves = "12V", .returns = true},
                       {.name = "other", .kind = PanelPart::Post, .serves = "5V"},
                       {.name = "out", .kind = PanelPart::Socket, .serves = "12V"}};
        QCOMPARE(postOf(panel, "12V", false)->name, std::string("out"));
        QCOMPARE(postOf(panel, "12V", true)->name, std::string("back"));
        QVERIFY(postOf(panel, "5V", true) == nullptr && postOf(panel, "24V", false) == nullptr);
    }

    /// What fits in one row stands in one; else the posts have the lowest row to themselves, and nothing
    /// leaves the front.
    void rows()
    {
        using enum PanelPart;
        const std::initializer_list<PanelPart> kinds{Potentiometer, Post, Readout, Post, Lamp};
        PanelPlan panel{.width_m = 300 * mm, .height_m = 80 * mm};
        for (const PanelPart kind : kinds)
            panel.items.push_back(
                {.name = std::to_string(panel.items.size()), .kind = kind, .serves = "12V"});
        spread(panel);
        for (const PanelItem& item : panel.items)
            QNEAR(item.y_m, panel.items.front().y_m, 1e-9);
        double first_m = 0; // the narrower, the more rows, and the first so much higher
        for (const double width : {120, 90, 60}) {
            panel.width_m = width * mm;
            spread(panel);
            double lowest_other_m = panel.height_m;
            for (const PanelItem& item : panel.items) {
                const PanelBox body = shapeOf(item).body;
                QVERIFY(item.x_m - body.dx_m / 2 > 0 && item.x_m + body.dx_m / 2 < panel.width_m);
                QVERIFY(item.y_m > 0 && item.y_m < panel.height_m);
                if (item.kind != Post)
                    lowest_other_m = std::min(lowest_other_m, item.y_m);
            }
            QNEAR(panel.items[1].y_m, panel.items[3].y_m, 1e-9);
            QVERIFY(panel.items[1].y_m < lowest_other_m);
            QVERIFY(panel.items[0].y_m >= first_m);
            first_m = panel.items[0].y_m;
        }
    }

    /// Worked on paper, of a module of 1.25 V reference and 430R below its trimmer, on a feed that allows
    /// 20.5 V.
    void brokenWires_data()
    {
        QTest::addColumn<PotBreakInput>("in");
        QTest::addColumn<QList<double>>("to"); // negative: nobody knows
        const auto in = [](PotSets sets, PotWiring wiring, std::optional<double> guard_ohm) {
            PotBreakInput made{.sets = sets,
                               .wiring = wiring,
                               .ohm = 10e3,
                               .set = 12,
                               .least = 1.25,
                               .most = 30,
                               .reach = 20.5,
                               .reference_v = 1.25,
                               .other_ohm = 430,
                               .guard_ohm = guard_ohm};
            if (sets == PotSets::Amps)
                made.set = 1.5, made.least = 0, made.most = made.reach = 3;
            return made;
        };
        using enum PotWiring;
        const auto v = PotSets::Volts;
        const auto a = PotSets::Amps;
        QTest::newRow("rheostat at the output") << in(v, OutputSide, {}) << QList<double>{20.5};
        // 1.25·(1 + 3900/430) = 12.587
        QTest::newRow("guarded") << in(v, OutputSide, 3900) << QList<double>{12.5872};
        QTest::newRow("guarded too weakly") << in(v, OutputSide, 10e3) << QList<double>{20.5};
        QTest::newRow("adjusting pin") << in(v, AdjustPin, {}) << QList<double>{20.5};
        QTest::newRow("at the return") << in(v, ReturnSide, {}) << QList<double>{1.25};
        QTest::newRow("divider") << in(v, Divider, {}) << QList<double>{20.5, -1, 1.25};
        QTest::newRow("divider, guarded") << in(v, Divider, 100e3) << QList<double>{20.5, 1.25, 1.25};
        // Below the wiper 10k·1.25/12 = 1042R: 1.25·(1 + 10k/1042R) = 13.25.
        QTest::newRow("divider, guarded well") << in(v, Divider, 10e3) << QList<double>{13.25, 1.25, 1.25};
        QTest::newRow("amperes, at the reference") << in(a, OutputSide, {}) << QList<double>{0};
        QTest::newRow("amperes, at the return") << in(a, ReturnSide, {}) << QList<double>{3};
        QTest::newRow("amperes, divider") << in(a, Divider, {}) << QList<double>{0, -1, 3};
        QTest::newRow("amperes, divider, guarded") << in(a, Divider, 100e3) << QList<double>{0, 0, 3};
    }
    void brokenWires()
    {
        QFETCH(PotBreakInput, in);
        QFETCH(QList<double>, to);
        const PotBreakResult r = potBreak(in);
        QCOMPARE(static_cast<qsizetype>(r.wires.size()), to.size());
        for (qsizetype i = 0; i < to.size(); ++i) {
            const BrokenWire& wire = r.wires[static_cast<std::size_t>(i)];
            QCOMPARE(wire.to.has_value(), to[i] >= 0);
            QVERIFY(!wire.to || std::abs(*wire.to - to[i]) < 1e-3);
            QVERIFY(wire.goes == (!wire.to            ? BreakGoes::Nowhere
                                  : *wire.to > in.set ? BreakGoes::High
                                                      : BreakGoes::Low));
        }
    }

    /// A guard bounds what it can be turned to as well: 10k beside 3900R is 2806R, 1.25·(1 + 2806/430)
    /// = 9.406.
    void guardEndsTheRange()
    {
        const PotBreakResult r = potBreak({.sets = PotSets::Volts,
                                           .wiring = PotWiring::OutputSide,
                                           .ohm = 10e3,
                                           .set = 9,
                                           .least = 1.25,
                                           .most = 30,
                                           .reach = 20.5,
                                           .reference_v = 1.25,
                                           .other_ohm = 430,
                                           .guard_ohm = 3900});
        QVERIFY(std::abs(r.most - 9.4065) < 1e-3);
        // Without a fixed part that is known, the one whose range with this pot ends there: 10k / (30/1.25 −
        // 1).
        const PotBreakResult unknown = potBreak({.sets = PotSets::Volts,
                                                 .wiring = PotWiring::OutputSide,
                                                 .ohm = 10e3,
                                                 .set = 12,
                                                 .least = 1.25,
                                                 .most = 30,
                                                 .reach = 40,
                                                 .reference_v = 1.25,
                                                 .guard_ohm = 5e3});
        QNEAR(unknown.wires.front().to.value_or(0), 1.25 * (1 + 5e3 / (10e3 / 23)), 1e-9);
        // Nothing above the reference: the fixed part is taken for as large as the pot.
        const PotBreakResult none = potBreak({.sets = PotSets::Volts,
                                              .wiring = PotWiring::OutputSide,
                                              .ohm = 10e3,
                                              .set = 1.25,
                                              .least = 1.25,
                                              .most = 1.25,
                                              .reach = 20.5,
                                              .reference_v = 1.25,
                                              .guard_ohm = 10e3});
        QVERIFY(none.wires.front().to && std::abs(*none.wires.front().to - 2.5) < 1e-9);
    }

    /// Its row says what ends it: the guard, where that is what stops it, not the feed.
    void guardIsNamed()
    {
        Job job = onePost();
        const auto says = [&job] {
            const auto rows = rehouseView(job).rows;
            return std::ranges::find(rows, RowId::PotVolts, &ConsequenceRow::id)->working;
        };
        QVERIFY(says().find("ended by its guard") != std::string::npos);
        job.plan.rehouse->pots[0].guard_ohm.reset();
        QVERIFY(says().find("ended by its guard") == std::string::npos);
    }

    /// What touches does not lie over each other, and what fills a place lies in it; what is a hundredth of a
    /// millimetre nearer does.
    void overlaps()
    {
        const PanelBox box{0.01, 0.02, 0.03, 0.04};
        constexpr double nearer = 0.01 * mm;
        QVERIFY(inside(box, box));
        for (const auto& [x, y] : {std::pair(1.0, 0.0), {-1.0, 0.0}, {0.0, 1.0}, {0.0, -1.0}})
            QVERIFY(!inside({box.x_m + x * nearer, box.y_m + y * nearer, box.dx_m, box.dy_m}, box));
        for (const auto& [x, y] : {std::pair(1.0, 0.0), {-1.0, 0.0}, {0.0, 1.0}, {0.0, -1.0}}) {
            PanelBox other{box.x_m + x * box.dx_m, box.y_m + y * box.dy_m, box.dx_m, box.dy_m};
            QVERIFY(!overlap(box, other) && !overlap(other, box));
            other.x_m -= x * nearer;
            other.y_m -= y * nearer;
            QVERIFY(overlap(box, other) && overlap(other, box));
        }
    }

    /// 10 W in 180 × 120 × 62 mm: A = 1.8·0.062·0.3 + 1.4·0.18·0.12 = 0.06372 m², 10/(5.5·0.06372) = 28.5 K.
    void heatOfACase()
    {
        const BoxSize inside{180 * mm, 120 * mm, 62 * mm};
        QVERIFY(std::abs(caseRise(inside, 10, false) - 28.53) < 0.01);
        QVERIFY(std::abs(caseRise(inside, 10, true) - 14.27) < 0.01);
        Job job = bath();
        QVERIFY(verdictOf(rehouseView(job).rows, RowId::CaseHeat) == Verdict::Fits);
        job.need.current_a = 20;
        QVERIFY(verdictOf(rehouseView(job).rows, RowId::CaseHeat) == Verdict::Breaks);
        // Whole to 40 °C, half at 60 °C, nothing above: three quarters to 50 °C.
        ShelfUnit& unit = job.plan.replace->units.front().entry.unit;
        unit.derating = {{313.15, 1}, {333.15, 0.5}};
        for (const auto& [share, limit_k] : {std::pair(0.75, 323.15), {0.25, 333.15}, {1.0, 313.15}}) {
            job.need.current_a = share * unit.outputs.front().rated_a;
            const auto rows = rehouseView(job).rows;
            QNEAR(std::ranges::find(rows, RowId::CaseHeat, &ConsequenceRow::id)->limit.value(), limit_k);
        }
        // A converter loses a share of what it gives, a linear one what it drops from the highest feed.
        ReplacingUnit& fitted = job.plan.replace->units.front();
        unit.efficiency = 0.8;
        job.need.current_a = 2;
        const double set_v = fitted.rails.front().set_v;
        const double feed_v = *job.found.direct.max_v;
        for (const auto& [kind, loss_w] : {std::pair(ModuleKind::Buck, set_v * 2 / 4),
                                           std::pair(ModuleKind::Linear, (feed_v - set_v) * 2)}) {
            fitted.entry.converts = kind;
            const RehouseView view = rehouseView(job);
            QNEAR(*view.loss_w, loss_w);
            const double around_k = job.found.regulator.t_ambient_k.value_or(298.15);
            QNEAR(*view.inside_k,
                  around_k + caseRise(job.found.space->inside, loss_w, job.plan.rehouse->vented));
        }
        // Its fuse is the least of the row that carries four fifths of its rating.
        constexpr std::array row{0.1, 0.125, 0.16, 0.2,  0.25, 0.315, 0.4, 0.5, 0.63, 0.8,  1.0,  1.25,
                                 1.6, 2.0,   2.5,  3.15, 4.0,  5.0,   6.3, 8.0, 10.0, 12.5, 16.0, 20.0};
        for (std::size_t i = 0; i < row.size(); ++i) {
            job.need.current_a = 0.8 * row[i];
            job.need.peak_a.reset();
            QNEAR(rehouseView(job).fuse_a.value_or(0), row[i]); // linear: it draws what it gives
            job.need.current_a = 0.81 * row[i];
            QCOMPARE(rehouseView(job).fuse_a.has_value(), i + 1 < row.size());
            if (i + 1 < row.size())
                QNEAR(*rehouseView(job).fuse_a, row[i + 1]);
        }
        job.found.space.reset();
        QVERIFY(verdictOf(rehouseView(job).rows, RowId::CaseHeat) == Verdict::Unknown);
    }

    /// The lowest feed less the headroom ends it; a window above that breaks, in Plan and on the shelf.
    void reach()
    {
        Job job = bath();
        const auto of = [&] { return *reachOf(job.found, job.plan.replace->units.front().entry); };
        QVERIFY(std::abs(of().max_v - 20.5) < 1e-9 && of().by_feed);
        job.found.direct.min_v = 40;
        job.found.direct.max_v = 44;
        QVERIFY(std::abs(of().max_v - 30) < 1e-9 && !of().by_feed);
        job.plan.replace->units.front().entry.converts = ModuleKind::Boost;
        QVERIFY(std::abs(of().min_v - 44 / 0.95) < 1e-9);
        job = bath();
        job.need.target = Target{24, 23, 25};
        job.plan.replace->units.front().rails.front().set_v = 24;
        QVERIFY(verdictOf(figuresOf(job).consequences.rows, RowId::ModuleHeadroom) == Verdict::Breaks);
        QVERIFY(plannedMatch(job)->verdict == Verdict::Breaks);
        job.found.direct.min_v.reset();
        QVERIFY(!reachOf(job.found, job.plan.replace->units.front().entry));
        QVERIFY(rehouseView(job).rows.empty());
    }

    /// Each part of a rehousing by itself, from the demo that fits.
    void rehoused_data()
    {
        QTest::addColumn<RowId>("row");
        QTest::addColumn<QString>("part");
        QTest::addColumn<Verdict>("verdict");
        QTest::addColumn<ChangePlan>("change");
        const auto row = [](const char* name, RowId id, const char* part, Verdict verdict,
                            ChangePlan change) {
            QTest::newRow(name) << id << QString::fromLatin1(part) << verdict << change;
        };
        row("at the return", RowId::BrokenWire, "Pot volts", Verdict::Fits, [](RehousePlan&) {});
        row("at the output", RowId::BrokenWire, "Pot volts", Verdict::Breaks,
            [](RehousePlan& p) { p.pots[0].wiring = PotWiring::OutputSide; });
        row("guarded", RowId::BrokenWire, "Pot volts", Verdict::Tight, [](RehousePlan& p) {
            p.pots[0].wiring = PotWiring::OutputSide;
            p.pots[0].other_ohm = 430;
            p.pots[0].guard_ohm = 3900;
        });
        row("the guard ends it below", RowId::PotVolts, "Pot volts", Verdict::Breaks, [](RehousePlan& p) {
            p.pots[0] = {
                .name = "volts", .ohm = 10e3, .reference_v = 1.25, .other_ohm = 430, .guard_ohm = 3900};
        });
        row("reaches it", RowId::PotVolts, "Pot volts", Verdict::Fits, [](RehousePlan&) {});
        row("wiper floats", RowId::BrokenWire, "Pot amperes", Verdict::Unknown,
            [](RehousePlan& p) { p.pots[1].guard_ohm.reset(); });
        row("single turn", RowId::PotStep, "Pot volts", Verdict::Fits,
            [](RehousePlan& p) { p.pots[0].turns = 1; });
        row("long wires", RowId::PotLead, "Pot volts", Verdict::Tight,
            [](RehousePlan& p) { p.pots[0].wire_m = 0.4; });
        row("not twisted", RowId::PotLead, "Pot volts", Verdict::Tight,
            [](RehousePlan& p) { p.pots[0].twisted = false; });
        row("wire too thin", RowId::SpacerPath, "spacer at the input", Verdict::Breaks,
            [](RehousePlan& p) { p.spacers[0].area_m2 = 0.1e-6; });
        row("no wire", RowId::SpacerPath, "spacer at the input", Verdict::Breaks,
            [](RehousePlan& p) { p.spacers[0].area_m2.reset(); });
        row("not measured", RowId::SpacerPath, "spacer at the knob", Verdict::Unknown,
            [](RehousePlan& p) { p.spacers[1].carries.reset(); });
        row("bare spacer", RowId::SpacerPath, "spacer at the knob", Verdict::Tight,
            [](RehousePlan& p) { p.spacers[1].insulated = false; });
        row("fuse too small", RowId::FeedFuse, "", Verdict::Breaks, [](RehousePlan& p) { p.fuse_a = 1; });
        row("no fuse", RowId::FeedFuse, "", Verdict::Tight, [](RehousePlan& p) { p.fuse_a.reset(); });
        row("feed folds back", RowId::FeedFuse, "", Verdict::Tight, [](RehousePlan& p) { p.feed_a = 3; });
        row("readout off", RowId::ReadoutTrue, "", Verdict::Breaks,
            [](RehousePlan& p) { p.readouts[0].points[1].shown = 13; });
        row("not held against a meter", RowId::ReadoutTrue, "", Verdict::Unknown,
            [](RehousePlan& p) { p.readouts[0].points.clear(); });
    }
    void rehoused()
    {
        QFETCH(RowId, row);
        QFETCH(QString, part);
        QFETCH(Verdict, verdict);
        QFETCH(ChangePlan, change);
        Job job = bath();
        change(*job.plan.rehouse);
        QCOMPARE(QString::fromLatin1(word(verdictOf(rehouseView(job).rows, row, part.toStdString()))),
                 QString::fromLatin1(word(verdict)));
    }

    /// Each neighbour, edge, depth and hole by itself.
    void panelRows_data()
    {
        QTest::addColumn<RowId>("row");
        QTest::addColumn<Verdict>("verdict");
        QTest::addColumn<ChangeJob>("change");
        const auto row = [](const char* name, RowId id, Verdict verdict, ChangeJob change) {
            QTest::newRow(name) << id << verdict << change;
        };
        const auto fits = Verdict::Fits;
        const auto tight = Verdict::Tight;
        const auto breaks = Verdict::Breaks;
        row("alone", RowId::PanelRoom, fits, [](Job&) {});
        row("near the edge", RowId::PanelRoom, tight, [](Job& j) { j.plan.panel->items[0].x_m = 6 * mm; });
        row("over the edge", RowId::PanelRoom, breaks, [](Job& j) { j.plan.panel->items[0].x_m = 3 * mm; });
        row("neighbour", RowId::PanelRoom, fits,
            [](Job& j) { j.plan.panel->items.push_back({.name = "b", .x_m = 116 * mm, .y_m = 30 * mm}); });
        row("rim to rim", RowId::PanelRoom, tight,
            [](Job& j) { j.plan.panel->items.push_back({.name = "b", .x_m = 115 * mm, .y_m = 30 * mm}); });
        row("over each other", RowId::PanelRoom, breaks,
            [](Job& j) { j.plan.panel->items.push_back({.name = "b", .x_m = 113 * mm, .y_m = 30 * mm}); });
        row("own cut-out", RowId::PanelRoom, breaks, [](Job& j) { j.plan.panel->items[0].d_m = 70 * mm; });
        // Rims of 14 and 18.2 mm: 24.1 mm between their middles is 8 mm of panel.
        row("mains far", RowId::PanelMains, fits, [](Job& j) {
            j.plan.panel->items.push_back(
                {.name = "on", .kind = PanelPart::Switch, .x_m = 124.2 * mm, .y_m = 30 * mm, .mains = true});
        });
        row("mains near", RowId::PanelMains, breaks, [](Job& j) {
            j.plan.panel->items.push_back(
                {.name = "on", .kind = PanelPart::Switch, .x_m = 123.9 * mm, .y_m = 30 * mm, .mains = true});
        });
        row("metal, no earth", RowId::PanelMains, tight, [](Job& j) {
            j.found.earth_class = EarthClass::ClassII;
            j.plan.panel->items.push_back(
                {.name = "on", .kind = PanelPart::Switch, .x_m = 150 * mm, .y_m = 30 * mm, .mains = true});
        });
        row("room behind", RowId::PanelDepth, fits,
            [](Job& j) { j.plan.replace->units[0].place = PlacedAt{.x_m = 90 * mm, .y_m = 36 * mm}; });
        row("no bend", RowId::PanelDepth, tight, [](Job& j) {
            j.plan.panel->items[0].y_m = 10 * mm;
            j.plan.replace->units[0].place = PlacedAt{.x_m = 70 * mm, .y_m = 30 * mm};
        });
        row("into the unit", RowId::PanelDepth, breaks, [](Job& j) {
            j.plan.panel->items[0].y_m = 10 * mm;
            j.plan.replace->units[0].place = PlacedAt{.x_m = 70 * mm, .y_m = 20 * mm};
        });
        row("case not measured", RowId::PanelDepth, Verdict::Unknown, [](Job& j) { j.found.space.reset(); });
        row("old hole used", RowId::PanelHoles, fits,
            [](Job& j) { j.plan.panel->holes = {{.x_m = 100 * mm, .y_m = 30 * mm, .d_m = 6 * mm}}; });
        row("old hole too wide", RowId::PanelHoles, breaks,
            [](Job& j) { j.plan.panel->holes = {{.x_m = 100 * mm, .y_m = 30 * mm, .d_m = 16 * mm}}; });
        row("small and open", RowId::PanelHoles, tight,
            [](Job& j) { j.plan.panel->holes = {{.x_m = 20 * mm, .y_m = 30 * mm, .d_m = 6 * mm}}; });
        row("just no finger goes in", RowId::PanelHoles, tight,
            [](Job& j) { j.plan.panel->holes = {{.x_m = 20 * mm, .y_m = 30 * mm, .d_m = 11.9 * mm}}; });
        row("a finger just goes in", RowId::PanelHoles, breaks,
            [](Job& j) { j.plan.panel->holes = {{.x_m = 20 * mm, .y_m = 30 * mm, .d_m = 12 * mm}}; });
        row("a finger goes in", RowId::PanelHoles, breaks, [](Job& j) {
            j.plan.panel->holes = {{.x_m = 20 * mm, .y_m = 30 * mm, .dx_m = 20 * mm, .dy_m = 13 * mm}};
        });
        row("covered", RowId::PanelHoles, fits, [](Job& j) {
            j.plan.panel->holes = {{.x_m = 20 * mm, .y_m = 30 * mm, .d_m = 20 * mm, .covered = true}};
        });
        row("of the old panel", RowId::PanelHoles, fits, [](Job& j) {
            j.plan.panel->fresh = true;
            j.plan.panel->holes = {{.x_m = 20 * mm, .y_m = 30 * mm, .d_m = 20 * mm}};
        });
        row("promises what is there", RowId::PanelLetters, fits,
            [](Job& j) { j.plan.panel->items[0].letters = "0-9 V"; });
        row("promises too much", RowId::PanelLetters, breaks,
            [](Job& j) { j.plan.panel->items[0].letters = "0 to 30V, 3 A"; });
        row("amperes are no volts", RowId::PanelLetters, fits,
            [](Job& j) { j.plan.panel->items[0].letters = "0-9 V, 30 A, 40"; });
        row("no number can be as large", RowId::PanelLetters, fits,
            [](Job& j) { j.plan.panel->items[0].letters = "1e999 V"; });
        row("no figure", RowId::PanelLetters, fits, [](Job& j) { j.plan.panel->items[0].letters = "bath"; });
    }
    void panelRows()
    {
        QFETCH(RowId, row);
        QFETCH(Verdict, verdict);
        QFETCH(ChangeJob, change);
        Job job = onePost();
        change(job);
        QCOMPARE(QString::fromLatin1(word(verdictOf(panelOf(job).rows, row))),
                 QString::fromLatin1(word(verdict)));
    }

    /// The letters follow the plan: what the potentiometer reaches on this feed, or what the rail is set to.
    void letters()
    {
        Job job = onePost();
        QCOMPARE(panelOf(job).items.front().letters, std::string("+\n1.25 to 9.41 V"));
        job.plan.rehouse->pots[0].guard_ohm.reset();
        QCOMPARE(panelOf(job).items.front().letters, std::string("+\n1.25 to 20.5 V"));
        QVERIFY(panelOf(job).items.front().why.find("the feed: 22.00 V") != std::string::npos);
        job.plan.rehouse.reset();
        QCOMPARE(panelOf(job).items.front().letters, std::string("+\n12 V 3 A"));
        job.plan.panel->items.front().returns = true;
        QCOMPARE(panelOf(job).items.front().letters, std::string("0 V"));
        PanelItem& inlet = job.plan.panel->items.emplace_back();
        inlet = {.name = "feed", .kind = PanelPart::Inlet, .x_m = 20 * mm, .y_m = 20 * mm};
        job.found.direct.min_v = 7;
        job.found.direct.max_v = 28;
        QCOMPARE(panelOf(job).items.back().letters, std::string("7.00 V to 28.00 V DC"));
        job.found.direct.max_v.reset();
        QCOMPARE(panelOf(job).items.back().letters, std::string("feed"));
    }

    /// However many parts come to it, laid out they stand clear of each other and of the mains where a panel
    /// has the room.
    void spreadClear()
    {
        std::mt19937 random(17);
        for (int round = 0; round < 200; ++round) {
            Job job = onePost();
            job.found.space.reset();
            PanelPlan& panel = *job.plan.panel;
            panel.width_m = 300 * mm;
            panel.height_m = 120 * mm;
            panel.items.clear();
            const int count = static_cast<int>(random() % 10) + 1;
            for (int i = 0; i < count; ++i) {
                const auto kind = static_cast<PanelPart>(random() % Words<PanelPart>::list.size());
                const bool mains = random() % 4 == 0;
                panel.items.push_back({.name = std::to_string(i), .kind = kind, .mains = mains});
            }
            spread(panel);
            const PanelView view = panelOf(job);
            QVERIFY2(verdictOf(view.rows, RowId::PanelRoom) == Verdict::Fits, view.sentence.c_str());
            QVERIFY(verdictOf(view.rows, RowId::PanelMains) == Verdict::Fits);
        }
    }

    /// Every cut-out at its millimetre, y upwards on the paper; letters with them; the line of 100 mm below.
    void templateIsTrue()
    {
        Job job = onePost();
        job.plan.panel->items.push_back(
            {.name = "shows", .kind = PanelPart::Readout, .x_m = 40 * mm, .y_m = 30 * mm});
        job.plan.panel->width_m = 180 * mm;
        const TemplateSheets sheets = panelTemplate(job, figuresOf(job));
        QCOMPARE(sheets.pages.size(), 1U);
        const QString svg = QString::fromStdString(sheets.pages.front());
        QVERIFY(svg.contains(u"cx='100' cy='30' r='4'"_s));
        QVERIFY(svg.contains(QRegularExpression(u"<rect x='17.25' y='16.75' width='45.5' height='26.5'"_s)));
        QVERIFY(svg.contains(u"1.25 to 9.41 V"_s));
        QVERIFY(svg.contains(u"<line x1='15' y1='284' x2='115' y2='284'"_s));
        job.plan.panel->width_m = 2;
        job.plan.panel->height_m = 2;
        // Four square metres are 67 sheets even without what they overlap.
        const QRegularExpressionMatch told =
            QRegularExpression(u"It would take (\\d+) sheets"_s)
                .match(QString::fromStdString(panelTemplate(job, figuresOf(job)).problem));
        QVERIFY(told.hasMatch() && told.captured(1).toInt() > 67 && told.captured(1).toInt() < 140);
        job.plan.panel.reset();
        QVERIFY(!panelTemplate(job, figuresOf(job)).problem.empty());
    }

    /// The steps: potentiometers and spacers before the module's first power, swept alone, the front wired
    /// before the wires are tugged; every part of it on the list.
    void steps()
    {
        const Job job = bath();
        const Evaluation e = evaluate(job, 0);
        const auto at = [&](const char* id) {
            const auto step =
                std::ranges::find_if(e.steps, [&](const StepView& v) { return v.step.id == id; });
            if (step == e.steps.end())
                throw std::runtime_error(id);
            return step - e.steps.begin();
        };
        QVERIFY(at("change.pot.1") < at("change.alone.power"));
        QVERIFY(at("change.spacer.1") < at("change.alone.power"));
        QVERIFY(at("change.sweep.1.high") > at("change.alone.outputs"));
        QVERIFY(at("change.sweep.1.set") < at("change.mount"));
        QVERIFY(at("change.front.cut") < at("change.mount"));
        QVERIFY(at("change.wire.1") > at("change.mount") && at("change.wire.1") < at("change.tug"));
        // The feed goes through what stands on the front, the outputs come from its posts.
        const std::string feed = e.steps[static_cast<std::size_t>(at("change.wire.1"))].step.detail;
        QVERIFY2(feed.find("through fuse, switch") != std::string::npos, feed.c_str());
        Job bare = job;
        bare.found.wires.clear();
        const auto connections = plannedConnections(bare, figuresOf(bare));
        const auto front = std::ranges::find(connections, std::string("front"), &Connections::name);
        QStringList wired;
        for (const ConnectedPart& part : front->parts)
            wired << QString::fromStdString(part.name + ": " + part.from + " to " + part.to);
        QCOMPARE(wired, QStringList({u"plus: where the feed comes in to fuse"_s, u"plus: fuse to switch"_s,
                                     u"plus: switch to input plus of Limpet 3"_s,
                                     u"new wire: 12V out to output of 12V, Limpet 3"_s,
                                     u"new wire: 12V return to return of 12V, Limpet 3"_s}));
        QVERIFY(std::ranges::none_of(plannedConnections(job, figuresOf(job)),
                                     [](const Connections& c) { return c.name == "front"; }));
        QVERIFY(at("bringup.posts") < at("bringup.readout.1"));
        std::string all;
        for (const PartLine& line : partsOf(job, e))
            all += line.name + "\n";
        for (const char* part : {"potentiometer 50 kΩ", "binding post", "fuse 2 A", "100k"})
            QVERIFY2(all.find(part) != std::string::npos, all.c_str());
    }

    /// What does not belong together is refused where it stands.
    void refused_data()
    {
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        QTest::newRow("two shapes") << u"\"kind\": \"post\""_s
                                    << u"\"kind\": \"post\", \"d_m\": 0.01, \"dx_m\": 0.01"_s;
        QTest::newRow("one side") << u"\"kind\": \"post\""_s << u"\"kind\": \"post\", \"dy_m\": 0.01"_s;
        QTest::newRow("unknown kind") << u"\"kind\": \"post\""_s << u"\"kind\": \"bell\""_s;
        QTest::newRow("one name twice") << u"\"name\": \"12V return\""_s << u"\"name\": \"12V out\""_s;
        QTest::newRow("no turns") << u"\"turns\": 10"_s << u"\"turns\": 0"_s;
    }
    void refused()
    {
        QFETCH(QString, from);
        QFETCH(QString, to);
        QString text = QString::fromStdString(writeJob(bath()));
        QVERIFY(text.contains(from));
        text.replace(text.indexOf(from), from.size(), to);
        QVERIFY_THROWS_EXCEPTION(DocumentError, readJob(text.toStdString()));
    }
};

REGISTER_TEST(TestFront, void)
#include "tst_front.moc"
