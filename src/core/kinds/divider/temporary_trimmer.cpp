#include "core/kinds/divider/temporary_trimmer.h"

#include "core/job/readings.h"
#include "core/values/figures.h"

namespace offshoot {

namespace {

/// Why it is not used; empty where it is.
std::string problemOf(const Job& job, const Figures& e)
{
    const TrimmerPlan& trimmer = job.plan.trimmer;
    if (trimmer.method != job.plan.chosen->method)
        return "The trimmer is entered " + std::string(whereItJoins(trimmer.method)) +
               ", the planned part goes " + std::string(whereItJoins(job.plan.chosen->method)) + ".";
    if (!e.trimmer->max_v || !e.trimmer->preset_v)
        return "At one end of its travel the output runs away: put more fixed resistance in series.";
    if (e.trimmer->open_wiper.runaway)
        return "With its wiper open the output runs away: join the wiper to its far end.";
    if (!e.trimmer->target_ohm)
        return "The target is off its travel.";
    if (job.plan.connection)
        return "The primaries are connected anew, and the first power is for measuring the secondaries.";
    if (!e.bears.empty() && e.bears.front().planned == Verdict::Breaks)
        return e.bears.front().planned_why;
    return {};
}

} // namespace

std::optional<TrimmerUse> trimmerUse(const Job& job, const Figures& figures)
{
    if (job.plan.route != Route::TemporaryTrimmer || !job.plan.chosen || !figures.trimmer)
        return std::nullopt;
    const TrimmerPlan& plan = job.plan.trimmer;
    const DividerPotResult& travel = *figures.trimmer;
    TrimmerUse use{.preset_ohm = travel.preset_ohm,
                   .preset = figures.trimmer_preset,
                   .highest_v = travel.max_v,
                   .problem = problemOf(job, figures)};
    if (travel.window_from && travel.window_to)
        use.serves_ohm = ReadingWindow{plan.fixed_ohm + *travel.window_from * plan.pot_ohm,
                                       plan.fixed_ohm + *travel.window_to * plan.pot_ohm};
    return use;
}

AddedToDivider presetTrimmer(const TrimmerPlan& plan, double preset_ohm)
{
    AddedToDivider added{
        .method = plan.method, .network = std::nullopt, .tolerances = {}, .trimmer_ohm = preset_ohm};
    if (plan.fixed_ohm > 0)
        added.network = Network(plan.fixed_ohm);
    return added;
}

std::optional<double> trimmerReading(const Job& job)
{
    const LogEntry* entry = newestReading(job, trimmer_point, Quantity::Resistance);
    return entry != nullptr ? entry->value : std::nullopt;
}

std::string trimmerSentence(const Job& job)
{
    const TrimmerPlan& plan = job.plan.trimmer;
    std::string what = "the " + formatOhms(plan.pot_ohm) + " trimmer";
    if (plan.fixed_ohm > 0)
        what += " with " + formatOhms(plan.fixed_ohm) + " in series";
    if (plan.wiper_tied)
        what += ", the wiper joined to its far end,";
    std::string text = fittingSentence(what, plan.method, isAdjustableRegulator(job.found), LegNow::AsFound);
    text.front() = text.front() == 't' ? 'T' : text.front();
    return text;
}

} // namespace offshoot
