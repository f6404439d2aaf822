// The rectifier chain as its picture shows it: parts with the place they stand at and their own limit, values
// one step on, parts moved with what is tapped from them, the tolerances in words.
#include "core/evaluate/evaluation.h"
#include "core/kinds/chain/chain_ribbon.h"
#include "core/values/figures.h"
#include "support/support.h"

#include <algorithm>
#include <numbers>
#include <numeric>

using namespace offshoot;
using namespace offshoot::test;

class TestChainRibbon : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void parts()
    {
        Job job = readJob(sourceFile("data/jobs/barograph-amplifier.offshoot"));
        RectifierChain chain = *plannedChain(job);
        chain.filter[1].i_rated_a = 0.04;
        job.plan.chain = chain;
        const auto run = chainRunOf(job);
        QVERIFY(run.has_value());
        const ChainRibbon ribbon = chainRibbon(job, &*run);
        const auto& all = ribbon.parts;
        QCOMPARE(all.size(), chain.filter.size() + 3);
        QCOMPARE(all.front().thing, ChainThing::Source);
        QCOMPARE(all.back().thing, ChainThing::Load);
        std::size_t place = 0;
        for (const ChainPart& part : all) {
            QVERIFY(!part.name.empty());
            QCOMPARE(part.place, place);
            place += part.in_line ? 1U : 0U;
        }
        QCOMPARE(run->result.places.size(), place + 1);
        QCOMPARE(ribbon.places, place + 1);
        QVERIFY(ribbon.window.has_value());
        QNEAR(ribbon.unloaded_v, std::numbers::sqrt2 * chain.source.v_rms_v);
        QVERIFY(chainRibbon(Job{}, nullptr).parts.empty());
        QVERIFY(all.front().flow.ends_with(" VA"));
        QCOMPARE(all.back().flow, amps(run->result.load.i_mean_a));
        for (const ChainPart& part : all)
            if (part.thing == ChainThing::Choke)
                QVERIFY(part.flow.ends_with("A"));
            else if (part.thing == ChainThing::Resistor)
                QVERIFY(part.flow.ends_with("W"));
        // Each shows its own limit: the choke what was said that it bears, a row of the consequences too.
        const ChainPart& choke = all[3];
        QCOMPARE(choke.thing, ChainThing::Choke);
        QVERIFY(choke.limit && choke.limit->id == RowId::ChainChoke);
        QNEAR(*choke.limit->limit, 0.04);
        QNEAR(*choke.limit->planned, run->result.series[0].i_mean_a);
        QVERIFY(std::ranges::any_of(evaluate(job, 0, &*run).consequences.rows,
                                    [](const ConsequenceRow& row) { return row.id == RowId::ChainChoke; }));
        // Of another chain than the job's nothing is said about limits.
        chain.filter[0].c_f *= 2;
        job.plan.chain = chain;
        for (const ChainPart& part : chainRibbon(job, &*run).parts)
            QVERIFY(!part.limit);
    }

    /// Waveforms of every part, over one cycle: a capacitor's current has no mean, the load's volts are those
    /// of the figures.
    void traces()
    {
        const Job job = readJob(sourceFile("data/jobs/barograph-amplifier.offshoot"));
        const auto run = chainRunOf(job);
        const SteadyResult& result = run->result;
        const auto parts = chainRibbon(job, &*run).parts;
        QCOMPARE(result.traces.size(), parts.size());
        for (std::size_t k = 0; k < parts.size(); ++k) {
            const SimTrace& trace = result.traces[k];
            QCOMPARE(trace.part, parts[k].part);
            QCOMPARE(trace.v_v.size(), result.waveforms->t_s.size());
            const auto mean = [](const std::vector<double>& values) {
                return std::accumulate(values.begin(), values.end(), 0.0) / double(values.size());
            };
            const auto most = [](const std::vector<double>& values) { return std::ranges::max(values); };
            if (parts[k].thing == ChainThing::Can)
                QVERIFY(std::abs(mean(trace.i_a)) < 0.02 * most(trace.i_a));
            if (parts[k].thing == ChainThing::Load)
                QNEAR(mean(trace.v_v), result.load.v.v_mean_v, 1e-3);
        }
    }

    void values()
    {
        const SmoothingSection c{.kind = SmoothingKind::C, .c_f = 2200e-6};
        QNEAR(scaledSection(c, 1.1).c_f, 2400e-6);
        QNEAR(scaledSection(c, 1 / 1.1).c_f, 2000e-6);
        QNEAR(scaledSection(c, 1e9).c_f, 10);
        SmoothingSection r{.kind = SmoothingKind::R, .r_ohm = 9.1};
        for (const double wanted : {10.0, 11.0, 12.0, 13.0}) {
            r = scaledSection(r, 1.1);
            QNEAR(r.r_ohm, wanted);
        }
        QNEAR(scaledSection({.kind = SmoothingKind::L, .l_h = 0.01}, 0.1).l_h, 1e-3);
    }

    /// Wherever a part is laid down, what is tapped from a capacitor stays on it.
    void moves()
    {
        RectifierChain chain = usualChain(SimRectifier::Bridge, Job{});
        chain.filter.clear();
        for (int k = 1; k <= 5; ++k)
            chain.filter.push_back({.kind = SmoothingKind::C, .c_f = k * 1e-3});
        chain.tap_loads = {{.section = 1, .load = {.current_a = 0.002}},
                           {.section = 3, .load = {.current_a = 0.004}}};
        for (std::size_t from = 0; from < 5; ++from)
            for (std::size_t to = 0; to <= 5; ++to) {
                RectifierChain moved = chain;
                moveSection(moved, from, to);
                QCOMPARE(moved.filter.size(), chain.filter.size());
                const std::size_t at = to > from ? to - 1 : to;
                QNEAR(moved.filter[at].c_f, chain.filter[from].c_f);
                QCOMPARE(moved.tap_loads.size(), 2u);
                for (const TapLoad& tap : moved.tap_loads)
                    QNEAR(moved.filter[static_cast<std::size_t>(tap.section)].c_f, *tap.load.current_a);
            }
    }

    void words()
    {
        RectifierChain chain = usualChain(SimRectifier::Bridge, Job{});
        QCOMPARE(toleranceText(chain), "mains ±10 %, C1 ±20 % assumed");
        chain.filter[0].tolerance = 0.1;
        QCOMPARE(toleranceText(chain), "mains ±10 %, C1 ±10 %");
        const ChainSpread spread = chainSpread(chain, {});
        const std::string said = spreadSentence(chain, spread);
        QVERIFY2(said.find("mains −10 %, C1 −10 %. Highest") != std::string::npos, said.c_str());
        QVERIFY2(said.find("Most ripple") != std::string::npos, said.c_str());
        const RectifierChain doubler = usualChain(SimRectifier::Doubler, Job{});
        const std::string of_both = spreadSentence(doubler, chainSpread(doubler, {}));
        QVERIFY2(of_both.find("upper lower") != std::string::npos, of_both.c_str());
    }
};

REGISTER_TEST(TestChainRibbon, void)
#include "tst_chain_ribbon.moc"
