// The divider and its search: figures of the demo job, agreement with exhaustive search, and what must hold
// for every divider.
#include "core/calculate/divider_diagnose.h"
#include "core/calculate/divider_pot.h"
#include "core/calculate/divider_search.h"
#include "core/calculate/divider_tolerance.h"
#include "support/support.h"

#include <algorithm>
#include <random>
#include <set>

using namespace offshoot;

namespace {

FoundDivider beaconDivider()
{
    return {.reference = {.v_ref_v = 2.495, .tolerance = 0.01, .i_ref_a = 2e-6},
            .top = Network(22e3),
            .bottom = Network(2550),
            .found_tolerance = 0.01};
}

struct RandomDivider
{
    std::mt19937 random;
    double between(double a, double b) { return std::uniform_real_distribution(a, b)(random); }
    FoundDivider divider()
    {
        const double tolerance = between(0, 0.05);
        return {.reference = {.v_ref_v = between(1.2, 5),
                              .tolerance = between(0, 0.02),
                              .i_ref_a = between(-5e-6, 5e-6)},
                .top = Network(between(1e3, 1e5)),
                .bottom = Network(between(1e3, 2e4)),
                .found_tolerance = tolerance};
    }
};

/// Every network of one or two parts, by every method: the plain reference of the search.
std::vector<double> exhaustiveErrors(const DividerSolveInput& in, DividerMethod method, std::size_t parts)
{
    std::vector<double> errors;
    const auto try_ohm = [&](double ohm) {
        const Legs legs = withAdded(method, in.divider.nominal(), ohm);
        if (!runsAway(legs))
            errors.push_back(
                std::abs(dividerVoltage(in.divider.reference.v_ref_v, in.divider.reference.i_ref_a, legs) -
                         in.target.v));
    };
    for (std::size_t i = 0; i < in.stock.size(); ++i) {
        if (parts == 1)
            try_ohm(in.stock[i].ohm);
        for (std::size_t j = i; parts == 2 && j < in.stock.size(); ++j) {
            if (i == j && in.stock[i].quantity && *in.stock[i].quantity < 2)
                continue;
            try_ohm(in.stock[i].ohm + in.stock[j].ohm);
            try_ohm(parallelOhm(in.stock[i].ohm, in.stock[j].ohm));
        }
    }
    std::sort(errors.begin(), errors.end());
    return errors;
}

} // namespace

class TestDivider : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// The figures of the Beacon float charge.
    void beaconFigures()
    {
        const FoundDivider divider = beaconDivider();
        QNEAR(dividerVoltage(2.495, 2e-6, divider.nominal()), 2.495 * (1 + 22e3 / 2550) + 2e-6 * 22e3);
        const AddedNetwork added{DividerMethod::ParallelBottom, Network(15e3), 0.01};
        const auto predict = dividerPredict({.divider = divider, .before = {24.05, 0.03}, .added = added});
        QVERIFY(predict.consistent && !predict.runaway);
        QNEAR(predict.predicted->min_v, 27.60, 0, 0.006);
        QNEAR(predict.predicted->max_v, 27.82, 0, 0.006);
        QNEAR(predict.plain->min_v, 26.95, 0, 0.006);
        QNEAR(predict.plain->max_v, 28.51, 0, 0.006);
        QVERIFY(*predict.gain > 5);
    }

    /// A fast search may not miss an optimum: every kept error is the one exhaustive search finds.
    void agreesWithExhaustive()
    {
        RandomDivider source{std::mt19937(3)};
        for (int round = 0; round < 12; ++round) {
            DividerSolveInput in{.divider = source.divider(), .target = {}, .stock = {}, .before = {}};
            const double found = dividerVoltage(in.divider.reference.v_ref_v, in.divider.reference.i_ref_a,
                                                in.divider.nominal());
            const double v = found * source.between(0.8, 1.3);
            in.target = {v, v * 0.99, v * 1.01};
            const auto all = valuesWithin(Series::E12, 100, 1e5);
            for (double ohm : all)
                if (source.random() % 3 != 0)
                    in.stock.push_back({.ohm = ohm,
                                        .tolerance = 0.01,
                                        .power_w = 0.25,
                                        .quantity = source.random() % 4 == 0 ? std::optional<std::int64_t>(1)
                                                                             : std::nullopt});
            in.limit = 4;
            const auto solved = dividerSolve(in);
            for (std::size_t m = 0; m < method_count; ++m)
                for (std::size_t parts : {1u, 2u}) {
                    const auto method = static_cast<DividerMethod>(m);
                    const auto want = exhaustiveErrors(in, method, parts);
                    std::vector<double> got;
                    for (const DividerOption& o : solved.options)
                        if (o.method == method && o.parts_ohm.size() == parts)
                            got.push_back(std::abs(o.error_v));
                    std::sort(got.begin(), got.end());
                    QCOMPARE(got.size(), std::min<std::size_t>(want.size(), 4));
                    for (std::size_t i = 0; i < got.size(); ++i)
                        QNEAR(got[i], want[i], 1e-9, 1.1e-9);
                }
        }
    }

    /// Each option's own figures hang together.
    void optionsAreConsistent()
    {
        const Target target{27.6, 27.3, 27.9};
        const DividerSolveInput in{.divider = beaconDivider(),
                                   .target = target,
                                   .stock = stockOf({Series::E24, 10, 1e6, 0.01, 0.25}),
                                   .before = BeforeReading{24.05, 0.03}};
        const auto solved = dividerSolve(in);
        QVERIFY(!solved.options.empty());
        QCOMPARE(solved.options.front().network.prettyText(), std::string("15k"));
        for (const DividerOption& o : solved.options) {
            QVERIFY(o.worst_min_v <= o.v && o.v <= o.worst_max_v);
            QCOMPARE(o.in_window, o.v >= target.min_v && o.v <= target.max_v);
            QCOMPARE(o.worst_in_window, o.worst_min_v >= target.min_v && o.worst_max_v <= target.max_v);
            QNEAR(parseNetwork(o.network.text())->ohm(), o.added_ohm);
            const bool adds =
                o.method == DividerMethod::ParallelBottom || o.method == DividerMethod::ParallelTop;
            if (adds)
                QNEAR(*o.if_open.v, solved.found_v, 1e-9);
            if (o.method == DividerMethod::SeriesTop || o.method == DividerMethod::ReplaceTop)
                QVERIFY(o.if_open.runaway);
            if (!joinsTop(o.method))
                QNEAR(o.loop_gain_scale, 1.0);
            QVERIFY(o.power_w_max > 0 && o.power_verdict == Verdict::Fits);
        }
    }

    /// V rises with the top leg and falls with the bottom one; corners hold every draw.
    void monotoneAndInsideCorners()
    {
        RandomDivider source{std::mt19937(5)};
        for (int round = 0; round < 200; ++round) {
            const FoundDivider divider = source.divider();
            const Legs legs = divider.nominal();
            const auto v = [&](double top, double bottom) {
                return dividerVoltage(divider.reference.v_ref_v, 0, {top, bottom});
            };
            QVERIFY(v(legs.top_ohm * 1.01, legs.bottom_ohm) > v(legs.top_ohm, legs.bottom_ohm));
            QVERIFY(v(legs.top_ohm, legs.bottom_ohm * 1.01) < v(legs.top_ohm, legs.bottom_ohm));
            const auto range = plainRange(divider, std::nullopt);
            for (int i = 0; i < 20; ++i) {
                const auto off = [&](double tolerance) { return 1 + source.between(-tolerance, tolerance); };
                const Legs drawn{legs.top_ohm * off(divider.found_tolerance),
                                 legs.bottom_ohm * off(divider.found_tolerance)};
                const double drawn_v =
                    dividerVoltage(divider.reference.v_ref_v * off(divider.reference.tolerance),
                                   divider.reference.i_ref_a, drawn);
                QVERIFY(drawn_v >= range->min_v * (1 - 1e-12) && drawn_v <= range->max_v * (1 + 1e-12));
            }
        }
    }

    /// The ohms called exact give the target when they are put in.
    void exactIsExact()
    {
        RandomDivider source{std::mt19937(9)};
        int tried = 0;
        for (int round = 0; round < 200; ++round) {
            const FoundDivider divider = source.divider();
            const double found =
                dividerVoltage(divider.reference.v_ref_v, divider.reference.i_ref_a, divider.nominal());
            const double v = found * source.between(0.7, 1.4);
            for (std::size_t m = 0; m < method_count; ++m)
                if (const auto ohm =
                        exactAdded(static_cast<DividerMethod>(m), divider.nominal(), divider.reference, v)) {
                    const Legs legs = withAdded(static_cast<DividerMethod>(m), divider.nominal(), *ohm);
                    QNEAR(dividerVoltage(divider.reference.v_ref_v, divider.reference.i_ref_a, legs), v,
                          1e-9);
                    ++tried;
                }
        }
        QVERIFY(tried > 400);
    }

    /// A reading narrows a prediction of added parts, and never widens one; drawn supplies that give the
    /// reading stay inside it.
    void readingNarrows()
    {
        RandomDivider source{std::mt19937(21)};
        for (int round = 0; round < 60; ++round) {
            FoundDivider divider = source.divider();
            // Legs moved apart by the same factor give the reading, whichever way the pin's current flows.
            const BeforeReading other{source.between(1.5, 9) * divider.reference.v_ref_v, 0};
            QNEAR(dividerVoltage(divider.reference.v_ref_v, divider.reference.i_ref_a,
                                 movedLegs(divider.nominal(), legFactor(divider, other))),
                  other.v, 1e-9);
            divider.reference.i_ref_a = std::abs(divider.reference.i_ref_a);
            const double found =
                dividerVoltage(divider.reference.v_ref_v, divider.reference.i_ref_a, divider.nominal());
            const BeforeReading before{found, 0.002 * found};
            const AddedRange added{DividerMethod::ParallelBottom,
                                   OhmRange::of(Network(source.between(5e3, 1e5)), 0.01)};
            const auto with = rangeGivenReading(divider, before, added);
            const auto plain = plainRange(divider, added);
            QVERIFY(with && plain);
            QVERIFY(with->min_v >= plain->min_v * (1 - 1e-9) && with->max_v <= plain->max_v * (1 + 1e-9));
            for (int i = 0; i < 300; ++i) {
                const auto off = [&](double tolerance) { return 1 + source.between(-tolerance, tolerance); };
                const double v_ref = divider.reference.v_ref_v * off(divider.reference.tolerance);
                const Legs drawn{divider.top.ohm() * off(divider.found_tolerance),
                                 divider.bottom.ohm() * off(divider.found_tolerance)};
                if (std::abs(dividerVoltage(v_ref, divider.reference.i_ref_a, drawn) - before.v) >
                    before.uncertainty_v)
                    continue;
                const double ohm = source.between(added.ohm.min_ohm, added.ohm.max_ohm);
                const double v =
                    dividerVoltage(v_ref, divider.reference.i_ref_a, withAdded(added.method, drawn, ohm));
                QVERIFY(v >= with->min_v * (1 - 1e-9) && v <= with->max_v * (1 + 1e-9));
            }
        }
    }

    /// The ends that a reading leaves are those found by walking along every edge of the box of tolerances.
    void readingCutsTheBox()
    {
        RandomDivider source{std::mt19937(33)};
        for (int round = 0; round < 60; ++round) {
            FoundDivider divider = source.divider();
            // As much of the spread from the reference's current as from the resistors.
            divider.reference.i_ref_a = 0.1 * divider.reference.v_ref_v / divider.bottom.ohm();
            divider.reference.i_ref_min_a = 0.2 * divider.reference.i_ref_a;
            divider.reference.i_ref_max_a = 1.8 * divider.reference.i_ref_a;
            const double found =
                dividerVoltage(divider.reference.v_ref_v, divider.reference.i_ref_a, divider.nominal());
            const BeforeReading before{found, 0.001 * found};
            const AddedRange added{DividerMethod::SeriesBottom, {900, 900}};
            const std::array<std::array<double, 2>, 4> box{
                {{divider.reference.vAt(-1), divider.reference.vAt(1)},
                 {divider.reference.iMin(), divider.reference.iMax()},
                 {divider.top.ohm() * (1 - divider.found_tolerance),
                  divider.top.ohm() * (1 + divider.found_tolerance)},
                 {divider.bottom.ohm() * (1 - divider.found_tolerance),
                  divider.bottom.ohm() * (1 + divider.found_tolerance)}}};
            double least = 1e300;
            double most = 0;
            constexpr int steps = 2000;
            for (unsigned bits = 0; bits < 16; ++bits)
                for (std::size_t along = 0; along < 4; ++along)
                    for (int step = 0; step <= steps; ++step) {
                        std::array<double, 4> at{};
                        for (std::size_t i = 0; i < 4; ++i)
                            at[i] = box[i][bits >> i & 1U];
                        at[along] = box[along][0] + (box[along][1] - box[along][0]) * step / steps;
                        const Legs legs{at[2], at[3]};
                        if (std::abs(dividerVoltage(at[0], at[1], legs) - before.v) > before.uncertainty_v)
                            continue;
                        const double v =
                            dividerVoltage(at[0], at[1], withAdded(added.method, legs, added.ohm.min_ohm));
                        least = std::min(least, v);
                        most = std::max(most, v);
                    }
            const auto range = rangeGivenReading(divider, before, added);
            QVERIFY(range.has_value());
            QNEAR(range->min_v, least, 5e-4);
            QNEAR(range->max_v, most, 5e-4);
        }
    }

    /// Many builds: the mean is near the nominal, everything lies inside the corners, the seed decides.
    void monteCarlo()
    {
        DividerToleranceInput in{.divider = beaconDivider(),
                                 .added = AddedNetwork{DividerMethod::ParallelBottom, Network(15e3), 0.01},
                                 .target = {27.6, 27.3, 27.9},
                                 .samples = 20000};
        const auto uniform = dividerTolerance(in);
        QNEAR(uniform.mean_v, uniform.nominal_v, 2e-3);
        QVERIFY(uniform.worst_min_v <= uniform.p0_1_v && uniform.p99_9_v <= uniform.worst_max_v);
        in.distribution = Distribution::Normal;
        QVERIFY(dividerTolerance(in).sd_v < uniform.sd_v);
        in.seed = 2;
        QVERIFY(dividerTolerance(in).mean_v != uniform.mean_v);
    }

    /// Where nothing but the reference's current is in doubt, every build lies between what its ends give,
    /// and they fill what lies between.
    void drawnCurrents()
    {
        DividerToleranceInput in{.divider = beaconDivider(), .samples = 20000};
        in.divider.found_tolerance = 0;
        in.divider.reference.tolerance = 0;
        in.divider.reference.i_ref_min_a = 1e-6;
        in.divider.reference.i_ref_max_a = 4e-6;
        const auto drawn = dividerTolerance(in);
        const auto at = [&in](double i_ref_a) {
            return dividerVoltage(in.divider.reference.v_ref_v, i_ref_a,
                                  {in.divider.top.ohm(), in.divider.bottom.ohm()});
        };
        const double range_v = at(4e-6) - at(1e-6);
        QVERIFY(drawn.p0_1_v >= at(1e-6) - 1e-9 && drawn.p0_1_v < at(1e-6) + 0.01 * range_v);
        QVERIFY(drawn.p99_9_v <= at(4e-6) + 1e-9 && drawn.p99_9_v > at(4e-6) - 0.01 * range_v);
    }

    /// The trimmer's ends, preset and target agree with the fixed network of the same ohms.
    void trimmer()
    {
        const DividerPotInput in{.divider = beaconDivider(),
                                 .method = DividerMethod::ParallelBottom,
                                 .pot_ohm = 50e3,
                                 .fixed_ohm = 4700,
                                 .wiper_tied = true,
                                 .measured_ohm = 15e3,
                                 .target = Target{27.6, 27.3, 27.9}};
        const auto pot = dividerPot(in);
        const auto at = [&](double ohm) {
            return dividerVoltage(2.495, 2e-6, withAdded(in.method, in.divider.nominal(), ohm));
        };
        QNEAR(*pot.at_full.v, at(54700));
        QNEAR(*pot.at_zero.v, at(4700));
        QNEAR(*pot.predicted_v, at(15e3));
        QNEAR(at(4700 + *pot.target_ohm), 27.6);
        QNEAR(pot.preset_ohm, 50e3);
        QNEAR(*pot.open_wiper.v, at(54700));
    }

    /// The part of a trimmer's travel that lies in the window is what walking along it finds, also where the
    /// window lies beyond an end.
    void trimmerWindow()
    {
        RandomDivider source{std::mt19937(35)};
        int inside = 0;
        int beyond = 0;
        for (int round = 0; round < 300; ++round) {
            DividerPotInput in{.divider = source.divider(),
                               .method =
                                   round % 2 == 0 ? DividerMethod::ParallelBottom : DividerMethod::SeriesTop,
                               .pot_ohm = source.between(1e3, 5e4),
                               .fixed_ohm = source.between(1e3, 1e4)};
            const Reference& reference = in.divider.reference;
            const double found = dividerVoltage(reference.v_ref_v, reference.i_ref_a, in.divider.nominal());
            const double v = found * source.between(0.6, 3);
            in.target = Target{v, v * 0.98, v * 1.03};
            constexpr int steps = 4000;
            double share = 0;
            for (int step = 0; step <= steps; ++step) {
                const Legs legs =
                    withAdded(in.method, in.divider.nominal(), in.fixed_ohm + in.pot_ohm * step / steps);
                const double at_v = dividerVoltage(reference.v_ref_v, reference.i_ref_a, legs);
                share += (at_v >= in.target->min_v && at_v <= in.target->max_v) / double(steps);
            }
            const auto pot = dividerPot(in);
            QNEAR(pot.window_travel.value(), share, 0, 1e-3);
            QCOMPARE(pot.window_from.has_value(), share > 0);
            (share > 0 ? inside : beyond)++;
        }
        QVERIFY(inside > 50 && beyond > 50);
    }

    /// The usual trimmer for a value sets it well inside its travel, and is one that is made.
    void usualTrimmer()
    {
        RandomDivider source{std::mt19937(29)};
        for (int i = 0; i < 500; ++i) {
            const double exact = std::pow(10, source.between(1.5, 5.5));
            const TrimmerChoice choice = usualTrimmerFor(exact);
            QVERIFY(choice.fixed_ohm <= 0.7 * exact * (1 + 1e-9));
            QVERIFY(choice.fixed_ohm + choice.pot_ohm >= 1.2 * exact * (1 - 1e-9));
            QVERIFY(choice.pot_ohm <= 2.1 * exact); // not coarser than it need be
            const double mantissa =
                choice.pot_ohm / std::pow(10, std::floor(std::log10(choice.pot_ohm * (1 + 1e-9))));
            QVERIFY2(test::near(mantissa, 1, 1e-6) || test::near(mantissa, 2, 1e-6) ||
                         test::near(mantissa, 5, 1e-6),
                     test::numbers(mantissa, 5));
        }
    }

    /// A fault put in by hand is among those that explain the reading it gives.
    void findsTheFault_data()
    {
        QTest::addColumn<double>("added_ohm");
        QTest::addColumn<int>("fault");
        QTest::newRow("as planned") << 15e3 << static_cast<int>(DividerFault::AsPlanned);
        QTest::newRow("a decade up") << 150e3 << static_cast<int>(DividerFault::DecadeUp);
        QTest::newRow("a decade down") << 1.5e3 << static_cast<int>(DividerFault::DecadeDown);
        QTest::newRow("dry joint") << std::numeric_limits<double>::infinity()
                                   << static_cast<int>(DividerFault::Open);
    }
    void findsTheFault()
    {
        QFETCH(double, added_ohm);
        QFETCH(int, fault);
        const double v = dividerVoltage(2.495, 2e-6, {22e3, parallelOhm(2550, added_ohm)});
        const DividerDiagnoseInput in{
            .reference = {.v_ref_v = 2.495, .tolerance = 0.002, .i_ref_a = 2e-6},
            .top = {"R1", {{"R1", {22e3, 0.002}}}},
            .bottom = {"R2||R9", {{"R2", {2550, 0.002}}, {"R9", {15e3, 0.002, true}}}},
            .measured_v = v,
            .uncertainty_v = 0.01};
        const auto result = dividerDiagnose(in);
        QVERIFY(result.hypotheses.front().explains);
        QVERIFY(std::ranges::any_of(result.hypotheses, [&](const FaultHypothesis& h) {
            return h.explains && static_cast<int>(h.fault) == fault;
        }));
    }

    void otherLeg_data()
    {
        QTest::addColumn<QString>("network");
        QTest::addColumn<QString>("parts");
        QTest::newRow("across the leg") << "R2||R9||R8"
                                        << "R8 R9";
        QTest::newRow("one of two in series across it") << "R2||(R9+R8)"
                                                        << "";
        QTest::newRow("one across it, one not") << "R9||(R2+R8)"
                                                << "R9";
        QTest::newRow("in series") << "R2+R9+R8"
                                   << "";
    }
    /// Only a new part that lies across its whole leg can have been soldered across the other one.
    void otherLeg()
    {
        QFETCH(QString, network);
        QFETCH(QString, parts);
        const auto result = dividerDiagnose(
            {.reference = {.v_ref_v = 2.495, .tolerance = 0.002, .i_ref_a = 2e-6},
             .top = {"R1", {{"R1", {22e3, 0.002}}}},
             .bottom = {network.toStdString(),
                        {{"R2", {2550, 0.002}}, {"R8", {47e3, 0.002, true}}, {"R9", {15e3, 0.002, true}}}},
             .measured_v = 20,
             .uncertainty_v = 0.01,
             .limit = 100});
        std::set<QString> across;
        for (const FaultHypothesis& h : result.hypotheses)
            if (h.fault == DividerFault::WrongLeg)
                across.insert(QString::fromStdString(*h.part));
        QCOMPARE(QStringList(across.begin(), across.end()).join(u' '), parts);
    }
};

REGISTER_TEST(TestDivider, void)
#include "tst_divider.moc"
