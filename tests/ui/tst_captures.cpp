// A file of an oscilloscope on its way into the log by hand: dropped, asked for what it does not say, kept
// beside the job; typed on the log line; refused with its line; taken by the step that asks for it.
#include "ui/captures/capture_intake.h"
#include "ui/captures/capture_picture.h"
#include "ui/driver.h"
#include "ui/rehearse/rehearsal.h"
#include "ui/test_folder.h"

#include <QDir>
#include <QDropEvent>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QMimeData>
#include <QSignalSpy>
#include <QWheelEvent>
#include <cmath>
#include <numbers>

using namespace offshoot;
using namespace offshoot::test;
using namespace Qt::StringLiterals;

namespace {

/// Two columns behind the time: a ripple of 40 mV, and twice that.
QByteArray ripple(int count = 2000)
{
    QByteArray text = "Time,CH1,CH2\ns,V,V\n";
    for (int i = 0; i < count; ++i) {
        const double t_s = i * 1e-5;
        const double v = 0.02 * std::sin(2 * std::numbers::pi * 100 * t_s);
        text += QByteArray::number(t_s, 'f', 6) + ',' + QByteArray::number(v, 'f', 6) + ',' +
                QByteArray::number(2 * v, 'f', 6) + '\n';
    }
    return text;
}

const LogEntry& last(const Driver& d) { return d.job().log.back(); }

} // namespace

class TestCaptures : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

    QString file(const QByteArray& text, const QString& name = u"seen.csv"_s)
    {
        writeFile(m_folder.file(name), text);
        return m_folder.file(name);
    }
    static void drop(const Driver& d, const QString& path)
    {
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(path)});
        QDragEnterEvent enters({10, 10}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(d.window.get(), &enters);
        QVERIFY(enters.isAccepted());
        QDropEvent drops(QPointF(10, 10), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(d.window.get(), &drops);
    }
    static void settle(const Driver& d) { QTRY_VERIFY_WITH_TIMEOUT(!d.window->captures().working(), 20000); }

private Q_SLOTS:
    void init() { m_folder.renew(); }

    /// Nothing is logged before it is said what the probe divides by; then the figures are those of its tip.
    void dropped()
    {
        Driver d(m_folder.job("radio-link"));
        const auto entries = d.job().log.size();
        drop(d, file(ripple()));
        settle(d);
        QVERIFY(d.shows(u"what the probe divides by"_s));
        QVERIFY(!d.button(u"Log it"_s)->isEnabled());
        d.fill(u"Probe, times"_s, u"10"_s);
        settle(d);
        QVERIFY(d.shows(u"400 mV in 2000 samples"_s));
        d.choose(u"Column of the file"_s, u"CH2 (V)"_s);
        settle(d);
        QVERIFY(d.shows(u"800 mV in 2000 samples"_s));
        d.fill(u"Load of the capture"_s, u"seven"_s);
        QVERIFY(d.shows(u"The load is in A, W or ohms"_s));
        QVERIFY(!d.button(u"Log it"_s)->isEnabled());
        d.fill(u"Load of the capture"_s, u"2A"_s);
        settle(d);
        QCOMPARE(d.job().log.size(), entries);
        d.click(u"Log it"_s);
        settle(d);
        QCOMPARE(last(d).point, std::string("ripple"));
        QVERIFY(std::abs(*last(d).value - 0.8) < 1e-3);
        QCOMPARE(last(d).load, (ReadingLoad{2, Quantity::Current}));
        const QString kept = QString::fromStdString(last(d).capture->file);
        QCOMPARE(kept, u"radio-link.captures/seen.csv"_s);
        QCOMPARE(readFile(QFileInfo(d.window->session().store().path()).path() + u'/' + kept), ripple());
        QCOMPARE(d.find<ui::TracePicture>(u"What the oscilloscope saw, over time"_s)
                     ->accessibleDescription()
                     .left(6),
                 u"Ripple"_s);
        // The next one knows the probe; Enter behind its load logs it with that.
        drop(d, m_folder.file(u"seen.csv"_s));
        settle(d);
        QVERIFY(d.button(u"Log it"_s)->isEnabled());
        auto* load = d.find<QLineEdit>(u"Load of the capture"_s);
        load->setFocus();
        load->clear();
        QTest::keyClicks(load, u"3A"_s);
        QTest::keyClick(load, Qt::Key_Return);
        QTRY_VERIFY(!d.window->captures().waiting());
        QCOMPARE(last(d).load, (ReadingLoad{3, Quantity::Current}));
        // Another is left again.
        drop(d, m_folder.file(u"seen.csv"_s));
        settle(d);
        const auto before = d.job().log.size();
        d.click(u"Leave it"_s);
        QCOMPARE(d.job().log.size(), before);
        QVERIFY(!d.window->captures().waiting());
    }

    /// Typed, it is logged at once, and answers the step that asks for it at that load.
    void typed()
    {
        Driver d(m_folder.job("beacon-float-charge"));
        const auto question = stepAsking(d.evaluation(), "ripple", Quantity::Voltage, {});
        QVERIFY(question);
        const std::string step = question->view->step.id;
        const double full_a = *question->asked->load_a;
        const auto type = [&](const QString& load) {
            d.log(u"capture %1 ripple @%2"_s.arg(file(ripple()), load));
            settle(d);
        };
        type(u"0.3A"_s);
        QVERIFY(last(d).capture && !last(d).step); // not the load that is asked for
        type(QString::number(full_a) + u'A');
        const auto answered =
            std::ranges::find_if(d.job().log, [&](const LogEntry& e) { return e.capture && e.step == step; });
        QVERIFY(answered != d.job().log.end());
        d.stage(6);
        d.press(Qt::Key_O, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(d.shows(u"peak to peak after the change"_s));
        QCOMPARE(d.window->topic(), u"Captures"_s);
    }

    void refused_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("says");
        QTest::newRow("no data") << QByteArray("hello\n") << u"no line has a time and a value"_s;
        QTest::newRow("a hole") << ripple(20) + "0.0003,,\n" + "0.0004,1,1\n" << u"line 23"_s;
        QTest::newRow("too few") << ripple(5) << u"fewer than 16"_s;
        QTest::newRow("amperes") << QByteArray(ripple(30)).replace("s,V,V", "s,A,V") << u"in amperes"_s;
    }
    /// What is wrong stands where the file waits; nothing is logged.
    void refused()
    {
        QFETCH(QByteArray, text);
        QFETCH(QString, says);
        Driver d(m_folder.job("beacon-float-charge"));
        const auto entries = d.job().log.size();
        drop(d, file(text));
        settle(d);
        QVERIFY2(d.shows(says), qPrintable(d.window->captures().problem()));
        QCOMPARE(d.job().log.size(), entries);
        d.log(u"capture "_s + m_folder.file(u"gone.csv"_s));
        settle(d);
        QVERIFY(!d.window->captures().problem().isEmpty());
        QCOMPARE(d.job().log.size(), entries);
    }

    /// A million samples do not hold the window up.
    void largeFile()
    {
        Driver d(m_folder.job("beacon-float-charge"));
        const QString path = file(ripple(300000));
        QElapsedTimer timer;
        timer.start();
        drop(d, path);
        QVERIFY(d.window->captures().working());
        qint64 longest = 0;
        while (d.window->captures().working()) {
            const qint64 before = timer.elapsed();
            QApplication::processEvents();
            longest = std::max(longest, timer.elapsed() - before);
            QVERIFY(timer.elapsed() < 60000);
        }
        QVERIFY(d.window->captures().entry());
        constexpr qint64 patience = 1500; // a loaded machine with sanitizers; the work is far longer there
        QVERIFY2(longest < patience, QByteArray::number(longest));
    }

    /// Looked at closer, what is seen comes out of the samples; gone, the outline is left and that is said.
    void closer()
    {
        Driver d(m_folder.job("beacon-float-charge"));
        const QString shipped = QStringLiteral(OFFSHOOT_SOURCE_DIR "/data/jobs/beacon-float-charge.captures");
        const QDir beside = QFileInfo(d.window->session().store().path()).dir();
        QVERIFY(beside.mkpath(u"beacon-float-charge.captures"_s));
        for (const QString& name : QDir(shipped).entryList(QDir::Files))
            QVERIFY(QFile::copy(shipped + u'/' + name,
                                beside.filePath(u"beacon-float-charge.captures/"_s + name)));
        d.stage(5);
        d.window->showCaptures();
        auto* trace = d.find<ui::TracePicture>(u"What the oscilloscope saw, over time"_s);
        QVERIFY(!trace->lookedAt());
        QSignalSpy wanted(trace, &ui::TracePicture::samplesWanted);
        const QImage whole = trace->grab().toImage();
        trace->setFocus();
        for (int i = 0; i < 6; ++i)
            QTest::keyClick(trace, Qt::Key_Plus);
        QCOMPARE(wanted.count(), 1);
        QVERIFY(trace->lookedAt());
        const ui::AxisRange narrow = *trace->lookedAt();
        const QImage outline = trace->grab().toImage();
        QTRY_VERIFY(trace->grab().toImage() != outline); // the samples have come
        QTest::keyClick(trace, Qt::Key_Right);
        QVERIFY(trace->lookedAt()->low > narrow.low);
        QCOMPARE_LT(std::abs(trace->lookedAt()->high - trace->lookedAt()->low - narrow.high + narrow.low),
                    1e-9);
        const QPointF at = trace->rect().center();
        QWheelEvent turn(at, trace->mapToGlobal(at), {}, {0, 120}, Qt::NoButton, Qt::NoModifier,
                         Qt::NoScrollPhase, false);
        QApplication::sendEvent(trace, &turn);
        QVERIFY(trace->lookedAt()->high - trace->lookedAt()->low < narrow.high - narrow.low);
        for (int i = 0; i < 40; ++i) // no closer than some samples, no further than all of it
            QTest::keyClick(trace, Qt::Key_Plus);
        QVERIFY(trace->lookedAt()->high - trace->lookedAt()->low > 1e-3);
        for (int i = 0; i < 40; ++i)
            QTest::keyClick(trace, Qt::Key_Minus);
        QVERIFY(!trace->lookedAt());
        QCOMPARE(trace->grab().toImage(), whole);
    }

    void samplesGone()
    {
        Driver d(m_folder.job("beacon-float-charge"));
        d.stage(5);
        d.window->showCaptures();
        auto* trace = d.find<ui::TracePicture>(u"What the oscilloscope saw, over time"_s);
        QSignalSpy told(&d.window->session(), &ui::JobSession::problem);
        QTest::keyClick(trace, Qt::Key_Plus);
        QTRY_COMPARE(told.count(), 1);
        QVERIFY(told.front().front().toString().contains(u"cannot be read any more"_s));
        QVERIFY(trace->lookedAt());
    }

    /// The simulated unit's oscilloscope shows what it saw, and nothing of it comes into the job.
    void rehearsed()
    {
        Driver d(m_folder.job("beacon-float-charge"));
        const Job before = d.job();
        ui::Rehearsal rehearsal(d.job(), 1, d.window->look());
        rehearsal.show();
        for (const char* move : {"lamp_in", "plug_in", "capture surge", "capture ripple tab"})
            QVERIFY(rehearsal.play(QString::fromLatin1(move)));
        const auto* trace = rehearsal.findChild<ui::TracePicture*>();
        QVERIFY(trace != nullptr && trace->isVisible());
        QVERIFY(rehearsal.play(u"look"_s));
        QVERIFY(!trace->isVisible());
        QCOMPARE(d.job(), before);
    }
};

REGISTER_TEST(TestCaptures, QApplication)
#include "tst_captures.moc"
