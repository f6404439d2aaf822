#include "core/evaluate/ways.h"

#include "core/evaluate/choose_view.h"
#include "core/evaluate/parts.h"
#include "core/evaluate/step_times.h"
#include "core/judge/row_maker.h"
#include "core/kinds/chain/chain_view.h"
#include "core/kinds/current_limit/current_limit_view.h"
#include "core/kinds/divider/temporary_trimmer.h"
#include "core/kinds/dummy_load/dummy_load_view.h"
#include "core/kinds/joined/joined_units.h"
#include "core/kinds/kind.h"
#include "core/kinds/module/module_view.h"
#include "core/kinds/replace/wanted.h"
#include "core/kinds/rewind/rewind_view.h"
#include "core/kinds/surge_limiter/inrush_view.h"
#include "core/kinds/trim/trim_view.h"
#include "core/kinds/windings/windings_view.h"
#include "core/kinds/wire/wire_view.h"
#include "core/values/figures.h"
#include "core/values/typed_words.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace offshoot {

namespace {

/// A plan to try, or what stops it before anything is worked out.
struct Tried
{
    std::optional<Job> job = {};
    std::string stopped_by = {};
};
Tried stopped(std::string why) { return {{}, std::move(why)}; }

/// Works the ways of one job out.
class WaysMaker
{
public:
    WaysMaker(const Job& job, const std::vector<ShelfEntry>& shelf)
        : m_shelf(shelf)
        , m_bare(job)
    {
        m_bare.plan = {};
        m_bare.plan.max_parts = job.plan.max_parts;
        m_bare.plan.accepted = job.plan.accepted;
        m_base = evaluate(m_bare, 0);
    }

    std::vector<WorkedWay> run()
    {
        for (std::size_t i = 0; i < Words<Way>::list.size(); ++i)
            m_ways.push_back(worked(static_cast<Way>(i)));
        std::ranges::stable_sort(m_ways, {}, [](const WorkedWay& way) {
            return std::tuple(way.concerned ? 0 : 1, badness(way.verdict),
                              way.plan || way.stopped_by.empty() ? 0 : 1, way.opens_mains_side ? 1 : 0,
                              way.minutes);
        });
        return std::move(m_ways);
    }

private:
    WorkedWay worked(Way way)
    {
        WorkedWay made{.way = way, .concerned = concerned(way), .reversible = way != Way::Rewind};
        Tried tried = attempt(way);
        if (!tried.job) {
            made.stopped_by = std::move(tried.stopped_by);
            made.verdict = Verdict::Breaks;
            if (way == Way::ExternalTransformer)
                transformerInFront(made);
            return made;
        }
        weigh(made, *tried.job);
        if (way == Way::Divider)
            together(made, *tried.job);
        return made;
    }

    /// It leaves the supply as it is: the label says for what, the load how large. A guide, a quarter to
    /// spare.
    void transformerInFront(WorkedWay& made) const
    {
        if (!made.stopped_by.empty())
            return;
        constexpr double spare = 1.25;
        const auto& clues = m_bare.found.mains_side.clues;
        const auto label = std::ranges::find_if(
            clues, [](const Clue& clue) { return clue.kind == ClueKind::Label && clue.min_v && clue.max_v; });
        const auto& current_a = m_bare.need.current_a;
        if (label == clues.end() || !m_bare.need.target || !current_a) {
            made.stopped_by = "read its label, and say what the load draws: for which mains, and how large";
            return;
        }
        const double mains_v = m_bare.need.mains.v_v;
        if (within(mains_v, *label->min_v, *label->max_v)) {
            made.stopped_by = "its label permits this mains: it needs none";
            return;
        }
        const double output_v = m_bare.need.target->v;
        const double va = spare * output_v * *current_a /
                          (efficiencyOf(m_bare.found, output_v) * rows::usual::power_factor);
        made.verdict = Verdict::Tight;
        made.how = significant(mains_v, 3) + " V to " + significant((*label->min_v + *label->max_v) / 2, 3) +
                   " V, " + significant(va, 2) + " VA or more (at a power factor of " +
                   significant(rows::usual::power_factor, 2) + ", a quarter to spare)";
        made.parts = made.to_get = 1;
        made.minutes = minutesOf(m_base, 0);
    }

    /// What the plan brings: reach, rows, steps, parts.
    void weigh(WorkedWay& made, const Job& job) const
    {
        const Evaluation e = evaluate(job, 0);
        made.verdict = Verdict::Fits;
        for (const ConsequenceRow& row : e.consequences.rows) {
            // What somebody accepted stops nothing.
            const bool accepted =
                std::ranges::any_of(job.plan.accepted, [&](const Acceptance& a) { return a.covers(row); });
            const Verdict verdict = accepted && row.verdict == Verdict::Breaks ? Verdict::Tight : row.verdict;
            if (row.counted)
                made.verdict = worse(made.verdict, verdict);
            if (!made.worst || badness(verdict) > badness(made.worst->verdict)) {
                made.worst = row;
                made.worst->verdict = verdict;
            }
        }
        if (movesVoltage(made.way))
            judgeVoltage(made, e);
        if (made.verdict == Verdict::Breaks && made.stopped_by.empty() && made.worst)
            made.stopped_by = made.worst->part + ", " + made.worst->quantity;
        made.opens_mains_side = std::ranges::any_of(e.steps, [](const StepView& view) {
            return view.step.stage == Stage::Change && view.step.is(Does::WorkMainsSide);
        });
        for (const Connections& connections : plannedConnections(job, e))
            made.joints += jointsOf(connections);
        constexpr int ends = 2; // of a dummy load or another part, which no wiring lists
        made.joints += ends * static_cast<int>(job.plan.refits.size() + (job.plan.dummy_load ? 1 : 0));
        for (const PartLine& part : partsOf(job, e))
            if (!part.tool) {
                ++made.parts;
                made.to_get += part.to_get ? 1 : 0;
            }
        made.minutes = minutesOf(e, made.joints);
        for (Unread& unread : unreadOf(job, e))
            if (unread.decides)
                made.needs.push_back(std::move(unread));
        std::string how;
        for (const std::string& line : plannedChanges(job))
            how += (how.empty() ? "" : "; ") + line;
        made.how = std::move(how);
        if (made.way != Way::AsFound)
            made.plan = job.plan;
    }

    static bool movesVoltage(Way way)
    {
        switch (way) {
        case Way::AsFound:
        case Way::Trim:
        case Way::Divider:
        case Way::TemporaryTrimmer:
        case Way::Rewind:
        case Way::Stacked:
        case Way::Swap:
        case Way::Module:
            return true;
        default:
            return false;
        }
    }

    void judgeVoltage(WorkedWay& made, const Evaluation& e) const
    {
        const auto& target = m_bare.need.target;
        auto v = e.planned_v ? e.planned_v : e.found_v;
        if (made.way == Way::Stacked && e.joined && e.joined->stacked)
            v = e.joined->stacked->total_v;
        if (made.way != Way::Stacked && e.planned_range)
            made.reaches = e.planned_range;
        else if (v)
            made.reaches = VoltageRange{*v, *v};
        if (!target)
            return;
        if (!v) {
            made.verdict = worse(made.verdict, Verdict::Unknown);
            return;
        }
        if (!within(*v, target->min_v, target->max_v)) {
            made.verdict = Verdict::Breaks;
            made.stopped_by =
                "gives " + volts(*v) + ", wanted are " + volts(target->min_v) + " to " + volts(target->max_v);
        } else if (!within(made.reaches->min_v, target->min_v, target->max_v) ||
                   !within(made.reaches->max_v, target->min_v, target->max_v)) {
            made.verdict = worse(made.verdict, Verdict::Tight);
        }
    }

    /// One lane where the divider alone breaks, and with a dummy load or other turns does not.
    void together(WorkedWay& made, const Job& alone) const
    {
        for (const auto& other : {&WaysMaker::dummyLoad, &WaysMaker::rewind}) {
            if (made.verdict != Verdict::Breaks)
                return;
            const Tried both = other(alone);
            if (!both.job)
                continue;
            WorkedWay lane{
                .way = made.way, .concerned = made.concerned, .reversible = !both.job->plan.rewind};
            weigh(lane, *both.job);
            if (badness(lane.verdict) < badness(made.verdict))
                made = std::move(lane);
        }
    }

    Tried attempt(Way way) const
    {
        Job job = m_bare;
        switch (way) {
        case Way::AsFound:
            return {m_bare, {}};
        case Way::Trim:
            return trim();
        case Way::Divider:
            return divider();
        case Way::TemporaryTrimmer:
            return temporaryTrimmer();
        case Way::Rewind:
            return rewind(m_bare);
        case Way::DummyLoad:
            return dummyLoad(m_bare);
        case Way::CurrentLimit:
            return currentLimit();
        case Way::Wire:
            return wire();
        case Way::Sense:
            if (!m_bare.found.rails.front().sense.fitted)
                return stopped("it has no sense terminals");
            job.plan.remote_sense = true;
            return {std::move(job), {}};
        case Way::SideBySide:
        case Way::Stacked:
            if (job.others.empty())
                return stopped("there is one unit in the job: add another in Found");
            job.plan.join = JoinPlan{.kind = way == Way::Stacked ? Joining::Stacked : Joining::SideBySide};
            return {std::move(job), {}};
        case Way::Windings:
            return windings();
        case Way::ExternalTransformer:
            return stopped(m_bare.found.dcFed() ? "it runs on DC" : "");
        case Way::Rectifier:
            return chain();
        case Way::Limiter:
            return limiter();
        case Way::Swap:
            return swap();
        case Way::Module:
            return module();
        }
        return {};
    }

    Tried trim() const
    {
        const auto& trimmers = m_bare.found.trimmers;
        if (trimmers.empty())
            return stopped("it has no trimmer");
        std::string why;
        for (std::size_t i = 0; i < trimmers.size(); ++i) {
            const TrimView view = trimView(m_bare, i);
            if (!view.result || !view.result->best_scale || !view.result->feasible) {
                why = view.sentence;
                continue;
            }
            Job job = m_bare;
            job.plan.trim = TrimPlan{.trimmer = trimmers[i].name, .scale = *view.result->best_scale};
            return {std::move(job), {}};
        }
        return stopped(why);
    }

    Tried divider() const
    {
        if (!m_base.divider)
            return stopped("its divider is not read");
        if (m_base.candidates.empty())
            return stopped("nothing in the drawer comes near");
        const DividerOption& best = m_base.candidates.front().option;
        Job job = m_bare;
        job.plan.chosen = ChosenNetwork{best.method, best.network, best.parts};
        return {std::move(job), {}};
    }

    Tried temporaryTrimmer() const
    {
        Tried tried = divider();
        if (!tried.job)
            return tried;
        if (!m_base.usual_trimmer)
            return stopped("no usual trimmer finds this value");
        Plan& plan = tried.job->plan;
        plan.route = Route::TemporaryTrimmer;
        plan.trimmer.method = plan.chosen->method;
        plan.trimmer.pot_ohm = m_base.usual_trimmer->pot_ohm;
        plan.trimmer.fixed_ohm = m_base.usual_trimmer->fixed_ohm;
        if (const auto use = trimmerUse(*tried.job, figuresOf(*tried.job)); use && !use->problem.empty())
            return stopped(use->problem);
        return tried;
    }

    static Tried rewind(const Job& on)
    {
        const Rail& rail = on.found.rails.front();
        const RewindView view = rewindView(on, figuresOf(on), rail);
        if (!view.result)
            return stopped(view.sentence);
        if (view.result->best_turns == view.input->secondary_turns)
            return stopped("the turns that are there come nearest");
        Job job = on;
        job.plan.rewind = RewindPlan{.rail = rail.name, .turns = view.result->best_turns};
        return {std::move(job), {}};
    }

    static Tried dummyLoad(const Job& on)
    {
        const Rail& rail = on.found.rails.front();
        const MinimumLoadView view = minimumLoadView(on, figuresOf(on), rail);
        if (view.options.empty())
            return stopped(view.sentence);
        Job job = on;
        job.plan.dummy_load = dummyLoadPlan(rail.name, view.options.front());
        return {std::move(job), {}};
    }

    Tried currentLimit() const
    {
        const LimitView view = limitView(m_bare, m_base);
        if (!view.result || !view.result->options || view.result->options->empty())
            return stopped(view.sentence);
        Job job = m_bare;
        job.plan.shunt = shuntPlan(view.result->options->front());
        return {std::move(job), {}};
    }

    Tried wire() const
    {
        const WireView view = wireView(m_bare, m_base);
        if (view.sizes.empty())
            return stopped(view.sentence);
        Job job = m_bare;
        job.plan.wire = view.sizes.front().wire;
        return {std::move(job), {}};
    }

    Tried windings() const
    {
        const WindingsView view = windingsView(m_bare);
        if (!view.result || view.result->connections.empty())
            return stopped(view.sentence);
        Job job = m_bare;
        job.plan.connection = connectionPlan(view.result->connections.front());
        return {std::move(job), {}};
    }

    Tried chain() const
    {
        if (!m_bare.found.mains_side.chain)
            return stopped("its rectifier and smoothing are not entered");
        Job job = m_bare;
        job.plan.chain = m_bare.found.mains_side.chain;
        return {std::move(job), {}};
    }

    Tried limiter() const
    {
        if (m_bare.found.dcFed())
            return stopped("it runs on DC");
        Job job = m_bare;
        job.plan.limiter = LimiterPlan{};
        if (!plannedLimiter(job))
            return stopped("the surge it may draw is not read");
        return {std::move(job), {}};
    }

    Tried swap() const
    {
        if (m_shelf.empty())
            return stopped("the shelf is empty");
        const auto serves = [](const ChooseView& view) {
            return !view.options.empty() && view.options.front().verdict != Verdict::Breaks;
        };
        ChooseView view = chooseView(m_bare, m_base, m_shelf, 1);
        if (!serves(view))
            view = chooseView(m_bare, m_base, m_shelf, 2);
        if (view.options.empty())
            return stopped(view.sentence);
        if (!serves(view))
            return stopped("nothing on the shelf serves it");
        Job job = m_bare;
        planReplacement(job, replacePlan(view.options.front(), m_shelf));
        placeUnits(job);
        return {std::move(job), {}};
    }

    Tried module() const
    {
        if (m_shelf.empty())
            return stopped("the shelf is empty");
        const ModuleView view = moduleView(m_bare, m_shelf);
        if (view.options.empty())
            return stopped(view.sentence);
        Job job = m_bare;
        planModule(job, m_shelf.at(view.options.front().at));
        return {std::move(job), {}};
    }

    /// Whether a row of the unit as it was found asks for it.
    bool pressed(std::initializer_list<RowId> ids) const
    {
        return std::ranges::any_of(m_base.consequences.rows, [&](const ConsequenceRow& row) {
            return std::ranges::find(ids, row.id) != ids.end() &&
                   (row.verdict == Verdict::Breaks || row.verdict == Verdict::Tight);
        });
    }

    bool servesAsFound() const
    {
        const auto& target = m_bare.need.target;
        return target && m_base.found_v && within(*m_base.found_v, target->min_v, target->max_v);
    }

    /// What the aim names is among them, whatever the figures say.
    bool named(Way way) const
    {
        using enum Way;
        const auto isOneOf = [way](std::initializer_list<Way> ways) {
            return std::ranges::find(ways, way) != ways.end();
        };
        if (!m_bare.need.aim)
            return false;
        switch (*m_bare.need.aim) {
        case Aim::Voltage:
            return isOneOf({Trim, Divider, Rewind});
        case Aim::Mains:
            return isOneOf({Windings, ExternalTransformer});
        case Aim::Cure:
            return isOneOf({DummyLoad, CurrentLimit, Rectifier, Limiter});
        case Aim::Several:
            return isOneOf({SideBySide, Stacked});
        case Aim::FarEnd:
            return isOneOf({Wire, Sense});
        case Aim::Replace:
            return isOneOf({Swap, Module});
        case Aim::Bench:
            return isOneOf({CurrentLimit, Swap, Module});
        }
        return false;
    }

    bool concerned(Way way) const
    {
        if (named(way))
            return true;
        const bool voltage = m_bare.need.target && !servesAsFound();
        const auto& bears = m_base.bears.front();
        const bool mains = !m_bare.found.dcFed() && bears.found == Verdict::Breaks;
        switch (way) {
        case Way::AsFound:
            return m_bare.need.target.has_value();
        case Way::Trim:
        case Way::Divider:
        case Way::TemporaryTrimmer:
        case Way::Rewind:
            return voltage;
        case Way::Stacked:
            return m_bare.need.target && m_base.found_v && *m_base.found_v < m_bare.need.target->min_v;
        case Way::Swap:
            return m_bare.need.target && m_bare.need.current_a;
        case Way::Module:
            return voltage && (isLinear(m_bare.found.topology) || m_bare.found.dcFed());
        case Way::DummyLoad:
            return pressed({RowId::MinimumLoadPower, RowId::BatteryBackFeed});
        case Way::CurrentLimit:
        case Way::SideBySide:
            return pressed({RowId::OutputCurrent, RowId::WindingCurrent, RowId::BatteryFlatCurrent});
        case Way::Wire:
        case Way::Sense:
            return pressed({RowId::CableDrop, RowId::CableDensity});
        case Way::Windings:
        case Way::ExternalTransformer:
            return mains;
        case Way::Rectifier:
            return pressed({RowId::ChainOutput, RowId::ChainRipple, RowId::ChainPeak, RowId::ChainReverse});
        case Way::Limiter:
            return pressed({RowId::SurgePeak});
        }
        return false;
    }

    const std::vector<ShelfEntry>& m_shelf;
    Job m_bare; ///< without a plan
    Evaluation m_base;
    std::vector<WorkedWay> m_ways;
};

} // namespace

double minutesOf(const Evaluation& evaluation, int joints)
{
    double minutes = joint_minutes * joints;
    for (const StepView& view : evaluation.steps)
        if (view.status != StepStatus::Done)
            minutes += handsMinutes(view.step) + view.step.wait_s.value_or(0) / 60;
    return minutes;
}

std::vector<WorkedWay> waysOf(const Job& job, const std::vector<ShelfEntry>& shelf)
{
    return WaysMaker(job, shelf).run();
}

} // namespace offshoot
