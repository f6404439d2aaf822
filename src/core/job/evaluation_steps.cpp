#include "core/job/evaluator.h"
#include "core/job/joining.h"
#include "core/job/mains_bearing.h"
#include "core/job/mains_views.h"
#include "core/job/temporary_trimmer.h"
#include "core/job/workspaces.h"
#include "core/kinds/planned.h"
#include "core/values/format.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

/// Of a regulated rail whose divider nobody entered.
constexpr double usual_spread = 0.05;
/// Less than this is no output.
constexpr double dark_output_v = 0.5;
/// Of the charging voltage, where nobody said what a flat battery gives.
constexpr double battery_flat_share = 0.7;
constexpr double battery_step_share = 0.1;

} // namespace

/// Rails beside the first: held in the window the need gives them; one that follows the loop moves with it.
void Evaluator::predictRails(Predictions& predictions) const
{
    for (std::size_t i = 1; i < m_job.found.rails.size(); ++i) {
        const Rail& rail = m_job.found.rails[i];
        const auto& found_v = m_e.rails_found_v[i];
        if (!found_v)
            continue;
        const auto around = [&rail](double v) {
            return signedWindow(rail, v * (1 - usual_spread), v * (1 + usual_spread));
        };
        const bool moves = m_e.rails_planned_v[i] != found_v;
        Predictions::Other other{rail.name, std::nullopt, around(*m_e.rails_planned_v[i]),
                                 moves ? "moves with the plan, ± 5 % assumed"
                                       : std::string("as found, ± 5 % assumed")};
        if (const auto window = windowOf(m_job, rail)) {
            other.planned = signedWindow(rail, window->min_v, window->max_v);
            other.because = "the need's window";
        }
        other.v_v = m_e.rails_planned_v[i];
        other.load_a = typicalCurrent(rail);
        predictions.others.push_back(std::move(other));
    }
}

/// A plan that leaves the set point where the plate or the join puts it, measured by nobody, has no spread of
/// its own: then the reading is held against the need.
void Evaluator::predictPlanned(Predictions& predictions) const
{
    predictions.planned = m_e.planned_range;
    const auto& range = m_e.planned_range;
    if (!range || range->max_v > range->min_v)
        return;
    const auto target = unitTarget(m_job);
    if (target && within(range->min_v, target->min_v, target->max_v)) {
        predictions.planned = VoltageRange{target->min_v, target->max_v};
        predictions.planned_because = "the need's window";
    } else {
        predictions.planned =
            VoltageRange{range->min_v * (1 - usual_spread), range->max_v * (1 + usual_spread)};
        predictions.planned_because = "as planned, ± 5 % assumed";
    }
}

/// What the limiter leaves of the volts: a regulated converter keeps its output, what hangs on iron does not.
/// Heaters and iron losses that nobody knows widen it.
void Evaluator::predictLamp(Predictions& predictions) const
{
    if (!bearsLowMains(m_job.found.topology) || !m_e.lamp || !m_e.lamp_w || m_job.found.dcFed())
        return;
    const double mains_v = m_job.need.mains.v_v;
    LampLimitInput in = lampInput(m_job, m_e);
    in.lamps_w = {*m_e.lamp_w};
    const auto share = [&](double idle_w) {
        in.idle_w = idle_w;
        return lampLimit(in).loaded.v_unit_v.value_or(0.3 * mains_v) / mains_v;
    };
    constexpr double unknown_room = 2;     // iron and heaters by usual figures may be twice that
    const double usual_idle_w = in.idle_w; // share() writes over it
    const double high = share(0);
    const double low = share(unknown_room * usual_idle_w);
    const bool regulated = m_job.found.topology != Topology::Unregulated;
    predictions.lamp_share_min = low;
    predictions.lamp_share_max = regulated ? 1 : high;
    // A regulator holds its output until what is left of its input no longer reaches.
    const auto& direct = m_job.found.direct;
    if (regulated && direct.min_v && m_e.found_v) {
        const double planned_v = m_e.planned_v.value_or(*m_e.found_v);
        const double reach_v = *direct.min_v * low - m_job.found.regulator.drop_v.value_or(2);
        predictions.lamp_share_min = std::clamp(reach_v / planned_v, 0.1, 1.0);
    }
}

/// What the change asks to be tried: the current limit at the output, the battery's way round.
void Evaluator::predictTrials(Predictions& predictions) const
{
    const CurrentSense sense = plannedSupply(m_job).current_limit;
    if (m_job.plan.shunt && !sense.primary_side) {
        const LimitView view = limitView(m_job, m_e);
        if (view.result && view.result->i_limit_min_a && view.result->i_limit_max_a)
            predictions.limit_a = ReadingWindow{view.result->i_limit_min_a, view.result->i_limit_max_a};
    }
    if (m_job.need.load.kind != LoadKind::Battery || !predictions.planned)
        return;
    const double flat_v =
        m_job.need.load.battery.v_flat_v.value_or(battery_flat_share * predictions.planned->min_v);
    const double most_v = predictions.planned->max_v - flat_v;
    predictions.polarity_v =
        ReadingWindow{std::nullopt, std::max(most_v, battery_step_share * predictions.planned->max_v)};
}

/// Where the units stand when they are joined as planned.
void Evaluator::predictUnits(Predictions& predictions) const
{
    const auto& join = m_job.plan.join;
    if (!join || m_job.others.empty())
        return;
    const BusModel bus = busModel(m_job, m_e);
    const StackModel stack = stackModel(m_job, m_e);
    std::optional<BusState> shared;
    if (join->kind == Joining::SideBySide && bus.input) {
        shared = busState(*bus.input);
        predictions.match_v = matchFor(m_job, *bus.input);
    }
    std::optional<StackResult> stacked;
    if (join->kind == Joining::Stacked && stack.input)
        stacked = sourcesSeries(*stack.input);
    for (std::size_t unit = 1; unit <= unitCount(m_job); ++unit) {
        Predictions::Unit out{.name = unitName(m_job, unit),
                              .tag = unitTag(unit),
                              .set_v = unitSet(m_job, m_e, unit).value_or(0),
                              .lead_a = std::nullopt,
                              .top_v = std::nullopt};
        if (shared)
            out.lead_a = shared->units[unit - 1].current_a;
        if (stacked)
            out.top_v = stacked->units[unit - 1].high_v;
        predictions.units.push_back(std::move(out));
    }
}

Predictions::Leg Evaluator::changedLeg() const
{
    const DividerOption& option = m_e.planned->option;
    const FoundDivider& divider = *m_e.divider;
    const bool top = joinsTop(option.method);
    const OhmRange leg = OhmRange::of(top ? divider.top : divider.bottom, divider.found_tolerance);
    const OhmRange other = OhmRange::of(top ? divider.bottom : divider.top, divider.found_tolerance);
    const OhmRange& added = option.added_range;
    const OhmRange alone{joinedLeg(option.method, leg.min_ohm, added.min_ohm),
                         joinedLeg(option.method, leg.max_ohm, added.max_ohm)};
    return {alone, parallelOhm(alone.min_ohm, other.min_ohm)};
}

void Evaluator::evaluateSteps()
{
    Predictions predictions{};
    // Before-readings are judged by the divider alone, not by themselves.
    predictions.found = m_e.found_plain;
    predictPlanned(predictions);
    if (m_run != nullptr && m_job.found.topology == Topology::Unregulated)
        for (const ChainRun::Lighter& lighter : m_run->lighter)
            predictions.lighter.emplace_back(lighter.share, withSpread(*m_run, lighter.v));
    if (m_e.planned && m_e.divider)
        predictions.changed_leg = changedLeg();
    predictions.lamp_w = m_e.lamp_w;
    predictLamp(predictions);
    predictRails(predictions);
    predictUnits(predictions);
    for (std::size_t unit = 1; unit <= unitCount(m_job); ++unit) {
        MainsBearing found = bearsMains(m_job, unit, Condition::Found);
        MainsBearing planned = bearsMains(m_job, unit, Condition::Planned);
        predictions.bears.push_back(
            {found.verdict, std::move(found.why), planned.verdict, std::move(planned.why)});
    }
    m_e.bears = predictions.bears;
    predictions.trimmer = trimmerUse(m_job, m_e);
    predictions.energy_found = energyModel(m_job, Condition::Found);
    predictions.energy_planned = energyModel(m_job, Condition::Planned);
    predictTrials(predictions);
    predictions.load_v = m_e.load_v;
    predictions.own_current_a = m_e.own_current_a;
    for (Step& step : changeProcedure(m_job, predictions)) {
        StepView view{.step = std::move(step),
                      .status = StepStatus::Open,
                      .ticked_at_s = {},
                      .readings = {},
                      .refusal = {}};
        judgeStep(view);
        m_e.steps.push_back(std::move(view));
    }
    // Once every step has been judged: power looks at those before it.
    for (std::size_t i = 0; i < m_e.steps.size(); ++i) {
        m_e.steps[i].refusal = refusalOf(i);
        if (m_e.steps[i].step.stage == Stage::BringUp)
            diagnose(m_e.steps[i]);
    }
    for (const LogEntry& entry : m_job.log)
        if (entry.kind == LogKind::SignedOff && !m_struck.contains(entry.id)) {
            m_e.signed_off = true;
            m_signed_by_words = entry.by_words.value_or(false);
        }
}

void Evaluator::judgeStep(StepView& view)
{
    view.readings.resize(view.step.asks.size());
    for (const LogEntry& entry : m_job.log) {
        if (entry.step != view.step.id || m_struck.contains(entry.id))
            continue;
        if (entry.kind == LogKind::Tick) {
            const bool same = entry.by_words.value_or(false) ? entry.text && view.step.namedBy(*entry.text)
                                                             : entry.text == view.step.fingerprint();
            view.status = same ? StepStatus::Done : StepStatus::Again;
            view.ticked_at_s = entry.time_s;
        }
        if (entry.kind != LogKind::Reading)
            continue;
        for (std::size_t i = 0; i < view.step.asks.size(); ++i) {
            const Asked& asked = view.step.asks[i];
            // Another unit of a batch has its own column.
            if (asked.unit != entry.unit || !asked.answeredBy(*entry.point, *entry.quantity))
                continue;
            const double u = entry.uncertainty.value_or(0);
            // A negative rail, or the clips the other way round: what is left counts by its size.
            const double judged = view.step.kind == StepKind::Prove ? std::abs(*entry.value) : *entry.value;
            view.readings[i] = {entry.id,
                                entry.time_s,
                                *entry.value,
                                u,
                                asked.quantity,
                                entry.load,
                                judgeReading({.value = judged, .window = asked.window, .uncertainty = u})};
        }
    }
}

void Evaluator::diagnose(const StepView& view)
{
    for (std::size_t i = 0; i < view.readings.size(); ++i) {
        const auto& taken = view.readings[i];
        if (!taken || view.step.asks[i].point != m_rail.name || taken->judgement.verdict != Verdict::Breaks)
            continue;
        if (const auto in = diagnosisInput(m_job, std::abs(taken->value), taken->u,
                                           m_hunting ? Observed::Hunting : Observed::Steady)) {
            m_e.diagnosis = dividerDiagnose(*in);
            m_e.diagnosed_reading = formatVolts(taken->value);
        }
    }
}

std::string Evaluator::refusalOf(std::size_t at) const
{
    const StepView& view = m_e.steps[at];
    const Step& step = view.step;
    if (std::string reason = refusal(step.kind, m_e.isolation); !reason.empty())
        return reason;
    if (step.kind == StepKind::Isolate && m_e.isolation.state == Isolation::Live)
        return "Declare every source off first.";
    if (step.is(Does::Prove) && m_e.isolation.state != Isolation::ProvenDead)
        return m_e.isolation.missing.empty() ? "Not every reservoir is proven below 10 V yet."
                                             : "It cannot become proven dead: " + m_e.isolation.missing + ".";
    // What is inside an opened case is read dead, whatever kind of step it is.
    if (step.is(Does::ReadParts) && m_e.isolation.state != Isolation::ProvenDead)
        return "The charge is not proven gone: measure every reservoir below 10 V first.";
    for (std::size_t i = 0; i < view.readings.size(); ++i) {
        if (step.is(Does::Prove))
            break; // its readings are counted by the isolation state
        if (!view.readings[i])
            return "Log the reading first: " + step.asks[i].name() + ".";
        if (view.readings[i]->judgement.verdict == Verdict::Breaks)
            return "The reading of " + step.asks[i].name() + " is outside its window.";
    }
    if (step.watches_lamp)
        if (std::string reason = lampRefusal(view); !reason.empty())
            return reason;
    if (step.kind == StepKind::Look && step.id == "change.fit")
        return "Choose in Plan what to change first.";
    return step.kind == StepKind::Power ? powerRefusal(at) : std::string();
}

/// Every unit's earth, then what must have been done since it was last powered, then a reading behind the
/// limiter.
std::string Evaluator::powerRefusal(std::size_t at) const
{
    const Step& step = m_e.steps[at].step;
    for (std::size_t unit = 1; unit <= unitCount(m_job); ++unit)
        if (!step.unit || *step.unit == unit)
            if (std::string reason = earthRefusal(unit); !reason.empty())
                return reason;
    std::size_t from = at;
    while (from > 0 && m_e.steps[from - 1].step.kind != StepKind::Power)
        --from;
    for (std::size_t i = from; i < at; ++i) {
        const Step& before = m_e.steps[i].step;
        const bool wanted = before.kind == StepKind::Touch || before.is(Does::SecondLook);
        // Nobody equipped for it: it stays an open point of the sign-off.
        if (wanted && !before.is(Does::InsulationTest) && m_e.steps[i].status != StepStatus::Done)
            return "First: " + before.title + ".";
    }
    return step.through == Through::Direct ? limiterRefusal(at) : std::string();
}

/// The newest reading counts, and only one taken after the last work on the unit's mains side.
std::string Evaluator::earthRefusal(std::size_t unit) const
{
    const Supply& supply = unitSupply(m_job, unit);
    if (supply.dcFed() || supply.earth_class != EarthClass::ClassI)
        return {};
    std::set<std::string> mains_work;
    for (const StepView& view : m_e.steps)
        if (view.step.unit.value_or(1) == unit &&
            (view.step.is(Does::WorkMainsSide) || view.step.is(Does::LinkWindings)))
            mains_work.insert(view.step.id);
    const LogEntry* earth = nullptr;
    bool touched_since = false;
    for (const LogEntry& entry : m_job.log) {
        if (m_struck.contains(entry.id))
            continue;
        if (entry.kind == LogKind::Tick && entry.step && mains_work.contains(*entry.step))
            touched_since = true;
        if (entry.kind == LogKind::Reading && entry.point == "earth" &&
            entry.quantity == Quantity::Resistance && entry.unit == unitTag(unit)) {
            earth = &entry;
            touched_since = false;
        }
    }
    const std::string of = unit == 1 ? "" : " #" + std::to_string(unit);
    if (earth == nullptr)
        return "Log the earth continuity first: earth 0.08R" + of + ".";
    if (touched_since)
        return "The mains side was worked on since: log the earth continuity again: earth 0.08R" + of + ".";
    constexpr double guide_ohm = 0.5;
    if (*earth->value > guide_ohm)
        return "The newest earth reading" + of + " is " + formatOhms(*earth->value) +
               ": no power until it is 0.5 Ω or less.";
    return {};
}

/// Full mains only after a reading behind the limiter that fits, of each unit, with nothing touched inside
/// since.
std::string Evaluator::limiterRefusal(std::size_t at) const
{
    const Step& power = m_e.steps[at].step;
    for (std::size_t unit = 1; unit <= unitCount(m_job); ++unit) {
        if (power.unit && *power.unit != unit)
            continue;
        for (std::size_t i = at; i-- > 0;) {
            const StepView& view = m_e.steps[i];
            if (view.step.unit && *view.step.unit != unit)
                continue;
            if (view.step.is(Does::ReadOutput) && view.step.kind == StepKind::Probe) {
                if (view.status != StepStatus::Done)
                    return "Read the output behind the limiter first: " + view.step.title + ".";
                break;
            }
        }
    }
    return {};
}

/// A dark lamp is normal while the output is there: a reading inside its window says that it is.
std::string Evaluator::lampRefusal(const StepView& view) const
{
    if (!m_lamp)
        return "Say what the lamp did: lamp flash, dark, bright or pulsing.";
    switch (*m_lamp) {
    case LampSeen::Dark: {
        const bool there = !view.readings.empty() && view.readings.front() &&
                           std::abs(view.readings.front()->value) > dark_output_v;
        if (there)
            return {};
        return "The lamp stayed dark and there is no output: no current. Isolate; look at fuse, switch and "
               "primary.";
    }
    case LampSeen::Bright:
        return "The lamp stayed bright: a short, or a lamp too small. Isolate.";
    case LampSeen::Pulsing:
        return "The lamp pulses: hiccup, starved or overloaded. Isolate.";
    case LampSeen::In:
    case LampSeen::Out:
    case LampSeen::Flash:
        break;
    }
    return {};
}

/// What was seen since the unit was last switched on.
void Evaluator::sinceLive()
{
    for (const LogEntry& entry : m_job.log) {
        if (entry.kind == LogKind::Live || entry.kind == LogKind::Opened) {
            m_lamp.reset();
            m_hunting = false;
        }
        if (m_struck.contains(entry.id))
            continue;
        if (entry.kind == LogKind::Hunting)
            m_hunting = true;
        if (entry.kind == LogKind::Lamp && entry.lamp != LampSeen::In && entry.lamp != LampSeen::Out)
            m_lamp = entry.lamp;
    }
}

double Evaluator::stepShare(Stage stage) const
{
    double all = 0;
    double done = 0;
    for (const StepView& view : m_e.steps) {
        if (view.step.stage != stage)
            continue;
        all += 1;
        done += view.status == StepStatus::Done ? 1 : 0;
    }
    return all > 0 ? done / all : 0;
}

void Evaluator::evaluateStages()
{
    const Need& need = m_job.need;
    const double need_share = ((need.target ? 2 : 0) + (need.current_a ? 1 : 0)) / 3.0;
    double read = 0;
    for (const ConsequenceRow& row : m_e.consequences.rows)
        read += row.verdict != Verdict::Unknown ? 1 : 0;
    const double rows = std::max<double>(1, static_cast<double>(m_e.consequences.rows.size()));
    const bool planned = changesAnything(m_job);
    const bool wants_divider = !m_e.divider && !planned && m_job.found.topology != Topology::Unregulated;
    const double found_share = (wants_divider ? 0 : 0.3) + 0.4 * read / rows + 0.3 * stepShare(Stage::Found);
    const double plan_share = !planned ? 0 : m_e.counts.breaks == 0 ? 1 : 0.6;
    const auto next_title = [this](Stage stage) {
        const StepView* next = nextStep(m_e, stage);
        return next != nullptr ? next->step.title : std::string();
    };
    m_e.stages = {
        StageView{need_share, need.target ? "" : "Say what the load wants."},
        StageView{found_share, wants_divider ? "Enter reference and divider." : next_title(Stage::Found)},
        StageView{plan_share, !planned ? "Choose what to change." : ""},
        StageView{stepShare(Stage::Change), next_title(Stage::Change)},
        StageView{stepShare(Stage::BringUp), next_title(Stage::BringUp)},
        StageView{stepShare(Stage::SignOff), next_title(Stage::SignOff)}};
    collectBlocks();
    // A signature holds only while nothing is open: another plan opens the steps it changes.
    m_e.signed_off = m_e.signed_off && m_e.blocks.empty();
}

/// What was measured to a case stands above what was entered: a bond that is there counts nowhere as
/// floating.
void Evaluator::blockFalseBonds()
{
    const auto bonded = [&](std::string_view point, const std::optional<std::string>& unit) {
        const LogEntry* entry = newestReading(m_job, point, Quantity::Resistance, unit, ReadingStage::Found);
        return entry != nullptr && entry->value && *entry->value < bonded_below_ohm;
    };
    for (std::size_t unit = 1; unit <= unitCount(m_job); ++unit)
        if (unitSupply(m_job, unit).joint.bonded == Bond::None && bonded("bond", unitTag(unit)))
            m_e.blocks.push_back(unitName(m_job, unit) +
                                 " counts as floating, but its output was measured bonded to its case.");
    if (m_job.plan.join && !m_job.plan.join->earthed_node && bonded("load-earth", {}))
        m_e.blocks.push_back(m_job.need.load.name +
                             " counts as earthed nowhere, but it was measured bonded to its case.");
}

void Evaluator::collectBlocks()
{
    auto& blocks = m_e.blocks;
    if (!m_job.need.target)
        blocks.emplace_back("The need has no voltage window.");
    if (!changesAnything(m_job))
        blocks.emplace_back("Nothing is planned.");
    for (const ConsequenceRow& row : m_e.consequences.rows) {
        const RowInfo& info = rowInfo(row.id);
        const bool accepted =
            std::ranges::any_of(m_job.plan.accepted, [&row](const Acceptance& a) { return a.covers(row); });
        if (row.verdict == Verdict::Breaks && (info.mains_side || !accepted))
            blocks.push_back(row.part + ", " + row.quantity + ": breaks.");
        // The switch must be read only where the change raises its stress.
        const bool must_know = info.needed_for_sign_off && !m_job.found.dcFed() &&
                               (row.id != RowId::SwitchVoltage || row.worse || !row.planned);
        if (row.verdict == Verdict::Unknown && must_know)
            blocks.push_back(row.part + ", " + row.quantity + ": not read. Read " + row.read_next + ".");
    }
    for (const Wire& wire : m_job.found.wires)
        if (!wire.measured)
            blocks.push_back("Wire " + wire.name + ": its function was not measured.");
    blockFalseBonds();
    const MainsBearing bearing = bearsMains(m_job, 1, Condition::Planned);
    if (bearing.verdict == Verdict::Unknown || bearing.verdict == Verdict::Breaks)
        blocks.push_back("Not known to bear " +
                         (m_job.need.mains.v_assumed ? "the mains" : formatVolts(m_job.need.mains.v_v)) +
                         ": " + bearing.why);
    std::size_t open = 0;
    const StepView* first_open = nullptr;
    for (const StepView& view : m_e.steps)
        if (view.status != StepStatus::Done) {
            ++open;
            first_open = first_open == nullptr ? &view : first_open;
        }
    // A version-1 signature was given for the steps of its time: it stands while none of them is to be done
    // again.
    const bool again =
        std::ranges::any_of(m_e.steps, [](const StepView& view) { return view.status == StepStatus::Again; });
    if (first_open != nullptr && (again || !m_signed_by_words))
        blocks.push_back(std::to_string(open) + (open == 1 ? " step is" : " steps are") +
                         " open, first: " + first_open->step.title + ".");
}

} // namespace offshoot
