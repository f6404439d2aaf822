// Every action of the window by itself, with the dialogs it opens: what a person does with them, what happens
// when they are sent away, and what is said when a file is not there or is not what it should be.
#include "ui/driver.h"
#include "ui/frame/job_list.h"
#include "ui/frame/meter_dialog.h"
#include "ui/test_folder.h"

#include <QClipboard>
#include <QInputDialog>
#include <QListWidget>
#include <QMessageBox>

using namespace offshoot;
using namespace offshoot::test;

namespace {

void run(const Driver& d, const QString& text)
{
    QApplication::processEvents();
    for (QAction* action : d.window->actions())
        if (action->text() == text)
            return action->trigger();
    qFatal("no action is called %s", qPrintable(text));
}

/// The other windows of the program, closed when they go out of scope.
class Others
{
public:
    explicit Others(const Driver& d)
    {
        QApplication::processEvents();
        for (QWidget* widget : QApplication::topLevelWidgets())
            if (auto* window = qobject_cast<ui::MainWindow*>(widget);
                window != nullptr && window != d.window.get())
                m_windows.emplace_back(window);
    }
    std::size_t count() const { return m_windows.size(); }
    ui::MainWindow& one() const { return *m_windows.front(); }

private:
    std::vector<std::unique_ptr<ui::MainWindow>> m_windows;
};

void answerQuestions(QMessageBox::StandardButton button, int times)
{
    answerDialog<QMessageBox>([=](QMessageBox& box) {
        if (times > 1)
            answerQuestions(button, times - 1);
        box.button(button)->click();
    });
}

} // namespace

class TestActions : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

    /// Answers the next file dialog by sending it away.
    static void cancelFileDialog()
    {
        answerDialog<QFileDialog>([](QFileDialog& dialog) { dialog.reject(); });
    }

private Q_SLOTS:
    void initTestCase() { startWindowTests(); }
    void init() { m_folder.renew(); }

    /// Each has a text of its own and no two share a key.
    void named()
    {
        Driver d(m_folder.demo());
        QSet<QString> texts;
        QSet<QString> keys;
        for (const QAction* action : d.window->actions()) {
            QVERIFY2(!texts.contains(action->text()), qPrintable(action->text()));
            texts.insert(action->text());
            for (const QKeySequence& key : action->shortcuts()) {
                QVERIFY2(!keys.contains(key.toString()), qPrintable(action->text()));
                keys.insert(key.toString());
            }
        }
        QVERIFY(texts.size() > 30);
    }

    /// Sources are asked for one by one: only those that are said to be off are.
    void sourcesOff()
    {
        Driver d(m_folder.demo());
        const std::size_t sources = d.evaluation().isolation.sources_on.size();
        QVERIFY(sources >= 2);
        answerQuestions(QMessageBox::No, static_cast<int>(sources));
        run(d, u"Declare every source off"_s);
        QCOMPARE(d.evaluation().isolation.state, Isolation::Live);
        QCOMPARE(d.evaluation().isolation.sources_on.size(), sources);
        answerQuestions(QMessageBox::Yes, static_cast<int>(sources));
        run(d, u"Declare every source off"_s);
        QCOMPARE(d.evaluation().isolation.state, Isolation::Unproven);
        run(d, u"Meter proven on a known voltage"_s);
        QCOMPARE(d.job().log.back().kind, LogKind::MeterProven);
        run(d, u"It is live"_s);
        QCOMPARE(d.evaluation().isolation.state, Isolation::Live);
        run(d, u"Sign off"_s); // open points: refused, and said
        QVERIFY(!d.window->message().isEmpty());
        QVERIFY(d.job().log.back().kind != LogKind::SignedOff);
    }

    /// Another window opens in the look of the one that asked.
    void opening()
    {
        Driver d(m_folder.demo());
        d.window->look().set({.dark = true, .bandDigits = true, .percent = 120});
        (void)m_folder.job("mast-camera");
        cancelFileDialog();
        run(d, u"Open…"_s);
        QCOMPARE(Others(d).count(), 0u);
        answerFileDialog(m_folder.file(u"mast-camera.offshoot"_s));
        run(d, u"Open…"_s);
        {
            const Others others(d);
            QCOMPARE(others.count(), 1u);
            QCOMPARE(others.one().session().job().title, std::string("Mast camera"));
            QCOMPARE(others.one().session().evaluation().isolation.state, Isolation::Live);
            QVERIFY(others.one().look().setting() == d.window->look().setting());
        }
        writeFile(m_folder.file(u"damaged.offshoot"_s), "{\"format\": 1");
        QString said;
        answerFileDialog(m_folder.file(u"damaged.offshoot"_s));
        QTimer::singleShot(400, qApp, [&said] {
            answerDialog<QMessageBox>([&said](QMessageBox& box) {
                said = box.text();
                box.accept();
            });
        });
        run(d, u"Open…"_s);
        QTRY_VERIFY(!said.isEmpty());
        QVERIFY(said.contains(u"damaged"_s));
        QCOMPARE(Others(d).count(), 0u);
        answerDialog<ui::JobList>([](ui::JobList& list) {
            auto* rows = list.findChild<QListWidget*>();
            const auto camera = [rows] { return rows->findItems(u"Mast camera"_s, Qt::MatchStartsWith); };
            QVERIFY(QTest::qWaitFor([&] { return !camera().isEmpty(); })); // read in the background
            Q_EMIT rows->itemActivated(camera().front());
        });
        run(d, u"Jobs of this folder…"_s);
        QCOMPARE(Others(d).one().session().job().title, std::string("Mast camera"));
        run(d, u"New job"_s);
        const Others others(d);
        QVERIFY(others.one().look().setting() == d.window->look().setting());
        QVERIFY(!others.one().session().job().need.target);
        QVERIFY(others.one().session().store().path().isEmpty());
    }

    void saving()
    {
        Driver d(JobStore::untitled());
        d.window->session().edit(u"title"_s, [](Job& job) { job.title = "Lock lamp"; });
        cancelFileDialog();
        run(d, u"Save"_s);
        QVERIFY(d.window->session().store().path().isEmpty());
        answerFileDialog(m_folder.file(u"lamp"_s)); // the ending is added
        run(d, u"Save"_s);
        QCOMPARE(d.window->session().store().path(), m_folder.file(u"lamp.offshoot"_s));
        QCOMPARE(JobStore::open(m_folder.file(u"lamp.offshoot"_s)).loaded().title, std::string("Lock lamp"));
        d.window->session().edit(u"title"_s, [](Job& job) { job.title = "Lock lamp, again"; });
        QVERIFY(d.window->session().unsaved());
        run(d, u"Save"_s);
        QVERIFY(!d.window->session().unsaved());
        QVERIFY(d.window->message().contains(u"Saved"_s));
        answerFileDialog(m_folder.file(u"no/such/folder/lamp.offshoot"_s));
        run(d, u"Save as…"_s);
        QCOMPARE(d.window->session().store().path(), m_folder.file(u"lamp.offshoot"_s));
    }

    /// Files written by an action are read back by its counterpart.
    void files()
    {
        Driver d(m_folder.demo());
        const std::string drawer = writeDrawerCsv(d.job().drawer);
        answerFileDialog(m_folder.file(u"drawer.csv"_s));
        run(d, u"Drawer: export CSV…"_s);
        run(d, u"Drawer: E24 1 % and E12 5 %"_s);
        QVERIFY(d.job().drawer.size() > 200);
        answerFileDialog(m_folder.file(u"drawer.csv"_s));
        run(d, u"Drawer: import CSV…"_s);
        QCOMPARE(writeDrawerCsv(d.job().drawer), drawer);
        writeFile(m_folder.file(u"odd.csv"_s), "ohm,power_w\n1k,lots\n");
        answerFileDialog(m_folder.file(u"odd.csv"_s));
        run(d, u"Drawer: import CSV…"_s);
        QCOMPARE(writeDrawerCsv(d.job().drawer), drawer);
        QVERIFY(d.window->message().contains(u"line 2"_s));
        cancelFileDialog();
        run(d, u"Drawer: import CSV…"_s);
        QCOMPARE(writeDrawerCsv(d.job().drawer), drawer);

        answerFileDialog(m_folder.file(u"readings.csv"_s));
        run(d, u"Readings: export CSV…"_s);
        const auto readings = std::ranges::count(d.job().log, LogKind::Reading, &LogEntry::kind);
        const std::size_t entries = d.job().log.size();
        answerFileDialog(m_folder.file(u"readings.csv"_s));
        run(d, u"Readings: import CSV…"_s);
        QCOMPARE(d.job().log.size(), entries + static_cast<std::size_t>(readings));
        QVERIFY(d.job().log.back().imported.value_or(false));
        answerFileDialog(m_folder.file(u"drawer.csv"_s)); // no readings
        run(d, u"Readings: import CSV…"_s);
        QCOMPARE(d.job().log.size(), entries + static_cast<std::size_t>(readings));
        for (const auto& [action, file, begins] :
             {std::tuple{u"Report as HTML…"_s, u"report.html"_s, "<!DOCTYPE"},
              {u"Report as PDF…"_s, u"report.pdf"_s, "%PDF"},
              {u"Label as SVG…"_s, u"label.svg"_s, "<"}}) {
            answerFileDialog(m_folder.file(file));
            run(d, action);
            const QByteArray text = readFile(m_folder.file(file));
            QVERIFY2(text.size() > 500 && text.trimmed().startsWith(begins), text.left(40).constData());
            QVERIFY(d.window->message().contains(file));
        }
    }

    void anotherUnit()
    {
        Driver d(m_folder.demo());
        run(d, u"Same change on another unit"_s);
        const Others others(d);
        const Job& next = others.one().session().job();
        QVERIFY(next.plan.chosen == d.job().plan.chosen);
        QVERIFY(std::ranges::none_of(next.log, [](const LogEntry& e) { return e.kind == LogKind::Reading; }));
        QCOMPARE(others.one().session().evaluation().isolation.state, Isolation::Live);
    }

    void view()
    {
        Driver d(m_folder.demo());
        auto* list = d.find<QListView>(u"consequences"_s);
        run(d, u"Fold or unfold the consequences"_s);
        QVERIFY(!list->isVisible() || list->width() < 60);
        run(d, u"Fold or unfold the consequences"_s);
        QVERIFY(d.find<QListView>(u"consequences"_s)->width() > 200);
        const int height = d.window->look().px(100);
        for (int i = 0; i < 3; ++i)
            run(d, u"Larger"_s);
        QCOMPARE(d.window->look().px(100), height * 130 / 100);
        run(d, u"Normal size"_s);
        run(d, u"Smaller"_s);
        QVERIFY(d.window->look().percent() == 90);
        run(d, u"Digits beside colour bands"_s);
        QVERIFY(d.window->look().bandDigits());
        run(d, u"Dark or light"_s);
        QVERIFY(d.window->look().dark());
        run(d, u"Bench mode"_s);
        QVERIFY(d.find<QWidget>(u"benchMode"_s)->isVisible());
        run(d, u"Bench mode"_s);
    }

    void meter()
    {
        Driver d(m_folder.demo());
        run(d, u"Meter: take its reading"_s);
        QVERIFY(d.window->message().contains(u"No meter"_s));
        answerDialog<QInputDialog>([](QInputDialog& dialog) {
            dialog.setTextValue(u"somewhere"_s);
            dialog.accept();
        });
        run(d, u"Meter: attach…"_s);
        QVERIFY(d.window->message().contains(u"HOST:PORT"_s));
        QString kept;
        answerDialog<QInputDialog>([&kept](QInputDialog& dialog) {
            kept = dialog.textValue();
            dialog.reject();
        });
        run(d, u"Meter: attach…"_s);
        QCOMPARE(kept, u"somewhere"_s); // what was typed is not lost
        run(d, u"Meters: detach"_s);
        // Its accuracy counts for the readings it takes.
        const double before_v = d.job().meter.uncertainty(24, Quantity::Voltage);
        answerDialog<ui::MeterDialog>([](ui::MeterDialog& dialog) {
            auto* share = dialog.findChild<QLineEdit*>(u"Volts, of the reading"_s);
            share->setText(u"2 %"_s); // as in Driver::fill: a busy machine gives the dialog no focus yet
            share->setModified(true);
            Q_EMIT share->editingFinished();
            dialog.accept();
        });
        run(d, u"Meter: its accuracy…"_s);
        QNEAR(d.job().meter.uncertainty(24, Quantity::Voltage), before_v + 24 * 0.015);
        d.window->session().undoStack().undo();
        QNEAR(d.job().meter.uncertainty(24, Quantity::Voltage), before_v);
        QApplication::clipboard()->setText(u"  24V\n 24.03 "_s);
        run(d, u"Log line: take the clipboard"_s);
        QCOMPARE(d.find<QLineEdit>(u"logLine"_s)->text(), u"24V 24.03"_s);
    }
};

REGISTER_TEST(TestActions, QApplication)
#include "tst_actions.moc"
