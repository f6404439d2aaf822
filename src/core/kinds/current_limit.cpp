// Another shunt for the current limit.
#include "core/kinds/modules.h"
#include "core/procedure/change_procedure.h"

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.shunt.has_value(); }

void apply(const Job& job, Supply& supply, Load& /*load*/)
{
    const ShuntPlan& shunt = *job.plan.shunt;
    supply.current_limit.shunt = shunt.network;
    supply.current_limit.shunt_tolerance = shunt.tolerance;
    supply.current_limit.part_power_w = shunt.part_power_w;
}

void lines(const Job& job, std::vector<std::string>& all)
{
    all.push_back("shunt " + job.plan.shunt->network.prettyText());
}

void steps(ChangeProcedure& procedure)
{
    const std::string network = procedure.job().plan.shunt->network.prettyText();
    Step& step = procedure.add(
        "change.shunt", Stage::Change, StepKind::Touch, "Fit the shunt " + network,
        "Sense leads at the part itself (Kelvin): solder and track inside the sensed path count.",
        {Does::WorkOutputSide});
    step.unit = procedure.stepUnit(1);
    step.parts = {network};
}

void parts(const Job& job, const Evaluation& /*evaluation*/, PartList& list)
{
    const ShuntPlan& shunt = *job.plan.shunt;
    const auto& old = job.found.current_limit.shunt;
    for (const double ohm : shunt.network.parts())
        list.addResistor(ohm, shunt.tolerance, shunt.part_power_w, "current shunt",
                         old ? old->prettyText() : "");
}

} // namespace

const Kind current_limit{.planned = planned,
                         .apply = apply,
                         .lines = lines,
                         .steps = steps,
                         .parts = parts,
                         .pictures = limitPictures};

} // namespace offshoot::kind
