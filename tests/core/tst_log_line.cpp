// The log line: what people write, as understood and as refused.
#include "core/evaluate/log_line.h"
#include "core/values/format.h"
#include "support/support.h"

#include <algorithm>

using namespace offshoot;

namespace {

Job beacon(bool live = true)
{
    Job job = test::demoJob();
    job.log.clear();
    double time_s = 1e9;
    const auto add = [&](LogKind kind, const char* text = nullptr, const char* point = nullptr) {
        LogEntry entry{.id = nextLogId(job), .time_s = time_s += 60, .kind = kind};
        if (text != nullptr)
            entry.text = text;
        if (point != nullptr) {
            entry.point = point;
            entry.quantity = Quantity::Voltage;
            entry.value = 1;
        }
        job.log.push_back(std::move(entry));
    };
    if (!live) {
        add(LogKind::SourceOff, "mains");
        add(LogKind::SourceOff, "battery");
        add(LogKind::MeterProven);
        add(LogKind::Reading, nullptr, "bulk");
        add(LogKind::Reading, nullptr, "24V");
        add(LogKind::MeterProven);
    }
    return job;
}

LogLine read(const char* text, const Job& job, const std::string& last = {})
{
    return readLogLine(text, job, evaluate(job, job.log.empty() ? 1e9 : job.log.back().time_s), last);
}

} // namespace

class TestLogLine : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void readings_data()
    {
        QTest::addColumn<QByteArray>("point");
        QTest::addColumn<int>("quantity");
        QTest::addColumn<double>("value");
        QTest::addColumn<double>("load");        // −1: none
        QTest::addColumn<double>("uncertainty"); // −1: the meter's
        const auto row = [](const char* text, const char* point, Quantity quantity, double value,
                            double load = -1, double u = -1) {
            QTest::newRow(text) << QByteArray(point) << static_cast<int>(quantity) << value << load << u;
        };
        row("out 24.03 @0.5A", "24V", Quantity::Voltage, 24.03, 0.5);
        row("OUT 24.03V @ 0.5", "24V", Quantity::Voltage, 24.03, 0.5);
        row("24.03 out @500mA", "24V", Quantity::Voltage, 24.03, 0.5);
        row("24V 24.1 @12W", "24V", Quantity::Voltage, 24.1, 12);
        row("24V 24.1 @ 48R", "24V", Quantity::Voltage, 24.1, 48);
        row("bulk 3.2V", "bulk", Quantity::Voltage, 3.2);
        row("earth 0.08R", "earth", Quantity::Resistance, 0.08);
        row("earth 80m", "earth", Quantity::Resistance, 0.08);
        row("ripple 42mV @2A", "ripple", Quantity::Voltage, 0.042, 2);
        row("ref 2.493", "ref", Quantity::Voltage, 2.493);
        row("bottom 2174R +-20R", "bottom", Quantity::Resistance, 2174, -1, 20);
        row("out 24V05 ±30mV", "24V", Quantity::Voltage, 24.05, -1, 0.03);
        row("load 1.8A", "load", Quantity::Current, 1.8);
        row("temp D5 71C", "temp D5", Quantity::Temperature, 344.15);
        row("  mains   232 ", "mains", Quantity::Voltage, 232);
    }
    void readings()
    {
        QFETCH(QByteArray, point);
        QFETCH(int, quantity);
        QFETCH(double, value);
        QFETCH(double, load);
        QFETCH(double, uncertainty);
        const LogLine line = read(QTest::currentDataTag(), beacon());
        QVERIFY2(line.problem.empty(), line.problem.c_str());
        QVERIFY(line.entry && line.entry->kind == LogKind::Reading);
        QCOMPARE(QByteArray::fromStdString(*line.entry->point), point);
        QCOMPARE(static_cast<int>(*line.entry->quantity), quantity);
        QNEAR(*line.entry->value, value, 1e-12);
        QCOMPARE(line.entry->load.has_value(), load >= 0);
        if (load >= 0)
            QNEAR(line.entry->load->value, load, 1e-12);
        if (uncertainty >= 0)
            QNEAR(*line.entry->uncertainty, uncertainty, 1e-12);
        QVERIFY(line.echo.starts_with(*line.entry->point));
        QCOMPARE(*line.entry->typed, std::string(QTest::currentDataTag()));
    }

    void events_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<QByteArray>("text");
        const auto row = [](const char* typed, LogKind kind, const char* text = "") {
            QTest::newRow(typed) << static_cast<int>(kind) << QByteArray(text);
        };
        row("note cap looks cooked", LogKind::Note, "cap looks cooked");
        row("note cooked", LogKind::Note, "cooked");
        row("photo board.jpg", LogKind::Photo, "board.jpg");
        row("photo bench/board 1.jpg", LogKind::Photo, "bench/board 1.jpg");
        row("unplugged", LogKind::SourceOff, "mains");
        row("Battery off", LogKind::SourceOff, "battery");
        row("live", LogKind::Live);
        row("lamp flash", LogKind::Lamp);
        row("hunting", LogKind::Hunting);
        row("meter ok", LogKind::MeterProven);
        row("strike l3", LogKind::Strike, "L3");
    }
    void events()
    {
        QFETCH(int, kind);
        QFETCH(QByteArray, text);
        const LogLine line = read(QTest::currentDataTag(), beacon(false));
        QVERIFY2(line.entry.has_value(), line.problem.c_str());
        QCOMPARE(static_cast<int>(line.entry->kind), kind);
        QCOMPARE(QByteArray::fromStdString(line.entry->text.value_or("")), text);
        QVERIFY(!line.echo.empty());
    }

    /// Refusals keep a place in what was typed, and an unknown word a suggestion.
    void problems_data()
    {
        QTest::addColumn<QByteArray>("word");
        QTest::addColumn<QByteArray>("suggestion");
        const auto row = [](const char* typed, const char* word, const char* suggestion = "") {
            QTest::newRow(typed) << QByteArray(word) << QByteArray(suggestion);
        };
        row("bukl 3.2V", "bukl", "bulk");
        row("eart 0.1R", "eart", "earth");
        row("outt 24", "outt", "out");
        row("out", "out");
        row("out twelve", "twelve");
        row("out 4,700", "4,700");
        row("out 24 @lots", "@lots");
        row("note", "note");
        row("lamp green", "green");
        row("strike L99", "L99");
        row("out 24 +-x", "+-x");
    }
    void problems()
    {
        QFETCH(QByteArray, word);
        QFETCH(QByteArray, suggestion);
        const QByteArray typed = QTest::currentDataTag();
        const LogLine line = read(typed.constData(), beacon());
        QVERIFY(!line.entry);
        QVERIFY(!line.problem.empty());
        QCOMPARE(QByteArray::fromStdString(line.suggestion), suggestion);
        QCOMPARE(typed.mid(static_cast<int>(line.problem_at), static_cast<int>(line.problem_length)), word);
    }

    /// The last point stands in for a bare number.
    void bareNumber()
    {
        const LogLine line = read("24.05", beacon(), "24V");
        QVERIFY(line.entry.has_value());
        QCOMPARE(*line.entry->point, std::string("24V"));
        QVERIFY(!read("24.05", beacon()).entry);
    }

    /// What needs power is asked about, not refused; so are ohms on a live unit.
    void questions()
    {
        QVERIFY(!read("out 24.05", beacon(false)).question.empty());
        QVERIFY(read("out 24.05", beacon(false)).entry.has_value());
        QVERIFY(read("out 0.2V", beacon(false)).question.empty());
        QVERIFY(read("out 24.05", beacon(true)).question.empty());
        QVERIFY(!read("bottom 2k2", beacon(true)).question.empty());
        QVERIFY(read("bottom 2k2", beacon(false)).question.empty());
    }

    /// A reading goes to the step that asks for it and is judged by its window.
    void judged()
    {
        Job job = beacon(false);
        const LogLine good = read("earth 0.08R", job);
        QCOMPARE(*good.entry->step, std::string("found.earth"));
        QCOMPARE(good.judgement->verdict, Verdict::Fits);
        QCOMPARE(read("earth 3R", job).judgement->verdict, Verdict::Breaks);
    }

    void completes()
    {
        const Job job = beacon();
        QCOMPARE(completions("bu", job), std::vector<std::string>{"bulk"});
        QVERIFY(std::ranges::count(completions("", job), "24V") == 1);
        QVERIFY(completions("zz", job).empty());
        QVERIFY(completions("bulk 3", job).empty());
    }

    /// Every point can be read, whatever its quantity.
    void everyPoint()
    {
        const Job job = beacon();
        for (const LogPoint& point : logPoints(job)) {
            const std::string value = point.quantity == Quantity::Temperature ? " 40C" : " 1.5";
            const LogLine line = read((point.name + value).c_str(), job);
            QVERIFY2(line.entry.has_value(), point.name.c_str());
            QCOMPARE(*line.entry->quantity, point.quantity);
        }
    }
};

REGISTER_TEST(TestLogLine, void)
#include "tst_log_line.moc"
