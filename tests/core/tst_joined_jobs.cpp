// Jobs of several units, of a run to the load and of the mains side, without the window: what the workspaces
// show, what is missing, the steps that follow, readings by unit, negative rails, captured surges.
#include "core/job/joining.h"
#include "core/job/log_line.h"
#include "core/job/mains_views.h"
#include "core/job/wiring.h"
#include "support/support.h"

#include <algorithm>

using namespace offshoot;

namespace {

Job demo(const char* name)
{
    return readJob(test::sourceFile(("data/jobs/" + std::string(name) + ".offshoot").c_str()));
}
Evaluation evaluated(const Job& job) { return evaluate(job, job.log.empty() ? 0 : job.log.back().time_s); }

std::vector<std::string> ids(const Evaluation& e, const std::string& begin)
{
    std::vector<std::string> list;
    for (const StepView& view : e.steps)
        if (view.step.id.starts_with(begin))
            list.push_back(view.step.id);
    return list;
}

const ConsequenceRow* row(const Evaluation& e, RowId id)
{
    const auto found = std::ranges::find(e.consequences.rows, id, &ConsequenceRow::id);
    return found == e.consequences.rows.end() ? nullptr : &*found;
}

} // namespace

class TestJoinedJobs : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// Every demo job reads, evaluates, and round-trips.
    void demos_data()
    {
        QTest::addColumn<QByteArray>("name");
        for (const char* name : {"hatch-heater", "mast-camera", "radio-link", "chart-recorder",
                                 "fog-signal-amplifier", "barograph-amplifier"})
            QTest::newRow(name) << QByteArray(name);
    }
    void demos()
    {
        QFETCH(QByteArray, name);
        const Job job = demo(name.constData());
        QVERIFY(job == readJob(writeJob(job)));
        const Evaluation e = evaluated(job);
        QVERIFY(!plannedChanges(job).empty());
        QVERIFY(!e.consequences.rows.empty() && !e.blocks.empty());
        for (const StepView& view : e.steps)
            QVERIFY2(!view.step.title.empty(), view.step.id.c_str());
        for (const LogEntry& entry : job.log)
            if (entry.kind == LogKind::Reading && entry.step)
                QVERIFY2(
                    std::ranges::any_of(e.steps, [&](const StepView& v) { return v.step.id == *entry.step; }),
                    entry.step->c_str());
    }

    void unitNames()
    {
        Job job;
        QCOMPARE(unitName(job, 1), std::string("unit #1"));
        job.found.name = "Dunlin";
        job.others = {job.found, Supply{}, Supply{}};
        job.others[2].name = "Stilt";
        QCOMPARE(unitName(job, 1), std::string("Dunlin #1"));
        QCOMPARE(unitName(job, 2), std::string("Dunlin #2"));
        QCOMPARE(unitName(job, 3), std::string("unit #3"));
        QCOMPARE(unitName(job, 4), std::string("Stilt"));
    }

    /// A unit carries its share, not the whole load: its own rows and steps are judged with that.
    void ownShare()
    {
        Job job = demo("hatch-heater");
        const Evaluation e = evaluated(job);
        QVERIFY(*e.own_current_a > 3.6 && *e.own_current_a < 5);
        QVERIFY(row(e, RowId::OutputCurrent)->verdict != Verdict::Breaks);
        job.plan.join.reset();
        QCOMPARE(*evaluated(job).own_current_a, 11.0);
        const std::vector<std::string> expected{
            "join.isolate",   "join.wait",       "join.prove", "join.returns",    "join.power",
            "join.set.1",     "join.set.2",      "join.set.3", "join.difference", "join.last.isolate",
            "join.last.wait", "join.last.prove", "join.link",  "join.power_load", "join.share"};
        QCOMPARE(ids(e, "join."), expected);
    }

    /// A reading with a number answers the step of that unit and no other.
    void readingsByUnit()
    {
        Job job = demo("hatch-heater");
        Evaluation e = evaluated(job);
        e.isolation.state = Isolation::Live;
        const LogLine line = readLogLine("lead 3.5A #2", job, e, "15V");
        QVERIFY(line.entry.has_value());
        QCOMPARE(line.entry->unit, std::optional<std::string>("2"));
        QCOMPARE(line.entry->step, std::optional<std::string>("join.share"));
        QVERIFY(line.judgement.has_value());
        QVERIFY(!readLogLine("unplugged #9", job, e, "15V").problem.empty());
        QCOMPARE(readLogLine("15V 15.01 #1", job, e, "15V").entry->unit, std::optional<std::string>());
        // What unit 2 was found to give is its own reading.
        QNEAR(*unitFound(job, e, 2), 15.0);
        QNEAR(*unitFound(job, e, 3), 14.97);
        job.plan.join->settings = {{.unit = 2, .v_set_v = 15.1}};
        QNEAR(*unitSet(job, evaluated(job), 2), 15.1);
    }

    void shareSchools()
    {
        Job job = demo("hatch-heater");
        const ParallelView view = parallelView(job, evaluated(job));
        QCOMPARE(view.schools.size(), 4u);
        QVERIFY(view.pick < 3);
        QVERIFY(view.after_trimming->highest_share_high <= view.before_trimming->highest_share_high);
        for (std::size_t k = 0; k < view.loads_a.size(); ++k) {
            double sum = 0;
            for (const double a : view.currents_a[k])
                sum += a;
            QVERIFY(sum <= view.loads_a[k] * (1 + 1e-9) + 1e-12);
        }
        job.need.current_a = 30; // more than all of them
        QCOMPARE(parallelView(job, evaluated(job)).pick, 3u);
        job.others.clear();
        QVERIFY(parallelView(job, evaluated(job)).sentence.find("One unit alone") != std::string::npos);
        QVERIFY(stackView(job, evaluated(job)).sentence.find("One unit alone") != std::string::npos);
    }

    /// Every bond that shorts blocks the sign-off, and cannot be accepted away.
    void stackBlocks()
    {
        Job job = demo("radio-link");
        QVERIFY(row(evaluated(job), RowId::StackIsolation)->verdict == Verdict::Fits);
        QNEAR(evaluated(job).load_v.value_or(0), 48.15, 1e-3);
        job.plan.join->opened_bonds.clear();
        const Evaluation e = evaluated(job);
        QCOMPARE(row(e, RowId::StackIsolation)->verdict, Verdict::Breaks);
        QVERIFY(rowInfo(RowId::StackIsolation).mains_side);
        QVERIFY(std::ranges::any_of(e.blocks, [](const std::string& b) {
            return b.find("output to case: breaks") != std::string::npos;
        }));
        for (Supply* unit : {&job.found, &job.others[0]})
            unit->joint.bonded = Bond::Unknown;
        QVERIFY(stackView(job, evaluated(job)).advice.front().find("measure from each output terminal") !=
                std::string::npos);
    }

    /// The three ways a load may draw, against the same run by hand.
    void draws()
    {
        Job job = demo("mast-camera");
        job.plan.wire.reset();
        job.plan.remote_sense = false;
        Cable& cable = job.found.rails.front().cable;
        cable.area_m2 = 1e-6;
        cable.temperature_k = 293.15;
        cable.contact_ohm = 0;
        const double r = 2 * 12 * 1.724e-8 / 1e-6;
        const double v = 5.10;
        const auto arrives = [&](LoadDraw draw) {
            job.need.draws = draw;
            return *loadVoltage(job, evaluated(job));
        };
        QNEAR(arrives(LoadDraw::Current), v - 0.8 * r, 1e-9);
        QNEAR(arrives(LoadDraw::Resistance), v * 6.25 / (6.25 + r), 1e-9);
        const double i = 2 * 4.0 / (v + std::sqrt(v * v - 4 * 4.0 * r));
        QNEAR(arrives(LoadDraw::Power), v - i * r, 1e-9);
        const WireView view = wireView(job, evaluated(job));
        QNEAR(view.run.front().positive_v, v, 1e-9);
        QNEAR(view.run.back().positive_v - view.run.back().negative_v, arrives(LoadDraw::Power), 1e-9);
        QVERIFY(view.sizes.front().verdict == Verdict::Fits);
    }

    /// A negative rail carries its sign in readings and windows, magnitudes everywhere else.
    void negativeRail()
    {
        Job job = demo("splicing-bench");
        Rail rail{};
        rail.name = "-12V";
        rail.negative = true;
        rail.v_v = 12;
        rail.i_rated_a = 0.5;
        rail.regulated_by = job.found.rails.front().name;
        job.found.rails.push_back(rail);
        job.need.others.push_back({.rail = "-12V", .min_v = 11.4, .max_v = 12.6});
        LogEntry reading{.id = "L9999", .time_s = 1e9, .kind = LogKind::Reading};
        reading.point = "-12V";
        reading.quantity = Quantity::Voltage;
        reading.value = -11.9;
        reading.stage = ReadingStage::Found;
        reading.isolation = Isolation::Live;
        job.log.push_back(reading);
        const Evaluation e = evaluated(job);
        QNEAR(*e.rails_found_v.back(), 11.9);
        QVERIFY(e.rails.back().found.find("11.90") != std::string::npos &&
                e.rails.back().found.front() != '1');
        for (const StepView& view : e.steps)
            for (const Asked& asked : view.step.asks)
                if (asked.point == "-12V" && asked.window)
                    QVERIFY(*asked.window->min < 0 && *asked.window->max < 0 &&
                            *asked.window->min < *asked.window->max);
    }

    void surgeCsv_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<int>("points"); // 0: refused
        QTest::newRow("plain") << QByteArray("0,1\n0.001,2\n") << 2;
        QTest::newRow("headings and semicolons")
            << QByteArray("scope\ntime;amps\n0;1\n1e-3;2.5\n2e-3;1\n") << 3;
        QTest::newRow("third column") << QByteArray("0,1,9\n1,2,9\n") << 2;
        QTest::newRow("one point") << QByteArray("0,1\n") << 0;
        QTest::newRow("backwards") << QByteArray("1,1\n0,2\n") << 0;
        QTest::newRow("word inside") << QByteArray("0,1\n1,two\n") << 0;
        QTest::newRow("empty") << QByteArray() << 0;
    }
    void surgeCsv()
    {
        QFETCH(QByteArray, text);
        QFETCH(int, points);
        const auto read = readSurgeCsv(text.toStdString());
        QCOMPARE(bool(read), points > 0);
        if (read)
            QCOMPARE(static_cast<int>(read->t_s.size()), points);
        else
            QVERIFY(!read.problem().message.empty());
    }

    void evidenceWords()
    {
        Job job = demo("chart-recorder");
        EvidenceView view = evidenceView(job);
        QCOMPARE(view.result.verdict, Verdict::Unknown);
        QVERIFY(view.next.find("mains switch") != std::string::npos);
        for (Clue& clue : job.found.mains_side.clues)
            if (clue.part == "mains switch") {
                clue.seen = true;
                clue.rating_v = 125;
            }
        view = evidenceView(job);
        QCOMPARE(view.result.verdict, Verdict::Breaks);
        QVERIFY(view.sentence.find("mains switch rules: 125 V") != std::string::npos);
        QCOMPARE(row(evaluated(job), RowId::MainsEvidence)->verdict, Verdict::Breaks);
        for (const Contradiction& c : view.result.contradictions)
            QVERIFY(!contradictionText(c).empty());
    }

    /// The limiter planned is the one simulated: its first crest is the crest over its resistance.
    void surgeCurves()
    {
        const Job job = demo("fog-signal-amplifier");
        const InrushView view = inrushView(job);
        QNEAR(*std::ranges::max_element(view.limited.i_a), view.limiter->i_peak_a, 2e-2);
        QVERIFY(*std::ranges::max_element(view.bare.i_a) > 5 * *std::ranges::max_element(view.limited.i_a));
        QVERIFY(view.delay && view.delay->t_s == 0.7);
        QCOMPARE(row(evaluated(job), RowId::SurgePeak)->verdict, Verdict::Fits);
        QVERIFY(!view.stuck.empty() && view.school.sides.size() == 2);
    }

    void valves()
    {
        const Job job = demo("barograph-amplifier");
        const Evaluation e = evaluated(job);
        QCOMPARE(ids(e, "bringup.valves").size(), 1u);
        QVERIFY(std::ranges::any_of(e.steps, [](const StepView& v) {
            return v.step.kind == StepKind::Power &&
                   std::ranges::count(v.step.cautions, Caution::ValveEquipment) > 0;
        }));
        QVERIFY(plannedChain(job)->filter[0].c_f < job.found.mains_side.chain->filter[0].c_f);
        const SafeView safe = safeView(job, e);
        QVERIFY(!safe.lamps.empty() && !safe.banks.empty());
    }
};

QTEST_APPLESS_MAIN(TestJoinedJobs)
#include "tst_joined_jobs.moc"
