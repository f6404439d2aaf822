// The laws of every procedure over all demo jobs, the jobs of tests/jobs, every combination of changes on
// each, and thousands of jobs drawn at random with a fixed seed; and the refusals that go with them.
#include "core/evaluate/mains_bearing.h"
#include "support/drawn_jobs.h"
#include "support/evaluated.h"
#include "support/job_files.h"
#include "support/laws.h"
#include "support/support.h"

#include <map>

using namespace offshoot;
using test::evaluated;

namespace {

Job fetched()
{
    QFETCH(QString, file);
    return readJob(test::sourceFile(qPrintable(file)));
}

const StepView& step(const Evaluation& e, const std::string& id)
{
    for (const StepView& view : e.steps)
        if (view.step.id == id)
            return view;
    qFatal("no step %s", id.c_str());
}

QByteArray joined(const std::vector<std::string>& lines)
{
    QByteArray text;
    for (const std::string& line : lines)
        text += QByteArray::fromStdString(line) + "\n";
    return text;
}

} // namespace

class TestLaws : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void jobs_data() { test::everyJobFile(); }
    void jobs()
    {
        const Job job = fetched();
        const auto found = test::breaches(job, evaluated(job));
        QVERIFY2(found.empty(), joined(found).constData());
    }

    void drawn()
    {
        constexpr int count = 3000;
        test::JobDrawer drawer(20261127);
        std::map<std::string, int> done;
        for (int i = 0; i < count; ++i) {
            const Job job = drawer.next();
            const Evaluation e = evaluated(job);
            const auto found = test::breaches(job, e);
            if (!found.empty())
                QFAIL(joined(found) + writeJob(job).c_str());
            for (const StepView& view : e.steps)
                for (const Does does : view.step.does)
                    ++done[std::string(word(does))];
        }
        // The draw reaches everything a procedure can do.
        for (const std::string_view name : Words<Does>::list) {
            static const std::set<std::string_view> of_later{"take_out", "mount",         "connect_wire",
                                                             "tug_test", "polarity_test", "label_wires"};
            if (!of_later.contains(name))
                QVERIFY2(done[std::string(name)] > 0 || name == "mount", name.data());
        }
    }

    /// Law 5: the newest earth reading counts, of every unit, and only one taken since the mains side was
    /// touched.
    void earth()
    {
        Job job = test::demoJob();
        const auto refusal = [&job] { return step(evaluated(job), "bringup.power_lamp").refusal; };
        const auto log = [&job](LogEntry entry) {
            entry.id = nextLogId(job);
            entry.time_s = job.log.back().time_s + 1;
            job.log.push_back(std::move(entry));
        };
        const auto earth = [&](double ohm, Quantity quantity, std::optional<std::string> unit = {}) {
            LogEntry entry{.id = {}, .time_s = 0, .kind = LogKind::Reading};
            entry.point = "earth";
            entry.quantity = quantity;
            entry.value = ohm;
            entry.unit = std::move(unit);
            log(std::move(entry));
        };
        QVERIFY2(refusal().find("earth reading") == std::string::npos, refusal().c_str());
        earth(3, Quantity::Resistance);
        QVERIFY(refusal().find("newest earth reading") != std::string::npos);
        earth(0.1, Quantity::Voltage); // volts are no ohms
        QVERIFY(refusal().find("newest earth reading") != std::string::npos);
        earth(0.1, Quantity::Resistance, "2"); // of another unit of the batch
        QVERIFY(refusal().find("newest earth reading") != std::string::npos);
        earth(0.1, Quantity::Resistance);
        QVERIFY(refusal().find("newest earth") == std::string::npos);
        LogEntry strike{.id = {}, .time_s = 0, .kind = LogKind::Strike};
        strike.text = job.log.back().id;
        log(std::move(strike));
        QVERIFY(refusal().find("newest earth reading") != std::string::npos);
        earth(0.1, Quantity::Resistance);
        job.plan.limiter = LimiterPlan{.r_ohm = 33};
        LogEntry tick{.id = {}, .time_s = 0, .kind = LogKind::Tick};
        tick.step = "change.limiter";
        tick.text = step(evaluated(job), "change.limiter").step.fingerprint();
        log(std::move(tick));
        QVERIFY(refusal().find("again") != std::string::npos);
        earth(0.1, Quantity::Resistance);
        QVERIFY(refusal().find("again") == std::string::npos);
    }

    /// Law 4: what was read of the mains side decides whether it is powered as found.
    void bearing_data()
    {
        QTest::addColumn<QByteArray>("what");
        QTest::addColumn<QByteArray>("verdict");
        const auto row = [](const char* what, const char* verdict) {
            QTest::addRow("%s", what) << QByteArray(what) << QByteArray(verdict);
        };
        row("parts read", "fits");
        row("no part read", "unknown");
        row("no part read, label", "tight");
        row("X capacitor of 125 V", "breaks");
        row("selector at 115", "breaks");
        row("selector at 220-240", "fits");
        row("doubler of 200 V capacitors", "breaks");
        row("DC-fed", "fits");
        row("sealed with a label", "tight");
        row("sealed without", "unknown");
        row("one primary of 115 V", "breaks");
        row("two primaries of 115 V", "unknown");
    }
    void bearing()
    {
        QFETCH(QByteArray, what);
        QFETCH(QByteArray, verdict);
        Job job = test::demoJob();
        Supply& s = job.found;
        const Clue label{.part = "label", .kind = ClueKind::Label, .min_v = 220.0, .max_v = 240.0};
        s.mains_side.clues.clear();
        if (what.startsWith("no part read")) {
            s.bulk.v_rated_v.reset();
            s.fuse.v_rated_v.reset();
        }
        if (what.endsWith("label"))
            s.mains_side.clues = {label};
        if (what.startsWith("X capacitor"))
            s.mains_side.clues = {label, {.part = "X1", .kind = ClueKind::XCap, .rating_v = 125.0}};
        if (what.startsWith("selector"))
            s.mains_side.transformer.selector = what.mid(12).toStdString();
        if (what.startsWith("doubler")) {
            s.input.kind = InputKind::Doubler;
            s.bulk.v_rated_v = 200;
        }
        if (what == "DC-fed")
            s.topology = Topology::Buck;
        if (what.startsWith("sealed"))
            s.topology = Topology::SealedModule;
        if (what == "sealed with a label")
            s.mains_side.clues = {label};
        if (what.endsWith("of 115 V")) {
            s.topology = Topology::Linear;
            s.mains_side.transformer.f_rated_hz = 50;
            s.mains_side.transformer.primaries = {{.name = "A", .start = "a", .end = "b", .v_v = 115}};
            if (what.startsWith("two"))
                s.mains_side.transformer.primaries.push_back(
                    {.name = "B", .start = "c", .end = "d", .v_v = 115});
        }
        const MainsBearing bearing = bearsMains(job, 1, Condition::Found);
        QCOMPARE(QByteArray::fromStdString(std::string(word(bearing.verdict))), verdict);
        QVERIFY(!bearing.why.empty());
    }

    /// A change of any kind that was carried out stamps later readings; what a step is called drops no tick.
    void ticksKeepTheirMeaning()
    {
        Step a{
            .id = "x", .stage = Stage::Change, .kind = StepKind::Touch, .title = "Fit 15k", .detail = "so"};
        a.does = {Does::WorkOutputSide};
        a.parts = {"15k"};
        Step b = a;
        b.title = "Put 15k in";
        b.detail = "otherwise";
        QCOMPARE(a.fingerprint(), b.fingerprint());
        b.parts = {"16k"};
        QVERIFY(a.fingerprint() != b.fingerprint());
        b = a;
        b.does.push_back(Does::TakeOut);
        QVERIFY(a.fingerprint() != b.fingerprint());
        QVERIFY(a.namedBy("Fit 15k across the bottom leg|Short leads") &&
                !a.namedBy("Fit 16k across the bottom leg"));
    }
};

REGISTER_TEST(TestLaws, void)
#include "tst_laws.moc"
