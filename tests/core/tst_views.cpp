// What must hold of every workspace's figures, whatever the job: laws checked on each demo job and on many
// random variations of it.
#include "core/calculate/current_limit.h"
#include "core/calculate/mains_evidence.h"
#include "core/calculate/need_presets.h"
#include "core/calculate/parallel.h"
#include "core/calculate/stack.h"
#include "core/evaluate/evaluation.h"
#include "core/evaluate/evidence_view.h"
#include "core/evaluate/noise_view.h"
#include "core/evaluate/safe_view.h"
#include "core/kinds/current_limit/current_limit_view.h"
#include "core/kinds/divider/divider_schools.h"
#include "core/kinds/dummy_load/dummy_load_view.h"
#include "core/kinds/joined/bus_view.h"
#include "core/kinds/joined/stack_view.h"
#include "core/kinds/module/module_view.h"
#include "core/kinds/replace/wiring_view.h"
#include "core/kinds/rewind/rewind_view.h"
#include "core/kinds/surge_limiter/inrush_view.h"
#include "core/kinds/windings/windings_view.h"
#include "core/kinds/wire/wire_view.h"
#include "support/drawn_jobs.h"
#include "support/spoiler.h"

#include <QDir>
#include <algorithm>
#include <numbers>

using namespace offshoot;
using namespace Qt::StringLiterals;

namespace {

/// Fails with the figures; the caller says of which job.
class Laws
{
public:
    void hold(bool good, const char* law)
    {
        ++m_checked;
        if (!good && m_broken.empty())
            m_broken = law;
    }
    void equal(double a, double b, const char* law, double rel = 1e-6, double abs = 1e-9)
    {
        hold(test::near(a, b, rel, abs), law);
    }
    const std::string& broken() const { return m_broken; }
    int checked() const { return m_checked; }

private:
    std::string m_broken;
    int m_checked = 0;
};

/// Equal units of which one is set higher by the match, and by nothing else: it carries a tenth more than the
/// mean, no less and no more.
void matched(Laws& laws, const ParallelView& view, const Job& job)
{
    const auto& units = view.model.input->units;
    if (view.match_v <= 0 || units.size() < 2)
        return;
    double mean_ohm = 0;
    for (const ParallelUnit& unit : units)
        mean_ohm += (unit.r_out_ohm + unit.r_lead_ohm + (unit.diode ? unit.diode->r_ohm : 0)) /
                    static_cast<double>(units.size());
    constexpr double high_v = 1000; // far above any drop: nothing runs dry
    ParallelInput equal{.units = {}, .load = {.current_a = *job.need.current_a}};
    for (const ParallelUnit& unit : units)
        equal.units.push_back({.name = unit.name, .v_set_v = high_v, .r_out_ohm = mean_ohm});
    equal.units.front().v_set_v += view.match_v;
    const double mean_a = *job.need.current_a / static_cast<double>(units.size());
    laws.equal(busState(equal).units.front().current_a, mean_a * 1.1, "matched units share within a tenth",
               1e-4);
}

void sideBySide(Laws& laws, const Job& job, const Evaluation& e)
{
    const ParallelView view = parallelView(job, e);
    if (!view.result)
        return;
    const BusState& bus = view.result->bus;
    double total_a = 0;
    for (std::size_t i = 0; i < bus.units.size(); ++i) {
        const UnitShare& unit = bus.units[i];
        const ParallelUnit& in = view.model.input->units[i];
        total_a += unit.current_a;
        laws.hold(unit.current_a >= -1e-9, "no unit takes current");
        laws.hold(unit.state != UnitState::Idle || unit.current_a < 1e-9, "an idle unit gives none");
        if (in.i_limit_a && unit.state != UnitState::Tripped)
            laws.hold(unit.current_a <= *in.i_limit_a * (1 + 1e-9), "a unit gives no more than its limit");
        if (unit.state == UnitState::Sharing && !in.diode)
            laws.equal(in.v_set_v - unit.current_a * (in.r_out_ohm + in.r_lead_ohm), bus.v_bus_v,
                       "V_set − I·R is the bus", 1e-6);
    }
    laws.equal(total_a, bus.total_a, "the currents add up");
    laws.hold(bus.v_bus_v <= bus.no_load_v * (1 + 1e-12), "a loaded bus is no higher than an empty one");
    laws.equal(view.loads_a.front(), 0, "curves begin without load");
    laws.equal(view.loads_a.back(), view.full_a, "curves end at the most that is shown");
    for (std::size_t k = 0; k < view.loads_a.size(); ++k) {
        double sum_a = 0;
        for (const double i_a : view.currents_a[k])
            sum_a += i_a;
        laws.hold(sum_a <= view.loads_a[k] * (1 + 1e-6) + 1e-9, "curves never add up to more than the load");
        if (std::ranges::find(view.states[k], UnitState::Sharing) != view.states[k].end())
            laws.equal(sum_a, view.loads_a[k], "one that still shares carries what the others leave", 1e-6,
                       1e-9);
    }
    matched(laws, view, job);
}

void stacked(Laws& laws, const Job& job, const Evaluation& e)
{
    const StackView view = stackView(job, e);
    if (!view.result)
        return;
    const StackResult& r = *view.result;
    double sum_v = 0;
    double least_a = 1e300;
    for (const StackUnit& unit : view.model.input->units) {
        sum_v += unit.v_v;
        least_a = std::min(least_a, unit.i_limit_a);
    }
    laws.equal(r.total_v, sum_v, "a stack's voltages add up");
    laws.equal(r.current_limit_a, least_a, "the weakest limits a stack");
    laws.hold(r.floating == !r.nodes_v.has_value(), "a floating stack has no potentials");
    if (r.nodes_v && r.conflicts.empty())
        for (std::size_t i = 0; i < view.model.input->units.size(); ++i)
            laws.equal((*r.nodes_v)[i + 1] - (*r.nodes_v)[i], view.model.input->units[i].v_v,
                       "each unit lifts the next by its voltage");
    double below_v = 0;
    for (std::size_t i = 0; i < r.units.size(); ++i) {
        const double above_v = below_v + view.model.input->units[i].v_v;
        if (r.floating)
            laws.equal(r.units[i].to_earth_max_v, std::max(above_v, r.total_v - below_v),
                       "either end may be earthed");
        else if (r.nodes_v && r.conflicts.empty())
            laws.equal(r.units[i].to_earth_max_v,
                       std::max(std::abs((*r.nodes_v)[i]), std::abs((*r.nodes_v)[i + 1])),
                       "as far from earth as its farther end");
        below_v = above_v;
    }
    laws.hold(r.conflicts.empty() || !r.open_bonds.empty(), "a short names the bonds to open");
}

/// What the unit gives, less what drops on the way, stands at the load.
void alongThePath(Laws& laws, const Evaluation& e)
{
    const auto at = [&](Station station) {
        return *std::ranges::find(e.stations, station, &StationView::station);
    };
    const StationView unit = at(Station::Smoothing);
    const StationView run = at(Station::Cable);
    const StationView load = at(Station::Load);
    if (unit.found_si && run.found_si)
        laws.equal(load.found_si.value_or(NAN), *unit.found_si - *run.found_si, "as found");
    if (unit.planned_si && run.planned_si && !e.joined)
        laws.equal(load.planned_si.value_or(NAN), *unit.planned_si - *run.planned_si, "as planned");
}

void wire(Laws& laws, const Job& job, const Evaluation& e)
{
    alongThePath(laws, e);
    const WireView view = wireView(job, e);
    if (!view.result)
        return;
    const CableResult& r = *view.result;
    if (r.drop_v) {
        laws.equal(*r.drop_v, *r.current_a * *r.r_loop_ohm, "the drop is I·R");
        laws.equal(*r.loss_w, *r.current_a * *r.current_a * *r.r_loop_ohm, "the loss is I²·R");
        if (!view.run.empty()) {
            const RunPoint& end = view.run.back();
            laws.equal(end.positive_v - end.negative_v, view.terminal_v - *r.drop_v,
                       "the run ends at what arrives", 1e-6, 1e-6);
            if (job.plan.remote_sense && view.sense)
                laws.equal(end.positive_v - end.negative_v, *view.sense->states.front().v_load_v,
                           "sensed at the load, that arrives", 1e-6, 1e-6);
            for (std::size_t i = 1; i < view.run.size(); ++i) {
                laws.hold(view.run[i].positive_v <= view.run[i - 1].positive_v + 1e-9, "go falls");
                laws.hold(view.run[i].negative_v >= view.run[i - 1].negative_v - 1e-9, "return rises");
                laws.hold(view.run[i].at_m >= view.run[i - 1].at_m, "the run goes on");
            }
        }
    }
    if (r.smallest && view.input->max_drop_v)
        laws.hold(r.smallest->drop_v <= *view.input->max_drop_v * (1 + 1e-9), "the smallest keeps the drop");
    for (const WireOption& size : view.sizes)
        if (size.result.drop_v && size.wire.area_m2 > 0)
            laws.hold(size.result.load_v.value_or(0) <= view.terminal_v * (1 + 1e-12), "no wire adds volts");
    if (!view.merge_input)
        return;
    const auto coolWith = [&view](std::int64_t conductors) {
        MergeInput in = *view.merge_input;
        in.conductors = conductors;
        return mergeWires(in).verdict == Verdict::Fits;
    };
    constexpr std::int64_t most = 20;
    laws.hold(coolWith(view.merge_needed.value_or(most)) == view.merge_needed.has_value(),
              "so many conductors stay cool, or none do");
    if (view.merge_needed && *view.merge_needed > 1)
        laws.hold(!coolWith(*view.merge_needed - 1), "one conductor less does not");
}

void minimumLoad(Laws& laws, const Job& job, const Evaluation& e)
{
    for (const Rail& rail : job.found.rails) {
        const MinimumLoadView view = minimumLoadView(job, e, rail);
        laws.hold(view.wanted.min_a <= view.wanted.max_a * (1 + 1e-12),
                  "a window of current the right way round");
        for (const DummyLoadOption& option : view.options) {
            laws.equal(option.ohm, option.network.ohm(), "a bank has its network's ohms");
            laws.equal(option.power_w, option.current_a * option.current_a * option.ohm, "P = I²·R", 1e-6);
            laws.equal(option.energy_j_per_day, option.power_w * 86400, "a day has 86400 s", 1e-6);
        }
        if (view.fit && view.fit->v0_v) {
            double sum_v = 0;
            for (const double residual : view.fit->residuals_v)
                sum_v += residual;
            laws.equal(sum_v, 0, "residuals of a least-squares line cancel", 0, 1e-6);
        }
    }
}

void limit(Laws& laws, const Job& job, const Evaluation& e)
{
    const LimitView view = limitView(job, e);
    if (!view.result)
        return;
    const LimitResult& r = *view.result;
    laws.hold(r.v_threshold_min_v <= r.v_threshold_v && r.v_threshold_v <= r.v_threshold_max_v,
              "a threshold within its tolerance");
    if (r.i_limit_a) {
        laws.equal(*r.i_limit_a * *r.r_sense_ohm, r.v_threshold_v, "I·R is the threshold");
        laws.hold(*r.i_limit_min_a <= *r.i_limit_a && *r.i_limit_a <= *r.i_limit_max_a,
                  "a limit within its spread");
        laws.hold(*r.power_worst_w >= *r.power_w * (1 - 1e-9), "the worst heat is the most");
    }
    if (r.options)
        for (const ShuntOption& option : *r.options) {
            laws.hold(option.worst_min_a <= option.i_limit_a && option.i_limit_a <= option.worst_max_a,
                      "an option within its spread");
            laws.hold(option.i_limit_a >= view.input->search->min_a * (1 - 1e-9) || !option.in_window,
                      "in the window means in the window");
        }
}

void rewind(Laws& laws, const Job& job, const Evaluation& e)
{
    const RewindView view = rewindView(job, e, job.found.rails.front());
    if (!view.result)
        return;
    const RewindResult& r = *view.result;
    std::int64_t last = 0;
    double per_turn_v = 0;
    for (const RewindOption& option : r.options) {
        laws.hold(option.turns > last, "turns ascend");
        last = option.turns;
        laws.hold(option.volts_per_turn > 0, "a turn gives volts");
        if (per_turn_v > 0 && option.turns != view.input->secondary_turns)
            laws.hold(option.volts_per_turn <= per_turn_v * (1 + 1e-9), "more turns, fewer volts in each");
        per_turn_v = option.volts_per_turn;
    }
    const auto best = std::ranges::find(r.options, r.best_turns, &RewindOption::turns);
    laws.hold(best != r.options.end(), "the best is among the options");
    if (best == r.options.end())
        return;
    // A mains winding takes the nearest volts; elsewhere ratings come first, then the nearest turns.
    const bool line = view.input->topology == WoundTopology::Line;
    const auto rank = [](const RewindOption& option) {
        static constexpr std::array<int, 4> order{0, 1, 3, 2}; // fits, tight, breaks, unknown
        return option.verdict ? order.at(static_cast<std::size_t>(*option.verdict)) : 0;
    };
    const auto off = [&](const RewindOption& option) {
        return line ? std::abs(option.error_v) : std::abs(static_cast<double>(option.turns) - r.ideal_turns);
    };
    for (const RewindOption& option : r.options) {
        laws.hold(line || rank(option) >= rank(*best), "none is better than the best");
        if (line || rank(option) == rank(*best))
            laws.hold(off(option) >= off(*best) * (1 - 1e-9), "none as good comes nearer");
    }
}

void evidence(Laws& laws, const Job& job)
{
    if (job.found.dcFed())
        return;
    const EvidenceView view = evidenceView(job);
    const EvidenceResult& r = view.result;
    if (job.need.mains.v_assumed) {
        laws.hold(r.verdict == Verdict::Unknown && view.sentence.find("Need") != std::string::npos,
                  "without a mains nothing is known, and where to say it is");
        return;
    }
    bool forbids = false;
    for (std::size_t i = 0; i < r.clues.size(); ++i) {
        const ClueKind kind = view.input.clues[i].kind;
        const bool paper = kind == ClueKind::Label || kind == ClueKind::Manual || kind == ClueKind::Sibling;
        forbids = forbids || (r.clues[i].says == Says::Forbids && !paper);
    }
    laws.hold(!forbids || r.verdict == Verdict::Breaks, "what a part forbids breaks");
    laws.hold(r.verdict != Verdict::Fits ||
                  (r.max_nominal_v && *r.max_nominal_v >= job.need.mains.v_v * (1 - 1e-9)),
              "what fits is permitted by the part that rules");
    laws.hold(view.next.empty() == (r.unread.empty() && r.missing.empty()),
              "what to read next is said as long as something is unread");
    if (!r.unread.empty())
        laws.hold(view.next.find(r.unread.front()) != std::string::npos, "by its name");
}

void surge(Laws& laws, const Job& job)
{
    const InrushView view = inrushView(job);
    if (view.direct) {
        laws.equal(view.direct->i_peak_a * view.direct->r_total_ohm, view.direct->v_peak_v,
                   "the surge is V/R");
        if (!view.bare.i_a.empty())
            laws.hold(std::ranges::max(view.bare.i_a) <= view.direct->i_peak_a * 1.001,
                      "the waveform is within the closed form");
    }
    if (view.limiter) {
        laws.equal(view.limiter->five_tau_s, 5 * view.limiter->tau_s, "five times tau");
        laws.hold(view.limiter->bypass_min_s >= view.limiter->t95_s, "the bypass waits for both");
    }
    if (view.delay_parts && view.delay)
        laws.equal(view.delay_parts->network.ohm(), view.delay->r_ohm, "the drawer comes within a tenth",
                   0.1);
}

void windings(Laws& laws, const Job& job)
{
    const WindingsView view = windingsView(job);
    if (!view.result)
        return;
    for (const Connection& c : view.result->connections) {
        laws.hold(!c.strings.empty(), "a connection has a string");
        for (const std::vector<Segment>& string : c.strings) {
            double string_v = 0;
            for (const Segment& segment : string)
                string_v += segment.v_v;
            laws.equal(string_v, c.v_rated_v, "strings side by side are rated alike");
        }
        laws.equal(c.v_scale * c.v_rated_v, view.input->target.v_v, "a connection is fed with the mains");
        for (const SecondaryVolts& s : c.secondaries)
            laws.hold(!s.v_open_v || *s.v_open_v >= s.v_v * (1 - 1e-9),
                      "open volts are no less than loaded ones");
    }
    if (view.planned)
        laws.hold(*view.planned < view.result->connections.size(), "what is planned is there");
}

void noise(Laws& laws, const Job& job)
{
    const NoiseView view = noiseView(job);
    laws.hold(view.f_hz.size() == view.gain_db.size(), "a gain for each frequency");
    if (view.input && !view.input->f_hz.empty()) {
        laws.equal(view.input->f_hz.front(), view.input->from_hz, "the curve begins where it is asked to");
        laws.equal(view.input->f_hz.back(), view.input->to_hz, "and ends there");
        laws.hold(std::ranges::is_sorted(view.f_hz), "from low to high");
    }
    if (view.damping && view.result->peak && view.result->peak->gain_db)
        laws.hold(view.damping->peak_db < *view.result->peak->gain_db, "damping takes the peak down");
}

void safe(Laws& laws, const Job& job, const Evaluation& e)
{
    for (const SafeView::Bank& bank : safeView(job, e).banks) {
        const Reservoir& r = bank.reservoir;
        laws.equal(r.leftAfter(0), r.v0_v, "nothing is gone at once");
        if (r.discharge_s && *r.discharge_s > 0)
            laws.equal(r.leftAfter(*r.discharge_s), 10, "the countdown ends at 10 V", 1e-3);
        laws.equal(r.leftAfter(200) * r.v0_v, r.leftAfter(100) * r.leftAfter(100),
                   "as much again in as long again");
        if (r.bleeder_ohm && r.c_f)
            laws.equal(r.leftAfter(*r.bleeder_ohm * *r.c_f) * std::numbers::e, r.v0_v, "in R·C to one e-th");
    }
}

/// A module: what lies between trough and crest, and the order of the shelf.
void module(Laws& laws, const Job& job)
{
    const ModuleView view = moduleView(job, test::usualModules(job));
    laws.hold(!view.sentence.empty(), "a module's page says something");
    if (view.result)
        laws.hold(view.sentence.starts_with(job.plan.module->entry.unit.name), "and of which it speaks");
    for (std::size_t i = 0; i < view.options.size(); ++i) {
        const RegulatorReplaceResult& r = view.options[i].result;
        if (r.operating)
            laws.hold(*r.after.in_trough_v <= *r.after.source_v + 1e-9 &&
                          *r.after.source_v <= *r.after.in_crest_v + 1e-9,
                      "the source lies between trough and crest");
        laws.hold(i == 0 || badness(view.options[i - 1].result.verdict) <= badness(r.verdict),
                  "the best module stands first");
        laws.hold(r.operating || r.verdict == Verdict::Breaks, "without an operating point it breaks");
    }
}

/// Wires: each on one terminal of its function, or with a reason why not.
void wires(Laws& laws, const Job& job)
{
    if (!job.plan.replace)
        return;
    const WiringView view = wiringView(job);
    laws.hold(!view.sentence.empty(), "the wiring says something");
    const auto placed =
        std::ranges::count_if(view.wires, [](const PlannedWire& w) { return w.terminal.has_value(); });
    laws.hold(
        view.terminals.empty() || view.wires.empty() ||
            view.sentence.starts_with(std::to_string(placed) + " of " + std::to_string(view.wires.size())),
        "and how many of the wires have a place");
    for (const PlannedTerminal& terminal : view.terminals)
        laws.hold(std::ranges::find(view.missing, terminal.name) == view.missing.end() || terminal.wires == 0,
                  "a terminal that misses its wire has none");
    for (const PlannedWire& wire : view.wires) {
        const bool mapped = !view.terminals.empty();
        laws.hold(!mapped || wire.terminal.has_value() != !wire.left.empty(),
                  "a wire has a place or a reason");
        laws.hold(!wire.terminal || view.terminals[*wire.terminal].serves.function == wire.wire.function,
                  "a wire goes to its function");
    }
}

void all(Laws& laws, const Job& job)
{
    const Evaluation e = evaluate(job, job.log.empty() ? 0 : job.log.back().time_s);
    sideBySide(laws, job, e);
    stacked(laws, job, e);
    wire(laws, job, e);
    minimumLoad(laws, job, e);
    limit(laws, job, e);
    rewind(laws, job, e);
    evidence(laws, job);
    surge(laws, job);
    windings(laws, job);
    noise(laws, job);
    safe(laws, job, e);
    module(laws, job);
    wires(laws, job);
}

} // namespace

class TestViews : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void laws_data()
    {
        QTest::addColumn<QString>("file");
        for (const QString& file :
             QDir(QStringLiteral(OFFSHOOT_SOURCE_DIR "/data/jobs")).entryList({u"*.offshoot"_s}))
            QTest::addRow("%s", qPrintable(file)) << file;
    }
    void laws()
    {
        QFETCH(QString, file);
        const Json whole = Json::parse(test::sourceFile((u"data/jobs/"_s + file).toUtf8().constData()));
        int checked = 0;
        for (unsigned seed = 0; seed < 30; ++seed) {
            Json varied = whole;
            test::Spoiler spoiler(seed);
            std::string what;
            for (unsigned i = 0; i < seed % 5; ++i) // the first is the job itself
                what += spoiler.spoil(varied) + "; ";
            std::optional<Job> job;
            try {
                job = jobFrom(varied);
            } catch (const DocumentError&) {
                continue; // refused: tst_round_trip looks at those
            }
            Laws laws;
            try {
                all(laws, *job);
            } catch (const std::exception& problem) {
                QFAIL((what + problem.what()).c_str());
            }
            QVERIFY2(laws.broken().empty(), (what + laws.broken()).c_str());
            checked += laws.checked();
        }
        QVERIFY(checked > 200);
    }

    /// A quarter up or a fifth down the divider alone is the smaller risk, farther the windings.
    void rewindsWhatIsFar_data()
    {
        QTest::addColumn<double>("times");
        QTest::addColumn<int>("pick");
        for (const auto& [times, pick] : {std::pair{0.79, 1}, {0.81, 0}, {1.0, 0}, {1.24, 0}, {1.26, 1}})
            QTest::addRow("%g", times) << times << pick;
    }
    void rewindsWhatIsFar()
    {
        QFETCH(double, times);
        QFETCH(int, pick);
        const Job job = test::demoJob();
        Figures figures = figuresOf(job);
        figures.planned->option.v = times * *figures.found_v;
        std::vector<School> schools;
        dividerSchools(job, figures, figuresOf, schools);
        QCOMPARE(schools.front().pick, static_cast<std::size_t>(pick));
    }

    /// Presets of the need are as wide as they say.
    void presets()
    {
        for (const double v : {3.3, 13.8, 48.0}) {
            QVERIFY(test::near(benchPreset(v).window.max_v - v, 0.02 * v, 1e-9, 0));
            QVERIFY(test::near(v - benchPreset(v).window.min_v, 0.02 * v, 1e-9, 0));
            QVERIFY(test::near(equipmentPreset(v, 0.05).window.max_v, 1.05 * v, 1e-9, 0));
            QVERIFY(equipmentPreset(v, 0.05).why.ends_with(" ± 5 %"));
            QVERIFY(!benchPreset(v).battery);
        }
        QVERIFY(test::near(floatChargePreset(6, 298.15).window.v, 13.6, 1e-9, 0));
    }

    /// What an option or a unit is marked with comes from one place, whatever shows it.
    void carriedVerdicts()
    {
        UnitShare share{};
        share.use = 0.9;
        QCOMPARE(share.verdict(), Verdict::Tight);
        share.state = UnitState::Tripped;
        QCOMPARE(share.verdict(), Verdict::Breaks);

        StackedUnit stacked{};
        QCOMPARE(stacked.verdict(), Verdict::Fits);
        stacked.diode_verdict = Verdict::Unknown;
        QCOMPARE(stacked.verdict(), Verdict::Unknown);
        stacked.shorted = true;
        QCOMPARE(stacked.verdict(), Verdict::Breaks);

        const auto shunt = [](bool in_window, bool worst_in_window, Verdict heat) {
            ShuntOption option{};
            option.in_window = in_window;
            option.worst_in_window = worst_in_window;
            option.power.verdict = heat;
            return option.verdict();
        };
        QCOMPARE(shunt(true, true, Verdict::Fits), Verdict::Fits);
        QCOMPARE(shunt(true, true, Verdict::Unknown), Verdict::Unknown);
        QCOMPARE(shunt(true, false, Verdict::Fits), Verdict::Tight);
        QCOMPARE(shunt(false, false, Verdict::Fits), Verdict::Breaks);

        LimitResult limit{};
        QCOMPARE(limit.heatVerdict(), Verdict::Fits);
        limit.parts = {ShuntPart{}, ShuntPart{}};
        limit.parts->back().verdict = Verdict::Tight;
        QCOMPARE(limit.heatVerdict(), Verdict::Tight);
        limit.load_verdict = Verdict::Fits;
        QCOMPARE(limit.limitVerdict(), Verdict::Unknown); // nothing says what the supply bears
        limit.protect_verdict = Verdict::Tight;
        QCOMPARE(limit.limitVerdict(), Verdict::Tight);

        const auto clue = [](ClueKind kind, Says says, double use) {
            JudgedClue judged{.part = "", .kind = kind, .says = says};
            judged.use = use;
            return judged.verdict();
        };
        QCOMPARE(clue(ClueKind::FuseV, Says::Permits, 0.95), Verdict::Fits);
        QCOMPARE(clue(ClueKind::FuseV, Says::Permits, 0.96), Verdict::Tight);
        QCOMPARE(clue(ClueKind::FuseV, Says::Forbids, 1.1), Verdict::Breaks);
        QCOMPARE(clue(ClueKind::FuseV, Says::Silent, 0), Verdict::Unknown);
        QCOMPARE(clue(ClueKind::Label, Says::Permits, 0.96), Verdict::Fits); // paper has no margin
        QCOMPARE(judgeWithin(5, 4.9, 5), Verdict::Fits);
        QCOMPARE(judgeWithin(5.1, 4.9, 5), Verdict::Breaks);

        StepView step{};
        QVERIFY(!step.verdict());
        step.readings = {std::nullopt, TakenReading{}, TakenReading{}};
        QCOMPARE(step.verdict(), Verdict::Fits);
        step.readings.back()->judgement.verdict = Verdict::Tight;
        QCOMPARE(step.verdict(), Verdict::Tight);
    }
};

REGISTER_TEST(TestViews, void)
#include "tst_views.moc"
