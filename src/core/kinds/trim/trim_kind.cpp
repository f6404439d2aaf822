// The unit's own trimmer turned: in Bring-up, while its rails are read.
#include "core/kinds/modules.h"
#include "core/kinds/trim/trim_view.h"
#include "core/values/figures.h"

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.trim.has_value(); }

/// Where another divider is planned, that sets it.
void setPoint(const Job& job, const ChainRun* run, Figures& figures)
{
    const bool simulated = job.found.topology == Topology::Unregulated && run != nullptr;
    if (figures.planned || !figures.planned_v || simulated)
        return;
    const double scale = job.plan.trim->scale;
    *figures.planned_v *= scale;
    figures.planned_range->min_v *= scale;
    figures.planned_range->max_v *= scale;
}

void lines(const Job& job, std::vector<std::string>& all)
{
    all.push_back(job.plan.trim->trimmer + " to " + significant(job.plan.trim->scale * 100, 4) +
                  " % of where it stood");
}

void pictures(const Job& job, const Figures& /*figures*/, const ChainRun* /*run*/,
              std::vector<ReportPicture>& all)
{
    const auto& trimmers = job.found.trimmers;
    const auto at = std::ranges::find(trimmers, job.plan.trim->trimmer, &Trimmer::name);
    const auto index =
        at == trimmers.end() ? std::size_t{0} : static_cast<std::size_t>(at - trimmers.begin());
    std::vector<Lane> rails;
    for (const TrimRail& rail : trimView(job, index).input.rails)
        rails.push_back({rail.name + " " + rail.load, Quantity::Voltage, rail.min_v, rail.max_v, rail.v,
                         rail.v * job.plan.trim->scale});
    addLanes(all, "Every rail that the trimmer moves", rails);
}

/// "Until 12V reads 12.31 V at 4 A": nobody can turn by a percentage. Where the droop is not known yet it is
/// turned without load, at which the plan counts.
void turnTrimmer(ChangeProcedure& p)
{
    const TrimPlan& trim = *p.job().plan.trim;
    auto full = p.loadFor(1);
    if (full && !p.droopKnown(full->current_a) && !p.unit().joint.r_out_ohm &&
        p.unit().topology != Topology::Unregulated)
        full.reset();
    Asked asked =
        p.outputAt(p.predictions().planned, full ? full->current_a : 0.0, p.predictions().planned_because);
    std::string goal = "as planned";
    if (asked.window && asked.window->min && asked.window->max)
        goal = "until " + p.rail().name + " reads " + volts((*asked.window->min + *asked.window->max) / 2) +
               (full ? " at " + formatValue(full->current_a, Quantity::Current, 2) : " without load");
    Step& step =
        p.add("bringup.trim", Stage::BringUp, StepKind::Adjust, "Turn " + trim.trimmer + " " + goal,
              (full ? "Full load switched on: " + full->text() + ". " : "Every test load switched off. ") +
                  "Insulated trimming tool, slowly, the primary covered; watch every rail, not only the one "
                  "you want. At its end it is not forced: see Trim.",
              {Does::Adjust, Does::ReadOutput});
    step.unit = p.stepUnit(1);
    step.parts = {trim.trimmer};
    step.asks.push_back(std::move(asked));
    p.askOthers(step, true);
    p.outputCautions(step);
}

Work work(const Job& /*job*/, const Figures& /*figures*/) { return {.inside = false, .set = turnTrimmer}; }

} // namespace

const Kind trim{.name = "trim",
                .planned = planned,
                .work = work,
                .set_point = setPoint,
                .lines = lines,
                .pictures = pictures};

} // namespace offshoot::kind
