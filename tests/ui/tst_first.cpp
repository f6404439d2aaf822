// A stranger's first steps: what is to be done, what it is, one walk along its board, and the handbook at
// what is in front; by keys.
#include "core/evaluate/walk_view.h"
#include "ui/driver.h"
#include "ui/found/found_page.h"
#include "ui/found/walk_page.h"
#include "ui/frame/first_notes.h"
#include "ui/frame/handbook.h"
#include "ui/test_folder.h"

#include <QTextBlock>
#include <algorithm>

using namespace offshoot;
using namespace offshoot::test;

class TestFirst : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

private Q_SLOTS:
    void initTestCase() { startWindowTests(); }
    void init() { m_folder.renew(); }

    /// An empty job asks; the answer opens the form, says what comes first, and can be changed there.
    void askedFirst()
    {
        Driver d(JobStore::untitled());
        QVERIFY(d.shows(u"What is to be done?"_s));
        auto* button = d.find<QAbstractButton>(u"aim_far_end"_s);
        button->setFocus();
        QTest::keyClick(button, Qt::Key_Return);
        QCOMPARE(d.job().need.aim, std::optional(Aim::FarEnd));
        QVERIFY(d.shows(u"Cable, its length and size"_s));
        d.choose(u"What is to be done"_s, u"Replace it"_s);
        QCOMPARE(d.job().need.aim, std::optional(Aim::Replace));
        d.press(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(d.job().need.aim, std::optional(Aim::FarEnd));
        // A job that says what it wants is not asked, nor is who puts it off.
        QVERIFY(!Driver(m_folder.job("mast-camera")).shows(u"What is to be done?"_s));
        Driver other(JobStore::untitled());
        other.click(u"go on without"_s);
        QVERIFY(!other.job().need.aim && !other.shows(u"What is to be done?"_s));
        other.find<QLineEdit>(u"Voltage"_s);
    }

    /// A supply that nobody has looked at is one box between mains and load, which opens to what is assumed
    /// of it; what is seen of it takes its place.
    void closedBox()
    {
        Driver d(JobStore::untitled());
        d.stage(2);
        auto* path = d.find<QWidget>(u"powerPath"_s);
        const auto click = [&](double share) {
            QTest::mouseClick(path, Qt::LeftButton, {}, {int(share * path->width()), path->height() / 4});
            return d.window->session().selected();
        };
        d.window->foundPage().showTab(ui::FoundTab::Walk);
        QVERIFY(d.shows(u"Walked as a flyback, which is assumed"_s));
        QVERIFY(!d.shows(u"decides nothing"_s)); // without a need nobody can say so
        QCOMPARE(d.window->session().selected(), Station::Inlet);
        QCOMPARE(click(0.15), Station::Inlet); // pointed at, it shows its form though it is selected already
        d.find<QLineEdit>(u"Inlet rated"_s);
        QCOMPARE(click(0.95), Station::Load);
        QCOMPARE(click(0.15), Station::Inlet);
        const QImage closed = path->grab().toImage();
        QCOMPARE(click(0.6), Station::Fuse); // the first inside, wherever the box is met
        QVERIFY(path->grab().toImage() != closed);
        QVERIFY(click(0.7) > Station::Reservoir);
        d.window->foundPage().showTab(ui::FoundTab::Identity); // a station shows its form
        d.find<QAbstractButton>(u"outline_sealed_adapter"_s)->click();
        QVERIFY(std::ranges::find(d.evaluation().path, Station::Reservoir) == d.evaluation().path.end());
        QCOMPARE(click(0.15), Station::Inlet);
        QVERIFY(path->grab().toImage() != closed);
    }

    /// By keys alone: an outline, then looks until one kind is left; the path follows, and it is assumed
    /// until somebody says so.
    void foundOut()
    {
        Driver d(JobStore::untitled());
        d.stage(2);
        const auto push = [&](const QString& name) {
            auto* button = d.find<QAbstractButton>(name);
            button->setFocus();
            QTest::keyClick(button, Qt::Key_Space);
        };
        push(u"outline_iron_transformer"_s);
        QCOMPARE(d.job().found.topology, Topology::Linear);
        QVERIFY(d.job().found.topology_assumed);
        QVERIFY(std::ranges::find(d.evaluation().path, Station::Transformer) != d.evaluation().path.end());
        QVERIFY(d.shows(u"in line with the output, on a heatsink?"_s));
        push(u"cannotTell"_s);
        QVERIFY(!d.shows(u"in line with the output, on a heatsink?"_s));
        for (int i = 0; i < 9; ++i)
            push(u"cannotTell"_s); // all the way round
        while (!d.shows(u"in line with the output, on a heatsink?"_s))
            push(u"cannotTell"_s);
        push(u"answer_1"_s); // nothing stands there
        QCOMPARE(d.job().found.topology, Topology::Unregulated);
        QVERIFY(d.shows(u"Nothing but this looks like that"_s));
        push(u"sayKind"_s);
        QVERIFY(!d.job().found.topology_assumed);
        // What was answered wrongly is changed in the list; what was said stays, and the doubt is shown.
        d.choose(u"In line with the output"_s, u"a transistor in line with the output"_s);
        QCOMPARE(d.job().found.topology, Topology::Unregulated);
        QVERIFY(d.shows(u"which does not look like that"_s));
        push(u"sayKind"_s);
        QCOMPARE(d.job().found.topology, Topology::SeriesPass);
        // A station of the path brings its form.
        d.station(Station::Reservoir);
        d.find<QLineEdit>(u"Bulk rated voltage"_s);
    }

    /// Live, the walk is barred; of a unit that never had power it begins. What is typed is echoed, fills its
    /// figures and goes on; what does not read stays; Esc comes back to the part once the others were met.
    void walked()
    {
        Driver d(JobStore::untitled());
        d.stage(2);
        d.find<QAbstractButton>(u"outline_open_board"_s)->click();
        d.click(u"Walk the board"_s);
        auto* line = d.find<QLineEdit>(u"walkLine"_s);
        QVERIFY(!line->isEnabled() && d.shows(u"It counts as live"_s));
        QTest::keyClick(d.button(u"never had power"_s), Qt::Key_Space);
        QVERIFY(line->isEnabled());
        const auto part = [&] { return d.find<QLabel>(u"walkPart"_s)->text().section(u" ·"_s, 0, 0); };
        const auto type = [&](const QString& text) {
            QTest::keyClicks(line, text);
            QTest::keyClick(line, Qt::Key_Return);
        };
        QCOMPARE(part(), u"Plate"_s);
        type(u"24V 2A5"_s);
        QCOMPARE(d.job().found.rails.front().i_rated_a, std::optional(2.5));
        QCOMPARE(part(), u"Inlet, switch, cord"_s);
        QTest::keyClick(line, Qt::Key_Escape);
        QCOMPARE(part(), u"Fuse"_s);
        type(u"T2 volts"_s);
        QVERIFY(d.shows(u"volts"_s) && part() == u"Fuse"_s && line->text() == u"T2 volts"_s);
        line->clear();
        type(u"T2A 250V"_s);
        QCOMPARE(d.job().found.fuse.type, std::optional<std::string>("T"));
        auto* strip = d.window->findChild<ui::WalkStrip*>();
        strip->setFocus();
        QTest::keyClick(strip, Qt::Key_Left);
        QCOMPARE(part(), u"Fuse"_s);
        for (int i = 0; i < 30 && part() != u"Output capacitor"_s; ++i)
            QTest::keyClick(line, Qt::Key_Return);
        type(u"12V 1000u 25V 105C"_s);
        const OutputCapacitor& capacitor = d.job().found.rails.front().capacitor;
        QVERIFY(capacitor.c_f == 1e-3 && capacitor.v_rated_v == 25);
        for (int i = 0; i < 30 && part() != u"Inlet, switch, cord"_s; ++i)
            QTest::keyClick(line, Qt::Key_Return); // it comes back
        QCOMPARE(part(), u"Inlet, switch, cord"_s);
        type(u"10A 4A 6A"_s);
        QCOMPARE(d.job().found.entry.cord_a, std::optional(6.0));
        // The same walk at arm's length, and back.
        d.press(Qt::Key_F11);
        auto* bench = d.find<QLineEdit>(u"benchWalkLine"_s);
        for (int i = 0; i < 30 && !d.job().found.inrush.r_ohm; ++i) {
            QTest::keyClicks(bench, u"4R7"_s);
            QTest::keyClick(bench, Qt::Key_Return);
            bench->clear();
            QTest::keyClick(bench, Qt::Key_Return);
        }
        QCOMPARE(d.job().found.inrush.r_ohm, std::optional(4.7));
        QTest::keyClick(bench, Qt::Key_F11);
        QVERIFY(!d.window->findChild<QWidget*>(u"benchWalk"_s) ||
                !d.window->findChild<QWidget*>(u"benchWalk"_s)->isVisible());
        d.log(u"live"_s);
        QVERIFY(!line->isEnabled());
    }

    /// A note where one would be stuck, once for each person; none after "No more notes".
    void notes()
    {
        ui::FirstNotes::setPlace(m_folder.file(u"notes.ini"_s));
        const auto note = [](const Driver& d) {
            const auto* notes = d.window->findChild<ui::FirstNotes*>();
            return notes->isVisible() ? notes->findChild<QLabel*>()->text() : QString();
        };
        {
            Driver d(m_folder.job("mast-camera"));
            d.stage(1);
            QVERIFY(note(d).isEmpty());
            d.stage(4);
            QVERIFY(note(d).contains(u"isolation control"_s));
            d.click(u"Put it away"_s);
            QVERIFY(note(d).isEmpty());
            d.log(u"unplugged"_s);
            QVERIFY(note(d).contains(u"press /"_s));
            d.click(u"Put it away"_s);
        }
        {
            Driver again(m_folder.job("mast-camera"));
            again.stage(4);
            again.log(u"unplugged"_s);
            QVERIFY(note(again).isEmpty());
        }
        ui::FirstNotes::setPlace(m_folder.file(u"others.ini"_s));
        {
            Driver other(m_folder.job("mast-camera"));
            other.stage(4);
            other.click(u"No more notes"_s);
            other.log(u"unplugged"_s);
            QVERIFY(note(other).isEmpty());
        }
        ui::FirstNotes::setPlace({});
    }

    /// Every page has its place in the handbook, and F1 opens it there.
    void handbook()
    {
        Driver d(m_folder.job("tide-house-cabinet"));
        ui::Handbook book(d.window->look());
        const auto has = [&](const QString& topic) {
            QVERIFY2(book.goTo(topic), qPrintable(topic));
            QVERIFY(book.text().topicShown().startsWith(topic));
        };
        for (const int stage : {1, 4, 5, 6}) {
            d.stage(stage);
            has(d.window->topic());
        }
        d.stage(2);
        for (const ui::FoundTab tab :
             {ui::FoundTab::Identity, ui::FoundTab::Walk, ui::FoundTab::Parts, ui::FoundTab::Rails,
              ui::FoundTab::Units, ui::FoundTab::Photos, ui::FoundTab::Steps}) {
            d.window->foundPage().showTab(tab);
            has(d.window->topic());
        }
        d.stage(3);
        for (const ui::PlanKind kind : ui::PlanPage::everyKind()) {
            d.window->planPage().show(kind);
            has(d.window->topic());
        }
        QVERIFY(!book.goTo(u"What nobody wrote"_s));
        // Its pictures come from inside, too.
        const QTextDocument& document = *book.text().document();
        int pictures = 0;
        for (QTextBlock block = document.begin(); block.isValid(); block = block.next())
            for (auto at = block.begin(); !at.atEnd(); ++at)
                if (at.fragment().charFormat().isImageFormat()) {
                    ++pictures;
                    const QUrl name(at.fragment().charFormat().toImageFormat().name());
                    QVERIFY2(!document.resource(QTextDocument::ImageResource, name).value<QImage>().isNull(),
                             qPrintable(name.toString()));
                }
        QVERIFY(pictures >= 4);
        d.window->planPage().show(ui::PlanKind::Fit);
        d.press(Qt::Key_F1);
        auto* open = d.window->findChild<ui::Handbook*>();
        QVERIFY(open != nullptr && open->isVisible());
        QTest::qWait(50); // nothing takes it elsewhere meanwhile
        QVERIFY(open->text().topicShown().startsWith(u"Fit"_s));
    }
};

REGISTER_TEST(TestFirst, QApplication)
#include "tst_first.moc"
