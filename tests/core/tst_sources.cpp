// Units side by side and stacked, the wire and the sense leads: against plain references that know nothing of
// segments, against the circuit's own equations, and at their edges.
#include "core/calculate/ballast.h"
#include "core/calculate/cable.h"
#include "core/calculate/merge_wires.h"
#include "core/calculate/parallel.h"
#include "core/calculate/sense.h"
#include "core/calculate/stack.h"
#include "support/support.h"

#include <algorithm>
#include <numbers>
#include <random>
#include <set>

using namespace offshoot;

namespace {

/// What a unit gives into a bus at `v`, as the contract says it.
double gives(const ParallelUnit& unit, double v)
{
    const double open = unit.v_set_v - (unit.diode ? unit.diode->v_f_v : 0);
    const double r = unit.r_out_ohm + unit.r_lead_ohm + (unit.diode ? unit.diode->r_ohm : 0);
    const double a = std::max(0.0, (open - v) / r);
    return unit.i_limit_a && unit.limit == LimitKind::ConstantCurrent ? std::min(a, *unit.i_limit_a) : a;
}

double asks(const BusLoad& load, double v)
{
    return load.current_a ? *load.current_a : load.ohm ? v / *load.ohm : *load.power_w / v;
}

/// The highest voltage at which the sum meets the load, by walking down in small steps and halving.
double busByWalking(const ParallelInput& in)
{
    const auto spare = [&](double v) {
        double sum = 0;
        for (const ParallelUnit& unit : in.units)
            sum += gives(unit, v);
        return sum - asks(in.load, v);
    };
    constexpr int steps = 200000;
    double top = 0;
    for (const ParallelUnit& unit : in.units)
        top = std::max(top, unit.v_set_v);
    for (int k = 0; k < steps; ++k) {
        double high = top * (1 - double(k) / steps);
        double low = top * (1 - double(k + 1) / steps);
        if (low <= 0 || spare(low) < 0)
            continue;
        for (int i = 0; i < 60; ++i)
            (spare((low + high) / 2) >= 0 ? low : high) = (low + high) / 2;
        return low;
    }
    return 0;
}

ParallelInput randomBus(std::mt19937& random)
{
    const auto between = [&](double a, double b) { return std::uniform_real_distribution(a, b)(random); };
    ParallelInput in;
    const int count = 2 + static_cast<int>(random() % 4);
    for (int i = 0; i < count; ++i) {
        ParallelUnit unit{.name = "u" + std::to_string(i), .v_set_v = between(14, 16)};
        unit.r_out_ohm = between(0.01, 0.3);
        unit.r_lead_ohm = between(0, 0.1);
        if (random() % 3 != 0)
            unit.i_limit_a = between(2, 6);
        if (random() % 3 == 0)
            unit.diode = OringDiode{.v_f_v = 0.4, .r_ohm = 0.02};
        in.units.push_back(unit);
    }
    switch (random() % 3) {
    case 0:
        in.load.current_a = between(0.5, 15);
        break;
    case 1:
        in.load.ohm = between(0.8, 20);
        break;
    default:
        in.load.power_w = between(5, 220);
    }
    return in;
}

} // namespace

class TestSources : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// Any mixture of units and loads: the bus is where walking down finds it, and the currents add up.
    void bus()
    {
        std::mt19937 random(11);
        int collapsed = 0;
        for (int round = 0; round < 150; ++round) {
            const ParallelInput in = randomBus(random);
            const BusState state = busState(in);
            const double v = busByWalking(in);
            QNEAR(state.v_bus_v, v, 1e-6, 1e-4);
            double sum = 0;
            for (std::size_t i = 0; i < in.units.size(); ++i) {
                QNEAR(state.units[i].current_a, gives(in.units[i], state.v_bus_v), 1e-6, 1e-9);
                sum += state.units[i].current_a;
            }
            QNEAR(state.total_a, sum, 1e-12);
            if (state.served)
                QNEAR(sum, asks(in.load, state.v_bus_v), 1e-7);
            collapsed += state.v_bus_v == 0 ? 1 : 0;
        }
        QVERIFY(collapsed > 0 && collapsed < 100);
    }

    /// Shutdown units trip until none left is over its limit, and each that tripped was over it.
    void trips()
    {
        std::mt19937 random(5);
        int cascades = 0;
        for (int round = 0; round < 200; ++round) {
            ParallelInput in = randomBus(random);
            for (ParallelUnit& unit : in.units)
                if (unit.i_limit_a)
                    unit.limit = LimitKind::Shutdown;
            const BusState state = busState(in);
            for (std::size_t i = 0; i < in.units.size(); ++i) {
                const bool tripped = state.units[i].state == UnitState::Tripped;
                if (tripped)
                    QCOMPARE(state.units[i].current_a, 0.0);
                else if (in.units[i].i_limit_a)
                    QVERIFY(state.units[i].current_a <= *in.units[i].i_limit_a * (1 + 1e-8));
            }
            QCOMPARE(state.verdict == Verdict::Breaks, !state.served || !state.trips.empty());
            cascades += state.trips.size() > 1 ? 1 : 0;
        }
        QVERIFY(cascades > 5);
    }

    void stiffUnits()
    {
        ParallelInput in{.units = {{.name = "a", .v_set_v = 12, .i_limit_a = 2.0},
                                   {.name = "b", .v_set_v = 12, .i_limit_a = 1.0},
                                   {.name = "c", .v_set_v = 11.9}},
                         .load = {.current_a = 2.5}};
        BusState state = busState(in);
        QCOMPARE(state.v_bus_v, 12.0);
        QNEAR(state.units[0].current_a, 1.5);
        QCOMPARE(state.units[1].current_a, 1.0);
        QCOMPARE(state.units[1].state, UnitState::Limiting);
        QNEAR(state.units[2].held_up_v, 0.1);
        in.load.current_a = 5; // beyond both: the third takes the rest at its own voltage
        state = busState(in);
        QCOMPARE(state.v_bus_v, 11.9);
        QNEAR(state.units[2].current_a, 2.0);
        QCOMPARE(state.verdict, Verdict::Unknown);
    }

    /// The formula of equal units agrees with the solver on exactly such units.
    void ballast()
    {
        for (const std::int64_t n : {2, 3, 5, 8})
            for (const double imbalance : {0.05, 0.1, 0.4}) {
                const BallastResult r = sourcesBallast({.units = n,
                                                        .current_a = 10,
                                                        .r_unit_ohm = 0.01,
                                                        .spread_v = 0.08,
                                                        .imbalance = imbalance});
                ParallelInput in{.units = {}, .load = {.current_a = 10}};
                for (std::int64_t i = 0; i < n; ++i)
                    in.units.push_back({.name = std::to_string(i),
                                        .v_set_v = i == 0 ? 15.08 : 15.0,
                                        .r_out_ohm = 0.01,
                                        .r_lead_ohm = r.ballast_ohm});
                const BusState bus = busState(in);
                QNEAR(*bus.imbalance, r.imbalance, 1e-9);
                QNEAR(bus.units[0].current_a, r.highest_a, 1e-9);
                const BallastResult back = sourcesBallast({.units = n,
                                                           .current_a = 10,
                                                           .r_unit_ohm = 0.01,
                                                           .imbalance = r.imbalance,
                                                           .ballast_ohm = r.ballast_ohm});
                QNEAR(back.spread_v, 0.08, 1e-9);
            }
    }

    void ballastFromTheDrawer()
    {
        const BallastInput in{.units = 3, .current_a = 12, .spread_v = 0.06, .imbalance = 0.1};
        const double needed = sourcesBallast(in).ballast_ohm;
        std::vector<StockItem> stock;
        for (const double ohm : {0.1, 0.15, 0.22, 0.33, 1.0})
            stock.push_back({.ohm = ohm, .tolerance = 0.05, .power_w = 5.0, .quantity = 4});
        const auto options = ballastOptions(in, stock);
        QVERIFY(options.size() > 4);
        for (const BallastOption& o : options) {
            QVERIFY(o.network.ohm() >= needed * (1 - 1e-9) && o.network.ohm() <= 2 * needed * (1 + 1e-9));
            QVERIFY(o.result.imbalance <= 0.1 + 1e-9);
            QVERIFY(o.network.parts().size() <= 4); // no more than there are
            const double parts = static_cast<double>(o.network.parts().size());
            QNEAR(o.power_each_w * parts, o.result.highest_a * o.result.highest_a * o.network.ohm(), 1e-9);
        }
        QVERIFY(
            std::ranges::is_sorted(options, {}, [](const BallastOption& o) { return badness(o.verdict); }));
    }

    /// A longer lead is the same ballast: its ohms by ρ·L/A, and thin only as far as the current allows.
    void ballastFromLeads()
    {
        BallastInput in{.units = 3, .current_a = 12, .spread_v = 0.06, .imbalance = 0.1};
        const BallastResult needed = sourcesBallast(in);
        const auto leads = ballastLeads(in);
        QCOMPARE(leads.size(), 3u);
        for (const BallastOption& o : leads) {
            const double ohm = 1.724e-8 * o.lead->length_m / o.lead->area_m2;
            QNEAR(ohm, o.network.ohm(), 1e-9);
            QVERIFY(ohm >= needed.ballast_ohm * (1 - 1e-9) && ohm <= needed.ballast_ohm * 1.01);
            QVERIFY(o.result.imbalance <= 0.1 + 1e-9);
            QVERIFY(o.result.highest_a / o.lead->area_m2 <= 6e6);
            QNEAR(o.power_each_w, o.result.highest_a * o.result.highest_a * ohm, 1e-9);
        }
        QVERIFY(leads[0].lead->area_m2 < leads[1].lead->area_m2);
        in.r_unit_ohm = 1; // they share by themselves
        QVERIFY(ballastLeads(in).empty());
    }

    /// Better matched set points never make the share worse, and the draw is the same each time.
    void builds()
    {
        ParallelInput in{.units = {}, .load = {.current_a = 9}};
        for (const char* name : {"a", "b", "c"})
            in.units.push_back(
                {.name = name, .v_set_v = 15, .r_out_ohm = 0.05, .r_lead_ohm = 0.02, .i_limit_a = 5.0});
        double last = 0;
        double served = 1;
        for (const double spread : {0.0, 0.005, 0.02, 0.05, 0.15, 0.6}) {
            const ShareSpreadInput draw{.bus = in, .set_spread_v = spread, .lead_spread = 0};
            const ShareSpreadResult r = shareSpread(draw);
            QVERIFY(r.highest_share_low <= r.highest_share_middle &&
                    r.highest_share_middle <= r.highest_share_high);
            QVERIFY(r.highest_share_middle >= last - 1e-12);
            QCOMPARE(shareSpread(draw).highest_share_high, r.highest_share_high);
            QVERIFY(r.within_limits >= 0 && r.within_limits <= served);
            served = r.within_limits;
            last = r.highest_share_middle;
        }
        QVERIFY(served < 0.5); // one or two hold it all
        const ShareSpreadResult same = shareSpread({.bus = in, .set_spread_v = 0, .lead_spread = 0});
        QNEAR(same.highest_share_high, 1.0 / 3, 1e-9);
        QCOMPARE(same.within_limits, 1.0);
    }

    /// Every placing of bonds in stacks of up to four: nodes, shorts and what to open.
    void bonds()
    {
        for (std::size_t count = 1; count <= 4; ++count)
            for (int code = 0; code < 1 << (2 * count); ++code)
                for (int earth = -1; earth <= static_cast<int>(count); ++earth) {
                    StackInput in;
                    std::set<std::int64_t> earthed;
                    for (std::size_t i = 0; i < count; ++i) {
                        const auto bond = static_cast<Bond>((code >> (2 * i)) & 3);
                        in.units.push_back({.name = std::to_string(i),
                                            .v_v = 10.0 + double(i),
                                            .i_limit_a = 5,
                                            .bonded = bond});
                        if (bond == Bond::Negative)
                            earthed.insert(std::int64_t(i));
                        if (bond == Bond::Positive)
                            earthed.insert(std::int64_t(i) + 1);
                    }
                    if (earth >= 0) {
                        in.earthed_node = earth;
                        earthed.insert(earth);
                    }
                    const StackResult r = sourcesSeries(in);
                    QCOMPARE(r.floating, earthed.empty());
                    QCOMPARE(r.conflicts.size(), earthed.size() > 1 ? earthed.size() - 1 : 0);
                    QCOMPARE(r.verdict == Verdict::Breaks, earthed.size() > 1);
                    if (r.floating)
                        continue;
                    const std::int64_t kept = earth >= 0 ? earth : *earthed.begin();
                    QCOMPARE((*r.nodes_v)[std::size_t(kept)], 0.0);
                    // With the bonds named opened nothing is shorted any more.
                    StackInput freed = in;
                    for (StackUnit& unit : freed.units)
                        if (std::ranges::count(r.open_bonds, unit.name) > 0)
                            unit.bonded = Bond::None;
                    QVERIFY(sourcesSeries(freed).conflicts.empty());
                    QVERIFY(r.conflicts.empty() == r.open_bonds.empty());
                }
    }

    /// A power load obeys V·I = P at the far end, and the smallest size is the smallest.
    void cable()
    {
        std::mt19937 random(2);
        const auto between = [&](double a, double b) { return std::uniform_real_distribution(a, b)(random); };
        for (int round = 0; round < 200; ++round) {
            CableInput in{.length_m = between(0.5, 40), .area_m2 = between(0.2e-6, 10e-6)};
            in.power_w = between(0.5, 40);
            in.source_v = between(4, 30);
            in.contact_ohm = between(0, 0.1);
            in.max_drop_v = 0.1 * *in.source_v;
            const CableResult r = cableDrop(in);
            if (r.load_v) {
                QNEAR(*r.load_v * *r.current_a, *in.power_w, 1e-9);
                QNEAR(*in.source_v * *r.current_a, *in.power_w + *r.loss_w, 1e-9);
                QVERIFY(*r.load_v >= *in.source_v / 2 * (1 - 1e-9));
            } else {
                QVERIFY(*in.power_w > *r.max_power_w);
            }
            for (const NamedSize& size : wireSizes(WireSizes::Mm2)) {
                CableInput at = in;
                at.area_m2 = size.area_m2;
                const CableResult with = cableDrop(at);
                const bool enough = with.drop_v && *with.drop_v <= *in.max_drop_v;
                if (r.smallest)
                    QCOMPARE(enough, size.area_m2 >= r.smallest->area_m2);
                else
                    QVERIFY(!enough);
            }
        }
    }

    /// Every state satisfies the equations of its sense pins.
    void sensePins()
    {
        const SenseInput in{.v_set_v = 5.1,
                            .current_a = 3,
                            .r_positive_ohm = 0.05,
                            .r_negative_ohm = 0.04,
                            .r_sense_lead_ohm = 0.5,
                            .r_fallback_ohm = 10,
                            .sense_current_a = 0.001};
        const SenseResult r = sensePlan(in);
        for (const SenseOutcome& out : r.states) {
            if (out.runaway || out.state == SenseState::Local)
                continue;
            const bool p_open = out.state == SenseState::PositiveOpen || out.state == SenseState::BothOpen;
            const bool n_open = out.state == SenseState::NegativeOpen || out.state == SenseState::BothOpen;
            // Potentials from the unit's negative terminal; a pin's node: what comes through both resistors
            // is what it draws.
            const double load_n = in.current_a * in.r_negative_ohm;
            const double load_p = load_n + *out.v_load_v;
            const auto pin = [&](double terminal, double load, bool open, double draws) {
                const double gf = 1 / *in.r_fallback_ohm;
                const double gs = open ? 0 : 1 / in.r_sense_lead_ohm;
                return (terminal * gf + load * gs - draws) / (gf + gs);
            };
            const double positive = pin(*out.v_terminal_v, load_p, p_open, in.sense_current_a);
            const double negative = pin(0, load_n, n_open, -in.sense_current_a);
            QNEAR(positive - negative, in.v_set_v, 1e-12);
        }
    }

    /// More conductors run cooler, the count named is the first that fits, and the heat balances.
    void merging()
    {
        MergeInput in{.current_a = 20, .area_m2 = 0.75e-6, .conductors = 1, .length_m = 0.5};
        double last = 1e9;
        for (in.conductors = 1; in.conductors <= 12; ++in.conductors) {
            const MergeResult r = mergeWires(in);
            QVERIFY(r.rise_k < last || r.rise_k == 200);
            QVERIFY(r.most_a >= r.each_a * (1 - 1e-12));
            last = r.rise_k;
        }
        const auto needed = conductorsFor(in);
        QVERIFY(needed && *needed > 1);
        in.conductors = *needed;
        QCOMPARE(mergeWires(in).verdict, Verdict::Fits);
        // What the warm copper makes is what the bundle's surface gives off, 10 W for each m² and kelvin.
        const MergeResult warm = mergeWires(in);
        const double made =
            20 * 20 * conductorOhm(1, 0.75e-6 * static_cast<double>(in.conductors), warm.conductor_k);
        QVERIFY2(test::near(warm.loss_w_per_m, made, 1e-6), test::numbers(warm.loss_w_per_m, made));
        const double wire_m = 2 * std::sqrt(0.75e-6 / std::numbers::pi) + 2 * in.insulation_m;
        const double round_m = wire_m * std::sqrt(static_cast<double>(in.conductors) / 0.75);
        const double given = 10 * std::numbers::pi * round_m * warm.rise_k;
        QVERIFY2(test::near(given, made, 1e-6), test::numbers(given, made));
        // One with the best joints beside the others with the worst: as conductances side by side.
        const double wire_ohm = conductorOhm(0.5, 0.75e-6, warm.conductor_k);
        const double best = 1 / (wire_ohm + 0.001);
        const double all = best + static_cast<double>(in.conductors - 1) / (wire_ohm + 0.003);
        QVERIFY2(test::near(warm.most_a, 20 * best / all, 1e-9), test::numbers(warm.most_a, 20 * best / all));
        in.conductors = *needed - 1;
        QVERIFY(mergeWires(in).verdict != Verdict::Fits);
        // Up to 20 K it fits, up to 40 K it is tight, and so it is above 6 A/mm².
        for (in.current_a = 1; in.current_a < 60; in.current_a += 0.02) {
            const MergeResult r = mergeWires(in);
            const Verdict by_rise = r.rise_k < 20   ? Verdict::Fits
                                    : r.rise_k < 40 ? Verdict::Tight
                                                    : Verdict::Breaks;
            QCOMPARE(r.verdict, r.density_a_per_m2 < 6e6 ? by_rise : worse(by_rise, Verdict::Tight));
        }
    }
};

REGISTER_TEST(TestSources, void)
#include "tst_sources.moc"
