// The first job of docs/FIRST-JOB.md, key by key as the page says it: from the empty window to the signature.
#include "ui/driver.h"
#include "ui/fields/option_list.h"
#include "ui/test_folder.h"
#include "ui/ways/ways_page.h"

#include <QFile>
#include <algorithm>

using namespace offshoot;
using namespace offshoot::test;

namespace {

/// The lines of the page's blocks of keys, each with its number on the page.
QList<std::pair<int, QString>> keysOf(const QString& page)
{
    QList<std::pair<int, QString>> keys;
    bool inside = false;
    int number = 0;
    for (const QString& line : page.split(u'\n')) {
        ++number;
        if (line.startsWith(u"```"_s))
            inside = line == u"```keys"_s;
        else if (inside && !line.trimmed().isEmpty())
            keys << std::pair(number, line.trimmed());
    }
    return keys;
}

} // namespace

class TestFirstJob : public QObject
{
    Q_OBJECT

    /// "fill NAME: text" in two.
    static std::pair<QString, QString> halves(const QString& text)
    {
        const auto at = text.indexOf(u": "_s);
        return {text.left(at), text.mid(at + 2)};
    }

    static void press(const Driver& d, const QString& text)
    {
        QAbstractButton* button = d.button(text);
        button->setFocus();
        QTest::keyClick(button, Qt::Key_Space);
    }

    static void plan(const Driver& d, const QString& way)
    {
        auto* ways = d.find<ui::OptionList>(u"Ways, best first"_s);
        const auto* page = d.window->findChild<ui::WaysPage*>();
        QTRY_VERIFY(!page->working() && ways->model()->rowCount() > 0);
        ways->setFocus();
        QTest::keyClick(ways, Qt::Key_Home);
        for (int i = 0; i < ways->model()->rowCount(); ++i) {
            if (ways->currentIndex().data(Qt::DisplayRole).toString().startsWith(way))
                break;
            QTest::keyClick(ways, Qt::Key_Down);
        }
        QTest::keyClick(ways, Qt::Key_Return);
    }

    /// By the name it has on this path.
    static Station stationNamed(const Driver& d, const QString& name)
    {
        for (std::size_t i = 0; i < station_count; ++i)
            if (QString::fromStdString(d.evaluation().stations[i].name) == name)
                return static_cast<Station>(i);
        qFatal("no station is called %s", qPrintable(name));
    }

    /// What one line of keys does; false where the page speaks in a way that is not known.
    static bool doLine(Driver& d, const QString& line)
    {
        const QString verb = line.section(u' ', 0, 0);
        const QString rest = line.section(u' ', 1);
        if (line.startsWith(u"Alt+"_s))
            d.stage(line.mid(4).toInt());
        else if (verb == u"press"_s)
            press(d, rest);
        else if (verb == u"fill"_s)
            d.fill(halves(rest).first, halves(rest).second);
        else if (verb == u"choose"_s)
            d.choose(halves(rest).first, halves(rest).second);
        else if (verb == u"walk"_s) {
            auto* entry = d.find<QLineEdit>(u"walkLine"_s);
            QTest::keyClicks(entry, rest == u"on"_s ? QString() : rest);
            QTest::keyClick(entry, Qt::Key_Return);
        } else if (verb == u"/"_s)
            d.log(rest);
        else if (verb == u"tick"_s)
            for (auto* box : d.procedure()->findChildren<QCheckBox*>()) {
                if (box->isVisible() && !box->isChecked())
                    QTest::keyClick(box, Qt::Key_Space);
            }
        else if (verb == u"wait"_s)
            d.pass(rest.section(u' ', 0, 0).toDouble() * (rest.endsWith(u"min"_s) ? 60 : 1));
        else if (verb == u"plan"_s)
            plan(d, rest);
        else if (verb == u"station"_s)
            d.station(stationNamed(d, rest));
        else
            return false;
        return true;
    }

private Q_SLOTS:
    void initTestCase() { startWindowTests(); }

    void page()
    {
        QFile file(QStringLiteral(OFFSHOOT_SOURCE_DIR "/docs/FIRST-JOB.md"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const auto keys = keysOf(QString::fromUtf8(file.readAll()));
        QVERIFY(keys.size() > 40);
        Driver d(JobStore::untitled());
        for (const auto& [number, line] : keys) {
            d.pass(5);
            const QString at = u"line %1: %2"_s.arg(number).arg(line);
            if (line.startsWith(u"see "_s))
                QVERIFY2(d.shows(line.mid(4)), qPrintable(at));
            else
                QVERIFY2(doLine(d, line), qPrintable(at));
            QVERIFY2(!QTest::currentTestFailed(), qPrintable(at));
        }
        QVERIFY2(d.evaluation().signed_off,
                 d.evaluation().blocks.empty() ? "not signed" : d.evaluation().blocks.front().c_str());
        QCOMPARE(d.evaluation().counts.breaks, 0);
    }

#ifdef WRITE_FIRST_JOB
    void write();
#endif
};

REGISTER_TEST(TestFirstJob, QApplication)
#include "tst_first_job.moc"
