// The meter link against the stand-in: addresses, answers, and what happens when a meter hangs or goes away.
#include "bench/meter_link.h"
#include "bench/meter_stand_in.h"
#include "bench/meters.h"
#include "support/support.h"

#include <QProcess>
#include <QRegularExpression>
#include <QSignalSpy>

using namespace offshoot;
using namespace offshoot::bench;
using namespace offshoot::test;
using namespace Qt::StringLiterals;

class TestMeter : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void addresses_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("read");
        QTest::newRow("host") << u"192.0.2.7:5025"_s << u"192.0.2.7 5025  0"_s;
        QTest::newRow("name, spaces") << u"  bench-meter.local:5555 "_s << u"bench-meter.local 5555  0"_s;
        QTest::newRow("serial") << u"/dev/ttyUSB0"_s << u" 0 /dev/ttyUSB0 9600"_s;
        QTest::newRow("serial speed") << u"/dev/ttyUSB0 115200"_s << u" 0 /dev/ttyUSB0 115200"_s;
        QTest::newRow("usb") << u"/dev/usbtmc0"_s << u" 0 /dev/usbtmc0 0usb"_s;
        QTest::newRow("usb by name") << u"usb:/dev/bench as fetching"_s << u" 0 /dev/bench 0usb fetching"_s;
        QTest::newRow("asked otherwise")
            << u"/dev/ttyUSB0 4800 as volts only"_s << u" 0 /dev/ttyUSB0 4800 volts only"_s;
        QTest::newRow("usb has no speed") << u"/dev/usbtmc0 9600"_s << u"no speed"_s;
        QTest::newRow("nothing") << u" "_s << u"Where is it?"_s;
        QTest::newRow("no port") << u"192.0.2.7"_s << u"HOST:PORT"_s;
        QTest::newRow("port 0") << u"192.0.2.7:0"_s << u"HOST:PORT"_s;
        QTest::newRow("port too high") << u"192.0.2.7:70000"_s << u"HOST:PORT"_s;
        QTest::newRow("only a port") << u":5025"_s << u"HOST:PORT"_s;
        QTest::newRow("speed what") << u"/dev/ttyUSB0 fast"_s << u"speed"_s;
        QTest::newRow("speed backwards") << u"/dev/ttyUSB0 -9600"_s << u"speed"_s;
    }
    void addresses()
    {
        QFETCH(QString, text);
        QFETCH(QString, read);
        const auto address = readMeterAddress(text);
        if (address)
            QCOMPARE(u"%1 %2 %3 %4"_s.arg(address->host)
                             .arg(address->port)
                             .arg(address->device)
                             .arg(address->baud) +
                         (address->usb ? u"usb"_s : QString()) +
                         (address->commands.isEmpty() ? QString() : u' ' + address->commands),
                     read);
        else
            QVERIFY2(QString::fromStdString(address.problem().message).contains(read),
                     address.problem().message.c_str());
    }

    void answers_data()
    {
        QTest::addColumn<QByteArray>("function");
        QTest::addColumn<QByteArray>("value");
        QTest::addColumn<double>("read"); // NaN: no reading
        QTest::addColumn<int>("quantity");
        const auto row = [](const char* name, const char* function, const char* value, double read,
                            Quantity quantity) {
            QTest::newRow(name) << QByteArray(function) << QByteArray(value) << read
                                << static_cast<int>(quantity);
        };
        constexpr double none = std::numeric_limits<double>::quiet_NaN();
        row("volts", "\"VOLT\"", "+2.76600000E+01", 27.66, Quantity::Voltage);
        row("volts, alternating", "VOLT:AC", "0.042", 0.042, Quantity::Voltage);
        row("amps", "\"CURR:DC\"", "-1.2E0", -1.2, Quantity::Current);
        row("ohms", "RES", "2.174E3", 2174, Quantity::Resistance);
        row("four wires", "fres", "0.08", 0.08, Quantity::Resistance);
        row("farads", "CAP", "1e-7", 1e-7, Quantity::Capacitance);
        row("celsius", "TEMP", "71", 344.15, Quantity::Temperature);
        row("overload", "RES", "+9.90000000E+37", none, Quantity::Resistance);
        row("diode test", "DIOD", "0.6", none, Quantity::Voltage);
        row("words", "VOLT", "hello", none, Quantity::Voltage);
        row("not a number", "VOLT", "nan", none, Quantity::Voltage);
    }
    void answers()
    {
        QFETCH(QByteArray, function);
        QFETCH(QByteArray, value);
        QFETCH(double, read);
        QFETCH(int, quantity);
        const auto reading = readAnswer(function, value);
        QCOMPARE(reading.has_value(), std::isfinite(read));
        if (!reading)
            return;
        QNEAR(reading->value, read);
        QCOMPARE(static_cast<int>(reading->quantity), quantity);
    }

    /// What the stand-in shows arrives, follows its function, and goes when the meter goes.
    void reads()
    {
        auto meter = std::make_unique<MeterStandIn>();
        QVERIFY(meter->listen(0));
        meter->show("VOLT", 27.66);
        MeterLink link;
        QSignalSpy problems(&link, &MeterLink::problem);
        link.attach(*readMeterAddress(u"127.0.0.1:%1"_s.arg(meter->port())));
        QTRY_VERIFY(link.reading().has_value());
        QNEAR(link.reading()->value, 27.66);
        QCOMPARE(link.name(), u"Saltmarsh Point,Stand-in"_s);
        meter->show("RES", 9.9e37);
        QTRY_VERIFY(!link.reading());
        meter->show("RES", 2174);
        QTRY_VERIFY(link.reading() && link.reading()->quantity == Quantity::Resistance);
        QCOMPARE(problems.size(), 0);
        meter.reset();
        QTRY_COMPARE(problems.size(), 1);
        QVERIFY(!link.attached() && !link.reading());
    }

    void table_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("says"); // empty: it reads
        QTest::newRow("one row") << QByteArray("name,value,function\nmine,VAL?,=VOLT\n") << QString();
        QTest::newRow("no value") << QByteArray("name,value,function\nmine,,FUNC?\n") << u"line 2"_s;
        QTest::newRow("no function") << QByteArray("name,value\nmine,READ?\n") << u"=VOLT"_s;
        QTest::newRow("no such end") << QByteArray("name,value,function,ends\nmine,READ?,FUNC?,nul\n")
                                     << u"crlf"_s;
    }
    void table()
    {
        QFETCH(QByteArray, text);
        QFETCH(QString, says);
        const auto rows = readMeterCommands(text.toStdString());
        QCOMPARE(bool(rows), says.isEmpty());
        if (!rows)
            QVERIFY(QString::fromStdString(rows.problem().message).contains(says));
    }

    /// The shipped table reads; a meter is asked as its row says, found by what it calls itself or by name.
    void askedAsItWants()
    {
        auto rows = *readMeterCommands(sourceFile("data/meters/commands.csv"));
        QCOMPARE(rows.front().name, u"standard"_s);
        rows.push_back({.name = u"other"_s, .answers = u"Stand-in"_s, .function = "WHAT?", .value = "VAL?"});
        MeterStandIn meter;
        QVERIFY(meter.listen(0));
        QByteArrayList questions;
        meter.answerFrom([&questions](const QByteArray& question) {
            questions << question;
            return QByteArray(question == "WHAT?" ? "CURR" : question == "VAL?" ? "0.5" : "");
        });
        const QString at = u"127.0.0.1:%1"_s.arg(meter.port());
        MeterLink link;
        link.setCommands(rows);
        link.attach(*readMeterAddress(at));
        QTRY_VERIFY(link.reading() && link.reading()->quantity == Quantity::Current);
        QNEAR(link.reading()->value, 0.5);
        meter.answerFrom({});
        meter.show("VOLT", 3);
        link.attach(*readMeterAddress(at + u" as volts only"_s));
        QTRY_VERIFY(link.reading() && link.reading()->value == 3);
        QSignalSpy problems(&link, &MeterLink::problem);
        link.attach(*readMeterAddress(at + u" as nothing"_s));
        QCOMPARE(problems.size(), 1);
    }

    /// Nothing false is taken: neither a value between two functions, nor words; both are said.
    void nothingFalse()
    {
        MeterStandIn meter;
        QVERIFY(meter.listen(0));
        meter.show("VOLT", 5);
        MeterLink link;
        QSignalSpy noticed(&link, &MeterLink::noticed);
        link.attach(*readMeterAddress(u"127.0.0.1:%1"_s.arg(meter.port())));
        QTRY_VERIFY(link.reading().has_value());
        meter.show("CURR", 0.2);
        bool mixed = false;
        connect(&link, &MeterLink::changed, this, [&] {
            if (const auto& r = link.reading())
                mixed = mixed || (r->quantity == Quantity::Voltage) != (r->value > 1);
        });
        QTRY_VERIFY(link.reading() && link.reading()->quantity == Quantity::Current);
        QVERIFY(!mixed);
        QTRY_COMPARE(noticed.size(), 1);
        QVERIFY(noticed.front().front().toString().contains(u"amperes now"_s));
        meter.answerFrom(
            [](const QByteArray& question) { return QByteArray(question == "READ?" ? "hello" : ""); });
        QTRY_COMPARE_WITH_TIMEOUT(noticed.size(), 2, 10000);
        QVERIFY(noticed.back().front().toString().contains(u"hello"_s));
        QVERIFY(!link.reading() && link.attached());
        meter.answerFrom({});
        QTRY_VERIFY(link.reading().has_value());
    }

    /// A meter that tells its range with its function: a change of it is said, and no value between two is
    /// taken.
    void range()
    {
        MeterStandIn meter;
        QVERIFY(meter.listen(0));
        meter.show("VOLT", 9.5);
        QByteArray range = "\"VOLT +1.0E+01,+3.0E-06\"";
        meter.answerFrom(
            [&range](const QByteArray& question) { return question == "CONF?" ? range : QByteArray(); });
        MeterLink link;
        link.setCommands(*readMeterCommands(sourceFile("data/meters/commands.csv")));
        QSignalSpy noticed(&link, &MeterLink::noticed);
        link.attach(*readMeterAddress(u"127.0.0.1:%1 as configured"_s.arg(meter.port())));
        QTRY_VERIFY(link.reading() && link.reading()->quantity == Quantity::Voltage);
        QCOMPARE(noticed.size(), 0);
        range = "\"VOLT +1.0E+02,+3.0E-05\"";
        QTRY_COMPARE(noticed.size(), 1);
        QVERIFY(noticed.front().front().toString().contains(u"changed its range"_s));
        QTRY_VERIFY(link.reading().has_value());
        QCOMPARE(noticed.size(), 1);
    }

    /// A test-and-measurement device file: written and read on a thread of its own. The stand-in's terminal
    /// is such a file.
    void usb()
    {
        MeterStandIn meter;
        const QString path = meter.openSerial();
        QVERIFY(!path.isEmpty());
        meter.show("VOLT", 12.5);
        MeterLink link;
        QSignalSpy problems(&link, &MeterLink::problem);
        link.attach(*readMeterAddress(u"usb:"_s + path));
        QTRY_VERIFY(link.reading().has_value());
        QNEAR(link.reading()->value, 12.5);
        meter.setMute(true);
        QTRY_COMPARE_WITH_TIMEOUT(problems.size(), 1, 10000);
        QVERIFY(!link.reading());
        link.attach(*readMeterAddress(u"usb:/dev/there-is-none"_s));
        QCOMPARE(problems.size(), 2);
    }

    /// Volts on one and amperes on the other: the load behind the reading.
    void two()
    {
        MeterStandIn volts;
        MeterStandIn amps;
        QVERIFY(volts.listen(0) && amps.listen(0));
        volts.show("VOLT", 27.6);
        amps.show("CURR", -2);
        Meters meters;
        QVERIFY(!meters.attached());
        meters.link(0).attach(*readMeterAddress(u"127.0.0.1:%1"_s.arg(volts.port())));
        QTRY_VERIFY(meters.any().has_value());
        QVERIFY(!meters.loadA());
        meters.link(1).attach(*readMeterAddress(u"127.0.0.1:%1"_s.arg(amps.port())));
        QTRY_VERIFY(meters.loadA().has_value());
        QNEAR(*meters.loadA(), 2);
        QNEAR(meters.of(Quantity::Voltage)->value, 27.6);
        amps.show("VOLT", 1);
        QTRY_VERIFY(!meters.loadA());
        QNEAR(meters.of(Quantity::Voltage)->value, 27.6); // the first one's
    }

    /// A meter that hangs loses its reading rather than show an old one.
    void hangs()
    {
        MeterStandIn meter;
        QVERIFY(meter.listen(0));
        meter.show("VOLT", 5);
        MeterLink link;
        QSignalSpy problems(&link, &MeterLink::problem);
        link.attach(*readMeterAddress(u"127.0.0.1:%1"_s.arg(meter.port())));
        QTRY_VERIFY(link.reading().has_value());
        meter.setMute(true);
        QTRY_COMPARE_WITH_TIMEOUT(problems.size(), 1, 8000);
        QVERIFY(problems.front().front().toString().contains(u"stopped answering"_s));
        QVERIFY(!link.reading());
    }

    /// The stand-in as it is started from the command line.
    void program_data()
    {
        QTest::addColumn<QString>("shows");
        QTest::addColumn<int>("quantity"); // -1: refused
        QTest::addColumn<double>("value");
        QTest::newRow("volts") << u"27.66V"_s << static_cast<int>(Quantity::Voltage) << 27.66;
        QTest::newRow("amps") << u"1.2A"_s << static_cast<int>(Quantity::Current) << 1.2;
        QTest::newRow("ohms") << u"4k7"_s << static_cast<int>(Quantity::Resistance) << 4700.0;
        QTest::newRow("words") << u"plenty"_s << -1 << 0.0;
    }
    void program()
    {
        QFETCH(QString, shows);
        QFETCH(int, quantity);
        QFETCH(double, value);
        QProcess process;
        process.start(QStringLiteral(OFFSHOOT_METER), {shows, u"--port"_s, u"0"_s});
        QVERIFY(process.waitForStarted());
        if (quantity < 0) {
            QVERIFY(process.waitForFinished(10000));
            QCOMPARE(process.exitCode(), 2);
            return;
        }
        QString said;
        QTRY_VERIFY((said += QString::fromUtf8(process.readAllStandardError())).contains(u'\n'));
        const auto port = QRegularExpression(u":(\\d+)\\n"_s).match(said).captured(1);
        MeterLink link;
        link.attach(*readMeterAddress(u"127.0.0.1:"_s + port));
        QTRY_VERIFY(link.reading().has_value());
        QCOMPARE(static_cast<int>(link.reading()->quantity), quantity);
        QNEAR(link.reading()->value, value, 1e-3);
        process.kill();
        process.waitForFinished();
    }

    /// The simulated unit's meter, over the net and at a serial device: what its leads are clipped to.
    void rehearsed_data()
    {
        QTest::addColumn<bool>("serial");
        QTest::newRow("net") << false;
        QTest::newRow("serial") << true;
    }
    void rehearsed()
    {
        QFETCH(bool, serial);
        QProcess process;
        process.start(QStringLiteral(OFFSHOOT_METER),
                      {u"--rehearse"_s,
                       QStringLiteral(OFFSHOOT_SOURCE_DIR "/data/jobs/beacon-float-charge.offshoot"),
                       u"--unit"_s, u"7"_s, u"--serial"_s, u"--port"_s, u"0"_s});
        QVERIFY(process.waitForStarted());
        QString said;
        QTRY_VERIFY((said += QString::fromUtf8(process.readAllStandardError())).contains(u'\n'));
        const auto port = QRegularExpression(u":(\\d+)\\n"_s).match(said).captured(1);
        const auto device = QRegularExpression(u" at (/dev/\\S+)"_s).match(said).captured(1);
        QVERIFY(!port.isEmpty() && !device.isEmpty());
        QString seen;
        const auto move = [&](const QString& text) {
            process.write(text.toUtf8() + '\n');
            seen.clear();
            while (!seen.contains(u'\n') && process.waitForReadyRead(5000))
                seen += QString::fromUtf8(process.readAllStandardOutput());
        };
        MeterLink link;
        link.attach(*readMeterAddress(serial ? device : u"127.0.0.1:"_s + port));
        move(u"probe bulk"_s);
        QTRY_VERIFY(link.reading() && link.reading()->value > 200);
        move(u"ohms bottom"_s);
        QVERIFY2(seen.contains(u"for the ohmmeter to take"_s), qPrintable(seen));
        QTRY_VERIFY(!link.reading()); // overload
        move(u"discharge bulk 4k7 60"_s);
        move(u"probe bulk"_s);
        QTRY_VERIFY(link.reading() && link.reading()->value < 10);
        move(u"lamp_in\nplug_in\nlook"_s); // all at once, as a script has them
        QTRY_VERIFY2((seen += QString::fromUtf8(process.readAllStandardOutput())).count(u'\n') == 3 &&
                         seen.contains(u"Live"_s),
                     qPrintable(seen));
        move(u"probe 24V"_s);
        QTRY_VERIFY(link.reading() && std::abs(link.reading()->value - 24) < 1.5);
        move(u"jump"_s);
        QVERIFY(seen.contains(u"no such move"_s));
        process.kill();
        process.waitForFinished();
    }

    void nobodyThere_data()
    {
        QTest::addColumn<QString>("address");
        QTest::newRow("closed port") << u"127.0.0.1:1"_s;
        QTest::newRow("no such serial port") << u"/dev/there-is-no-such-port"_s;
    }
    void nobodyThere()
    {
        QFETCH(QString, address);
        MeterLink link;
        QSignalSpy problems(&link, &MeterLink::problem);
        link.attach(*readMeterAddress(address));
        QTRY_COMPARE(problems.size(), 1);
        QVERIFY(!link.attached());
        link.detach();
        QCOMPARE(problems.size(), 1);
    }
};

REGISTER_TEST(TestMeter, QCoreApplication)
#include "tst_meter.moc"
