// What is drawn is what is calculated: the connections of every picture, solved as a circuit, give the
// planned figures, and a drawing joins just the nodes that its parts join.
#include "core/calculate/windings.h"
#include "core/evaluate/evaluation.h"
#include "core/evaluate/wiring_drawing.h"
#include "core/kinds/chain/chain_view.h"
#include "core/kinds/divider/divider_wiring.h"
#include "core/kinds/divider/temporary_trimmer.h"
#include "core/kinds/kind.h"
#include "core/kinds/planned.h"
#include "core/kinds/surge_limiter/inrush_view.h"
#include "core/kinds/windings/windings_view.h"
#include "core/kinds/wire/wire_view.h"
#include "core/supply/connections.h"
#include "core/values/format.h"
#include "support/evaluated.h"
#include "support/support.h"

#include <algorithm>
#include <map>
#include <set>
#include <utility>

using namespace offshoot;
using test::evaluated;

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

    /// A temporary trimmer, preset as the step says, gives what the reading before it is turned expects.
    void trimmers_data()
    {
        QTest::addColumn<int>("method");
        QTest::addColumn<double>("target_v");
        QTest::addColumn<QByteArray>("sentence");
        const char* const sentences[]{"Take the bottom leg out; the 10k trimmer",
                                      "Take the top leg out; the 10k trimmer",
                                      "The 10k trimmer",
                                      "The 10k trimmer",
                                      "Lift the bottom leg's end at the return; the 10k trimmer",
                                      "Lift the top leg's end at the output; the 10k trimmer"};
        for (std::size_t m = 0; m < method_count; ++m) {
            const auto method = static_cast<DividerMethod>(m);
            const bool up = method == DividerMethod::ParallelBottom || method == DividerMethod::SeriesTop ||
                            replaces(method);
            QTest::newRow(word(method).data())
                << static_cast<int>(m) << (up ? 27.6 : 22.0) << QByteArray(sentences[m]);
        }
    }
    void trimmers()
    {
        QFETCH(int, method);
        QFETCH(double, target_v);
        QFETCH(QByteArray, sentence);
        Job job = demo("beacon-float-charge");
        job.log.clear();
        const auto how = static_cast<DividerMethod>(method);
        job.need.target = Target{target_v, target_v - 0.3, target_v + 0.3};
        job.plan.route = Route::TemporaryTrimmer;
        job.plan.trimmer.method = how;
        const auto exact = evaluated(job).exact.ohm[static_cast<std::size_t>(method)];
        QVERIFY(exact && *exact > 0);
        const TrimmerChoice usual = usualTrimmerFor(*exact);
        job.plan.trimmer.pot_ohm = usual.pot_ohm;
        job.plan.trimmer.fixed_ohm = usual.fixed_ohm;
        job.plan.chosen = ChosenNetwork{how, Network(*exact), {{.ohm = *exact, .tolerance = 0.01}}};
        const Evaluation e = evaluated(job);
        const auto use = trimmerUse(job, e);
        QVERIFY2(use && use->problem.empty(), use ? use->problem.c_str() : "no trimmer");
        const auto all = plannedConnections(job, e);
        const auto c = std::ranges::find(all, "trimmer", &Connections::name);
        QVERIFY(c != all.end());
        drawnAsListed(*c);
        QCOMPARE(c->sentence, std::string(sentence).replace(std::string(sentence).find("10k"), 3,
                                                            formatOhms(usual.pot_ohm)) +
                                  c->sentence.substr(c->sentence.find(" trimmer") + 8));
        const Reference& reference = *job.found.rails.front().feedback.reference;
        const double v = dividerVoltage(reference.v_ref_v, reference.i_ref_a, drawnLegs(*c, false, true));
        QNEAR(v, *e.trimmer->preset_v, 1e-6);
        QVERIFY(use->preset->min_v < v && v < use->preset->max_v);
        // What it is then read as, the planned part among it, lies where the part serves.
        QVERIFY(*use->serves_ohm->min < *exact && *exact < *use->serves_ohm->max);
        // Turned before the fixed part goes in, dead in between, and the leg is not taken out twice.
        const auto at = [&](const std::string& id) {
            const auto step = std::ranges::find(e.steps, id, [](const StepView& s) { return s.step.id; });
            return step - e.steps.begin();
        };
        const std::ptrdiff_t order[]{at("change.trimmer.fit"),   at("change.trimmer.preset"),
                                     at("change.trimmer.turn"),  at("change.trimmer.prove"),
                                     at("change.trimmer.value"), at("change.fit")};
        QVERIFY(std::ranges::is_sorted(order) && order[5] < static_cast<std::ptrdiff_t>(e.steps.size()));
        const Step& fit = e.steps[static_cast<std::size_t>(order[5])].step;
        QVERIFY(!fit.is(Does::TakeOut) && fit.detail.find("Take the") == std::string::npos &&
                fit.detail.find("Lift the") == std::string::npos);
        // What was read of it is taken for what was measured.
        job.log.push_back({.id = "L1",
                           .time_s = 1.8e9,
                           .kind = LogKind::Reading,
                           .point = std::string(trimmer_point),
                           .quantity = Quantity::Resistance,
                           .value = *exact});
        QNEAR(*evaluated(job).trimmer->predicted_v, target_v, 1e-4);
    }

    /// One that cannot be used is left out, with the reason.
    void trimmerLeftOut()
    {
        Job job = demo("beacon-float-charge");
        job.plan.route = Route::TemporaryTrimmer;
        const auto problem = [&](auto&& change) {
            Job other = job;
            change(other.plan.trimmer);
            const Evaluation e = evaluated(other);
            const bool drawn =
                std::ranges::count(plannedConnections(other, e), "trimmer", &Connections::name) > 0;
            const bool told = std::ranges::any_of(
                e.steps, [](const StepView& s) { return s.step.id == "change.no_trimmer"; });
            const auto use = trimmerUse(other, e);
            return !use || drawn == told ? std::string("unclear") : use->problem;
        };
        QCOMPARE(problem([](TrimmerPlan&) {}), std::string());
        QVERIFY(problem([](TrimmerPlan& t) { t.fixed_ohm = 0; }).find("runs away") != std::string::npos);
        QVERIFY(problem([](TrimmerPlan& t) { t.fixed_ohm = 20e3; }).find("off its travel") !=
                std::string::npos);
        QVERIFY(problem([](TrimmerPlan& t) {
                    t.method = DividerMethod::SeriesTop;
                }).find("in series with the top leg") != std::string::npos);
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

    /// Every rectifier's diodes point from the secondary to + and from the return to the secondary; what is
    /// in the chain is drawn, a doubler's pair and the taps included.
    void chains_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<int>("diodes");
        QTest::addColumn<int>("capacitors");
        QTest::newRow("half wave") << static_cast<int>(SimRectifier::Half) << 1 << 2;
        QTest::newRow("centre tap") << static_cast<int>(SimRectifier::FullWaveCt) << 2 << 2;
        QTest::newRow("bridge") << static_cast<int>(SimRectifier::Bridge) << 4 << 2;
        QTest::newRow("doubler") << static_cast<int>(SimRectifier::Doubler) << 2 << 3;
    }
    void chains()
    {
        QFETCH(int, kind);
        QFETCH(int, diodes);
        QFETCH(int, capacitors);
        Job job = demo("barograph-amplifier");
        RectifierChain& chain = job.plan.chain.emplace(*job.found.mains_side.chain);
        chain.filter = {{.kind = SmoothingKind::C, .c_f = 8e-6},
                        {.kind = SmoothingKind::L, .l_h = 5},
                        {.kind = SmoothingKind::C, .c_f = 47e-6}};
        chain.tap_loads = {{.section = 0, .load = {.current_a = 0.02}}};
        chain.setKind(static_cast<SimRectifier>(kind));
        const Connections c = chainConnections(chain, std::nullopt, "Amplifier");
        drawnAsListed(c);
        const auto of = [&](PartKind what) {
            return std::ranges::count(c.parts, what, &ConnectedPart::kind);
        };
        QCOMPARE(of(PartKind::Diode), diodes);
        QCOMPARE(of(PartKind::Capacitor), capacitors);
        QCOMPARE(of(PartKind::Choke), 1);
        QCOMPARE(of(PartKind::Load), 1 + std::ssize(chain.tap_loads));
        for (const ConnectedPart& part : c.parts) {
            if (part.kind == PartKind::Diode)
                QVERIFY((part.to == "+") != (part.from == "return") && part.from != "+" &&
                        part.to != "return");
            if (part.kind == PartKind::Capacitor)
                QVERIFY(part.from != "return" && part.to != "+");
        }
        // The sentence and the list of parts name each of them with its value.
        const std::string sentence = chainSentence(job);
        for (const ConnectedPart& part : c.parts)
            if (part.kind == PartKind::Capacitor || part.kind == PartKind::Choke) {
                QVERIFY2(sentence.find(part.name) != std::string::npos, sentence.c_str());
                QVERIFY(std::ranges::count(chainParts(chain),
                                           part.name + " " + Connections::valueText(part)) == 1);
            }
        QVERIFY(sentence.find("tap of 20 mA") != std::string::npos || chain.tap_loads.empty());
    }

    /// From the rectifier on, the picture is the chain that is simulated: chokes and resistors in series and
    /// capacitors to the return, in the order of the way to the load, with each tap where it hangs.
    void chainAsSimulated()
    {
        using enum SmoothingKind;
        const std::vector<std::vector<SmoothingSection>> filters{
            {{.kind = C, .c_f = 47e-6}},
            {{.kind = L, .l_h = 3}, {.kind = C, .c_f = 47e-6}},
            {{.kind = C, .c_f = 8e-6}, {.kind = R, .r_ohm = 470}, {.kind = C, .c_f = 47e-6}},
            {{.kind = C, .c_f = 8e-6},
             {.kind = L, .l_h = 5},
             {.kind = C, .c_f = 22e-6},
             {.kind = R, .r_ohm = 1e3},
             {.kind = C, .c_f = 47e-6}}};
        Job job = demo("barograph-amplifier");
        RectifierChain& chain = job.plan.chain.emplace(*job.found.mains_side.chain);
        chain.tap_loads.clear();
        for (const auto kind : {SimRectifier::Half, SimRectifier::FullWaveCt, SimRectifier::Bridge})
            for (const auto& filter : filters) {
                chain.setKind(kind);
                chain.filter = filter;
                const Connections c = chainConnections(chain, std::nullopt, "Amplifier");
                std::vector<std::pair<PartKind, double>> walked;
                std::string at = "+";
                for (bool moved = true; std::exchange(moved, false);) {
                    for (const ConnectedPart& part : c.parts)
                        if (part.kind == PartKind::Capacitor && part.from == at && part.to == "return")
                            walked.emplace_back(part.kind, *part.value);
                    for (const ConnectedPart& part : c.parts)
                        if ((part.kind == PartKind::Choke || part.kind == PartKind::Resistor) &&
                            part.from == at && !moved) {
                            walked.emplace_back(part.kind, *part.value);
                            at = part.to;
                            moved = true;
                        }
                }
                QCOMPARE(walked.size(), filter.size());
                for (std::size_t i = 0; i < filter.size(); ++i) {
                    const SmoothingSection& s = filter[i];
                    const auto [part, value] = walked[i];
                    QVERIFY(part == (s.kind == C   ? PartKind::Capacitor
                                     : s.kind == L ? PartKind::Choke
                                                   : PartKind::Resistor));
                    QCOMPARE(value, s.kind == C ? s.c_f : s.kind == L ? s.l_h : s.r_ohm);
                }
                QVERIFY(std::ranges::any_of(c.parts, [&](const ConnectedPart& p) {
                    return p.kind == PartKind::Load && p.from == at && p.to == "return";
                }));
            }
    }

    /// The wires of the run are the cable that is calculated, and the sense wires end at the load, not
    /// before; the limiter has the ohms of its calculation and its bypass across it.
    void runAndLimiter()
    {
        Job job = demo("mast-camera");
        job.plan.wire = WirePlan{.area_m2 = 2.5e-6, .conductors = 2};
        job.found.rails.front().cable.length_m = 14;
        job.plan.remote_sense = true;
        const Connections run = runConnections(job, plannedSupply(job));
        drawnAsListed(run);
        double loop_ohm = 0;
        for (const ConnectedPart& part : run.parts) {
            if (part.kind == PartKind::Wire && part.from.starts_with("output"))
                loop_ohm += *part.value;
            if (part.from.starts_with("sense"))
                QCOMPARE(part.fate, part.to.starts_with("load") ? PartFate::Added : PartFate::TakenOut);
            QCOMPARE(part.from.substr(part.from.size() - 1),
                     part.kind == PartKind::Load ? std::string("+") : part.to.substr(part.to.size() - 1));
        }
        QNEAR(loop_ohm, *plannedSupply(job).rails.front().cable.loopOhm(), 1e-9);
        QVERIFY(loop_ohm > 0);

        const Job inrush = demo("fog-signal-amplifier");
        const Connections limiter = limiterConnections(inrush, plannedLimiter(inrush));
        drawnAsListed(limiter);
        QCOMPARE(limiter.parts.size(), 2U);
        QCOMPARE(limiter.parts[0].value.value(), plannedLimiter(inrush)->result.r_ohm);
        QVERIFY(limiter.parts[0].from == limiter.parts[1].from && limiter.parts[0].to == limiter.parts[1].to);
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

    /// Every connection of the primaries, walked from the live feed to the neutral one along what is drawn:
    /// each string's rated volts come together, every winding the same way round.
    void primaryStrings_data()
    {
        QTest::addColumn<QByteArray>("file");
        QTest::newRow("two primaries") << QByteArray("data/jobs/chart-recorder.offshoot");
        QTest::newRow("tapped") << QByteArray("tests/jobs/other-mains.offshoot");
    }
    void primaryStrings()
    {
        QFETCH(QByteArray, file);
        Job job = readJob(test::sourceFile(file.constData()));
        const WindingsView view = windingsView(job);
        QVERIFY(view.result && !view.result->connections.empty());
        for (const Connection& connection : view.result->connections) {
            std::map<std::string, double> volts_of; // from lead to lead, as the windings are rated
            for (const auto& string : connection.strings)
                for (const Segment& segment : string)
                    volts_of[segment.from + ">" + segment.to] = segment.v_v;
            const Connections c = primaryConnections(connectionPlan(connection));
            drawnAsListed(c);
            std::size_t walked = 0;
            std::ptrdiff_t strings = 0;
            for (const ConnectedPart& feed : c.parts) {
                if (feed.kind != PartKind::Wire || feed.from != "mains live")
                    continue;
                ++strings;
                std::string at = feed.to;
                double sum_v = 0;
                for (bool on = true; on;) {
                    on = false;
                    for (const ConnectedPart& part : c.parts) {
                        if (part.kind == PartKind::Winding && part.from == at) {
                            sum_v += volts_of.at(part.from + ">" + part.to);
                            ++walked;
                        }
                        if ((part.kind == PartKind::Winding || part.kind == PartKind::Link) &&
                            part.from == at) {
                            at = part.to;
                            on = true;
                            break;
                        }
                    }
                }
                QNEAR(sum_v, connection.v_rated_v);
                QVERIFY(std::ranges::any_of(c.parts, [&](const ConnectedPart& part) {
                    return part.from == "mains neutral" && part.to == at;
                }));
            }
            QCOMPARE(strings, std::ssize(connection.strings));
            QCOMPARE(walked, volts_of.size());
        }
    }

    /// Side by side: from each positive to the bus stands just the ballast of the calculation, behind it the
    /// diode with its anode to the unit; every negative goes to the return.
    void bus()
    {
        for (const bool diode : {false, true}) {
            Job job = demo("hatch-heater");
            job.plan.join->ballast = Network(0.1);
            job.plan.join->diode.reset();
            if (diode)
                job.plan.join->diode = OringDiode{.v_f_v = 0.5};
            const Evaluation e = evaluated(job);
            const auto all = plannedConnections(job, e);
            const auto c = std::ranges::find(all, "bus", &Connections::name);
            QVERIFY(c != all.end());
            drawnAsListed(*c);
            const auto to = [&](PartKind kind, const std::string& from) {
                const auto part = std::ranges::find_if(
                    c->parts, [&](const ConnectedPart& p) { return p.kind == kind && p.from == from; });
                return part == c->parts.end() ? std::string() : part->to;
            };
            for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
                const std::string plus = unitName(job, unit) + " +";
                const std::string behind = to(PartKind::Resistor, plus);
                QNEAR(c->ohmBetween(plus, behind), 0.1, 1e-6);
                QCOMPARE(diode ? to(PartKind::Diode, behind) : behind, c->top);
                QCOMPARE(to(PartKind::Wire, unitName(job, unit) + " −"), c->bottom);
            }
        }
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

REGISTER_TEST(TestConnections, void)
#include "tst_connections.moc"
