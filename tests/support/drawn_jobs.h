// Jobs drawn at random within what a job file allows, and every plan that can be made of a job's parts.
#pragma once

#include "core/calculate/wiring_map.h"
#include "core/kinds/chain/chain_view.h"
#include "core/kinds/module/module_view.h"
#include "core/kinds/panel/panel_view.h"
#include "core/kinds/replace/wanted.h"
#include "core/kinds/windings/windings_view.h"

#include <random>
#include <vector>

namespace offshoot::test {

/// A unit with an output for every rail of the job, on its mains or its feed, in the old one's place.
inline ReplacePlan usualReplacement(const Job& job, Mounting mounting, EnablePin enable)
{
    ReplacingUnit made{.entry = {}, .rails = {}};
    ShelfUnit& unit = made.entry.unit;
    made.entry.mounting = mounting;
    unit.name = "Sandpiper";
    unit.enable = enable;
    if (job.found.dcFed()) {
        unit.input = {.kind = InputCurrent::Dc, .ranges = {{5, 400}}};
    } else {
        unit.input = {.kind = InputCurrent::Ac, .ranges = {{103, 127, "115"}, {207, 253, "230"}}};
        unit.protection_class = mounting == Mounting::Adapter ? 2 : 1;
        made.selector = "230";
        for (const std::string_view function : {earth_function, line_function, neutral_function})
            made.entry.terminals.push_back(
                {.name = std::string(function), .function = std::string(function)});
    }
    for (const Rail& rail : job.found.rails) {
        const auto window = windowOf(job, rail);
        const double v = window ? (window->min_v + window->max_v) / 2 : rail.v_v.value_or(12);
        UnitOutput output{.name = "for " + rail.name, .v = v, .rated_a = 5};
        output.polarity = rail.negative ? OutputPolarity::Negative : OutputPolarity::Positive;
        made.entry.terminals.push_back({.name = output.name, .function = output.name});
        made.entry.terminals.push_back(
            {.name = output.name + " return", .function = output.name + " return"});
        made.rails.push_back({.rail = rail.name, .output = output.name, .set_v = v});
        if (mounting == Mounting::Cage) { // what it asks for besides
            output.bonded = rail.negative ? Bond::Negative : Bond::Positive;
            output.least_a = made.rails.back().dummy_a = 0.1;
        }
        if (mounting == Mounting::Module) {
            output.trim_min_v = v / 4;
            output.trim_max_v = v * 1.5;
            made.entry.converts = ModuleKind::Buck;
        }
        unit.outputs.push_back(std::move(output));
    }
    return {.units = {std::move(made)}};
}

/// A module for the first rail.
inline ShelfEntry usualModule(double v, ModuleKind kind)
{
    ShelfEntry entry;
    entry.unit.name = "Sprat";
    entry.unit.input = {.kind = InputCurrent::Dc, .ranges = {{5, 60}}};
    entry.unit.outputs = {
        {.name = "out", .v = v, .trim_min_v = v * 0.9, .trim_max_v = v * 1.1, .rated_a = 3}};
    entry.converts = kind;
    entry.headroom_v = 2;
    return entry;
}

/// One of each kind, for the need.
inline std::vector<ShelfEntry> usualModules(const Job& job)
{
    std::vector<ShelfEntry> all;
    for (const ModuleKind kind :
         {ModuleKind::Linear, ModuleKind::Buck, ModuleKind::Boost, ModuleKind::BuckBoost})
        all.push_back(usualModule(job.need.target ? job.need.target->v : 9, kind));
    return all;
}

/// A replaced module on DC in a case of its own: each way its trimmers may be wired.
inline RehousePlan usualRehousing(PotWiring wiring, bool guarded)
{
    RehousePlan plan;
    plan.pots = {{.name = "volts", .wiring = wiring},
                 {.name = "amperes", .sets = PotSets::Amps, .wiring = wiring}};
    if (guarded)
        plan.pots.front().guard_ohm = 4700;
    plan.spacers = {{.name = "unmeasured"},
                    {.name = "carries", .carries = true, .current_a = 2.0, .area_m2 = 1e-6},
                    {.name = "holds", .carries = false}};
    plan.readouts = {{.name = "volts", .points = {{.shown = 5.1, .truth = 5}}}};
    plan.fuse_a = 3.15;
    return plan;
}

class JobDrawer
{
public:
    explicit JobDrawer(unsigned seed)
        : m_random(seed)
    {}

    Job next()
    {
        Job job;
        job.title = "Drawn";
        drawNeed(job);
        job.found = supply(job);
        const std::size_t more = chance(0.25) ? 1 + pick(2) : 0;
        for (std::size_t i = 0; i < more; ++i) {
            Supply other = supply(job);
            if (other.dcFed() != job.found.dcFed())
                other.topology = job.found.topology;
            other.rails.resize(1);
            job.others.push_back(std::move(other));
        }
        drawPlan(job);
        return job;
    }

private:
    bool chance(double share) { return std::uniform_real_distribution<>(0, 1)(m_random) < share; }
    std::size_t pick(std::size_t count)
    {
        return std::uniform_int_distribution<std::size_t>(0, count - 1)(m_random);
    }
    double between(double low, double high) { return std::uniform_real_distribution<>(low, high)(m_random); }
    std::optional<double> perhaps(double share, double v)
    {
        return chance(share) ? std::optional(v) : std::nullopt;
    }
    template <class E>
    E word()
    {
        return static_cast<E>(pick(Words<E>::list.size()));
    }

    void drawNeed(Job& job)
    {
        const double v = std::array{5.0, 12.0, 24.0, 48.0, 72.0, 250.0}[pick(6)];
        job.need.mains = {.v_v = std::array{100.0, 115.0, 230.0, 240.0}[pick(4)], .spread = 0.1, .f_hz = 50};
        if (chance(0.9))
            job.need.target = Target{v, v * 0.97, v * 1.03};
        job.need.current_a = perhaps(0.8, between(0.05, 8));
        if (job.need.current_a)
            job.need.peak_a = perhaps(0.3, *job.need.current_a * between(1, 2));
        if (chance(0.2))
            job.need.load.kind = LoadKind::Battery;
        job.need.load.battery.v_flat_v = perhaps(0.5, v * 0.8);
        m_v = v;
    }

    Supply supply(const Job& job)
    {
        Supply s;
        s.name = chance(0.5) ? "Dunlin" : "";
        s.topology = word<Topology>();
        s.earth_class = word<EarthClass>();
        if (chance(0.5))
            s.enclosure = word<Enclosure>();
        s.fuse = {.value_a = perhaps(0.7, 2), .v_rated_v = perhaps(0.6, chance(0.8) ? 250 : 125)};
        s.input.kind = word<InputKind>();
        s.bulk = {.c_f = perhaps(0.8, between(1e-5, 1e-2)),
                  .v_rated_v = perhaps(0.7, std::array{200.0, 400.0, 450.0}[pick(3)]),
                  .bleeder_ohm = perhaps(0.4, 220e3)};
        s.direct = {.min_v = perhaps(0.7, m_v * 1.2), .max_v = perhaps(0.8, m_v * 1.8)};
        s.regulator.drop_v = perhaps(0.5, 2);
        const std::size_t rails = 1 + (chance(0.4) ? pick(4) : 0);
        s.rails.clear();
        for (std::size_t i = 0; i < rails; ++i)
            s.rails.push_back(rail(i));
        if (chance(0.3))
            s.wires.push_back({.name = "W1", .function = word<WireFunction>(), .measured = chance(0.5)});
        s.joint.r_out_ohm = perhaps(0.5, between(0, 0.2));
        s.joint.bonded = word<Bond>();
        drawMains(s, job);
        return s;
    }

    Rail rail(std::size_t i)
    {
        Rail r;
        r.name = "R" + std::to_string(i + 1);
        r.negative = i > 0 && chance(0.2);
        r.v_v = perhaps(0.85, m_v * between(0.7, 1.3));
        r.i_rated_a = perhaps(0.7, between(0.1, 10));
        r.capacitor.c_f = perhaps(0.6, between(1e-6, 1e-2));
        if (i > 0 && chance(0.5))
            r.regulated_by = "R1";
        if (i == 0 && chance(0.6)) {
            const double v_ref_v = chance(0.3) ? 1.25 : 2.495;
            r.feedback.reference = Reference{.v_ref_v = v_ref_v, .tolerance = 0.01};
            r.feedback.bottom = Network(2550.0);
            r.feedback.top = Network(2550.0 * (r.v_v.value_or(m_v) / v_ref_v - 1));
            if (r.feedback.top->ohm() < 10)
                r.feedback = {};
        }
        return r;
    }

    void drawMains(Supply& s, const Job& job)
    {
        MainsSide& side = s.mains_side;
        if (chance(0.4))
            side.clues.push_back({.part = "label",
                                  .kind = ClueKind::Label,
                                  .min_v = chance(0.5) ? 220.0 : 100.0,
                                  .max_v = chance(0.5) ? 240.0 : 120.0});
        for (Clue& clue : side.clues)
            if (*clue.min_v > *clue.max_v)
                std::swap(clue.min_v, clue.max_v);
        if (chance(0.3))
            side.clues.push_back({.part = "X1",
                                  .kind = ClueKind::XCap,
                                  .seen = true,
                                  .rating_v = perhaps(0.8, chance(0.5) ? 275 : 125)});
        const std::size_t primaries = isMainsSwitcher(s.topology) || s.dcFed() ? 0 : pick(3);
        for (std::size_t i = 0; i < primaries; ++i) {
            const std::string n = std::to_string(i + 1);
            side.transformer.primaries.push_back(
                {.name = "P" + n, .start = "a" + n, .end = "b" + n, .v_v = chance(0.6) ? 115.0 : 230.0});
        }
        if (primaries > 0) {
            side.transformer.f_rated_hz = perhaps(0.8, 50);
            side.transformer.va = perhaps(0.8, between(10, 300));
            if (chance(0.6))
                side.transformer.secondaries.push_back({.name = "sec", .v_v = m_v, .i_a = 1});
        }
        if (chance(0.3))
            side.transformer.selector = chance(0.5) ? "115" : "230 V";
        side.idle_years = perhaps(0.2, between(0.5, 30));
        side.surge = {
            .source_ohm = perhaps(0.5, 0.5), .breaker_trip_a = perhaps(0.4, 80), .load_w = perhaps(0.4, 60)};
        if (s.topology == Topology::Unregulated && chance(0.7) && job.need.current_a) {
            side.chain = usualChain(word<SimRectifier>(), job);
            if (chance(0.5))
                side.chain->rectifier.diode = usualDiode(DiodeModel::Valve);
            for (SmoothingSection& section : side.chain->filter)
                if (section.kind == SmoothingKind::C)
                    section.v_rated_v = perhaps(0.9, chance(0.5) ? 450 : 1000);
        }
    }

    void drawPlan(Job& job)
    {
        Plan& plan = job.plan;
        Supply& found = job.found;
        Rail& first = found.rails.front();
        if (first.feedback.divider() && chance(0.5))
            plan.chosen =
                ChosenNetwork{word<DividerMethod>(), Network(15e3), {{.ohm = 15e3, .tolerance = 0.01}}};
        if (plan.chosen && chance(0.5)) {
            plan.route = Route::TemporaryTrimmer;
            plan.trimmer = {.method = chance(0.8) ? plan.chosen->method : word<DividerMethod>(),
                            .pot_ohm = 10e3,
                            .fixed_ohm = perhaps(0.5, 8200).value_or(0),
                            .wiper_tied = chance(0.8)};
        }
        if (chance(0.2))
            plan.trim = TrimPlan{"VR1", between(0.9, 1.1)};
        if (chance(0.2))
            plan.dummy_load = DummyLoadPlan{found.rails.back().name, Network(between(10, 1000))};
        if (chance(0.1))
            plan.rewind = RewindPlan{first.name, 12};
        if (chance(0.15)) {
            found.current_limit.threshold = LimitThreshold{.v_v = 0.65, .tolerance = 0.1};
            found.current_limit.primary_side = chance(0.3);
            plan.shunt = ShuntPlan{.network = Network(0.1)};
        }
        if (chance(0.2)) {
            first.cable.length_m = 5;
            plan.wire = WirePlan{.area_m2 = 1.5e-6};
        }
        if (chance(0.15)) {
            first.sense.fitted = true;
            plan.remote_sense = true;
        }
        const WindingsView windings = windingsView(job);
        if (windings.result && !windings.result->connections.empty() && chance(0.5))
            plan.connection =
                connectionPlan(windings.result->connections[pick(windings.result->connections.size())]);
        if (!found.dcFed() && chance(0.2))
            plan.limiter = LimiterPlan{
                .r_ohm = perhaps(0.7, 33), .power_w = perhaps(0.5, 10), .bypass_s = perhaps(0.5, 1)};
        if (found.mains_side.chain && chance(0.5)) {
            plan.chain = found.mains_side.chain;
            if (!plan.chain->filter.empty() && plan.chain->filter.front().kind == SmoothingKind::C)
                plan.chain->filter.front().c_f *= 2;
        }
        if (chance(0.2))
            plan.refits.push_back({RowId::OutputCapacitorVoltage, 100});
        if (chance(0.2))
            plan.refits.push_back({RowId::BulkVoltage, 450});
        if (!job.others.empty() && chance(0.8)) {
            JoinPlan join{.kind = word<Joining>()};
            for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
                join.settings.push_back({static_cast<std::int64_t>(unit), m_v});
                if (chance(0.4))
                    join.opened_bonds.push_back(static_cast<std::int64_t>(unit));
            }
            if (chance(0.3))
                join.ballast = Network(0.1);
            if (chance(0.3))
                join.reverse_diode = ReverseDiode{.v_rrm_v = 100, .i_a = 5};
            plan.join = std::move(join);
        }
        if (chance(0.15)) {
            const auto mounting = word<Mounting>(); // one draw after the other, with every compiler
            const auto enable = word<EnablePin>();
            planReplacement(job, usualReplacement(job, mounting, enable));
            if (mounting == Mounting::Module) {
                const auto wiring = word<PotWiring>();
                plan.rehouse = usualRehousing(wiring, chance(0.5));
            }
        } else if ((isLinear(found.topology) || found.dcFed()) && chance(0.3)) {
            if (chance(0.7)) {
                found.feed = RegulatorFeed{.open_v = between(8, 40)};
                found.feed->r_ohm = perhaps(0.5, 2);
            }
            planModule(job, usualModule(m_v, word<ModuleKind>()));
        }
        if (chance(0.15))
            plan.panel = usualPanel(job);
    }

    std::mt19937 m_random;
    double m_v = 24;
};

/// The job with each subset of the changes that its plan, or these usual ones, hold.
inline std::vector<Job> everyPlan(const Job& job)
{
    Plan full = job.plan;
    const Supply& found = job.found;
    if (!full.chosen && found.rails.front().feedback.divider())
        full.chosen =
            ChosenNetwork{DividerMethod::SeriesTop, Network(1e3), {{.ohm = 1e3, .tolerance = 0.01}}};
    if (!full.trim)
        full.trim = TrimPlan{"VR1", 1.02};
    if (!full.dummy_load)
        full.dummy_load = DummyLoadPlan{found.rails.front().name, Network(220)};
    if (!full.wire && found.rails.front().cable.length_m)
        full.wire = WirePlan{.area_m2 = 2.5e-6};
    if (!full.limiter && !found.dcFed())
        full.limiter = LimiterPlan{.r_ohm = 33, .power_w = 10, .bypass_s = 1};
    if (!full.connection) {
        const WindingsView view = windingsView(job);
        if (view.result && !view.result->connections.empty())
            full.connection = connectionPlan(view.result->connections.front());
    }
    if (full.refits.empty())
        full.refits.push_back({RowId::OutputCapacitorVoltage, 100});
    const std::array<void (*)(Plan&), 10> without{
        [](Plan& p) { p.chosen.reset(); },
        // another part fitted goes with a trimmer turned: neither touches the order of the others
        [](Plan& p) { p.trim.reset(), p.refits.clear(); }, [](Plan& p) { p.dummy_load.reset(); },
        [](Plan& p) { p.rewind.reset(); }, [](Plan& p) { p.shunt.reset(); }, [](Plan& p) { p.join.reset(); },
        [](Plan& p) { p.wire.reset(), p.remote_sense = false; }, [](Plan& p) { p.connection.reset(); },
        [](Plan& p) { p.limiter.reset(); }, [](Plan& p) { p.chain.reset(); }};
    std::vector<Job> all;
    for (unsigned mask = 0; mask < (1U << without.size()); ++mask) {
        Job next = job;
        next.plan = full;
        bool changes = true;
        for (std::size_t i = 0; i < without.size(); ++i)
            if ((mask >> i & 1U) == 0) {
                const Plan before = next.plan;
                without[i](next.plan);
                changes = changes || before != next.plan;
            } else {
                // Taken out already because it was never there: another mask says the same.
                Plan gone = next.plan;
                without[i](gone);
                changes = changes && gone != next.plan;
            }
        if (changes)
            all.push_back(std::move(next));
    }
    // Another unit or regulator, by itself: what was planned inside the old one goes with it.
    for (const Mounting mounting : {Mounting::OpenBoard, Mounting::Cage, Mounting::Adapter}) {
        Job next = job;
        planReplacement(
            next,
            usualReplacement(job, mounting, mounting == Mounting::Cage ? EnablePin::Low : EnablePin::None));
        all.push_back(next);
        next.plan.wire = full.wire;
        next.plan.dummy_load = full.dummy_load;
        next.plan.panel = usualPanel(next);
        all.push_back(std::move(next));
    }
    for (const bool guarded : {false, true})
        if (found.dcFed()) {
            Job next = job;
            planReplacement(next, usualReplacement(job, Mounting::Module, EnablePin::None));
            next.plan.rehouse = usualRehousing(guarded ? PotWiring::OutputSide : PotWiring::Divider, guarded);
            next.plan.panel = usualPanel(next);
            all.push_back(std::move(next));
        }
    Job fronted = job;
    fronted.plan.panel = usualPanel(job);
    all.push_back(std::move(fronted));
    if (isLinear(found.topology) || found.dcFed()) {
        Job next = job;
        planModule(next, usualModule(job.need.target ? job.need.target->v : 9, ModuleKind::Buck));
        all.push_back(std::move(next));
    }
    return all;
}

} // namespace offshoot::test
