// A resistor across a rail that needs a least load.
#include "core/kinds/modules.h"
#include "core/procedure/change_procedure.h"
#include "core/values/figures.h"

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.dummy_load.has_value(); }

void apply(const Job& job, Supply& supply, Load& /*load*/)
{
    const DummyLoadPlan& dummy = *job.plan.dummy_load;
    Rail* rail = railNamed(supply, dummy.rail);
    if (rail == nullptr)
        return;
    const auto& w = dummy.part_power_w;
    rail->minimum_load = {.fitted = true,
                          .r_ohm = dummy.network.ohm(),
                          .power_w = w ? std::optional(*w * static_cast<double>(dummy.network.parts().size()))
                                       : std::nullopt};
}

void lines(const Job& job, std::vector<std::string>& all)
{
    all.push_back("dummy load " + job.plan.dummy_load->network.prettyText() + " on " +
                  job.plan.dummy_load->rail);
}

/// What it draws and the heat in it, at what its rail is to give.
std::string heat(const DummyLoadPlan& dummy, const std::optional<double>& v)
{
    if (!v)
        return {};
    const double ohm = dummy.network.ohm();
    return "At " + volts(*v) + " it draws " + formatValue(*v / ohm, Quantity::Current, 2) + " and turns " +
           formatValue(*v * *v / ohm, Quantity::Power, 2) +
           " into heat, over all its parts: rated for twice that. ";
}

void steps(ChangeProcedure& procedure)
{
    const DummyLoadPlan& dummy = *procedure.job().plan.dummy_load;
    const bool outside = procedure.job().found.sealed();
    Step& step = procedure.add(
        "change.dummy_load", Stage::Change, StepKind::Touch,
        "Fit the dummy load " + dummy.network.prettyText() + " on " + dummy.rail,
        heat(dummy, procedure.testVolts(dummy.rail)) +
            "On metal or in moving air, away from wires and capacitors; behind the output's fuse or "
            "connector if there is one.",
        outside ? std::vector{Does::LoadResistive} : std::vector{Does::WorkOutputSide, Does::LoadResistive});
    step.unit = procedure.stepUnit(1);
    step.parts = {dummy.network.prettyText(), dummy.rail};
    step.cautions = {Caution::HotParts};
}

void parts(const Job& job, const Evaluation& /*evaluation*/, PartList& list)
{
    const DummyLoadPlan& dummy = *job.plan.dummy_load;
    for (const double ohm : dummy.network.parts())
        list.addResistor(ohm, {}, dummy.part_power_w, "dummy load on " + dummy.rail);
}

} // namespace

const Kind dummy_load{.planned = planned,
                      .inside = false,
                      .rebuilds = true,
                      .apply = apply,
                      .lines = lines,
                      .steps = steps,
                      .parts = parts,
                      .pictures = dummyLoadPictures};

} // namespace offshoot::kind
