// Units side by side and stacked, the run to the load, and the mains side, in the real window: dragged,
// clicked, planned by keys, typed wrongly, undone; and the procedure that follows.
#include "core/evaluate/noise_view.h"
#include "core/kinds/kind.h"
#include "ui/driver.h"
#include "ui/fields/option_list.h"
#include "ui/found/found_page.h"
#include "ui/inrush/inrush_page.h"
#include "ui/paint/marks.h"
#include "ui/paint/wiring.h"
#include "ui/parallel/share_picture.h"
#include "ui/plan/plan_page.h"
#include "ui/rectifier/rectifier_page.h"
#include "ui/stack/stack_page.h"
#include "ui/test_folder.h"

#include <QAbstractItemModelTester>
#include <QLabel>
#include <QTableView>
#include <algorithm>
#include <cmath>

using namespace offshoot;
using namespace offshoot::test;

namespace {

const StepView* step(const Evaluation& e, const std::string& id)
{
    const auto found = std::ranges::find_if(e.steps, [&](const StepView& v) { return v.step.id == id; });
    return found == e.steps.end() ? nullptr : &*found;
}

} // namespace

class TestJoined : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

    static void typeCell(QTableView* view, int row, int column, const QString& text)
    {
        view->model()->setData(view->model()->index(row, column), text);
    }

private Q_SLOTS:
    void initTestCase() { startWindowTests(); }
    void init() { m_folder.renew(); }

    /// The wiring that is planned stands on its page, by the sentence of its step; the others say that
    /// nothing is planned.
    void wiring_data()
    {
        QTest::addColumn<QByteArray>("file");
        QTest::addColumn<int>("kind");
        QTest::addColumn<QByteArray>("name"); // of the connections; none: nothing of it is planned
        const auto row = [](const char* file, ui::PlanKind kind, const char* name) {
            QTest::addRow("%s %d", file, static_cast<int>(kind))
                << QByteArray(file) << static_cast<int>(kind) << QByteArray(name);
        };
        row("hatch-heater", ui::PlanKind::Parallel, "bus");
        row("hatch-heater", ui::PlanKind::Stack, "");
        row("barograph-amplifier", ui::PlanKind::Rectifier, "chain");
        row("mast-camera", ui::PlanKind::Wire, "run");
        row("chart-recorder", ui::PlanKind::Windings, "primaries");
        row("radio-link", ui::PlanKind::Stack, "stack");
    }
    void wiring()
    {
        QFETCH(QByteArray, file);
        QFETCH(int, kind);
        QFETCH(QByteArray, name);
        Driver d(m_folder.job(file.toStdString()));
        d.stage(3);
        d.window->planPage().show(static_cast<ui::PlanKind>(kind));
        d.click(u"Wiring"_s);
        const auto all = plannedConnections(d.job(), d.evaluation());
        const auto planned =
            std::ranges::find_if(all, [&](const Connections& c) { return c.name == name.toStdString(); });
        QCOMPARE(planned == all.end(), name.isEmpty());
        if (name.isEmpty()) {
            QVERIFY(d.shows(u"Nothing of it is planned yet"_s));
            return;
        }
        const QString sentence = QString::fromStdString(planned->sentence);
        QVERIFY(d.shows(sentence));
        QVERIFY(d.find<ui::WiringPicture>(u"The wiring: "_s + sentence)->isVisible());
    }

    /// Every page of every new job, at one size and in one look of two: nothing forces the window wider, and
    /// what can be reached with Tab has a name.
    void pages_data()
    {
        QTest::addColumn<QByteArray>("file");
        QTest::addColumn<int>("opens");
        QTest::addColumn<bool>("dark");
        bool dark = false;
        const auto row = [&dark](const char* file, ui::PlanKind kind) {
            QTest::newRow(file) << QByteArray(file) << static_cast<int>(kind) << dark;
            dark = !dark;
        };
        row("hatch-heater", ui::PlanKind::Parallel);
        row("radio-link", ui::PlanKind::Stack);
        row("mast-camera", ui::PlanKind::Wire);
        row("chart-recorder", ui::PlanKind::Windings);
        row("fog-signal-amplifier", ui::PlanKind::Inrush);
        row("barograph-amplifier", ui::PlanKind::Rectifier);
    }
    void pages()
    {
        QFETCH(QByteArray, file);
        QFETCH(int, opens);
        Driver d(m_folder.job(file.constData()));
        d.stage(3);
        QCOMPARE(static_cast<int>(d.window->planPage().kind()), opens);
        QFETCH(bool, dark);
        const QSize size = dark ? QSize(1024, 700) : QSize(1280, 800);
        d.window->look().setDark(dark);
        d.window->resize(size);
        for (const ui::PlanKind kind : ui::PlanPage::everyKind()) {
            d.window->planPage().show(kind);
            QApplication::processEvents();
            QVERIFY(!d.window->grab().isNull());
            QCOMPARE(d.window->size(), size);
        }
        for (const QWidget* widget : d.window->findChildren<QWidget*>())
            if (widget->isVisible() && (widget->focusPolicy() & Qt::TabFocus) != 0 && widget->isEnabled())
                QVERIFY2(!widget->accessibleName().isEmpty() ||
                             qobject_cast<const QAbstractButton*>(widget) != nullptr ||
                             widget->metaObject()->className() == QByteArray("QScrollArea"),
                         widget->metaObject()->className());
    }

    /// The load dragged along its axis, a set point along its ruler, a ballast by Enter; undo takes each
    /// back.
    void sideBySide()
    {
        Driver d(m_folder.job("hatch-heater"));
        d.stage(3);
        auto* picture = d.find<ui::SharePicture>(u"sharePicture"_s);
        const double before = *d.job().need.current_a;
        picture->setFocus();
        QTest::keyClick(picture, Qt::Key_Right);
        QVERIFY(*d.job().need.current_a > before);
        QTest::keyClick(picture, Qt::Key_Return);
        QVERIFY(*d.job().need.current_a > before);
        d.press(Qt::Key_Z, Qt::ControlModifier);
        QNEAR(*d.job().need.current_a, before);
        QTest::mouseClick(picture, Qt::LeftButton, {}, QPoint(picture->width() / 2, picture->height() / 2));
        QVERIFY(std::abs(*d.job().need.current_a - before) > 0.1);
        d.press(Qt::Key_Z, Qt::ControlModifier);
        auto* ruler = d.find<ui::SetPointRuler>(u"setPoints"_s);
        QTest::mouseClick(ruler, Qt::LeftButton, {}, QPoint(ruler->width() / 2, 40));
        QCOMPARE(d.job().plan.join->settings.size(), 1u);
        d.press(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(d.job().plan.join->settings.empty());
        d.click(u"Ballast"_s);
        auto* list = d.find<ui::OptionList>(u"Ballast, from the drawer or by longer leads"_s);
        list->setFocus();
        QTest::keyClick(list, Qt::Key_Down);
        QTest::keyClick(list, Qt::Key_Return);
        QVERIFY(d.job().plan.join->ballast.has_value());
        QVERIFY(step(d.evaluation(), "join.returns")->step.detail.find("Ballast") != std::string::npos);
        QVERIFY(!d.job().plan.join->ballast_lead);
        QTest::keyClick(list, Qt::Key_End);
        QTest::keyClick(list, Qt::Key_Return);
        QVERIFY(d.job().plan.join->ballast_lead->length_m > 0.1);
        QVERIFY(step(d.evaluation(), "join.returns")->step.detail.find("more lead of") != std::string::npos);
        QCOMPARE(readJob(writeJob(d.job())), d.job());
        d.click(u"One fails"_s);
        QVERIFY(d.shows(u"without Plover 75 #1"_s));
        d.click(u"Builds"_s);
        QTRY_VERIFY_WITH_TIMEOUT(d.shows(u"After trimming"_s), 10000);
        d.click(u"Ways"_s);
        d.click(u"Diodes in or out"_s);
        QVERIFY(d.job().plan.join->diode.has_value());
        d.click(u"Do not join them"_s);
        QVERIFY(!d.job().plan.join.has_value());
        QVERIFY(step(d.evaluation(), "join.returns") == nullptr);
    }

    /// Every unit is a source and holds its own charge; a reading with a number belongs to that unit.
    void everyUnitIsASource()
    {
        Driver d(m_folder.job("hatch-heater"));
        QCOMPARE(d.evaluation().energy.sources.size(), 3u);
        QCOMPARE(d.evaluation().isolation.state, Isolation::Live);
        d.log(u"unplugged"_s);
        d.log(u"unplugged #2"_s);
        QCOMPARE(d.evaluation().isolation.state, Isolation::Live);
        d.log(u"unplugged #3"_s);
        QCOMPARE(d.evaluation().isolation.state, Isolation::Unproven);
        d.log(u"meter ok"_s);
        for (const char* unit : {"", " #2", " #3"})
            for (const char* point : {"bulk 3V", "15V 0.3V"})
                d.log(QLatin1StringView(point) + QLatin1StringView(unit));
        d.log(u"meter ok"_s);
        QCOMPARE(d.evaluation().isolation.state, Isolation::ProvenDead);
        d.log(u"bulk 60V #2"_s);
        QCOMPARE(d.evaluation().isolation.state, Isolation::Unproven);
    }

    void stacked()
    {
        Driver d(m_folder.job("radio-link"));
        d.stage(3);
        QVERIFY(d.shows(u"One point is earthed"_s));
        auto* picture = d.find<ui::StackPicture>(u"stackPicture"_s);
        // The bond of the upper unit stands right of it; a click closes it again, which shorts the lower one.
        const QPoint bond(
            static_cast<int>(picture->width() * 0.34 + std::min(190.0, picture->width() * 0.38) + 30),
            picture->height() / 4);
        QTest::mouseClick(picture, Qt::LeftButton, {}, bond);
        QVERIFY(d.job().plan.join->opened_bonds.empty());
        QVERIFY(d.shows(u"shorted through the earth"_s));
        QVERIFY(std::ranges::any_of(d.evaluation().blocks, [](const std::string& b) {
            return b.find("output to case") != std::string::npos;
        }));
        d.click(u"Open the bonds named"_s);
        QCOMPARE(d.job().plan.join->opened_bonds, std::vector<std::int64_t>{2});
        picture->setFocus(); // and by keys: closed, opened; the lower unit has none
        QTest::keyClick(picture, Qt::Key_Up);
        QTest::keyClick(picture, Qt::Key_Space);
        QVERIFY(d.job().plan.join->opened_bonds.empty());
        QTest::keyClick(picture, Qt::Key_Space);
        QCOMPARE(d.job().plan.join->opened_bonds, std::vector<std::int64_t>{2});
        const StepView* open = step(d.evaluation(), "join.bond.2");
        QVERIFY(open != nullptr && open->step.kind == StepKind::Touch && open->step.asks.size() == 2);
        QVERIFY(std::ranges::count(open->step.cautions, Caution::OutputFloats) == 1);
        d.fill(u"and amperes"_s, u"9A"_s);
        QNEAR(d.job().plan.join->reverse_diode->i_a, 9);
        QVERIFY(d.shows(u"reverse diode does not bear"_s));
        d.choose(u"Where load or wiring earths the stack"_s, u"above Curlew 240 #2"_s);
        QCOMPARE(d.job().plan.join->earthed_node, std::optional<std::int64_t>(2));
    }

    void wire()
    {
        Driver d(m_folder.job("mast-camera"));
        d.stage(3);
        auto* list = d.find<ui::OptionList>(u"Wire sizes"_s);
        list->setFocus();
        QTest::keyClick(list, Qt::Key_Home);
        QTest::keyClick(list, Qt::Key_Return);
        QNEAR(d.job().plan.wire->area_m2, 1.5e-6, 1e-9);
        d.fill(u"Run, one way"_s, u"thirty"_s);
        QNEAR(*d.job().found.rails[0].cable.length_m, 12);
        d.fill(u"Run, one way"_s, u"40m"_s);
        QNEAR(*d.job().found.rails[0].cable.length_m, 40);
        QVERIFY(d.shows(u"thinnest wire that keeps it inside"_s));
        d.click(u"Sense"_s);
        d.click(u"Plan: sense wires to the load"_s);
        QVERIFY(d.job().plan.remote_sense);
        QVERIFY(step(d.evaluation(), "signoff.sense") != nullptr);
        d.click(u"Merging"_s);
        QVERIFY(d.shows(u"of this size</b> stay cool"_s));
        d.click(u"Ways"_s);
        QVERIFY(d.shows(u"Thicker wire or remote sense"_s));
    }

    /// Tables of units and clues take what people write and keep what does not read.
    void tables()
    {
        Driver d(m_folder.job("hatch-heater"));
        d.stage(2);
        d.click(u"Units"_s);
        auto* units = d.find<QTableView>(u"Units of this job"_s);
        QAbstractItemModelTester tester(units->model());
        typeCell(units, 1, 5, u"4A8"_s);
        QNEAR(*d.job().others[0].joint.i_limit_a, 4.8);
        typeCell(units, 2, 6, u"shuts down"_s);
        QCOMPARE(d.job().others[1].joint.limit, LimitKind::Shutdown);
        typeCell(units, 1, 4, u"soft"_s);
        QCOMPARE(units->model()->index(1, 4).data().toString(), u"soft"_s);
        d.click(u"Add unit"_s);
        QCOMPARE(d.job().others.size(), 3u);
        Driver e(m_folder.job("chart-recorder"));
        e.stage(3);
        e.window->planPage().show(ui::PlanKind::Evidence);
        QVERIFY(e.shows(u"Not known yet"_s));
        auto* clues = e.find<QTableView>(u"What was read"_s);
        typeCell(clues, 3, 2, u"yes"_s);
        typeCell(clues, 3, 3, u"250V"_s);
        QVERIFY(e.shows(u"forbids it, the parts read permit it"_s));
        typeCell(clues, 0, 6, u"250V"_s);
        typeCell(clues, 0, 7, u"50/60 Hz"_s);
        QCOMPARE(e.job().found.mains_side.clues[0].f_max_hz, std::optional(60.0));
        QCOMPARE(clues->model()->index(0, 7).data().toString(), u"50–60"_s);
        typeCell(clues, 0, 1, u"bulk capacitor"_s); // no paper any more: its volts go, a rating is wanted
        QVERIFY(!e.job().found.mains_side.clues[0].max_v.has_value());
    }

    /// The lanes of the units meet as the plan joins them: a stack never in one node.
    void lanesMeet()
    {
        for (const auto& [job, says] : {std::pair("hatch-heater", "side by side: their amperes add"),
                                        {"radio-link", "stacked: their volts add"}}) {
            Driver d(m_folder.job(job));
            d.stage(2);
            d.window->foundPage().showTab(ui::FoundTab::Units);
            auto* lanes = d.find<QWidget>(u"The units and where they meet"_s);
            QVERIFY(lanes->accessibleDescription().endsWith(QString::fromUtf8(says)));
            // Between two lanes the node of units side by side goes through; a stack has a gap.
            const QImage image = lanes->grab().toImage();
            const int x = lanes->width() - d.window->look().px(20);
            const auto at = [&](double lane) {
                return image.pixelColor(x + 3, int(lane * d.window->look().px(58)));
            };
            QCOMPARE(at(0.98) == at(0.5), d.job().plan.join->kind == Joining::SideBySide);
            QCOMPARE(at(0.5), at(1.5));
            d.window->session().edit(u"apart"_s, [](Job& changed) { changed.plan.join.reset(); });
            QTRY_VERIFY(lanes->accessibleDescription().endsWith(u"not joined by the plan"_s));
        }
    }

    /// Each unit has found data of its own: what is entered for the second leaves the first alone.
    void unitsOwnParts()
    {
        Driver d(m_folder.job("hatch-heater"));
        d.stage(2);
        d.window->session().select(Station::Fuse);
        const auto first_a = d.job().found.fuse.value_a;
        d.choose(u"Unit whose parts these are"_s, u"2  "_s + QString::fromStdString(unitName(d.job(), 2)));
        QApplication::processEvents();
        d.fill(u"Fuse value"_s, u"6.3A"_s);
        d.choose(u"Fuse speed"_s, u"F, fast"_s);
        QCOMPARE(d.job().others[0].fuse.value_a, std::optional(6.3));
        QCOMPARE(d.job().others[0].fuse.type, std::optional<std::string>("F"));
        QCOMPARE(d.job().found.fuse.value_a, first_a);
        d.window->session().select(Station::Converter);
        d.choose(u"Topology"_s, u"buck"_s);
        QApplication::processEvents();
        QCOMPARE(d.job().others[0].topology, Topology::Buck);
        QCOMPARE(d.job().found.topology, Topology::Flyback);
        d.fill(u"Headroom wanted"_s, u"2V"_s); // of a buck only
        QCOMPARE(d.job().others[0].regulator.headroom_v, std::optional(2.0));
        QVERIFY(!d.job().found.regulator.headroom_v);
        d.window->session().edit(u"fewer"_s, [](Job& job) { job.others.clear(); });
        QApplication::processEvents();
        QCOMPARE(d.find<QComboBox>(u"Topology"_s)->currentText(), u"flyback"_s);
    }

    void windings()
    {
        Driver d(m_folder.job("chart-recorder"));
        d.stage(3);
        QVERIFY(d.shows(u"Planned: series"_s));
        QVERIFY(step(d.evaluation(), "change.phase.A.B") != nullptr);
        QVERIFY(step(d.evaluation(), "change.fuse") != nullptr);
        auto* list = d.find<ui::OptionList>(u"Connections"_s);
        list->setFocus();
        const auto series = d.job().plan.connection;
        QTest::keyClick(list, Qt::Key_Down);
        QTest::keyClick(list, Qt::Key_Return);
        QVERIFY(d.job().plan.connection != series);
        QVERIFY(d.shows(u"not good for this mains"_s));
        QVERIFY(d.evaluation().counts.breaks > 0);
        d.click(u"Proof and fuse"_s);
        QVERIFY(d.shows(u"Prove which ends are like"_s));
        d.click(u"As found"_s);
        auto* primaries = d.find<QTableView>(u"Primaries"_s);
        typeCell(primaries, 0, 4, u"white/black 100, A-tap red 50"_s);
        const auto& transformer = d.job().found.mains_side.transformer;
        QCOMPARE(transformer.primaries[0].taps,
                 (std::vector<std::pair<std::string, double>>{{"white/black", 100}, {"A-tap red", 50}}));
        typeCell(primaries, 0, 4, u"nonsense"_s);
        QCOMPARE(primaries->model()->index(0, 4).data().toString(), u"nonsense"_s);
        typeCell(primaries, 1, 0, u"A"_s); // taken
        QCOMPARE(transformer.primaries[1].name, std::string("B"));
        QCOMPARE(ui::coloursIn(u"Tap RED, white/black 2"_s).size(), 3);
        QCOMPARE(ui::coloursIn(u"A1"_s).size(), 0);
        QCOMPARE(d.find<QLineEdit>(u"Selector stands at"_s)->text(), u"115"_s);
        d.fill(u"Selector stands at"_s, u"between 115 and 230"_s);
        QCOMPARE(transformer.selector, std::string("between 115 and 230"));
        QVERIFY(step(d.evaluation(), "change.selector")->step.detail.find("between") != std::string::npos);
    }

    void inrush()
    {
        Driver d(m_folder.job("fog-signal-amplifier"));
        d.stage(3);
        QVERIFY(d.shows(u"the breaker trips"_s));
        d.fill(u"Resistor"_s, u"47R"_s);
        QNEAR(*d.job().plan.limiter->r_ohm, 47);
        QVERIFY(step(d.evaluation(), "change.limiter")->step.title.find("47R") != std::string::npos);
        const auto judged = [&d](RowId id) {
            const auto& rows = d.evaluation().consequences.rows;
            return std::ranges::find(rows, id, &ConsequenceRow::id)->verdict;
        };
        QCOMPARE(judged(RowId::LimiterPulse), Verdict::Fits);
        d.fill(u"It bears each time"_s, u"50"_s); // 93 J come
        QCOMPARE(judged(RowId::LimiterPulse), Verdict::Breaks);
        QCOMPARE(judged(RowId::BypassContacts), Verdict::Fits);
        d.fill(u"Its contacts make"_s, u"2A"_s);
        QCOMPARE(judged(RowId::BypassContacts), Verdict::Breaks);
        d.fill(u"Its contacts make"_s, QString());
        QCOMPARE(judged(RowId::BypassContacts), Verdict::Unknown);
        d.window->session().edit(u"nothing says how many ohms"_s, [](Job& job) {
            job.found.mains_side.surge.breaker_trip_a.reset();
            job.found.mains_side.surge.i_surge_max_a.reset();
            job.plan.limiter->r_ohm.reset();
        });
        QCOMPARE(judged(RowId::SurgePeak), Verdict::Unknown);
        d.press(Qt::Key_Z, Qt::ControlModifier);
        auto* page = d.window->findChild<ui::InrushPage*>();
        QVERIFY(page != nullptr);
        const QString good = m_folder.file(u"surge.csv"_s);
        writeFile(good, "time,current\n0,0\n0.001,80\n0.002,30\n0.01,2\n");
        // Typed in first: a point a row, forward in time, undone to nothing.
        d.click(u"As captured"_s);
        auto* points = d.find<QTableView>(u"Captured surge"_s);
        for (int row = 0; row < 3; ++row)
            d.click(u"Add point"_s);
        for (const auto& [row, time, amps] :
             {std::tuple{0, u"0"_s, u"0"_s}, {1, u"1.5ms"_s, u"31A"_s}, {2, u"4ms"_s, u"12A5"_s}}) {
            typeCell(points, row, 0, time);
            typeCell(points, row, 1, amps);
        }
        typeCell(points, 1, 0, u"5ms"_s); // later than the next
        typeCell(points, 1, 1, u"lots"_s);
        QCOMPARE(d.job().found.mains_side.captured->t_s, (std::vector<double>{0, 1.5e-3, 4e-3}));
        QCOMPARE(d.job().found.mains_side.captured->i_a, (std::vector<double>{0, 31, 12.5}));
        QCOMPARE(points->model()->index(1, 1).data().toString(), u"lots"_s);
        QVERIFY(!d.window->grab().isNull());
        QCOMPARE(readJob(writeJob(d.job())), d.job());
        QVERIFY(page->importSurge(good).isEmpty());
        QCOMPARE(points->model()->rowCount(), 0); // what a file gave is not edited point by point
        QCOMPARE(d.job().found.mains_side.captured->i_a.size(), 4u);
        const QString bad = m_folder.file(u"bad.csv"_s);
        writeFile(bad, "0,0\n0.001,80\n0.0005,70\n");
        QVERIFY(page->importSurge(bad).contains(u"backwards"_s));
        QVERIFY(!page->importSurge(m_folder.file(u"nowhere.csv"_s)).isEmpty());
        QCOMPARE(d.job().found.mains_side.captured->i_a.size(), 4u);
        d.click(u"Surge limiter"_s);
        d.click(u"No surge limiter"_s);
        QVERIFY(!d.job().plan.limiter.has_value());
    }

    /// Edits of the chain run off the interface thread; what is no chain is refused where it was typed.
    void rectifier()
    {
        Driver d(m_folder.job("barograph-amplifier"));
        d.stage(3);
        const auto settled = [&d] { return !d.window->session().simulating(); };
        QTRY_VERIFY_WITH_TIMEOUT(settled() && d.shows(u"at the load, ripple"_s), 10000);
        auto* ribbon = d.find<ui::RibbonPicture>(u"chainRibbon"_s);
        ribbon->setFocus();
        QTest::keyClick(ribbon, Qt::Key_Right);
        QTest::keyClick(ribbon, Qt::Key_Right); // the first capacitor
        d.fill(u"Capacitor"_s, u"22u"_s);
        QNEAR(d.job().plan.chain->filter[0].c_f, 22e-6);
        QTRY_VERIFY_WITH_TIMEOUT(settled() && d.shows(u"Nearest its limit: rectifier"_s), 10000);
        d.fill(u"Capacitor"_s, u"50F"_s); // more than a part may have: kept as typed
        QNEAR(d.job().plan.chain->filter[0].c_f, 22e-6);
        QTest::keyClick(ribbon, Qt::Key_R);
        QCOMPARE(d.job().plan.chain->filter.size(), 4u);
        // The limits count among the consequences.
        QTRY_VERIFY_WITH_TIMEOUT(settled(), 10000);
        QVERIFY(std::ranges::any_of(d.evaluation().consequences.rows, [](const ConsequenceRow& row) {
            return row.id > RowId::ChainOutput && row.verdict != Verdict::Fits;
        }));
        // A dropping resistor: sought by simulation, looked at in the drawer, planned by Enter.
        const double fullV = d.window->session().chainRun()->result.load.v.v_mean_v;
        d.click(u"Dropper"_s);
        d.fill(u"Volts wanted at the load"_s, u"much"_s);
        d.click(u"Find the resistor"_s);
        QVERIFY(!d.shows(u"rms. At the load"_s));
        const double wantedV = std::floor(fullV - 8);
        d.fill(u"Volts wanted at the load"_s, QString::number(wantedV) + u'V');
        d.click(u"Find the resistor"_s);
        QTRY_VERIFY_WITH_TIMEOUT(d.shows(u"rms. At the load"_s), 20000);
        auto* options = d.find<ui::OptionList>(u"Dropping resistors from the drawer"_s);
        QVERIFY(options->model()->rowCount() > 0);
        options->setFocus();
        QTest::keyClick(options, Qt::Key_Down);
        QTest::keyClick(options, Qt::Key_Return);
        const double plannedOhm =
            d.job().plan.chain->filter.back().r_ohm + d.job().plan.chain->filter[1].r_ohm;
        QVERIFY(plannedOhm > 10);
        QTRY_VERIFY_WITH_TIMEOUT(settled(), 10000);
        QVERIFY(d.window->session().chainRun()->result.load.v.v_mean_v < fullV - 2);
        d.click(u"Figures"_s);
        QVERIFY(!d.find<QWidget>(u"What rectifier and capacitors use of their limits"_s)
                     ->accessibleDescription()
                     .isEmpty());
        d.click(u"Part"_s);
        ribbon->setFocus();
        QTest::keyClick(ribbon, Qt::Key_Delete); // the resistor, which stayed chosen
        QCOMPARE(d.job().plan.chain->filter.size(), 3u);
        QTRY_VERIFY_WITH_TIMEOUT(settled(), 10000);
        QVERIFY(step(d.evaluation(), "bringup.heat") != nullptr);
    }

    void noise()
    {
        Driver d(m_folder.job("mast-camera"));
        d.stage(3);
        d.window->planPage().show(ui::PlanKind::Noise);
        d.click(u"Add part"_s);
        d.click(u"Add part"_s);
        QCOMPARE(d.job().found.mains_side.noise.size(), 2u);
        auto* table = d.find<QTableView>(u"From the noisy side to the load"_s);
        QAbstractItemModelTester tester(table->model());
        typeCell(table, 0, 1, u"22uH"_s);
        QNEAR(*d.job().found.mains_side.noise[0].l_h, 22e-6);
        typeCell(table, 0, 2, u"1R"_s); // a choke has no ESR
        QCOMPARE(table->model()->index(0, 2).data().toString(), u"1R"_s);
        d.fill(u"Switches at"_s, u"70kHz"_s);
        d.fill(u"Ripple there, p-p"_s, u"1V5"_s);
        const std::string sentence = noiseView(d.job()).sentence;
        QVERIFY2(sentence.find("becomes") != std::string::npos, sentence.c_str());
        QVERIFY(d.shows(ui::qs(sentence)));
        const auto peak = noiseView(d.job()).result->peak;
        d.click(u"Put the damping in"_s);
        QCOMPARE(d.job().found.mains_side.noise.size(), 3u);
        const auto damped = noiseView(d.job()).result->peak;
        QVERIFY(!damped || *damped->gain_db < *peak->gain_db - 3);
    }

    /// The countdown of each reservoir runs once the sources are off; a supply that lay gets its capacitors
    /// formed.
    void lampAndDischarge()
    {
        Driver d(m_folder.job("barograph-amplifier"));
        d.stage(3);
        d.window->planPage().show(ui::PlanKind::Safe);
        QVERIFY(!d.shows(u"measure now"_s) && step(d.evaluation(), "found.form.C1") == nullptr);
        d.fill(u"Lain without voltage, years"_s, u"30"_s);
        QVERIFY(step(d.evaluation(), "found.form.C1") != nullptr);
        d.log(u"unplugged"_s);
        QCOMPARE(d.evaluation().isolation.state, Isolation::Unproven);
        QVERIFY(d.shows(u"measure"_s));
        for (const Reservoir& reservoir : d.evaluation().energy.reservoirs)
            QVERIFY(reservoir.discharge_s ? d.shows(u"By its bleeder about"_s)
                                          : d.shows(u"without a bleeder that says nothing"_s));
    }
};

REGISTER_TEST(TestJoined, QApplication)
#include "tst_joined.moc"
