// What leaves the program: the report as HTML and PDF, and the label, for jobs in every condition.
#include "core/evaluate/evaluation.h"
#include "core/kinds/chain/chain_view.h"
#include "core/supply/connections.h"
#include "support/support.h"
#include "ui/look.h"
#include "ui/signoff/report.h"

#include <QDomDocument>
#include <QGuiApplication>
#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <algorithm>
#include <map>

using namespace offshoot;
using namespace offshoot::ui;
using namespace Qt::StringLiterals;

namespace {

Evaluation evaluated(const Job& job)
{
    return evaluate(job, job.log.empty() ? 1.8e9 : job.log.back().time_s);
}

/// The demo job with every step ticked and its break accepted; signed when asked.
Job finished(bool sign)
{
    Job job = test::demoJob();
    job.plan.accepted = {{RowId::BatteryBackFeed, "the charger stays on"}};
    const double timeS = job.log.back().time_s + 60;
    for (const StepView& view : evaluated(job).steps) {
        if (view.status == StepStatus::Done)
            continue;
        for (const Asked& asked : view.step.asks) {
            LogEntry reading{.id = nextLogId(job), .time_s = timeS, .kind = LogKind::Reading};
            reading.step = view.step.id;
            reading.point = asked.point;
            reading.quantity = asked.quantity;
            const double low = asked.window ? asked.window->min.value_or(0) : 0;
            reading.value = asked.window ? (low + asked.window->max.value_or(low)) / 2 : 330;
            reading.uncertainty = 0.01;
            reading.stage = ReadingStage::Measured;
            reading.isolation = Isolation::Live;
            job.log.push_back(std::move(reading));
        }
        LogEntry tick{.id = nextLogId(job), .time_s = timeS, .kind = LogKind::Tick};
        tick.step = view.step.id;
        tick.text = view.step.fingerprint();
        job.log.push_back(std::move(tick));
    }
    if (sign)
        job.log.push_back({.id = nextLogId(job), .time_s = timeS, .kind = LogKind::SignedOff});
    return job;
}

QStringList pagesOf(const QString& pdf)
{
    QProcess reader;
    reader.start(u"pdftotext"_s, {u"-layout"_s, pdf, u"-"_s});
    if (!reader.waitForStarted() || !reader.waitForFinished())
        return {};
    return QString::fromUtf8(reader.readAllStandardOutput()).split(u'\f', Qt::SkipEmptyParts);
}

} // namespace

class TestReport : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void initTestCase() { loadFonts(); }

    /// Each kind in a plan has its picture, with the figures that are planned.
    void pictures_data()
    {
        QTest::addColumn<QByteArray>("file");
        QTest::addColumn<QByteArray>("title");
        QTest::addColumn<QByteArray>("figure");
        QTest::newRow("trim") << QByteArray("splicing-bench")
                              << QByteArray("Every rail that the trimmer moves")
                              << QByteArray("planned 12.42 V"); // 12.21 V at 2 A, turned up by 1.7 %
        QTest::newRow("shares") << QByteArray("hatch-heater")
                                << QByteArray("What each unit gives, up to its limit")
                                << QByteArray("planned 4.29 A");
        QTest::newRow("run") << QByteArray("mast-camera") << QByteArray("The voltage along the run")
                             << QByteArray("metres from the unit");
        QTest::newRow("surge") << QByteArray("fog-signal-amplifier") << QByteArray("The surge at switch-on")
                               << QByteArray("limited");
        QTest::newRow("chain") << QByteArray("barograph-amplifier") << QByteArray("One cycle at the load")
                               << QByteArray("milliseconds");
    }
    void pictures()
    {
        QFETCH(QByteArray, file);
        QFETCH(QByteArray, title);
        QFETCH(QByteArray, figure);
        const Job job = readJob(test::sourceFile(("data/jobs/" + file + ".offshoot").constData()));
        const auto run = chainRunOf(job);
        const ChainRun* ran = run ? &*run : nullptr;
        const QString html = reportHtml(job, evaluate(job, 2e9, ran), ran);
        const qsizetype at = html.indexOf(u"data-picture='"_s + QString::fromUtf8(title));
        QVERIFY(at > 0);
        QVERIFY(html.mid(at, html.indexOf(u"</svg>"_s, at) - at).contains(QString::fromUtf8(figure)));
    }

    /// Need, found, change, every reading, verdicts, parts used, cautions: all of it is there.
    void complete()
    {
        const Job job = finished(false);
        const QString html = reportHtml(job, evaluated(job));
        for (const char* heading :
             {"Need", "Found", "The path of the energy", "Change", "The work, step by step",
              "Before and after", "What it drags along", "Parts used, and to be got"})
            QVERIFY2(html.contains(u"<h2>"_s + QLatin1String(heading) + u"</h2>"_s), heading);
        const Evaluation e = evaluated(job);
        for (const LogEntry& entry : job.log)
            if (entry.kind == LogKind::Reading && (!entry.step || entry.step->starts_with("bringup")))
                QVERIFY2(html.contains(u"data-reading='"_s + QString::fromStdString(entry.id) + u"'"_s),
                         entry.id.c_str());
        for (const StepView& view : e.steps)
            for (const Caution caution : view.step.cautions)
                QVERIFY(
                    html.contains(QString::fromStdString(std::string(cautionText(caution).substr(0, 12)))));
        QVERIFY(html.indexOf(u"Open points"_s) < html.indexOf(u"<h2>Need"_s) || e.blocks.empty());
        for (const ConsequenceRow& row : evaluated(job).consequences.rows)
            QVERIFY2(html.contains(QString::fromStdString(row.part).toHtmlEscaped()), row.part.c_str());
        QVERIFY(html.contains(u"float charge of 12 lead-acid cells"_s));
        QVERIFY(html.contains(u"the charger stays on"_s));
        QVERIFY(html.contains(u"15k"_s) && html.contains(u"Parts used"_s));
    }

    /// From the report alone a program rebuilds the planned network and every step with its window.
    void repeatable()
    {
        const Job job = test::demoJob();
        const Evaluation e = evaluated(job);
        const QString html = reportHtml(job, e);
        const auto attributes = [](const QString& tag) {
            std::map<QString, QString> all;
            static const QRegularExpression pair(u"data-([a-z]+)='([^']*)'"_s);
            for (const auto& match : pair.globalMatch(tag))
                all[match.captured(1)] = match.captured(2);
            return all;
        };
        Connections rebuilt;
        std::vector<QString> ids;
        std::size_t windows = 0;
        static const QRegularExpression tags(u"<(tr|span)( data-[^>]*)>"_s);
        for (const auto& match : tags.globalMatch(html)) {
            const auto data = attributes(match.captured(2));
            if (data.contains(u"drawing"_s)) {
                ConnectedPart part{.name = data.at(u"part"_s).toStdString(),
                                   .kind = *enumFrom<PartKind>(data.at(u"kind"_s).toStdString()),
                                   .from = data.at(u"from"_s).toStdString(),
                                   .to = data.at(u"to"_s).toStdString()};
                if (data.contains(u"value"_s))
                    part.value = data.at(u"value"_s).toDouble();
                part.fate = *enumFrom<PartFate>(data.at(u"fate"_s).toStdString());
                rebuilt.parts.push_back(std::move(part));
            }
            if (data.contains(u"step"_s))
                ids.push_back(data.at(u"step"_s));
            if (data.contains(u"ask"_s) && (data.contains(u"min"_s) || data.contains(u"max"_s)))
                ++windows;
        }
        QNEAR(rebuilt.ohmBetween("reference", "return"), e.planned_legs->bottom_ohm, 1e-6);
        QNEAR(rebuilt.ohmBetween("reference", "output"), e.planned_legs->top_ohm, 1e-6);
        QCOMPARE(ids.size(), e.steps.size());
        std::size_t wanted = 0;
        for (std::size_t i = 0; i < ids.size(); ++i) {
            QCOMPARE(ids[i].toStdString(), e.steps[i].step.id);
            for (const Asked& asked : e.steps[i].step.asks)
                wanted += asked.window ? 1U : 0U;
        }
        QCOMPARE(windows, wanted);
    }

    void signedOrNot_data()
    {
        QTest::addColumn<bool>("sign");
        QTest::newRow("signed") << true;
        QTest::newRow("not signed") << false;
    }
    void signedOrNot()
    {
        QFETCH(bool, sign);
        const Job job = finished(sign);
        const Evaluation e = evaluated(job);
        QVERIFY2(e.blocks.empty(), e.blocks.empty() ? "" : e.blocks.front().c_str());
        QCOMPARE(e.signed_off, sign);
        QCOMPARE(reportHtml(job, e).contains(u"Not signed off"_s), !sign);
        QCOMPARE(labelSvg(job, e, u"2026-11-26"_s).contains(u"NOT SIGNED OFF"_s), !sign);
        const QTemporaryDir folder;
        const QString pdf = folder.filePath(u"report.pdf"_s);
        writeReportPdf(pdf, job, e);
        const QStringList pages = pagesOf(pdf);
        if (pages.isEmpty())
            QSKIP("pdftotext is not installed");
        for (const QString& page : pages)
            QCOMPARE(page.contains(u"NOT SIGNED OFF"_s), !sign);
        QVERIFY(pages.last().contains(u"page %1 of %1"_s.arg(pages.size())));
        QVERIFY(pages.join(QString()).contains(u"27.60 to 27.82"_s));
    }

    /// Found, planned and measured stand in that order, and a change within the meter's doubt is called none.
    void comparison()
    {
        Job job = finished(false);
        QString table = comparisonHtml(evaluated(job));
        QVERIFY(table.indexOf(u"found"_s) < table.indexOf(u"planned"_s) &&
                table.indexOf(u"planned"_s) < table.indexOf(u"measured"_s));
        QVERIFY(table.contains(u"changed by 3.6"_s));
        for (LogEntry& entry : job.log)
            if (entry.step == "bringup.no_load" && entry.kind == LogKind::Reading) {
                entry.value = 24.07;
                entry.uncertainty = 0.05;
            }
        table = comparisonHtml(evaluated(job));
        QVERIFY(table.contains(u"no difference beyond the meter"_s));
    }

    /// A struck reading stays in the report, as struck.
    void struck()
    {
        Job job = test::demoJob();
        const auto reading = std::ranges::find_if(
            job.log, [](const LogEntry& e) { return e.kind == LogKind::Reading && e.point == "mains"; });
        LogEntry strike{.id = nextLogId(job), .time_s = 2e9, .kind = LogKind::Strike};
        strike.text = reading->id;
        job.log.push_back(strike);
        QVERIFY(reportHtml(job, evaluated(job)).contains(u"<s>mains 232"_s));
    }

    /// Another part and what it answers are named with their ratings.
    void refits()
    {
        Job job = test::demoJob();
        job.plan.refits = {{RowId::OutputCapacitorVoltage, 50}, {RowId::TripVoltage, 36}};
        const QString html = reportHtml(job, evaluated(job));
        QVERIFY(html.contains(u"rated voltage 50"_s) && html.contains(u"trip voltage 36"_s));
    }

    /// Whatever is typed, the label is well-formed and of its size.
    void labels_data()
    {
        QTest::addColumn<QString>("title");
        for (const QString& title :
             {u"Beacon"_s, u"<&>\"'"_s, u"Ω µ √ 24 V"_s, QString(300, u'w'), QString()})
            QTest::addRow("%s", qPrintable(title.left(20))) << title;
    }
    void labels()
    {
        QFETCH(QString, title);
        Job job = test::demoJob();
        job.title = title.toStdString();
        job.found.name = job.title;
        QDomDocument svg;
        QVERIFY(svg.setContent(labelSvg(job, evaluated(job), u"2026-11-26"_s)));
        QCOMPARE(svg.documentElement().attribute(u"width"_s), u"70mm"_s);
        QCOMPARE(svg.documentElement().attribute(u"height"_s), u"36mm"_s);
        QVERIFY(svg.elementsByTagName(u"text"_s).size() >= 5);
        QVERIFY(!reportHtml(job, evaluated(job)).contains(u"<h1><&"_s));
    }

    /// An empty job has a report too.
    void emptyJob()
    {
        const Job job;
        const QString html = reportHtml(job, evaluated(job));
        QVERIFY(html.contains(u"Nothing is planned"_s) && html.contains(u"Open points"_s));
        QDomDocument svg;
        QVERIFY(svg.setContent(labelSvg(job, evaluated(job), u"2026-11-26"_s)));
    }
};

REGISTER_TEST(TestReport, QApplication)
#include "tst_report.moc"
