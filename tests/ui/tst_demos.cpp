// Every demo job lived through from an empty log, without the window: what each step asks is typed as a
// person would, to the last step and the report. Every kind of change goes this way once.
#include "core/kinds/planned.h"
#include "support/support.h"
#include "ui/session.h"
#include "ui/signoff/report.h"
#include "ui/test_folder.h"

#include <QDir>
#include <algorithm>

using namespace offshoot;
using namespace offshoot::ui;
using namespace Qt::StringLiterals;

namespace {

/// What a good meter would show: the middle of the window.
std::string readingFor(const Asked& asked)
{
    if (asked.quantity == Quantity::Temperature)
        return asked.point + (asked.point == "temp" ? " rectifier 58C" : " 58C");
    const std::string unit = asked.quantity == Quantity::Resistance ? "R"
                             : asked.quantity == Quantity::Current  ? "A"
                             : asked.quantity == Quantity::Time     ? "s"
                                                                    : "V";
    double value = 0.04;
    if (asked.window && asked.window->min && asked.window->max)
        value = (*asked.window->min + *asked.window->max) / 2;
    else if (asked.window && (asked.window->min || asked.window->max))
        value = asked.window->max ? *asked.window->max / 2 : *asked.window->min * 1.1;
    const QString digits = QString::number(value, 'f', std::abs(value) < 0.01 ? 7 : 4);
    std::string text = asked.point + ' ' + digits.toStdString() + unit;
    if (asked.load_a)
        text += " @" + QString::number(*asked.load_a).toStdString() + 'A';
    if (asked.unit)
        text += " #" + *asked.unit;
    return text;
}

} // namespace

class TestDemos : public QObject
{
    Q_OBJECT

    test::TestFolder m_folder;
    double m_now_s = 1.9e9;

    /// Types a line; the reason when it is not taken.
    static QString type(JobSession& session, const std::string& text)
    {
        const LogLine line = readLogLine(text, session.job(), session.evaluation(), session.lastPoint());
        if (!line.entry)
            return QString::fromStdString(text + ": " + line.problem);
        return session.log(*line.entry) ? QString() : QString::fromStdString(text + " was refused");
    }

    QString prove(JobSession& session, const Step& step)
    {
        QString wrong;
        const auto all = [&](const char* volts) {
            wrong += type(session, "meter ok");
            for (const Asked& asked : step.asks)
                wrong += type(session, asked.point + volts + (asked.unit ? " #" + *asked.unit : ""));
            wrong += type(session, "meter ok");
        };
        all(" 2.1V");
        double waitS = 0;
        const auto reservoirs = session.evaluation().energy.reservoirs;
        for (const Reservoir& reservoir : reservoirs)
            waitS = std::max(waitS, reservoir.wait_s);
        m_now_s += waitS + 5;
        all(" 3V");
        return wrong;
    }

    /// Does what the step asks, as far as it can be done; what was in the way.
    QString live(JobSession& session, const Step& step)
    {
        QString wrong;
        m_now_s += 30 + step.wait_s.value_or(0);
        if (step.kind == StepKind::Isolate) {
            const auto sources = session.evaluation().energy.sources;
            for (const std::string& source : sources)
                session.declareOff(QString::fromStdString(source));
        }
        if (step.is(Does::Prove))
            wrong += prove(session, step);
        else if (step.kind != StepKind::Isolate && step.kind != StepKind::Power) {
            if (step.watches_lamp)
                wrong += type(session, "lamp flash");
            for (const Asked& asked : step.asks)
                wrong += type(session, readingFor(asked));
        }
        const auto done = [&] {
            return std::ranges::any_of(session.evaluation().steps, [&](const StepView& view) {
                return view.step.id == step.id && view.status == StepStatus::Done;
            });
        };
        if (!done() && !session.tick(step.id, std::vector<bool>(step.checks.size(), true)))
            wrong += u"not ticked: "_s + QString::fromStdString(step.id);
        return wrong;
    }

private Q_SLOTS:
    void init() { m_folder.renew(); }

    void wholeJobs_data()
    {
        QTest::addColumn<QString>("file");
        for (const QString& file :
             QDir(QStringLiteral(OFFSHOOT_SOURCE_DIR "/data/jobs")).entryList({u"*.offshoot"_s}))
            QTest::newRow(qPrintable(file.section(u'.', 0, 0))) << file;
    }
    void wholeJobs()
    {
        QFETCH(QString, file);
        Job job = readJob(test::sourceFile(("data/jobs/" + file.toStdString()).c_str()));
        const std::size_t planned = plannedChanges(job).size();
        job.log.clear();
        job.plan.accepted.clear();
        const QString path = m_folder.file(file);
        writeFile(path, QByteArray::fromStdString(writeJob(job)));
        JobSession session(JobStore::open(path), [this] { return m_now_s; });
        QTRY_VERIFY_WITH_TIMEOUT(!session.simulating(), 20000);

        std::size_t touched = 0;
        const std::size_t most = 2 * session.evaluation().steps.size();
        for (std::size_t i = 0; i < most; ++i) {
            const auto& steps = session.evaluation().steps;
            const auto open = std::ranges::find_if(
                steps, [](const StepView& view) { return view.status != StepStatus::Done; });
            if (open == steps.end())
                break;
            const Step step = open->step;
            touched += step.kind == StepKind::Touch ? 1 : 0;
            const QString wrong = live(session, step);
            QVERIFY2(wrong.isEmpty(), qPrintable(QString::fromStdString(step.id) + u": "_s + wrong));
        }
        const Evaluation& e = session.evaluation();
        for (const StepView& view : e.steps) {
            QVERIFY2(view.status == StepStatus::Done, view.step.id.c_str());
            for (std::size_t i = 0; i < view.readings.size(); ++i)
                if (view.readings[i] && view.step.asks[i].window)
                    QVERIFY2(view.readings[i]->judgement.verdict != Verdict::Breaks, view.step.id.c_str());
        }
        QVERIFY(touched >= 3 + planned);
        // What is left is for the person to answer: no step, no reading.
        for (const std::string& block : e.blocks)
            QVERIFY2(block.find("step") == std::string::npos, block.c_str());
        const bool answered = e.blocks.empty();
        if (answered)
            QVERIFY(session.signOff() && session.evaluation().signed_off);
        const QString report = reportHtml(session.job(), session.evaluation());
        QCOMPARE(report.contains(u"not signed off"_s, Qt::CaseInsensitive), !answered);
        for (const StepView& view : e.steps)
            for (const auto& reading : view.readings)
                QVERIFY(!reading || report.contains(QString::fromStdString(reading->id)));
    }
};

REGISTER_TEST(TestDemos, QCoreApplication)
#include "tst_demos.moc"
