// What the bench needs to know before and while it is live: limiter lamp, discharge, and judged readings.
// Each against its own physics rather than against figures.
#include "core/calculate/discharge.h"
#include "core/calculate/limiter_lamp.h"
#include "core/calculate/need_presets.h"
#include "core/calculate/reading.h"
#include "core/values/format.h"
#include "support/support.h"

#include <random>

using namespace offshoot;

namespace {

struct Between
{
    std::mt19937 random{91};
    double between(double a, double b) { return std::uniform_real_distribution(a, b)(random); }
};

LampLimitInput lamp(double w, double idle_w, double load_w = 0)
{
    return {
        .lamps_w = {w}, .lamp_v = 230, .mains_v = 230, .idle_w = idle_w, .load_w = load_w, .efficiency = 0.8};
}

} // namespace

class TestBenchSums : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// What a battery floats at, within 25 mV a cell and never closer than a tenth of a volt; colder is
    /// higher.
    void floatCharge()
    {
        constexpr double room_k = 298.15;
        for (const int cells : {1, 2, 6, 12, 24, 120}) {
            const NeedPreset preset = floatChargePreset(cells, room_k);
            QVERIFY(std::abs(preset.window.v - 2.27 * cells) <= 0.05 + 1e-9);
            const double half_v = (preset.window.max_v - preset.window.min_v) / 2;
            QVERIFY(half_v >= 0.1 - 1e-9 && std::abs(half_v - std::max(0.1, 0.025 * cells)) <= 0.05 + 1e-9);
            QNEAR(preset.window.max_v + preset.window.min_v, 2 * preset.window.v, 1e-9);
            QNEAR(floatVoltage(cells, room_k - 20) - floatVoltage(cells, room_k), cells * 0.066, 1e-9);
            QVERIFY(preset.why.ends_with(" = " + fixed(2.27 * cells, 2) + " V"));
        }
    }

    /// A resistor of the shop for what there is: sold for at least what it meets, warm at most what it bears.
    void dischargeTools()
    {
        for (const double v : {4.9, 12.0, 60.0, 340.0, 420.0, 760.0, 1900.0, 2400.0, 3000.0}) {
            const DischargeTool tool = dischargeTool(v, 220e-6);
            QNEAR(tool.power_w, v * v / tool.ohm, 1e-9);
            QNEAR(tool.energy_j, 110e-6 * v * v, 1e-9);
            QNEAR(tool.seconds, tool.ohm * 220e-6 * std::max(0.0, std::log(v / 10)), 1e-9);
            QVERIFY(tool.power_w <= tool.rated_w * (1 + 1e-9));
            QVERIFY(v > 5 || tool.ohm == 1); // the least that is looked for
            double sold_v = v;
            for (const double rated_v : {2500.0, 1000.0, 750.0, 500.0, 350.0, 200.0, 100.0, 50.0})
                if (rated_v >= v)
                    sold_v = rated_v;
            QVERIFY2(tool.text().find("for " + formatValue(sold_v, Quantity::Voltage) + " or more") !=
                         std::string::npos,
                     tool.text().c_str());
        }
    }

    /// At every operating point lamp and unit share the mains, carry one current, and the filament's law
    /// holds.
    void lampBalance()
    {
        Between draw;
        for (int i = 0; i < 300; ++i) {
            const double w = draw.between(15, 300);
            const auto result = lampLimit(lamp(w, draw.between(0, 40), draw.between(0, 80)));
            QNEAR(result.i_rated_a, w / 230);
            for (const LampState& state : {result.idle, result.loaded}) {
                if (!state.i_a) {
                    QCOMPARE(state.glow, Glow::Pulsing);
                    QVERIFY(state.w > result.p_max_w);
                    continue;
                }
                QNEAR(*state.v_lamp_v + *state.v_unit_v, 230, 1e-9);
                QNEAR(*state.i_a * *state.v_unit_v, state.w, 1e-6, 1e-9);
                QNEAR(*state.i_a, result.i_rated_a * std::pow(*state.v_lamp_v / 230, 0.55), 1e-6, 1e-9);
                QVERIFY(*state.v_lamp_v <=
                        result.v_lamp_at_max_v * (1 + 1e-9)); // the lower of the two solutions
            }
        }
    }

    /// No lamp voltage gives the unit more than the most.
    void lampMost()
    {
        const auto result = lampLimit(lamp(100, 0));
        for (int half_v = 0; half_v <= 460; ++half_v) {
            const double v = half_v / 2.0;
            QVERIFY((230 - v) * result.i_rated_a * std::pow(v / 230, 0.55) <= result.p_max_w * (1 + 1e-3));
        }
        QNEAR(result.p_max_w, 0.365 * 100, 2e-3);
        QNEAR(result.short_a, 100.0 / 230);
        QCOMPARE(result.signs.size(), 4u);
    }

    /// The chosen lamp is the smallest that fits; a smaller one does not.
    void chosenLamp()
    {
        Between draw;
        for (int i = 0; i < 100; ++i) {
            const double input_w = draw.between(1, 60);
            const auto chosen = chooseLamp(230, input_w);
            for (const double w : usual_lamps_w) {
                const auto result = lampLimit(lamp(w, input_w));
                const bool fits =
                    result.verdict == Verdict::Fits && result.expected == LampSign::FlashThenDim;
                if (chosen && w < *chosen)
                    QVERIFY(!fits);
                if (chosen && w == *chosen)
                    QVERIFY(fits);
                if (!chosen)
                    QVERIFY(!fits);
            }
        }
    }

    /// A bleeder takes the capacitor down along e^(−t/RC), and the times say when.
    void discharge()
    {
        Between draw;
        for (int i = 0; i < 300; ++i) {
            const double v0 = draw.between(70, 450);
            const double c = std::pow(10, draw.between(-6, -2));
            const double r = std::pow(10, draw.between(3, 6));
            const auto plan = dischargePlan(
                {.v0_v = v0, .capacitors = {{.c_f = c}}, .bleeder_ohm = r, .bleeder_power_w = 1.0});
            for (const auto& [t, v] : {std::pair{plan.bleeder->t60_s, 60.0},
                                       {plan.bleeder->t42_s, 42.0},
                                       {plan.bleeder->t10_s, 10.0}})
                QNEAR(v0 * std::exp(-t / (r * c)), v, 1e-9);
            QNEAR(plan.energy_j, 0.5 * c * v0 * v0, 1e-12);
            QNEAR(plan.bleeder->power_w, v0 * v0 / r, 1e-12);
            // The largest tool resistor reaches the end voltage in just the time given.
            QNEAR(v0 * std::exp(-5 / (*plan.tool_max_ohm * c)), 10, 1e-9);
            QNEAR(plan.recovery_v, 0.12 * v0, 1e-12);
            QCOMPARE(plan.wait_s, plan.recovery_v >= 10 ? 300.0 : 60.0);
        }
        QCOMPARE(dischargeTime(1e3, 1e-3, 5, 10), 0.0); // already below
    }

    /// In series the smallest takes the largest share, and the shares add up; in parallel each has all.
    void severalCapacitors()
    {
        DischargePlanInput in{.v0_v = 400,
                              .capacitors = {{.c_f = 100e-6},
                                             {.c_f = 220e-6},
                                             {.c_f = 47e-6, .kind = CapacitorKind::Polypropylene}}};
        const auto parallel = dischargePlan(in);
        QNEAR(parallel.c_f, 367e-6, 1e-12);
        for (double v : parallel.each_v)
            QNEAR(v, 400);
        in.arrangement = CapacitorArrangement::Series;
        const auto series = dischargePlan(in);
        QNEAR(1 / series.c_f, 1 / 100e-6 + 1 / 220e-6 + 1 / 47e-6, 1e-12);
        QNEAR(series.each_v[0] + series.each_v[1] + series.each_v[2], 400, 1e-12);
        QVERIFY(series.each_v[2] > series.each_v[0] && series.each_v[0] > series.each_v[1]);
        QNEAR(series.recovery_share, 0.12); // the worst of them
    }

    /// A verdict against its definition, over random windows, readings and doubts.
    void readings()
    {
        Between draw;
        std::array<int, 3> seen{};
        for (int i = 0; i < 2000; ++i) {
            const double low = draw.between(-5, 5);
            const double high = low + draw.between(0, 2);
            const double value = draw.between(-6, 8);
            const double u = draw.between(0, 0.5);
            const auto judged =
                judgeReading({.value = value, .window = ReadingWindow{low, high}, .uncertainty = u});
            const bool inside = value - u >= low && value + u <= high;
            const bool outside = value + u < low || value - u > high;
            const Verdict want = inside ? Verdict::Fits : outside ? Verdict::Breaks : Verdict::Tight;
            ++seen[static_cast<std::size_t>(want)];
            QCOMPARE(judged.verdict, want);
            QCOMPARE(*judged.place, value < low ? Place::Below : value > high ? Place::Above : Place::Inside);
            QNEAR(*judged.margin, std::min(value - low, high - value), 1e-9, 1e-12);
            QCOMPARE(judged.meter_too_coarse, u > (high - low) / 2);
            if (judged.meter_too_coarse)
                QVERIFY(judged.verdict != Verdict::Fits);
        }
        QVERIFY(seen[0] > 50 && seen[1] > 50 && seen[2] > 50);
    }

    void oneSidedAndNone()
    {
        QCOMPARE(
            judgeReading({.value = 3, .window = ReadingWindow{std::nullopt, 10}, .uncertainty = 0.1}).verdict,
            Verdict::Fits);
        QCOMPARE(
            judgeReading({.value = 3, .window = ReadingWindow{10, std::nullopt}, .uncertainty = 0.1}).verdict,
            Verdict::Breaks);
        const auto none = judgeReading({.value = 3});
        QCOMPARE(none.verdict, Verdict::Unknown);
        QVERIFY(!none.u_known && !none.place && !none.margin);
    }

    /// Two readings differ for real only beyond both meters together.
    void differences()
    {
        Between draw;
        for (int i = 0; i < 500; ++i) {
            const double a = draw.between(5, 30);
            const double b = a + draw.between(-0.3, 0.3);
            const double ua = draw.between(0, 0.2);
            const double ub = draw.between(0, 0.2);
            const auto judged =
                judgeReading({.value = a,
                              .uncertainty = ua,
                              .other = ReadingJudgeInput::Other{.value = b, .uncertainty = ub}});
            QNEAR(judged.other->difference, a - b, 1e-9, 1e-12);
            QNEAR(judged.other->difference_u, std::hypot(ua, ub), 1e-12);
            QCOMPARE(judged.other->difference_verdict, std::abs(a - b) > std::hypot(ua, ub)
                                                           ? DifferenceVerdict::Real
                                                           : DifferenceVerdict::WithinAccuracy);
        }
    }

    /// One meter on one range sees a difference more finely than two readings each by itself.
    void sameMeter()
    {
        const MeterAccuracy meter{.reading_fraction = 0.005, .counts = 2, .resolution = 0.01};
        const auto apart = judgeReading({.value = 27.7,
                                         .meter = meter,
                                         .other = ReadingJudgeInput::Other{.value = 27.6, .meter = meter}});
        const auto same = judgeReading({.value = 27.7,
                                        .meter = meter,
                                        .other = ReadingJudgeInput::Other{.value = 27.6},
                                        .same_meter = true});
        QVERIFY(same.other->difference_u < apart.other->difference_u);
        QCOMPARE(same.other->difference_verdict, DifferenceVerdict::Real);
        QCOMPARE(apart.other->difference_verdict, DifferenceVerdict::WithinAccuracy);
    }

    void verdictOrder()
    {
        QCOMPARE(worse(Verdict::Fits, Verdict::Tight), Verdict::Tight);
        QCOMPARE(worse(Verdict::Unknown, Verdict::Tight), Verdict::Unknown);
        QCOMPARE(worse(Verdict::Unknown, Verdict::Breaks), Verdict::Breaks);
        QCOMPARE(judgeUse(0.8 * (1 + 1e-10)), Verdict::Fits); // at the limit
        QCOMPARE(judgeUse(0.8 * (1 + 1e-8)), Verdict::Tight);
        QCOMPARE(judgeUse(1.0), Verdict::Tight);
        QCOMPARE(judgeUse(std::optional<double>()), Verdict::Unknown);
        QVERIFY(!useOf(1.0, std::nullopt) && useOf(1.0, 2.0) == 0.5);
    }
};

REGISTER_TEST(TestBenchSums, void)
#include "tst_bench_sums.moc"
