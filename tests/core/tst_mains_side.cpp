// The mains side: windings, fuse, evidence, inrush and delay against closed forms and plain references; the
// noise filter against node equations.
#include "core/calculate/delay.h"
#include "core/calculate/filter_response.h"
#include "core/calculate/inrush.h"
#include "core/calculate/mains_evidence.h"
#include "core/calculate/mains_fuse.h"
#include "core/calculate/windings.h"
#include "support/support.h"

#include <algorithm>
#include <numbers>
#include <random>
#include <set>

using namespace offshoot;

namespace {

Primary winding(const std::string& name, double v)
{
    return {.name = name, .start = name + "1", .end = name + "2", .v_v = v};
}

/// Charging in many small steps.
double chargedBySteps(double tau_s, double f_hz, bool doubler, double t_s)
{
    constexpr int steps = 4'000'000;
    const double h = t_s / steps;
    double x = 0;
    for (int k = 0; k < steps; ++k) {
        const double s = std::sin(2 * std::numbers::pi * f_hz * (k + 0.5) * h);
        x += h / tau_s * std::max(0.0, (doubler ? s : std::abs(s)) - x);
    }
    return x;
}

using Complex = std::complex<double>;

/// Gain by solving the node equations of the ladder, Gauss in complex numbers.
Complex gainByNodes(const FilterInput& in, double f_hz)
{
    const double w = 2 * std::numbers::pi * f_hz;
    // Node 0 is behind the source resistance; series parts make new nodes.
    std::vector<std::vector<Complex>> y{{0}};
    std::vector<Complex> current{0};
    std::size_t node = 0;
    const auto between = [&](std::size_t a, std::size_t b, Complex g) {
        y[a][a] += g;
        y[b][b] += g;
        y[a][b] -= g;
        y[b][a] -= g;
    };
    const double source = std::max(in.source_ohm, 1e-9);
    y[0][0] += 1 / source;
    current[0] = 1 / source;
    for (const NoiseSection& s : in.sections) {
        if (s.kind == FilterKind::C) {
            y[node][node] += 1.0 / Complex(s.esr_ohm, w * s.esl_h - 1 / (w * *s.c_f));
            continue;
        }
        for (auto& row : y)
            row.emplace_back(0);
        y.emplace_back(y.size() + 1, Complex(0));
        current.emplace_back(0);
        Complex g = 0;
        if (s.kind == FilterKind::R) {
            g = 1 / *s.r_ohm;
        } else {
            const double l = s.kind == FilterKind::L ? *s.l_h : *s.leakage_h;
            g = 1.0 / Complex(s.r_ohm.value_or(0), w * l) + Complex(0, w * s.c_par_f) +
                (s.r_par_ohm ? 1 / *s.r_par_ohm : 0);
        }
        between(node, node + 1, g);
        ++node;
    }
    if (in.load_ohm)
        y[node][node] += 1 / *in.load_ohm;
    const std::size_t n = y.size();
    for (std::size_t k = 0; k < n; ++k) {
        std::size_t best = k;
        for (std::size_t r = k; r < n; ++r)
            if (std::abs(y[r][k]) > std::abs(y[best][k]))
                best = r;
        std::swap(y[k], y[best]);
        std::swap(current[k], current[best]);
        for (std::size_t r = k + 1; r < n; ++r) {
            const Complex share = y[r][k] / y[k][k];
            for (std::size_t c = k; c < n; ++c)
                y[r][c] -= share * y[k][c];
            current[r] -= share * current[k];
        }
    }
    for (std::size_t k = n; k-- > 0;) {
        for (std::size_t c = k + 1; c < n; ++c)
            current[k] -= y[k][c] * current[c];
        current[k] /= y[k][k];
    }
    return current[node];
}

} // namespace

class TestMainsSide : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// Counts by hand: two whole windings 4; four alike 1 single each, all series and all pairings.
    void connectionCounts()
    {
        WindingsInput in{.primaries = {winding("A", 115), winding("B", 115)},
                         .f_rated_hz = 50,
                         .va = 100,
                         .target = {.v_v = 230, .f_hz = 50}};
        QCOMPARE(mainsWindings(in).count, 4);
        in.primaries.push_back(winding("C", 115));
        // 3 single, 4 series (3 pairs, 1 triple), 3 pairs and 1 triple in parallel.
        QCOMPARE(mainsWindings(in).count, 3 + 4 + 4);
        in.primaries.push_back(winding("D", 115));
        // 15 strings; parallel: 6 pairs, 4 triples, 1 quadruple, 3 pairs of pairs.
        QCOMPARE(mainsWindings(in).count, 15 + 6 + 4 + 1 + 3);
        in.primaries[3].v_v = 100; // unlike: only the three alike may be paralleled
        QCOMPARE(mainsWindings(in).count, 15 + 3 + 1);
    }

    /// Windings side by side share by their copper only where that of each is known.
    void unknownCopper()
    {
        WindingsInput in{.primaries = {winding("A", 115), winding("B", 115)},
                         .f_rated_hz = 50,
                         .va = 100,
                         .target = {.v_v = 115, .f_hz = 50}};
        const auto share = [&in](std::optional<double> a_ohm, std::optional<double> b_ohm) {
            in.primaries[0].r_ohm = a_ohm;
            in.primaries[1].r_ohm = b_ohm;
            const auto all = mainsWindings(in).connections;
            const auto both = std::ranges::find(all, ConnectionKind::Parallel, &Connection::kind);
            return both->va_share;
        };
        const double even = share({}, {});
        QNEAR(share(10, 10), even);
        QNEAR(share(10, {}), even);
        QNEAR(share({}, 10), even);
        QNEAR(share(10, 20), 0.75 * even);
    }

    /// Every connection keeps its own figures together, whatever the windings.
    void connectionFigures()
    {
        std::mt19937 random(4);
        const auto between = [&](double a, double b) { return std::uniform_real_distribution(a, b)(random); };
        for (int round = 0; round < 40; ++round) {
            WindingsInput in{.primaries = {},
                             .f_rated_hz = 50,
                             .va = between(20, 200),
                             .target = {.v_v = between(90, 250), .f_hz = 50}};
            const int count = 1 + static_cast<int>(random() % 3);
            for (int i = 0; i < count; ++i) {
                in.primaries.push_back(
                    winding(std::string(1, char('A' + i)), i == 2 ? between(90, 130) : 115));
                in.primaries.back().r_ohm = between(5, 20);
                in.primaries.back().i_max_a = between(0.2, 1);
            }
            if (random() % 2 == 0)
                in.primaries[0].taps = {{"A-tap", 100}};
            in.limit = 1000;
            const WindingsResult r = mainsWindings(in);
            QCOMPARE(static_cast<std::int64_t>(r.connections.size()), r.count);
            int last = 0;
            for (const Connection& c : r.connections) {
                QNEAR(c.v_scale * c.v_rated_v, in.target.v_v, 1e-12);
                QNEAR(c.flux, c.v_scale, 1e-12);
                QVERIFY(c.va_share <= 1 && c.va_share <= c.v_scale * (1 + 1e-12));
                QNEAR(c.line_allowed_a, c.line_a * c.va_share, 1e-12);
                const int worst = badness(worse(c.verdict, c.secondary_verdict));
                QVERIFY(worst >= last);
                last = worst;
                // No string may take any of its windings beyond its current.
                double conductance = 0;
                std::vector<double> each;
                for (const auto& string : c.strings) {
                    double ohm = 0;
                    for (const Segment& s : string)
                        ohm += *std::ranges::find(in.primaries, s.winding, &Primary::name)->r_ohm * s.v_v /
                               std::ranges::find(in.primaries, s.winding, &Primary::name)->v_v;
                    each.push_back(1 / ohm);
                    conductance += 1 / ohm;
                }
                bool touches = false;
                for (std::size_t k = 0; k < c.strings.size(); ++k)
                    for (const Segment& s : c.strings[k]) {
                        const double a = c.i_allowed_a * each[k] / conductance;
                        const double most =
                            *std::ranges::find(in.primaries, s.winding, &Primary::name)->i_max_a;
                        QVERIFY(a <= most * (1 + 1e-9));
                        touches = touches || a >= most * (1 - 1e-9);
                    }
                QVERIFY(touches);
            }
        }
    }

    /// The next value up, and the one below is too small.
    void fuseValues()
    {
        double last = 0;
        for (int step = 0; step < 400; ++step) {
            const double needed = 0.02 * std::pow(1.02, step);
            const FuseResult r = mainsFuse({.current_a = needed, .mains_v = 230.0});
            if (!r.value_a) {
                QVERIFY(needed > 10.2 * (1 - 1e-9));
                continue;
            }
            QVERIFY(*r.value_a >= needed / 1.02 * (1 - 1e-9));
            QVERIFY(!r.below_a || *r.below_a < needed / 1.02);
            QVERIFY(*r.value_a >= last);
            last = *r.value_a;
            QCOMPARE(r.range == FuseRange::Below, needed < 0.032);
        }
        QCOMPARE(last, 10.0);
    }

    /// A lower rating of any part never makes the answer better, and one more part never allows more.
    void evidenceOrder()
    {
        const auto clue = [](ClueKind kind, double rating) {
            Clue c{.part = std::string(word(kind)), .kind = kind, .rating_v = rating};
            if (kind == ClueKind::BulkCapSeries)
                c.link = PairLink::Straight;
            if (kind == ClueKind::TransformerPrimary)
                c.f_rated_hz = 50;
            return c;
        };
        EvidenceInput in{.clues = {}, .target = {.v_v = 230, .f_hz = 50}};
        double last = 1e9;
        for (const ClueKind kind : {ClueKind::BulkCap, ClueKind::BulkCapSeries, ClueKind::XCap, ClueKind::Mov,
                                    ClueKind::Breaker, ClueKind::FuseV, ClueKind::TransformerPrimary}) {
            in.clues.push_back(clue(kind, 450));
            const double allowed = *mainsEvidence(in).max_nominal_v;
            QVERIFY(allowed <= last * (1 + 1e-12));
            last = allowed;
            int before = -1;
            for (const double rating : {500.0, 400.0, 340.0, 300.0, 250.0, 200.0, 120.0}) {
                in.clues.back().rating_v = rating;
                const int now = badness(mainsEvidence(in).verdict);
                if (in.clues.size() >= 6)
                    QVERIFY(now >= before);
                before = now;
            }
            in.clues.back().rating_v = 450;
        }
        QCOMPARE(mainsEvidence(in).verdict, Verdict::Fits);
        in.clues.push_back({.part = "label", .kind = ClueKind::Label, .min_v = 100, .max_v = 127});
        EvidenceResult r = mainsEvidence(in);
        QCOMPARE(r.verdict, Verdict::Unknown);
        QCOMPARE(r.contradictions.size(), 1u);
        QCOMPARE(r.contradictions[0].code, ContradictionCode::PaperForbidsPartsPermit);
        in.clues.push_back({.part = "manual", .kind = ClueKind::Manual, .min_v = 200, .max_v = 250});
        r = mainsEvidence(in);
        QCOMPARE(r.contradictions.back().code, ContradictionCode::PapersDisagree);
        in.clues.push_back({.part = "sister", .kind = ClueKind::Sibling, .min_v = 100, .max_v = 127});
        QCOMPARE(mainsEvidence(in).clues.back().says, Says::Silent);
    }

    void charging_data()
    {
        QTest::addColumn<double>("tau_s");
        QTest::addColumn<bool>("doubler");
        for (const double tau : {0.0005, 0.004, 0.03, 0.4})
            for (const bool doubler : {false, true})
                QTest::addRow("%g s%s", tau, doubler ? " doubler" : "") << tau << doubler;
    }
    void charging()
    {
        QFETCH(double, tau_s);
        QFETCH(bool, doubler);
        const CrestCharging charging(tau_s, 50, doubler ? LimiterKind::Doubler : LimiterKind::Bridge);
        for (const double t : {0.0031, 0.013, 0.085, 0.5})
            QNEAR(charging.at(t), chargedBySteps(tau_s, 50, doubler, t), 2e-5, 2e-5);
        for (const double x : {0.3, 0.8, 0.95})
            QNEAR(charging.at(charging.timeOf(x)), x, 1e-6);
    }
    /// Where the mean over a cycle takes over nothing jumps, and the usual multiples hold.
    void slowCharging()
    {
        const CrestCharging below(19.9, 50, LimiterKind::Bridge);
        const CrestCharging above(20.1, 50, LimiterKind::Bridge);
        QNEAR(below.timeOf(0.95) / 19.9, above.timeOf(0.95) / 20.1, 2e-3);
        QNEAR(above.timeOf(0.95) / 20.1, 11.4, 5e-3);
        QNEAR(CrestCharging(100, 50, LimiterKind::Doubler).timeOf(0.95) / 100, 22.9, 5e-3);
        QNEAR(above.at(5 * 20.1), 0.84, 5e-3);
    }

    /// R for a time gives that time back, leakage or not.
    void delays()
    {
        for (const double leak : {0.0, 1e-6, 2e-5})
            for (const double t : {0.02, 1.0, 30.0}) {
                DelayInput in{.c_f = 100e-6,
                              .t_s = t,
                              .v_supply_v = 12,
                              .v_initial_v = 0.5,
                              .v_threshold_v = 8,
                              .i_leak_a = leak};
                const DelayResult r = delayRc(in);
                in.t_s.reset();
                in.r_ohm = r.r_ohm;
                QNEAR(delayRc(in).t_s, t, 1e-9);
            }
    }

    /// What charges from one voltage towards another passes what lies between, and begins where it is.
    void delaysBetween()
    {
        for (const double from_v : {-5.0, 0.0, 3.0, 5.0})
            for (const double to_v : {-5.0, 0.0, 3.0, 5.0})
                for (const double at_v : {-6.0, -5.0, -2.0, 0.0, 2.0, 3.0, 4.0, 5.0, 6.0}) {
                    const DelayInput in{.c_f = 1e-6,
                                        .r_ohm = 1e6,
                                        .v_supply_v = to_v,
                                        .v_initial_v = from_v,
                                        .v_threshold_v = at_v};
                    if (at_v == from_v)
                        QCOMPARE(delayRc(in).t_s, 0.0);
                    else if ((at_v - from_v) * (to_v - at_v) > 0)
                        QNEAR(delayRc(in).t_s, std::log((to_v - from_v) / (to_v - at_v)), 1e-9);
                    else
                        QVERIFY_THROWS_EXCEPTION(DocumentError, delayRc(in));
                }
    }

    void directSurge()
    {
        const InrushResult r = inrushDirect({.v_rms_v = 230,
                                             .source_ohm = 0.5,
                                             .ntc = Ntc{.r25_ohm = 10, .b_k = 3000, .t_hot_k = 450},
                                             .c_f = 470e-6});
        QNEAR(*r.i2t_a2s * r.r_total_ohm, *r.energy_j, 1e-12);
        QVERIFY(*r.i_peak_hot_a > 5 * r.i_peak_a);
        QCOMPARE(r.surge_verdict, Verdict::Unknown);
    }

    /// A coil and a capacitor have their peak where the closed form has it, from flat to needle sharp.
    void sharpPeaks()
    {
        for (const double q : {0.9, 5.0, 100.0, 3e4}) {
            const double w0 = 1 / std::sqrt(1e-4 * 1e-6);
            const FilterResult r =
                filterResponse({.sections = {{.kind = FilterKind::L, .r_ohm = w0 * 1e-4 / q, .l_h = 1e-4},
                                             {.kind = FilterKind::C, .c_f = 1e-6}},
                                .source_ohm = 0,
                                .from_hz = 10,
                                .to_hz = 1e7});
            QVERIFY(r.peak.has_value());
            QNEAR(r.peak->f_hz, w0 / (2 * std::numbers::pi) * std::sqrt(1 - 1 / (2 * q * q)), 1e-6 / q);
            QNEAR(*r.peak->gain_db, 20 * std::log10(q / std::sqrt(1 - 1 / (4 * q * q))), 1e-7);
        }
    }

    /// Damping is offered where it takes a decibel off the highest gain or more: to a sharp peak, not to a
    /// flat one.
    void damping()
    {
        const double w0 = 1 / std::sqrt(1e-4 * 1e-6);
        int offered = 0;
        for (double q = 0.6; q < 3; q += 0.02) {
            const FilterInput in{.sections = {{.kind = FilterKind::L, .r_ohm = w0 * 1e-4 / q, .l_h = 1e-4},
                                              {.kind = FilterKind::C, .c_f = 1e-6}},
                                 .from_hz = 10,
                                 .to_hz = 1e7};
            const auto best = dampingOf(in);
            QVERIFY(best || offered == 0);
            if (!best)
                continue;
            ++offered;
            const double highest_db = 20 * std::log10(q / std::sqrt(1 - 1 / (4 * q * q)));
            QVERIFY2(best->peak_db <= highest_db - 1 + 1e-9, qPrintable(QString::number(q)));
            QCOMPARE(best->section, std::size_t{1});
            QCOMPARE(best->c_f, 4e-6);
        }
        QVERIFY(offered > 60 && offered < 110);
    }

    /// Random ladders against node equations, and the peak is the highest point of a fine grid.
    void filters()
    {
        std::mt19937 random(9);
        const auto decade = [&](double a, double b) {
            return std::pow(10, std::uniform_real_distribution(std::log10(a), std::log10(b))(random));
        };
        int peaks = 0;
        for (int round = 0; round < 60; ++round) {
            FilterInput in;
            const int count = 2 + static_cast<int>(random() % 5);
            for (int i = 0; i < count; ++i) {
                NoiseSection s{};
                switch (random() % 4) {
                case 0:
                    s = {.kind = FilterKind::R, .r_ohm = decade(0.1, 100)};
                    break;
                case 1:
                    s = {.kind = FilterKind::L,
                         .r_ohm = decade(0.01, 1),
                         .l_h = decade(1e-6, 1e-2),
                         .c_par_f = decade(1e-12, 1e-10)};
                    break;
                case 2:
                    s = {.kind = FilterKind::Cm,
                         .r_ohm = decade(0.01, 1),
                         .leakage_h = decade(1e-6, 1e-4),
                         .r_par_ohm = decade(1e3, 1e5)};
                    break;
                default:
                    s = {.kind = FilterKind::C,
                         .c_f = decade(1e-9, 1e-3),
                         .esr_ohm = decade(1e-3, 1),
                         .esl_h = decade(1e-9, 1e-7)};
                }
                in.sections.push_back(s);
            }
            in.source_ohm = decade(0.01, 10);
            if (round % 3 != 0)
                in.load_ohm = decade(1, 1000);
            in.from_hz = 10;
            in.to_hz = 1e7;
            const FilterResult r = filterResponse(in);
            double highest = 0;
            double at_hz = 0;
            for (int k = 1; k < 3000; ++k) {
                const double f = 10 * std::pow(10, k / 500.0);
                const double size = std::abs(filterGain(in, f));
                if (size > highest) {
                    highest = size;
                    at_hz = f;
                }
                if (k % 300 == 0)
                    QVERIFY(std::abs(filterGain(in, f) - gainByNodes(in, f)) <= 1e-6 * (1e-6 + size));
            }
            const double ends = std::max(std::abs(filterGain(in, 10)), std::abs(filterGain(in, 1e7)));
            if (r.peak && r.peak->gain_db) {
                ++peaks;
                QVERIFY(std::pow(10, *r.peak->gain_db / 20) >= highest * (1 - 1e-9));
                QVERIFY2(std::abs(filterGain(in, r.peak->f_hz)) > ends, "a peak above both ends");
                QNEAR(std::abs(filterGain(in, r.peak->f_hz)), std::pow(10, *r.peak->gain_db / 20), 1e-6);
            } else if (!r.peak) {
                QVERIFY2(highest <= ends + 2e-6, QByteArray::number(at_hz));
            }
        }
        QVERIFY(peaks > 10);
    }
};

REGISTER_TEST(TestMainsSide, void)
#include "tst_mains_side.moc"
