// The model of supplies with several rails: what can hold charge in each topology, what a plan makes of the
// supply, which rails move, and the drawer's banks and turns against what must hold for any of them.
#include "core/calculate/rewind.h"
#include "core/evaluate/evaluation.h"
#include "core/kinds/dummy_load/dummy_load_view.h"
#include "core/kinds/planned.h"
#include "core/supply/conductor.h"
#include "support/support.h"

#include <algorithm>
#include <random>

using namespace offshoot;

namespace {

/// A job around one topology with as much entered as the flags say.
Job jobOf(Topology topology, std::optional<double> bulk_f, std::optional<double> input_v)
{
    Job job;
    job.found.topology = topology;
    job.found.bulk.c_f = bulk_f;
    job.found.direct.max_v = input_v;
    job.found.rails.front().v_v = 5;
    job.found.rails.front().capacitor.c_f = 100e-6;
    return job;
}

/// Three rails: the first with its loop, one that follows it, one on its own.
Job threeRails()
{
    Job job = test::demoJob();
    job.log.clear();
    Rail follower = job.found.rails.front();
    follower.name = "12V";
    follower.v_v = 12;
    follower.regulated_by = "24V";
    follower.feedback = {};
    follower.winding.turns = 6;
    Rail own = follower;
    own.name = "5V";
    own.v_v = 5;
    own.regulated_by.reset();
    job.found.rails.push_back(follower);
    job.found.rails.push_back(own);
    return job;
}

LogEntry reading(const Job& job, const std::string& rail, double v, double load_a)
{
    LogEntry entry{.id = nextLogId(job),
                   .time_s = 1.8e9 + static_cast<double>(job.log.size()),
                   .kind = LogKind::Reading};
    entry.point = rail;
    entry.quantity = Quantity::Voltage;
    entry.value = v;
    entry.uncertainty = 0.01;
    entry.load = ReadingLoad{load_a, Quantity::Current};
    entry.stage = ReadingStage::Found;
    entry.isolation = Isolation::Live;
    return entry;
}

} // namespace

class TestSupplies : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// A cable goes there and back, its conductors beside each other; what was measured comes first.
    void cables()
    {
        Cable cable{.length_m = 3, .area_m2 = 0.75e-6, .conductors = 2, .contact_ohm = 0.01};
        cable.temperature_k = 293.15;
        QNEAR(*cable.loopOhm(), conductorOhm(6, 1.5e-6, 293.15) + 0.01, 1e-12);
        cable.length_m.reset();
        QVERIFY(!cable.loopOhm());
        cable.r_loop_ohm = 0.04;
        QCOMPARE(cable.loopOhm(), std::optional(0.04));
        Joint joint;
        QVERIFY(!joint.leadOhm());
        joint.lead_length_m = 0.5;
        joint.lead_area_m2 = 1e-6;
        QNEAR(*joint.leadOhm(), conductorOhm(1, 1e-6, 293.15), 1e-12);
    }

    /// Sections put in and taken out: loads at taps stay on the section they were on, or go with it; a
    /// doubler takes the first capacitor for its pair and gives it back.
    void chainsEdited()
    {
        std::mt19937 random(21);
        for (int i = 0; i < 300; ++i) {
            RectifierChain chain;
            const std::size_t count = 2 + random() % 4;
            for (std::size_t k = 0; k < count; ++k)
                chain.filter.push_back({.kind = SmoothingKind::C, .c_f = 1e-6 * static_cast<double>(k + 1)});
            for (std::size_t k = 0; k < count; ++k)
                chain.tap_loads.push_back(
                    {.section = static_cast<std::int64_t>(k), .load = {.current_a = 0.1}});
            const auto at = [&](const TapLoad& tap) {
                return chain.filter[static_cast<std::size_t>(tap.section)].c_f;
            };
            const auto seen = [&] {
                std::vector<std::optional<double>> capacitors;
                for (const TapLoad& tap : chain.tap_loads)
                    capacitors.push_back(at(tap));
                return capacitors;
            };
            auto expected = seen();
            const std::size_t place = random() % count;
            if (random() % 2 == 0) {
                chain.insertSection(place, {.kind = SmoothingKind::C, .c_f = 1});
                QCOMPARE(chain.filter.size(), count + 1);
            } else {
                std::erase(expected, std::optional(chain.filter[place].c_f));
                chain.eraseSection(place);
                QCOMPARE(chain.filter.size(), count - 1);
            }
            QVERIFY(seen() == expected);
            const RectifierChain before = chain;
            const std::size_t others =
                seen().size() -
                static_cast<std::size_t>(std::ranges::count(chain.tap_loads, 0, &TapLoad::section));
            chain.setKind(SimRectifier::Doubler);
            QVERIFY(chain.rectifier.upper && chain.rectifier.lower);
            QCOMPARE(chain.rectifier.upper->c_f, before.filter.front().c_f);
            QCOMPARE(chain.filter.size(), before.filter.size() - 1);
            QCOMPARE(chain.tap_loads.size(), others);
            chain.setKind(before.rectifier.kind);
            QVERIFY(!chain.rectifier.upper && !chain.rectifier.lower);
            QVERIFY(chain.filter == before.filter);
        }
    }

    /// A divider is known when all three of its figures are.
    void dividersKnown()
    {
        const Feedback whole = test::demoJob().found.rails.front().feedback;
        QVERIFY(whole.divider());
        for (int missing = 0; missing < 3; ++missing) {
            Feedback part = whole;
            if (missing == 0)
                part.reference.reset();
            else
                (missing == 1 ? part.top : part.bottom).reset();
            QVERIFY(!part.divider());
        }
    }

    void reservoirs_data()
    {
        QTest::addColumn<int>("topology");
        QTest::addColumn<double>("bulk_f");  // 0: not entered
        QTest::addColumn<double>("input_v"); // 0: not entered
        QTest::addColumn<QByteArray>("source");
        QTest::addColumn<double>("bulk_v"); // 0: no reservoir there
        QTest::addColumn<bool>("missing");
        const auto add = [](const char* name, Topology t, double bulk_f, double input_v, const char* source,
                            double bulk_v, bool missing) {
            QTest::newRow(name) << static_cast<int>(t) << bulk_f << input_v << QByteArray(source) << bulk_v
                                << missing;
        };
        const double crest_v = 253 * std::sqrt(2.0);
        add("flyback", Topology::Flyback, 100e-6, 0, "mains", crest_v, false);
        add("flyback, bulk not entered", Topology::Flyback, 0, 0, "mains", 0, true);
        add("half bridge", Topology::HalfBridge, 100e-6, 0, "mains", crest_v, false);
        // Its output is all that can be proven, and it can be.
        add("sealed module, nothing entered", Topology::SealedModule, 0, 0, "mains", 0, false);
        add("linear behind a transformer", Topology::Linear, 1e-3, 22, "mains", 22, false);
        add("linear, voltage not entered", Topology::Linear, 1e-3, 0, "mains", 0, true);
        add("linear, capacitor not entered", Topology::SeriesPass, 0, 22, "mains", 0, true);
        add("buck on an adapter", Topology::Buck, 1e-3, 24, "input", 24, false);
        add("buck, capacitor not entered", Topology::Buck, 0, 24, "input", 0, true);
        add("boost on a low input", Topology::Boost, 0, 5, "input", 0, false);
        add("boost, nothing entered", Topology::Boost, 0, 0, "input", 0, true);
    }
    void reservoirs()
    {
        QFETCH(int, topology);
        QFETCH(double, bulk_f);
        QFETCH(double, input_v);
        QFETCH(QByteArray, source);
        QFETCH(double, bulk_v);
        QFETCH(bool, missing);
        const auto given = [](double value) { return value > 0 ? std::optional(value) : std::nullopt; };
        const EnergyModel model =
            energyModel(jobOf(static_cast<Topology>(topology), given(bulk_f), given(input_v)));
        QCOMPARE(model.sources.front(), source.toStdString());
        const auto bulk = std::ranges::find(model.reservoirs, "bulk", &Reservoir::point);
        QCOMPARE(bulk != model.reservoirs.end(), bulk_v > 0);
        if (bulk_v > 0)
            QNEAR(bulk->v0_v, bulk_v);
        QCOMPARE(!model.missing.empty(), missing);
    }

    /// Whatever is unknown of what can hold charge, nothing can be proven dead.
    void unknownIsNeverDead()
    {
        for (std::size_t t = 0; t < Words<Topology>::list.size(); ++t) {
            const Job job = jobOf(static_cast<Topology>(t), std::nullopt, std::nullopt);
            std::vector<LogEntry> log;
            const auto add = [&](LogKind kind) -> LogEntry& {
                return log.emplace_back(LogEntry{.id = "L" + std::to_string(log.size()),
                                                 .time_s = 1e9 + double(log.size()),
                                                 .kind = kind});
            };
            const EnergyModel model = energyModel(job);
            for (const std::string& source : model.sources)
                add(LogKind::SourceOff).text = source;
            add(LogKind::MeterProven);
            LogEntry& low = add(LogKind::Reading);
            low.point = "bulk";
            low.quantity = Quantity::Voltage;
            low.value = 1;
            add(LogKind::MeterProven);
            const IsolationView view = isolationAt(log, model, 1e9 + 100);
            QVERIFY2(view.state != Isolation::ProvenDead, Words<Topology>::list[t].data());
        }
    }

    /// Another unit's reading proves nothing of the one on the bench.
    void anotherUnitProvesNothing()
    {
        const Job job = test::demoJob();
        const EnergyModel model = energyModel(job);
        std::vector<LogEntry> log;
        const auto state = [&](const std::optional<std::string>& unit) {
            log.clear();
            double t = 1e9;
            const auto add = [&](LogKind kind) -> LogEntry& {
                return log.emplace_back(
                    LogEntry{.id = "L" + std::to_string(log.size()), .time_s = t += 1, .kind = kind});
            };
            for (const std::string& source : model.sources)
                add(LogKind::SourceOff).text = source;
            add(LogKind::MeterProven);
            for (const Reservoir& reservoir : model.reservoirs) {
                LogEntry& low = add(LogKind::Reading);
                low.point = reservoir.point;
                low.quantity = Quantity::Voltage;
                low.value = 1;
                low.unit = unit;
            }
            add(LogKind::MeterProven);
            return isolationAt(log, model, t + 1).state;
        };
        QCOMPARE(state(std::nullopt), Isolation::ProvenDead);
        QCOMPARE(state("2"), Isolation::Unproven);
    }

    /// The plan's supply has the new parts, turns, load and shunt, and everything else as found.
    void plannedSupplies()
    {
        Job job = threeRails();
        job.found.rails.front().winding.turns = 12;
        QCOMPARE(plannedSupply(job), job.found);
        job.plan.refits = {{.row = RowId::OutputCapacitorVoltage, .rating = 50},
                           {.row = RowId::OutputCapacitorVoltage, .rating = 25, .rail = "12V"}};
        job.plan.rewind = RewindPlan{.rail = "24V", .turns = 15};
        job.plan.dummy_load =
            DummyLoadPlan{.rail = "5V", .network = *parseNetwork("2x10R"), .part_power_w = 5.0};
        job.plan.shunt = ShuntPlan{.network = Network(0.05), .tolerance = 0.05, .part_power_w = 2.0};
        const Supply planned = plannedSupply(job);
        QNEAR(*planned.rails[0].capacitor.v_rated_v, 50);
        QNEAR(*planned.rails[1].capacitor.v_rated_v, 25);
        QNEAR(*turnsRatio(planned, planned.rails[0]), 4.0 * 12 / 15);
        QNEAR(*planned.transformer.auxiliary_turns_per_secondary, 0.58 * 12 / 15);
        QNEAR(*planned.rails[2].minimum_load.r_ohm, 20);
        QNEAR(*planned.rails[2].minimum_load.power_w, 10);
        QNEAR(planned.current_limit.shunt->ohm(), 0.05);
        QCOMPARE(planned.rails[1].minimum_load, job.found.rails[1].minimum_load);
        QCOMPARE(plannedChanges(job).size(), 4u); // the divider of the demo, too
        job.plan.rewind->rail = "no such rail";
        QCOMPARE(plannedSupply(job).transformer, job.found.transformer);
    }

    void acceptances_data()
    {
        QTest::addColumn<QByteArray>("rail");
        QTest::addColumn<QByteArray>("part");
        QTest::addColumn<bool>("covers");
        QTest::newRow("any") << QByteArray() << QByteArray() << true;
        QTest::newRow("its rail") << QByteArray("12V") << QByteArray() << true;
        QTest::newRow("another rail") << QByteArray("5V") << QByteArray() << false;
        QTest::newRow("its user") << QByteArray("12V") << QByteArray("fan") << true;
        QTest::newRow("another user") << QByteArray("12V") << QByteArray("lamp") << false;
    }
    void acceptances()
    {
        QFETCH(QByteArray, rail);
        QFETCH(QByteArray, part);
        QFETCH(bool, covers);
        ConsequenceRow row{};
        row.id = RowId::UserVoltage;
        row.rail = "12V";
        row.part = "fan";
        const Acceptance acceptance{.row = RowId::UserVoltage,
                                    .reason = "it is spare",
                                    .rail = rail.toStdString(),
                                    .part = part.toStdString()};
        QCOMPARE(acceptance.covers(row), covers);
        row.id = RowId::ChokeCurrent;
        QVERIFY(!acceptance.covers(row));
    }

    /// Followers move with their winding, others stay; a dummy load moves its rail along the line.
    void railsMove()
    {
        Job job = threeRails();
        const Evaluation e = evaluate(job, 1.9e9);
        constexpr double drop_v = 0.5; // of both rectifiers
        QNEAR(*e.rails_planned_v[1],
              (12 + drop_v) * (*e.planned_v + drop_v) / (*e.found_v + drop_v) - drop_v);
        QNEAR(*e.rails_planned_v[2], 5);
        QVERIFY(e.rails[1].follows && !e.rails[2].follows);
        for (const auto& [v, a] : {std::pair{5.2, 0.1}, {5.1, 0.2}, {4.9, 0.4}})
            job.log.push_back(reading(job, "5V", v, a));
        job.plan.dummy_load = DummyLoadPlan{.rail = "5V", .network = Network(20)};
        const Evaluation loaded = evaluate(job, 1.9e9);
        QNEAR(*loaded.rails_planned_v[2], 5.3 / (1 + 1.0 / 20), 1e-9);
        const auto row = std::ranges::find_if(loaded.consequences.rows, [](const ConsequenceRow& r) {
            return r.rail == "5V" && r.id == RowId::MinimumLoadPower;
        });
        QVERIFY(row != loaded.consequences.rows.end());
        QNEAR(*row->planned, *loaded.rails_planned_v[2] * *loaded.rails_planned_v[2] / 20);
    }

    /// "hunting" speaks of the reading just before it, and of no other rail's.
    void huntingReadings()
    {
        Job job = threeRails();
        job.need.others = {{.rail = "5V", .min_v = 4.75, .max_v = 5.25}};
        job.log.push_back(reading(job, "5V", 5.9, 0));
        job.log.push_back({.id = nextLogId(job), .time_s = 1.8e9 + 0.5, .kind = LogKind::Hunting});
        job.log.push_back(reading(job, "5V", 5.2, 0.1));
        job.log.push_back(reading(job, "12V", 12, 0.1));
        job.log.push_back({.id = nextLogId(job), .time_s = 1.8e9 + 3.5, .kind = LogKind::Hunting});
        job.log.push_back(reading(job, "5V", 5.0, 0.3));
        const MinimumLoadView view = minimumLoadView(job, evaluate(job, 1.9e9), job.found.rails[2]);
        QCOMPARE(view.fit->hunting, 1);
        QCOMPARE(view.fit->steady, 2);
        QNEAR(*view.fit->steady_from_a, 0.1);
    }

    /// Banks: what they draw lies in the window, no part is asked for more often than there is, and the
    /// better verdict comes first.
    void banks()
    {
        std::mt19937 random(5);
        std::uniform_real_distribution<double> share(0.1, 1);
        for (int round = 0; round < 100; ++round) {
            DummyLoadInput in{.rail_v = 3 + 45 * share(random), .stock = {}, .max_parts = 6};
            const double a = share(random);
            in.current_a = CurrentWindow{a, a * 1.5};
            for (int i = 0; i < 15; ++i)
                in.stock.push_back({.ohm = std::pow(10, 3 * share(random)),
                                    .tolerance = 0.05,
                                    .power_w = i % 4 == 0 ? std::nullopt : std::optional(10 * share(random)),
                                    .quantity = i % 3 == 0 ? std::optional<std::int64_t>(2) : std::nullopt});
            int worst_seen = 0;
            for (const DummyLoadOption& o : dummyLoadOptions(in).options) {
                QVERIFY(within(o.current_a, in.current_a->min_a, in.current_a->max_a));
                QNEAR(o.power_each_w * static_cast<double>(o.count), o.power_w, 1e-9);
                QNEAR(o.network.ohm(), o.ohm);
                QNEAR(parseNetwork(o.network.text())->ohm(), o.ohm, 1e-9);
                const auto item = std::ranges::find(in.stock, o.part);
                QVERIFY(!item->quantity || o.count <= *item->quantity);
                const int order = o.verdict == Verdict::Fits      ? 0
                                  : o.verdict == Verdict::Tight   ? 1
                                  : o.verdict == Verdict::Unknown ? 2
                                                                  : 3;
                QVERIFY(order >= worst_seen);
                worst_seen = order;
            }
        }
    }

    /// More turns: less controller supply, less switch stress, more rectifier stress; the best is among them.
    void turns()
    {
        RewindInput in{.topology = WoundTopology::Flyback,
                       .secondary_turns = 12,
                       .found = {18, 0.5, 2.0},
                       .wanted = {12.6, {}, 1.5},
                       .aux = AuxiliaryWinding{.turns = 10, .min_v = 9, .max_v = 25},
                       .primary_turns = 60,
                       .v_in_max_v = 358,
                       .spike_v = 40,
                       .switch_v = 650,
                       .rectifier_v = 150,
                       .count = 20};
        const RewindResult result = rewindOptions(in);
        for (std::size_t i = 1; i < result.options.size(); ++i) {
            const RewindOption& less = result.options[i - 1];
            const RewindOption& more = result.options[i];
            QVERIFY(less.turns<more.turns&& * less.v_cc_v> * more.v_cc_v && *less.switch_v > *more.switch_v &&
                    *less.rectifier_reverse_v < *more.rectifier_reverse_v);
        }
        QVERIFY(std::ranges::count(result.options, result.best_turns, &RewindOption::turns) == 1);
        QVERIFY(std::ranges::count(result.options, in.secondary_turns, &RewindOption::turns) == 1);
    }

    /// Ratios come from the rail's own winding first, then from turns, then from the transformer for the
    /// first rail.
    void ratios()
    {
        Job job = threeRails();
        Supply& s = job.found;
        QNEAR(*turnsRatio(s, s.rails[0]), 4);
        QVERIFY(!turnsRatio(s, s.rails[1]));
        s.transformer.primary_turns = 48;
        QNEAR(*turnsRatio(s, s.rails[1]), 8);
        s.rails[1].winding.primary_turns_per_secondary = 7.5;
        QNEAR(*turnsRatio(s, s.rails[1]), 7.5);
        QCOMPARE(railNamed(s, "5V"), &s.rails[2]);
        QVERIFY(railNamed(s, "none") == nullptr);
        QCOMPARE(railNamed(s, ""), &s.rails[0]);
    }

    /// Unmeasured wires keep the job from being signed off, and have a step.
    void wires()
    {
        Job job = test::demoJob();
        job.found.wires = {{.name = "J1-4", .colour = "green", .function = WireFunction::Enable}};
        const auto mentions = [](const Evaluation& e) {
            return std::ranges::any_of(e.blocks, [](const std::string& b) {
                return b.find("J1-4: its function") != std::string::npos;
            });
        };
        const auto step = [](const Evaluation& e) {
            return std::ranges::any_of(e.steps, [](const StepView& v) { return v.step.id == "found.wires"; });
        };
        Evaluation e = evaluate(job, 2e9);
        QVERIFY(mentions(e) && step(e));
        job.found.wires.front().measured = true;
        e = evaluate(job, 2e9);
        QVERIFY(!mentions(e) && !step(e));
    }
};

REGISTER_TEST(TestSupplies, void)
#include "tst_supplies.moc"
