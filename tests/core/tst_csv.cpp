// CSV in and out: what spreadsheets and oscilloscopes write, every refusal with its line, and round trips of
// random tables.
#include "core/values/csv_rows.h"
#include "support/support.h"

#include <algorithm>
#include <array>
#include <random>

using namespace offshoot;

namespace {

/// A cell of random characters, the awkward ones among them.
std::string cell(std::mt19937& random)
{
    static constexpr std::string_view letters = "ab 1.,;\"\n\r\xC3\xA9";
    std::string text = "x"; // cells are trimmed: no blank at either end
    for (std::size_t i = random() % 12; i > 0; --i)
        text += letters[random() % (letters.size() - 2)];
    return text + "x";
}

} // namespace

class TestCsv : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// The same drawer in the dialects a person may meet.
    void dialects_data()
    {
        QTest::addColumn<QByteArray>("text");
        const QByteArray plain = "ohm,tolerance,power_w,quantity\n4k7,1 %,1/4W,20\n10,0.05,0.5,\n";
        QTest::newRow("plain") << plain;
        QTest::newRow("of another system") << QByteArray(plain).replace("\n", "\r\n");
        QTest::newRow("byte order mark") << "\xEF\xBB\xBF" + plain;
        QTest::newRow("no line end") << plain.chopped(1);
        QTest::newRow("blank lines") << QByteArray(plain).replace("\n", "\n\n");
        QTest::newRow("blanks around") << QByteArray(plain).replace(",", " , ");
        QTest::newRow("quoted") << QByteArray(R"("ohm","tolerance","power_w","quantity")")
                                       .append("\n\"4k7\",\"1 %\",\"1/4W\",\"20\"\n10,0.05,0.5,\n");
        QTest::newRow("other order") << QByteArray(
            "quantity,power_w,ohm,tolerance\n20,1/4W,4k7,1 %\n,0.5,10,0.05\n");
        QTest::newRow("further column") << QByteArray(
            "ohm,where,tolerance,power_w,quantity\n4k7,\"tin, left\",1 %,1/4W,20\n10,,0.05,0.5,\n");
        QTest::newRow("semicolons") << QByteArray(
            "ohm;tolerance;power_w;quantity\n4,7k;1 %;0,25;20\n10;0,05;0,5;\n");
        QTest::newRow("short row") << QByteArray(
            "ohm,tolerance,power_w,quantity\n4k7,1 %,1/4W,20\n10,0.05,0.5\n");
    }
    void dialects()
    {
        QFETCH(QByteArray, text);
        const auto read = readDrawerCsv(text.toStdString());
        QVERIFY2(bool(read), read ? "" : read.problem().message.c_str());
        QCOMPARE(*read, (std::vector<StockItem>{
                            {.ohm = 4700, .tolerance = 0.01, .power_w = 0.25, .quantity = 20},
                            {.ohm = 10, .tolerance = 0.05, .power_w = 0.5},
                        }));
    }

    /// What a cell lacks where the column is empty or absent.
    void drawerDefaults()
    {
        const auto read = readDrawerCsv("ohm\n2M2\nR47\n");
        QVERIFY(bool(read));
        QCOMPARE(read->size(), 2u);
        for (const StockItem& item : *read)
            QVERIFY(item.tolerance == 0.05 && !item.power_w && !item.quantity);
        QNEAR(read->front().ohm, 2.2e6);
        QNEAR(read->back().ohm, 0.47);
    }

    void drawerRefused_data()
    {
        QTest::addColumn<QByteArray>("row");
        QTest::addColumn<QByteArray>("says");
        QTest::newRow("word") << QByteArray("red,1 %,1,1") << QByteArray("\"red\" is no resistance");
        QTest::newRow("nothing") << QByteArray(",1 %,1,1") << QByteArray("is no resistance");
        QTest::newRow("0") << QByteArray("0,1 %,1,1") << QByteArray("is no resistance");
        QTest::newRow("volts") << QByteArray("5V,1 %,1,1") << QByteArray("is no resistance");
        QTest::newRow("below 0") << QByteArray("10,-1 %,1,1") << QByteArray("is no tolerance");
        QTest::newRow("whole") << QByteArray("10,100 %,1,1") << QByteArray("is no tolerance");
        QTest::newRow("unit") << QByteArray("10,1 V,1,1") << QByteArray("is no tolerance");
        QTest::newRow("power") << QByteArray("10,1 %,much,1") << QByteArray("is no power");
        QTest::newRow("no power") << QByteArray("10,1 %,0,1") << QByteArray("is no power");
        QTest::newRow("half") << QByteArray("10,1 %,1,2.5") << QByteArray("is no whole number");
        QTest::newRow("fewer") << QByteArray("10,1 %,1,-2") << QByteArray("is no whole number");
        QTest::newRow("more than ever")
            << QByteArray("10,1 %,1,9999999999") << QByteArray("is no whole number");
        QTest::newRow("70 what") << QByteArray("10,1 %,1,1,70") << QByteArray("is no temperature");
        QTest::newRow("upside down") << QByteArray("10,1 %,1,1,70 C,60 C") << QByteArray("not above");
    }
    void drawerRefused()
    {
        QFETCH(QByteArray, row);
        QFETCH(QByteArray, says);
        const QByteArray text = "ohm,tolerance,power_w,quantity,t_rated_k,t_max_k\n1k,1 %,1,1,40 °C,200C\n" +
                                row + "\n1k,1 %,1,1\n";
        const auto read = readDrawerCsv(text.toStdString());
        QVERIFY(!read);
        QCOMPARE(read.problem().position, 3u);
        QVERIFY2(read.problem().message.find("line 3: ") == 0, read.problem().message.c_str());
        QVERIFY2(read.problem().message.find(says.toStdString()) != std::string::npos,
                 read.problem().message.c_str());
    }

    void unfinished()
    {
        for (const char* text : {"", "value\n"})
            QCOMPARE(readDrawerCsv(text).problem().position, 1u);
        QCOMPARE(readDrawerCsv("ohm,tolerance\n\"4k7,1 %\n").problem().position, 2u); // the quote never ends
    }

    void drawerSize()
    {
        std::string text = "ohm\n";
        for (int i = 1; i <= 1000; ++i)
            text += std::to_string(i) + "\n";
        QCOMPARE(readDrawerCsv(text)->size(), 1000u);
        const auto more = readDrawerCsv(text + "1001\n");
        QVERIFY(!more);
        QCOMPARE(more.problem().position, 1002u);
    }

    void drawersComeBack()
    {
        QCOMPARE(*readDrawerCsv(writeDrawerCsv(defaultDrawer())), defaultDrawer());
        std::mt19937 random(3);
        for (int round = 0; round < 50; ++round) {
            std::vector<StockItem> drawer(random() % 30);
            for (StockItem& item : drawer) {
                item.ohm = std::exp(std::uniform_real_distribution(-4.0, 16.0)(random));
                item.tolerance = static_cast<double>(random() % 21) / 100;
                if (random() % 2 != 0)
                    item.power_w = std::exp(std::uniform_real_distribution(-3.0, 4.0)(random));
                if (random() % 2 != 0)
                    item.quantity = random() % 5000;
                if (random() % 3 == 0) {
                    item.t_rated_k = std::uniform_real_distribution(290.0, 350.0)(random);
                    item.t_max_k = item.t_rated_k + std::uniform_real_distribution(1.0, 200.0)(random);
                }
            }
            const auto back = readDrawerCsv(writeDrawerCsv(drawer));
            QVERIFY2(bool(back), back ? "" : back.problem().message.c_str());
            QVERIFY(*back == drawer); // plain numbers keep every bit
        }
    }

    // ---- readings

    void readingsRefused_data()
    {
        QTest::addColumn<QByteArray>("row");
        QTest::addColumn<QByteArray>("says");
        QTest::newRow("quantity") << QByteArray("out,weight,1,,,,")
                                  << QByteArray("\"weight\" is no quantity");
        QTest::newRow("point") << QByteArray(",voltage,1,,,,") << QByteArray("the point is missing");
        QTest::newRow("no value") << QByteArray("out,voltage,,,,,") << QByteArray("\"\": ");
        QTest::newRow("another unit") << QByteArray("out,voltage,4R7,,,,") << QByteArray("\"4R7\": ");
        QTest::newRow("uncertainty") << QByteArray("out,voltage,5,about,,,")
                                     << QByteArray("is no uncertainty");
        QTest::newRow("negative uncertainty")
            << QByteArray("out,voltage,5,-0.1,,,") << QByteArray("is no uncertainty");
        QTest::newRow("load quantity")
            << QByteArray("out,voltage,5,,2,mass,") << QByteArray("\"mass\" is no quantity");
        QTest::newRow("load") << QByteArray("out,voltage,5,,lots,,") << QByteArray("\"lots\" is no load");
        QTest::newRow("negative load") << QByteArray("out,voltage,5,,-1,,") << QByteArray("is no load");
        QTest::newRow("stage") << QByteArray("out,voltage,5,,,,later") << QByteArray("\"later\" is no stage");
    }
    void readingsRefused()
    {
        QFETCH(QByteArray, row);
        QFETCH(QByteArray, says);
        const QByteArray text = "point,quantity,value,uncertainty,load,load_quantity,stage\n" + row + "\n";
        const auto read = readReadingsCsv(text.toStdString());
        QVERIFY(!read);
        QCOMPARE(read.problem().position, 2u);
        QVERIFY2(read.problem().message.find(says.toStdString()) != std::string::npos,
                 read.problem().message.c_str());
    }

    /// Columns may lack: volts, with the load in amperes, are meant.
    void readingsDefaults()
    {
        const auto read = readReadingsCsv("point,value,load\n27V6,27.61,500 mA\nbulk,3.2,\n");
        QVERIFY2(bool(read), read ? "" : read.problem().message.c_str());
        QCOMPARE(read->size(), 2u);
        QCOMPARE(*read->front().quantity, Quantity::Voltage);
        QCOMPARE(*read->front().load, (ReadingLoad{0.5, Quantity::Current}));
        QVERIFY(!read->back().load && !read->back().stage && !read->back().unit);
        QVERIFY(!readReadingsCsv("value\n5\n"));
        QVERIFY(!readReadingsCsv(""));
    }

    void readingsComeBack()
    {
        std::mt19937 random(5);
        constexpr std::array quantities{Quantity::Voltage, Quantity::Current, Quantity::Resistance,
                                        Quantity::Temperature, Quantity::Power};
        for (int round = 0; round < 60; ++round) {
            std::vector<LogEntry> log;
            for (std::size_t i = random() % 8; i > 0; --i) {
                LogEntry entry{.id = "L" + std::to_string(i), .time_s = 0, .kind = LogKind::Reading};
                entry.point = cell(random);
                entry.quantity = quantities[random() % quantities.size()];
                entry.value = std::uniform_real_distribution(1.0, 500.0)(random);
                if (random() % 2 != 0)
                    entry.uncertainty = 0.125;
                if (random() % 2 != 0)
                    entry.load = ReadingLoad{std::uniform_real_distribution(0.0, 9.0)(random),
                                             random() % 2 != 0 ? Quantity::Current : Quantity::Power};
                if (random() % 3 == 0)
                    entry.unit = std::to_string(1 + random() % 3);
                if (random() % 2 != 0)
                    entry.stage = static_cast<ReadingStage>(random() % 3);
                log.push_back(entry);
            }
            const auto back = readReadingsCsv(writeReadingsCsv(log));
            QVERIFY2(bool(back), back ? "" : back.problem().message.c_str());
            QCOMPARE(back->size(), log.size());
            for (std::size_t i = 0; i < log.size(); ++i) {
                LogEntry got = (*back)[i];
                got.id = log[i].id; // given anew by the caller
                QVERIFY2(got == log[i], log[i].point->c_str());
            }
        }
    }

    /// Only readings are written; the rest of the log stays where it is.
    void otherEntries()
    {
        const Job job = test::demoJob();
        const std::string text = writeReadingsCsv(job.log);
        const auto readings = std::ranges::count(job.log, LogKind::Reading, &LogEntry::kind);
        QCOMPARE(std::ranges::count(text, '\n'), readings + 1);
        QVERIFY(readings < static_cast<std::ptrdiff_t>(job.log.size()));
    }

    // ---- a captured surge

    void surgeDialects_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::newRow("bare") << QByteArray("0,0\n0.001,31.5\n0.002,12\n");
        QTest::newRow("heading") << QByteArray("s,A\n0,0\n0.001,31.5\n0.002,12\n");
        QTest::newRow("two headings")
            << QByteArray("Channel 1,\nTime (s),Current (A)\n0,0\n1e-3,31.5\n2E-3,12\n");
        QTest::newRow("third column") << QByteArray("0,0,5\n0.001,31.5,5\n0.002,12,5\n");
        QTest::newRow("headings and semicolons") << QByteArray("scope\ns;A\n0;0\n1e-3;31.5\n2e-3;12\n");
        QTest::newRow("semicolons") << QByteArray("s;A\n0;0\n0,001;31,5\n0,002;12,0\n");
        QTest::newRow("blanks") << QByteArray(" 0 , 0\r\n 0.001 , 31.5\r\n\r\n 0.002 , 12\r\n");
    }
    void surgeDialects()
    {
        QFETCH(QByteArray, text);
        const auto read = readSurgeCsv(text.toStdString());
        QVERIFY2(bool(read), read ? "" : read.problem().message.c_str());
        QCOMPARE(read->t_s, (std::vector<double>{0, 0.001, 0.002}));
        QCOMPARE(read->i_a, (std::vector<double>{0, 31.5, 12}));
    }

    void surgeRefused_data()
    {
        QTest::addColumn<int>("line");
        QTest::newRow("0,0\n1,1\n1,x\n") << 3;
        QTest::newRow("0,0\n1\n") << 2;
        QTest::newRow("s,A\n0,0\n2,1\n1,1\n") << 4;
        QTest::newRow("0,0\n1,1e99\n") << 2;
        QTest::newRow("0,0\n1,nan\n") << 2;
        QTest::newRow("0,0\n") << 1;
        QTest::newRow("s,A\n") << 1;
    }
    void surgeRefused()
    {
        QFETCH(int, line);
        const auto read = readSurgeCsv(QTest::currentDataTag());
        QVERIFY(!read);
        QCOMPARE(read.problem().position, static_cast<std::size_t>(line));
    }

    void surgeSize()
    {
        std::string text;
        for (int i = 0; i < 20000; ++i)
            text += std::to_string(i) + ",1\n";
        QCOMPARE(readSurgeCsv(text)->t_s.size(), 20000u);
        QVERIFY(!readSurgeCsv(text + "20000,1\n"));
    }

    /// Rows come back whatever is in their cells, with and without a line end behind the last.
    void rowsComeBack()
    {
        std::mt19937 random(5);
        static constexpr std::array<std::string_view, 8> pieces{"a",  "\"",  ",",  ";",
                                                                "\n", "b c", "\r", "1.5"};
        for (int round = 0; round < 300; ++round) {
            std::vector<csv::Row> rows(1 + random() % 4);
            std::string text = "x,y\n"; // says which the separator is
            for (csv::Row& row : rows) {
                row.resize(1 + random() % 3);
                for (std::string& cell : row)
                    for (std::size_t i = 1 + random() % 4; i > 0; --i)
                        cell += pieces[random() % pieces.size()];
                text += csv::joined(row);
            }
            for (const bool ended : {true, false}) {
                const auto read = csv::split(ended ? text : text.substr(0, text.size() - 1));
                QCOMPARE(read.size(), rows.size() + 1);
                for (std::size_t i = 0; i < rows.size(); ++i)
                    QCOMPARE(read[i + 1].second, rows[i]);
            }
        }
        QCOMPARE(csv::split("a,\"\"\"\"").at(0).second.at(1), std::string("\""));
    }

    /// Any bytes at all: an answer or a line that exists.
    void anyBytes()
    {
        std::mt19937 random(11);
        static constexpr std::string_view letters = "ohm,t;\"\n\r0159.-eW%kR \xFF\x01";
        for (int round = 0; round < 3000; ++round) {
            std::string text = round % 2 != 0 ? "ohm,tolerance\n" : "";
            for (std::size_t i = random() % 80; i > 0; --i)
                text += letters[random() % letters.size()];
            const auto lines = static_cast<std::size_t>(std::ranges::count(text, '\n')) + 1;
            if (const auto drawer = readDrawerCsv(text); !drawer)
                QVERIFY(drawer.problem().position >= 1 && drawer.problem().position <= lines);
            if (const auto readings = readReadingsCsv(text); !readings)
                QVERIFY(readings.problem().position >= 1 && readings.problem().position <= lines);
            if (const auto surge = readSurgeCsv(text); !surge)
                QVERIFY(surge.problem().position >= 1 && surge.problem().position <= lines);
        }
    }
};

REGISTER_TEST(TestCsv, void)
#include "tst_csv.moc"
