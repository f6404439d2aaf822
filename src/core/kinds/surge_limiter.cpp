// A resistor that limits the surge at switch-on, with its bypass.
#include "core/job/mains_views.h"
#include "core/kinds/modules.h"
#include "core/procedure/change_procedure.h"
#include "core/values/figures.h"

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.limiter.has_value(); }

void lines(const Job& job, std::vector<std::string>& all)
{
    const auto& ohm = job.plan.limiter->r_ohm;
    all.push_back("surge limiter" + (ohm ? " " + formatOhms(*ohm) : ""));
}

void steps(ChangeProcedure& procedure)
{
    const auto limiter = plannedLimiter(procedure.job());
    Step& step = procedure.add("change.limiter", Stage::Change, StepKind::Touch, "Fit the surge limiter",
                               limiterConnections(procedure.job()).sentence +
                                   " Sleeved leads, away from wires and plastics.",
                               {Does::WorkMainsSide, Does::ConnectWire});
    step.unit = procedure.stepUnit(1);
    if (limiter) {
        step.title += ", " + formatOhms(limiter->result.r_ohm);
        step.parts = {formatOhms(limiter->result.r_ohm)};
        step.detail += " Bypass not before " + formatValue(limiter->result.bypass_min_s, Quantity::Time) +
                       ". " + limiter->stuck;
    }
    step.drawing = "limiter";
    step.cautions = {Caution::HotParts, Caution::PlugPins};
}

void wiring(const Job& job, const Evaluation& /*evaluation*/, std::vector<Connections>& all)
{
    all.push_back(limiterConnections(job));
    all.back().station = Station::Inrush;
}

void parts(const Job& job, const Evaluation& /*evaluation*/, PartList& list)
{
    const LimiterPlan& limiter = *job.plan.limiter;
    const InrushView view = inrushView(job);
    const auto ohm = view.limiter ? std::optional(view.limiter->r_ohm) : limiter.r_ohm;
    list.add("surge limiter" + (ohm ? " " + formatOhms(*ohm) : "") +
                 (limiter.power_w ? ", " + watts(*limiter.power_w) : ""),
             "in series with the live conductor");
    list.add("bypass relay", "across the limiter");
    if (view.delay_parts)
        for (const double part : view.delay_parts->network.parts())
            list.addResistor(part, {}, {}, "the relay's delay");
    if (limiter.delay_c_f)
        list.add("capacitor " + formatValue(*limiter.delay_c_f, Quantity::Capacitance), "the relay's delay");
}

std::vector<ConsequenceRow> rows(const Job& job, const Evaluation& /*evaluation*/, const ChainRun* /*run*/)
{
    return limiterRows(job);
}

} // namespace

const Kind surge_limiter{.word = "surge_limiter",
                         .planned = planned,
                         .on_mains_side = planned,
                         .lines = lines,
                         .steps = steps,
                         .wiring = wiring,
                         .parts = parts,
                         .rows = rows,
                         .pictures = surgePictures};

} // namespace offshoot::kind
