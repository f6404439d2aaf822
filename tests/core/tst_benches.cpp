// Several units on one bench: what they do to each other once they are joined, held against closed forms; and
// what must not be done there.
#include "core/evaluate/job_input.h"
#include "core/rehearse/exercises.h"
#include "core/rehearse/rehearsal_end.h"
#include "support/job_files.h"
#include "support/support.h"

#include <algorithm>
#include <cmath>

using namespace offshoot;

namespace {

Job demo(const char* name)
{
    return readJob(test::sourceFile(("data/jobs/" + std::string(name) + ".offshoot").c_str()));
}

BenchAnswer play(Benches& benches, const std::string& move)
{
    return benches.play(benchMoveFrom(move, "/moves/0"), "/moves/0");
}

/// Every plug out and every reservoir down for good.
void drain(Benches& benches)
{
    for (std::size_t unit = 1; unit <= benches.count(); ++unit)
        play(benches, "unplug #" + std::to_string(unit));
    for (int i = 0; i < 4; ++i) {
        for (std::size_t unit = 1; unit <= benches.count(); ++unit)
            for (const TrueReservoir& real : benches.unit(unit).unit().reservoirs(false))
                play(benches, "discharge " + real.point + " 4k7 60 #" + std::to_string(unit));
        play(benches, "wait 120");
    }
}

/// Each alone behind the lamp and then without it, its output read both times; dead at the end.
void readEach(Benches& benches)
{
    drain(benches);
    for (std::size_t unit = 1; unit <= benches.count(); ++unit) {
        const std::string number = " #" + std::to_string(unit);
        const std::string probe = "probe " + benches.unit(unit).found().rails.front().name + number;
        for (const std::string& move : {"lamp_in" + number, "plug_in" + number, probe, "unplug" + number,
                                        "lamp_out" + number, "plug_in" + number, probe})
            QVERIFY2(!play(benches, move).wrong, move.c_str());
        drain(benches);
    }
}

double volts(const Benches& benches, std::size_t unit)
{
    return benches.unit(unit).running().rails_v.front();
}

} // namespace

class TestBenches : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// Switched on through the planned limiter there is its resistor in the way, and all that was before it.
    void surgeThroughTheLimiter()
    {
        const Job job = demo("fog-signal-amplifier");
        const Benches benches(job, 3, {});
        const TrueUnit& unit = benches.unit(1).unit();
        const double before = unit.surge(false, false, 0).value().ohm;
        const double after = unit.surge(false, true, 0).value().ohm;
        QNEAR(after, before + plannedLimiter(job).value().result.r_ohm, 1e-9);
    }

    /// What was drawn for the rehearsal lies where it says: a fifth around the reservoir's value, the mains
    /// within their spread.
    void drawnWithinTolerance()
    {
        const Job job = demo("fog-signal-amplifier");
        const double c_f = *surgeAsFound(job).value().c_f;
        double least = 2;
        double most = 0;
        for (std::uint64_t seed = 1; seed <= 120; ++seed) {
            const Benches benches(job, seed, {});
            const TrueUnit& unit = benches.unit(1).unit();
            const double share = unit.surge(false, false, 0).value().c_f / c_f;
            least = std::min(least, share);
            most = std::max(most, share);
            QVERIFY(std::abs(unit.mainsV() / job.need.mains.v_v - 1) <= job.need.mains.spread + 1e-9);
        }
        QVERIFY(least >= 0.8 && least < 0.83);
        QVERIFY(most <= 1.2 && most > 1.17);
    }

    /// Valves warm up wherever there are any: as found, as planned, or both.
    void valvesWarm()
    {
        for (const bool found : {false, true})
            for (const bool planned : {false, true}) {
                Job job = demo("barograph-amplifier");
                const RectifierChain valves = *job.found.mains_side.chain;
                RectifierChain silicon = valves;
                silicon.rectifier.diode = usualDiode(DiodeModel::Threshold);
                job.found.mains_side.chain = found ? valves : silicon;
                job.plan.chain = planned ? valves : silicon;
                QCOMPARE(Benches(job, 3, {}).truth().contains("valves warm in_s"), found || planned);
            }
        // What it was warm already counts, however the waiting is cut.
        Benches benches(demo("barograph-amplifier"), 3, {});
        const double warm_s = benches.truth().at("valves warm in_s");
        play(benches, "lamp_in");
        play(benches, "plug_in");
        for (const double share : {0.4, 0.4}) {
            QCOMPARE(volts(benches, 1), 0.0);
            play(benches, "wait " + std::to_string(share * warm_s));
        }
        play(benches, "wait " + std::to_string(0.3 * warm_s));
        QVERIFY(volts(benches, 1) > 1);
    }

    /// The bus as Kirchhoff has it: V = Σ(Vₖ/Rₖ)/(Σ1/Rₖ + G); one that is off is held up by the others.
    void bus()
    {
        const Job job = demo("hatch-heater");
        for (const std::uint64_t seed : {1U, 2U, 3U}) {
            Benches benches(job, seed, {});
            QCOMPARE(benches.count(), std::size_t{3});
            readEach(benches);
            QVERIFY(!play(benches, "join").wrong && benches.joined());
            for (const char* move : {"plug_in", "plug_in #2", "plug_in #3"})
                QVERIFY(!play(benches, move).wrong);
            const ParallelInput planned = *evaluateWhole({job, 0}).joined->bus.input;
            for (const double ohm : {1e6, 12.0, 2.7, 1.5}) {
                play(benches, "load " + std::to_string(ohm) + "R");
                double above = 0;
                double below = 1 / ohm;
                for (std::size_t unit = 1; unit <= 3; ++unit) {
                    const Bench& bench = benches.unit(unit);
                    const OutputSource source =
                        bench.unit().output(bench.connected(), bench.running().unit_v);
                    const double r = source.ohm + planned.units[unit - 1].r_lead_ohm;
                    above += source.v_v / r;
                    below += 1 / r;
                }
                const double bus_v = above / below;
                double sum_a = 0;
                bool linear = true; // all of them give, and none is at its limit
                for (std::size_t unit = 1; unit <= 3; ++unit) {
                    const double a = *benches.leadAmps(unit);
                    linear = linear && a > 0 && a < 5;
                    sum_a += a;
                }
                if (linear)
                    QVERIFY(std::abs(sum_a * ohm - bus_v) < 1e-6);
                for (std::size_t unit = 1; unit <= 3; ++unit)
                    QVERIFY(std::abs(volts(benches, unit) -
                                     *benches.leadAmps(unit) * planned.units[unit - 1].r_lead_ohm -
                                     sum_a * ohm) < 1e-6);
            }
            // What is hung on the join by way of another unit hangs on the same bus.
            for (const char* unit : {"", " #2", " #3"}) {
                play(benches, "load 1e6R");
                play(benches, std::string("load 3R") + unit);
                QVERIFY(std::abs(volts(benches, 1) / 3 - *benches.leadAmps(1) - *benches.leadAmps(2) -
                                 *benches.leadAmps(3)) < 0.1);
            }
            // Off, its output is live all the same.
            play(benches, "unplug #2");
            QCOMPARE(*benches.leadAmps(2), 0.0);
            const double held_v = *play(benches, "probe 15V #2").reading->value;
            QVERIFY2(held_v > 13 && held_v < 16, QByteArray::number(held_v));
            play(benches, "discharge 15V 22R 30 #2");
            QVERIFY(std::abs(*play(benches, "probe 15V #2").reading->value - held_v) < 0.5);
            QCOMPARE(play(benches, "connect_load").wrong->what, WrongMove::FittedLive);
            drain(benches);
            QVERIFY(*play(benches, "probe 15V #2").reading->value < 1);
            QVERIFY(!benches.live());
        }
    }

    /// The procedure leads to the reading that tells which lead is poor, at every unit.
    void poorLead_data()
    {
        QTest::addColumn<int>("unit");
        for (const int unit : {1, 2, 3})
            QTest::addRow("#%d", unit) << unit;
    }
    void poorLead()
    {
        QFETCH(int, unit);
        const Job job = exerciseJob(exercises().back(), demo("hatch-heater"));
        for (const std::uint64_t seed : {1U, 5U, 9U}) {
            RehearsedJob rehearsed(job, seed, {UnitFaultKind::PoorLead, "#" + std::to_string(unit)});
            while (rehearsed.step() != nullptr)
                rehearsed.carryOut();
            const PlayedMove* lowest = nullptr;
            for (const PlayedMove& move : rehearsed.played().moves)
                if (move.answer.reading && move.answer.reading->point == "lead" &&
                    (lowest == nullptr || *move.answer.reading->value < *lowest->answer.reading->value))
                    lowest = &move;
            QVERIFY(lowest != nullptr && lowest->outside());
            QCOMPARE(lowest->answer.move.unit, static_cast<std::size_t>(unit));
            const std::string lead = unit > 1 ? "lead #" + std::to_string(unit) + " read" : "lead read";
            QVERIFY(rehearsalEnd(rehearsed, {}).told_by.starts_with(lead));
        }
    }

    /// A stack stands on earth once: first the bond, then the link; one current through all, no more than the
    /// lowest limit lets through.
    void stack()
    {
        Benches benches(demo("radio-link"), 2, {});
        readEach(benches);
        QCOMPARE(play(benches, "join").wrong->what, WrongMove::JoinedShorted);
        QVERIFY(!benches.joined());
        QVERIFY(*play(benches, "ohms bond #2").reading->value < 1);
        QVERIFY(!play(benches, "open_bond #2").wrong);
        QVERIFY(*play(benches, "ohms bond #2").reading->value > 1e6);
        QVERIFY(!play(benches, "join").wrong && benches.joined());
        play(benches, "plug_in");
        play(benches, "plug_in #2");
        const double sum_v = volts(benches, 1) + volts(benches, 2);
        const auto node = [&](const char* move) { return *play(benches, move).reading->value; };
        QVERIFY(std::abs(node("probe node") - volts(benches, 1)) < 0.3);
        QVERIFY(std::abs(node("probe node #2") - sum_v) < 0.6);
        play(benches, "load 24R");
        for (std::size_t unit = 1; unit <= 2; ++unit)
            QVERIFY(std::abs(benches.unit(unit).running().taken_w - benches.unit(1).running().taken_w) < 10);
        const double loaded_v = volts(benches, 1) + volts(benches, 2);
        QVERIFY(loaded_v < sum_v && loaded_v > 0.9 * sum_v);
        play(benches, "load 2R"); // beyond both limits of 11 A
        QVERIFY(volts(benches, 1) + volts(benches, 2) < 2 * 12.0);
        play(benches, "unplug #2");
        QVERIFY(volts(benches, 1) < 24);
    }

    /// In a stack the unit that limits takes what the other leaves of the load.
    void stackOfUnequals()
    {
        Job job = demo("radio-link");
        job.others.front().joint.i_limit_a = 5;
        Benches benches(job, 2, {});
        readEach(benches);
        play(benches, "open_bond #2");
        play(benches, "join");
        play(benches, "plug_in");
        play(benches, "plug_in #2");
        const double first_v = volts(benches, 1);
        const auto amps = [&](const char* load, double ohm) {
            play(benches, load);
            return (volts(benches, 1) + volts(benches, 2)) / ohm;
        };
        const double limit_a = amps("load 6R", 6);
        QVERIFY2(limit_a > 4 && limit_a < 6, QByteArray::number(limit_a));
        QVERIFY(std::abs(volts(benches, 1) - first_v) < 0.5);
        const Bench& second = benches.unit(2);
        const double own_limit_a = second.unit().output(second.connected(), second.running().unit_v).limit_a;
        QNEAR(limit_a, own_limit_a, 1e-6);
        QNEAR(amps("load 5R5", 5.5), own_limit_a, 1e-6);
    }

    void wrongs_data()
    {
        QTest::addColumn<QStringList>("before");
        QTest::addColumn<QString>("move");
        QTest::addColumn<QString>("wrong");
        const auto add = [](const char* move, QStringList before, const char* wrong) {
            QTest::newRow(wrong) << before << QString::fromUtf8(move) << QString::fromUtf8(wrong);
        };
        add("join", {}, "fitted_charged");
        add("join", {QStringLiteral("lamp_in #2"), QStringLiteral("plug_in #2")}, "fitted_live");
        add("plug_in #3", {}, "full_mains_first");
        add("open_case #2", {QStringLiteral("lamp_in #2"), QStringLiteral("plug_in #2")}, "opened_live");
    }
    void wrongs()
    {
        QFETCH(QStringList, before);
        QFETCH(QString, move);
        QFETCH(QString, wrong);
        Benches benches(demo("hatch-heater"), 3, {});
        for (const QString& one : before)
            QVERIFY(!play(benches, one.toStdString()).wrong);
        for (const int times : {1, 2}) {
            const BenchAnswer answer = play(benches, move.toStdString());
            if (times == 2 && wrong == QLatin1String("full_mains_first"))
                return; // it is plugged in
            QVERIFY(answer.wrong);
            QCOMPARE(QString::fromUtf8(word(answer.wrong->what).data()), wrong);
            QCOMPARE(answer.wrong->first, times == 1);
            QCOMPARE(benches.wrongs().at(answer.wrong->what), times);
        }
    }

    void unread()
    {
        Benches benches(demo("hatch-heater"), 3, {});
        drain(benches);
        const BenchAnswer joined = play(benches, "join");
        QCOMPARE(joined.wrong->what, WrongMove::JoinedUnread);
        QVERIFY2(joined.wrong->would.starts_with("Unit 1 was not read"), joined.wrong->would.c_str());
    }

    /// One clock for all of them: what waits at one drains at the others.
    void oneClock()
    {
        Benches benches(demo("hatch-heater"), 3, {});
        const double before_v = *benches.unit(1).storeVolts("bulk");
        play(benches, "discharge bulk 4k7 60 #2");
        QCOMPARE(benches.timeS(), 60.0);
        QVERIFY(*benches.unit(1).storeVolts("bulk") < before_v);
        QVERIFY(*benches.unit(1).storeVolts("bulk") > *benches.unit(2).storeVolts("bulk"));
    }

    void refused_data()
    {
        QTest::addColumn<QByteArray>("job");
        QTest::addColumn<QString>("move");
        for (const char* move : {"probe bulk #4", "probe bulk #0", "probe bulk #x", "probe bulk #02",
                                 "probe lead #2", "probe difference", "probe node #2", "join about"})
            QTest::newRow(move) << QByteArray("hatch-heater") << QString::fromUtf8(move);
        QTest::newRow("one unit") << QByteArray("wind-recorder") << QStringLiteral("probe bulk #2");
        QTest::newRow("joins nothing") << QByteArray("wind-recorder") << QStringLiteral("join");
    }
    void refused()
    {
        QFETCH(QByteArray, job);
        QFETCH(QString, move);
        Benches benches(demo(job.constData()), 1, {});
        try {
            play(benches, move.toStdString());
            QFAIL("taken");
        } catch (const DocumentError& error) {
            QCOMPARE(error.path(), std::string("/moves/0"));
        }
    }
};

REGISTER_TEST(TestBenches, void)
#include "tst_benches.moc"
