// What the window shows of a job: the demo job's figures, the procedure and its ticks, diagnosis, blocks.
#include "core/evaluate/evaluation.h"
#include "core/evaluate/evidence_view.h"
#include "core/evaluate/mains_bearing.h"
#include "core/evaluate/stations.h"
#include "core/evaluate/survey_view.h"
#include "core/kinds/kind.h"
#include "core/kinds/planned.h"
#include "core/kinds/school.h"
#include "core/kinds/surge_limiter/inrush_view.h"
#include "core/supply/rail_use.h"
#include "core/supply/station.h"
#include "support/evaluated.h"
#include "support/support.h"

#include <QRegularExpression>
#include <algorithm>

using namespace offshoot;
using test::endOf;
using test::evaluated;
using namespace Qt::StringLiterals;

namespace {

const StepView& step(const Evaluation& e, const std::string& id)
{
    for (const StepView& view : e.steps)
        if (view.step.id == id)
            return view;
    qFatal("no step %s", id.c_str());
}

/// Steps as lines "stage kind id" to compare lists by eye.
std::vector<std::string> printed(const Evaluation& e, Stage stage)
{
    std::vector<std::string> lines;
    for (const StepView& view : e.steps)
        if (view.step.stage == stage)
            lines.push_back(std::string(word(view.step.kind)) + ' ' + view.step.id);
    return lines;
}

void addReading(Job& job, const std::string& step, double value, double u = 0.03)
{
    LogEntry entry{.id = nextLogId(job), .time_s = endOf(job) + 1, .kind = LogKind::Reading};
    entry.step = step;
    entry.point = job.found.rails.front().name;
    entry.quantity = Quantity::Voltage;
    entry.value = value;
    entry.uncertainty = u;
    entry.stage = ReadingStage::PlannedCheck;
    entry.isolation = Isolation::Live;
    job.log.push_back(std::move(entry));
}

} // namespace

class TestEvaluation : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// A job file that leaves the mains or the topology out keeps it left out: nothing is taken for 230 V,
    /// and what is taken for a flyback says so.
    void leftOut()
    {
        Json document = parseJson(writeJob(test::demoJob()));
        document["need"]["mains"].erase("v_v");
        document["need"]["mains"].erase("spread");
        document["found"].erase("topology");
        const Job job = jobFrom(document);
        QCOMPARE(readJob(writeJob(job)), job);
        const Evaluation e = evaluate(job, 2e9);
        QVERIFY(e.need_line.ends_with("mains not given"));
        QCOMPARE(bearsMains(job, 1, Condition::Planned).verdict, Verdict::Unknown);
        QVERIFY(!e.lamp_w);
        QVERIFY(std::ranges::any_of(
            e.blocks, [](const std::string& b) { return b.starts_with("Not known to bear the mains"); }));
        for (const StepView& view : e.steps)
            for (const Asked& asked : view.step.asks)
                QVERIFY2(asked.point != "mains" || !asked.window, view.step.id.c_str());
        const auto inlet = std::ranges::find(e.stations, Station::Inlet, &StationView::station);
        QVERIFY(inlet != e.stations.end() && !inlet->found_si && !inlet->planned_si);
        for (const JudgedClue& clue : evidenceView(job).result.clues)
            QVERIFY(clue.says == Says::Depends);
        QCOMPARE(evidenceView(job).sentence, std::string("Say in Need which mains there is."));
        QVERIFY(!inrushView(job).limiter_input);
        for (const ConsequenceRow& row : e.consequences.rows) {
            if (row.id == RowId::FuseVoltage || row.id == RowId::BulkVoltage)
                QVERIFY(!row.planned && row.verdict == Verdict::Unknown);
            if (row.id == RowId::ClampLevel)
                QVERIFY(std::ranges::count(row.assumed, "a flyback converter") == 1);
        }
    }

    /// The mains that a selector names, least and most, in whatever order; what is no mains is not taken for
    /// one.
    void selectors()
    {
        const auto range = [](std::string_view text) {
            const auto read = selectorRange(text);
            return read ? std::pair(read->min_v, read->max_v) : std::pair(0.0, 0.0);
        };
        QCOMPARE(range("115"), std::pair(115.0, 115.0));
        QCOMPARE(range("220-240 V"), std::pair(220.0, 240.0));
        QCOMPARE(range("230/115"), std::pair(115.0, 230.0));
        QCOMPARE(range("110, 240 or 120 V, 50 Hz, 3 A"), std::pair(110.0, 240.0));
        QCOMPARE(range("60 V to 600 V, 59 and 601"), std::pair(60.0, 600.0));
        QCOMPARE(range("50 Hz, high"), std::pair(0.0, 0.0));
        QCOMPARE(range(""), std::pair(0.0, 0.0));
    }

    /// Fed with DC, its own ratings do not hold up the sign-off.
    void directFed()
    {
        Job job = readJob(test::sourceFile("tests/jobs/dc-buck.offshoot"));
        job.found.bulk.v_rated_v.reset();
        job.found.converter.v_rated_v.reset();
        job.found.direct.max_v.reset();
        for (const std::string& block : evaluate(job, 2e9).blocks)
            QVERIFY2(block.find("not read") == std::string::npos, block.c_str());
    }

    /// A bond or a load's earth that was measured is not overlooked because nobody entered it.
    void measuredBonds()
    {
        const auto blocked = [](Job job, const char* point, double ohm) {
            for (LogEntry& entry : job.log)
                if (entry.point == point && !entry.unit)
                    entry.value = ohm;
            const auto blocks = evaluate(job, 2e9).blocks;
            return std::ranges::count_if(blocks, [](const std::string& block) {
                return block.find("measured bonded") != std::string::npos;
            });
        };
        Job job = readJob(test::sourceFile("data/jobs/hatch-heater.offshoot"));
        job.found.joint.bonded = Bond::None;
        QVERIFY(job.plan.join && !job.plan.join->earthed_node);
        QCOMPARE(blocked(job, "load-earth", 12e6), 0);
        QCOMPARE(blocked(job, "load-earth", 0.3), 1);
        QCOMPARE(blocked(job, "bond", 0.3), 1);
        job.found.joint.bonded = Bond::Negative;
        QCOMPARE(blocked(job, "bond", 0.3), 0);
        job.plan.join->earthed_node = 0;
        QCOMPARE(blocked(job, "load-earth", 0.3), 0);
    }

    void demoFigures()
    {
        const Evaluation e = evaluated(test::demoJob());
        QCOMPARE(e.need_line,
                 std::string("27.6 V ±0.3 V, 2 A from a Dunlin 60, 24 V 2.5 A · mains 230 V ±10 %, 50 Hz"));
        QVERIFY(e.before && e.before_possible);
        QNEAR(e.before->v, 24.05);
        QNEAR(e.planned_range->min_v, 27.60, 0, 0.006);
        QNEAR(e.planned_range->max_v, 27.82, 0, 0.006);
        QNEAR(e.planned->plain.min_v, 26.95, 0, 0.006);
        QNEAR(e.planned->plain.max_v, 28.51, 0, 0.006);
        QVERIFY(e.candidates.size() >= 20 && e.candidates.size() <= 60);
        for (std::size_t i = 0; i < 4; ++i)
            QVERIFY2(e.stages[i].complete > 0.5, std::to_string(i).c_str());
        QCOMPARE(e.stages[2].complete, 0.6); // the battery feeds back
        Job mended = test::demoJob();
        mended.need.load.kind = LoadKind::Equipment;
        QCOMPARE(evaluated(mended).stages[2].complete, 1.0);
        QVERIFY(!e.signed_off && !e.blocks.empty());
    }

    /// An empty job says in every stage what to do next, and nothing throws.
    void emptyJob()
    {
        const Evaluation e = evaluated(Job{});
        QVERIFY(e.candidates.empty() && !e.planned && !e.divider);
        QCOMPARE(e.stages[0].next, std::string("Say what the load wants."));
        QCOMPARE(e.stages[1].next, std::string("Enter reference and divider."));
        QVERIFY(!e.energy.missing.empty());
        QVERIFY(e.isolation.assumed);
        QVERIFY(!e.blocks.empty());
    }

    /// Of each stage the first step that is not done is next; of all the first that is open, if it does that.
    void nextSteps()
    {
        const Evaluation e = evaluate(test::demoJob(), 0);
        const StepView* first = nullptr;
        for (const Stage stage : {Stage::Found, Stage::Change, Stage::BringUp}) {
            const StepView* next = nextStep(e, stage);
            const auto wanted = std::ranges::find_if(e.steps, [stage](const StepView& view) {
                return view.step.stage == stage && view.status != StepStatus::Done;
            });
            QVERIFY(wanted == e.steps.end() ? next == nullptr : next == &*wanted);
            if (next != nullptr && (first == nullptr || next < first))
                first = next;
        }
        QVERIFY(first != nullptr);
        for (std::size_t what = 0; what < Words<Does>::list.size(); ++what) {
            const auto does = static_cast<Does>(what);
            QVERIFY(openStep(e, does) == (first->step.is(does) ? first : nullptr));
        }
    }

    /// What the path shows as measured at the load is what was read there live after the change, else what
    /// was read at the output.
    void measuredAtTheLoad()
    {
        Job job = test::demoJob();
        job.log.clear();
        const auto shown = [&] {
            const auto stations = stationViews(job, evaluate(job, 0));
            return std::ranges::find(stations, Station::Load, &StationView::station)->measured_si;
        };
        const auto read = [&](const char* point, double v, ReadingStage stage, Isolation isolation) {
            job.log.push_back({.id = std::to_string(job.log.size()),
                               .time_s = 0,
                               .kind = LogKind::Reading,
                               .point = point,
                               .quantity = Quantity::Voltage,
                               .value = v,
                               .stage = stage,
                               .isolation = isolation});
        };
        read("load", 11, ReadingStage::Found, Isolation::Live);
        read("load", 12, ReadingStage::Measured, Isolation::ProvenDead);
        QVERIFY(!shown());
        read(job.found.rails.front().name.c_str(), 13, ReadingStage::Measured, Isolation::Live);
        QCOMPARE(shown(), std::optional(13.0));
        read("load", 14, ReadingStage::Measured, Isolation::Live);
        QCOMPARE(shown(), std::optional(14.0));
        read("load", 15, ReadingStage::Found, Isolation::Live);
        QCOMPARE(shown(), std::optional(14.0));
    }

    /// A recording that cannot be one is named by its line.
    void recordings()
    {
        QVERIFY(!readDrawCsv("t,A\n") && !readDrawCsv("0,1\n1,x\n") && !readDrawCsv("0,1\n-1,2\n"));
        QVERIFY(readDrawCsv("0,1\n1,-2\n").problem().message.find("turn the probe") != std::string::npos);
        const auto flat = readDrawCsv("0,1.5\n2,1.5\n");
        QVERIFY(flat && flat->usual_a == 1.5 && flat->least_a == 1.5 && flat->peak_a == 1.5);
        // Its mean over time: 30 s at 1 A, 10 s at 3 A; the peak is what lies above half way to the highest.
        const auto pulsed = readDrawCsv("0,1\n30,1\n30.000001,3\n40,3\n");
        QVERIFY(pulsed && std::abs(pulsed->usual_a - 1.5) < 1e-6);
        QVERIFY(std::abs(pulsed->peak_s.value() - 10) < 1e-5);
        Job job;
        putDraw(job, {.state = "on", .rail = "out", .usual_a = 1});
        putDraw(job, {.state = "on", .rail = "out", .usual_a = 2});
        QVERIFY(job.need.measured.size() == 1 && job.need.measured.front().usual_a == 2);
    }

    /// Too much breaks though somebody's draw is unknown; enough fits only once everybody's is known. A
    /// trimmer without names turns the first rail and what hangs on its loop.
    void railsInUse()
    {
        Supply supply;
        supply.rails = {Rail{.name = "5V", .i_rated_a = 2}, Rail{.name = "12V", .regulated_by = "5V"},
                        Rail{.name = "aux"}};
        Rail& rail = supply.rails.front();
        QCOMPARE(railUse(rail).verdict, Verdict::Unknown);
        rail.users = {RailUser{.name = "gauge", .typical_a = 1}, RailUser{.name = "lamp"}};
        QCOMPARE(railUse(rail).verdict, Verdict::Unknown);
        rail.users.back().typical_a = 0.2;
        QCOMPARE(railUse(rail).verdict, Verdict::Fits);
        rail.users.push_back(RailUser{.name = "pump"});
        rail.users.front().typical_a = 2.5;
        QCOMPARE(railUse(rail).verdict, Verdict::Breaks);
        QNEAR(railUse(rail).drawn_a, 2.7, 1e-12);
        const Trimmer unnamed;
        QVERIFY(turns(supply, unnamed, supply.rails[0]) && turns(supply, unnamed, supply.rails[1]));
        QVERIFY(!turns(supply, unnamed, supply.rails[2]));
        QVERIFY(turns(supply, Trimmer{.rails = {"aux"}}, supply.rails[2]));
    }

    /// The load as measured becomes the need of the first rail, the doubt of the meter against the supply;
    /// rails that nobody knows are left out, and what contradicts itself is refused.
    void surveyed()
    {
        Job job = test::demoJob();
        const std::string rail = job.found.rails.front().name;
        job.need.measured = {{.state = "dark", .rail = rail, .usual_a = 0.05, .u_a = 0.01},
                             {.state = "lit", .rail = rail, .usual_a = 1.8, .peak_a = 4.0, .peak_s = 0.2},
                             {.state = "lit", .rail = "nowhere", .usual_a = 9},
                             {.state = "turning", .rail = rail, .usual_a = 1.5, .peak_a = 2.4, .peak_s = 5}};
        const SurveyView view = surveyView(job);
        QCOMPARE(view.lanes.size(), 3U);
        QNEAR(view.lanes.front().least_a, 0.04, 1e-9); // with the meter's doubt
        takeSurvey(job);
        QNEAR(*job.need.least_a, 0.04, 1e-9);
        QNEAR(*job.need.current_a, 2.4, 1e-9); // five seconds are for good
        QNEAR(*job.need.peak_a, 4.0, 1e-9);
        QVERIFY(job.need.why.find("turning rules what is drawn for good, lit the peak") != std::string::npos);
        QCOMPARE(readJob(writeJob(job)).need, job.need);
        // Taken again it stands there once, behind whatever else was the reason.
        const std::string why = job.need.why.substr(job.need.why.find("measured: "));
        const std::pair<std::string, std::string> reasons[] = {
            {"", why},
            {"measured: once", why},
            {"what the lamp wants", "what the lamp wants; " + why},
            {"what the lamp wants; measured: once", "what the lamp wants; " + why}};
        for (const auto& [before, after] : reasons) {
            job.need.why = before;
            takeSurvey(job);
            QCOMPARE(job.need.why, after);
        }
        // Where no target is said, the rail is measured at its own volts.
        Job aimless = job;
        aimless.need.target.reset();
        QCOMPARE(surveyView(aimless).lanes.size(), view.lanes.size());
        QVERIFY(surveyView(aimless).result.has_value());
        Job twice = job;
        twice.need.measured.push_back(twice.need.measured.front());
        QVERIFY_THROWS_EXCEPTION(DocumentError, readJob(writeJob(twice)));
        job.need.measured.front().least_a = 1;
        QVERIFY_THROWS_EXCEPTION(DocumentError, readJob(writeJob(job)));
        job.need.measured.clear();
        const auto before = job.need;
        takeSurvey(job);
        QCOMPARE(job.need, before);
    }

    /// Each kind of supply has its own stations, in the order of its energy.
    void pathOfEachKind_data()
    {
        QTest::addColumn<int>("topology");
        QTest::addColumn<QStringList>("names");
        const auto row = [](Topology topology, const QStringList& names) {
            QTest::addRow("%s", word(topology).data()) << static_cast<int>(topology) << names;
        };
        row(Topology::Flyback,
            {u"Mains"_s, u"Fuse"_s, u"Inrush"_s, u"Input"_s, u"Reservoir"_s, u"Switch"_s, u"Feedback"_s,
             u"Transformer"_s, u"Rectifier"_s, u"Smoothing"_s, u"Cable"_s, u"Beacon"_s});
        row(Topology::SeriesPass,
            {u"Mains"_s, u"Fuse"_s, u"Inrush"_s, u"Transformer"_s, u"Rectifier"_s, u"Reservoir"_s,
             u"Regulator"_s, u"Feedback"_s, u"Smoothing"_s, u"Cable"_s, u"Beacon"_s});
        row(Topology::Unregulated, {u"Mains"_s, u"Fuse"_s, u"Inrush"_s, u"Transformer"_s, u"Rectifier"_s,
                                    u"Reservoir"_s, u"Smoothing"_s, u"Cable"_s, u"Beacon"_s});
        row(Topology::Buck, {u"Feed"_s, u"Fuse"_s, u"Reservoir"_s, u"Switch"_s, u"Feedback"_s, u"Rectifier"_s,
                             u"Smoothing"_s, u"Cable"_s, u"Beacon"_s});
        row(Topology::SealedModule,
            {u"Mains"_s, u"Fuse"_s, u"Closed unit"_s, u"Output"_s, u"Cable"_s, u"Beacon"_s});
    }
    void pathOfEachKind()
    {
        QFETCH(int, topology);
        QFETCH(QStringList, names);
        Job job = test::demoJob();
        job.found.topology = static_cast<Topology>(topology);
        QStringList shown;
        for (const StationView& view : stationsShown(job, evaluated(job)))
            shown << QString::fromStdString(view.name);
        QCOMPARE(shown, names);
    }

    void everyStationHasWords()
    {
        for (const StationView& view : evaluated(test::demoJob()).stations) {
            QVERIFY2(!view.name.empty(), word(view.station).data());
            QVERIFY2(view.has_rows || !view.reason.empty(), word(view.station).data());
        }
        const auto stations = evaluated(test::demoJob()).stations;
        double lost = 0;
        for (const StationView& view : stations)
            lost += view.loss_w;
        const double load_w = 27.71 * 2;
        QNEAR(lost + load_w, load_w / 0.84, 0.02); // what goes in is what comes out and what peels off
        // An indicator takes its own where it is fitted: 27.71·(27.71 − 2)/4k7.
        const auto smoothing_w = [](bool fitted) {
            Job job = test::demoJob();
            job.found.rails.front().indicator = {.fitted = fitted, .r_ohm = 4700};
            for (const StationView& view : evaluated(job).stations)
                if (view.station == Station::Smoothing)
                    return view.loss_w;
            return 0.0;
        };
        QNEAR(smoothing_w(true) - smoothing_w(false), 0.1516, 0, 1e-3);
    }

    void procedureOrder()
    {
        const Evaluation e = evaluated(test::demoJob());
        QCOMPARE(printed(e, Stage::Change),
                 (std::vector<std::string>{"isolate change.isolate", "wait change.wait",
                                           "prove change.discharge", "prove change.prove",
                                           "touch change.legs", "touch change.fit", "touch change.measure",
                                           "touch change.inspect", "look change.second_look"}));
        std::set<std::string> ids;
        for (const StepView& view : e.steps) {
            QVERIFY2(ids.insert(view.step.id).second, view.step.id.c_str());
            QVERIFY2(view.step.kind != StepKind::Power || view.step.checks.size() >= 7, view.step.id.c_str());
        }
        // Nothing is touched in the first hour without having been proven dead, and never after power without
        // it.
        bool dead = false;
        for (const StepView& view : e.steps) {
            dead = view.step.kind == StepKind::Prove   ? true
                   : view.step.kind == StepKind::Power ? false
                                                       : dead;
            if (view.step.kind == StepKind::Touch)
                QVERIFY2(dead, view.step.id.c_str());
        }
    }

    /// Cautions stand at the steps they belong to.
    void cautions_data()
    {
        QTest::addColumn<QByteArray>("where");
        QTest::addColumn<int>("caution");
        const auto row = [](const char* where, Caution caution) {
            QTest::addRow("%s %s", where, word(caution).data())
                << QByteArray(where) << static_cast<int>(caution);
        };
        row("found.isolate", Caution::BatterySource);
        row("found.discharge", Caution::Discharge);
        row("found.prove", Caution::OneHand);
        row("found.pins", Caution::PlugPins);
        row("found.power_lamp", Caution::SeriesLamp);
        row("found.power_lamp", Caution::MainsPotential);
        row("found.full", Caution::HotParts);
        row("found.inspect", Caution::OldCapacitors);
        row("found.inspect", Caution::FixedWiring);
        row("bringup.ripple", Caution::NoScope);
        row("signoff.report", Caution::LentOrUnattended);
    }
    void cautions()
    {
        QFETCH(QByteArray, where);
        QFETCH(int, caution);
        const Evaluation e = evaluated(test::demoJob());
        const auto& list = step(e, where.toStdString()).step.cautions;
        QVERIFY(std::ranges::count(list, static_cast<Caution>(caution)) == 1);
        QVERIFY(!cautionText(static_cast<Caution>(caution)).empty());
    }

    /// Class II asks for no earth; an output above 60 V is treated as mains.
    void otherSupplies()
    {
        Job job = test::demoJob();
        job.found.earth_class = EarthClass::ClassII;
        job.need.target = Target{72, 70, 74};
        const Evaluation e = evaluated(job);
        QVERIFY(step(e, "found.earth").step.asks.empty());
        QVERIFY(std::ranges::count(step(e, "found.power_lamp").step.cautions, Caution::HighOutput) == 1);
        for (const std::string& check : step(e, "found.power_lamp").step.checks)
            QVERIFY(check.find("arth") == std::string::npos);
    }

    /// Power is refused for class I until the earth was measured and is good.
    void earthFirst()
    {
        Job job = test::demoJob();
        const auto earth =
            std::ranges::find_if(job.log, [](const LogEntry& e) { return e.point == "earth"; });
        QVERIFY(earth != job.log.end());
        QVERIFY(step(evaluated(job), "bringup.power_lamp").refusal.empty());
        earth->value = 4;
        QVERIFY(step(evaluated(job), "bringup.power_lamp").refusal.find("earth") != std::string::npos);
    }

    /// Another part in the plan: untouched steps keep their ticks, the others say "again".
    void replanning()
    {
        Job job = test::demoJob();
        const Evaluation before = evaluated(job);
        job.plan.chosen = ChosenNetwork{DividerMethod::ParallelBottom,
                                        Network(16e3),
                                        {{.ohm = 16e3, .tolerance = 0.01, .power_w = 0.25}}};
        const Evaluation after = evaluated(job);
        QCOMPARE(step(before, "change.fit").status, StepStatus::Done);
        QCOMPARE(step(after, "change.fit").status, StepStatus::Again);
        for (const StepView& view : before.steps)
            if (view.status == StepStatus::Done && view.step.stage == Stage::Found)
                QCOMPARE(step(after, view.step.id).status, StepStatus::Done);
        QVERIFY(step(after, "found.no_load").readings.front().has_value());
    }

    /// A divider that cannot give the before-reading is said at once, and the plan does without the reading.
    void impossibleDivider()
    {
        Job job = test::demoJob();
        job.found.rails.front().feedback.bottom = Network(5100);
        const Evaluation e = evaluated(job);
        QVERIFY(!e.before_possible);
        static const QRegularExpression says(
            QStringLiteral(R"(gives \d+\.\d\d to \d+\.\d\d V and cannot give 24\.05 V\.)"));
        QVERIFY2(says.match(QString::fromStdString(e.before_message)).hasMatch(), e.before_message.c_str());
        QVERIFY(!e.candidates.empty());
    }

    void diagnosis_data()
    {
        QTest::addColumn<double>("reading");
        QTest::addColumn<int>("fault");
        QTest::newRow("joint open") << 24.05 << static_cast<int>(DividerFault::Open);
        QTest::newRow("150k fitted") << 24.40 << static_cast<int>(DividerFault::DecadeUp);
        QTest::newRow("1k5 fitted") << 60.7 << static_cast<int>(DividerFault::DecadeDown);
    }
    void diagnosis()
    {
        QFETCH(double, reading);
        QFETCH(int, fault);
        Job job = test::demoJob();
        addReading(job, "bringup.lamp_output", reading, 0.15);
        const Evaluation e = evaluated(job);
        QVERIFY(e.diagnosis.has_value());
        const bool among = std::ranges::any_of(e.diagnosis->hypotheses, [&](const FaultHypothesis& h) {
            return h.explains && static_cast<int>(h.fault) == fault && h.part == "added";
        });
        QVERIFY(among);
        QVERIFY(!step(e, "bringup.lamp_output").refusal.empty()); // outside its window: no tick
    }

    /// What the lamp did belongs to the first reading behind it, since the last time it was switched on.
    void lampBehaviour_data()
    {
        QTest::addColumn<int>("seen");
        QTest::addColumn<QByteArray>("says");
        QTest::newRow("not said") << -1 << QByteArray("Say what the lamp did");
        QTest::newRow("flash") << static_cast<int>(LampSeen::Flash) << QByteArray();
        QTest::newRow("dark, the output is there") << static_cast<int>(LampSeen::Dark) << QByteArray();
        QTest::newRow("bright") << static_cast<int>(LampSeen::Bright) << QByteArray("a short");
        QTest::newRow("pulsing") << static_cast<int>(LampSeen::Pulsing) << QByteArray("hiccup");
    }
    void lampBehaviour()
    {
        QFETCH(int, seen);
        QFETCH(QByteArray, says);
        Job job = test::demoJob();
        job.log.push_back({.id = nextLogId(job), .time_s = endOf(job), .kind = LogKind::Live});
        if (seen >= 0) {
            LogEntry lamp{.id = nextLogId(job), .time_s = endOf(job), .kind = LogKind::Lamp};
            lamp.lamp = static_cast<LampSeen>(seen);
            job.log.push_back(std::move(lamp));
        }
        job.log.push_back({.id = nextLogId(job), .time_s = endOf(job), .kind = LogKind::Note, .text = "so"});
        const QByteArray refusal =
            QByteArray::fromStdString(step(evaluated(job), "bringup.lamp_output").refusal);
        QVERIFY2(says.isEmpty() ? refusal.isEmpty() : refusal.contains(says), refusal.constData());
    }

    /// An unsteady output points at a lost feedback.
    void hunting()
    {
        Job job = test::demoJob();
        job.log.push_back({.id = nextLogId(job), .time_s = endOf(job), .kind = LogKind::Hunting});
        addReading(job, "bringup.lamp_output", 33);
        const Evaluation e = evaluated(job);
        const auto& diagnosis = *e.diagnosis;
        QVERIFY(diagnosis.hypotheses.front().explains && diagnosis.hypotheses.front().runaway);
    }

    /// A refit takes the break away and becomes a step; an accepted row does not block, a mains-side one
    /// does.
    void answeringRows()
    {
        Job job = test::demoJob();
        job.found.rails.front().capacitor.v_rated_v = 25;
        const auto blocked = [&](const char* what) {
            return std::ranges::any_of(evaluated(job).blocks, [&](const std::string& b) {
                return b.find(what) != std::string::npos;
            });
        };
        QVERIFY(blocked("Output capacitors C7 C8"));
        job.plan.refits = {{RowId::OutputCapacitorVoltage, 35}};
        QVERIFY(!blocked("Output capacitors C7 C8"));
        QVERIFY(step(evaluated(job), "change.refit.output_capacitor_voltage").step.kind == StepKind::Touch);
        QVERIFY(blocked("Back-feed"));
        job.plan.accepted = {{RowId::BatteryBackFeed, "the charger stays on"}};
        QVERIFY(!blocked("Back-feed"));
        job.found.bulk.v_rated_v = 350;
        job.plan.accepted.push_back({RowId::BulkVoltage, "hope"});
        QVERIFY(blocked("Bulk capacitor"));
        job.found.bulk.v_rated_v.reset();
        QVERIFY(blocked("Read the bulk capacitor's rated voltage"));
    }

    /// A signature does not outlive what it was given for.
    void signature()
    {
        Job job = test::demoJob();
        job.plan.accepted = {{RowId::BatteryBackFeed, "the charger stays on"}};
        for (const StepView& view : evaluated(job).steps) {
            if (view.status == StepStatus::Done)
                continue;
            LogEntry tick{.id = nextLogId(job), .time_s = endOf(job), .kind = LogKind::Tick};
            tick.step = view.step.id;
            tick.text = view.step.fingerprint();
            job.log.push_back(std::move(tick));
        }
        QVERIFY(evaluated(job).blocks.empty());
        QVERIFY(!evaluated(job).signed_off);
        job.log.push_back({.id = nextLogId(job), .time_s = endOf(job), .kind = LogKind::SignedOff});
        QVERIFY(evaluated(job).signed_off);
        Job other = job;
        other.plan.chosen->network = Network(16e3);
        QVERIFY(!evaluated(other).signed_off);
        other = job;
        other.found.rails.front().capacitor.v_rated_v = 25;
        QVERIFY(!evaluated(other).signed_off);
    }

    /// Struck readings stay in the log and out of the figures.
    void strikes()
    {
        Job job = test::demoJob();
        for (const LogEntry& entry : std::vector<LogEntry>(job.log))
            if (entry.kind == LogKind::Reading && entry.stage == ReadingStage::Found &&
                entry.quantity == Quantity::Voltage) {
                LogEntry strike{.id = nextLogId(job), .time_s = endOf(job), .kind = LogKind::Strike};
                strike.text = entry.id;
                job.log.push_back(strike);
            }
        const Evaluation e = evaluated(job);
        QVERIFY(!e.before);
        QVERIFY(e.planned_range->max_v - e.planned_range->min_v > 1);
    }

    void schoolsHaveFigures()
    {
        const Job job = test::demoJob();
        const auto schools = planSchools(job, evaluated(job), figuresOf);
        QVERIFY(schools.size() >= 3);
        for (const School& school : schools) {
            QVERIFY(school.pick < school.sides.size());
            QVERIFY(!school.why.empty());
            for (const School::Side& side : school.sides)
                QVERIFY(!side.name.empty() && !side.figures.empty());
        }
    }

    /// A reading that answers no step is one after the change as soon as anything that alters the unit is
    /// done, whatever is still open.
    void stagesOfLooseReadings()
    {
        Evaluation e = evaluate(test::demoJob(), 0);
        const auto stage = [&e] { return stageOf({.id = "1", .time_s = 0, .kind = LogKind::Reading}, e); };
        const auto alters = [](const StepView& v) {
            return v.step.stage == Stage::Change && (v.step.worksInside() || !v.step.parts.empty());
        };
        for (StepView& view : e.steps)
            view.status = alters(view) ? StepStatus::Open : StepStatus::Done;
        QCOMPARE(stage(), ReadingStage::Found);
        std::ranges::find_if(e.steps, alters)->status = StepStatus::Done;
        QCOMPARE(stage(), ReadingStage::Measured);
        QVERIFY(std::ranges::count_if(e.steps, alters) > 1);
    }

    /// Nothing regulates an unregulated supply: a trimmer of it moves what the simulated chain gives nowhere.
    void nothingToTrim()
    {
        Job job = readJob(test::sourceFile("data/jobs/fog-signal-amplifier.offshoot"));
        const auto run = chainRunOf(job);
        const auto planned = [&] { return evaluate(job, 0, run ? &*run : nullptr).planned_v; };
        const auto before_v = planned();
        QVERIFY(before_v);
        job.plan.trim = TrimPlan{.trimmer = "RV1", .scale = 0.9};
        QVERIFY(planned() == before_v);
    }
};

REGISTER_TEST(TestEvaluation, void)
#include "tst_evaluation.moc"
