// Choose: the shelf judged against the need, a plate typed onto it, CSV in and out, a unit into the job and
// onto the shelf; a shelf that cannot be read is left alone.
#include "core/evaluate/choose_view.h"
#include "store/shelf_file.h"
#include "ui/choose/choose_page.h"
#include "ui/driver.h"
#include "ui/fields/option_list.h"
#include "ui/plan/plan_page.h"
#include "ui/test_folder.h"

#include <QCheckBox>
#include <algorithm>

using namespace offshoot;
using namespace offshoot::test;
using namespace Qt::StringLiterals;

class TestChoose : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

    static void open(const Driver& d)
    {
        d.window->showStage(Stage::Plan);
        d.window->findChild<ui::PlanPage*>()->show(ui::PlanKind::Choose);
        QApplication::processEvents();
    }
    static ui::OptionList* list(const Driver& d)
    {
        return d.find<ui::OptionList>(u"Units on the shelf, best first"_s);
    }
    static QString row(const Driver& d, int at)
    {
        return list(d)->model()->data(list(d)->model()->index(at, 0), Qt::DisplayRole).toString();
    }

private Q_SLOTS:
    void init() { m_folder.renew(); }

    /// From the plate to the shelf to the job, by keys.
    void plateOntoShelf()
    {
        Driver d(m_folder.job("ferry-shed-display"));
        open(d);
        const int before = list(d)->model()->rowCount();
        QVERIFY(before > 0);
        auto* plate = d.find<QLineEdit>(u"plate"_s);
        plate->setFocus();
        QTest::keyClicks(plate, u"Knot 40: 5V 6A 12V 2A ±2% 100-240V class 1 ripple 9"_s);
        QVERIFY(d.shows(u"the ripple is wanted"_s) || d.shows(u"ripple 9 V"_s));
        QTest::keyClicks(plate, u"mV trim 4-4"_s);
        QVERIFY(d.shows(u"around the output's own voltage"_s));
        QTest::keyClick(plate, Qt::Key_Return);
        QVERIFY(!plate->text().isEmpty()); // nothing typed is lost
        QVERIFY(!QFile::exists(ownShelfPath()));
        for (int i = 0; i < 9; ++i)
            QTest::keyClick(plate, Qt::Key_Backspace);
        QTest::keyClick(plate, Qt::Key_Return);
        QVERIFY(d.shows(u"Knot 40 is on the shelf"_s));
        QVERIFY(plate->text().isEmpty());
        QCOMPARE(list(d)->model()->rowCount(), before + 1);
        const Shelf own = loadShelf(ownShelfPath());
        QCOMPARE(own.units.back().unit.name, std::string("Knot 40"));
        QCOMPARE(own.units.size(),
                 loadShelf(QStringLiteral(OFFSHOOT_SOURCE_DIR "/data/shelves/saltmarsh-point.shelf"))
                         .units.size() +
                     1);
        // Another window sees it, best first as the calculation has it.
        Driver again(m_folder.job("rain-gauge-logger"));
        open(again);
        const ChooseView view = chooseView(again.job(), again.evaluation(), own.units, 1);
        QCOMPARE(list(again)->model()->rowCount(), static_cast<int>(view.options.size()));
        for (std::size_t i = 0; i < view.options.size(); ++i)
            QVERIFY(row(again, static_cast<int>(i))
                        .startsWith(QString::fromStdString(view.options[i].units.front().name)));
        QVERIFY(again.shows(QString::fromStdString(view.sentence)));
        // What is looked at is judged at the right; taken into the job it is a unit of it.
        list(again)->setFocus();
        QTest::keyClick(list(again), Qt::Key_Down);
        QVERIFY(
            again.shows(u"<b>"_s + QString::fromStdString(view.options[1].units.front().name) + u"</b>"_s));
        again.click(u"Into the job"_s);
        QCOMPARE(again.job().others.size(), 1u);
        QCOMPARE(again.job().others.front().name, view.options[1].units.front().name);
        QCOMPARE(readJob(writeJob(again.job())), again.job());
    }

    void twoTogether()
    {
        Driver d(m_folder.job("ferry-shed-display"));
        open(d);
        const int alone = list(d)->model()->rowCount();
        d.click(u"also two together"_s);
        QTRY_VERIFY_WITH_TIMEOUT(list(d)->model()->rowCount() > alone, 10000);
        bool pair = false;
        for (int i = 0; i < list(d)->model()->rowCount(); ++i)
            pair = pair || row(d, i).contains(u" and "_s);
        QVERIFY(pair);
    }

    void foundOntoShelf()
    {
        Driver d(m_folder.job("ferry-shed-display"));
        open(d);
        d.click(u"Found unit onto the shelf"_s);
        QCOMPARE(loadShelf(ownShelfPath()).units.back().unit.name, d.job().found.name);
        QVERIFY(d.shows(QString::fromStdString(d.job().found.name) + u" is on the shelf"_s));
    }

    void csv()
    {
        Driver d(m_folder.job("ferry-shed-display"));
        open(d);
        auto* page = d.window->findChild<ui::ChoosePage*>();
        const QString path = m_folder.file(u"shelf.csv"_s);
        QVERIFY(page->exportCsv(path));
        const int before = list(d)->model()->rowCount();
        QByteArray text = readFile(path);
        writeFile(path, text + "Torn,ac 100-240\n");
        QVERIFY(!page->importCsv(path));
        QVERIFY(d.shows(u"line "_s));
        QVERIFY(!QFile::exists(ownShelfPath())); // nothing is taken in half
        writeFile(path, text);
        QVERIFY(page->importCsv(path));
        const Shelf shipped =
            loadShelf(QStringLiteral(OFFSHOOT_SOURCE_DIR "/data/shelves/saltmarsh-point.shelf"));
        QCOMPARE(writeShelf(loadShelf(ownShelfPath())), writeShelf(shipped)); // holes and terminals are kept
        QCOMPARE(list(d)->model()->rowCount(), before);
        QVERIFY(!page->importCsv(m_folder.file(u"nowhere.csv"_s)));
        QVERIFY(d.shows(u"nowhere.csv"_s));
    }

    /// A shelf of one's own that cannot be read is said and never written over.
    void torn()
    {
        Shelf empty;
        saveShelf(empty, ownShelfPath());
        const QByteArray bad = "{\"version\": 1, \"units\": [{}]}";
        writeFile(ownShelfPath(), bad);
        Driver d(m_folder.job("ferry-shed-display"));
        open(d);
        QVERIFY(d.shows(u"own.shelf cannot be read"_s));
        QVERIFY(d.shows(u"/units/0"_s));
        d.click(u"Found unit onto the shelf"_s);
        QCOMPARE(readFile(ownShelfPath()), bad);
        saveShelf(empty, ownShelfPath());
        Driver none(m_folder.job("ferry-shed-display"));
        open(none);
        QVERIFY(none.shows(u"The shelf is empty"_s));
    }
};

REGISTER_TEST(TestChoose, QApplication)
#include "tst_choose.moc"
