// Edits, undo, ticks and the log between store and views, without a window.
#include "support/support.h"
#include "ui/procedure/procedure_view.h"
#include "ui/retune/retune_page.h"
#include "ui/session.h"
#include "ui/test_folder.h"

#include <QAbstractItemModelTester>
#include <QDir>
#include <QProcess>
#include <QSignalSpy>
#include <algorithm>
#include <random>

using namespace offshoot;
using namespace offshoot::ui;
using namespace Qt::StringLiterals;

class TestSession : public QObject
{
    Q_OBJECT

    test::TestFolder m_folder;
    double m_now_s = 1.9e9;

    std::unique_ptr<JobSession> demo()
    {
        return std::make_unique<JobSession>(m_folder.demo(), [this] { return m_now_s; });
    }
    static bool type(JobSession& session, const char* text)
    {
        const LogLine line = readLogLine(text, session.job(), session.evaluation(), session.lastPoint());
        return line.entry && session.log(*line.entry);
    }

private Q_SLOTS:
    void init() { m_folder.renew(); }

    /// After any run of edits, undoing all gives the job before, redoing all the job after; the log only
    /// grows.
    void undoRedo()
    {
        const auto session = demo();
        const std::vector<std::function<void(Job&)>> edits{
            [](Job& j) { j.title += "x"; },
            [](Job& j) { j.need.current_a = j.need.current_a.value_or(1) + 0.1; },
            [](Job& j) { j.found.bulk.v_rated_v.reset(); },
            [](Job& j) { j.plan.chosen.reset(); },
            [](Job& j) { j.need.load.kind = LoadKind::Equipment; },
            [](Job& j) { j.drawer.pop_back(); },
            [](Job& j) {
                j.plan.refits.push_back({RowId::TripVoltage, 36});
            },
            [](Job&) {}};
        std::mt19937 random(71);
        const Job before = session->job();
        std::vector<Job> states{before};
        for (int i = 0; i < 40; ++i) {
            session->edit(u"edit"_s, edits[random() % edits.size()]);
            if (!sameEdits(session->job(), states.back()))
                states.push_back(session->job());
            if (i % 7 == 3)
                QVERIFY(type(*session, "note still here"));
        }
        const std::size_t entries = session->job().log.size();
        for (std::size_t i = states.size() - 1; i-- > 0;) {
            session->undoStack().undo();
            QVERIFY(sameEdits(session->job(), states[i]));
            QVERIFY(session->job().log.size() >= entries);
        }
        QVERIFY(!session->undoStack().canUndo());
        for (std::size_t i = 1; i < states.size(); ++i) {
            session->undoStack().redo();
            QVERIFY(sameEdits(session->job(), states[i]));
        }
        QVERIFY(std::ranges::count_if(session->job().log,
                                      [](const LogEntry& e) { return e.text == "still here"; }) == 6);
    }

    /// Steps of one drag are one edit; what ends where it began is none.
    void merging()
    {
        const auto session = demo();
        for (double a : {2.1, 2.2, 2.3})
            session->edit(
                u"drag"_s, [a](Job& j) { j.need.current_a = a; }, 1);
        QCOMPARE(session->undoStack().count(), 1);
        session->edit(
            u"drag"_s, [](Job& j) { j.need.current_a = 2.0; }, 1);
        QCOMPARE(session->undoStack().count(), 0);
    }

    /// A preview shows everything, changes nothing, and never reaches the disk.
    void previews()
    {
        const auto session = demo();
        const Job before = session->job();
        const double planned = session->evaluation().planned->option.v;
        session->preview([](Job& j) { j.plan.chosen->network = Network(16e3); });
        QVERIFY(session->evaluation().planned->option.v != planned);
        session->clearPreview();
        QCOMPARE(session->job(), before);
        QCOMPARE(session->evaluation().planned->option.v, planned);
        QVERIFY(!session->undoStack().canUndo());
    }

    /// What is looked at, left, taken, undone and done again is evaluated as if it were new, at whatever
    /// time.
    void evaluatedAsNew()
    {
        const auto said = [](const Evaluation& e) {
            std::vector<std::string> all = e.blocks;
            for (const StepView& view : e.steps) {
                all.insert(all.end(),
                           {view.step.title, view.step.detail, view.step.fingerprint(), view.refusal});
                all.push_back(std::to_string(static_cast<int>(view.status)));
            }
            for (const StationView& view : e.stations)
                all.push_back(std::to_string(static_cast<int>(view.verdict)) + view.found + view.planned);
            const IsolationView& i = e.isolation;
            for (const double at_s : {static_cast<double>(i.state), i.second_from_s.value_or(0),
                                      i.off_since_s.value_or(0), i.discharged_at_s.value_or(0)})
                all.push_back(std::to_string(at_s));
            return all;
        };
        const auto session = demo();
        const std::vector<std::function<void(Job&)>> changes{
            [](Job& j) { j.plan.chosen->network = Network(16e3); },
            [](Job& j) { j.plan.chosen->network = Network(15e3); },
            [](Job& j) { j.need.current_a = j.need.current_a.value_or(1) + 0.5; },
            [](Job& j) { j.found.bulk.v_rated_v = 35; }};
        std::mt19937 random(11);
        for (int i = 0; i < 120; ++i) {
            const auto& change = changes[random() % changes.size()];
            switch (random() % 8) {
            case 0:
                session->edit(u"edit"_s, change);
                break;
            case 1:
                session->preview(change);
                break;
            case 2:
                session->preview(change);
                session->edit(u"taken"_s, change);
                break;
            case 3:
                session->clearPreview();
                break;
            case 4:
            case 5:
                session->undoStack().undo();
                break;
            case 6:
                session->undoStack().redo();
                break;
            default:
                QVERIFY(type(*session, i % 3 == 0 ? "note x" : i % 3 == 1 ? "battery off" : "unplugged"));
                m_now_s += 7;
            }
            QCOMPARE(said(session->evaluation()),
                     said(evaluate(session->job(), m_now_s, session->chainRun())));
        }
    }

    /// Opened again it is live, whatever it was: also in a second window that can only read.
    void openedIsLive()
    {
        const auto session = demo();
        QCOMPARE(session->evaluation().isolation.state, Isolation::Live);
        for (const char* line : {"battery off", "unplugged", "meter ok", "bulk 2V", "24V 0.1V", "meter ok"})
            QVERIFY2(type(*session, line), line);
        QCOMPARE(session->evaluation().isolation.state, Isolation::ProvenDead);
        QVERIFY(session->save());
        const auto second = demo();
        QVERIFY(second->store().readOnly());
        QCOMPARE(second->evaluation().isolation.state, Isolation::Live);
        QVERIFY(second->evaluation().isolation.assumed);
        QSignalSpy problems(second.get(), &JobSession::problem);
        second->edit(u"edit"_s, [](Job& j) { j.title = "no"; });
        QVERIFY(!type(*second, "note no"));
        QVERIFY(!second->save());
        QCOMPARE(problems.count(), 3);
        QCOMPARE(second->job().title, session->job().title);
    }

    /// A touching step ticks only when proven dead, a power step only with every check.
    void ticks()
    {
        const auto session = demo();
        session->edit(u"another part"_s, [](Job& j) {
            j.plan.chosen = ChosenNetwork{
                DividerMethod::ParallelBottom, Network(16e3), {{.ohm = 16e3, .tolerance = 0.01}}};
        });
        QSignalSpy problems(session.get(), &JobSession::problem);
        QVERIFY(!session->tick("change.fit"));
        QVERIFY(problems.takeFirst().front().toString().contains(u"live"_s));
        for (const char* line : {"battery off", "unplugged", "meter ok", "bulk 2V", "24V 0.1V", "meter ok"})
            QVERIFY(type(*session, line));
        QVERIFY(session->tick("change.fit"));
        QVERIFY(type(*session, "bottom 2200R +-20R"));
        QVERIFY(!session->tick("bringup.power_lamp", std::vector<bool>(20, true))); // nobody looked again
        QVERIFY(problems.takeLast().front().toString().contains(u"First: "_s));
        for (const char* id : {"change.measure", "change.inspect", "change.second_look"})
            QVERIFY2(session->tick(id), id);
        std::vector<bool> checks;
        for (const StepView& view : session->evaluation().steps)
            if (view.step.id == "bringup.power_lamp")
                checks.resize(view.step.checks.size(), true);
        checks.back() = false;
        QVERIFY(!session->tick("bringup.power_lamp", checks));
        QCOMPARE(session->evaluation().isolation.state, Isolation::ProvenDead);
        checks.back() = true;
        QVERIFY(session->tick("bringup.power_lamp", checks));
        QCOMPARE(session->evaluation().isolation.state, Isolation::Live);
        QVERIFY(!session->tick("no.such.step"));
    }

    /// Unplugging for a pause does not tick an isolate step of a later stage.
    void autoTickInOrderOnly()
    {
        const auto session = demo();
        session->edit(u"next"_s, [](Job& j) { j.found.earth_class = EarthClass::ClassII; });
        const auto open = [&] {
            return std::ranges::count_if(session->evaluation().steps, [](const StepView& v) {
                return v.step.kind == StepKind::Isolate && v.status != StepStatus::Done;
            });
        };
        const auto before = open();
        QVERIFY(type(*session, "battery off") && type(*session, "unplugged"));
        QCOMPARE(open(), before);
    }

    void modelsHold()
    {
        const auto session = demo();
        for (Stage stage : {Stage::Found, Stage::Change, Stage::BringUp, Stage::SignOff}) {
            StepModel steps(stage, *session);
            steps.take();
            QAbstractItemModelTester tester(&steps, QAbstractItemModelTester::FailureReportingMode::QtTest);
            QVERIFY(steps.rowCount() > 3);
            session->edit(u"battery"_s, [](Job& j) {
                j.need.load.kind =
                    j.need.load.kind == LoadKind::Battery ? LoadKind::Equipment : LoadKind::Battery;
            });
            steps.take();
            for (int i = 0; i < steps.rowCount(); ++i)
                QVERIFY(!steps.data(steps.index(i), Qt::DisplayRole).toString().isEmpty());
        }
        CandidateModel candidates(*session);
        QAbstractItemModelTester tester(&candidates, QAbstractItemModelTester::FailureReportingMode::QtTest);
        session->edit(u"fewer"_s, [](Job& j) { j.drawer.resize(5); });
        session->edit(u"none"_s, [](Job& j) { j.drawer.clear(); });
        QCOMPARE(candidates.rowCount(), 0);
    }

    /// The demo jobs are what living them makes.
    void demoIsMade()
    {
        QProcess process;
        process.start(QStringLiteral(OFFSHOOT_MAKE_DEMO), {m_folder.file({})});
        QVERIFY(process.waitForFinished(60000));
        QVERIFY2(process.exitCode() == 0, process.readAllStandardError());
        const QDir committed(QStringLiteral(OFFSHOOT_SOURCE_DIR "/data/jobs"));
        QStringList files = committed.entryList({u"*.offshoot"_s});
        QVERIFY(files.size() >= 10);
        for (const QString& folder : committed.entryList({u"*.captures"_s}))
            for (const QString& capture : QDir(committed.filePath(folder)).entryList({u"*.csv"_s}))
                files << folder + u'/' + capture;
        QVERIFY(files.filter(u".csv"_s).size() >= 3);
        for (const QString& job : files)
            QVERIFY2(readFile(m_folder.file(job)) == readFile(committed.filePath(job)),
                     qPrintable(job + u" is out of date: run tests/tools/remake"_s));
    }
};

REGISTER_TEST(TestSession, QCoreApplication)
#include "tst_session.moc"
