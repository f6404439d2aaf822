// When a live reading rests: given once, not before its time, and again only after it has moved.
#include "core/calculate/steady.h"
#include "support/support.h"

using namespace offshoot;

Q_DECLARE_METATYPE(std::vector<double>)

class TestSteady : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void rests_data()
    {
        QTest::addColumn<std::vector<double>>("values"); // five a second
        QTest::addColumn<int>("quantity");
        QTest::addColumn<std::vector<double>>("given");
        using Values = std::vector<double>;
        const auto row = [](const char* name, const Values& values, const Values& given,
                            Quantity q = Quantity::Voltage) {
            QTest::newRow(name) << values << static_cast<int>(q) << given;
        };
        const auto repeat = [](double value, std::size_t count, Values before = {}) {
            before.insert(before.end(), count, value);
            return before;
        };
        row("too short", repeat(27.66, 8), {});
        row("long enough", repeat(27.66, 9), {27.66});
        row("once only", repeat(27.66, 60), {27.66});
        row("moved and back", repeat(27.66, 12, repeat(0, 3, repeat(27.66, 12))), {27.66, 27.66});
        row("a little is not moved", repeat(27.5, 20, repeat(27.66, 12)), {27.66});
        row("climbing", {27, 27.1, 27.2, 27.3, 27.4, 27.5, 27.6, 27.7, 27.8, 27.9, 28, 28.1, 28.2}, {});
        row("last digit of volts", repeat(0.00097, 12, repeat(0, 12)), {0});
        row("more than it", repeat(0.00103, 12, repeat(0, 12)), {0, 0.00103});
        row("last digits of ohms", {0.08, 0.09, 0.08, 0.07, 0.08, 0.09, 0.08, 0.07, 0.08, 0.08}, {0.08},
            Quantity::Resistance);
    }
    void rests()
    {
        QFETCH(std::vector<double>, values);
        QFETCH(int, quantity);
        QFETCH(std::vector<double>, given);
        SteadyReading steady;
        std::vector<double> got;
        for (std::size_t i = 0; i < values.size(); ++i)
            if (const auto v =
                    steady.take(0.2 * static_cast<double>(i), values[i], static_cast<Quantity>(quantity)))
                got.push_back(*v);
        QCOMPARE(got.size(), given.size());
        for (std::size_t i = 0; i < got.size(); ++i)
            QNEAR(got[i], given[i], 0.002);
    }

    /// Probes that lie on a point show a tenth of the least it may have, either way round; ohms always count.
    void onThePoint()
    {
        const ReadingWindow window{.min = -12, .max = {}};
        QVERIFY(probesOn(1.21, Quantity::Voltage, window) && probesOn(-1.21, Quantity::Voltage, window));
        QVERIFY(!probesOn(1.19, Quantity::Voltage, window));
        QVERIFY(probesOn(0.101, Quantity::Voltage, {}) && !probesOn(0.099, Quantity::Voltage, {}));
        QVERIFY(probesOn(0, Quantity::Resistance, window));
    }

    /// What rests when another point is asked for counts only after the probes have moved; a change of the
    /// meter's function is such a move.
    void otherPoint()
    {
        SteadyReading steady;
        int given = 0;
        double t = 0;
        const auto feed = [&](double value, Quantity quantity) {
            for (int i = 0; i < 12; ++i)
                given += steady.take(t += 0.2, value, quantity).has_value() ? 1 : 0;
        };
        feed(27.66, Quantity::Voltage);
        QCOMPARE(given, 1);
        steady.skipResting();
        feed(27.66, Quantity::Voltage);
        QCOMPARE(given, 1);
        feed(2174, Quantity::Resistance);
        QCOMPARE(given, 2);
    }

    void liftedProbes()
    {
        const ReadingWindow window{27.3, 27.9};
        QVERIFY(probesOn(27.6, Quantity::Voltage, window));
        QVERIFY(!probesOn(0.3, Quantity::Voltage, window));
        QVERIFY(!probesOn(-0.3, Quantity::Voltage, window));
        QVERIFY(!probesOn(0.01, Quantity::Voltage, std::nullopt));
        QVERIFY(probesOn(0.01, Quantity::Resistance, std::nullopt));
    }
};

REGISTER_TEST(TestSteady, void)
#include "tst_steady.moc"
