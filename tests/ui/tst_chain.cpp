// The rectifier and smoothing chain edited in place: every kind of rectifier, element and load, what cannot
// be simulated, stopping a run; the keyboard stays on the field it is on.

#include "ui/driver.h"
#include "ui/rectifier/ribbon_picture.h"
#include "ui/test_folder.h"

#include <QMenu>

using namespace offshoot;
using namespace offshoot::test;

class TestChain : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

    static const RectifierChain& chain(const Driver& d) { return *d.job().plan.chain; }
    static bool settled(const Driver& d) { return !d.window->session().simulating(); }
    /// Chooses a part on the ribbon: 0 the source, 1 the rectifier, then the sections, last the load.
    static void part(const Driver& d, int at)
    {
        auto* shown = ribbon(d);
        shown->setFocus();
        QTest::keyClick(shown, Qt::Key_Home);
        for (int i = 0; i < at; ++i)
            QTest::keyClick(shown, Qt::Key_Right);
        QCOMPARE(shown->chosen(), at);
    }
    static ui::RibbonPicture* ribbon(const Driver& d) { return d.find<ui::RibbonPicture>(u"chainRibbon"_s); }
    static void key(const Driver& d, Qt::Key key, Qt::KeyboardModifier with = Qt::NoModifier)
    {
        QTest::keyClick(ribbon(d), key, with);
    }
    /// As a person does it: the entry by its arrow keys, looking at the box each time, since a choice makes
    /// new fields.
    static void pick(const Driver& d, const QString& name, int entry)
    {
        for (int guard = 0; guard < 20; ++guard) {
            auto* box = d.find<QComboBox>(name);
            if (guard == 0)
                box->setFocus();
            if (box->currentIndex() == entry)
                return;
            QVERIFY2(box->hasFocus(), "a choice takes the keyboard away");
            QTest::keyClick(box, box->currentIndex() < entry ? Qt::Key_Down : Qt::Key_Up);
        }
    }

private Q_SLOTS:
    void initTestCase() { startWindowTests(); }
    void init() { m_folder.renew(); }

    /// Any rectifier from any other: it can be simulated, no capacitor is lost on the way to a doubler and
    /// back.
    void kinds()
    {
        Driver d(m_folder.job("barograph-amplifier"));
        d.stage(3);
        part(d, 1);
        const double first_f = chain(d).filter.front().c_f;
        const std::size_t sections = chain(d).filter.size();
        const double from_v = chain(d).noLoadVolts();
        for (const auto kind : {SimRectifier::Half, SimRectifier::Doubler, SimRectifier::Bridge,
                                SimRectifier::FullWaveCt, SimRectifier::Doubler, SimRectifier::Half}) {
            pick(d, u"Kind"_s, static_cast<int>(kind));
            QCOMPARE(chain(d).rectifier.kind, kind);
            QCOMPARE(readJob(writeJob(d.job())), d.job());
            if (kind == SimRectifier::Doubler) {
                QNEAR(chain(d).rectifier.upper->c_f, first_f);
                QNEAR(chain(d).rectifier.lower->c_f, first_f);
                QCOMPARE(chain(d).filter.size(), sections - 1);
                QNEAR(chain(d).noLoadVolts(), 2 * from_v);
            } else {
                QNEAR(chain(d).filter.front().c_f, first_f);
                QCOMPARE(chain(d).filter.size(), sections);
            }
            QTRY_VERIFY_WITH_TIMEOUT(settled(d), 20000);
            QVERIFY(d.shows(u"at the load, ripple"_s));
        }
        while (d.window->session().undoStack().canUndo())
            d.press(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(chain(d).rectifier.kind, SimRectifier::FullWaveCt);
    }

    /// Each element has its own fields; what they hold goes into the simulation.
    void elements()
    {
        Driver d(m_folder.job("barograph-amplifier"));
        d.stage(3);
        part(d, 1);
        pick(d, u"Diodes are"_s, 0);
        d.fill(u"Threshold"_s, u"0V7"_s);
        d.fill(u"and ohms"_s, u"50m"_s);
        QNEAR(chain(d).rectifier.diode.v_f_v, 0.7);
        QNEAR(chain(d).rectifier.diode.r_ohm, 0.05);
        QTRY_VERIFY_WITH_TIMEOUT(settled(d) && d.window->session().chainRun() != nullptr, 20000);
        const double hard_v = d.window->session().chainRun()->result.load.v.v_mean_v;
        d.fill(u"and ohms"_s, u"0"_s); // a threshold wants some: kept as typed
        QNEAR(chain(d).rectifier.diode.r_ohm, 0.05);
        pick(d, u"Diodes are"_s, 1);
        d.fill(u"Saturation"_s, u"5nA"_s);
        d.fill(u"Ideality"_s, u"1.9"_s);
        QCOMPARE(chain(d).rectifier.diode.model, DiodeModel::Exponential);
        QNEAR(chain(d).rectifier.diode.i_s_a, 5e-9);
        QNEAR(chain(d).rectifier.diode.n, 1.9);
        d.fill(u"Ideality"_s, u"0.2"_s); // below what a junction has
        QNEAR(chain(d).rectifier.diode.n, 1.9);
        QTRY_VERIFY_WITH_TIMEOUT(settled(d), 20000);
        pick(d, u"Diodes are"_s, 2);
        d.fill(u"Perveance, A/V^1.5"_s, u"0.0001"_s);
        d.fill(u"Plate resistor"_s, u"100R"_s);
        QCOMPARE(chain(d).rectifier.diode.model, DiodeModel::Valve);
        QNEAR(chain(d).rectifier.diode.perveance_a_v15, 1e-4);
        QNEAR(chain(d).rectifier.diode.r_plate_ohm, 100);
        QTRY_VERIFY_WITH_TIMEOUT(settled(d), 20000);
        QVERIFY(d.window->session().chainRun()->result.load.v.v_mean_v < hard_v - 10); // a valve drops more
        d.fill(u"Peak current"_s, u"150mA"_s);
        QNEAR(*d.job().found.mains_side.ratings.i_peak_a, 0.15);
        QTRY_VERIFY_WITH_TIMEOUT(settled(d), 20000);
        QVERIFY(std::ranges::any_of(d.evaluation().consequences.rows,
                                    [](const ConsequenceRow& r) { return r.id == RowId::ChainPeak; }));
    }

    /// The load as ohms, amperes or watts draws about the same; a power load needs a capacitor beside it.
    void loads()
    {
        Driver d(m_folder.job("barograph-amplifier"));
        d.stage(3);
        const auto at_load = [&] { return static_cast<int>(chain(d).filter.size()) + 2; };
        part(d, at_load());
        QTRY_VERIFY_WITH_TIMEOUT(settled(d), 20000);
        const double before_v = d.window->session().chainRun()->result.load.v.v_mean_v;
        for (const int kind : {2, 1, 0}) {
            pick(d, u"Load is"_s, kind);
            QCOMPARE(drawOf(chain(d).load), static_cast<LoadDraw>(kind));
            QTRY_VERIFY_WITH_TIMEOUT(settled(d), 20000);
            QNEAR(d.window->session().chainRun()->result.load.v.v_mean_v, before_v, 0.01);
        }
        pick(d, u"Load is"_s, 2);
        d.fill(u"Load"_s, u"8k2"_s);
        QNEAR(*chain(d).load.resistance_ohm, 8200);
        d.fill(u"Load"_s, u"-1"_s);
        QNEAR(*chain(d).load.resistance_ohm, 8200);
        // A resistor last of all: neither a current nor a power can stand there.
        key(d, Qt::Key_R);
        QCOMPARE(chain(d).filter.back().kind, SmoothingKind::R);
        part(d, at_load());
        const Job before = d.job();
        auto* box = d.find<QComboBox>(u"Load is"_s);
        box->setFocus();
        QTest::keyClick(box, Qt::Key_Up);
        QCOMPARE(box->currentIndex(), 2); // it shows what is, not what was refused
        QVERIFY(sameEdits(d.job(), before));
        QVERIFY(d.shows(u"capacitor"_s));
    }

    /// Parts go in before the chosen one; what cannot be simulated is refused and said.
    void sections()
    {
        Driver d(m_folder.job("barograph-amplifier"));
        d.stage(3);
        part(d, 1);
        const auto kinds = [&] {
            std::string all;
            for (const SmoothingSection& s : chain(d).filter)
                all += word(s.kind);
            return all;
        };
        const std::string start = kinds();
        key(d, Qt::Key_L);
        QCOMPARE(kinds(), "l" + start);
        key(d, Qt::Key_L); // two chokes without a capacitor between
        QCOMPARE(kinds(), "l" + start);
        QVERIFY(d.shows(u"choke"_s));
        part(d, 2);
        d.fill(u"Choke"_s, u"5H"_s);
        d.fill(u"Its wire"_s, u"0"_s);
        QNEAR(chain(d).filter.front().l_h, 5);
        QNEAR(chain(d).filter.front().r_ohm, 0, 0, 1e-12);
        part(d, 0);
        d.fill(u"Its leakage"_s, u"10mH"_s); // belongs to the choke
        QVERIFY(!chain(d).source.l_h);
        d.fill(u"Secondary"_s, u"300V"_s);
        QNEAR(chain(d).source.v_rms_v, 300);
        d.fill(u"Frequency"_s, u"60Hz"_s);
        QNEAR(chain(d).source.f_hz, 60);
        d.fill(u"Frequency"_s, u"1Hz"_s);
        QNEAR(chain(d).source.f_hz, 60);
        QTRY_VERIFY_WITH_TIMEOUT(settled(d), 20000);
        key(d, Qt::Key_Delete); // the source is no section: nothing goes
        QCOMPARE(kinds(), "l" + start);
    }

    /// By mouse as by keys: taken up and laid down in another gap, carried away, put in at a gap, its figure
    /// dragged; every value follows, and one undo takes each back.
    void ribbonEdits()
    {
        Driver d(m_folder.job("barograph-amplifier"));
        d.stage(3);
        QTRY_VERIFY_WITH_TIMEOUT(settled(d), 20000);
        ui::RibbonPicture* shown = ribbon(d);
        const auto kinds = [&] {
            std::string all;
            for (const SmoothingSection& s : chain(d).filter)
                all += word(s.kind);
            return all;
        };
        const auto drag = [&](QPointF from, QPointF to) {
            QTest::mousePress(shown, Qt::LeftButton, {}, from.toPoint());
            for (int k = 1; k <= 4; ++k)
                QTest::mouseMove(shown, (from + (to - from) * k / 4).toPoint());
            QTest::mouseRelease(shown, Qt::LeftButton, {}, to.toPoint());
        };
        QCOMPARE(kinds(), "clc");
        part(d, 2);
        const double first_f = chain(d).filter[0].c_f;
        key(d, Qt::Key_Up);
        QVERIFY(chain(d).filter[0].c_f > first_f);
        key(d, Qt::Key_Down);
        key(d, Qt::Key_Down);
        QVERIFY(chain(d).filter[0].c_f < first_f);
        for (int k = 0; k < 3; ++k)
            d.press(Qt::Key_Z, Qt::ControlModifier);
        QNEAR(chain(d).filter[0].c_f, first_f);
        key(d, Qt::Key_Right, Qt::ShiftModifier); // behind the choke
        QCOMPARE(kinds(), "lcc");
        QCOMPARE(shown->chosen(), 3);
        QNEAR(chain(d).filter[1].c_f, first_f);
        key(d, Qt::Key_Left, Qt::ShiftModifier);
        QCOMPARE(kinds(), "clc");
        // Into the gap behind the choke, and back by undo; where no chain results it is said, and nothing
        // moves.
        drag(shown->thingBox(2).center(), shown->gapAfter(3));
        QCOMPARE(kinds(), "lcc");
        QNEAR(chain(d).filter[1].c_f, first_f);
        d.press(Qt::Key_Z, Qt::ControlModifier);
        drag(shown->thingBox(4).center(),
             shown->gapAfter(1)); // nothing would stand beside the load's current
        QCOMPARE(kinds(), "clc");
        QVERIFY(d.shows(u"needs a capacitor"_s));
        // Let go between gaps nothing happens; far away it is out.
        drag(shown->thingBox(2).center(), shown->thingBox(2).center() + QPointF(12, 0));
        QCOMPARE(kinds(), "clc");
        drag(shown->thingBox(2).center(), {shown->thingBox(2).center().x(), 30});
        QCOMPARE(kinds(), "lc");
        d.press(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(kinds(), "clc");
        // Its figure dragged upwards: looked at on the way, one step when let go.
        const QPointF figure = shown->thingBox(2).center() + QPointF(0, shown->thingBox(2).height() / 2 + 26);
        QTest::mousePress(shown, Qt::LeftButton, {}, figure.toPoint());
        QTest::mouseMove(shown, (figure - QPointF(0, 40)).toPoint());
        QTest::mouseMove(shown, (figure - QPointF(0, 72)).toPoint());
        QVERIFY(d.window->session().previewing());
        QVERIFY(plannedChain(d.job())->filter[0].c_f > 1.8 * first_f);
        QTest::mouseRelease(shown, Qt::LeftButton, {}, (figure - QPointF(0, 72)).toPoint());
        QVERIFY(!d.window->session().previewing());
        QVERIFY(chain(d).filter[0].c_f > 1.8 * first_f);
        d.press(Qt::Key_Z, Qt::ControlModifier);
        QNEAR(chain(d).filter[0].c_f, first_f);
        // At a gap what may stand there is offered.
        QTimer::singleShot(0, this, [] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            QVERIFY(menu != nullptr && menu->actions().size() == 3);
            menu->actions().at(2)->trigger();
            menu->close();
        });
        QTest::mouseClick(shown, Qt::LeftButton, {}, shown->gapAfter(2).toPoint());
        QCOMPARE(kinds(), "crlc");
        QCOMPARE(shown->chosen(), 3);
        // The tolerances are worked out again, and the waveforms are those of the part chosen.
        QTRY_VERIFY_WITH_TIMEOUT(settled(d) && shown->accessibleDescription().contains(u"Lowest "_s) &&
                                     shown->accessibleDescription().contains(u"mains −10 %"_s),
                                 20000);
        QVERIFY(shown->accessibleDescription().startsWith(u"R1 10 Ω"_s));
        d.click(u"In time"_s);
        QVERIFY(d.find<QWidget>(u"chainWaves"_s)->accessibleName().contains(u"R1"_s));
        key(d, Qt::Key_Left);
        QVERIFY(d.find<QWidget>(u"chainWaves"_s)->accessibleName().contains(u"C1"_s));
    }

    /// What is tapped on the way counts, and stays on its capacitor whatever comes in before it.
    void taps()
    {
        Driver d(m_folder.job("barograph-amplifier"));
        d.stage(3);
        QTRY_VERIFY_WITH_TIMEOUT(settled(d), 20000);
        const double before_v = d.window->session().chainRun()->result.load.v.v_mean_v;
        part(d, 2);
        d.fill(u"Tapped load"_s, u"20mA"_s);
        QCOMPARE(chain(d).tap_loads.size(), 1u);
        QNEAR(*chain(d).tap_loads[0].load.current_a, 0.02);
        QTRY_VERIFY_WITH_TIMEOUT(settled(d), 20000);
        QVERIFY(d.window->session().chainRun()->result.load.v.v_mean_v < before_v - 1);
        const double tapped_f = chain(d).filter[0].c_f;
        part(d, 1);
        key(d, Qt::Key_R);
        QCOMPARE(chain(d).tap_loads[0].section, 1);
        QNEAR(chain(d).filter[1].c_f, tapped_f);
        QCOMPARE(readJob(writeJob(d.job())), d.job());
        part(d, 2);
        key(d, Qt::Key_Delete);
        QCOMPARE(chain(d).tap_loads[0].section, 0);
        part(d, 2);
        QCOMPARE(d.find<QLineEdit>(u"Tapped load"_s)->text(), u"20 mA"_s);
        d.fill(u"Tapped load"_s, u"-1"_s);
        QCOMPARE(chain(d).tap_loads.size(), 1u);
        d.fill(u"Tapped load"_s, QString());
        QVERIFY(chain(d).tap_loads.empty());
        d.press(Qt::Key_Z, Qt::ControlModifier);
        key(d, Qt::Key_Delete); // the capacitor, and its tap with it
        QVERIFY(chain(d).tap_loads.empty());
    }

    /// A doubler's two capacitors are each edited; said to stand so, a chain is the one found, and what is
    /// changed then is the plan.
    void standing()
    {
        Driver d(m_folder.job("barograph-amplifier"));
        d.stage(3);
        part(d, 1);
        pick(d, u"Kind"_s, static_cast<int>(SimRectifier::Doubler));
        d.fill(u"Upper C"_s, u"47u"_s);
        d.fill(u"Lower rated"_s, u"350V"_s);
        QNEAR(chain(d).rectifier.upper->c_f, 47e-6);
        QNEAR(*chain(d).rectifier.lower->v_rated_v, 350);
        QVERIFY(chain(d).rectifier.lower->c_f < 10e-6);
        const RectifierChain built = chain(d);
        d.click(u"It stands so now"_s);
        QVERIFY(!d.job().plan.chain);
        QCOMPARE(*d.job().found.mains_side.chain, built);
        part(d, 1);
        d.fill(u"Upper C"_s, u"100u"_s);
        QVERIFY(d.job().plan.chain.has_value());
        QCOMPARE(*d.job().found.mains_side.chain, built);
        d.click(u"Back to as found"_s);
        QCOMPARE(*plannedChain(d.job()), built);
        d.window->session().edit(u"nothing known"_s, [](Job& job) { job.found.mains_side.chain.reset(); });
        d.click(u"New doubler"_s);
        QCOMPARE(chain(d).rectifier.kind, SimRectifier::Doubler);
        QNEAR(chain(d).rectifier.lower->c_f, 2200e-6);
        QTRY_VERIFY_WITH_TIMEOUT(settled(d), 20000);
    }

    /// A run that is stopped says so; the next change simulates again.
    void stopped()
    {
        Driver d(m_folder.job("barograph-amplifier"));
        d.stage(3);
        QTRY_VERIFY_WITH_TIMEOUT(settled(d), 20000);
        d.window->session().edit(u"slow"_s, [](Job& job) {
            for (SmoothingSection& s : job.plan.chain->filter)
                if (s.kind == SmoothingKind::C)
                    s.c_f = 5;
        });
        QVERIFY(!settled(d));
        d.click(u"Stop"_s);
        QTRY_VERIFY_WITH_TIMEOUT(settled(d), 20000);
        QVERIFY(d.window->session().chainProblem().isEmpty() || d.shows(u"Stopped."_s));
        d.press(Qt::Key_Z, Qt::ControlModifier);
        QTRY_VERIFY_WITH_TIMEOUT(settled(d) && d.shows(u"at the load, ripple"_s), 20000);
    }
};

REGISTER_TEST(TestChain, QApplication)
#include "tst_chain.moc"
