// Beside the steps: a readout held by hand, two meters whose readings carry their load, a reading over time,
// and the units of a batch taken in hand one by one.
#include "bench/meter_stand_in.h"
#include "ui/batch/board_page.h"
#include "ui/driver.h"
#include "ui/fields/job_table.h"
#include "ui/frame/bench_mode.h"
#include "ui/readouts/readouts_page.h"
#include "ui/recording/recording_run.h"
#include "ui/test_folder.h"

#include <QFileInfo>
#include <QTableView>

using namespace offshoot;
using namespace offshoot::test;
using namespace Qt::StringLiterals;

class TestBesideSteps : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

    static void settle(ui::BoardPage& board) { QTRY_VERIFY_WITH_TIMEOUT(!board.working(), 20000); }

private Q_SLOTS:
    void init() { m_folder.renew(); }

    /// Points typed into the table: the sentence says what cures it, and the accuracy can be taken over.
    void readout()
    {
        Driver d(m_folder.demo());
        d.window->showReadouts();
        d.click(u"My meter"_s);
        for (const auto& [shown, truth] :
             {std::pair(u"5.1"_s, u"5"_s), {u"12.24"_s, u"12"_s}, {u"30.6"_s, u"30"_s}}) {
            d.click(u"Add point"_s);
            auto* table = d.find<QTableView>(u"Points"_s);
            const int row = table->model()->rowCount() - 1;
            QVERIFY(table->model()->setData(table->model()->index(row, 0), shown, Qt::EditRole));
            QVERIFY(table->model()->setData(table->model()->index(row, 1), truth, Qt::EditRole));
        }
        QVERIFY(d.shows(u"its gain cures it"_s));
        const MeterAccuracy before = d.job().meter.volts;
        d.click(u"Take it as the meter's"_s);
        QVERIFY(d.job().meter.volts.reading_fraction > before.reading_fraction);
        QVERIFY(d.job().meter.volts.uncertainty(30.6) >= 0.6);
        d.click(u"Take it away"_s);
        QVERIFY(d.job().readouts.empty());
        d.window->session().undoStack().undo();
        QCOMPARE(d.job().readouts.size(), std::size_t{1});
        QCOMPARE(d.window->topic(), u"Readouts"_s);
    }

    /// A readout of the planned front stands there by itself; its points are the plan's.
    void frontReadout()
    {
        Driver d(m_folder.job("sample-bath"));
        const auto front = [&] { return d.job().plan.rehouse->readouts.front(); };
        const std::size_t count = front().points.size();
        d.window->showReadouts();
        d.click(u"Add point"_s);
        QCOMPARE(front().points.size(), count + 1);
        auto* table = d.find<QTableView>(u"Points"_s);
        const int row = table->model()->rowCount() - 1;
        const auto type = [&](int column, const QString& text) {
            return table->model()->setData(table->model()->index(row, column), text, Qt::EditRole);
        };
        QVERIFY(type(0, u"5.1"_s) && type(1, u"5"_s) && type(2, u"20mV"_s));
        QCOMPARE(front().points.back().u, std::optional(0.02));
        QVERIFY(!type(2, u"much"_s));
        QCOMPARE(front().points.back().u, std::optional(0.02));
    }

    /// In bench mode the amperes of the second meter stand behind the volts by themselves.
    void twoMeters()
    {
        bench::MeterStandIn volts;
        bench::MeterStandIn amps;
        QVERIFY(volts.listen(0) && amps.listen(0));
        volts.show("VOLT", 27.62);
        amps.show("CURR", 2.1);
        Driver d(m_folder.demo());
        QVERIFY(d.window->attachMeter(u"127.0.0.1:%1"_s.arg(volts.port()), 0));
        QVERIFY(d.window->attachMeter(u"127.0.0.1:%1"_s.arg(amps.port()), 1));
        QTRY_VERIFY(d.window->meters().loadA().has_value());
        d.press(Qt::Key_R, Qt::ControlModifier);
        const QString line = d.find<QLineEdit>(u"logLine"_s)->text();
        QVERIFY2(line.contains(u"27.62"_s) && line.contains(u"@2.1"_s), qPrintable(line));
        d.press(Qt::Key_Escape);
        d.press(Qt::Key_F11);
        const auto* bench = d.window->findChild<ui::BenchMode*>(u"benchMode"_s);
        QVERIFY(bench != nullptr);
        const auto entries = d.job().log.size();
        d.press(Qt::Key_Space);
        QVERIFY2(d.job().log.size() > entries, qPrintable(bench->hint()));
        const LogEntry& taken = d.job().log[entries];
        QVERIFY(taken.load);
        QNEAR(taken.load->value, 2.1, 1e-3);
    }

    /// It ends by its rule; the log has the summary, the file every point.
    void overTime()
    {
        bench::MeterStandIn meter;
        QVERIFY(meter.listen(0));
        meter.show("VOLT", 20);
        Driver d(m_folder.demo());
        d.window->showRecording();
        d.click(u"Record"_s);
        QVERIFY(d.window->message().contains(u"attach one first"_s));
        QVERIFY(d.window->attachMeter(u"127.0.0.1:%1"_s.arg(meter.port())));
        QTRY_VERIFY(d.window->meter().reading().has_value());
        d.fill(u"or once within"_s, u"10mV"_s);
        d.click(u"Record"_s);
        QVERIFY(d.shows(u"Both say when it is steady"_s));
        d.fill(u"or once within"_s, QString());
        d.fill(u"or above"_s, u"much"_s);
        d.click(u"Record"_s);
        QVERIFY(!d.window->recording().running());
        d.fill(u"or above"_s, u"24V"_s);
        const auto entries = d.job().log.size();
        d.click(u"Record"_s);
        QVERIFY(d.window->recording().running());
        for (const double v : {21.0, 22.0, 23.0, 24.5}) {
            meter.show("VOLT", v);
            d.pass(2);
            QTRY_VERIFY(!d.window->recording().running() ||
                        std::abs(d.window->recording().recorder()->values().back() - v) < 1e-6);
        }
        QVERIFY(!d.window->recording().running());
        QCOMPARE(d.job().log.size(), entries + 1);
        const LogEntry& entry = d.job().log.back();
        QCOMPARE(entry.recording->ended, RecordingEnd::Reached);
        QNEAR(*entry.value, 24.5, 1e-6);
        QNEAR(entry.recording->first, 20, 1e-6);
        const QString path = QFileInfo(d.window->session().store().path()).path() + u'/' +
                             QString::fromStdString(entry.recording->file);
        QCOMPARE(readFile(path).count('\n'), entry.recording->count + 1);
        QVERIFY(d.shows(u"its bound was reached"_s));
        // A meter that goes away ends it, and what there was is kept.
        d.fill(u"or above"_s, QString());
        d.click(u"Record"_s);
        d.window->meter().detach();
        d.pass(40);
        QTRY_VERIFY_WITH_TIMEOUT(!d.window->recording().running(), 5000);
        QCOMPARE(d.job().log.back().recording->ended, RecordingEnd::MeterLost);
    }

    /// Units of a batch have their own isolation, steps and log; power at a second is refused.
    void batch()
    {
        Driver d(m_folder.job("rain-gauge-logger"));
        auto& board = d.window->showBoard();
        d.fill(u"Units side by side"_s, u"3"_s);
        settle(board);
        QCOMPARE(board.board().units.size(), std::size_t{3});
        ui::JobSession& session = d.window->session();
        const auto done = [&] {
            return std::ranges::count(d.evaluation().steps, StepStatus::Done, &StepView::status);
        };
        QVERIFY(done() > 0);
        auto* picture = d.find<ui::BoardPicture>(u"board"_s);
        picture->setFocus();
        QTest::keyClick(picture, Qt::Key_Down);
        QTest::keyClick(picture, Qt::Key_Return);
        QCOMPARE(session.unit(), std::size_t{2});
        QCOMPARE(done(), 0);
        QVERIFY(d.evaluation().isolation.state == Isolation::Live);
        d.log(u"note the second one hums"_s);
        QCOMPARE(session.whole().log.back().unit.value_or(""), std::string("2"));
        QCOMPARE(d.job().log.back().text.value_or(""), std::string("the second one hums"));
        d.log(u"18V 12.5 #1"_s); // said of another than the one in hand
        QVERIFY(!session.whole().log.back().unit);
        d.log(u"18V 12.4 #3"_s);
        QCOMPARE(session.whole().log.back().unit.value_or(""), std::string("3"));
        session.takeUnit(1);
        QVERIFY(done() > 0);
        QVERIFY(std::ranges::none_of(d.job().log,
                                     [](const LogEntry& e) { return e.text == "the second one hums"; }));
        // An edit is of all of them, and undone as ever.
        session.edit(u"title"_s, [](Job& job) { job.title = "other"; });
        session.takeUnit(3);
        QCOMPARE(d.job().title, std::string("other"));
        session.undoStack().undo();
        QVERIFY(d.job().title != "other");
        // Every unit unplugged; then one is powered, and the second refused.
        d.window->showBoard();
        d.click(u"Every unit is unplugged"_s);
        for (std::size_t unit = 1; unit <= 3; ++unit)
            QVERIFY(otherUnitsLive(session.whole(), unit, session.now()).empty());
        session.takeUnit(2);
        session.declareLive();
        session.takeUnit(1);
        const auto power = std::ranges::find_if(d.evaluation().steps, [](const StepView& v) {
            return v.step.kind == StepKind::Power && v.refusal.empty();
        });
        if (power != d.evaluation().steps.end()) {
            QVERIFY(!session.tick(power->step.id, std::vector<bool>(power->step.checks.size(), true)));
            QVERIFY(d.window->message().contains(u"Unit 2"_s));
        }
        // Saved and opened again each has its own.
        QVERIFY(session.save());
        const Job again = readJob(readFile(session.store().path()).toStdString());
        QCOMPARE(again.log, session.whole().log);
        session.takeUnit(9);
        QCOMPARE(session.unit(), std::size_t{3});
    }
};

REGISTER_TEST(TestBesideSteps, QApplication)
#include "tst_beside_steps.moc"
