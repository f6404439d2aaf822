// What is drawn is what is calculated: the connections of every picture, solved as a circuit, give the
// planned figures, and a drawing joins just the nodes that its parts join.
#include "core/change/windings.h"
#include "core/job/wiring_drawing.h"
#include "support/support.h"

#include <algorithm>
#include <set>

using namespace offshoot;

namespace {

constexpr std::array networks{"15k", "10k+4k7", "33k||27k", "(10k||68k)+1k", "(2k2+330)||47k"};

Feedback feedback(bool adjustable)
{
    Feedback f;
    f.reference = Reference{
        .v_ref_v = adjustable ? 1.25 : 2.495, .tolerance = 0.01, .i_ref_a = adjustable ? 5e-5 : 2e-6};
    f.top = Network(22e3);
    f.bottom = *parseNetwork("2k2+350");
    return f;
}

/// Ohms of both legs as the picture has them.
Legs drawnLegs(const Connections& c, bool adjustable, bool planned)
{
    return {c.ohmBetween("reference", adjustable ? "return" : "output", planned),
            c.ohmBetween("reference", adjustable ? "output" : "return", planned)};
}

Job demo(const char* name)
{
    return readJob(test::sourceFile((std::string("data/jobs/") + name + ".offshoot").c_str()));
}

Evaluation evaluated(const Job& job) { return evaluate(job, job.log.empty() ? 0 : job.log.back().time_s); }

} // namespace

class TestConnections : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void dividers_data()
    {
        QTest::addColumn<int>("method");
        QTest::addColumn<QByteArray>("network");
        QTest::addColumn<bool>("adjustable");
        for (std::size_t m = 0; m < method_count; ++m)
            for (const char* network : networks)
                for (const bool adjustable : {false, true})
                    QTest::addRow("%s %s%s", word(static_cast<DividerMethod>(m)).data(), network,
                                  adjustable ? ", 317-type" : "")
                        << static_cast<int>(m) << QByteArray(network) << adjustable;
    }
    void dividers()
    {
        QFETCH(int, method);
        QFETCH(QByteArray, network);
        QFETCH(bool, adjustable);
        const auto how = static_cast<DividerMethod>(method);
        const Network added = *parseNetwork(network.toStdString());
        const Feedback f = feedback(adjustable);
        const Connections c = dividerConnections(f, AddedToDivider{how, added, {0.01}}, adjustable);
        const Legs found{f.top->ohm(), f.bottom->ohm()};
        const Legs planned = withAdded(how, found, added.ohm());
        const Legs drawn = drawnLegs(c, adjustable, true);
        QNEAR(drawn.top_ohm, planned.top_ohm, 1e-6);
        QNEAR(drawn.bottom_ohm, planned.bottom_ohm, 1e-6);
        const Legs before = drawnLegs(c, adjustable, false);
        // A lifted end is not yet lifted: what was found stands between its own nodes.
        if (how != DividerMethod::SeriesBottom && how != DividerMethod::SeriesTop) {
            QNEAR(before.top_ohm, found.top_ohm, 1e-6);
            QNEAR(before.bottom_ohm, found.bottom_ohm, 1e-6);
        }
        const auto v = dividerVoltage(f.reference->v_ref_v, f.reference->i_ref_a, drawn);
        QNEAR(v, dividerVoltage(f.reference->v_ref_v, f.reference->i_ref_a, planned), 1e-6);
        // Every part of the network is there once, as new; what is replaced goes out.
        QCOMPARE(std::ranges::count(c.parts, PartFate::Added, &ConnectedPart::fate),
                 static_cast<std::ptrdiff_t>(added.parts().size()));
        QCOMPARE(std::ranges::count(c.parts, PartFate::TakenOut, &ConnectedPart::fate) > 0, replaces(how));
        drawnAsListed(c);
    }

    /// Every wiring of every demo job.
    void demos_data()
    {
        QTest::addColumn<QByteArray>("name");
        for (const char* name :
             {"barograph-amplifier", "beacon-float-charge", "chart-recorder", "fog-signal-amplifier",
              "hatch-heater", "mast-camera", "radio-link", "rain-gauge-logger"})
            QTest::newRow(name) << QByteArray(name);
    }
    void demos()
    {
        QFETCH(QByteArray, name);
        const Job job = demo(name);
        const auto all = plannedConnections(job, evaluated(job));
        QVERIFY(!all.empty());
        std::set<std::string> names;
        for (const Connections& c : all) {
            QVERIFY(names.insert(c.name).second && !c.sentence.empty() && !c.parts.empty());
            drawnAsListed(c);
            const std::string svg = wiringSvg(c);
            QVERIFY(svg.starts_with("<svg") && svg.ends_with("</svg>"));
            QVERIFY(svg.find("nan") == std::string::npos);
        }
        // A step's drawing is one of them.
        for (const StepView& view : evaluated(job).steps)
            QVERIFY2(view.step.drawing.empty() || view.step.drawing == "plan" ||
                         names.contains(view.step.drawing),
                     view.step.id.c_str());
    }

    /// The sentence of the primaries names each joint and each feed by its leads, and never one joint as
    /// another.
    void primaries()
    {
        Job job = demo("chart-recorder");
        QCOMPARE(primariesSentence(job), std::string("Join grey to violet; mains to blue and brown."));
        job.plan.connection =
            ConnectionPlan{{{.string = 0, .winding = "A", .from = "blue", .to = "grey"},
                            {.string = 1, .winding = "B", .from = "violet", .to = "brown"}}};
        QCOMPARE(primariesSentence(job),
                 std::string("One side of the mains to blue and violet together, the other side "
                             "to grey and brown together."));
        job.plan.connection = ConnectionPlan{{{.string = 0, .winding = "A", .from = "blue", .to = "grey"}}};
        QCOMPARE(primariesSentence(job), std::string("Mains to blue and grey."));
    }

    /// A stack is the sum of its units through its links, and only the bonds that stay touch a case.
    void stack()
    {
        const Job job = demo("radio-link");
        const auto all = plannedConnections(job, evaluated(job));
        const auto c = std::ranges::find(all, "stack", &Connections::name);
        QVERIFY(c != all.end());
        double total_v = 0;
        std::string at = c->bottom;
        for (bool moved = true; moved;) {
            moved = false;
            for (const ConnectedPart& part : c->parts) {
                if (part.kind == PartKind::Source && part.to == at) {
                    total_v += *part.value;
                    at = part.from;
                    moved = true;
                }
                if (part.kind == PartKind::Link && part.from == at) {
                    at = part.to;
                    moved = true;
                }
            }
        }
        QCOMPARE(at, c->top);
        QVERIFY(total_v > 47 && total_v < 49);
        QCOMPARE(std::ranges::count_if(c->parts,
                                       [](const ConnectedPart& p) {
                                           return p.kind == PartKind::Bond && p.fate == PartFate::TakenOut;
                                       }),
                 static_cast<std::ptrdiff_t>(job.plan.join->opened_bonds.size()));
        for (const ConnectedPart& part : c->parts)
            QVERIFY(part.name.find("protective") == std::string::npos || part.fate == PartFate::Stays);
    }

private:
    /// The layout joins what the list joins, and no two parts lie over each other.
    static void drawnAsListed(const Connections& c)
    {
        const WiringDrawing drawing = wiringDrawing(c);
        QCOMPARE(drawing.parts.size(), c.parts.size());
        for (const DrawnPart& drawn : drawing.parts) {
            const ConnectedPart& part = c.parts[drawn.part];
            const auto name = [&](int level) { return drawing.nodes[static_cast<std::size_t>(level)].name; };
            QCOMPARE(name(drawn.from_above ? drawn.upper : drawn.lower), part.from);
            QCOMPARE(name(drawn.from_above ? drawn.lower : drawn.upper), part.to);
            for (const DrawnPart& other : drawing.parts)
                if (&other != &drawn && other.column == drawn.column)
                    QVERIFY(other.lower <= drawn.upper || drawn.lower <= other.upper);
            for (const int level : {drawn.upper, drawn.lower}) {
                const DrawnNode& node = drawing.nodes[static_cast<std::size_t>(level)];
                QVERIFY(node.first <= drawn.column && drawn.column <= node.last);
            }
        }
    }
};

QTEST_APPLESS_MAIN(TestConnections)
#include "tst_connections.moc"
