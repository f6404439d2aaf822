// The figures of a job as found and as planned, and their consequences.
#include "core/evaluate/evaluator.h"
#include "core/evaluate/evidence_view.h"
#include "core/evaluate/safe_view.h"
#include "core/evaluate/stations.h"
#include "core/job/readings.h"
#include "core/kinds/divider/temporary_trimmer.h"
#include "core/kinds/dummy_load/dummy_load_view.h"
#include "core/kinds/joined/units.h"
#include "core/kinds/kind.h"
#include "core/kinds/planned.h"
#include "core/kinds/wire/wire_view.h"
#include "core/supply/power_path.h"
#include "core/values/format.h"
#include "core/values/remembered.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace offshoot {

namespace {

constexpr std::size_t most_candidates = 60;

/// The latest unstruck before-reading of the rail with the least load on it.
const LogEntry* beforeEntry(const Job& job, const Rail& rail)
{
    const LogEntry* best = nullptr;
    const auto load = [](const LogEntry& e) {
        return e.load ? loadAmps(e).value_or(std::numeric_limits<double>::infinity()) : 0;
    };
    for (const LogEntry* entry : foundReadings(job, rail))
        if (*entry->value * rail.sign() > 0 && (best == nullptr || load(*entry) <= load(*best)))
            best = entry;
    return best;
}

std::string needLine(const Job& job)
{
    const Need& need = job.need;
    if (!need.target)
        return "What does the load want? Start with the need.";
    const double half = (need.target->max_v - need.target->min_v) / 2;
    const bool centred =
        std::abs((need.target->max_v + need.target->min_v) / 2 - need.target->v) < 1e-6 * need.target->v;
    std::string line = significant(need.target->v, 4) + " V" +
                       (centred ? " ±" + significant(half, 2) + " V"
                                : " (" + significant(need.target->min_v, 4) + " to " +
                                      significant(need.target->max_v, 4) + ")");
    if (need.current_a)
        line += ", " + formatValue(*need.current_a, Quantity::Current);
    const Rail& rail = job.found.rails.front();
    if (!job.found.name.empty())
        line += " from a " + job.found.name;
    if (rail.v_v)
        line += ", " + significant(*rail.v_v, 4) + " V";
    if (rail.i_rated_a)
        line += ' ' + formatValue(*rail.i_rated_a, Quantity::Current);
    if (job.found.dcFed()) {
        const DirectInput& feed = job.found.direct;
        return line + (feed.min_v && feed.max_v ? " · on DC, " + significant(*feed.min_v, 3) + " to " +
                                                      significant(*feed.max_v, 3) + " V"
                                                : " · its feed not given");
    }
    if (need.mains.v_assumed)
        return line + " · mains not given";
    return line + " · mains " + significant(need.mains.v_v, 4) + " V ±" +
           significant(need.mains.spread * 100, 2) + " %, " + significant(need.mains.f_hz, 3) + " Hz";
}

} // namespace

Figures Evaluator::figures()
{
    makeFigures();
    return static_cast<Figures&&>(m_e);
}

void Evaluator::makeFigures()
{
    m_e.divider = m_rail.feedback.divider();
    m_e.found_v = m_rail.v_v;
    m_e.unit = plannedUnit(m_job);
    if (const LogEntry* entry = beforeEntry(m_job, m_rail))
        inferLegs(std::abs(*entry->value));
    if (m_e.divider)
        evaluateFound();
    else if (const LogEntry* entry = beforeEntry(m_job, m_rail))
        m_e.found_v = std::abs(*entry->value);
    findRails();
    if (m_e.divider && m_job.need.target)
        evaluatePlan();
    planSetPoint();
    planRails();
    m_e.joined = joinedUnits(m_job, m_e);
    setOwnCurrent();
    m_e.load_v = loadVoltage(m_job, m_e);
    evaluateConsequences();
}

Evaluation Evaluator::run()
{
    makeFigures();
    m_e.need_line = needLine(m_job);
    m_energy_found = energyModel(m_job, Condition::Found);
    m_energy_planned = energyModel(m_job, m_e.unit.supply, plannedChain(m_job));
    m_e.energy = poweredSinceChange(m_job) ? m_energy_planned : m_energy_found;
    m_e.isolation = isolationAt(m_job.log, m_e.energy, m_now_s);
    chooseLimiter();
    sinceLive();
    evaluateSteps();
    m_e.rails = railViews(m_job, m_e);
    m_e.units = unitViews(m_job, m_e);
    m_e.path = powerPath(m_job.found);
    m_e.stations = stationViews(m_job, m_e);
    evaluateStages();
    return std::move(m_e);
}

DividerSolveInput Evaluator::solveInput() const
{
    DividerSolveInput in{
        .divider = *m_e.divider, .target = *unitTarget(m_job), .stock = m_job.drawer, .before = {}};
    in.max_parts = m_job.plan.max_parts;
    in.limit = 6;
    if (m_e.before_possible)
        in.before = m_e.before;
    return in;
}

void Evaluator::inferLegs(double before_v)
{
    const Feedback& feedback = m_rail.feedback;
    const auto& reference = feedback.reference;
    if (reference && feedback.bottom)
        m_e.inferred_top_ohm = topLegFor(before_v, feedback.bottom->ohm(), *reference);
    if (reference && feedback.top)
        m_e.inferred_bottom_ohm = bottomLegFor(before_v, feedback.top->ohm(), *reference);
}

/// What each rail gives: its before-reading, else what its label says.
void Evaluator::findRails()
{
    for (const Rail& rail : m_job.found.rails) {
        const LogEntry* entry = beforeEntry(m_job, rail);
        m_e.rails_found_v.push_back(entry != nullptr ? std::optional(std::abs(*entry->value)) : rail.v_v);
    }
    m_e.rails_found_v.front() = m_e.found_v;
}

void Evaluator::evaluateFound()
{
    const FoundDivider& divider = *m_e.divider;
    m_e.found_plain = plainRange(divider, std::nullopt);
    m_e.found_v = dividerVoltage(divider.reference.v_ref_v, divider.reference.i_ref_a, divider.nominal());
    const LogEntry* entry = beforeEntry(m_job, m_rail);
    if (entry == nullptr)
        return;
    m_e.before = BeforeReading{std::abs(*entry->value), entry->uncertainty.value_or(0)};
    m_e.before_possible = m_e.before->v > divider.reference.v_ref_v &&
                          rangeGivenReading(divider, *m_e.before, std::nullopt).has_value();
    if (!m_e.before_possible)
        m_e.before_message = "The divider as entered gives " + fixed(m_e.found_plain->min_v, 2) + " to " +
                             fixed(m_e.found_plain->max_v, 2) + " V and cannot give " +
                             fixed(m_e.before->v, 2) + " V. Read the legs and the reference again.";
    m_e.found_v = m_e.before->v;
}

namespace {

Candidate candidateOf(const FoundDivider& divider, DividerOption option)
{
    const auto plain = plainRange(divider, AddedRange{option.method, option.added_range});
    const VoltageRange worst{option.worst_min_v, option.worst_max_v};
    return {std::move(option), plain.value_or(worst)};
}

/// What a search gave to choose from.
struct Searched
{
    ExactOhms exact;
    std::vector<Candidate> candidates;
};

Searched search(const DividerSolveInput& in)
{
    DividerSolveResult solved = dividerSolve(in);
    Searched found{.exact = solved.exact, .candidates = {}};
    for (DividerOption& option : solved.options) {
        // The same ohms from coarser parts come later in the order and add nothing to choose from.
        const bool known = std::ranges::any_of(found.candidates, [&](const Candidate& c) {
            return c.option.method == option.method && c.option.shape == option.shape &&
                   c.option.parts_ohm == option.parts_ohm;
        });
        if (!known && found.candidates.size() < most_candidates)
            found.candidates.push_back(candidateOf(in.divider, std::move(option)));
    }
    return found;
}

} // namespace

void Evaluator::evaluatePlan()
{
    const DividerSolveInput in = solveInput();
    // Half of an evaluation, and most edits leave the divider, the drawer and the voltage alone; undo brings
    // the ones before back.
    thread_local Remembered<DividerSolveInput, Searched, 4> searches;
    const Searched& searched = searches.of(in, search);
    m_e.exact = searched.exact;
    m_e.candidates = searched.candidates;
    if (const auto& chosen = m_job.plan.chosen) {
        m_e.planned =
            candidateOf(*m_e.divider, evaluateOption(in, chosen->method, chosen->network, chosen->parts));
        m_e.planned_legs = withAdded(chosen->method, m_e.divider->nominal(), chosen->network.ohm());
    }
    const TrimmerPlan& trimmer = m_job.plan.trimmer;
    if (const auto& exact = m_e.exact.ohm[static_cast<std::size_t>(trimmer.method)]; exact && *exact > 0)
        m_e.usual_trimmer = usualTrimmerFor(*exact);
    m_e.trimmer =
        dividerPot({.divider = *m_e.divider,
                    .method = trimmer.method,
                    .pot_ohm = trimmer.pot_ohm,
                    .fixed_ohm = trimmer.fixed_ohm,
                    .wiper_tied = trimmer.wiper_tied,
                    .measured_ohm = trimmer.measured_ohm ? trimmer.measured_ohm : trimmerReading(m_job),
                    .target = unitTarget(m_job)});
    m_e.trimmer_preset = m_e.found_plain;
    if (const double ohm = trimmer.fixed_ohm + m_e.trimmer->preset_ohm; ohm > 0) {
        constexpr double by_hand = 0.05;  // set by ohmmeter
        constexpr double of_travel = 0.2; // a trimmer's whole resistance
        const bool at_stop = m_e.trimmer->preset_ohm == trimmer.pot_ohm;
        const double tolerance = by_hand + (at_stop ? (of_travel - by_hand) * trimmer.pot_ohm / ohm : 0.0);
        const DividerOption preset =
            evaluateOption(in, trimmer.method, Network(ohm), {{.ohm = ohm, .tolerance = tolerance}});
        m_e.trimmer_preset = VoltageRange{preset.worst_min_v, preset.worst_max_v};
    }
}

/// The set point stays where it was found until a kind of change moves it. A mains winding has no loop: there
/// what its chain gives on its load is what there is.
void Evaluator::planSetPoint()
{
    if (!changesAnything(m_job))
        return;
    if (m_run != nullptr && m_job.found.topology == Topology::Unregulated && m_e.found_v) {
        m_e.planned_v = m_run->result.load.v.v_mean_v;
        m_e.planned_range = withSpread(*m_run, *m_e.planned_v);
    } else if (m_e.found_v) {
        const LogEntry* entry = beforeEntry(m_job, m_rail);
        const double u_v = entry != nullptr ? entry->uncertainty.value_or(0) : 0;
        m_e.planned_v = m_e.found_v;
        m_e.planned_range = VoltageRange{*m_e.planned_v - u_v, *m_e.planned_v + u_v};
    }
    for (const Kind* kind : plannedKinds(m_job))
        if (kind->set_point != nullptr)
            kind->set_point(m_job, m_run, m_e);
}

void Evaluator::setOwnCurrent()
{
    m_e.own_current_a = m_job.need.current_a;
    if (!m_e.own_current_a || !m_e.joined || m_job.plan.join->kind == Joining::Stacked)
        return;
    const auto& shared = m_e.joined->shared;
    m_e.own_current_a =
        shared ? shared->units.front().current_a : *m_e.own_current_a / static_cast<double>(unitCount(m_job));
}

/// A rail that follows moves with the first one.
void Evaluator::planRails()
{
    for (std::size_t i = 0; i < m_job.found.rails.size(); ++i) {
        const Rail& rail = m_job.found.rails[i];
        auto planned_v = i == 0 ? m_e.planned_v : m_e.rails_found_v[i];
        if (i > 0 && planned_v && movesWith(rail, m_rail) && m_e.planned_v && m_e.found_v)
            planned_v =
                followedVoltage(m_job.found, {rail, *planned_v}, {m_rail, *m_e.found_v}, *m_e.planned_v);
        m_e.rails_planned_v.push_back(planned_v);
    }
    for (const Kind* kind : plannedKinds(m_job))
        if (kind->set_rails != nullptr)
            kind->set_rails(m_job, m_e);
}

void Evaluator::evaluateConsequences()
{
    if (!m_job.need.target)
        return;
    const Mains& mains = m_job.need.mains;
    ConsequencesInput in{
        .supply = m_e.unit.supply, .mains = {.f_hz = mains.f_hz}, .load = m_e.unit.load, .plan = {}};
    if (!mains.v_assumed)
        in.mains.v_v = mains.v_v;
    if (!mains.spread_assumed)
        in.mains.spread = mains.spread;
    // Another unit's own plate says what it gives.
    const bool other_unit = std::ranges::any_of(plannedKinds(m_job), &Kind::replaces);
    for (std::size_t i = 0; !other_unit && i < std::min(in.supply.rails.size(), m_e.rails_found_v.size());
         ++i)
        in.supply.rails[i].v_v = m_e.rails_found_v[i];
    // Nothing regulates it: what the chain gives without load is the highest, once it is simulated.
    const bool chained = m_job.found.topology == Topology::Unregulated && plannedChain(m_job) != nullptr;
    if (chained && (m_run != nullptr || m_job.plan.chain))
        in.supply.direct.max_v = m_run != nullptr ? std::optional(m_run->result.no_load_v) : std::nullopt;
    Rail& rail = in.supply.rails.front();
    const Target target = *unitTarget(m_job);
    RailPlan plan{.v_v = target.v, .min_v = target.min_v, .max_v = target.max_v, .i_a = m_e.own_current_a};
    if (m_e.planned_v) {
        plan.v_v = *m_e.planned_v;
        plan.min_v = std::min(plan.v_v, m_e.planned_range->min_v);
        plan.max_v = std::max(plan.v_v, m_e.planned_range->max_v);
    }
    in.plan.emplace_back(rail.name, plan);
    for (const std::size_t i : m_e.rails_set)
        if (i < in.supply.rails.size())
            in.plan.emplace_back(in.supply.rails[i].name, RailPlan{.v_v = *m_e.rails_planned_v[i]});
    m_e.consequences = consequences(in);
    if (chained || std::ranges::any_of(plannedKinds(m_job), &Kind::rebuilds))
        foundAsItWas(in);
    // What was found is judged with the planned parts: a smaller fuse makes its row worse than found.
    for (ConsequenceRow& row : m_e.consequences.rows)
        if (row.id == RowId::FuseCurrent && in.supply.fuse.value_a < m_job.found.fuse.value_a)
            row.worse = true;
    for (const Kind* kind : plannedKinds(m_job))
        if (kind->answers != nullptr)
            std::erase_if(m_e.consequences.rows, kind->answers);
    for (const auto& more : {evidenceRows(m_job, m_e.unit.supply), kindRows(m_job, m_e, m_run)})
        m_e.consequences.rows.insert(m_e.consequences.rows.end(), more.begin(), more.end());
    // The chain's own rows judge its capacitors, without load too.
    if (chained)
        std::erase_if(m_e.consequences.rows, [](const ConsequenceRow& row) {
            return row.id == RowId::OutputCapacitorVoltage || row.id == RowId::BulkVoltage;
        });
    m_e.consequences.verdict = countAndSort(m_e.consequences.rows);
    for (const ConsequenceRow& row : m_e.consequences.rows) {
        if (!row.counted)
            continue;
        m_e.counts.breaks += row.verdict == Verdict::Breaks ? 1 : 0;
        m_e.counts.tight += row.verdict == Verdict::Tight ? 1 : 0;
        m_e.counts.unknown += row.verdict == Verdict::Unknown ? 1 : 0;
    }
}

/// Where the plan changes the supply itself (turns, a resistor across a rail), the found figures are those of
/// the unit as it was, and what is worse follows from them.
void Evaluator::foundAsItWas(ConsequencesInput in)
{
    in.supply = m_job.found;
    for (std::size_t i = 0; i < in.supply.rails.size(); ++i)
        in.supply.rails[i].v_v = m_e.rails_found_v[i];
    const ConsequencesResult as_found = consequences(in);
    for (ConsequenceRow& row : m_e.consequences.rows) {
        const auto was = std::ranges::find_if(as_found.rows,
                                              [&](const ConsequenceRow& r) { return r.key() == row.key(); });
        const std::optional<double> found = was == as_found.rows.end() ? std::nullopt : was->found;
        if (found == row.found)
            continue;
        row.found = found;
        if (!row.planned || !row.use || !row.limit)
            continue;
        const bool upper = std::abs(*row.use * *row.limit - *row.planned) <= 1e-9 * *row.planned;
        row.worse = !found || (upper ? *row.planned > *found : *row.planned < *found);
    }
}

void Evaluator::chooseLimiter()
{
    if (!m_job.need.target || !m_e.own_current_a || m_job.need.mains.v_assumed)
        return;
    LampLimitInput in = lampInput(m_job, m_e);
    m_e.lamp_w = chooseLamp(in.mains_v, in.idle_w + in.load_w / *in.efficiency);
    if (!m_e.lamp_w)
        return;
    in.lamps_w = {*m_e.lamp_w};
    m_e.lamp = lampLimit(in);
}

} // namespace offshoot
