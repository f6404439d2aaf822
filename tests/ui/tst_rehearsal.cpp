// A job rehearsed in the window: by keys and by clicks, with wrong moves and a hidden fault; and nothing of
// it in the job, tried on purpose.
#include "core/rehearse/rehearsal_end.h"
#include "ui/driver.h"
#include "ui/rehearse/bench_picture.h"
#include "ui/rehearse/rehearsal.h"
#include "ui/test_folder.h"

#include <QListWidget>
#include <QSpinBox>
#include <QTextBrowser>

using namespace offshoot;
using namespace offshoot::test;

namespace {

ui::Rehearsal* opened(Driver& d)
{
    d.press(Qt::Key_R, Qt::ControlModifier | Qt::ShiftModifier);
    auto* rehearsal = d.find<ui::Rehearsal>(u"rehearsal"_s);
    rehearsal->activateWindow();
    (void)QTest::qWaitForWindowActive(rehearsal);
    return rehearsal;
}

void key(ui::Rehearsal* rehearsal, Qt::Key key)
{
    QTest::keyClick(QApplication::focusWidget() != nullptr ? QApplication::focusWidget() : rehearsal, key);
}

std::string written(const Driver& d)
{
    std::string all;
    const QString path = d.window->session().store().path();
    for (const QString& name : {path, path + u".journal"_s})
        if (QFile file(name); file.open(QIODevice::ReadOnly))
            all += file.readAll().toStdString();
    return all;
}

} // namespace

class TestRehearsal : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

private Q_SLOTS:
    void initTestCase() { startWindowTests(); }
    void init() { m_folder.renew(); }

    /// Space alone leads through the whole procedure of a sound unit; the job stays as it was.
    void ledThrough_data()
    {
        QTest::addColumn<QString>("name");
        for (const char* name :
             {"lamp-room-clock", "beacon-float-charge", "barograph-amplifier", "mast-camera"})
            QTest::newRow(name) << QString::fromUtf8(name);
    }
    void ledThrough()
    {
        QFETCH(QString, name);
        Driver d(m_folder.job(name.toUtf8().constData()));
        const Job before = d.job();
        const std::string file = written(d);
        ui::Rehearsal* r = opened(d);
        QVERIFY(r->windowTitle().startsWith(u"Rehearsal"_s));
        int steps = 0;
        while (r->rehearsed().step() != nullptr && steps++ < 300)
            key(r, Qt::Key_Space);
        QVERIFY(steps > 20 && steps < 300);
        const RehearsalEnd end = rehearsalEnd(r->rehearsed());
        QVERIFY(end.wrongs.empty() && end.missed.empty());
        auto* text = r->findChild<QTextBrowser*>();
        QVERIFY(text->isVisible());
        QVERIFY(text->toPlainText().contains(u"Nothing was wrong with it."_s));
        QVERIFY(text->toPlainText().contains(u"No wrong move."_s));
        // No fault speaks out of its readings more than none does, or hardly.
        QTRY_VERIFY(text->toPlainText().contains(u"likeliest first"_s));
        QVERIFY(
            text->toPlainText().section(u"likeliest first"_s, 1).contains(u"Nothing was wrong with it."_s));
        QVERIFY(d.job() == before);
        QCOMPARE(written(d), file);
        key(r, Qt::Key_Escape);
        d.press(Qt::Key_S, Qt::ControlModifier);
        QVERIFY(d.job().log == before.log);
    }

    /// Where the work begins it is offered; one at a time, and on the job as it stands.
    void offered()
    {
        Driver d(m_folder.job("beacon-float-charge"));
        d.stage(4);
        d.click(u"Rehearse it on a simulated unit first"_s);
        auto* first = d.find<ui::Rehearsal>(u"rehearsal"_s);
        QCOMPARE(opened(d), first);
        QCOMPARE(first->rehearsed().job().found, d.job().found);
        QVERIFY(first->rehearsed().job().log.empty() && !d.job().log.empty());
    }

    /// Off the path by keys: what would have hurt is named once, counted after, and not done.
    void wrongMoves()
    {
        Driver d(m_folder.job("wind-recorder"));
        ui::Rehearsal* r = opened(d);
        auto* wrong = d.find<QLabel>(u"What a wrong move would have done"_s);
        key(r, Qt::Key_F);
        QVERIFY(!r->rehearsed().bench().changed());
        QVERIFY(wrong->text().contains(u"under the iron"_s));
        key(r, Qt::Key_F);
        QVERIFY(wrong->text().startsWith(u"Once more"_s));
        key(r, Qt::Key_L);
        QVERIFY(r->rehearsed().bench().limiterIn());
        key(r, Qt::Key_P);
        QVERIFY(r->rehearsed().bench().live() && wrong->text().isEmpty());
        key(r, Qt::Key_C);
        QVERIFY(!r->rehearsed().bench().caseOpen() && !wrong->text().isEmpty());
        key(r, Qt::Key_P);
        key(r, Qt::Key_C);
        QVERIFY(r->rehearsed().bench().caseOpen());
        key(r, Qt::Key_O);
        QVERIFY(r->rehearsed().bench().loadSiemens() > 0);
        const double before_s = r->rehearsed().bench().timeS();
        key(r, Qt::Key_D);
        key(r, Qt::Key_W);
        QVERIFY(r->rehearsed().bench().timeS() >= before_s + 60);
        key(r, Qt::Key_E);
        const QString text = r->findChild<QTextBrowser*>()->toPlainText();
        QVERIFY(text.contains(u"2 times"_s) && text.contains(u"Not carried out"_s));
    }

    /// Any move can be typed; one that is none keeps its text and says why.
    void typed()
    {
        Driver d(m_folder.job("beacon-float-charge"));
        ui::Rehearsal* r = opened(d);
        auto* line = d.find<QLineEdit>(u"Move"_s);
        line->setFocus();
        for (const auto& [text, taken] :
             {std::pair(u"probe bulk"_s, true), {u"jump about"_s, false}, {u"probe nowhere"_s, false}}) {
            line->clear();
            const std::size_t moves = r->rehearsed().played().moves.size();
            QTest::keyClicks(line, text);
            QTest::keyClick(line, Qt::Key_Return);
            QCOMPARE(line->text(), taken ? QString() : text);
            QCOMPARE(r->rehearsed().played().moves.size(), moves + (taken ? 1 : 0));
        }
        QVERIFY(d.shows(u"no such"_s));
    }

    /// Every thing on the bench can be clicked, and reached by arrows.
    void things()
    {
        Driver d(m_folder.job("splicing-bench"));
        ui::Rehearsal* r = opened(d);
        auto* picture = d.find<ui::BenchPicture>(u"The bench"_s);
        for (const int percent : {130, 100}) {
            d.window->look().setPercent(percent);
            QApplication::processEvents(); // as small as it may be is known then
            r->resize(1024, 700);
            QApplication::processEvents();
            const auto& spots = picture->spots();
            for (std::size_t i = 0; i < spots.size(); ++i) {
                QVERIFY2(picture->rect().contains(spots[i].box.toRect()), qPrintable(spots[i].name));
                for (std::size_t k = 0; k < i; ++k)
                    QVERIFY2(!spots[i].box.intersects(spots[k].box), qPrintable(spots[i].name));
            }
        }
        QCOMPARE(r->width(), 1024);
        std::set<std::string> names;
        const std::size_t count = picture->spots().size();
        QVERIFY(count >= 4 + d.job().found.rails.size());
        for (std::size_t i = 0; i < count; ++i) {
            const auto spot = picture->spots()[i];
            const std::size_t moves = r->rehearsed().played().moves.size();
            QTest::mouseClick(picture, Qt::LeftButton, {}, spot.box.center().toPoint());
            QCOMPARE(r->rehearsed().played().moves.size(), moves + 1);
            QCOMPARE(r->rehearsed().played().moves.back().answer.move.text(), spot.move.toStdString());
        }
        picture->setFocus();
        QTest::keyClick(picture, Qt::Key_Right);
        const bool live = r->rehearsed().bench().live();
        QTest::keyClick(picture, Qt::Key_Return);
        QCOMPARE(r->rehearsed().bench().live(), !live);
    }

    /// Each exercise opens its job; one that is done stays marked, for whoever rehearses next.
    void exercisesKept()
    {
        ui::Rehearsal::setPlace(m_folder.file(u"exercises.ini"_s));
        Driver d(m_folder.job("mast-camera"));
        ui::Rehearsal* r = opened(d);
        auto* choice = d.find<QComboBox>(u"Exercise"_s);
        QCOMPARE(choice->count(), int(exercises().size()) + 1);
        const auto marked = [](const QComboBox* of, int entry) { return !of->itemIcon(entry).isNull(); };
        for (int i = 1; i < choice->count(); ++i) {
            const Exercise& exercise = exercises()[std::size_t(i - 1)];
            d.choose(u"Exercise"_s, choice->itemText(i));
            QVERIFY(d.shows(QString::fromUtf8(exercise.says.data())));
            QVERIFY(!d.shows(u"Done."_s) && !marked(choice, i));
            if (exercise.goal == Goal::ProveDead)
                while (!marked(choice, i) && r->rehearsed().step() != nullptr &&
                       !r->rehearsed().bench().live())
                    r->carryOut();
            if (exercise.goal == Goal::BehindLimiter)
                for (const char* move : {"lamp_in", "plug_in", "unplug"})
                    QVERIFY(r->play(QString::fromUtf8(move)));
            if (exercise.goal == Goal::NameFault)
                d.choose(u"Which fault is it?"_s,
                         QString::fromStdString(faultSentence(r->rehearsed().benches().fault())));
            if (exercise.goal == Goal::WholeJob) {
                const UnitFault& fault = r->rehearsed().benches().fault();
                if (fault.kind != UnitFaultKind::None)
                    d.choose(u"Which fault is it?"_s, QString::fromStdString(faultSentence(fault)));
                while (fault.kind == UnitFaultKind::None && r->rehearsed().step() != nullptr)
                    r->carryOut();
            }
            QVERIFY2(marked(choice, i) && d.shows(u"Done."_s), exercise.id.data());
        }
        d.choose(u"Exercise"_s, u"this job"_s);
        QCOMPARE(r->rehearsed().job().title, d.job().title);
        Driver other(m_folder.job("hatch-heater"));
        opened(other);
        QVERIFY(marked(other.find<QComboBox>(u"Exercise"_s), 1));
        ui::Rehearsal::setPlace({});
    }

    /// Several units: each taken in hand by a key or a click, joined, and the poor lead found by its reading.
    void severalUnits()
    {
        Driver d(m_folder.job("hatch-heater"));
        ui::Rehearsal* r = opened(d);
        auto* picture = d.find<ui::BenchPicture>(u"The bench"_s);
        const auto spot = [&](const QString& name) {
            const auto& spots = picture->spots();
            const auto at = std::ranges::find(spots, name, &ui::BenchPicture::Spot::name);
            return at == spots.end() ? QPoint(-1, -1) : at->box.center().toPoint();
        };
        const auto last = [&] { return r->rehearsed().played().moves.back().answer.move.text(); };
        key(r, Qt::Key_U);
        key(r, Qt::Key_L);
        QCOMPARE(last(), std::string("lamp_in #2"));
        key(r, Qt::Key_P);
        QVERIFY(r->rehearsed().benches().unit(2).live() && !r->rehearsed().bench().live());
        QVERIFY(d.find<QLabel>(u"State of the simulated unit"_s)->text().startsWith(u"LIVE"_s));
        QTest::mouseClick(picture, Qt::LeftButton, {}, spot(u"#3"_s));
        key(r, Qt::Key_C);
        QCOMPARE(last(), std::string("open_case #3"));
        key(r, Qt::Key_J); // while the second is live
        QVERIFY(!r->rehearsed().benches().joined());
        QVERIFY(!d.find<QLabel>(u"What a wrong move would have done"_s)->text().isEmpty());
        QCOMPARE(spot(u"lead #2"_s), QPoint(-1, -1));

        d.choose(u"Exercise"_s, u"One of three does not share"_s);
        while (!r->rehearsed().benches().joined() && r->rehearsed().step() != nullptr)
            key(r, Qt::Key_Space);
        QVERIFY(r->rehearsed().benches().joined());
        while (r->rehearsed().step()->step.id != "join.share")
            key(r, Qt::Key_Space);
        std::size_t lowest = 1;
        double lowest_a = 1e9;
        for (std::size_t unit = 1; unit <= 3; ++unit) {
            QTest::mouseClick(picture, Qt::LeftButton, {},
                              spot(unit == 1 ? u"lead"_s : u"lead #%1"_s.arg(unit)));
            const auto& reading = r->rehearsed().played().moves.back().answer.reading;
            QVERIFY(reading && reading->quantity == Quantity::Current);
            if (*reading->value < lowest_a) {
                lowest_a = *reading->value;
                lowest = unit;
            }
        }
        const UnitFault fault{UnitFaultKind::PoorLead, "#" + std::to_string(lowest)};
        d.choose(u"Which fault is it?"_s, QString::fromStdString(faultSentence(fault)));
        QVERIFY(d.shows(u"Done."_s));
    }

    /// A fault is hidden until the end; another unit is another draw.
    void hiddenFault()
    {
        Driver d(m_folder.job("beacon-float-charge"));
        ui::Rehearsal* r = opened(d);
        d.choose(u"Fault"_s, u"a hidden fault"_s);
        std::set<std::string> faults;
        for (const int seed : {1, 2, 3, 4, 5, 6}) {
            d.find<QSpinBox>(u"Which unit is drawn"_s)->setValue(seed);
            d.click(u"Begin anew"_s);
            QVERIFY(r->rehearsed().played().moves.empty());
            const UnitFault& fault = r->rehearsed().benches().fault();
            const bool right = seed % 2 != 0;
            d.choose(u"Which fault is it?"_s,
                     right ? QString::fromStdString(faultSentence(fault)) : u"Which fault is it?"_s);
            while (r->rehearsed().step() != nullptr)
                r->carryOut();
            QCOMPARE(r->findChild<QTextBrowser*>()->toPlainText().contains(u"You named it."_s), right);
            faults.insert(fault.text());
            QVERIFY(fault.kind != UnitFaultKind::None);
            QVERIFY(r->findChild<QTextBrowser*>()->toPlainText().contains(
                QString::fromStdString(faultSentence(fault))));
        }
        QVERIFY(faults.size() > 2);
    }
};

REGISTER_TEST(TestRehearsal, QApplication)
#include "tst_rehearsal.moc"
