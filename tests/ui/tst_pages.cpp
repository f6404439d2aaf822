// Each workspace by its own controls: presets, inference, candidates, trimmer, consequences, procedure; then
// random keys and clicks over all of it.
#include "core/calculate/need_presets.h"
#include "ui/driver.h"
#include "ui/frame/bench_mode.h"
#include "ui/need/need_page.h"
#include "ui/test_folder.h"

#include <QInputDialog>
#include <QLabel>
#include <QMenu>
#include <QMessageBox>
#include <QTableView>
#include <algorithm>
#include <random>

using namespace offshoot;
using namespace offshoot::test;

class TestPages : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

    static void clickStation(Driver& d, int percent)
    {
        auto* path = d.find<QWidget>(u"powerPath"_s);
        QTest::mouseClick(path, Qt::LeftButton, {}, QPoint(path->width() * percent / 100, 20));
    }

private Q_SLOTS:
    void initTestCase() { startWindowTests(); }
    void init() { m_folder.renew(); }

    // ---- Need

    /// What the load draws is typed state by state; which state rules is said, a key makes it the need with
    /// its reason, and what contradicts itself stays with its message.
    void loadMeasured()
    {
        Driver d(m_folder.job("tide-house-cabinet"));
        d.stage(1);
        d.click(u"Measure the load"_s);
        QVERIFY(d.shows(u"state by state"_s));
        d.click(u"Add reading"_s);
        d.click(u"Add reading"_s);
        auto* table = d.find<QTableView>(u"What it draws"_s);
        const auto put = [table](int row, int column, const QString& text) {
            return table->model()->setData(table->model()->index(row, column), text, Qt::EditRole);
        };
        QVERIFY(put(0, 0, u"standby"_s) && put(0, 3, u"120mA"_s));
        QVERIFY(put(1, 0, u"starting"_s) && put(1, 4, u"3.1"_s) && put(1, 3, u"1.9"_s) &&
                put(1, 5, u"0.2s"_s));
        QVERIFY(put(1, 6, u"20mA"_s));
        put(1, 2, u"2.5"_s);
        QVERIFY(d.shows(u"what is usual lies between least and peak"_s));
        put(0, 0, u"starting"_s);
        QVERIFY(d.shows(u"this rail stands in that state already"_s));
        QVERIFY(d.shows(u"5V wants 1.92 A for good and 3.12 A at its peak: starting rules"_s));
        d.click(u"Take it as the need"_s);
        QVERIFY(std::abs(*d.job().need.current_a - 1.92) < 1e-12);
        QVERIFY(std::abs(*d.job().need.peak_a - 3.12) < 1e-12);
        QVERIFY(std::abs(*d.job().need.least_a - 0.12) < 1e-12);
        QVERIFY(d.job().need.why.find("measured: starting rules what is drawn for good") !=
                std::string::npos);
        const QString csv = m_folder.file(u"boot.csv"_s);
        writeFile(csv, "t,A\n0,0.5\n1,0.5\n1.1,3\n1.3,3\n1.4,0.5\n2,0.5\n");
        answerFileDialog(csv);
        d.click(u"Recording from CSV…"_s);
        const StateDraw& boot = d.job().need.measured.back();
        QCOMPARE(boot.state, std::string("boot"));
        QVERIFY(boot.least_a == 0.5 && boot.peak_a == 3 && std::abs(*boot.peak_s - 0.2) < 1e-9);
        QVERIFY2(std::abs(boot.usual_a - 0.875) < 1e-9, std::to_string(boot.usual_a).c_str());
        d.press(Qt::Key_Z, Qt::ControlModifier);
        const std::string why = d.job().need.why;
        d.click(u"Take it as the need"_s);
        QCOMPARE(d.job().need.why, why); // said once
    }

    void floatPreset_data()
    {
        QTest::addColumn<QString>("cells");
        QTest::addColumn<QString>("temperature");
        QTest::addColumn<double>("v"); // 0: refused
        QTest::newRow("the demo's") << u"12"_s << u"16 °C"_s << 27.6;
        QTest::newRow("six cells at 25") << u"6"_s << u"25C"_s << 13.6;
        QTest::newRow("in kelvin") << u"6"_s << u"298.15 K"_s << 13.6;
        QTest::newRow("hot") << u"24"_s << u"40 °C"_s << 53.3;
        QTest::newRow("no cells") << u"0"_s << u"25C"_s << 0.0;
        QTest::newRow("half a cell") << u"1.5"_s << u"25C"_s << 0.0;
        QTest::newRow("25 what") << u"6"_s << u"25"_s << 0.0;
    }
    void floatPreset()
    {
        QFETCH(QString, cells);
        QFETCH(QString, temperature);
        QFETCH(double, v);
        Driver d(JobStore::untitled());
        d.click(u"go on without"_s);
        d.fill(u"presetCells"_s, cells);
        d.fill(u"presetTemperature"_s, temperature);
        d.click(u"Float charge"_s);
        QCOMPARE(d.job().need.target.has_value(), v > 0);
        if (v == 0)
            return;
        QNEAR(d.job().need.target->v, v, 1e-9);
        QVERIFY(d.job().need.target->min_v < v && d.job().need.target->max_v > v);
        QCOMPARE(d.job().need.load.kind, LoadKind::Battery);
        QVERIFY(d.job().need.why.find(cells.toStdString()) != std::string::npos);
        QNEAR(floatVoltage(12, 298.15), 12 * 2.27);
    }

    void platePreset()
    {
        Driver d(JobStore::untitled());
        d.click(u"go on without"_s);
        d.fill(u"Named voltage"_s, u"9V"_s);
        d.fill(u"Named tolerance"_s, u"10"_s);
        d.click(u"As its plate says"_s);
        QNEAR(d.job().need.target->min_v, 8.1);
        QNEAR(d.job().need.target->max_v, 9.9);
        d.fill(u"Named tolerance"_s, u"lots"_s);
        d.click(u"As its plate says"_s);
        QNEAR(d.job().need.target->max_v, 9.9);
        d.click(u"13.8 V"_s);
        QNEAR(d.job().need.target->v, 13.8);
        QVERIFY(!d.job().need.why.empty());
    }

    /// The window follows the voltage, keeps its order, and one field emptied takes it away.
    void windowFields()
    {
        Driver d(m_folder.demo());
        d.stage(1);
        d.fill(u"Voltage"_s, u"28V"_s);
        QNEAR(d.job().need.target->min_v, 27.7, 1e-9);
        QNEAR(d.job().need.target->max_v, 28.3, 1e-9);
        d.fill(u"at most"_s, u"27.9"_s);
        QVERIFY(d.job().need.target->v <= d.job().need.target->max_v);
        d.fill(u"Voltage"_s, QString());
        QVERIFY(!d.job().need.target);
        QVERIFY(d.evaluation().candidates.empty());
        d.press(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(d.job().need.target.has_value());
    }

    // ---- Found

    /// A leg nobody can read follows from the other one and the before-reading.
    void infers_data()
    {
        QTest::addColumn<bool>("top");
        QTest::newRow("top") << true;
        QTest::newRow("bottom") << false;
    }
    void infers()
    {
        QFETCH(bool, top);
        Driver d(m_folder.demo());
        d.stage(2);
        d.fill(top ? u"legTop"_s : u"legBottom"_s, QString());
        QVERIFY(!d.evaluation().divider);
        d.click(top ? u"Infer top"_s : u"Infer bottom"_s);
        QVERIFY(d.evaluation().divider.has_value());
        const Legs legs = d.evaluation().divider->nominal();
        QNEAR(top ? legs.top_ohm : legs.bottom_ohm, top ? 22e3 : 2550, 0.01);
        // Without the other leg it says what is missing.
        d.fill(u"legTop"_s, QString());
        d.fill(u"legBottom"_s, QString());
        d.click(u"Infer top"_s);
        QVERIFY(d.window->message().contains(u"other leg"_s));
    }

    /// A divider that cannot give the before-reading is said at once, where it was entered.
    void impossibleDivider()
    {
        Driver d(m_folder.demo());
        d.stage(2);
        d.fill(u"legBottom"_s, u"5k1"_s);
        QVERIFY(!d.evaluation().before_possible);
        const auto labels = d.window->findChildren<QLabel*>();
        QVERIFY(std::ranges::any_of(labels, [](const QLabel* l) {
            return l->isVisible() && l->text().contains(u"cannot give 24.05"_s);
        }));
    }

    /// Every station can be clicked and shows its own fields; keys reach them all.
    void stations()
    {
        Driver d(m_folder.demo());
        d.stage(2);
        std::set<Station> seen;
        for (int percent = 6; percent < 100; percent += 2) {
            clickStation(d, percent);
            seen.insert(d.window->session().selected());
        }
        QCOMPARE(seen.size(), station_count - 1); // all but the feedback loop, which hangs below
        for (std::size_t i = 0; i < station_count; ++i) {
            d.station(static_cast<Station>(i));
            QCOMPARE(d.window->session().selected(), static_cast<Station>(i));
        }
        d.station(Station::Reservoir);
        d.fill(u"Bulk rated voltage"_s, u"350V"_s);
        QVERIFY(d.evaluation().counts.breaks >= 2);
    }

    /// Narrow windows merge stations into groups; none is lost.
    void groups()
    {
        Driver d(m_folder.demo());
        d.window->resize(1024, 700);
        QApplication::processEvents();
        std::set<Station> seen;
        for (int percent = 6; percent < 100; ++percent) {
            clickStation(d, percent);
            seen.insert(d.window->session().selected());
        }
        for (std::size_t i = 0; i < station_count; ++i)
            d.station(static_cast<Station>(i)); // by key a group opens on selection
        QVERIFY(seen.size() >= 8);
    }

    // ---- Plan

    void candidates()
    {
        Driver d(m_folder.demo());
        d.stage(3);
        auto* list = d.find<QListView>(u"candidates"_s);
        QVERIFY(list->model()->rowCount() > 20);
        const Job before = d.job();
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                          list->visualRect(list->model()->index(1, 0)).center());
        QVERIFY(d.job().plan.chosen != before.plan.chosen);  // looked at
        QVERIFY(!d.window->session().undoStack().canUndo()); // not planned
        QTest::mouseDClick(list->viewport(), Qt::LeftButton, {},
                           list->visualRect(list->model()->index(1, 0)).center());
        QVERIFY(d.window->session().undoStack().canUndo());
        QCOMPARE(d.evaluation().planned->option.network, d.evaluation().candidates[1].option.network);
        // Leaving the page ends a look.
        QTest::keyClick(list, Qt::Key_Down);
        d.stage(4);
        QCOMPARE(d.evaluation().planned->option.network, d.evaluation().candidates[1].option.network);
    }

    void ownNetwork()
    {
        Driver d(m_folder.demo());
        d.stage(3);
        auto* own = d.find<QLineEdit>(u"ownNetwork"_s);
        own->setFocus();
        QTest::keyClicks(own, u"33k||27k"_s);
        QTest::keyClick(own, Qt::Key_Return);
        QCOMPARE(d.job().plan.chosen->network.parts(), (std::vector<double>{33e3, 27e3}));
        QCOMPARE(d.job().plan.chosen->parts.size(), 2u);
        QTest::keyClicks(own, u"||"_s);
        QTest::keyClick(own, Qt::Key_Return);
        QCOMPARE(own->text(), u"33k||27k||"_s);
        QCOMPARE(d.job().plan.chosen->network.parts().size(), 2u);
    }

    void trimmer()
    {
        Driver d(m_folder.demo());
        d.stage(3);
        d.click(u"Temporary trimmer"_s);
        QCOMPARE(d.job().plan.route, Route::TemporaryTrimmer);
        d.choose(u"How the trimmer joins"_s, u"in series, top"_s);
        d.fill(u"Trimmer"_s, u"100R"_s);
        d.fill(u"Fixed in series"_s, u"0"_s);
        QVERIFY(!d.evaluation().trimmer->target_ohm);
        d.click(u"Take the usual"_s);
        QVERIFY(d.evaluation().trimmer->target_ohm.has_value());
        QVERIFY(*d.evaluation().trimmer->window_travel > 0.05);
        d.fill(u"Measured after trimming"_s, u"3k5"_s);
        QVERIFY(d.evaluation().trimmer->predicted_v.has_value());
        QVERIFY(!d.window->grab().isNull());
    }

    /// Accepting needs a reason; a break on the mains side cannot be accepted at all.
    void accepting()
    {
        Driver d(m_folder.demo());
        d.window->session().edit(u"weak"_s, [](Job& j) { j.found.bulk.v_rated_v = 350; });
        auto* list = d.find<QListView>(u"consequences"_s);
        const auto open = [&](const QString& begin) {
            for (int i = 0; i < list->model()->rowCount(); ++i)
                if (list->model()->index(i, 0).data().toString().startsWith(begin))
                    QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                                      list->visualRect(list->model()->index(i, 0)).topLeft() +
                                          QPoint(40, 15));
            QApplication::processEvents();
        };
        open(u"Bulk capacitor"_s);
        for (const auto* button : d.window->findChildren<QAbstractButton*>())
            QVERIFY(!button->isVisible() || button->text() != u"Accept…"_s);
        open(u"Back-feed"_s);
        answerDialog<QInputDialog>([](QInputDialog& dialog) { dialog.accept(); }); // no reason given
        d.click(u"Accept"_s);
        QVERIFY(d.job().plan.accepted.empty());
        answerDialog<QInputDialog>([](QInputDialog& dialog) {
            dialog.setTextValue(u"the charger stays on"_s);
            dialog.accept();
        });
        d.click(u"Accept"_s);
        QCOMPARE(d.job().plan.accepted.size(), 1u);
        QCOMPARE(d.job().plan.accepted.front().reason, std::string("the charger stays on"));
    }

    // ---- Change and bring-up

    void isolationControl()
    {
        Driver d(m_folder.demo());
        auto* control = d.find<QAbstractButton>(u"isolationControl"_s);
        QVERIFY(control->accessibleName().contains(u"ASSUMED LIVE"_s));
        const auto chooseFirst = [&] {
            QTimer::singleShot(100, qApp, [] {
                auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
                QVERIFY(menu != nullptr);
                QTest::keyClick(menu, Qt::Key_Down);
                QTest::keyClick(menu, Qt::Key_Return);
            });
            control->setFocus();
            QTest::keyClick(control, Qt::Key_Space);
        };
        chooseFirst();
        chooseFirst();
        QCOMPARE(d.evaluation().isolation.state, Isolation::Unproven);
        QVERIFY(control->accessibleName().contains(u"UNPLUGGED"_s));
        QVERIFY(control->accessibleName().contains(u"min"_s)); // the countdown
        d.pass(1000);
        d.log(u"note a while later"_s);
        QVERIFY(control->accessibleName().contains(u"measure now"_s));
        for (const QString& line : {u"meter ok"_s, u"bulk 2V"_s, u"24V 0.2V"_s, u"meter ok"_s})
            d.log(line);
        QVERIFY(control->accessibleName().contains(u"PROVEN DEAD"_s));
        d.log(u"bulk 14V"_s);
        QVERIFY(control->accessibleName().contains(u"UNPLUGGED"_s));
        d.log(u"live"_s);
        QVERIFY(control->accessibleName().contains(u"LIVE"_s) &&
                !control->accessibleName().contains(u"ASSUMED"_s));
    }

    /// Pre-power checks are looked at anew each time.
    void checksStartOver()
    {
        Driver d(m_folder.demo());
        d.window->session().edit(u"fuse"_s, [](Job& j) { j.found.fuse.value_a = 1.6; });
        d.stage(5);
        auto* view = d.procedure();
        auto* list = view->findChild<QListView*>(u"steps"_s);
        const auto& steps = d.evaluation().steps;
        const auto row = std::ranges::count_if(
            steps.begin(),
            std::ranges::find_if(steps, [](const StepView& v) { return v.step.id == "bringup.power_lamp"; }),
            [](const StepView& v) { return v.step.stage == Stage::BringUp; });
        list->setCurrentIndex(list->model()->index(static_cast<int>(row), 0));
        QApplication::processEvents();
        const auto boxes = [&] { return view->findChildren<QCheckBox*>(); };
        QVERIFY(boxes().size() >= 8);
        d.window->resize(1024, 700); // every word of it wraps
        QApplication::processEvents();
        const auto* area = view->findChild<QScrollArea*>();
        QVERIFY(area->widget()->minimumSizeHint().width() <= area->viewport()->width());
        for (auto* words : view->findChildren<QLabel*>())
            if (words->buddy() == boxes().front()) { // a click on the words is one on the box
                QTest::mouseClick(words, Qt::LeftButton);
                QVERIFY(boxes().front()->isChecked());
                QTest::mouseClick(words, Qt::LeftButton);
            }
        d.click(u"Power on"_s); // nothing checked
        QVERIFY(d.window->message().contains(u"pre-power"_s));
        for (auto* box : boxes())
            box->click();
        d.click(u"Power on"_s);
        d.window->session().edit(u"fuse"_s, [](Job& j) { j.found.fuse.value_a = 3.15; });
        list->setCurrentIndex(list->model()->index(static_cast<int>(row), 0));
        QApplication::processEvents();
        QVERIFY(std::ranges::none_of(boxes(), [](const QCheckBox* box) { return box->isChecked(); }));
    }

    void countdown()
    {
        Driver d(m_folder.demo());
        d.stage(5);
        auto* list = d.procedure()->findChild<QListView*>(u"steps"_s);
        for (int i = 0; i < list->model()->rowCount(); ++i)
            if (list->model()->index(i, 0).data().toString().startsWith(u"Let it warm up"_s))
                list->setCurrentIndex(list->model()->index(i, 0));
        d.click(u"Start 15 min"_s);
        const auto shows = [&](const QString& text) {
            const auto labels = d.procedure()->findChildren<QLabel*>();
            return std::ranges::any_of(labels, [&](const QLabel* l) { return l->text().contains(text); });
        };
        QVERIFY(shows(u"15 min"_s));
        d.pass(901);
        d.log(u"note waited"_s);
        QVERIFY(shows(u"measure now"_s));
    }

    // ---- all of it

    /// Random keys, clicks and log lines: nothing crashes, the log only grows, and undo leads back.
    void monkey_data()
    {
        QTest::addColumn<unsigned>("seed");
        for (unsigned seed : {1u, 2u, 3u})
            QTest::addRow("seed %u", seed) << seed;
    }
    void monkey()
    {
        QFETCH(unsigned, seed);
        Driver d(seed == 2 ? JobStore::untitled() : m_folder.demo());
        std::mt19937 random(seed);
        // Dialogs that come up are sent away again.
        QTimer away;
        connect(&away, &QTimer::timeout, this, [] {
            if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget()))
                dialog->reject();
            if (QWidget* popup = QApplication::activePopupWidget())
                popup->close();
        });
        away.start(20);
        const Job first = d.job();
        const std::vector<QString> texts{
            u"27V6"_s, u"4k7"_s, u"-"_s, u"1e99"_s, u"red red black red brown"_s, u"µΩ√"_s, u"0"_s, u"5 %"_s};
        const std::vector<QString> lines{u"out 24.1 @1A"_s, u"bulk 3V"_s,   u"unplugged"_s,
                                         u"battery off"_s,  u"meter ok"_s,  u"lamp flash"_s,
                                         u"live"_s,         u"strike L5"_s, u"earth 0.1R"_s,
                                         u"temp D5 60C"_s,  u"hunting"_s,   u"x y z"_s};
        const std::vector<Qt::Key> keys{Qt::Key_Tab,   Qt::Key_Down,   Qt::Key_Up,
                                        Qt::Key_Left,  Qt::Key_Right,  Qt::Key_Return,
                                        Qt::Key_Space, Qt::Key_Escape, Qt::Key_Home};
        std::size_t entries = first.log.size();
        for (int i = 0; i < 120; ++i) {
            d.pass(20);
            QWidget* focus =
                QApplication::focusWidget() != nullptr ? QApplication::focusWidget() : d.window.get();
            switch (random() % 6) {
            case 0:
                QTest::keyClick(focus, keys[random() % keys.size()]);
                break;
            case 1:
                d.window->showStage(static_cast<Stage>(random() % 6));
                break;
            case 2:
                QTest::mouseClick(
                    d.window.get(), Qt::LeftButton, {},
                    QPoint(static_cast<int>(random() % 1280), static_cast<int>(random() % 800)));
                break;
            case 3:
                if (auto* line = qobject_cast<QLineEdit*>(focus))
                    line->insert(texts[random() % texts.size()]);
                break;
            case 4:
                d.log(lines[random() % lines.size()]);
                break;
            default:
                if (auto* child = d.window->childAt(static_cast<int>(random() % 1280),
                                                    static_cast<int>(random() % 800));
                    child != nullptr && child->isEnabled())
                    QTest::mouseClick(child, Qt::LeftButton);
                break;
            }
            QVERIFY(d.job().log.size() >= entries);
            entries = d.job().log.size();
        }
        away.stop();
        d.window->session().clearPreview();
        while (d.window->session().undoStack().canUndo())
            d.window->session().undoStack().undo();
        QVERIFY(sameEdits(d.job(), first));
        QVERIFY(readJob(writeJob(d.job())) == d.job());
    }
};

REGISTER_TEST(TestPages, QApplication)
#include "tst_pages.moc"
