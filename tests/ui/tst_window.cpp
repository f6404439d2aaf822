// The window: keys that must work from anywhere, bad input that must stay, bench mode that must not change
// the isolation state, names for everything that takes the focus, and the report.
#include "bench/meter_stand_in.h"
#include "ui/driver.h"
#include "ui/fields/value_field.h"
#include "ui/found/found_page.h"
#include "ui/frame/bench_mode.h"
#include "ui/frame/command_palette.h"
#include "ui/signoff/report.h"
#include "ui/signoff/signoff_page.h"
#include "ui/test_folder.h"

#include <QDomDocument>
#include <QInputDialog>
#include <QListWidget>
#include <QMenu>
#include <QProcess>
#include <QSignalSpy>

using namespace offshoot;
using namespace offshoot::test;

class TestWindow : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

private Q_SLOTS:
    void initTestCase() { startWindowTests(); }
    void init() { m_folder.renew(); }

    void stagesByKey()
    {
        Driver d(m_folder.demo());
        for (int i = 1; i <= 6; ++i) {
            d.stage(i);
            QCOMPARE(static_cast<int>(d.window->stage()), i - 1);
        }
        // "/" from anywhere that does not take text.
        d.stage(3);
        d.find<QListView>(u"candidates"_s)->setFocus();
        d.press(Qt::Key_Slash);
        QCOMPARE(QApplication::focusWidget()->objectName(), u"logLine"_s);
    }

    /// Every stage in both looks and at every size: drawn, and every focusable widget has a name.
    void everythingIsNamed_data()
    {
        QTest::addColumn<bool>("empty");
        QTest::newRow("demo") << false;
        QTest::newRow("empty job") << true;
    }
    void everythingIsNamed()
    {
        QFETCH(bool, empty);
        Driver d(empty ? JobStore::untitled() : m_folder.demo());
        for (const QSize size : {QSize(1280, 800), QSize(1024, 700)}) {
            d.window->resize(size);
            d.window->look().setDark(size.width() < 1280);
            for (int i = 1; i <= 6; ++i) {
                d.stage(i);
                QApplication::processEvents();
                QVERIFY(!d.window->grab().isNull());
                for (QWidget* widget : d.window->findChildren<QWidget*>()) {
                    if (!widget->isVisible() || (widget->focusPolicy() & Qt::TabFocus) == 0 ||
                        widget->inherits("QScrollArea"))
                        continue;
                    const auto* button = qobject_cast<QAbstractButton*>(widget);
                    const bool named = !widget->accessibleName().isEmpty() ||
                                       (button != nullptr && !button->text().isEmpty());
                    QVERIFY2(named, qPrintable(u"%1 %2 in stage %3"_s
                                                   .arg(QLatin1String(widget->metaObject()->className()),
                                                        widget->objectName())
                                                   .arg(i)));
                    QVERIFY2(d.window->rect().contains(widget->mapTo(d.window.get(), QPoint(1, 1))) ||
                                 widget->visibleRegion().isEmpty(),
                             qPrintable(widget->objectName()));
                }
            }
        }
    }

    void palette()
    {
        Driver d(m_folder.demo());
        QSet<QString> texts;
        QSet<QKeySequence> keys;
        for (const QAction* action : d.window->everyAction()) {
            QVERIFY2(!texts.contains(action->text()), qPrintable(action->text()));
            texts.insert(action->text());
            for (const QKeySequence& key : action->shortcuts()) {
                QVERIFY2(key.isEmpty() || !keys.contains(key), qPrintable(key.toString()));
                keys.insert(key);
            }
        }
        ui::CommandPalette palette(d.window->everyAction(), d.window.get());
        palette.show();
        QTest::keyClicks(palette.findChild<QLineEdit*>(), u"bench"_s);
        QCOMPARE(palette.findChild<QListWidget*>()->count(), 1);
        QTest::keyClick(palette.findChild<QLineEdit*>(), Qt::Key_Return);
        QTRY_VERIFY(d.window->findChild<ui::BenchMode*>(u"benchMode"_s) != nullptr);
    }

    /// A dialog is written in its own window's ink, whatever another window looks like.
    void dialogsOfTwoLooks()
    {
        Driver dark(m_folder.demo());
        Driver light(JobStore::untitled());
        dark.window->look().setDark(true);
        light.window->look().setDark(true);
        light.window->look().setDark(false); // the last to set the application's palette
        const auto inkIn = [](QWidget* window) {
            QDialog dialog(window);
            auto* label = new QLabel(u"Slack water at four"_s, &dialog);
            auto* list = new QListWidget(&dialog);
            dialog.show();
            label->ensurePolished();
            list->ensurePolished();
            return std::pair(label->palette().color(QPalette::WindowText),
                             list->palette().color(QPalette::Text));
        };
        for (const Driver* d : {&dark, &light}) {
            const QColor ink = d->window->look().colours().ink;
            QCOMPARE(inkIn(d->window.get()), std::pair(ink, ink));
        }
    }

    /// What does not read stays in its field with a message, and the job is as it was.
    void badFields_data()
    {
        QTest::addColumn<int>("stage");
        QTest::addColumn<QString>("field");
        QTest::newRow("volts") << 1 << u"Voltage"_s;
        QTest::newRow("4,700") << 1 << u"Voltage"_s;
        QTest::newRow("-5") << 1 << u"Current"_s;
        QTest::newRow("120 %") << 1 << u"Spread ±"_s;
        QTest::newRow("red gold red") << 2 << u"legTop"_s;
        QTest::newRow("0") << 2 << u"legBottom"_s;
        QTest::newRow("smd 0000") << 2 << u"legBottom"_s;
        QTest::newRow("10k//22k") << 2 << u"legTop"_s;
    }
    void badFields()
    {
        QFETCH(int, stage);
        QFETCH(QString, field);
        const QString typed = QString::fromUtf8(QTest::currentDataTag());
        Driver d(m_folder.demo());
        d.stage(stage);
        const Job before = d.job();
        d.fill(field, typed);
        auto* line = d.find<QLineEdit>(field);
        QCOMPARE(line->text(), typed);
        QVERIFY(sameEdits(d.job(), before));
        bool said = false;
        for (const QLabel* label : line->parentWidget()->findChildren<QLabel*>())
            said = said || (label->isVisible() && !label->text().isEmpty());
        QVERIFY(said);
        // An edit elsewhere does not take it away either.
        d.window->session().edit(u"other"_s, [](Job& j) { j.need.why = "because"; });
        QCOMPARE(line->text(), typed);
    }

    void badLogLine()
    {
        Driver d(m_folder.demo());
        const std::size_t entries = d.job().log.size();
        d.log(u"bukl 3.2V"_s);
        auto* line = d.find<QLineEdit>(u"logLine"_s);
        QCOMPARE(line->text(), u"bukl 3.2V"_s);
        QVERIFY(line->accessibleDescription().contains(u"bulk"_s));
        QCOMPARE(d.job().log.size(), entries);
        QTest::keyClick(line, Qt::Key_Escape);
        QVERIFY(line->text().isEmpty());
        // A question first, then Enter again.
        d.log(u"bottom 2k17"_s);
        QVERIFY(line->text().isEmpty());
        QCOMPARE(d.job().log.size(), entries + 1);
    }

    /// Space accepts a reading's step; it never declares, powers or proves.
    void benchMode()
    {
        Driver d(m_folder.demo());
        d.press(Qt::Key_F11);
        auto* bench = d.window->findChild<ui::BenchMode*>(u"benchMode"_s);
        QVERIFY(bench != nullptr && bench->isVisible());
        const std::string first = bench->current()->step.id;
        QTest::keyClick(bench, Qt::Key_Space); // no reading yet: refused
        QCOMPARE(bench->current()->step.id, first);
        for (const char key : {'2', '7', '.', '6', '2'}) // the first one goes to the box by itself
            QTest::keyClick(QApplication::focusWidget(), key);
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
        QVERIFY(bench->current()->step.id != first);
        QTest::keyClick(bench, Qt::Key_Space); // the warm-up wait
        const Isolation before = d.evaluation().isolation.state;
        for (int i = 0; i < 20; ++i)
            QTest::keyClick(bench, Qt::Key_Space);
        for (const char key : {'u', 'n', 'p', 'l', 'u', 'g', 'g', 'e', 'd'})
            QTest::keyClick(QApplication::focusWidget(), key);
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
        QCOMPARE(d.evaluation().isolation.state, before);
        QVERIFY(d.evaluation().isolation.sources_off.empty());
        QTest::keyClick(bench, Qt::Key_Escape);
        QTRY_VERIFY(d.window->findChild<ui::BenchMode*>(u"benchMode"_s) == nullptr);
    }

    /// An attached meter: its reading rests and is taken by itself, once, and never for nothing; Space takes
    /// the next; the log line takes one too.
    void meter()
    {
        bench::MeterStandIn meter;
        QVERIFY(meter.listen(0));
        meter.show("VOLT", 0.002);
        Driver d(m_folder.demo());
        QVERIFY(!d.window->attachMeter(u"nowhere"_s));
        QVERIFY(d.window->message().contains(u"HOST:PORT"_s));
        QVERIFY(d.window->attachMeter(u"127.0.0.1:%1"_s.arg(meter.port())));
        d.press(Qt::Key_F11);
        auto* bench = d.window->findChild<ui::BenchMode*>(u"benchMode"_s);
        const std::string first = bench->current()->step.id;
        const auto entries = d.job().log.size();
        QTRY_VERIFY(d.window->meter().reading().has_value());
        const auto rest = [&] { // the clock is the test's: half a second for each reading
            for (int i = 0; i < 6; ++i) {
                QSignalSpy readings(&d.window->meter(), &bench::MeterLink::changed);
                QVERIFY(readings.wait());
                d.pass(0.5);
            }
        };
        rest();
        QCOMPARE(d.job().log.size(), entries); // lifted probes are no reading
        meter.show("VOLT", 27.62);
        rest();
        QVERIFY(bench->current()->step.id != first);
        const auto taken =
            std::ranges::find(d.job().log, first, [](const LogEntry& e) { return e.step.value_or(""); });
        QVERIFY(taken != d.job().log.end() && taken->kind == LogKind::Reading);
        QNEAR(*taken->value, 27.62, 1e-4);
        const auto count = d.job().log.size();
        rest();
        QVERIFY(d.job().log.size() <= count + 1); // a wait may tick, nothing more is read
        d.press(Qt::Key_Escape);
        d.press(Qt::Key_R, Qt::ControlModifier);
        QVERIFY(d.find<QLineEdit>(u"logLine"_s)->text().contains(u"27.62"_s));
        d.window->meter().detach();
    }

    /// Opening a consequence shows its working; another part takes the break away.
    void consequences()
    {
        Driver d(m_folder.demo());
        d.window->session().edit(u"weak capacitor"_s,
                                 [](Job& j) { j.found.rails.front().capacitor.v_rated_v = 25; });
        QCOMPARE(d.evaluation().counts.breaks, 2);
        auto* list = d.find<QListView>(u"consequences"_s);
        for (int i = 0; i < list->model()->rowCount(); ++i)
            if (list->model()->index(i, 0).data().toString().startsWith(u"Output capacitors"_s)) {
                list->setFocus();
                list->setCurrentIndex(list->model()->index(i, 0));
                QTest::keyClick(list, Qt::Key_Return);
                break;
            }
        answerDialog<QInputDialog>([](QInputDialog& dialog) {
            dialog.setTextValue(u"50V"_s);
            dialog.accept();
        });
        d.click(u"Fit another part"_s);
        QCOMPARE(d.evaluation().counts.breaks, 1);
        QCOMPARE(d.job().plan.refits.front().rating, 50.0);
    }

    /// A reading that breaks: the faults that explain it stand beside the step.
    void diagnosis()
    {
        Driver d(m_folder.demo());
        d.stage(5);
        d.log(u"out 24.05 @2A"_s);
        auto* label = d.find<QLabel>(u"diagnosis"_s);
        QVERIFY(label->text().contains(u"added"_s) && label->text().contains(u"open"_s));
    }

    void drawers()
    {
        Driver d(m_folder.demo());
        const QString csv = m_folder.file(u"drawer.csv"_s);
        QVERIFY(d.window->exportTo(u"drawer"_s, csv));
        const auto drawer = d.job().drawer;
        writeFile(csv, "ohm,tolerance\n15k,1 %\nred,1 %\n");
        QVERIFY(!d.window->importDrawer(csv));
        QVERIFY(d.window->message().contains(u"line 3"_s));
        QCOMPARE(d.job().drawer, drawer);
        writeFile(csv, "ohm,tolerance\n15k,1 %\n");
        QVERIFY(d.window->importDrawer(csv));
        QCOMPARE(d.job().drawer.size(), 1u);
        QVERIFY(!d.window->importDrawer(u"/no/such/file"_s));
        QVERIFY(!d.window->exportTo(u"html"_s, u"/no/such/folder/report.html"_s));
        QVERIFY(d.window->message().contains(u"/no/such/folder"_s));
    }

    void readings()
    {
        Driver d(m_folder.demo());
        const QString csv = m_folder.file(u"readings.csv"_s);
        QVERIFY(d.window->exportTo(u"readings"_s, csv));
        const auto count = [&] {
            return std::ranges::count_if(d.job().log,
                                         [](const LogEntry& e) { return e.kind == LogKind::Reading; });
        };
        const auto before = count();
        QVERIFY(d.window->importReadings(csv));
        QCOMPARE(count(), 2 * before);
    }

    void exportsSayUnsigned()
    {
        Driver d(m_folder.demo());
        const QString html = ui::reportHtml(d.job(), d.evaluation());
        QVERIFY(html.contains(u"Not signed off."_s));
        for (const QString& word :
             {u"Dunlin 60"_s, u"15k"_s, u"24.05"_s, u"27.60 to 27.82"_s, u"Mains potential"_s,
              u"Open points"_s, u"Back-feed"_s, u"dust blown out"_s})
            QVERIFY2(html.contains(word), qPrintable(word));
        Job awkward = d.job();
        awkward.title = "<b>&\"'";
        QVERIFY(!ui::reportHtml(awkward, d.evaluation()).contains(u"<b>&\""_s));
        QDomDocument label;
        QVERIFY(label.setContent(ui::labelSvg(awkward, d.evaluation(), u"2026-11-26"_s)));
        QCOMPARE(label.documentElement().attribute(u"width"_s), u"70mm"_s);
        QVERIFY(ui::labelSvg(d.job(), d.evaluation(), u"2026-11-26"_s).contains(u"NOT SIGNED OFF"_s));
        const QString pdf = m_folder.file(u"report.pdf"_s);
        QVERIFY(d.window->exportTo(u"pdf"_s, pdf));
        QProcess reader;
        reader.start(u"pdftotext"_s, {u"-layout"_s, pdf, u"-"_s});
        if (!reader.waitForStarted())
            QSKIP("pdftotext is not installed");
        QVERIFY(reader.waitForFinished());
        const QStringList pages =
            QString::fromUtf8(reader.readAllStandardOutput()).split(u'\f', Qt::SkipEmptyParts);
        QVERIFY(pages.size() >= 2);
        for (const QString& page : pages)
            QVERIFY(page.contains(u"NOT SIGNED OFF"_s));
    }

    void anotherUnit()
    {
        Driver d(m_folder.demo());
        d.stage(6);
        d.click(u"Same change on another unit"_s);
        for (QWidget* widget : QApplication::topLevelWidgets())
            if (auto* window = qobject_cast<ui::MainWindow*>(widget);
                window != nullptr && window != d.window.get()) {
                QCOMPARE(window->session().job().plan.chosen, d.job().plan.chosen);
                QVERIFY(std::ranges::none_of(window->session().job().log,
                                             [](const LogEntry& e) { return e.kind == LogKind::Reading; }));
                window->close();
                return;
            }
        QFAIL("no other window came");
    }

    /// What is made larger stands as if it had been built so.
    void scalesAll()
    {
        const auto sizes = [](const Driver& d) {
            d.visit();
            QStringList list;
            for (const QWidget* w : d.window->findChildren<QWidget*>()) {
                const QLatin1StringView kind(w->metaObject()->className());
                if (kind != "QWidget"_L1 &&
                    !w->objectName().startsWith(u"qt_"_s)) // these follow what they hold
                    list << u"%1 %2 %3x%4 to %5x%6"_s.arg(kind, w->accessibleName())
                                .arg(w->minimumWidth())
                                .arg(w->minimumHeight())
                                .arg(w->maximumWidth())
                                .arg(w->maximumHeight());
            }
            list.sort(); // the Tab order of a page that was built later is another
            return list;
        };
        const auto built = [&] { return sizes(Driver(m_folder.demo(), {1280, 800}, 130)); }();
        Driver d(m_folder.demo());
        QVERIFY(sizes(d) != built);
        d.window->look().setPercent(130);
        QCOMPARE(sizes(d), built);
    }

    void scales()
    {
        Driver d(m_folder.demo());
        for (int i = 0; i < 10; ++i)
            d.press(Qt::Key_Plus, Qt::ControlModifier);
        QCOMPARE(d.window->look().percent(), 160);
        QVERIFY(!d.window->grab().isNull());
        d.press(Qt::Key_0, Qt::ControlModifier);
        QCOMPARE(d.window->look().percent(), 100);
        d.press(Qt::Key_D, Qt::ControlModifier);
        QVERIFY(d.window->look().dark());
    }

    /// Legs as people read them.
    void legs_data()
    {
        QTest::addColumn<double>("ohm");
        QTest::newRow("22k") << 22e3;
        QTest::newRow("red red black red brown") << 22e3;
        QTest::newRow("red-green-green-brown-brown") << 2550.0;
        QTest::newRow("smd 223") << 22e3;
        QTest::newRow("smd 01C") << 10e3;
        QTest::newRow("10k||68k") << 1 / (1 / 10e3 + 1 / 68e3);
    }
    void legs()
    {
        QFETCH(double, ohm);
        const auto leg = ui::readLeg(QString::fromUtf8(QTest::currentDataTag()));
        QVERIFY2(leg.network.has_value(), qPrintable(leg.message));
        QNEAR(leg.network->ohm(), ohm, 1e-9);
    }
};

REGISTER_TEST(TestWindow, QApplication)
#include "tst_window.moc"
