// Another shunt for the current limit.
#include "core/kinds/current_limit/current_limit_view.h"
#include "core/kinds/modules.h"

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.shunt.has_value(); }

void apply(const Job& job, PlannedUnit& unit)
{
    const ShuntPlan& shunt = *job.plan.shunt;
    unit.supply.current_limit.shunt = shunt.network;
    unit.supply.current_limit.shunt_tolerance = shunt.tolerance;
    unit.supply.current_limit.part_power_w = shunt.part_power_w;
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

void parts(const Job& job, const Figures& /*figures*/, PartList& list)
{
    const ShuntPlan& shunt = *job.plan.shunt;
    const auto& old = job.found.current_limit.shunt;
    for (const double ohm : shunt.network.parts())
        list.addResistor(ohm, shunt.tolerance, shunt.part_power_w, "current shunt",
                         old ? old->prettyText() : "");
}

void pictures(const Job& job, const Figures& figures, const ChainRun* /*run*/,
              std::vector<ReportPicture>& all)
{
    const LimitView view = limitView(job, figures);
    if (!view.result || !view.result->i_limit_a)
        return;
    const LimitResult& r = *view.result;
    addLanes(
        all, "The limit between what the load draws and what the supply bears",
        {{"limits at least at",
          Quantity::Current,
          view.input->load_a,
          view.input->rated_a,
          {},
          r.i_limit_min_a},
         {"limits at", Quantity::Current, view.input->load_a, view.input->rated_a, {}, r.i_limit_a},
         {"at most at", Quantity::Current, view.input->load_a, view.input->rated_a, {}, r.i_limit_max_a}});
}

void tryLimit(ChangeProcedure& p, const std::optional<ReadingWindow>& window)
{
    Step& limit =
        p.add("bringup.limit", Stage::BringUp, StepKind::Probe, "Try the current limit",
              p.job().found.current_limit.primary_side
                  ? "Raise the load slowly past full load until the output falls, not longer than it "
                    "takes to read: the shunt limits the switch's peak, so log at which output current."
                  : "Raise the load slowly until the output falls, not longer than it takes to read, and "
                    "log the current: limit 2.9A.",
              {Does::TryLimit});
    limit.unit = p.stepUnit(1);
    limit.asks.push_back({"limit", Quantity::Current,
                          window ? std::optional(p.widened(*window, Quantity::Current)) : std::nullopt,
                          std::nullopt, "the planned limit, worst case"});
    limit.cautions = {Caution::HotParts};
    p.outputCautions(limit);
}

/// Where the limit lies, at the output: a shunt on the primary side limits another current.
Work work(const Job& job, const Figures& figures)
{
    std::optional<ReadingWindow> window;
    const LimitView view = limitView(job, figures);
    if (!figures.unit.supply.current_limit.primary_side && view.result && view.result->i_limit_min_a &&
        view.result->i_limit_max_a)
        window = ReadingWindow{view.result->i_limit_min_a, view.result->i_limit_max_a};
    return {.fit = steps, .at_load = [window](ChangeProcedure& p) { tryLimit(p, window); }};
}

} // namespace

const Kind current_limit{.name = "current_limit",
                         .planned = planned,
                         .work = work,
                         .apply = apply,
                         .lines = lines,
                         .parts = parts,
                         .pictures = pictures};

} // namespace offshoot::kind
