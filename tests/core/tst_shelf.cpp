// The shelf: what a plate says reads in any order and is echoed, files and CSV come back as they were
// written, and what is matched, placed and wired agrees with what a person would find by trying everything.
#include "core/calculate/fit_place.h"
#include "core/calculate/regulator_replace.h"
#include "core/calculate/units_match.h"
#include "core/calculate/wiring_map.h"
#include "core/evaluate/choose_view.h"
#include "core/supply/shelf.h"
#include "support/support.h"

#include <algorithm>
#include <random>

using namespace offshoot;

namespace {

Shelf shippedShelf() { return readShelf(test::sourceFile("data/shelves/saltmarsh-point.shelf")); }

ShelfEntry plate(const std::string& text)
{
    const auto entry = readPlateLine(text);
    if (!entry)
        qFatal("%s: %s", text.c_str(), entry.problem().message.c_str());
    return *entry;
}

} // namespace

class TestShelf : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void plates_data()
    {
        QTest::addColumn<QByteArray>("words");
        const auto row = [](const char* text, const char* words) {
            QTest::newRow(text) << QByteArray(words);
        };
        row("24V 4.2A 100-240V class 1 129x97x30 trim 21.6-28.8",
            "24 V 4.2 A: 24 V 4.2 A, trims 21.6 to 28.8 V · from 100 to 240 V AC · class I · 129 × 97 × 30 "
            "mm");
        row("class 2, 129x97x30mm 100…240V 24V 4A2",
            "24 V 4.2 A: 24 V 4.2 A · from 100 to 240 V AC · class II · 129 × 97 × 30 mm");
        row("Oyster 75: 5V 8A least 0.5A 12V 3A -12V 500mA bonded negative 75W 115/230V 47-63Hz enable low "
            "x2",
            "Oyster 75: 5 V 8 A, at least 500 mA · 12 V 3 A · −12 V 500 mA, negative bonded · from 103.5 to "
            "126.5 V "
            "at 115 or 207 to 253 V at 230 AC · 47 to 63 Hz · 75 W in all · enable: low · 2 of them");
        row("24V 4A peak 4A 100-240V", "24 V 4 A: 24 V 4 A, peak 4 A · from 100 to 240 V AC");
        row("24V 4A 100-240V screws 4mm x3",
            "24 V 4 A: 24 V 4 A · from 100 to 240 V AC · screws 4 mm into it at most · 3 of them");
        row("Sprat: 5V 1A ripple 50mV isolated dc 7-28V 2x1.4x0.6cm 350g",
            "Sprat: 5 V 1 A, ripple 50 mV, isolated · from 7 to 28 V DC · 20 × 14 × 6 mm · 0.35 kg");
    }
    void plates()
    {
        QFETCH(QByteArray, words);
        QCOMPARE(QByteArray::fromStdString(shelfWords(plate(QTest::currentDataTag()))), words);
    }

    /// What a newer version wrote is refused for that, whatever else is in it.
    void newerShelf()
    {
        const std::string newer = std::to_string(shelf_version + 1);
        try {
            (void)readShelf(R"({"version":)" + newer + R"(,"units":[],"of_tomorrow":1})");
            QFAIL("it was read");
        } catch (const DocumentError& error) {
            QVERIFY(error.code() == ErrorCode::OutOfRange && error.path() == "/version");
        }
    }

    /// Of a range of mains frequencies with one end alone nothing is said.
    void oneEndOfARange()
    {
        ShelfEntry entry = *readPlateLine("24V 4A 100-240V 47-63Hz");
        QVERIFY(shelfWords(entry).find("47 to 63 Hz") != std::string::npos);
        entry.unit.input.f_max_hz.reset();
        QVERIFY(shelfWords(entry).find("Hz") == std::string::npos);
    }

    /// What does not read is named, and where it stands.
    void refusesPlates_data()
    {
        QTest::addColumn<QByteArray>("says");
        QTest::addColumn<int>("at");
        const auto row = [](const char* text, const char* says, int at) {
            QTest::newRow(text) << QByteArray(says) << at;
        };
        row("", "what does it give", 0);
        row("24V 100-240V", "how many amperes", 12);
        row("24V 4A", "what does it run on", 6);
        row("24V 4A 100-240V colour red", "does not read", 16);
        row("4A 24V 100-240V", "Volts come first", 0);
        row("24V 4A trim 25-28 100-240V", "around the output's own voltage", 12);
        row("24V 4A peak 3.9A 100-240V", "no less than the rated", 12);
        row("ripple 50mV 24V 4A 100-240V", "of which output", 0);
        row("Möwe: 24V 4A class 3 100-240V", "class 2 has none", 19);
        row("24V 4A 240-100V", "does not read", 7);
        row("24V 4A 100-240V enable", "behind this", 16);
        row("24V 4A 100-240V 129x97", "does not read", 16);
        row("24V 4A 100-240V x0", "how many", 16);
        row("24V 4A 0/230V", "two mains voltages", 7);
        row("24V 4A 0-240V", "does not read", 7);
        row("24V 4A 100-240V xa3", "does not read", 16);
        row("24V 4A 100-240V screws deep", "how far a screw", 23);
        row("24V 4A 100-240V screws 0mm", "how far a screw", 23);
    }
    void refusesPlates()
    {
        QFETCH(QByteArray, says);
        QFETCH(int, at);
        const auto entry = readPlateLine(QTest::currentDataTag());
        QVERIFY(!entry);
        const QByteArray message = QByteArray::fromStdString(entry.problem().message);
        QVERIFY2(message.contains(says), message.constData());
        QCOMPARE(entry.problem().position, static_cast<std::size_t>(at));
    }

    /// Every shipped unit: through its file, its CSV, into a job and back it is what it was.
    void comesBack()
    {
        const Shelf shelf = shippedShelf();
        QVERIFY(shelf.units.size() >= 20);
        QCOMPARE(writeShelf(readShelf(writeShelf(shelf))), writeShelf(shelf));
        const auto read = readShelfCsv(writeShelfCsv(shelf.units));
        QVERIFY2(bool(read), read ? "" : read.problem().message.c_str());
        QCOMPARE(read->size(), shelf.units.size());
        for (std::size_t i = 0; i < read->size(); ++i) {
            ShelfEntry wanted = shelf.units[i];
            wanted.holes.clear();
            wanted.zones.clear();
            wanted.terminals.clear();
            wanted.spots.clear();
            QCOMPARE(writeJson((*read)[i]).dump(), writeJson(wanted).dump());
            const Supply supply = supplyOf(wanted);
            QCOMPARE(supply.rails.size(), wanted.unit.outputs.size());
            QCOMPARE(supply.dcFed(), wanted.unit.input.kind == InputCurrent::Dc);
            const auto back = entryOf(supply, {});
            QVERIFY(back);
            if (!supply.dcFed())
                QCOMPARE(back->unit.protection_class.value(), wanted.unit.protection_class == 1 ? 1 : 2);
            QCOMPARE(back->unit.outputs.front().bonded, wanted.unit.outputs.front().bonded);
            for (std::size_t k = 0; k < back->unit.outputs.size(); ++k) {
                QCOMPARE(back->unit.outputs[k].v, wanted.unit.outputs[k].v);
                QCOMPARE(back->unit.outputs[k].trim_min_v, wanted.unit.outputs[k].trim_min_v);
                QCOMPARE(back->unit.outputs[k].rated_a, wanted.unit.outputs[k].rated_a);
                QCOMPARE(back->unit.outputs[k].polarity, wanted.unit.outputs[k].polarity);
            }
        }
        Mains unsaid;
        unsaid.v_assumed = true;
        QVERIFY(!entryOf(supplyOf(shelf.units.front()), unsaid));
        Supply gives_nothing = supplyOf(shelf.units.front());
        gives_nothing.rails.front().i_rated_a = 0;
        QVERIFY(!entryOf(gives_nothing, {}));
    }

    /// A line that does not read is named, and nothing is taken.
    void badCsv_data()
    {
        QTest::addColumn<QByteArray>("says");
        const auto row = [](const char* text, const char* says) { QTest::newRow(text) << QByteArray(says); };
        row("", "line 1: the first line must name the columns");
        row("name,v\nA,5\n", "line 1: the first line must name the columns");
        row("name,input,v,rated_a\nA,ac 100-240,5,1\n,ac 100-240,5,1\n", "line 3: the name is missing");
        row("name,input,v,rated_a\nA,ac 100-240,5,1\nB,ac hundred,5,1\n", "line 3: input \"ac hundred\"");
        row("name,input,v,rated_a\nA,ac 100-240,5,many\n", "line 2: rated_a \"many\"");
        row("name,input,v,rated_a,trim\nA,ac 100-240,5,1,6-7\n", "line 2: ");
        row("name,input,v,rated_a,class\nA,ac 100-240,5,1,3\n", "line 2: class \"3\": 1 or 2");
        row("name,input,output,v,rated_a\nA,ac 100-240,x,5,1\nA,,x,12,1\n",
            "line 3: this name stands here already");
        row("name,input,v,rated_a,bonded\nA,ac 100-240,5,1,welded\n",
            "line 2: bonded \"welded\": none, negative");
    }
    void badCsv()
    {
        QFETCH(QByteArray, says);
        const auto read = readShelfCsv(QTest::currentDataTag());
        QVERIFY(!read);
        const QByteArray message = QByteArray::fromStdString(read.problem().message);
        QVERIFY2(message.contains(says), message.constData());
    }

    void badShelves()
    {
        const auto code = [](const std::string& text) {
            try {
                readShelf(text);
            } catch (const DocumentError& error) {
                return std::pair(error.code(), error.path());
            }
            return std::pair(ErrorCode::Unreadable, std::string("nothing"));
        };
        QCOMPARE(code(R"({"version": 2, "units": []})").second, std::string("/version"));
        const std::string unit =
            R"({"name": "A", "input": {"kind": "ac", "ranges": [{"min_v": 90, "max_v": 264}]},
                                     "outputs": [{"name": "o", "v": 5, "rated_a": 1}]})";
        QCOMPARE(code(R"({"version": 1, "units": [)" + unit + "," + unit + "]}").second,
                 std::string("/units/1/name"));
        QCOMPARE(code(R"({"version": 1, "units": [{"name": "A"}]})").second, std::string("/units/0/input"));
        // What a later version wrote stays.
        const std::string later = R"({"version": 1, "units": [], "shade": "blue"})";
        QVERIFY(writeShelf(readShelf(later)).find("shade") != std::string::npos);
    }

    /// The search against every place judged by itself; and a finer grid never finds a worse best.
    void placesAll()
    {
        std::mt19937 random(3);
        const auto pick = [&](std::initializer_list<double> from) {
            return *(from.begin() + random() % from.size());
        };
        for (int i = 0; i < 60; ++i) {
            FitPlaceInput in{
                .inside = {pick({0.1, 0.13}), pick({0.09, 0.12}), pick({0.04, 0.06})},
                .unit = {.size = {pick({0.05, 0.08}), pick({0.03, 0.06}), 0.03}, .holes = {}, .zones = {}}};
            in.step_m = 0.005;
            in.limit = 100;
            for (std::size_t k = 0; k < random() % 4; ++k)
                in.keep_out.push_back({"k" + std::to_string(k), pick({0, 0.04, 0.07}), pick({0, 0.03, 0.06}),
                                       0, 0.02, 0.02, pick({0.01, 0.05})});
            in.unit.holes = {{0.005, 0.005, 0.003}, {in.unit.size.x_m - 0.005, 0.005, 0.003}};
            in.unit.zones = {{"terminals", 0, -0.015, 0, in.unit.size.x_m, 0.015, 0.01}};
            in.plate_holes = {{0.01, 0.01, 0.003}, {0.055, 0.01, 0.0035}, {0.03, 0.04, 0.007}};
            const FitPlaceResult found = fitPlace(in);
            for (std::size_t k = 0; k < found.options.size(); ++k) {
                const Placing& option = found.options[k];
                const Placing alone = placeAt(in, option.turn, option.x_m, option.y_m);
                QCOMPARE(writeJson(alone).dump(), writeJson(option).dump());
                QVERIFY(option.slack_m >= in.clear_m - 1e-9 || option.verdict != Verdict::Fits);
                QCOMPARE(option.reused + static_cast<std::int64_t>(option.drill.size()), 2);
                if (k > 0)
                    QVERIFY(badness(option.verdict) >= badness(found.options[k - 1].verdict));
            }
            // No place that was left out comes before one that is listed.
            if (i % 4 == 0) {
                using Order = std::tuple<int, std::int64_t, bool, double>;
                const auto orderOf = [](const Placing& p) {
                    return Order(badness(p.verdict), -p.reused,
                                 std::ranges::any_of(p.drill, &DrilledHole::spoiled),
                                 -std::round(p.slack_m * 1e9));
                };
                std::vector<Order> all;
                for (const std::int64_t turn : {0, 90, 180, 270}) {
                    const bool across = turn % 180 != 0;
                    const BoxSize& size = in.unit.size;
                    const double most_x = in.inside.x_m - (across ? size.y_m : size.x_m) + 1e-9;
                    const double most_y = in.inside.y_m - (across ? size.x_m : size.y_m) + 1e-9;
                    for (int row = 0; row * in.step_m <= most_y; ++row)
                        for (int column = 0; column * in.step_m <= most_x; ++column)
                            all.push_back(orderOf(placeAt(in, turn, column * in.step_m, row * in.step_m)));
                }
                QCOMPARE(static_cast<std::int64_t>(all.size()), found.places);
                std::ranges::sort(all);
                for (std::size_t k = 0; k < found.options.size(); ++k)
                    QVERIFY(orderOf(found.options[k]) == all[k]);
            }
            // Turned by a half the case is the same case: so is the best slack.
            FitPlaceInput mirrored = in;
            mirrored.plate_holes.clear();
            mirrored.unit.holes.clear();
            const FitPlaceResult plain = fitPlace(mirrored);
            for (NamedBox& box : mirrored.keep_out) {
                box.x_m = mirrored.inside.x_m - box.x_m - box.dx_m;
                box.y_m = mirrored.inside.y_m - box.y_m - box.dy_m;
            }
            if (std::ranges::any_of(mirrored.keep_out,
                                    [](const NamedBox& b) { return b.x_m < 0 || b.y_m < 0; }))
                continue;
            const FitPlaceResult turned = fitPlace(mirrored);
            QCOMPARE(turned.places, plain.places);
            if (!plain.options.empty() &&
                std::fmod(mirrored.inside.x_m - mirrored.unit.size.x_m, 0.005) < 1e-9)
                QCOMPARE(turned.verdict, plain.verdict);
        }
    }

    /// More need never makes a unit fit better, and the order on the shelf changes no verdict.
    void matchLaws()
    {
        const Shelf shelf = shippedShelf();
        std::mt19937 random(5);
        for (int i = 0; i < 120; ++i) {
            const double v = std::array{5.0, 12.0, 24.0, 48.0}.at(random() % 4);
            const double a = 0.2 + static_cast<double>(random() % 40) / 10;
            UnitsMatchInput in{
                .need =
                    {.rails = {{.name = "out", .v = v, .min_v = v * 0.95, .max_v = v * 1.05, .current_a = a}},
                     .mains = WantedMains{.v = 230}},
                .shelf = {}};
            in.limit = 200;
            in.max_units = 1 + static_cast<std::int64_t>(random() % 2);
            for (const ShelfEntry& entry : shelf.units)
                in.shelf.push_back(entry.unit);
            const auto verdicts = [](const UnitsMatchInput& input) {
                std::map<std::string, std::pair<int, double>> seen;
                for (const UnitsOption& option : unitsMatch(input).options) {
                    std::string name;
                    for (const MatchedUnit& unit : option.units)
                        name += unit.name + '+';
                    seen[name] = {badness(option.verdict), option.worst_use};
                }
                return seen;
            };
            const auto base = verdicts(in);
            UnitsMatchInput shuffled = in;
            shuffled.max_units = 1;
            in.max_units = 1;
            std::ranges::shuffle(shuffled.shelf, random);
            QVERIFY(verdicts(shuffled) == verdicts(in));
            in.need.rails.front().current_a *= 1.5;
            for (const auto& [name, more] : verdicts(in)) {
                const auto was = base.find(name);
                QVERIFY(was != base.end());
                QVERIFY(more.first > was->second.first ||
                        (more.first == was->second.first && more.second >= was->second.second - 1e-9));
            }
        }
    }

    /// Each demo job: what is offered serves every rail of its need, and what is said of it names it.
    void chooses_data()
    {
        QTest::addColumn<bool>("serves");
        QTest::newRow("barograph-amplifier") << true;
        QTest::newRow("beacon-float-charge") << true;
        QTest::newRow("ferry-shed-display") << true;
        QTest::newRow("mast-camera") << true;
    }
    void chooses()
    {
        const Job job = readJob(
            test::sourceFile(("data/jobs/" + QByteArray(QTest::currentDataTag()) + ".offshoot").constData()));
        const ChooseView view = chooseView(job, evaluate(job, 2e9), shippedShelf().units, 2);
        QVERIFY2(view.wanted.has_value(), view.sentence.c_str());
        QVERIFY(!view.sentence.empty());
        QCOMPARE(view.school.sides.size(), 2u);
        for (const UnitsOption& option : view.options) {
            std::size_t rails = 0;
            for (const MatchedUnit& unit : option.units) {
                rails += unit.rails.size();
                const auto lines = judgedLines(unit);
                QVERIFY(!lines.empty());
                QCOMPARE(lines.front().verdict, unit.verdict);
                for (const UnitAction action : unit.actions)
                    QVERIFY(!actionText(action, unit).empty());
            }
            QCOMPARE(rails, view.wanted->rails.size());
        }
        Job silent = job;
        silent.need.target.reset();
        QVERIFY(!chooseView(silent, evaluate(silent, 2e9), shippedShelf().units, 1).wanted);
        silent = job;
        silent.need.mains.v_assumed = true;
        QCOMPARE(chooseView(silent, evaluate(silent, 2e9), shippedShelf().units, 1).wanted.has_value(),
                 silent.found.dcFed());
    }

    /// The operating point lies on the source's line and on the stage's hyperbola, and a better stage draws
    /// less.
    void regulatorLaws()
    {
        std::mt19937 random(9);
        const auto between = [&](double low, double high) {
            return std::uniform_real_distribution(low, high)(random);
        };
        int worked = 0;
        for (int i = 0; i < 400; ++i) {
            RegulatorReplaceInput in{.source = {.open_v = between(8, 40), .r_ohm = between(0, 2)},
                                     .output = {.v = between(3, 15), .current_a = between(0.1, 2)},
                                     .module = {.kind = ModuleKind::Buck, .efficiency = between(0.6, 0.95)}};
            in.others_a = between(0, 0.5);
            const RegulatorPoint at = regulatorReplace(in).after;
            if (!at.in_a || !at.source_v)
                continue;
            ++worked;
            QNEAR(*at.source_v, in.source.open_v - in.source.r_ohm * (*at.in_a + in.others_a), 1e-9);
            QNEAR(*at.source_v * *at.in_a * in.module.efficiency, in.output.v * in.output.current_a, 1e-9);
            in.module.efficiency = 0.97;
            QVERIFY(*regulatorReplace(in).after.in_a < *at.in_a);
        }
        QVERIFY(worked > 200);
    }

    /// No wire is lost, none goes where it does not belong, none that was not measured counts as good.
    void wiringLaws()
    {
        std::mt19937 random(13);
        const std::array<std::string, 7> functions{"PE", "L", "N", "+5 V", "0 V", "unknown", "sense"};
        for (int i = 0; i < 300; ++i) {
            WiringMapInput in{.wires = {}, .terminals = {}};
            for (std::size_t k = 0; k < 1 + random() % 10; ++k)
                in.wires.push_back({.name = "w" + std::to_string(k),
                                    .function = functions.at(random() % functions.size()),
                                    .measured = random() % 4 != 0,
                                    .current_a = static_cast<double>(random() % 5)});
            for (std::size_t k = 0; k < 1 + random() % 8; ++k)
                in.terminals.push_back({.name = "t" + std::to_string(k),
                                        .function = functions.at(random() % functions.size()),
                                        .rated_a = 4.0,
                                        .max_wires = 1 + static_cast<std::int64_t>(random() % 2),
                                        .must = random() % 3 == 0});
            const WiringMapResult out = wiringMap(in);
            QCOMPARE(out.connections.size() + out.left_over.size(), in.wires.size());
            std::map<std::string, std::int64_t> on;
            for (const WireConnection& c : out.connections) {
                const auto& wire = *std::ranges::find(in.wires, c.wire, &OldWire::name);
                const auto& terminal = *std::ranges::find(in.terminals, c.terminal, &NewTerminal::name);
                QVERIFY(wire.function == terminal.function && wire.function != "unknown");
                QVERIFY(++on[c.terminal] <= terminal.max_wires);
                QVERIFY(c.measured || c.verdict == Verdict::Unknown || c.verdict == Verdict::Breaks);
            }
            for (const LeftWire& left : out.left_over) {
                const auto& wire = *std::ranges::find(in.wires, left.wire, &OldWire::name);
                QVERIFY(wire.function != "PE" || out.verdict == Verdict::Breaks);
                for (const NewTerminal& terminal : in.terminals) // room that it could have had
                    QVERIFY(left.why == LeftOver::UnknownFunction || terminal.function != wire.function ||
                            on[terminal.name] == terminal.max_wires);
            }
            QVERIFY(out.missing.empty() || out.verdict == Verdict::Breaks);
        }
    }
};

REGISTER_TEST(TestShelf, void)
#include "tst_shelf.moc"
