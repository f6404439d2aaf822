// A module from the shelf in the place of the supply's regulator.
#include "core/kinds/module/module_view.h"
#include "core/kinds/modules.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.module.has_value(); }

/// The source as the module loads it, and the module's ratings; the old regulator's go.
void apply(const Job& job, PlannedUnit& unit)
{
    const ModulePlan& plan = *job.plan.module;
    Supply& supply = unit.supply;
    const UnitOutput& output = plan.entry.unit.outputs.front();
    Rail& rail = supply.rails.front();
    rail.i_rated_a = output.rated_a;
    rail.feedback = {};
    supply.regulator = {.t_ambient_k = supply.regulator.t_ambient_k};
    supply.converter = {};
    supply.current_limit = {};
    if (const auto in = moduleInput(job, plan.entry)) {
        const RegulatorReplaceResult r = regulatorReplace(*in);
        supply.direct.min_v = r.after.in_trough_v;
        supply.direct.mean_v = r.after.source_v;
        supply.direct.max_v =
            std::max(in->source.open_v * (1 + in->source.spread), r.after.in_crest_v.value_or(0));
    }
    if (plan.entry.converts != ModuleKind::Linear && plan.entry.unit.efficiency)
        supply.efficiency = plan.entry.unit.efficiency;
}

void setPoint(const Job& job, const ChainRun* /*run*/, Figures& figures)
{
    const ModulePlan& plan = *job.plan.module;
    const double share = plan.entry.unit.outputs.front().regulation;
    figures.planned.reset(); // a divider of the regulator that goes
    figures.planned_legs.reset();
    figures.planned_v = plan.set_v;
    figures.planned_range = VoltageRange{plan.set_v * (1 - share), plan.set_v * (1 + share)};
}

void lines(const Job& job, std::vector<std::string>& all)
{
    const ModulePlan& plan = *job.plan.module;
    all.push_back(plan.entry.unit.name + " in the old regulator's place, at " + volts(plan.set_v));
}

bool adjustable(const ModulePlan& plan) { return plan.entry.unit.outputs.front().trim_min_v.has_value(); }

void fit(ChangeProcedure& p)
{
    const ModulePlan& plan = *p.job().plan.module;
    const std::string& name = plan.entry.unit.name;
    Step& out =
        p.add("change.module_out", Stage::Change, StepKind::Touch, "Take the old regulator out",
              "Photograph it first. Out come " + regulatorParts(p.job().found.topology) +
                  "; transformer, rectifier, reservoir, fuse and the output's capacitor stay. Its heatsink "
                  "may stay where the module wants one.",
              {Does::Photograph, Does::TakeOut, Does::WorkOutputSide});
    out.unit = p.stepUnit(1);
    out.parts = {regulatorParts(p.job().found.topology)};
    const auto in = moduleInput(p.job(), plan.entry);
    std::string source;
    if (in) {
        const RegulatorReplaceResult r = regulatorReplace(*in);
        if (r.after.in_trough_v && r.after.in_crest_v)
            source =
                " It will see " + volts(*r.after.in_trough_v) + " to " + volts(*r.after.in_crest_v) + ".";
    }
    Step& step =
        p.add("change.module", Stage::Change, StepKind::Touch, "Fit " + name,
              "Its input to the reservoir's plus, its return to the reservoir's minus, its output to where "
              "the old one's was: short leads, a capacitor of 10 µF or more right at its input, one at its "
              "output where its papers ask for it." +
                  source +
                  (plan.entry.converts == ModuleKind::Linear
                       ? " On its heatsink, insulated from it where its tab is not the return."
                       : " Away from what listens: it switches."),
              {Does::WorkOutputSide});
    step.unit = p.stepUnit(1);
    step.parts = {name, volts(plan.set_v)};
    step.drawing = "module";
}

/// The source, as it stands with the module on it.
void readSource(ChangeProcedure& p)
{
    const auto in = moduleInput(p.job(), p.job().plan.module->entry);
    if (!in)
        return;
    const RegulatorReplaceResult r = regulatorReplace(*in);
    if (!r.after.in_trough_v)
        return;
    const double most_v = in->source.open_v * (1 + in->source.spread);
    Step& step = p.add("bringup.source", Stage::BringUp, StepKind::Probe, "Read the source",
                       "On the reservoir, with the light load on: what the module takes its power from.",
                       {Does::ReadOutput});
    step.unit = p.stepUnit(1);
    step.asks.push_back({"bulk", Quantity::Voltage,
                         p.widened(ReadingWindow{*r.after.in_trough_v, most_v}, Quantity::Voltage),
                         std::nullopt, "lowest mains at the peak to highest mains unloaded"});
    p.outputCautions(step);
}

void set(ChangeProcedure& p)
{
    const ModulePlan& plan = *p.job().plan.module;
    if (!adjustable(plan))
        return;
    const auto full = p.loadFor(1);
    Step& step = p.add("bringup.module_set", Stage::BringUp, StepKind::Adjust,
                       "Set " + plan.entry.unit.name + " to " + volts(plan.set_v),
                       (full ? "Full load switched on: " + full->text() + ". " : std::string()) +
                           "Insulated trimming tool, slowly. A drop of varnish holds it when it is right.",
                       {Does::Adjust, Does::ReadOutput});
    step.unit = p.stepUnit(1);
    step.parts = {volts(plan.set_v)};
    step.asks.push_back(p.outputAt(p.predictions().planned,
                                   full ? std::optional(full->current_a) : std::nullopt,
                                   p.predictions().planned_because));
    p.outputCautions(step);
}

void wiring(const Job& job, const Figures& /*figures*/, std::vector<Connections>& all)
{
    all.push_back(moduleConnections(job));
}

void parts(const Job& job, const Figures& /*figures*/, PartList& list)
{
    list.add(job.plan.module->entry.unit.name, "the old regulator's place",
             regulatorParts(job.found.topology), false);
    list.add("capacitor, 10 µF or more, rated above the source's highest", "at the module's input");
}

std::vector<ConsequenceRow> rows(const Job& job, const Figures& /*figures*/, const ChainRun* /*run*/)
{
    return moduleRows(job);
}

/// Its own rows judge what the old regulator's did.
bool answers(const ConsequenceRow& row)
{
    switch (row.id) {
    case RowId::Dropout:
    case RowId::JunctionTemperature:
    case RowId::JunctionShorted:
    case RowId::OutputReach:
    case RowId::InputHeadroom:
    case RowId::BoostFloor:
    case RowId::SwitchPeakCurrent:
    case RowId::ReferenceCathode:
    case RowId::OptocouplerCurrent:
        return true;
    default:
        return false;
    }
}

/// The old regulator made good again, or the module: the plan knows no other one.
void schools(const Job& job, const Figures& /*figures*/, FiguresOf /*figuresOf*/, std::vector<School>& all)
{
    const auto in = moduleInput(job, job.plan.module->entry);
    if (!in)
        return;
    const RegulatorReplaceResult r = regulatorReplace(*in);
    if (!r.before || !r.before->loss_w || !r.after.loss_w)
        return;
    const bool serves = r.verdict != Verdict::Breaks;
    const bool cooler = *r.after.loss_w <= *r.before->loss_w;
    all.push_back({"Repair the regulator or replace it",
                   {{"Repair", watts(*r.before->loss_w) + " lost; the circuit stays as it is drawn"},
                    {"Module", watts(*r.after.loss_w) + " lost" + (serves ? "" : ", and it breaks")}},
                   serves && cooler ? std::size_t{1} : std::size_t{0},
                   !serves  ? "This module does not do here."
                   : cooler ? "It serves here, and burns less."
                            : "The module would burn more than what is there."});
}

Work work(const Job& /*job*/, const Figures& /*figures*/)
{
    return {.fit = fit,
            .at_full_mains = readSource,
            .set = set,
            .warm = WarmPart{"module", 358.15, "usual surface limit of a small module"}};
}

} // namespace

const Kind module{.name = "module",
                  .planned = planned,
                  .rebuilds = true,
                  .replaces = true,
                  .work = work,
                  .apply = apply,
                  .set_point = setPoint,
                  .lines = lines,
                  .wiring = wiring,
                  .parts = parts,
                  .rows = rows,
                  .answers = answers,
                  .schools = schools};

} // namespace offshoot::kind
