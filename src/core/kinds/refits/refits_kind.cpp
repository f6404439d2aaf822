// Parts of another rating, where a row of the consequences breaks.
#include "core/kinds/modules.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return !job.plan.refits.empty(); }

bool onMainsSide(const Job& job)
{
    return std::ranges::any_of(job.plan.refits, [](const Refit& r) { return rowInfo(r.row).mains_side; });
}

void apply(const Job& job, PlannedUnit& unit)
{
    for (const Refit& refit : job.plan.refits)
        if (auto* rating = ratingOf(refit.row, unit.supply, unit.load, refit.rail))
            *rating = refit.rating;
}

std::string figure(const RowInfo& info, double v)
{
    return info.unit ? formatValue(v, *info.unit) : significant(v, 3);
}

/// Sits on a heatsink, as a rule.
bool onHeatsink(RowId row)
{
    return row == RowId::SwitchVoltage || row == RowId::SwitchPeakCurrent || row == RowId::RectifierReverse ||
           row == RowId::RectifierCurrent || row == RowId::JunctionTemperature ||
           row == RowId::InputRectifierReverse;
}

void fit(ChangeProcedure& procedure, const Refit& refit)
{
    const RowInfo& info = rowInfo(refit.row);
    const std::string rating = figure(info, refit.rating);
    const bool fuse = refit.row == RowId::FuseCurrent || refit.row == RowId::FuseVoltage;
    Step& step = procedure.add(
        "change.refit." + std::string(word(refit.row)) + (refit.rail.empty() ? "" : "." + refit.rail),
        Stage::Change, StepKind::Touch, "Fit another " + std::string(info.part),
        std::string(info.rating) + ' ' + rating +
            (fuse ? ". The holder's size, the same speed unless the plan says another, breaking "
                    "capacity not less. Mark it beside the holder."
                  : ". Same polarity; no larger than its place, leads of its pitch; same or better "
                    "ripple and temperature ratings."));
    step.unit = procedure.stepUnit(1);
    step.parts = {std::string(info.part), rating};
    if (fuse)
        step.does = {Does::FitFuse};
    else
        step.does = {Does::TakeOut,
                     info.mains_side && !procedure.dc() ? Does::WorkMainsSide : Does::WorkOutputSide};
    if (fuse && !procedure.dc())
        step.does.push_back(Does::WorkMainsSide);
    if (onHeatsink(refit.row))
        step.detail +=
            " Where it sits on a heatsink: insulating pad and bushing as they were, thin paste, then "
            "ohms from its tab to the heatsink.";
}

void steps(ChangeProcedure& procedure)
{
    for (const Refit& refit : procedure.job().plan.refits)
        fit(procedure, refit);
}

void parts(const Job& job, const Figures& /*figures*/, PartList& list)
{
    for (const Refit& refit : job.plan.refits) {
        const RowInfo& info = rowInfo(refit.row);
        Supply supply = job.found;
        Load load = job.need.load;
        const auto* old = ratingOf(refit.row, supply, load, refit.rail);
        list.add(std::string(info.part) + ", " + std::string(info.rating) + " " + figure(info, refit.rating),
                 refit.rail, old != nullptr && *old ? figure(info, **old) : "what was there");
    }
}

Work work(const Job& job, const Figures& /*figures*/)
{
    return {.on_mains_side = onMainsSide(job), .fit = steps};
}

} // namespace

const Kind refits{
    .name = "refits", .planned = planned, .follows = true, .work = work, .apply = apply, .parts = parts};

} // namespace offshoot::kind
