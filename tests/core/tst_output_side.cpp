// The output side beyond one rail: trimming, loads, rewinding, limits and hiccup against plain references,
// and the consequences of every topology against figures worked by hand.
#include "core/evaluate/batch_view.h"
#include "core/evaluate/evaluation.h"
#include "core/evaluate/hiccup_view.h"
#include "core/kinds/current_limit/current_limit_view.h"
#include "core/kinds/dummy_load/dummy_load_view.h"
#include "core/kinds/rewind/rewind_view.h"
#include "core/kinds/trim/trim_view.h"
#include "support/support.h"

#include <algorithm>
#include <random>

using namespace offshoot;

namespace {

const ConsequenceRow* rowOf(const ConsequencesResult& result, RowId id, const std::string& rail = {})
{
    const auto row = std::ranges::find_if(
        result.rows, [&](const ConsequenceRow& r) { return r.id == id && (rail.empty() || r.rail == rail); });
    return row == result.rows.end() ? nullptr : &*row;
}

/// One rail at `v` with everything read that a topology may ask for.
ConsequencesInput inputOf(Topology topology, double found_v, double planned_v)
{
    ConsequencesInput in{.supply = {}, .mains = {.v_v = 230, .spread = 0.1}, .plan = {}};
    Supply& s = in.supply;
    s.topology = topology;
    s.efficiency = 0.9;
    s.converter = {.v_rated_v = 800.0, .spike_v = 50.0, .clamp_v = 250.0, .duty_max = 0.8};
    s.direct = {.min_v = 20.0, .mean_v = 24.0, .max_v = 28.0};
    s.regulator = {.drop_v = 2.0,
                   .headroom_v = 3.0,
                   .i_peak_a = 6.0,
                   .ripple_a = 1.0,
                   .theta_k_per_w = 3.0,
                   .t_j_max_k = 398.15};
    s.transformer.primary_turns_per_secondary = 8;
    Rail& rail = s.rails.front();
    rail.name = "out";
    rail.v_v = found_v;
    rail.i_rated_a = 2;
    rail.rectifier = {.kind = RectifierKind::Schottky, .v_f_v = 0.5, .v_rrm_v = 200.0, .i_rated_a = 3.0};
    rail.choke_rated_a = 4;
    rail.winding.i_rated_a = 2.5;
    rail.trim_min_v = 10;
    rail.trim_max_v = 14;
    in.plan.emplace_back("out", RailPlan{.v_v = planned_v, .i_a = 1.5});
    return in;
}

constexpr double crest_high_v = 253 * 1.4142135623730951;
constexpr double trough_low_v = 0.85 * 207 * 1.4142135623730951;

} // namespace

class TestOutputSide : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void topologies_data()
    {
        QTest::addColumn<int>("topology");
        QTest::addColumn<int>("row");
        QTest::addColumn<double>("planned"); // NaN: not compared
        QTest::addColumn<double>("limit");
        constexpr double any = std::numeric_limits<double>::quiet_NaN();
        const auto add = [](const char* name, Topology topology, RowId row, double planned, double limit) {
            QTest::newRow(name) << static_cast<int>(topology) << static_cast<int>(row) << planned << limit;
        };
        add("forward reach", Topology::Forward, RowId::OutputReach, 12, 0.8 * trough_low_v / 8 - 0.5);
        add("half bridge reach", Topology::HalfBridge, RowId::OutputReach, 12,
            0.8 * trough_low_v / 2 / 8 - 0.5);
        add("full bridge reach", Topology::FullBridge, RowId::OutputReach, 12, 0.8 * trough_low_v / 8 - 0.5);
        add("forward reverse", Topology::Forward, RowId::RectifierReverse, crest_high_v / 8, 200);
        add("half bridge reverse", Topology::HalfBridge, RowId::RectifierReverse, crest_high_v / 2 / 8, 200);
        add("flyback reverse", Topology::Flyback, RowId::RectifierReverse, 12 + crest_high_v / 8, 200);
        add("buck-derived current by its plate", Topology::FullBridge, RowId::OutputCurrent, 1.5, 2);
        add("flyback current by its power", Topology::Flyback, RowId::OutputCurrent, 1.5, 2 * 10.5 / 12.5);
        add("sealed current by its power", Topology::SealedModule, RowId::OutputCurrent, 1.5, 2 * 10.0 / 12);
        add("buck reach", Topology::Buck, RowId::OutputReach, 12, 20 * 0.8 - 2);
        add("buck headroom", Topology::Buck, RowId::InputHeadroom, 15, 20);
        add("buck diode", Topology::Buck, RowId::RectifierReverse, 28, 200);
        add("boost floor", Topology::Boost, RowId::BoostFloor, 12, 28);
        add("boost peak", Topology::Boost, RowId::SwitchPeakCurrent, 12 * 1.5 / (0.9 * 20) + 0.5, 6);
        add("boost diode", Topology::Boost, RowId::RectifierReverse, 12, 200);
        add("linear dropout", Topology::Linear, RowId::Dropout, 8, 2);
        add("linear junction", Topology::Linear, RowId::JunctionTemperature, 313.15 + 12 * 1.5 * 3, 398.15);
        add("series pass junction", Topology::SeriesPass, RowId::JunctionTemperature, 313.15 + 12 * 1.5 * 3,
            398.15);
        add("sealed trim range", Topology::SealedModule, RowId::TrimRange, 12, 14);
        add("choke", Topology::Forward, RowId::ChokeCurrent, any, 4);
    }
    void topologies()
    {
        QFETCH(int, topology);
        QFETCH(int, row);
        QFETCH(double, planned);
        QFETCH(double, limit);
        const auto result = consequences(inputOf(static_cast<Topology>(topology), 10, 12));
        const ConsequenceRow* found = rowOf(result, static_cast<RowId>(row));
        QVERIFY(found != nullptr);
        if (std::isfinite(planned))
            QNEAR(*found->planned, planned);
        QNEAR(*found->limit, limit);
        QVERIFY(!found->formula.empty() && !found->working.empty());
    }

    /// What breaks, where it must: a boost below its input, a regulator out of headroom, a module off its
    /// range.
    void topologiesBreak_data()
    {
        QTest::addColumn<int>("topology");
        QTest::addColumn<int>("row");
        QTest::addColumn<double>("v");
        QTest::addColumn<int>("verdict");
        const auto add = [](const char* name, Topology topology, RowId row, double v, Verdict verdict) {
            QTest::newRow(name) << static_cast<int>(topology) << static_cast<int>(row) << v
                                << static_cast<int>(verdict);
        };
        add("boost above its input", Topology::Boost, RowId::BoostFloor, 28, Verdict::Fits);
        add("boost below its input", Topology::Boost, RowId::BoostFloor, 27, Verdict::Breaks);
        add("linear with room", Topology::Linear, RowId::Dropout, 15, Verdict::Fits);
        add("linear without", Topology::Linear, RowId::Dropout, 18.5, Verdict::Breaks);
        add("linear above its input", Topology::Linear, RowId::Dropout, 21, Verdict::Breaks);
        add("buck without headroom", Topology::Buck, RowId::InputHeadroom, 18, Verdict::Breaks);
        add("module at its end", Topology::SealedModule, RowId::TrimRange, 14, Verdict::Fits);
        add("module beyond", Topology::SealedModule, RowId::TrimRange, 14.1, Verdict::Breaks);
        add("module below", Topology::SealedModule, RowId::TrimRange, 9.9, Verdict::Breaks);
        add("half bridge out of reach", Topology::HalfBridge, RowId::OutputReach, 13, Verdict::Breaks);
    }
    void topologiesBreak()
    {
        QFETCH(int, topology);
        QFETCH(int, row);
        QFETCH(double, v);
        QFETCH(int, verdict);
        const auto result = consequences(inputOf(static_cast<Topology>(topology), 12, v));
        QCOMPARE(static_cast<int>(rowOf(result, static_cast<RowId>(row))->verdict), verdict);
    }

    /// Every station of every topology has a row or a reason; no empty supply gets a verdict out of nothing.
    void stationsOfTopologies()
    {
        for (std::size_t t = 0; t < Words<Topology>::list.size(); ++t) {
            Job job;
            job.found.topology = static_cast<Topology>(t);
            job.need.target = Target{12, 11, 13};
            job.need.current_a = 1;
            const Evaluation e = evaluate(job, 0);
            for (const StationView& view : e.stations)
                QVERIFY2(view.has_rows || !view.reason.empty(),
                         (std::string(Words<Topology>::list[t]) + " " + view.name).c_str());
            for (const ConsequenceRow& row : e.consequences.rows)
                if (!row.planned || !row.limit)
                    QVERIFY2(row.verdict == Verdict::Unknown, word(row.id).data());
        }
    }

    /// A rail on the loop of the changed one moves with its winding, in every row of its own; others stay.
    void coupledRails()
    {
        ConsequencesInput in = inputOf(Topology::Flyback, 5, 5.5);
        Rail other = in.supply.rails.front();
        other.name = "12V";
        other.v_v = 12;
        other.regulated_by = "out";
        other.capacitor.v_rated_v = 16;
        other.users = {{.name = "fan", .typical_a = 0.2, .max_v = 13.0}, {.name = "lamp", .max_v = 14.0}};
        in.supply.rails.push_back(other);
        other.name = "own";
        other.regulated_by.reset();
        in.supply.rails.push_back(other);
        const auto result = consequences(in);
        QNEAR(*rowOf(result, RowId::OutputCapacitorVoltage, "12V")->planned, 12.5 * 6 / 5.5 - 0.5);
        QNEAR(*rowOf(result, RowId::OutputCapacitorVoltage, "12V")->found, 12);
        QVERIFY(rowOf(result, RowId::OutputCapacitorVoltage, "own") == nullptr);
        std::map<std::string, Verdict> users;
        for (const ConsequenceRow& row : result.rows)
            if (row.id == RowId::UserVoltage)
                users[row.part] = row.verdict;
        QCOMPARE(users.size(), 2u);
        QCOMPARE(users["fan"], Verdict::Breaks);
        QCOMPARE(users["lamp"], Verdict::Fits);
    }

    /// Names of rails and whom they follow are checked where they stand.
    void badRails_data()
    {
        QTest::addColumn<QByteArray>("rails");
        QTest::addColumn<QByteArray>("path");
        QTest::newRow("same name") << QByteArray(R"([{"name":"a"},{"name":"a"}])")
                                   << QByteArray("/supply/rails/1/name");
        QTest::newRow("follows nobody") << QByteArray(R"([{"name":"a"},{"name":"b","regulated_by":"c"}])")
                                        << QByteArray("/supply/rails/1/regulated_by");
        QTest::newRow("follows itself") << QByteArray(R"([{"name":"a","regulated_by":"a"}])")
                                        << QByteArray("/supply/rails/0/regulated_by");
        QTest::newRow("follows a follower")
            << QByteArray(R"([{"name":"a"},{"name":"b","regulated_by":"a"},{"name":"c","regulated_by":"b"}])")
            << QByteArray("/supply/rails/2/regulated_by");
    }
    void badRails()
    {
        QFETCH(QByteArray, rails);
        QFETCH(QByteArray, path);
        const std::string text = R"({"supply":{"rails":)" + rails.toStdString() + R"(},"plan":{}})";
        try {
            readJson<ConsequencesInput>(parseJson(text));
            QFAIL("was read");
        } catch (const DocumentError& error) {
            QCOMPARE(error.path(), path.toStdString());
            QCOMPARE(error.code(), ErrorCode::Inconsistent);
        }
    }

    /// The best setting is never beaten on a fine grid, and feasible means what it says.
    void trimAgainstGrid()
    {
        std::mt19937 random(7);
        std::uniform_real_distribution<double> share(0.9, 1.1);
        for (int round = 0; round < 300; ++round) {
            TrimInput in{.rails = {}, .travel = {}};
            const int count = 1 + round % 4;
            for (int i = 0; i < count; ++i) {
                const double nominal = (i % 2 == 0 ? 1 : -1) * (5.0 + 4 * i);
                const double half = std::abs(nominal) * 0.05;
                in.rails.push_back({.name = "r" + std::to_string(i),
                                    .v = nominal * share(random),
                                    .min_v = nominal - half,
                                    .max_v = nominal + half,
                                    .weight = 1.0 + i});
            }
            if (round % 3 == 0)
                in.travel = ScaleRange{0.97, 1.03};
            const TrimResult result = railsTrim(in);
            const auto cost = [&](double s) {
                double worst = 0;
                for (const TrimRail& r : in.rails)
                    worst = std::max(worst, r.weight * std::abs(s * r.v - (r.min_v + r.max_v) / 2) /
                                                ((r.max_v - r.min_v) / 2));
                return worst;
            };
            const auto allowed = [&](double s) {
                return (!in.travel || within(s, in.travel->min_scale, in.travel->max_scale)) &&
                       std::ranges::all_of(
                           in.rails, [s](const TrimRail& r) { return within(s * r.v, r.min_v, r.max_v); });
            };
            bool any = false;
            for (int step = 8000; step < 12500; ++step) {
                const double s = step * 1e-4;
                any = any || allowed(s);
                const bool counts = result.feasible
                                        ? allowed(s)
                                        : !in.travel || within(s, in.travel->min_scale, in.travel->max_scale);
                if (counts)
                    QVERIFY(cost(*result.best_scale) <= cost(s) + 1e-9);
            }
            QVERIFY(!any || result.feasible);
            QVERIFY(!result.feasible || allowed(result.interval->min_scale));
        }
    }

    /// Readings made from a line give that line back; a unit that hunts is never called steady below.
    void fitFindsTheLine()
    {
        std::mt19937 random(11);
        std::uniform_real_distribution<double> spread(0, 1);
        for (int round = 0; round < 200; ++round) {
            const double v0_v = 5 + 20 * spread(random);
            const double r_ohm = 2 * spread(random);
            MinimumLoadInput in{.readings = {}, .window = {v0_v - 1.5, v0_v - 0.5}};
            for (int i = 0; i < 5; ++i) {
                const double a = 0.05 + 0.4 * i;
                in.readings.push_back({a, v0_v - r_ohm * a});
            }
            in.readings.push_back({0.01, v0_v * 1.2, true});
            const MinimumLoadResult fit = minimumLoadFit(in);
            QNEAR(*fit.v0_v, v0_v, 1e-9);
            QNEAR(*fit.r_ohm, r_ohm, 1e-9, 1e-12);
            QNEAR(*fit.steady_from_a, 0.05);
            if (fit.least_current_a) {
                QVERIFY(*fit.least_current_a >= 0.05);
                QVERIFY(within(v0_v - r_ohm * *fit.least_current_a, in.window.min_v, in.window.max_v));
            }
        }
    }

    /// The search misses no better shunt than every combination of two.
    void shuntSearchIsExhaustive()
    {
        std::mt19937 random(3);
        std::uniform_real_distribution<double> ohm(0.01, 1);
        for (int round = 0; round < 40; ++round) {
            std::vector<StockItem> stock(12, {.ohm = 1, .tolerance = 0.01, .power_w = 2.0});
            for (StockItem& item : stock)
                item.ohm = ohm(random);
            LimitInput in{.threshold = {.v_v = 0.2, .tolerance = 0.05}};
            in.search = ShuntSearch{.min_a = 1, .a = 2, .max_a = 4, .stock = stock};
            const auto options = *limitShunt(in).options;
            double best = 1e9;
            for (std::size_t i = 0; i < stock.size(); ++i) {
                best = std::min(best, std::abs(0.2 / stock[i].ohm - 2));
                for (std::size_t j = i; j < stock.size(); ++j)
                    for (double r : {stock[i].ohm + stock[j].ohm, parallelOhm(stock[i].ohm, stock[j].ohm)})
                        best = std::min(best, std::abs(0.2 / r - 2));
            }
            const auto found = std::ranges::min_element(
                options, {}, [](const ShuntOption& o) { return std::abs(o.error_a); });
            QNEAR(std::abs(found->error_a), best, 1e-6, 1e-9);
        }
    }

    void hiccup_data()
    {
        QTest::addColumn<QByteArray>("input");
        QTest::addColumn<QByteArray>("likely"); // causes, in order
        QTest::newRow("nothing known") << QByteArray("{}") << QByteArray("");
        QTest::newRow("starves") << QByteArray(
                                        R"({"v_cc_v":8.5,"off_v":9,"stops_lamp_out":false,"lamp_in":true,
            "stops_unloaded":false,"reaches_output":true,"stops_with_load":false})")
                                 << QByteArray("starvation");
        QTest::newRow("overload")
            << QByteArray(R"({"load_a":3,"allowed_a":2,"stops_unloaded":true,"lamp_in":false})")
            << QByteArray("overload");
        QTest::newRow("short") << QByteArray(
                                      R"({"output_ohm":0.2,"stops_unloaded":false,"reaches_output":false})")
                               << QByteArray("short");
        QTest::newRow("lamp") << QByteArray(R"({"lamp_in":true,"stops_lamp_out":true,"lamp_use":1.4})")
                              << QByteArray("lamp_too_small");
        QTest::newRow("no load") << QByteArray(R"({"load_a":0,"least_load_a":0.2,"stops_with_load":true})")
                                 << QByteArray("missing_minimum_load");
        QTest::newRow("lamp or load") << QByteArray(R"({"lamp_use":1.2,"load_a":3,"allowed_a":2})")
                                      << QByteArray("overload lamp_too_small");
    }
    void hiccup()
    {
        QFETCH(QByteArray, input);
        QFETCH(QByteArray, likely);
        const HiccupResult result = explainHiccup(readJson<HiccupInput>(parseJson(input.toStdString())));
        QCOMPARE(result.causes.size(), 5u);
        std::string names;
        for (const HiccupExplanation& e : result.causes) {
            QVERIFY(!e.next.empty());
            if (e.likelihood == Likelihood::Likely)
                names += (names.empty() ? "" : " ") + std::string(word(e.cause));
        }
        QCOMPARE(names, likely.toStdString());
    }

    /// Several changes in one plan: one procedure, no step twice, the deepest first; taking one away keeps
    /// the fingerprints of the others.
    void changesCombine()
    {
        Job job = test::demoJob();
        job.found.rails.front().winding.turns = 12;
        job.plan.rewind = RewindPlan{.rail = "24V", .turns = 14};
        job.plan.dummy_load = DummyLoadPlan{.rail = "24V", .network = Network(470)};
        job.plan.shunt = ShuntPlan{.network = Network(0.1)};
        job.plan.trim = TrimPlan{.trimmer = "VR1", .scale = 1.01};
        const auto steps = [](const Job& j) {
            std::map<std::string, std::pair<std::size_t, std::string>> all;
            const Evaluation e = evaluate(j, 2e9);
            for (std::size_t i = 0; i < e.steps.size(); ++i)
                all[e.steps[i].step.id] = {i, e.steps[i].step.fingerprint()};
            return std::pair(all, e.steps.size());
        };
        const auto [all, count] = steps(job);
        QCOMPARE(all.size(), count);
        const std::vector<std::string> order{"change.prove",      "change.rewind", "change.shunt",
                                             "change.dummy_load", "change.fit",    "change.second_look",
                                             "bringup.trim",      "bringup.full"};
        for (std::size_t i = 1; i < order.size(); ++i)
            QVERIFY2(all.at(order[i - 1]).first < all.at(order[i]).first, order[i].c_str());
        job.plan.dummy_load.reset();
        const auto [fewer, fewer_count] = steps(job);
        QCOMPARE(fewer_count, count - 1);
        for (const auto& [id, step] : fewer)
            if (id != "bringup.ripple" && id != "change.second_look") // both look at the dummy load
                QVERIFY2(step.second == all.at(id).second,
                         (id + ":\n" + step.second + "\n" + all.at(id).second).c_str());
    }

    /// Readings of other units stand side by side and never count for the first one's steps or its isolation.
    void batch()
    {
        Job job = test::demoJob();
        const Evaluation before = evaluate(job, job.log.back().time_s + 60);
        LogEntry other{.id = nextLogId(job), .time_s = job.log.back().time_s + 1, .kind = LogKind::Reading};
        other.point = "24V";
        other.quantity = Quantity::Voltage;
        other.value = 27.1;
        other.uncertainty = 0.03;
        other.unit = "2";
        other.stage = ReadingStage::Measured;
        other.isolation = Isolation::Live;
        other.step = "bringup.no_load";
        job.log.push_back(other);
        const Evaluation after = evaluate(job, job.log.back().time_s + 60);
        const BatchView view = batchView(job, after);
        QCOMPARE(view.units, (std::vector<std::string>{"1", "2"}));
        const auto row =
            std::ranges::find_if(view.rows, [](const BatchRow& r) { return r.point == "24V" && r.spread; });
        QVERIFY(row != view.rows.end());
        QCOMPARE(row->verdicts[1], Verdict::Breaks);
        for (std::size_t i = 0; i < after.steps.size(); ++i)
            QCOMPARE(after.steps[i].status, before.steps[i].status);
        QVERIFY(!after.diagnosis.has_value());
    }

    /// Every demo job says something in each workspace, and nothing where it must not.
    void workspacesOfDemos()
    {
        const auto job = [](const char* name) {
            return readJob(test::sourceFile((std::string("data/jobs/") + name + ".offshoot").c_str()));
        };
        const Job ferry = job("ferry-shed-display");
        const MinimumLoadView load = minimumLoadView(ferry, evaluate(ferry, 2e9), ferry.found.rails[1]);
        QCOMPARE(load.fit->hunting, 1);
        QVERIFY(*load.fit->least_current_a > 0.2 && *load.fit->least_current_a < 0.4);
        QVERIFY(!load.options.empty() && load.options.front().verdict == Verdict::Fits);
        const Job rain = job("rain-gauge-logger");
        const HiccupView why = hiccupView(rain);
        QCOMPARE(why.result.causes.front().cause, HiccupCause::Starvation);
        QCOMPARE(why.result.causes.front().likelihood, Likelihood::Likely);
        const RewindView turns = rewindView(rain, evaluate(rain, 2e9), rain.found.rails.front());
        QCOMPARE(turns.result->best_turns, 10);
        const ConsequenceRow* fed = rowOf(evaluate(rain, 2e9).consequences, RowId::AuxiliaryLow);
        QVERIFY(fed != nullptr && fed->verdict != Verdict::Breaks);
        const Job bench = job("splicing-bench");
        const TrimView trim = trimView(bench, 0);
        QVERIFY(trim.result && trim.result->feasible && !trim.result->now_in_windows);
        QVERIFY(within(bench.plan.trim->scale, trim.result->interval->min_scale,
                       trim.result->interval->max_scale));
        const LimitView limit = limitView(bench, evaluate(bench, 2e9));
        QVERIFY(limit.result && limit.result->load_verdict && !limit.result->options->empty());
    }
};

REGISTER_TEST(TestOutputSide, void)
#include "tst_output_side.moc"
