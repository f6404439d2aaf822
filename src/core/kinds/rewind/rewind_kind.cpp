// Other turns on a rail's winding.
#include "core/kinds/modules.h"
#include "core/kinds/rewind/rewind_view.h"

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.rewind.has_value(); }

/// Fewer turns on the secondary raise every ratio counted against it.
void apply(const Job& job, PlannedUnit& unit)
{
    const RewindPlan& rewind = *job.plan.rewind;
    Rail* rail = railNamed(unit.supply, rewind.rail);
    if (rail == nullptr || !rail->winding.turns)
        return;
    const double share = static_cast<double>(*rail->winding.turns) / static_cast<double>(rewind.turns);
    const auto ratio = turnsRatio(unit.supply, *rail);
    rail->winding.turns = rewind.turns;
    if (ratio)
        rail->winding.primary_turns_per_secondary = *ratio * share;
    if (rail == &unit.supply.rails.front() && unit.supply.transformer.auxiliary_turns_per_secondary)
        *unit.supply.transformer.auxiliary_turns_per_secondary *= share;
    // In front of a linear regulator the turns set what it is fed with.
    if (isLinear(unit.supply.topology))
        for (auto* v : {&unit.supply.direct.min_v, &unit.supply.direct.mean_v, &unit.supply.direct.max_v})
            if (*v)
                **v /= share;
}

void lines(const Job& job, std::vector<std::string>& all)
{
    all.push_back(job.plan.rewind->rail + " rewound to " + std::to_string(job.plan.rewind->turns) + " turns");
}

void steps(ChangeProcedure& procedure)
{
    const RewindPlan& rewind = *procedure.job().plan.rewind;
    const Rail* rail = railNamed(procedure.job().found, rewind.rail);
    const auto turns = rail != nullptr ? rail->winding.turns : std::nullopt;
    Step& step = procedure.add(
        "change.rewind", Stage::Change, StepKind::Touch,
        "Rewind " + rewind.rail + " to " + std::to_string(rewind.turns) + " turns",
        (turns ? "Found " + std::to_string(*turns) + " turns. " : std::string()) +
            "Note start, finish and direction before the first turn comes off. Same wire class, the "
            "insulation between primary and secondary made again as it was; the core's gap unchanged.",
        {Does::TakeOut, Does::WorkOutputSide});
    if (!procedure.dc())
        step.does.push_back(Does::WorkMainsSide);
    step.unit = procedure.stepUnit(1);
    step.parts = {rewind.rail, std::to_string(rewind.turns) + " turns"};
    step.cautions = {Caution::LentOrUnattended};
}

void parts(const Job& job, const Figures& /*figures*/, PartList& list)
{
    list.add("wire of the same class, insulation between the windings", job.plan.rewind->rail);
}

void schools(const Job& job, const Figures& figures, FiguresOf /*figuresOf*/, std::vector<School>& all)
{
    const Rail* rail = railNamed(job.found, job.plan.rewind->rail);
    if (rail == nullptr)
        return;
    if (auto school = rewindView(job, figures, *rail).school)
        all.push_back(std::move(*school));
}

Work work(const Job& /*job*/, const Figures& /*figures*/)
{
    return {.on_mains_side = true, .fit = steps, .warm = warm_winding};
}

} // namespace

const Kind rewind{.name = "rewind",
                  .planned = planned,
                  .rebuilds = true,
                  .work = work,
                  .apply = apply,
                  .lines = lines,
                  .parts = parts,
                  .schools = schools};

} // namespace offshoot::kind
