// Values and markings: what people write reads, what we write reads back, whatever the locale.
#include "core/values/format.h"
#include "core/values/marking.h"
#include "core/values/preferred.h"
#include "core/values/remembered.h"
#include "support/support.h"

#include <algorithm>
#include <clocale>
#include <functional>
#include <numeric>
#include <random>
#include <stdexcept>

using namespace offshoot;

class TestValues : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void reads_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<int>("quantity");
        QTest::addColumn<double>("value");
        const auto row = [](const char* text, Quantity quantity, double value) {
            QTest::addRow("%s", text) << QByteArray(text) << static_cast<int>(quantity) << value;
        };
        row("4k7", Quantity::Resistance, 4700);
        row("0R22", Quantity::Resistance, 0.22);
        row("R22", Quantity::Resistance, 0.22);
        row("2.2k", Quantity::Resistance, 2200);
        row("4,7 k", Quantity::Resistance, 4700);
        row("10k||68k", Quantity::Resistance, 1 / (1 / 10e3 + 1 / 68e3));
        row("2k2+330", Quantity::Resistance, 2530);
        for (const char* times : {"2x15R", "2X15R", "2*15R", "2×15R"})
            row(times, Quantity::Resistance, 30);
        row("100n", Quantity::Capacitance, 100e-9);
        row("1 mfd", Quantity::Capacitance, 1e-6);
        row("2200 µF", Quantity::Capacitance, 2200e-6);
        row("27V6", Quantity::Voltage, 27.6);
        row("-12 V", Quantity::Voltage, -12);
        row("120mV", Quantity::Voltage, 0.12);
        row("2A5", Quantity::Current, 2.5);
        row("1/4W", Quantity::Power, 0.25);
        row("50 Hz", Quantity::Frequency, 50);
        row("5 min", Quantity::Time, 300);
        row("2 h", Quantity::Time, 7200);
        row("40 us", Quantity::Time, 40e-6);
        row("40 µs", Quantity::Time, 40e-6);
        row("40 um", Quantity::Length, 40e-6);
        row("40 μm", Quantity::Length, 40e-6);
        row("90J", Quantity::Energy, 90);
        row("5 mJ", Quantity::Energy, 0.005);
        row("2 kWs", Quantity::Energy, 2000);
        row("60A²s", Quantity::SquaredCurrentTime, 60);
        row("60 A^2s", Quantity::SquaredCurrentTime, 60);
        row("60a2s", Quantity::SquaredCurrentTime, 60);
        row("3435 K", Quantity::TemperatureDifference, 3435);
        row("4.5", Quantity::Number, 4.5);
        row("1.5mm2", Quantity::WireSize, 1.5e-6);
        row("0.02 m2", Quantity::WireSize, 0.02);
        row("16 °C", Quantity::Temperature, 289.15);
        row("1m5", Quantity::Length, 1.5);
    }
    void reads()
    {
        QFETCH(QByteArray, text);
        QFETCH(int, quantity);
        QFETCH(double, value);
        const auto parsed = parseValue(text.toStdString(), static_cast<Quantity>(quantity));
        QVERIFY2(bool(parsed), parsed ? "" : parsed.problem().message.c_str());
        QNEAR(parsed->value, value, 1e-12);
    }

    /// Every refusal says what is wrong and where.
    void refuses_data()
    {
        QTest::addColumn<int>("quantity");
        QTest::addColumn<int>("position");
        const auto row = [](const char* text, Quantity quantity, int position) {
            QTest::addRow("%s", text) << static_cast<int>(quantity) << position;
        };
        row("", Quantity::Voltage, 0);
        row("volts", Quantity::Voltage, 0);
        row("4,700", Quantity::Resistance, -1);
        row("470,000", Quantity::Resistance, -1);
        row("10mf", Quantity::Capacitance, -1);
        row("1/W", Quantity::Power, -1);
        row("1/0W", Quantity::Power, -1);
        row("10//22", Quantity::Resistance, -1);
        row("10MF", Quantity::Capacitance, -1);
        row("25", Quantity::Temperature, -1);
        row("4k7k", Quantity::Resistance, -1);
        row("(10k||", Quantity::Resistance, -1);
        row("nan", Quantity::Voltage, -1);
        row("1e999", Quantity::Voltage, -1);
        row("-5", Quantity::Resistance, -1);
        row("5 J", Quantity::Number, -1);
        row("5 A", Quantity::SquaredCurrentTime, -1);
        row("-5", Quantity::Energy, -1);
        row("AWG51", Quantity::WireSize, -1);
        // Positions count characters, not bytes.
        row("5 é", Quantity::Voltage, 2);
        row("½ €5", Quantity::Voltage, 0);
        row("5 \U0001F50B V", Quantity::Voltage, 2);
    }
    void refuses()
    {
        QFETCH(int, quantity);
        QFETCH(int, position);
        const auto parsed = parseValue(QTest::currentDataTag(), static_cast<Quantity>(quantity));
        QVERIFY(!parsed);
        QVERIFY(!parsed.problem().message.empty());
        if (position >= 0)
            QCOMPARE(parsed.problem().position, static_cast<std::size_t>(position));
        QVERIFY(parsed.problem().position <= std::string_view(QTest::currentDataTag()).size());
    }

    /// formatValue and formatOhms read back to what they show, over fifteen decades.
    void formatsReadBack()
    {
        std::mt19937 random(7);
        std::uniform_real_distribution<double> exponent(-3, 8.9);
        for (int i = 0; i < 3000; ++i) {
            const double value = std::pow(10, exponent(random));
            const auto ohms = parseValue(formatOhms(value), Quantity::Resistance);
            QVERIFY2(bool(ohms), formatOhms(value).c_str());
            QNEAR(ohms->value, value, 6e-3);
            for (Quantity quantity : {Quantity::Resistance, Quantity::Voltage, Quantity::Power}) {
                const std::string text = formatValue(value, quantity, 4);
                const auto parsed = parseValue(text, quantity);
                if (value < 1e6 && value > 1e-3) { // within the prefixes people use for all three
                    QVERIFY2(bool(parsed), text.c_str());
                    QNEAR(parsed->value, value, 6e-4);
                }
            }
            const auto plain = parseValue(plainNumber(value), Quantity::Frequency);
            QVERIFY(plain && plain->value == value);
        }
    }

    void formats_data()
    {
        QTest::addColumn<QByteArray>("got");
        QTest::addColumn<QByteArray>("want");
        const auto row = [](const std::string& got, const char* want) {
            QTest::addRow("%s", want) << QByteArray::fromStdString(got) << QByteArray(want);
        };
        row(formatOhms(4700), "4k7");
        row(formatOhms(0.22), "0R22");
        row(formatOhms(22000), "22k");
        row(formatOhms(999.96), "1k");
        row(formatValue(999.96, Quantity::Power, 4), "1 kW");
        row(formatValue(0.0331, Quantity::Current), "33.1 mA");
        row(formatVolts(27.6), "27.60 V");
        row(formatVolts(325.27), "325 V");
        row(formatPercent(0.005), "0.5 %");
        row(formatDuration(130), "2 min 10 s");
        row(formatDuration(45), "45 s");
        row(formatDuration(3600), "1 h");
        row(formatDuration(3660), "1 h 1 min");
        row(formatDuration(2 * 3600 + 25 * 60), "2 h 25 min");
        row(formatValue(0.0931, Quantity::Energy), "93.1 mJ");
        row(formatValue(1500, Quantity::SquaredCurrentTime), "1500 A²s");
        row(formatValue(40, Quantity::TemperatureDifference), "40 K");
        row(formatValue(0.00025, Quantity::Number, 5), "0.00025");
        row(significant(0.30000000000000004, 3), "0.3");
        row(fixed(-0.0001, 2), "0.00");
    }
    void formats()
    {
        QFETCH(QByteArray, got);
        QFETCH(QByteArray, want);
        QCOMPARE(got, want);
    }

    /// A comma locale changes nothing.
    void localeFree()
    {
        const QByteArray before = std::setlocale(LC_ALL, nullptr);
        for (const char* locale : {"de_DE.UTF-8", "de_DE.utf8", "C"})
            if (std::setlocale(LC_ALL, locale) != nullptr)
                break;
        const auto parsed = parseValue("1.5", Quantity::Voltage);
        const std::string text = formatValue(1.5, Quantity::Voltage);
        const Json read = parseJson("{\"a\":1.5}");
        std::setlocale(LC_ALL, before.constData());
        QVERIFY(parsed && parsed->value == 1.5);
        QCOMPARE(text, std::string("1.5 V"));
        QCOMPARE(read["a"].get<double>(), 1.5);
    }

    /// Random networks: their text reads back to the same tree, and the whole lies between its extremes.
    void networks()
    {
        std::mt19937 random(11);
        const auto& values = decade(Series::E24);
        const std::function<std::string(int)> make = [&](int depth) -> std::string {
            if (depth == 0 || random() % 3 == 0)
                return std::to_string(values[random() % values.size()]);
            const std::string a = make(depth - 1);
            const std::string b = make(depth - 1);
            return random() % 2 == 0 ? "(" + a + "+" + b + ")" : "(" + a + "||" + b + ")";
        };
        for (int i = 0; i < 400; ++i) {
            const std::string text = make(3);
            const auto network = parseNetwork(text);
            QVERIFY2(bool(network), text.c_str());
            for (const std::string& again : {network->text(), network->prettyText()}) {
                const auto read = parseNetwork(again);
                QVERIFY2(bool(read), again.c_str());
                QCOMPARE(read->ohm(), network->ohm());
                QCOMPARE(read->parts(), network->parts());
            }
            double sum = 0;
            double conductance = 0;
            for (double ohm : network->parts()) {
                sum += ohm;
                conductance += 1 / ohm;
            }
            QVERIFY(network->ohm() <= sum * (1 + 1e-12) && network->ohm() >= 1 / conductance * (1 - 1e-12));
            // What the parts burn is what the source gives.
            const auto powers = network->powers(12);
            QNEAR(std::accumulate(powers.begin(), powers.end(), 0.0), 144 / network->ohm(), 1e-9);
        }
        for (const int count : {0, 1, 2, 64, 65, 99, 100}) {
            const auto several = parseNetwork(std::to_string(count) + "x15R");
            QCOMPARE(bool(several), count >= 1 && count <= static_cast<int>(max_network_parts));
            if (several)
                QNEAR(several->ohm(), 15.0 * count);
        }
    }

    /// What is written on a part reads back as that part, for every value of every series.
    void markingsReadBack()
    {
        int smd = 0;
        for (Series series : {Series::E12, Series::E24, Series::E96}) {
            const bool fine = series == Series::E96;
            for (double ohm : valuesWithin(series, 0.1, 9.9e6)) {
                const MarkingWriteInput in{.kind = MarkingKind::Bands,
                                           .value = ohm,
                                           .tolerance = fine ? 0.01 : 0.05,
                                           .tempco_per_k = {},
                                           .count = {},
                                           .style = SmdStyle::ThreeDigit};
                const auto bands = markingWrite(in).bands;
                QCOMPARE(bands.size(), fine ? 5u : 4u);
                const auto read = markingRead({.kind = MarkingKind::Bands, .bands = bands, .text = {}});
                QNEAR(read.value, ohm, 1e-12);
                QNEAR(*read.tolerance, *in.tolerance, 1e-12);
                if (ohm < 1 || !fine)
                    continue;
                MarkingWriteInput chip = in;
                chip.kind = MarkingKind::Smd;
                chip.tolerance.reset();
                chip.style = SmdStyle::Eia96;
                const auto text = *markingWrite(chip).text;
                QNEAR(markingRead({.kind = MarkingKind::Smd, .bands = {}, .text = text}).value, ohm, 1e-12);
                ++smd;
            }
        }
        QVERIFY(smd > 500);
    }

    /// Tolerance letters as IEC 60062 has them: absolute below 10 pF, a share from there on.
    void toleranceLetters()
    {
        const auto read = [](const std::string& code) {
            return markingRead({.kind = MarkingKind::Capacitor, .bands = {}, .text = code});
        };
        const std::array<std::pair<char, double>, 5> picofarads{
            {{'B', 0.1}, {'C', 0.25}, {'D', 0.5}, {'F', 1}, {'G', 2}}};
        for (const auto& [letter, pf] : picofarads) {
            QNEAR(*read(std::string("4p7") + letter).tolerance, pf / 4.7, 1e-9);
            QNEAR(*read(std::string("9p1") + letter).tolerance, pf / 9.1, 1e-9);
            QNEAR(*read(std::string("100") + letter).tolerance, pf / 100, 1e-9); // 10 pF
        }
        const std::array<std::pair<char, double>, 3> shares{{{'J', 0.05}, {'K', 0.1}, {'M', 0.2}}};
        for (const auto& [letter, share] : shares) {
            QNEAR(*read(std::string("4p7") + letter).tolerance, share, 1e-9);
            QNEAR(*read(std::string("104") + letter).tolerance, share, 1e-9);
        }
        QCOMPARE(read("104Z").tolerance_low, std::optional(-0.2));
        QCOMPARE(read("104Z").tolerance_high, std::optional(0.8));
        QVERIFY(!read("104Z").tolerance);
        QCOMPARE(read("104S").tolerance_low, std::optional(-0.2));
        QCOMPARE(read("104S").tolerance_high, std::optional(0.5));
    }

    /// Every way to write a capacitance: a letter in the place of the point, three digits of which the last
    /// counts zeros (8 and 9 count places), a point for microfarads, one or two digits for picofarads. 0: no
    /// code.
    void capacitorCodes()
    {
        struct Code
        {
            const char* text;
            double farad;
            double or_farad; ///< what it could mean as well
        };
        for (const Code& code : {Code{"p47", 0.47e-12, 0},
                                 Code{"4p7", 4.7e-12, 0},
                                 Code{"n47", 0.47e-9, 0},
                                 Code{"4n7", 4.7e-9, 0},
                                 Code{"100n", 100e-9, 0},
                                 Code{"4n75", 4.75e-9, 0},
                                 Code{"u47", 0.47e-6, 0},
                                 Code{"2u2", 2.2e-6, 0},
                                 Code{"22u", 22e-6, 0},
                                 Code{"2µ2", 2.2e-6, 0},
                                 Code{"2μ2", 2.2e-6, 0},
                                 Code{"101", 100e-12, 0},
                                 Code{"223", 22e-9, 0},
                                 Code{"478", 0.47e-12, 0},
                                 Code{"479", 4.7e-12, 0},
                                 Code{"470", 47e-12, 470e-12},
                                 Code{"47", 47e-12, 47e-6},
                                 Code{"5", 5e-12, 5e-6},
                                 Code{"0.1", 100e-9, 0},
                                 Code{".047", 47e-9, 0},
                                 Code{"1.5", 1.5e-6, 0},
                                 Code{"123456789p", 123456789e-12, 0},
                                 Code{"12.3456789", 12.3456789e-6, 0},
                                 Code{"4711", 0, 0},
                                 Code{"1234567890p", 0, 0},
                                 Code{"12.34567890", 0, 0},
                                 Code{"4n7n", 0, 0},
                                 Code{"4.7.1", 0, 0},
                                 Code{"12?", 0, 0},
                                 Code{"1x3", 0, 0},
                                 Code{"47.", 0, 0},
                                 Code{"000", 0, 0},
                                 Code{"0p", 0, 0},
                                 Code{"", 0, 0},
                                 Code{"J", 0, 0},
                                 Code{"4A104J", 0, 0},
                                 Code{"2I104J", 0, 0},
                                 Code{"2A10J", 0, 0}})
            try {
                const auto read =
                    markingRead({.kind = MarkingKind::Capacitor, .bands = {}, .text = code.text});
                QVERIFY2(test::near(read.value, code.farad, 1e-12), code.text);
                QCOMPARE(read.alternatives.size(), code.or_farad > 0 ? 1u : 0u);
                for (const AlternativeReading& other : read.alternatives)
                    QVERIFY2(test::near(other.value, code.or_farad, 1e-12), code.text);
            } catch (const DocumentError& error) {
                QVERIFY2(code.farad == 0, code.text);
                QCOMPARE(error.path(), std::string("/text"));
            }
    }

    /// Voltage codes: a power of ten and a letter from the preferred voltages.
    void voltageCodes()
    {
        const std::array<std::pair<char, double>, 11> letters{{{'A', 1.0},
                                                               {'B', 1.25},
                                                               {'C', 1.6},
                                                               {'D', 2.0},
                                                               {'E', 2.5},
                                                               {'F', 3.15},
                                                               {'V', 3.5},
                                                               {'G', 4.0},
                                                               {'H', 5.0},
                                                               {'J', 6.3},
                                                               {'K', 8.0}}};
        for (const auto& [letter, volts] : letters)
            for (int power = 0; power <= 3; ++power) {
                const std::string code = std::to_string(power) + letter + "104K";
                const auto read = markingRead({.kind = MarkingKind::Capacitor, .bands = {}, .text = code});
                QNEAR(*read.rated_v, volts * std::pow(10, power), 1e-9);
                QNEAR(read.value, 100e-9, 1e-9);
            }
    }

    /// A link says nothing but zero; a code with two points or six places is none.
    void links()
    {
        const auto reads = [](const char* code) {
            try {
                return markingRead({.kind = MarkingKind::Smd, .bands = {}, .text = code}).value == 0;
            } catch (const DocumentError&) {
                return false;
            }
        };
        for (const char* link : {"0", "00", "000", "0000", "00000", "0R0", "0R00", "R000"})
            QVERIFY2(reads(link), link);
        for (const char* other : {"0R0R", "000000", "R", "RR"})
            QVERIFY2(!reads(other), other);
    }

    /// A chip that stands on its head, and a last nought that may be a digit: told as well.
    void chipsOtherwise()
    {
        const auto others = [](const char* code) {
            std::vector<double> all;
            for (const auto& other :
                 markingRead({.kind = MarkingKind::Smd, .bands = {}, .text = code}).alternatives)
                all.push_back(other.value);
            return all;
        };
        QCOMPARE(others("470"), std::vector<double>{470});
        QCOMPARE(others("106"), std::vector<double>{900});
        QCOMPARE(others("160"), std::vector<double>{160});
        QCOMPARE(others("166"), std::vector<double>{990});
        QCOMPARE(others("4700"), std::vector<double>{});
        QCOMPARE(others("472"), std::vector<double>{});
        QCOMPARE(others("101"), std::vector<double>{}); // the same on its head
    }

    /// Asked again a function does not work; the one asked longest ago is forgotten, what it throws is not
    /// kept.
    void remembered()
    {
        int worked = 0;
        const auto square = [&worked](int in) {
            ++worked;
            if (in < 0)
                throw std::out_of_range("negative");
            return in * in;
        };
        Remembered<int, int, 2> squares;
        const auto works = [&](int in) {
            const int before = worked;
            return squares.of(in, square) == in * in ? worked - before : -1;
        };
        QCOMPARE(works(2), 1);
        QCOMPARE(works(3), 1);
        QCOMPARE(works(2), 0);
        QCOMPARE(works(4), 1); // 3 is forgotten
        QCOMPARE(works(2), 0);
        for (int i = 0; i < 2; ++i)
            QVERIFY_THROWS_EXCEPTION(std::out_of_range, squares.of(-1, square));
        QCOMPARE(worked, 5);
        QCOMPARE(works(4), 0);
        QCOMPARE(works(3), 1);
    }

    /// IEC 60063: the series nest as they must, and each has its count a decade.
    void series()
    {
        const std::array<std::size_t, 7> counts{3, 6, 12, 24, 48, 96, 192};
        for (std::size_t i = 0; i < counts.size(); ++i) {
            const auto& numbers = decade(static_cast<Series>(i));
            QCOMPARE(numbers.size(), counts[i]);
            QVERIFY(std::is_sorted(numbers.begin(), numbers.end()));
        }
        for (auto [coarse, fine] : {std::pair{Series::E3, Series::E6},
                                    {Series::E6, Series::E12},
                                    {Series::E12, Series::E24},
                                    {Series::E48, Series::E96},
                                    {Series::E96, Series::E192}})
            for (int number : decade(coarse))
                QVERIFY(std::ranges::count(decade(fine), number) == 1);
        QCOMPARE(smallestSeriesWith(4700), Series::E3);
        QCOMPARE(smallestSeriesWith(2550),
                 Series::E48 == *smallestSeriesWith(2550) ? Series::E48 : Series::E96);
        QVERIFY(!smallestSeriesWith(2345));
        QVERIFY(std::ranges::count(decade(Series::E192), 920) == 1);
    }
};

REGISTER_TEST(TestValues, void)
#include "tst_values.moc"
