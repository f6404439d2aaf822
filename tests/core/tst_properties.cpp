// What must hold for any input, drawn at random with fixed seeds: corners, CSV, log lines, whole evaluations.
#include "core/evaluate/log_line.h"
#include "core/supply/power_path.h"
#include "support/support.h"

#include <algorithm>
#include <map>
#include <random>

using namespace offshoot;

namespace {

struct Drawn
{
    std::mt19937 random;
    explicit Drawn(unsigned seed)
        : random(seed)
    {}
    double between(double a, double b) { return std::uniform_real_distribution(a, b)(random); }
    double decades(double a, double b) { return std::pow(10, between(a, b)); }
    bool chance(unsigned one_in = 2) { return random() % one_in == 0; }
    std::size_t below(std::size_t n) { return random() % n; }
};

/// A supply as somebody half-way through reading it might have entered it.
Job randomJob(Drawn& draw)
{
    Job job;
    const auto maybe = [&](std::optional<double>& value, double a, double b) {
        if (!draw.chance(4))
            value = draw.between(a, b);
    };
    Supply& s = job.found;
    Rail& rail = s.rails.front();
    const double v = draw.between(5, 50);
    maybe(s.fuse.value_a, 0.5, 6);
    maybe(s.fuse.v_rated_v, 200, 300);
    maybe(s.input.v_rrm_v, 300, 900);
    maybe(s.bulk.c_f, 10e-6, 500e-6);
    maybe(s.bulk.v_rated_v, 200, 450);
    maybe(s.bulk.bleeder_ohm, 1e5, 1e6);
    maybe(s.converter.v_rated_v, 400, 900);
    maybe(s.converter.clamp_v, 60, 300);
    maybe(s.converter.duty_max, 0.3, 0.9);
    maybe(s.transformer.primary_turns_per_secondary, 1, 20);
    maybe(s.transformer.auxiliary_turns_per_secondary, 0.2, 3);
    maybe(s.auxiliary.off_v, 7, 12);
    maybe(s.auxiliary.max_v, 15, 30);
    maybe(s.efficiency, 0.6, 0.95);
    maybe(rail.v_v, v * 0.95, v * 1.05);
    maybe(rail.i_rated_a, 0.5, 10);
    maybe(rail.rectifier.v_rrm_v, 40, 300);
    maybe(rail.capacitor.v_rated_v, 10, 80);
    maybe(rail.capacitor.c_f, 100e-6, 5e-3);
    maybe(rail.minimum_load.r_ohm, 200, 5000);
    maybe(rail.minimum_load.power_w, 0.25, 3);
    maybe(rail.trip.v_v, 6, 70);
    if (draw.chance())
        rail.trip.kind = static_cast<TripKind>(draw.below(4));
    if (!draw.chance(4)) {
        rail.feedback.reference = Reference{.v_ref_v = 2.495, .tolerance = 0.01, .i_ref_a = 2e-6};
        rail.feedback.bottom = Network(draw.between(1e3, 1e4));
        rail.feedback.top = Network(rail.feedback.bottom->ohm() * (v / 2.495 - 1));
    }
    if (!draw.chance(4)) {
        const double wanted = v * draw.between(0.7, 1.4);
        job.need.target = Target{wanted, wanted * 0.98, wanted * 1.02};
    }
    maybe(job.need.current_a, 0.1, 8);
    if (draw.chance())
        job.need.load.kind = LoadKind::Battery;
    const auto all = defaultDrawer();
    for (std::size_t i = draw.below(9); i < all.size(); i += 9)
        job.drawer.push_back(all[i]);
    return job;
}

} // namespace

class TestProperties : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// The exact extremes are those of all corners, every part at its own end.
    void corners()
    {
        Drawn draw(101);
        for (int round = 0; round < 100; ++round) {
            const FoundDivider divider{.reference = {.v_ref_v = 2.5,
                                                     .tolerance = draw.between(0, 0.02),
                                                     .i_ref_a = 0,
                                                     .i_ref_min_a = -1e-6,
                                                     .i_ref_max_a = 3e-6},
                                       .top = *parseNetwork("10k+22k||47k"),
                                       .bottom = *parseNetwork("4k7||33k"),
                                       .found_tolerance = draw.between(0, 0.05)};
            const auto range = plainRange(divider, std::nullopt);
            double low = 1e9;
            double high = 0;
            const std::size_t tops = divider.top.parts().size();
            const std::size_t parts = tops + divider.bottom.parts().size();
            for (unsigned corner = 0; corner < 1u << (parts + 2); ++corner) {
                std::vector<double> top = divider.top.parts();
                std::vector<double> bottom = divider.bottom.parts();
                const auto sign = [corner](std::size_t bit) { return (corner >> bit & 1) != 0 ? 1.0 : -1.0; };
                for (std::size_t i = 0; i < parts; ++i)
                    (i < tops ? top[i] : bottom[i - tops]) *= 1 + sign(i) * divider.found_tolerance;
                const double v =
                    dividerVoltage(divider.reference.vAt(sign(parts)), sign(parts + 1) > 0 ? 3e-6 : -1e-6,
                                   {divider.top.ohmWith(top), divider.bottom.ohmWith(bottom)});
                low = std::min(low, v);
                high = std::max(high, v);
            }
            QNEAR(range->min_v, low, 1e-12);
            QNEAR(range->max_v, high, 1e-12);
        }
    }

    void drawersRoundTrip()
    {
        Drawn draw(103);
        for (int round = 0; round < 100; ++round) {
            std::vector<StockItem> drawer;
            for (std::size_t i = draw.below(20); i > 0; --i) {
                StockItem item{.ohm = draw.decades(-2, 7), .tolerance = draw.between(0, 0.2)};
                if (draw.chance())
                    item.power_w = draw.decades(-1, 2);
                if (draw.chance())
                    item.quantity = static_cast<std::int64_t>(draw.below(1000));
                drawer.push_back(item);
            }
            const auto again = readDrawerCsv(writeDrawerCsv(drawer));
            QVERIFY2(bool(again), again ? "" : again.problem().message.c_str());
            QCOMPARE(*again, drawer);
        }
    }

    /// Any text typed is either an entry with an echo or a problem at a place within it; never both, never a
    /// crash.
    void anyLogLine()
    {
        Drawn draw(107);
        const Job job = test::demoJob();
        const Evaluation e = evaluate(job, 2e9);
        const std::vector<std::string> words{
            "out",   "24V", "bulk", "earth",        "temp",      "D5",   "lamp",  "flash", "note", "strike",
            "L3",    "@",   "@2A",  "+-",           "+-20mV",    "#2",   "24.05", "4k7",   "-3",   "1e99",
            "0.08R", "71C", "µ",    "\xe2\x84\xa6", "unplugged", "live", "meter", "ok",    "  ",   "\t"};
        int entries = 0;
        int problems = 0;
        for (int round = 0; round < 4000; ++round) {
            std::string text;
            for (std::size_t i = 1 + draw.below(5); i > 0; --i)
                text += words[draw.below(words.size())] + (draw.chance(8) ? "" : " ");
            const LogLine line = readLogLine(text, job, e, draw.chance() ? "24V" : "");
            if (line.entry) {
                ++entries;
                QVERIFY2(line.problem.empty() && !line.echo.empty(), text.c_str());
                if (line.entry->kind == LogKind::Reading)
                    QVERIFY2(std::isfinite(*line.entry->value) && line.entry->point &&
                                 line.entry->uncertainty,
                             text.c_str());
            } else if (!line.problem.empty()) {
                ++problems;
                QVERIFY2(line.problem_at + line.problem_length <= text.size(), text.c_str());
            }
        }
        QVERIFY(entries > 300 && problems > 300);
    }

    /// Whatever has been entered so far, the evaluation hangs together.
    void anyJob()
    {
        Drawn draw(109);
        for (int round = 0; round < 150; ++round) {
            const Job job = randomJob(draw);
            QCOMPARE(readJob(writeJob(job)), job);
            const Evaluation e = evaluate(job, 1.8e9);
            QCOMPARE(e.stations.size(), station_count);
            QCOMPARE(e.isolation.state, Isolation::Live);
            Counts counts;
            for (const ConsequenceRow& row : e.consequences.rows) {
                QVERIFY2(row.verdict != Verdict::Fits || !row.counted, word(row.id).data());
                QVERIFY2(row.verdict != Verdict::Unknown || !row.use, word(row.id).data());
                counts.breaks += row.counted && row.verdict == Verdict::Breaks ? 1 : 0;
                counts.tight += row.counted && row.verdict == Verdict::Tight ? 1 : 0;
                counts.unknown += row.counted && row.verdict == Verdict::Unknown ? 1 : 0;
            }
            QCOMPARE(e.counts.breaks, counts.breaks);
            QCOMPARE(e.counts.tight, counts.tight);
            QCOMPARE(e.counts.unknown, counts.unknown);
            for (const StageView& stage : e.stages)
                QVERIFY(stage.complete >= 0 && stage.complete <= 1);
            for (std::size_t i = 1; i < e.candidates.size(); ++i) {
                const DividerOption& a = e.candidates[i - 1].option;
                const DividerOption& b = e.candidates[i].option;
                QVERIFY(a.in_window >= b.in_window);
                if (a.in_window == b.in_window)
                    QVERIFY(a.worst_in_window >= b.worst_in_window);
            }
            for (const StationView& station : e.stations)
                QVERIFY(station.power_w >= 0 && station.loss_w >= -1e-9);
            // What is used is what there is of what is allowed, or what is wanted of what there is;
            // temperatures count from the room, and a clamp with the scatter of its level.
            for (const ConsequenceRow& row : e.consequences.rows) {
                if (!row.use || !row.planned || !row.limit || *row.planned == 0 || *row.limit == 0 ||
                    row.id == RowId::ClampLevel || row.id == RowId::JunctionTemperature ||
                    row.id == RowId::JunctionShorted)
                    continue;
                const double share = std::abs(*row.planned / *row.limit);
                QVERIFY2(test::near(*row.use, share, 1e-6) || test::near(*row.use, 1 / share, 1e-6),
                         (row.part + ", " + row.quantity).c_str());
            }
            // Every row is spoken for on the path, and its power only ever falls along it.
            std::map<Station, Verdict> worst;
            for (const ConsequenceRow& row : e.consequences.rows) {
                const Station at = spokenFor(e.path, row.station);
                worst[at] = worst.contains(at) ? worse(worst[at], row.verdict) : row.verdict;
            }
            double power_w = 1e12;
            for (const Station station : e.path) {
                const StationView& view = e.stations[static_cast<std::size_t>(station)];
                QCOMPARE(view.has_rows, worst.contains(station));
                QVERIFY(!view.has_rows || view.verdict == worst[station]);
                QVERIFY(view.power_w <= power_w + 1e-9);
                power_w = view.power_w;
                worst.erase(station);
            }
            worst.erase(Station::Feedback);
            QVERIFY(worst.empty());
            QVERIFY(!e.blocks.empty() && !e.signed_off); // nothing was done yet
            QCOMPARE(evaluate(job, 1.8e9).need_line, e.need_line);
        }
    }
};

REGISTER_TEST(TestProperties, void)
#include "tst_properties.moc"
