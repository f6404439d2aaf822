// What is held beside something else: readouts beside what is true, a reading over time, the units of a batch
// beside each other, and the order in which they are worked on.
#include "core/evaluate/batch_board.h"
#include "core/evaluate/batch_view.h"
#include "core/evaluate/readout_view.h"
#include "core/evaluate/report.h"
#include "core/job/recorder.h"
#include "support/support.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <random>

using namespace offshoot;
using namespace offshoot::test;

namespace {

/// A unit of the board whose steps are these, drawn.
BoardUnit drawnUnit(std::size_t number, std::mt19937& random, std::size_t most = 11)
{
    const auto draw = [&](double largest) { return static_cast<double>(random() % 1000) / 999 * largest; };
    BoardUnit unit{.unit = number,
                   .isolation = Isolation::ProvenDead,
                   .signed_off = false,
                   .steps = {},
                   .stages = {},
                   .open = {},
                   .ready_s = draw(300)};
    bool live = false;
    constexpr std::size_t least = 3;
    const std::size_t count = least + random() % (most - least + 1);
    for (std::size_t i = 0; i < count; ++i) {
        const bool last = i + 1 == count;
        BoardStep step{.title = "s" + std::to_string(i),
                       .hands_s = draw(200),
                       .wait_s = random() % 2 == 0 ? draw(900) : 0};
        if (!live && random() % 3 == 0 && !last) {
            step.goes_live = live = true;
        } else if (live && (last || random() % 2 == 0)) {
            step.goes_dead = true;
            live = false;
        }
        unit.open.push_back(step);
    }
    return unit;
}

/// Every order of the steps tried: when the earliest is done, in seconds; each change of hands to another
/// unit counts `change_s` besides.
double soonest(const std::vector<BoardUnit>& units, bool together, double change_s)
{
    struct At
    {
        std::size_t next = 0;
        double ready_s;
        bool live;
    };
    std::vector<At> at;
    for (const BoardUnit& unit : units)
        at.push_back({.ready_s = unit.ready_s, .live = unit.isolation == Isolation::Live});
    double best_s = 1e300;
    double cost_s = 0;
    const std::function<void(double, double, std::size_t)> go = [&](double t_s, double end_s,
                                                                    std::size_t last) {
        bool done = true;
        for (std::size_t i = 0; i < units.size(); ++i) {
            if (at[i].next == units[i].open.size())
                continue;
            done = false;
            const BoardStep& step = units[i].open[at[i].next];
            if (step.goes_live && !at[i].live && !together && std::ranges::any_of(at, &At::live))
                continue;
            const At before = at[i];
            const double to_s = std::max(t_s, before.ready_s) + step.hands_s;
            at[i] = {before.next + 1, to_s + step.wait_s, (before.live || step.goes_live) && !step.goes_dead};
            // What is waited for and what changes are counted apart: the cost is their sum.
            const bool other = last != i && last < units.size();
            cost_s += other ? change_s : 0;
            go(to_s, std::max(end_s, at[i].ready_s), i);
            cost_s -= other ? change_s : 0;
            at[i] = before;
        }
        if (done)
            best_s = std::min(best_s, end_s + cost_s);
    };
    go(0, 0, units.size());
    return best_s;
}

Job batchOf(std::int64_t units)
{
    Job job = demoJob();
    job.log.clear();
    job.batch.units = units;
    return job;
}

LogEntry reading(const Job& job, const std::string& point, double value, std::size_t unit)
{
    LogEntry entry{.id = nextLogId(job), .time_s = 100, .kind = LogKind::Reading};
    entry.point = point;
    entry.quantity = Quantity::Voltage;
    entry.value = value;
    entry.unit = unitTag(unit);
    entry.stage = ReadingStage::Measured;
    return entry;
}

} // namespace

class TestBeside : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void readouts_data()
    {
        QTest::addColumn<double>("gain");
        QTest::addColumn<double>("zero");
        QTest::addColumn<QString>("says");
        QTest::newRow("right") << 1.0 << 0.0 << "is right";
        QTest::newRow("zero") << 1.0 << 0.2 << "its zero cures it";
        QTest::newRow("gain") << 1.05 << 0.0 << "its gain cures it";
        QTest::newRow("both") << 1.05 << 0.2 << "zero and gain cure it";
    }
    /// One's own meter: the screw that cures it, and an accuracy that covers every point and no more.
    void readouts()
    {
        QFETCH(double, gain);
        QFETCH(double, zero);
        QFETCH(QString, says);
        Job job;
        HeldReadout meter{.name = "mine", .own_meter = true, .claim = ReadoutClaim{0.01, 2, 0.01}};
        for (const double v : {1.0, 5.0, 12.0, 30.0})
            meter.points.push_back({.shown = zero + gain * v, .truth = v, .u = 0.002});
        job.readouts.push_back(meter);
        const auto places = readoutPlaces(job);
        QCOMPARE(places.size(), std::size_t{1});
        const ReadoutView view = readoutView(job, places.front());
        QVERIFY2(view.sentence.find(says.toStdString()) != std::string::npos, view.sentence.c_str());
        QVERIFY(view.accuracy);
        QVERIFY(std::abs(*lineError(*view.result, 20) - (zero + (gain - 1) * 20)) < 1e-6);
        bool touched = false;
        for (const CheckedPoint& p : view.result->points) {
            const double needed = std::abs(p.error) + p.u_truth + 0.005;
            const double given = view.accuracy->uncertainty(p.shown);
            QVERIFY(given >= needed * (1 - 1e-9));
            touched = touched || given <= needed * (1 + 1e-9);
        }
        QVERIFY(touched || view.accuracy->reading_fraction == 0);
        takeAccuracy(job.meter, Quantity::Voltage, *view.accuracy);
        QCOMPARE(job.meter.volts, *view.accuracy);
        QVERIFY(reportHtml(reportOf(job, evaluate(job, 0))).find("Readouts") != std::string::npos);
        QCOMPARE(readJob(writeJob(job)), job);
    }

    /// Amperes by the volts across a resistor; the doubt of a display is the bench meter's.
    void readoutThrough()
    {
        Job job;
        HeldReadout display{.name = "amps",
                            .shows = Quantity::Current,
                            .through = KnownResistance{0.1, 0.01},
                            .points = {{.shown = 2.0, .truth = 0.21}, {.shown = 1.0, .truth = 0.1}}};
        const auto in = readoutInput(display, job.meter);
        QCOMPARE(*in->points[0].across_v, 0.21);
        QNEAR(in->points[0].u_v, job.meter.volts.uncertainty(0.21));
        job.readouts.push_back(display);
        const ReadoutView view = readoutView(job, readoutPlaces(job).front());
        QNEAR(view.result->points[0].truth, 2.1);
        QVERIFY(!view.accuracy);                                                    // it is not the meter
        QCOMPARE(readoutValue(2.10345, Quantity::Current), std::string("2.103 A")); // as a display has them
        display.shows = Quantity::Voltage;
        job.readouts = {display};
        QVERIFY_THROWS_EXCEPTION(DocumentError, readJob(writeJob(job)));
    }

    void recorded_data()
    {
        QTest::addColumn<double>("tau");
        QTest::addColumn<int>("ends");
        for (const double tau : {20.0, 300.0})
            for (const RecordingEnd end : {RecordingEnd::Steady, RecordingEnd::Reached, RecordingEnd::Time})
                QTest::addRow("%g s, %s", tau, std::string(word(end)).c_str())
                    << tau << static_cast<int>(end);
    }
    /// 20 to 30 by an exponential: ended when it must be, and told beforehand when that will be.
    void recorded()
    {
        QFETCH(double, tau);
        QFETCH(int, ends);
        const auto wanted = static_cast<RecordingEnd>(ends);
        const double within = 0.05;
        const double hold = tau / 2;
        StopRules rules;
        double expected_s = 0;
        if (wanted == RecordingEnd::Steady) {
            rules.steady_within = within;
            rules.steady_for_s = hold;
            expected_s = tau * std::log(10 * (1 - std::exp(-hold / tau)) / within) + hold;
        } else if (wanted == RecordingEnd::Reached) {
            rules.above = 29;
            expected_s = tau * std::log(10.0);
        } else {
            rules.after_s = expected_s = 3 * tau;
        }
        Recorder recorder(rules);
        std::optional<RecordingEnd> ended;
        double told_s = 0;
        double t_s = 0;
        for (; !ended && t_s < 100 * tau; t_s += tau / 100) {
            ended = recorder.take(t_s, 30 - 10 * std::exp(-t_s / tau));
            if (told_s == 0 && t_s >= tau && recorder.leftS())
                told_s = t_s + *recorder.leftS();
        }
        QCOMPARE(static_cast<int>(ended.value_or(RecordingEnd::ByHand)), ends);
        QVERIFY2(std::abs(t_s - expected_s) < 0.05 * expected_s, numbers(t_s, expected_s));
        QVERIFY2(std::abs(told_s - expected_s) < 0.1 * expected_s, numbers(told_s, expected_s));
        const KeptRecording kept = recorder.kept(5, *ended);
        QCOMPARE(kept.lowest, 20.0);
        QCOMPARE(kept.values.back(), recorder.values().back());
        QVERIFY(kept.values.size() <= 400);
    }

    /// A time ends it as it comes, a bound only once it is passed; steady for as long as was said, to the
    /// dot.
    void endsOnTheDot()
    {
        Recorder time({.after_s = 60});
        QCOMPARE(time.leftS(), std::optional(60.0));
        QVERIFY(!time.take(0, 5) && !time.take(59, 5));
        QCOMPARE(time.leftS(), std::optional(1.0));
        QCOMPARE(time.take(60, 5), std::optional(RecordingEnd::Time));
        Recorder bound({.below = 3, .above = 8});
        QVERIFY(!bound.take(0, 3) && !bound.take(1, 8));
        QCOMPARE(bound.take(2, 8.01), std::optional(RecordingEnd::Reached));
        QCOMPARE(bound.take(3, 2.99), std::optional(RecordingEnd::Reached));
        Recorder steady({.steady_within = 0.5, .steady_for_s = 10});
        QVERIFY(!steady.take(0, 1) && !steady.take(5, 1.5) && !steady.take(9, 1));
        QCOMPARE(steady.take(10, 1.5), std::optional(RecordingEnd::Steady));
        QVERIFY(!steady.take(11, 2.5));
        QCOMPARE(recordingCsv(time, "out (V)"), std::string("time (s),out (V)\n0,5\n59,5\n60,5\n"));
        // How long it will take is told from the ninth value on: three for each third of the latter half.
        Recorder falls({.below = 1});
        for (int value = 1; value <= 9; ++value) {
            QVERIFY(!falls.take(value, 10 * std::exp(-0.1 * value)));
            QCOMPARE(falls.leftS().has_value(), value == 9);
        }
    }

    /// A bound beyond which the curve does not end has no time; one that it passes on its way has.
    void boundsOnTheWay()
    {
        for (const double sign : {1.0, -1.0})
            for (const auto& [bound, passes] : {std::pair(5.0, false), {7.0, true}}) {
                Recorder recorder(sign > 0 ? StopRules{.below = bound, .above = 12.0}
                                           : StopRules{.below = -12.0, .above = -bound});
                for (double t_s = 0; t_s < 10; t_s += 0.5)
                    QVERIFY(!recorder.take(t_s, sign * (6 + 4 * std::exp(-t_s / 20))));
                QCOMPARE(recorder.leftS().has_value(), passes);
                if (passes)
                    QVERIFY(std::abs(*recorder.leftS() + 9.5 - 20 * std::log(4.0)) < 0.5);
            }
    }

    /// What is logged of one unit is nothing of another; opening is of all.
    void unitsApart()
    {
        Job job = batchOf(3);
        job.log.push_back({.id = "L1", .time_s = 1, .kind = LogKind::Opened});
        LogEntry off{.id = "L2", .time_s = 2, .kind = LogKind::SourceOff, .unit = "2", .text = "mains"};
        job.log.push_back(off);
        job.log.push_back(reading(job, "24V", 24, 2));
        job.log.push_back(reading(job, "24V", 25, 1));
        QCOMPARE(unitOfBatch(job, 2).log.size(), std::size_t{3});
        QVERIFY(!unitOfBatch(job, 2).log[1].unit);
        QCOMPARE(unitOfBatch(job, 3).log.size(), std::size_t{1});
        QCOMPARE(unitOfBatch(job, 1).log.size(), std::size_t{3}); // the other's reading stands beside
        QCOMPARE(sameEdits(unitOfBatch(job, 2), job), true);
        job.others.push_back(job.found);
        QCOMPARE(batchUnits(job), std::size_t{1}); // joined units are no batch
    }

    /// The job as a whole is evaluated as its first unit, whatever was done at the others.
    void wholeIsTheFirst()
    {
        Job job = demoJob();
        job.batch.units = 2;
        const Evaluation before = evaluate(job, 0);
        for (const StepView& view : before.steps)
            job.log.push_back({.id = nextLogId(job),
                               .time_s = 3e9,
                               .kind = LogKind::Tick,
                               .step = view.step.id,
                               .unit = "2",
                               .text = view.step.fingerprint()});
        const Evaluation after = evaluate(job, 0);
        for (std::size_t i = 0; i < before.steps.size(); ++i)
            QCOMPARE(static_cast<int>(after.steps[i].status), static_cast<int>(before.steps[i].status));
        const Evaluation second = evaluate(unitOfBatch(job, 2), 0);
        QVERIFY(std::ranges::none_of(second.steps,
                                     [](const StepView& v) { return v.status == StepStatus::Open; }));
    }

    /// Live one at a time, unless they may be together; the others are known.
    void liveOnes()
    {
        Job job = batchOf(2);
        job.log.push_back({.id = "L1", .time_s = 1, .kind = LogKind::Opened});
        QCOMPARE(otherUnitsLive(job, 1, 10), std::vector<std::size_t>{2});
        for (const std::string& source : energyModel(job).sources)
            job.log.push_back(
                {.id = nextLogId(job), .time_s = 2, .kind = LogKind::SourceOff, .unit = "2", .text = source});
        QVERIFY(otherUnitsLive(job, 1, 10).empty());
        QCOMPARE(otherUnitsLive(job, 2, 10), std::vector<std::size_t>{1});
    }

    void order_data()
    {
        QTest::addColumn<int>("seed");
        for (int seed = 0; seed < 60; ++seed)
            QTest::addRow("batch %d", seed) << seed;
    }
    /// Any batch: every step once and in its order, one pair of hands, waits kept, live one at a time; never
    /// longer than one after the other, never shorter than can be.
    void order()
    {
        QFETCH(int, seed);
        std::mt19937 random(static_cast<unsigned>(seed));
        const bool together = random() % 2 == 0;
        std::vector<BoardUnit> units;
        const std::size_t count = 2 + random() % 11;
        for (std::size_t i = 1; i <= count; ++i)
            units.push_back(drawnUnit(i, random));
        const auto plan = boardPlan(units, 0, together);
        double end_s = 0;
        double sum_s = 0;
        double hands_s = 0;
        std::size_t steps = 0;
        for (const BoardUnit& unit : units) {
            double free_s = unit.ready_s;
            std::size_t next = 0;
            for (const BoardTask& task : plan)
                if (task.unit == unit.unit) {
                    QCOMPARE(task.title, unit.open.at(next).title);
                    QVERIFY(task.from_s >= free_s - 1e-9);
                    QNEAR(task.to_s - task.from_s, unit.open[next].hands_s, 1e-9, 1e-6);
                    free_s = task.done_s;
                    ++next;
                }
            QCOMPARE(next, unit.open.size());
            steps += next;
            end_s = std::max(end_s, free_s);
            sum_s += unit.ready_s;
            for (const BoardStep& step : unit.open) {
                sum_s += step.hands_s + step.wait_s;
                hands_s += step.hands_s;
            }
        }
        QCOMPARE(plan.size(), steps);
        for (std::size_t i = 1; i < plan.size(); ++i)
            QVERIFY(plan[i].from_s >= plan[i - 1].to_s - 1e-9);
        QVERIFY(end_s <= sum_s + 1e-6 && end_s >= hands_s - 1e-6);
        if (together)
            return;
        // A unit is live from its power to its isolation: no two of these overlap.
        std::vector<std::pair<double, double>> spans;
        for (const BoardUnit& unit : units) {
            std::optional<double> since;
            double last = 0;
            for (const BoardTask& task : plan)
                if (task.unit == unit.unit) {
                    if (task.live && !since)
                        since = task.from_s;
                    if (!task.live && since) {
                        spans.emplace_back(*since, task.from_s);
                        since.reset();
                    }
                    last = task.done_s;
                }
            if (since)
                spans.emplace_back(*since, last);
        }
        std::ranges::sort(spans);
        for (std::size_t i = 1; i < spans.size(); ++i)
            QVERIFY(spans[i].first >= spans[i - 1].second - 1e-6);
    }

    /// Against every order of a small batch, some of it live from before: the bound is one, and what is
    /// planned is hardly ever later than the soonest.
    void againstEveryOrder()
    {
        std::mt19937 random(7);
        int at_best = 0;
        constexpr int boards = 60;
        constexpr double change_s = 60; // as the plan counts it
        for (int i = 0; i < boards; ++i) {
            const bool together = i % 3 == 0;
            const std::size_t count = i % 2 == 0 ? 2 : 3;
            std::vector<BoardUnit> units;
            for (std::size_t unit = 1; unit <= count; ++unit) {
                units.push_back(drawnUnit(unit, random, count == 2 ? 6 : 4));
                if (random() % 3 == 0) {
                    units.back().isolation = Isolation::Live;
                    units.back().open.front().goes_live = false;
                    units.back().open.front().goes_dead = true;
                }
            }
            const double best_s = soonest(units, together, 0);
            QVERIFY(boardLeast(units, 0, together) <= best_s + 1e-6);
            double end_s = 0;
            double changes_s = 0;
            const auto plan = boardPlan(units, 0, together);
            for (std::size_t k = 0; k < plan.size(); ++k) {
                end_s = std::max(end_s, plan[k].done_s);
                changes_s += k > 0 && plan[k].unit != plan[k - 1].unit ? change_s : 0;
            }
            QVERIFY(end_s >= best_s - 1e-6);
            // One that ends as soon as the bound is taken as it is, whatever it changes hands.
            at_best += end_s <= boardLeast(units, 0, together) + 1e-6 ||
                       end_s + changes_s <= soonest(units, together, change_s) + 1e-6;
        }
        QVERIFY2(10 * at_best >= 9 * boards, QByteArray::number(at_best));
    }

    /// Of units of which only one may be live, each is live from the step that makes it so to the end of the
    /// one that makes it dead, whatever is done at it meanwhile.
    void leastOneLive()
    {
        std::vector<BoardUnit> units(
            3, BoardUnit{.unit = 1,
                         .isolation = Isolation::ProvenDead,
                         .signed_off = false,
                         .steps = {},
                         .stages = {},
                         .open = {{.title = "off", .hands_s = 10, .wait_s = 0},
                                  {.title = "on", .hands_s = 20, .wait_s = 100, .goes_live = true},
                                  {.title = "read", .hands_s = 30, .wait_s = 200},
                                  {.title = "out", .hands_s = 40, .wait_s = 100, .goes_dead = true}},
                         .ready_s = 0});
        for (std::size_t i = 0; i < units.size(); ++i)
            units[i].unit = i + 1;
        QNEAR(boardLeast(units, 0, false), 3 * (20 + 100 + 30 + 200 + 40.0));
        QNEAR(boardLeast(units, 0, true), 10 + 20 + 100 + 30 + 200 + 40 + 100.0);
    }

    void board()
    {
        Job job = batchOf(1);
        QVERIFY(batchBoard(job, 0).sentence.find("say how many") != std::string::npos);
        job.batch.units = 3;
        const BatchBoard board = batchBoard(job, 1000);
        QCOMPARE(board.units.size(), std::size_t{3});
        QVERIFY(!board.plan.empty());
        QVERIFY(board.ends_s - 1000 < board.one_by_one_s);
        QVERIFY(board.ends_s - 1000 >= board.least_s - 1e-6);
        QVERIFY2(board.sentence.starts_with("Next: unit "), board.sentence.c_str());
        // No order is below the bound, and side by side never takes longer than one after the other.
        for (const std::int64_t units : {2, 7, 12})
            for (const bool together : {false, true}) {
                job.batch = {.units = units, .live_together = together};
                const BatchBoard of = batchBoard(job, 1000);
                QVERIFY(of.ends_s - 1000 >= of.least_s - 1e-6);
                QVERIFY(of.ends_s - 1000 <= of.one_by_one_s + 1e-6);
                const bool least = of.ends_s - 1000 < of.least_s + 1;
                QCOMPARE(of.sentence.find("no order beats") != std::string::npos, least);
                const double minutes = std::round(of.one_by_one_s / 60);
                QVERIFY(of.sentence.ends_with("it would be " + formatDuration(60 * minutes) + "."));
                QCOMPARE(batchBoard(job, 90000).sentence, of.sentence); // whenever it is asked
            }
    }

    /// Of three or more the one apart from the rest; not of two, and not within what the meter can tell.
    void apart()
    {
        Job job = batchOf(5);
        const auto out = [&](const std::vector<double>& values) {
            job.log.clear();
            for (std::size_t i = 0; i < values.size(); ++i)
                job.log.push_back(reading(job, "24V", values[i], i + 1));
            return batchView(job, evaluate(job, 0)).rows.at(0).out;
        };
        QCOMPARE(out({27.6, 27.61, 27.59, 26.2, 27.6}), std::optional<std::size_t>(3));
        QCOMPARE(out({27.6, 27.62, 27.58, 27.7, 27.6}), std::optional<std::size_t>());
        QCOMPARE(out({27.6, 20.0}), std::optional<std::size_t>());
        // Of an even number the middle is between the two that are there.
        QCOMPARE(out({1.0, 1.1, 9.0, 1.2}), std::optional<std::size_t>(2));
        QCOMPARE(out({9.1, 1.0, 9.0, 9.2}), std::optional<std::size_t>(1));
    }
};

REGISTER_TEST(TestBeside, void)
#include "tst_beside.moc"
