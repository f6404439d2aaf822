// The workspaces beside the divider's, on their demo jobs: looked at, dragged, planned by keys, undone; the
// tables of rails, users, trimmers and wires; the branches of the power path.
#include "core/kinds/current_limit/current_limit_view.h"
#include "ui/driver.h"
#include "ui/fields/job_table.h"
#include "ui/fields/option_list.h"
#include "ui/frame/job_list.h"
#include "ui/load/load_page.h"
#include "ui/plan/plan_page.h"
#include "ui/test_folder.h"
#include "ui/trim/trim_page.h"
#include "ui/ways/ways_page.h"

#include <QAbstractItemModelTester>
#include <QLabel>
#include <QListWidget>
#include <QTableView>

using namespace offshoot;
using namespace offshoot::test;

class TestWorkspaces : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

    static QTableView* table(Driver& d, const QString& name) { return d.find<QTableView>(name); }
    static void typeCell(QTableView* view, int row, int column, const QString& text)
    {
        view->model()->setData(view->model()->index(row, column), text);
    }

private Q_SLOTS:
    void initTestCase() { startWindowTests(); }
    void init() { m_folder.renew(); }

    /// Every way stands in one list; looking at one previews what it brings, Enter plans it and opens its
    /// page; those that nothing asks for are folded.
    void waysByKeys()
    {
        Driver d(m_folder.job("lamp-room-clock"));
        d.window->session().edit(u"no plan"_s, [](Job& job) { job.plan = {}; });
        d.stage(3);
        d.window->planPage().show(ui::PlanKind::Ways);
        auto* page = d.window->findChild<ui::WaysPage*>();
        QTRY_VERIFY(!page->working() && d.shows(u"from 8.40 V to 9.00 V would do"_s));
        auto* list = d.find<ui::OptionList>(u"Ways, best first"_s);
        const auto text = [list](int row) {
            return list->model()->data(list->model()->index(row, 0), Qt::AccessibleTextRole).toString() +
                   list->model()->data(list->model()->index(row, 0), Qt::DisplayRole).toString();
        };
        QVERIFY2(text(0).contains(u"A module for its regulator: fits"_s), qPrintable(text(0)));
        const int concerned = list->model()->rowCount();
        d.click(u"that this need does not ask for"_s);
        QVERIFY(list->model()->rowCount() > concerned);
        QCOMPARE(static_cast<std::size_t>(list->model()->rowCount()), Words<Way>::list.size());
        list->setFocus();
        QTest::keyClick(list, Qt::Key_Down);
        QTest::keyClick(list, Qt::Key_Up);
        QVERIFY(d.window->session().previewing() && d.window->session().job().plan.module);
        QVERIFY(!d.window->session().edited().plan.module);
        QTest::keyClick(list, Qt::Key_Return);
        QVERIFY(!d.window->session().previewing() && d.job().plan.module);
        QCOMPARE(static_cast<int>(d.window->planPage().kind()), static_cast<int>(ui::PlanKind::Module));
        // An empty job says what is wanted first.
        Driver empty(JobStore::untitled());
        empty.stage(3);
        QTRY_VERIFY(empty.shows(u"Say in Need what the load wants"_s));
    }

    /// Each kind of change has its tab, says its answer, and marks what the plan holds.
    void kinds_data()
    {
        QTest::addColumn<QByteArray>("file");
        QTest::addColumn<int>("opens"); // the kind the plan holds
        QTest::newRow("beacon") << QByteArray("beacon-float-charge")
                                << static_cast<int>(ui::PlanKind::Retune);
        QTest::newRow("ferry") << QByteArray("ferry-shed-display") << static_cast<int>(ui::PlanKind::Load);
        QTest::newRow("rain") << QByteArray("rain-gauge-logger") << static_cast<int>(ui::PlanKind::Retune);
        QTest::newRow("splicing") << QByteArray("splicing-bench") << static_cast<int>(ui::PlanKind::Trim);
    }
    void kinds()
    {
        QFETCH(QByteArray, file);
        QFETCH(int, opens);
        Driver d(m_folder.job(file.constData()));
        d.stage(3);
        QCOMPARE(static_cast<int>(d.window->planPage().kind()), opens);
        for (const QSize size : {QSize(1280, 800), QSize(1024, 700)})
            for (const QString& tab :
                 {u"Divider"_s, u"Trim"_s, u"Minimum load"_s, u"Rewind"_s, u"Current limit"_s, u"Hiccup"_s}) {
                d.window->resize(size);
                d.click(tab);
                QVERIFY(!d.window->grab().isNull());
                QCOMPARE(d.window->size(), size); // nothing forces it wider
            }
        for (const QWidget* widget : d.window->findChildren<QWidget*>())
            if (widget->isVisible() && (widget->focusPolicy() & Qt::TabFocus) != 0 && widget->isEnabled())
                QVERIFY2(!widget->accessibleName().isEmpty() ||
                             qobject_cast<const QAbstractButton*>(widget) != nullptr ||
                             widget->metaObject()->className() == QByteArray("QScrollArea"),
                         widget->metaObject()->className());
    }

    /// Drag along the line previews every rail; Enter plans, undo takes back; the exact figure works too.
    void trim()
    {
        Driver d(m_folder.job("splicing-bench"));
        d.stage(3);
        auto* picture = d.find<ui::TrimPicture>(u"trimPicture"_s);
        const double planned = d.job().plan.trim->scale;
        QTest::mousePress(picture, Qt::LeftButton, {}, picture->rect().center());
        QTest::mouseMove(picture, picture->rect().center() + QPoint(60, -40));
        QVERIFY(d.job().plan.trim->scale != planned);
        QTest::mouseRelease(picture, Qt::LeftButton, {}, picture->rect().center() + QPoint(60, -40));
        const double dragged = d.job().plan.trim->scale;
        QVERIFY(dragged != planned);
        QVERIFY(within(dragged, 0.97, 1.06));
        const auto five = d.evaluation().rails.at(1);
        QVERIFY(five.planned != five.found); // it moves along
        picture->setFocus();
        QTest::keyClick(picture, Qt::Key_Home);
        QTest::keyClick(picture, Qt::Key_Return);
        QNEAR(d.job().plan.trim->scale, *trimView(d.job(), 0).result->best_scale);
        d.press(Qt::Key_Z, Qt::ControlModifier);
        QNEAR(d.job().plan.trim->scale, dragged);
        d.fill(u"Setting"_s, u"101 %"_s);
        QNEAR(d.job().plan.trim->scale, 1.01);
        d.fill(u"Setting"_s, u"lots"_s);
        QNEAR(d.job().plan.trim->scale, 1.01);
        // The plan's step asks for every rail.
        const auto& steps = d.evaluation().steps;
        const auto step =
            std::ranges::find_if(steps, [](const StepView& v) { return v.step.id == "bringup.trim"; });
        QVERIFY(step != steps.end());
        QCOMPARE(step->step.asks.size(), 4u);
    }

    /// A bank is looked at with the arrows and planned with Enter; the other school names every user.
    void dummyLoad()
    {
        Driver d(m_folder.job("ferry-shed-display"));
        d.stage(3);
        d.window->session().select(Station::Smoothing, 1);
        auto* banks = d.find<ui::OptionList>(u"Resistor banks from the drawer"_s);
        QVERIFY(banks->model()->rowCount() > 1);
        QAbstractItemModelTester tester(banks->model());
        const std::string before = d.job().plan.dummy_load->network.text();
        banks->setFocus();
        QTest::keyClick(banks, Qt::Key_Home);
        QTest::keyClick(banks, Qt::Key_Down);
        QVERIFY(d.job().plan.dummy_load->network.text() != before);
        QCOMPARE(d.job().plan.dummy_load->rail, std::string("12V"));
        QTest::keyClick(banks, Qt::Key_Return);
        const std::string planned = d.job().plan.dummy_load->network.text();
        d.stage(1);
        QCOMPARE(d.job().plan.dummy_load->network.text(), planned);
        d.press(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(d.job().plan.dummy_load->network.text(), before);
        d.stage(3);
        // Drawn along in the picture, the bank nearest to the hand stands in the plan.
        auto* picture = d.find<ui::LoadPicture>(u"Rail voltage against load current"_s);
        QVERIFY(!picture->grab().isNull()); // painted once: it has its axes
        const auto amps = [&d] { return 12 / d.job().plan.dummy_load->network.ohm(); };
        const QPoint left(picture->width() / 5, picture->height() / 2);
        const QPoint right(picture->width() - 20, picture->height() / 2);
        QTest::mousePress(picture, Qt::LeftButton, {}, left);
        QTest::mouseMove(picture, right);
        const double drawn = amps();
        QTest::mouseRelease(picture, Qt::LeftButton, {}, right);
        QCOMPARE(amps(), drawn);
        QTest::mouseClick(picture, Qt::LeftButton, {}, left);
        QVERIFY(amps() < drawn);
        d.press(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(amps(), drawn);
        d.press(Qt::Key_Z, Qt::ControlModifier);
        d.click(u"Take the rail away"_s);
        bool named = false;
        for (const auto* label : d.window->findChildren<QLabel*>())
            named = named || (label->isVisible() && label->text().contains(u"Segment drivers"_s) &&
                              label->text().contains(u"every digit goes dark"_s));
        QVERIFY(named);
    }

    /// Other turns feed the controller again; the found number is the divider alone.
    void rewind()
    {
        Driver d(m_folder.job("rain-gauge-logger"));
        d.stage(3);
        d.click(u"Rewind"_s);
        auto* turns = d.find<ui::OptionList>(u"Whole turns"_s);
        turns->setFocus();
        QTest::keyClick(turns, Qt::Key_End); // the found number is the largest
        const auto starved = [&] {
            return std::ranges::any_of(d.evaluation().consequences.rows, [](const ConsequenceRow& r) {
                return r.id == RowId::AuxiliaryLow && r.verdict == Verdict::Breaks;
            });
        };
        QVERIFY(starved());
        QTest::keyClick(turns, Qt::Key_Return);
        QVERIFY(!d.job().plan.rewind && starved());
        d.press(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(d.job().plan.rewind->turns, 10);
        QVERIFY(!starved());
        d.fill(u"This rail's turns"_s, u"0"_s);
        QCOMPARE(*d.job().found.rails.front().winding.turns, 14);
    }

    void currentLimit()
    {
        Driver d(m_folder.job("splicing-bench"));
        d.stage(3);
        d.click(u"Current limit"_s);
        auto* shunts = d.find<ui::OptionList>(u"Shunts from the drawer"_s);
        shunts->setFocus();
        QTest::keyClick(shunts, Qt::Key_Home);
        QTest::keyClick(shunts, Qt::Key_Return);
        QVERIFY(d.job().plan.shunt.has_value());
        d.fill(u"Threshold"_s, u"0V1"_s);
        QNEAR(*d.job().found.current_limit.threshold->v_v, 0.1);
        d.fill(u"Threshold"_s, u""_s);
        QVERIFY(!d.job().found.current_limit.threshold);
        d.fill(u"Threshold"_s, u"80mV"_s);
        QNEAR(*d.job().found.current_limit.threshold->v_v, 0.08);
        const double limitA = *limitView(d.job(), d.evaluation()).result->i_limit_a;
        d.fill(u"its divider, top"_s, u"24k"_s); // no reference yet: kept as typed
        QVERIFY(!d.job().found.current_limit.threshold->top.has_value());
        d.fill(u"or its reference"_s, u"2V5"_s);
        d.fill(u"its divider, top"_s, u"60k5"_s);
        d.fill(u"its divider, bottom"_s, u"2k"_s);
        QNEAR(*limitView(d.job(), d.evaluation()).result->i_limit_a, limitA, 1e-6); // 2.5 V·2/62.5 = 80 mV
        QVERIFY(!d.job().found.current_limit.threshold->v_v.has_value());
    }

    void hiccup()
    {
        Driver d(m_folder.job("rain-gauge-logger"));
        d.stage(3);
        d.click(u"Hiccup"_s);
        QVERIFY(d.shows(u"The controller starves · likely"_s));
        QVERIFY(d.shows(u"It points to a controller that starves"_s));
        d.choose(u"Does it run without the lamp?"_s, u"yes"_s);
        QCOMPARE(d.job().hiccup.stops_lamp_out, std::optional(true));
        QVERIFY(d.shows(u"The controller starves · ruled out"_s));
        d.choose(u"Does it run without the lamp?"_s, u"not looked at"_s);
        QVERIFY(!d.job().hiccup.stops_lamp_out.has_value());
    }

    /// Tables take what people write, keep what does not read, and never make a job that cannot be read
    /// again.
    void tables()
    {
        Driver d(m_folder.job("splicing-bench"));
        d.stage(2);
        d.click(u"Rails"_s);
        auto* rails = table(d, u"Rails"_s);
        QAbstractItemModelTester tester(rails->model());
        const auto count = d.job().found.rails.size();
        typeCell(rails, 2, 3, u"3V35"_s);
        QNEAR(*d.job().found.rails[2].v_v, 3.35);
        typeCell(rails, 2, 3, u"three"_s);
        QNEAR(*d.job().found.rails[2].v_v, 3.35);
        QCOMPARE(rails->model()->index(2, 3).data().toString(), u"three"_s);
        typeCell(rails, 2, 0, u"12V"_s); // taken
        QCOMPARE(d.job().found.rails[2].name, std::string("3V3"));
        typeCell(rails, 2, 5, u"nobody"_s);
        QVERIFY(!d.job().found.rails[2].regulated_by.has_value());
        typeCell(rails, 1, 0, u"5 volts"_s); // its need follows the name
        QCOMPARE(d.job().need.others.front().rail, std::string("5 volts"));
        d.click(u"Add rail"_s);
        QCOMPARE(d.job().found.rails.size(), count + 1);
        rails->setCurrentIndex(rails->model()->index(static_cast<int>(count), 0));
        d.click(u"Remove rail"_s);
        QCOMPARE(d.job().found.rails.size(), count);
        auto* users = table(d, u"Who uses them"_s);
        typeCell(users, 0, 3, u"5A"_s);
        QNEAR(*d.job().found.rails[0].users[0].typical_a, 5);
        auto* wires = table(d, u"Wires"_s);
        typeCell(wires, 6, 2, u"sense"_s);
        QCOMPARE(d.job().found.wires[6].function, WireFunction::Sense);
        QVERIFY(!d.job().found.wires[6].measured);
        auto* trimmers = table(d, u"Trimmers"_s);
        typeCell(trimmers, 0, 3, u"103 %"_s);
        QNEAR(*d.job().found.trimmers[0].max_scale, 1.03);
        typeCell(trimmers, 0, 1, u"12V, nothing"_s);
        QVERIFY(d.job().found.trimmers[0].rails.empty());
        typeCell(rails, 1, 1, u"under change"_s); // it follows the first: not that one
        QCOMPARE(d.job().found.rails[0].name, std::string("12V"));
        typeCell(rails, 2, 1, u"under change"_s);
        QCOMPARE(d.job().found.rails[0].name, std::string("3V3"));
        QCOMPARE(readJob(writeJob(d.job())), d.job());
    }

    /// Every rail has a lane; a click or the arrows select it, and its ratings are the ones that are edited.
    void branches()
    {
        Driver d(m_folder.job("splicing-bench"));
        d.stage(2);
        auto* path = d.find<QWidget>(u"powerPath"_s);
        path->setFocus();
        QTest::keyClick(path, Qt::Key_Down);
        QTest::keyClick(path, Qt::Key_Down);
        QCOMPARE(d.window->session().selectedRail().name, std::string("3V3"));
        d.fill(u"Output capacitor voltage"_s, u"6V3"_s);
        QNEAR(*d.job().found.rails[2].capacitor.v_rated_v, 6.3);
        QTest::keyClick(path, Qt::Key_Up);
        QCOMPARE(d.window->session().selectedRail().name, std::string("5V"));
        d.fill(u"Rated current"_s, u"18A"_s);
        QNEAR(*d.job().found.rails[1].i_rated_a, 18);
        QNEAR(*d.job().found.rails[0].i_rated_a, 14);
    }

    /// Another topology asks for its own ratings.
    void topologyChangesTheCard()
    {
        Driver d(m_folder.job("splicing-bench"));
        d.stage(2);
        d.station(Station::Converter);
        d.choose(u"Topology"_s, u"boost"_s);
        QTRY_VERIFY(d.window->findChild<QLineEdit*>(u"Switch peak current"_s) != nullptr);
        d.fill(u"Switch peak current"_s, u"6A"_s);
        QNEAR(*d.job().found.regulator.i_peak_a, 6);
        // Without a loop nobody is asked for a divider.
        auto* reference = d.window->findChild<QComboBox*>(u"reference"_s);
        QVERIFY(reference->isVisible());
        d.choose(u"Topology"_s, u"transformer and rectifier, unregulated"_s);
        QTRY_VERIFY(!reference->isVisible());
    }

    void jobList()
    {
        for (const char* name : {"beacon-float-charge", "ferry-shed-display"})
            (void)m_folder.job(name);
        writeFile(m_folder.file(u"broken.offshoot"_s), "{");
        ui::JobList list(m_folder.file({}));
        auto* rows = list.findChild<QListWidget*>();
        QCOMPARE(rows->count(), 3);
        QTRY_VERIFY(rows->item(0)->text().startsWith(u"Beacon float charge\n"_s));
        QTRY_VERIFY(rows->item(1)->text().startsWith(u"broken.offshoot\n"_s)); // why it cannot be read
        Q_EMIT rows->itemActivated(rows->item(2));
        QVERIFY(list.chosen().endsWith(u"ferry-shed-display.offshoot"_s));
    }
};

REGISTER_TEST(TestWorkspaces, QApplication)
#include "tst_workspaces.moc"
