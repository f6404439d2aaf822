// Consequences of the demo job against hand formulas, the tables behind them, and what must hold always.
#include "core/judge/consequences.h"
#include "core/supply/power_path.h"
#include "support/support.h"

#include <algorithm>

using namespace offshoot;

namespace {

ConsequencesInput beacon()
{
    const Job job = test::demoJob();
    ConsequencesInput in{.supply = job.found,
                         .mains = {.v_v = 230, .spread = 0.1, .f_hz = 50},
                         .load = job.need.load,
                         .plan = {}};
    in.supply.rails.front().v_v = 24.05;
    in.plan.emplace_back("24V", RailPlan{.v_v = 27.71, .min_v = 27.60, .max_v = 27.82, .i_a = 2});
    return in;
}

ConsequenceRow rowOf(const ConsequencesResult& result, RowId id)
{
    for (const ConsequenceRow& row : result.rows)
        if (row.id == id)
            return row;
    qFatal("no row %s", word(id).data());
}

} // namespace

class TestConsequences : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// Each figure worked out here from the formula of its kind (flyback converter, textbook).
    void figures_data()
    {
        QTest::addColumn<int>("row");
        QTest::addColumn<double>("planned");
        QTest::addColumn<double>("found");
        const double crest = std::sqrt(2) * 253;
        const double low = 0.85 * std::sqrt(2) * 207;
        const auto reflected = [](double v) { return (v + 0.5) * 4; };
        const auto add = [](RowId id, double planned, double found) {
            QTest::addRow("%s", word(id).data()) << static_cast<int>(id) << planned << found;
        };
        add(RowId::FuseVoltage, 230, 230);
        add(RowId::FuseCurrent, 27.82 * 2 / (0.84 * 0.6 * 207), 24.05 * 2 / (0.84 * 0.6 * 207));
        add(RowId::InputRectifierReverse, crest, crest);
        add(RowId::BulkVoltage, crest, crest);
        add(RowId::SwitchVoltage, crest + reflected(27.82) + 60, crest + reflected(24.05) + 60);
        add(RowId::ClampLevel, reflected(27.82), reflected(24.05));
        add(RowId::ConverterDuty, reflected(27.82) / (reflected(27.82) + low),
            reflected(24.05) / (reflected(24.05) + low));
        add(RowId::AuxiliaryLow, 28.10 * 0.58 - 0.9, 24.55 * 0.58 - 0.9);
        add(RowId::AuxiliaryHigh, 28.32 * 0.58 - 0.9, 24.55 * 0.58 - 0.9);
        add(RowId::OutputCurrent, 2, 2);
        add(RowId::RectifierReverse, 27.82 + crest / 4, 24.05 + crest / 4);
        add(RowId::OutputCapacitorVoltage, 27.82, 24.05);
        add(RowId::TripVoltage, 27.82, 24.05);
        add(RowId::MinimumLoadPower, 27.82 * 27.82 / 2200, 24.05 * 24.05 / 2200);
        add(RowId::IndicatorPower, 25.82 * 25.82 / 4700, 22.05 * 22.05 / 4700);
        add(RowId::ReferenceCathode, 27.82, 24.05);
        add(RowId::BatteryBackFeed, 27.82 / 24550 + 27.82 / 2200 + 25.82 / 4700,
            24.05 / 24550 + 24.05 / 2200 + 22.05 / 4700);
    }
    void figures()
    {
        QFETCH(int, row);
        QFETCH(double, planned);
        QFETCH(double, found);
        const auto result = consequences(beacon());
        const ConsequenceRow got = rowOf(result, static_cast<RowId>(row));
        QNEAR(*got.planned, planned, 1e-9);
        QNEAR(*got.found, found, 1e-9);
        QVERIFY(!got.formula.empty() && !got.working.empty());
    }

    void allowedCurrent()
    {
        const auto result = consequences(beacon());
        QNEAR(*result.allowed_current_a.front().second, 2.5 * (24.05 + 0.5) / (27.82 + 0.5));
        ConsequencesInput lower = beacon();
        lower.plan.front().second = {.v_v = 20, .i_a = 2};
        QNEAR(*consequences(lower).allowed_current_a.front().second, 2.5); // never above the found rating
    }

    void edges_data()
    {
        QTest::addColumn<int>("row");
        QTest::addColumn<double>("rating");
        QTest::addColumn<int>("verdict");
        const auto add = [](const char* name, RowId id, double rating, Verdict verdict) {
            QTest::addRow("%s", name) << static_cast<int>(id) << rating << static_cast<int>(verdict);
        };
        const double v = 27.82;
        add("capacitor at 80 %", RowId::OutputCapacitorVoltage, v / 0.8, Verdict::Fits);
        add("capacitor above 80 %", RowId::OutputCapacitorVoltage, v / 0.81, Verdict::Tight);
        add("capacitor at its limit", RowId::OutputCapacitorVoltage, v, Verdict::Tight);
        add("capacitor above", RowId::OutputCapacitorVoltage, v * 0.99, Verdict::Breaks);
        add("trip at 95 %", RowId::TripVoltage, v / 0.95, Verdict::Breaks);
        add("trip at 94 %", RowId::TripVoltage, v / 0.94, Verdict::Tight);
        add("clamp at 1.4", RowId::ClampLevel, 28.32 * 4 * 1.4, Verdict::Fits);
        add("clamp at 1.2", RowId::ClampLevel, 28.32 * 4 * 1.2, Verdict::Tight);
        add("clamp at 1.1", RowId::ClampLevel, 28.32 * 4 * 1.1, Verdict::Breaks);
        add("resistor at half its power", RowId::MinimumLoadPower, v * v / 2200 / 0.5, Verdict::Fits);
        add("resistor above half", RowId::MinimumLoadPower, v * v / 2200 / 0.6, Verdict::Tight);
    }
    void edges()
    {
        QFETCH(int, row);
        QFETCH(double, rating);
        QFETCH(int, verdict);
        ConsequencesInput in = beacon();
        *ratingOf(static_cast<RowId>(row), in.supply, in.load) = rating;
        QCOMPARE(static_cast<int>(rowOf(consequences(in), static_cast<RowId>(row)).verdict), verdict);
    }

    /// The controller starves when the voltage comes down.
    void starves()
    {
        ConsequencesInput in = beacon();
        const auto at = [&](double v) {
            in.plan.front().second = {.v_v = v, .i_a = 2};
            return rowOf(consequences(in), RowId::AuxiliaryLow).verdict;
        };
        const double off_at = (9 + 0.9) / 0.58 - 0.5;
        QCOMPARE(at(off_at * 0.99), Verdict::Breaks);
        QCOMPARE(at(off_at * 1.05), Verdict::Tight);
        QCOMPARE(at(off_at * 1.2), Verdict::Fits);
    }

    /// An absent rating is unknown and says what to read; nothing is guessed silently.
    void unknowns()
    {
        ConsequencesInput in = beacon();
        in.supply = Supply{};
        in.supply.rails.front().name = "24V";
        in.load = {};
        const auto result = consequences(in);
        for (const ConsequenceRow& row : result.rows) {
            QVERIFY2(row.verdict == Verdict::Unknown || row.limit, word(row.id).data());
            if (row.verdict == Verdict::Unknown)
                QVERIFY(!rowInfo(row.id).read_next.empty());
        }
        in.supply.transformer.primary_turns_per_secondary = 4;
        in.supply.converter.v_rated_v = 650;
        const ConsequenceRow drain = rowOf(consequences(in), RowId::SwitchVoltage);
        QCOMPARE(drain.assumed.size(), 3u); // the drop, the leakage spike and the bridge
    }

    /// A higher output never relieves a part that is stressed by it.
    void monotone()
    {
        ConsequencesInput in = beacon();
        std::map<RowId, double> last;
        for (int half_v = 40; half_v < 80; ++half_v) {
            const double v = half_v / 2.0;
            in.plan.front().second = {.v_v = v, .i_a = 2};
            for (const ConsequenceRow& row : consequences(in).rows)
                if (row.use && row.id != RowId::AuxiliaryLow && row.id != RowId::OptocouplerCurrent &&
                    row.id != RowId::BatteryFlatCurrent) { // the allowed current falls as the voltage rises
                    if (last.contains(row.id))
                        QVERIFY2(*row.use >= last[row.id] * (1 - 1e-12), word(row.id).data());
                    last[row.id] = *row.use;
                }
        }
        QVERIFY(last.size() > 12);
    }

    /// Counted rows come first, worst first; the header counts only what the plan makes worse, or what
    /// breaks.
    void order()
    {
        const auto result = consequences(beacon());
        bool counted = true;
        int last = 4;
        for (const ConsequenceRow& row : result.rows) {
            if (row.counted != counted)
                last = 4;
            QVERIFY(counted || !row.counted);
            counted = row.counted;
            QVERIFY(badness(row.verdict) <= last);
            last = badness(row.verdict);
            if (row.counted)
                QVERIFY(row.worse || row.verdict == Verdict::Breaks);
        }
        QCOMPARE(rowOf(result, RowId::BulkVoltage).counted, false); // tight as found, and left as it is
    }

    void tables()
    {
        std::set<Station> with_rows;
        Supply supply;
        Load load;
        for (std::size_t i = 0; i < Words<RowId>::list.size(); ++i) {
            const auto id = static_cast<RowId>(i);
            QCOMPARE(rowInfo(id).id, id);
            with_rows.insert(rowInfo(id).station);
            QCOMPARE(ratingOf(id, supply, load) != nullptr, !rowInfo(id).rating.empty());
        }
        for (std::size_t i = 0; i < station_count; ++i) {
            const auto station = static_cast<Station>(i);
            QVERIFY2(with_rows.contains(station) || !reasonWithoutRows(station, Topology::Flyback).empty(),
                     word(station).data());
            QVERIFY(!stationName(station, Supply{}).empty());
        }
    }

    void battery_data()
    {
        QTest::addColumn<int>("trip");
        QTest::addColumn<bool>("diode");
        QTest::addColumn<bool>("fuse");
        QTest::addColumn<int>("verdict");
        QTest::newRow("no crowbar") << 1 << false << false << static_cast<int>(Verdict::Fits);
        QTest::newRow("crowbar, nothing between") << 2 << false << false << static_cast<int>(Verdict::Breaks);
        QTest::newRow("crowbar and a fuse") << 2 << false << true << static_cast<int>(Verdict::Tight);
        QTest::newRow("crowbar behind a diode") << 2 << true << false << static_cast<int>(Verdict::Fits);
    }
    void battery()
    {
        QFETCH(int, trip);
        QFETCH(bool, diode);
        QFETCH(bool, fuse);
        QFETCH(int, verdict);
        ConsequencesInput in = beacon();
        in.supply.rails.front().trip.kind = static_cast<TripKind>(trip);
        in.load.battery.blocking_diode = diode;
        in.load.battery.fuse_a = fuse ? std::optional(5.0) : std::nullopt;
        const auto result = consequences(in);
        QCOMPARE(static_cast<int>(rowOf(result, RowId::BatteryCrowbar).verdict), verdict);
        if (diode)
            QCOMPARE(*rowOf(result, RowId::BatteryBackFeed).planned, 0.0);
    }

    /// A trip on the auxiliary winding moves with the turns: half the turns, half the voltage at it.
    void windingTrip()
    {
        ConsequencesInput in = beacon();
        in.supply.rails.front().trip = {.kind = TripKind::Winding, .v_v = 20.0};
        QNEAR(*rowOf(consequences(in), RowId::TripVoltage).planned, 28.32 * 0.58 - 0.9, 1e-9);
        in.supply.transformer.auxiliary_turns_per_secondary = 0.7;
        QCOMPARE(rowOf(consequences(in), RowId::TripVoltage).verdict, Verdict::Tight);
        in.supply.transformer.auxiliary_turns_per_secondary.reset();
        QCOMPARE(rowOf(consequences(in), RowId::TripVoltage).verdict, Verdict::Unknown);
    }

    void otherInputs()
    {
        QNEAR(inputCrest({.kind = InputKind::Doubler}, 115), 2 * std::sqrt(2) * 115);
        QNEAR(inputCrest({.kind = InputKind::PowerFactorStage, .bus_v = 390.0}, 115), 390.0);
        ConsequencesInput in = beacon();
        in.plan.emplace_back("5V", RailPlan{.v_v = 5});
        QVERIFY_THROWS_EXCEPTION(DocumentError, consequences(in));
    }
};

REGISTER_TEST(TestConsequences, void)
#include "tst_consequences.moc"
