// The rectifier simulator: closed forms, energy balance over many chains, a plain fine-step integration, the
// periodic state really repeating, and what cannot be done.
#include "core/calculate/rectifier.h"
#include "core/calculate/rectifier_spread.h"
#include "core/calculate/simulation_run.h"
#include "support/support.h"

#include <algorithm>
#include <numbers>
#include <random>

using namespace offshoot;

namespace {

SimDiode silicon() { return {.model = DiodeModel::Threshold, .v_f_v = 0.8, .r_ohm = 0.03}; }
SmoothingSection capacitor(double c_f, double esr_ohm = 0)
{
    return {.kind = SmoothingKind::C, .c_f = c_f, .esr_ohm = esr_ohm};
}
SmoothingSection choke(double l_h, double r_ohm)
{
    return {.kind = SmoothingKind::L, .l_h = l_h, .r_ohm = r_ohm};
}
SmoothingSection resistor(double r_ohm) { return {.kind = SmoothingKind::R, .r_ohm = r_ohm}; }

RectifierInput bridge(std::vector<SmoothingSection> filter, const SimLoad& load)
{
    return {.chain = {.source = {.v_rms_v = 24, .f_hz = 50, .r_ohm = 0.6},
                      .rectifier = {.kind = SimRectifier::Bridge, .diode = silicon()},
                      .filter = std::move(filter),
                      .load = load}};
}

SteadyResult steady(const RectifierInput& in) { return *rectifierSimulate(in).steady; }

/// Mean load voltage of a bridge with one capacitor and a resistive load, by a plain fine integration.
double plainBridge(const RectifierChain& chain, double c_f, double load_ohm)
{
    const double r = chain.source.r_ohm + 2 * chain.rectifier.diode.r_ohm;
    const double h = 1e-6;
    double v = 30;
    double sum = 0;
    int counted = 0;
    for (int k = 0; k < 1'200'000; ++k) {
        const double e = std::abs(std::numbers::sqrt2 * chain.source.v_rms_v *
                                  std::sin(2 * std::numbers::pi * chain.source.f_hz * (k + 0.5) * h));
        const double i = std::max(0.0, (e - 2 * chain.rectifier.diode.v_f_v - v) / r);
        v += h * (i - v / load_ohm) / c_f;
        if (k >= 1'000'000) {
            sum += v;
            ++counted;
        }
    }
    return sum / counted;
}

RectifierChain randomChain(std::mt19937& random)
{
    const auto decade = [&](double a, double b) {
        return std::pow(10, std::uniform_real_distribution(std::log10(a), std::log10(b))(random));
    };
    RectifierChain chain{
        .source = {.v_rms_v = decade(6, 350), .f_hz = random() % 2 == 0 ? 50.0 : 400.0, .r_ohm = 1},
        .rectifier = {.kind = static_cast<SimRectifier>(random() % 4), .diode = silicon()},
        .filter = {},
        .load = {}};
    const double base_ohm = decade(10, 3000);
    chain.source.r_ohm = base_ohm * decade(0.005, 0.08);
    switch (random() % 3) {
    case 0:
        chain.rectifier.diode = {.model = DiodeModel::Threshold, .v_f_v = 0.7, .r_ohm = base_ohm * 1e-3};
        break;
    case 1:
        chain.rectifier.diode = {
            .model = DiodeModel::Exponential, .r_ohm = base_ohm * 1e-3, .i_s_a = 1e-9, .n = 1.7};
        break;
    default:
        chain.rectifier.diode = {.model = DiodeModel::Valve,
                                 .perveance_a_v15 = 3 / base_ohm / std::sqrt(chain.source.v_rms_v),
                                 .r_plate_ohm = base_ohm * 0.01};
    }
    const double c_f = decade(2, 30) / (2 * std::numbers::pi * chain.source.f_hz * base_ohm);
    if (chain.rectifier.kind == SimRectifier::Doubler) {
        chain.rectifier.upper = capacitor(c_f, base_ohm * 1e-3);
        chain.rectifier.lower = capacitor(c_f * 1.3, base_ohm * 2e-3);
        if (random() % 2 == 0) {
            chain.filter.push_back(resistor(base_ohm * 0.05));
            chain.filter.push_back(capacitor(c_f));
        }
    } else {
        if (random() % 3 == 0)
            chain.filter.push_back(choke(base_ohm / chain.source.f_hz * decade(0.05, 0.6), base_ohm * 0.02));
        chain.filter.push_back(capacitor(c_f, random() % 2 == 0 ? base_ohm * 2e-3 : 0));
        if (random() % 2 == 0) {
            chain.filter.push_back(random() % 2 == 0 ? resistor(base_ohm * 0.1)
                                                     : choke(base_ohm / chain.source.f_hz, base_ohm * 0.05));
            chain.filter.push_back(capacitor(c_f, base_ohm * 1e-3));
        }
        if (chain.filter.front().kind == SmoothingKind::C && random() % 3 == 0)
            chain.source.l_h = base_ohm * 0.01 / (2 * std::numbers::pi * chain.source.f_hz);
    }
    if (chain.rectifier.kind == SimRectifier::Doubler && random() % 3 == 0)
        chain.source.l_h = base_ohm * 0.01 / (2 * std::numbers::pi * chain.source.f_hz);
    const double v = chain.source.v_rms_v;
    const bool choked =
        std::ranges::find(chain.filter, SmoothingKind::L, &SmoothingSection::kind) != chain.filter.end();
    // A power load may swing, with a choke or from pulse to pulse, see swings().
    if (!choked && chain.rectifier.kind != SimRectifier::Half && random() % 5 == 0)
        chain.load = {.power_w = 0.3 * v * v / base_ohm, .v_min_v = 0.3 * v};
    else if (random() % 2 == 0)
        chain.load.resistance_ohm = base_ohm * decade(1, 50);
    else
        chain.load.current_a = 0.7 * v / base_ohm / decade(1, 50);
    return chain;
}

} // namespace

class TestRectifier : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// Without smoothing the clipped sine has closed forms.
    void closedForms()
    {
        RectifierInput in = bridge({}, {.resistance_ohm = 47});
        const double v_p = std::numbers::sqrt2 * 24;
        const double r = 47 + 0.6 + 0.06;
        const double from = std::asin(1.6 / v_p);
        const double mean =
            47 / r * (2 * v_p * std::cos(from) - 1.6 * (std::numbers::pi - 2 * from)) / std::numbers::pi;
        const SteadyResult r1 = steady(in);
        QNEAR(r1.load.v.v_mean_v, mean, 1e-4);
        QNEAR(r1.diodes[0].conduction_rad, std::numbers::pi - 2 * from, 0, 0.01);
        QNEAR(r1.diodes[0].i_mean_a * 2, r1.load.i_mean_a, 1e-4);
        // Nothing holds the output up: each diode bears the crest less what the other drops.
        in.ratings.v_piv_v = 60;
        const SteadyResult rated = steady(in);
        QNEAR(rated.verdicts.front().planned, rated.diodes.front().v_reverse_peak_v, 1e-9);
        QNEAR(rated.verdicts.front().planned, v_p, 0.06);
        in.chain.rectifier.kind = SimRectifier::Half;
        const SteadyResult r2 = steady(in);
        const double half_from = std::asin(0.8 / v_p);
        QNEAR(r2.load.v.v_mean_v,
              47 / (47 + 0.63) * (2 * v_p * std::cos(half_from) - 0.8 * (std::numbers::pi - 2 * half_from)) /
                  (2 * std::numbers::pi),
              1e-4);
        // A large choke passes the mean of the rectified sine.
        RectifierInput smooth = bridge({choke(5, 0.5), capacitor(2e-3)}, {.resistance_ohm = 20});
        const double open = 2 * v_p / std::numbers::pi - 1.6;
        QNEAR(steady(smooth).load.v.v_mean_v, open * 20 / (20 + 0.5 + 0.66), 2e-3);
    }

    /// A doubler's own capacitors stand at the crest of the highest mains each, what is behind them at twice
    /// that; what two resistors warm at the start is what they pass: the first charges what both charge.
    void doublerRatings()
    {
        RectifierInput in =
            bridge({resistor(10), capacitor(1e-4), resistor(10), capacitor(1e-4)}, {.resistance_ohm = 1e4});
        in.chain.rectifier.kind = SimRectifier::Doubler;
        in.chain.rectifier.upper = capacitor(1e-3);
        in.chain.rectifier.lower = capacitor(1e-3);
        for (SmoothingSection* section :
             {&*in.chain.rectifier.upper, &*in.chain.rectifier.lower, &in.chain.filter[1]})
            section->v_rated_v = 100;
        const SteadyResult r = steady(in);
        int rated = 0;
        for (const SimVerdict& verdict : r.verdicts)
            if (verdict.quantity == "v_rated_v") {
                const bool half = verdict.part == "upper" || verdict.part == "lower";
                QNEAR(verdict.planned, (half ? 1 : 2) * 1.1 * std::numbers::sqrt2 * 24, 1e-6);
                ++rated;
            }
        QCOMPARE(rated, 3);
        in.mode = SimMode::Start;
        in.t_end_s = 1;
        const auto series = rectifierSimulate(in).start.value().start.series;
        QCOMPARE(series.size(), 2U);
        QVERIFY(series[1].energy_j > 0 && series[0].energy_j > series[1].energy_j);
    }

    /// A power load behind a doubler draws through the ESR of both capacitors: at v_min no more than it
    /// passes.
    void powerThroughEsr()
    {
        for (const double r_ohm : {0.05, 3.0}) {
            RectifierChain chain = bridge({}, {.power_w = 1, .v_min_v = 10}).chain;
            chain.rectifier.kind = SimRectifier::Doubler;
            chain.rectifier.upper = capacitor(1e-3, r_ohm);
            chain.rectifier.lower = capacitor(1e-3, r_ohm);
            const double most_w = 10 * 10 / (2 * r_ohm);
            chain.load.power_w = 0.95 * most_w;
            QCOMPARE(readJson<RectifierChain>(writeJson(chain)), chain);
            chain.load.power_w = 1.05 * most_w;
            QVERIFY_THROWS_EXCEPTION(DocumentError, readJson<RectifierChain>(writeJson(chain)));
        }
    }

    void plainReference_data()
    {
        QTest::addColumn<double>("c_f");
        QTest::addColumn<double>("load_ohm");
        QTest::newRow("light") << 1e-3 << 200.0;
        QTest::newRow("heavy") << 4.7e-3 << 12.0;
        QTest::newRow("hardly smoothed") << 2e-4 << 30.0;
    }
    void plainReference()
    {
        QFETCH(double, c_f);
        QFETCH(double, load_ohm);
        const RectifierInput in = bridge({capacitor(c_f)}, {.resistance_ohm = load_ohm});
        QNEAR(steady(in).load.v.v_mean_v, plainBridge(in.chain, c_f, load_ohm), 5e-4);
    }

    /// What the source gives is what source, diodes, chain and load take, in any chain; and it repeats
    /// itself.
    void energyBalance()
    {
        std::mt19937 random(21);
        for (int round = 0; round < 80; ++round) {
            const RectifierChain chain = randomChain(random);
            const SteadyResult r = steady({.chain = chain});
            double taken = r.source.loss_w + r.diode_loss_w + r.load.power_w;
            for (const SimSeries& s : r.series)
                taken += s.power_w;
            for (const SimNode& node : r.nodes) {
                const SmoothingSection& c = node.section == "upper" ? *chain.rectifier.upper
                                            : node.section == "lower"
                                                ? *chain.rectifier.lower
                                                : chain.filter[std::stoul(node.section)];
                taken += c.esr_ohm * node.capacitor_i_rms_a * node.capacitor_i_rms_a;
            }
            QVERIFY2(
                test::near(taken, r.source.power_w, 2e-3),
                qPrintable(QStringLiteral("round %1: %2 of %3").arg(round).arg(taken).arg(r.source.power_w)));
            // Charge: what the diodes pass is what the load takes.
            double passed = 0;
            for (const SimDiodeFigures& d : r.diodes)
                passed += d.i_mean_a;
            if (chain.rectifier.kind == SimRectifier::Doubler)
                passed /= 2;
            QNEAR(passed, r.load.i_mean_a, 5e-4);
        }
    }

    void repeats()
    {
        std::mt19937 random(33);
        for (int round = 0; round < 40; ++round) {
            const RectifierChain chain = randomChain(random);
            const SimProgress none;
            const auto run = integratorOf(chain, none);
            SimState x = run->periodic(run->initial());
            const SimState before = x;
            const auto again = integratorOf(chain, none);
            again->integrate(x, 0, again->period(), {});
            for (std::size_t i = 0; i < again->states(); ++i)
                if (again->isVoltage(i))
                    QNEAR(x[i], before[i], 1e-5, 2e-5 * again->crest());
        }
    }

    /// Half a cycle of a full-wave rectifier leads to where it began, with what the halves of the source
    /// carry exchanged; a commutation is under way there. Two of them are the cycle.
    void halfCycles_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<bool>("exact");
        for (const SimRectifier kind : {SimRectifier::Bridge, SimRectifier::FullWaveCt})
            for (const bool exact : {true, false})
                QTest::addRow("%s, %s", std::string(word(kind)).c_str(), exact ? "exact" : "steps")
                    << static_cast<int>(kind) << exact;
    }
    void halfCycles()
    {
        QFETCH(int, kind);
        QFETCH(bool, exact);
        RectifierChain chain =
            bridge({capacitor(5e-6, 0.1), choke(0.5, 0.5), capacitor(2e-3)}, {.resistance_ohm = 10}).chain;
        chain.setKind(static_cast<SimRectifier>(kind));
        chain.source.l_h = 2e-3;
        const SimProgress none;
        const auto made = [&]() -> std::unique_ptr<ChainIntegrator> {
            if (exact)
                return exactIntegrator(chain, none);
            return std::make_unique<SimRun>(chain, none);
        };
        const auto run = made();
        const SimState at = run->periodic(run->initial());
        SimState lapped = at;
        run->lap(lapped, {});
        SimState cycled = at;
        const auto again = made();
        again->integrate(cycled, 0, again->period(), {});
        double carried_a = 0;
        for (std::size_t i = 0; i < run->states(); ++i) {
            QNEAR(lapped[i], at[i], 1e-5, 1e-5 * run->crest());
            QNEAR(cycled[i], at[i], 1e-3, 2e-4 * run->crest());
            if (!run->isVoltage(i) && at[i] < 0)
                carried_a = -at[i]; // of a bridge: still from the half before
        }
        QCOMPARE(carried_a > 0.1, chain.rectifier.kind == SimRectifier::Bridge);
    }

    /// A load at a tap draws at its place: beside the load, behind the last series part, the two are one.
    void tapsDrawAtTheirPlace_data()
    {
        QTest::addColumn<int>("kind");
        for (const SimRectifier kind : {SimRectifier::Half, SimRectifier::Bridge, SimRectifier::FullWaveCt})
            QTest::newRow(std::string(word(kind)).c_str()) << static_cast<int>(kind);
    }
    void tapsDrawAtTheirPlace()
    {
        QFETCH(int, kind);
        for (const bool exact : {true, false}) {
            RectifierChain chain =
                bridge({capacitor(1e-3), resistor(2), capacitor(1e-3), choke(0.1, 3), capacitor(1e-3)},
                       {.resistance_ohm = 40})
                    .chain;
            chain.setKind(static_cast<SimRectifier>(kind));
            if (!exact)
                chain.rectifier.diode = {
                    .model = DiodeModel::Exponential, .r_ohm = 0.05, .i_s_a = 1e-9, .n = 1.7};
            RectifierChain tapped = chain;
            tapped.load = {.resistance_ohm = 100};
            tapped.tap_loads = {{.section = 4, .load = {.resistance_ohm = 200.0 / 3}}};
            const SteadyResult whole = steady({.chain = chain});
            const SteadyResult parts = steady({.chain = tapped});
            QNEAR(parts.load.v.v_mean_v, whole.load.v.v_mean_v, 1e-5);
            QNEAR(parts.source.power_w, whole.source.power_w, 1e-4);
            // Before the choke its drop is spared: the load gets more.
            tapped.tap_loads[0].section = 2;
            const SteadyResult before = steady({.chain = tapped});
            QVERIFY(before.load.v.v_mean_v > whole.load.v.v_mean_v + 0.1);
            QVERIFY(before.series[0].i_mean_a > 1.5 * before.series[1].i_mean_a);
            // And before the resistor that too.
            tapped.tap_loads[0].section = 0;
            const SteadyResult first = steady({.chain = tapped});
            QNEAR(first.series[0].i_mean_a, first.series[1].i_mean_a, 1e-3);
        }
    }

    /// What is advanced exactly is what steps come to, over random chains: from switch-on, and in the state
    /// that repeats itself.
    void exactAgainstSteps()
    {
        std::mt19937 random(47);
        const SimProgress none;
        int compared = 0;
        for (int round = 0; round < 80; ++round) {
            const RectifierChain chain = randomChain(random);
            const auto exact = exactIntegrator(chain, none);
            QCOMPARE(exact != nullptr,
                     chain.rectifier.diode.model == DiodeModel::Threshold && !chain.load.power_w.has_value());
            if (!exact)
                continue;
            ++compared;
            SimRun steps(chain, none);
            const double phase_rad = round * std::numbers::pi / 40; // it is switched on anywhere
            exact->setPhase(phase_rad);
            steps.setPhase(phase_rad);
            const auto seen = [](ChainIntegrator& run, double to_s) {
                struct Seen
                {
                    double peak_a = 0;
                    double v = 0;
                    double charge = 0;
                } out;
                SimState x = run.initial();
                double last_s = 0;
                double last_a = 0;
                run.integrate(x, 0, to_s, [&](const SimMoment& m) {
                    const double a = m.diode_a[0] + m.diode_a[1];
                    out.peak_a = std::max(out.peak_a, a);
                    out.charge += (a + last_a) / 2 * (m.t_s - last_s);
                    last_s = m.t_s;
                    last_a = a;
                    out.v = m.load_v;
                });
                return out;
            };
            const auto a = seen(*exact, 3.3 * exact->period());
            const auto b = seen(steps, 3.3 * exact->period());
            QNEAR(a.v, b.v, 1e-4, 1e-4 * exact->crest());
            QNEAR(a.peak_a, b.peak_a, 2e-3, 1e-9);
            QNEAR(a.charge, b.charge, 2e-3, 1e-12);
            // Means over the cycle of all that is seen, of currents through capacitors and diodes their
            // squares.
            const auto means = [](ChainIntegrator& run) {
                const auto flat = [](const SimMoment& m) {
                    std::vector<double> all{m.load_v, m.load_a, m.diode_v[0], m.diode_v[1]};
                    for (const auto& list : {m.node_v, m.series_a, m.place_v})
                        all.insert(all.end(), list.begin(), list.end());
                    for (const double a : m.node_a)
                        all.push_back(a * a);
                    for (const double a : {m.diode_a[0], m.diode_a[1], m.half_a[0], m.half_a[1], m.source_a})
                        all.push_back(a * a);
                    return all;
                };
                SimState x = run.periodic(run.initial());
                std::vector<SimMoment> all;
                run.cycle(x, [&all](const SimMoment& m) { all.push_back(m); });
                std::vector<double> out(flat(all[0]).size());
                for (std::size_t k = 1; k < all.size(); ++k) {
                    const SimMoment& from = all[k - 1];
                    const SimMoment& middle = all[k];
                    const SimMoment& to = all[middle.middle ? ++k : k];
                    const double share = (to.t_s - from.t_s) / run.period();
                    const auto left = flat(from);
                    const auto m = flat(middle);
                    const auto right = flat(to);
                    for (std::size_t i = 0; i < out.size(); ++i)
                        out[i] += share * (middle.middle ? (left[i] + 4 * m[i] + right[i]) / 6
                                                         : (left[i] + right[i]) / 2);
                }
                return out;
            };
            const auto as_exact = means(*exact);
            const auto as_steps = means(steps);
            QCOMPARE(as_exact.size(), as_steps.size());
            for (std::size_t i = 0; i < as_exact.size(); ++i)
                QVERIFY2(test::near(as_exact[i], as_steps[i], 3e-3, 1e-6),
                         qPrintable(QStringLiteral("round %1, %2: %3, %4")
                                        .arg(round)
                                        .arg(i)
                                        .arg(as_exact[i])
                                        .arg(as_steps[i])));
        }
        QVERIFY(compared > 15);
    }

    /// A run in two parts leads to where the run in one does, whatever phase it is switched on at.
    void inTwoParts()
    {
        std::mt19937 random(59);
        const SimProgress none;
        for (int round = 0; round < 40; ++round) {
            const RectifierChain chain = randomChain(random);
            const auto reached = [&](std::initializer_list<double> laps) {
                const auto run = integratorOf(chain, none);
                run->setPhase(round);
                SimState x = run->initial();
                double from_s = 0;
                for (const double lap : laps) {
                    run->integrate(x, from_s, lap * run->period(), {});
                    from_s = lap * run->period();
                }
                return x;
            };
            const SimState one = reached({1.7});
            const SimState two = reached({0.3, 1.7});
            const auto run = integratorOf(chain, none);
            for (std::size_t i = 0; i < run->states(); ++i)
                if (run->isVoltage(i))
                    QNEAR(two[i], one[i], 1e-3, 1e-3 * run->crest());
        }
    }

    /// Whatever carries current drops what its law says, at every moment; in a commutation, or with a choke
    /// that keeps its current, both do.
    void diodesByTheirLaw()
    {
        std::mt19937 random(61);
        const SimProgress none;
        std::array<int, 3> both{};
        for (int round = 0; round < 150; ++round) {
            const RectifierChain chain = randomChain(random);
            const SimDiode& d = chain.rectifier.diode;
            const auto drop = [&](double a) {
                switch (d.model) {
                case DiodeModel::Threshold:
                    return d.v_f_v + a * d.r_ohm;
                case DiodeModel::Exponential:
                    return d.n * 8.617333262e-5 * d.t_k * std::log1p(a / d.i_s_a) + a * d.r_ohm;
                case DiodeModel::Valve:
                    return std::pow(a / d.perveance_a_v15, 2.0 / 3) + a * d.r_plate_ohm;
                }
                return 0.0;
            };
            const auto run = integratorOf(chain, none);
            SimState x = run->initial();
            double most_a = 0;
            run->integrate(x, 0, 2.5 * run->period(), [&](const SimMoment& m) {
                most_a = std::max({most_a, m.diode_a[0], m.diode_a[1]});
                both[static_cast<std::size_t>(d.model)] +=
                    m.diode_a[0] > 0.01 * most_a && m.diode_a[1] > 0.01 * most_a ? 1 : 0;
                for (std::size_t path = 0; path < 2; ++path)
                    if (m.diode_a[path] > 1e-9 + 1e-4 * most_a)
                        QVERIFY2(
                            test::near(m.diode_v[path], drop(m.diode_a[path]), 1e-4, 1e-5 * run->crest()),
                            qPrintable(QStringLiteral("round %1, model %2 kind %5: %3, %4")
                                           .arg(round)
                                           .arg(int(d.model))
                                           .arg(m.diode_v[path])
                                           .arg(drop(m.diode_a[path]))
                                           .arg(int(chain.rectifier.kind))));
            });
        }
        QVERIFY(std::ranges::min(both) > 20);
    }

    /// What is carried along as the derivative is where a little more of each state leads to.
    void derivative()
    {
        std::mt19937 random(53);
        const SimProgress none;
        for (int round = 0; round < 24; ++round) {
            const RectifierChain chain = randomChain(random);
            const auto run = integratorOf(chain, none);
            const SimState at = run->periodic(run->initial());
            const auto reached = [&](SimState x, std::vector<SimState>* columns) {
                integratorOf(chain, none)->lap(x, {}, columns);
                return x;
            };
            std::vector<SimState> columns(run->states());
            for (std::size_t i = 0; i < run->states(); ++i)
                columns[i][i] = 1;
            const SimState same = reached(at, &columns);
            for (std::size_t i = 0; i < run->states(); ++i) {
                const double step = 1e-3 * (run->isVoltage(i) ? run->crest() : std::abs(at[i]) + 1e-6);
                SimState more = at;
                SimState less = at;
                more[i] += step;
                less[i] -= step;
                more = reached(more, nullptr);
                less = reached(less, nullptr);
                for (std::size_t j = 0; j < run->states(); ++j) {
                    if (run->isVoltage(i) != run->isVoltage(j))
                        continue;
                    // Where a diode just begins to carry, the two sides differ.
                    const double up = (more[j] - same[j]) / step;
                    const double down = (same[j] - less[j]) / step;
                    QVERIFY2(columns[i][j] > std::min(up, down) - 0.02 &&
                                 columns[i][j] < std::max(up, down) + 0.02,
                             qPrintable(QStringLiteral("round %1, %2 by %3: %4, %5, %6")
                                            .arg(round)
                                            .arg(j)
                                            .arg(i)
                                            .arg(down)
                                            .arg(columns[i][j])
                                            .arg(up)));
                }
            }
        }
    }

    /// The outermost of all tolerances hold the nominal state, and are what their corners come to by
    /// themselves; without tolerances nothing spreads.
    void spread()
    {
        RectifierChain chain =
            bridge({capacitor(1e-3), choke(0.02, 0.5), capacitor(2e-3, 0.05)}, {.current_a = 0.8}).chain;
        const ChainSpread out = chainSpread(chain, {});
        QVERIFY(out.states >= 200);
        QCOMPARE(out.without, 0);
        QCOMPARE(out.places.size(), 2u);
        const auto load = [](const RectifierChain& at) {
            return rectifierSimulate({.chain = at}).steady->load.v;
        };
        const SimFigures nominal = load(chain);
        QVERIFY(out.low_v < nominal.v_min_v && nominal.v_max_v < out.high_v);
        QNEAR(out.places.back().trough_v, out.low_v);
        QNEAR(load(atCorner(chain, out.lowest)).v_min_v, out.low_v, 1e-4);
        QNEAR(load(atCorner(chain, out.highest)).v_max_v, out.high_v, 1e-4);
        QNEAR(load(atCorner(chain, out.roughest)).ripple_pp_v, out.ripple_v, 5e-3);
        QNEAR(out.lowest.mains, 1 - chain.source.spread);
        QNEAR(out.highest.mains, 1 + chain.source.spread);
        QVERIFY(out.lowest.sections[0] < 1);
        chain.source.spread = 0;
        for (SmoothingSection& section : chain.filter)
            section.tolerance = 0;
        const ChainSpread none = chainSpread(chain, {});
        QNEAR(none.low_v, nominal.v_min_v, 1e-5);
        QNEAR(none.high_v, nominal.v_max_v, 1e-4);
        // What was read instead of the usual 20 % counts.
        chain.filter[0].tolerance = 0.5;
        QVERIFY(chainSpread(chain, {}).ripple_v > 1.2 * none.ripple_v);
        // Nothing that stores: nothing to begin from either.
        const ChainSpread bare = chainSpread(bridge({}, {.resistance_ohm = 47}).chain, {});
        QCOMPARE(bare.states, 216);
        QNEAR(bare.low_v, 0, 0, 1e-9);
        QNEAR(bare.high_v, (std::numbers::sqrt2 * 24 * 1.1 - 1.6) * 47 / 47.66, 1e-4);
        // A power load that no source can feed at low mains still gives the others.
        RectifierChain weak = bridge({capacitor(2e-3)}, {.power_w = 40, .v_min_v = 10}).chain;
        weak.source.r_ohm = 2.5;
        const ChainSpread some = chainSpread(weak, [](double) { return true; });
        QCOMPARE(some.states + some.without, 216);
        QVERIFY_THROWS_EXCEPTION(SimCancelled, chainSpread(weak, [](double) { return false; }));
    }

    /// A slow chain ends where a long start brings it.
    void slowChain()
    {
        RectifierInput in =
            bridge({capacitor(1e-3), resistor(100), capacitor(5e-3)}, {.resistance_ohm = 5000});
        const double mean = steady(in).load.v.v_mean_v;
        in.mode = SimMode::Start;
        in.t_end_s = 30;
        const StartResult start = *rectifierSimulate(in).start;
        QNEAR(start.start.v_end_v, mean, 2e-3);
        QNEAR(start.start.v_final_v, mean, 1e-4);
        QVERIFY(start.start.t95_s && *start.start.t95_s > 0.5);
    }

    /// At the crest the first current is the crest over the resistance in its way.
    void switchOn()
    {
        RectifierInput in = bridge({capacitor(10e-3, 0.02)}, {.resistance_ohm = 40});
        in.chain.source.phase_rad = std::numbers::pi / 2;
        in.mode = SimMode::Start;
        in.t_end_s = 0.2;
        const StartResult r = *rectifierSimulate(in).start;
        QNEAR(r.start.i_peak_a, (std::numbers::sqrt2 * 24 - 1.6) / (0.6 + 0.06 + 0.02), 1e-3);
        QVERIFY(r.start.t_peak_s < 1e-5);
        QNEAR(r.start.source_j, 0.6 * r.start.i2t_a2s, 1e-12);
    }

    /// More voltage gives more voltage, more load less; a power load that cannot be fed collapses.
    void order()
    {
        double last = 0;
        for (const double v : {18.0, 22.0, 26.0, 30.0}) {
            RectifierInput in = bridge({capacitor(2e-3)}, {.current_a = 0.8});
            in.chain.source.v_rms_v = v;
            const double mean = steady(in).load.v.v_mean_v;
            QVERIFY(mean > last);
            last = mean;
        }
        RectifierInput fed = bridge({capacitor(3e-3)}, {.power_w = 20, .v_min_v = 10});
        QVERIFY(!steady(fed).load.collapsed);
        fed.chain.load.power_w = 2000;
        QVERIFY(steady(fed).load.collapsed);
    }

    /// To a choke a load of constant power is a negative resistance, −v²/P: where P/(C·v²) exceeds r/L the
    /// two swing, and no cycle is like the one before.
    void swings()
    {
        for (const double f : {0.5, 2.0}) {
            RectifierInput in = bridge({choke(0.05, 2), capacitor(1e-3)}, {.power_w = 20, .v_min_v = 8});
            in.chain.source.r_ohm = 0.1;
            const double v = 0.9 * 24 - 2 - 2;
            const double r_ohm = 2 + 0.1 + 0.06;
            in.chain.filter[1].c_f = f * *in.chain.load.power_w * 0.05 / (v * v * r_ohm);
            if (f > 1)
                QVERIFY(!steady(in).load.collapsed);
            else
                QVERIFY_THROWS_EXCEPTION(DocumentError, steady(in));
        }
    }

    /// Also where a light load takes thousands of cycles to empty the capacitor behind the resistor.
    void dropper()
    {
        for (const double current_a : {0.3, 1e-4}) {
            RectifierInput in =
                bridge({capacitor(2e-3), resistor(1), capacitor(1e-3)}, {.current_a = current_a});
            const double most = steady(in).load.v.v_mean_v;
            for (const double target : {most - 1, most - 6, most - 15}) {
                const DropperResult r =
                    rectifierDropper({.chain = in.chain, .place = 1, .v_target_v = target});
                QNEAR(r.load_v, target, 1e-5);
                RectifierInput with = in;
                with.chain.filter[1].r_ohm = r.r_ohm;
                QNEAR(steady(with).load.v.v_mean_v, target, 1e-4);
            }
            QVERIFY_THROWS_EXCEPTION(
                DocumentError, rectifierDropper({.chain = in.chain, .place = 1, .v_target_v = most + 5}));
            for (const std::int64_t place : {1, 3}) {
                DropperInput asked{.chain = in.chain, .place = place, .v_target_v = most - 1};
                const Json document = writeJson(asked, NullPolicy::Omit);
                if (place != 1) {
                    QVERIFY_THROWS_EXCEPTION(DocumentError, readJson<DropperInput>(document));
                    continue;
                }
                QCOMPARE(readJson<DropperInput>(document).place, place);
                for (std::size_t node = 0; node < 2 + in.chain.filter.size();
                     ++node) { // a capacitor of the chain
                    Json at_node = document;
                    at_node["node"] = node;
                    if (node < in.chain.filter.size() && in.chain.filter[node].kind == SmoothingKind::C)
                        QVERIFY(readJson<DropperInput>(at_node).node.has_value());
                    else
                        QVERIFY_THROWS_EXCEPTION(DocumentError, readJson<DropperInput>(at_node));
                }
            }
        }
    }

    /// A run can be watched and stopped.
    void cancel()
    {
        RectifierInput in =
            bridge({capacitor(1e-3), resistor(100), capacitor(5e-3)}, {.resistance_ohm = 5000});
        in.mode = SimMode::Start;
        in.t_end_s = 30;
        int asked = 0;
        double last = 0;
        const auto stop_late = [&](double share) {
            last = std::max(last, share);
            return ++asked < 5;
        };
        QVERIFY_THROWS_EXCEPTION(SimCancelled, rectifierSimulate(in, stop_late));
        QCOMPARE(asked, 5);
        QVERIFY(last > 0 && last < 1);
        // From where it leads to is looked for after it, and is the last fifth.
        in.chain.rectifier.diode = {.model = DiodeModel::Exponential, .r_ohm = 0.03, .i_s_a = 1e-9, .n = 1.7};
        in.chain.load = {.power_w = 1, .v_min_v = 5};
        in.t_end_s = 0.1;
        last = 0;
        bool forward = true;
        rectifierSimulate(in, [&](double share) {
            forward = forward && share >= last;
            last = share;
            return true;
        });
        QVERIFY(forward && last > 0.8 && last < 1);
    }
};

REGISTER_TEST(TestRectifier, void)
#include "tst_rectifier.moc"
