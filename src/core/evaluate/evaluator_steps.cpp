// The steps of a job, judged by its log: what is done, what is read, why a step cannot be ticked.
#include "core/evaluate/evaluator.h"
#include "core/evaluate/mains_bearing.h"
#include "core/job/readings.h"
#include "core/kinds/chain/chain_view.h"
#include "core/kinds/kind.h"
#include "core/kinds/planned.h"
#include "core/values/format.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

/// Less than this is no output.
constexpr double dark_output_v = 0.5;

} // namespace

void Evaluator::evaluateSteps()
{
    Predictions predictions{};
    // Before-readings are judged by the divider alone, not by themselves.
    predictions.found = m_e.found_plain;
    predictPlanned(predictions);
    if (m_run != nullptr && m_job.found.topology == Topology::Unregulated)
        for (const ChainRun::Lighter& lighter : m_run->lighter)
            predictions.lighter.emplace_back(lighter.share, lighter.sound);
    predictions.lamp_w = m_e.lamp_w;
    predictLamp(predictions);
    predictRails(predictions);
    predictUnits(predictions);
    for (std::size_t unit = 1; unit <= unitCount(m_job); ++unit) {
        MainsBearing found = bearsMains(m_job, unit, Condition::Found, m_e.unit.supply);
        MainsBearing planned = bearsMains(m_job, unit, Condition::Planned, m_e.unit.supply);
        predictions.bears.push_back(
            {found.verdict, std::move(found.why), planned.verdict, std::move(planned.why)});
    }
    m_e.bears = predictions.bears;
    predictions.energy_found = std::move(m_energy_found);
    predictions.energy_planned = std::move(m_energy_planned);
    predictPolarity(predictions);
    predictions.load_v = m_e.load_v;
    predictions.own_current_a = m_e.own_current_a;
    std::vector<Step> steps = changeProcedure(m_job, predictions, plannedWork(m_job, m_e));
    m_e.steps.reserve(steps.size());
    for (Step& step : steps) {
        StepView view{.step = std::move(step), .status = StepStatus::Open, .readings = {}, .refusal = {}};
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
    if (*earth->value > earth_max_ohm)
        return "The newest earth reading" + of + " is " + formatOhms(*earth->value) +
               ": no power until it is " + significant(earth_max_ohm, 2) + " Ω or less.";
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

} // namespace offshoot
