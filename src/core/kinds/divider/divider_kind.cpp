// A network that joins the feedback divider, found by a temporary trimmer where the route asks for one.
#include "core/kinds/divider/divider_schools.h"
#include "core/kinds/divider/divider_steps.h"
#include "core/kinds/divider/divider_wiring.h"
#include "core/kinds/divider/temporary_trimmer.h"
#include "core/kinds/modules.h"
#include "core/values/format.h"

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.chosen.has_value(); }

void setPoint(const Job& /*job*/, const ChainRun* /*run*/, Figures& figures)
{
    if (!figures.planned)
        return;
    const DividerOption& option = figures.planned->option;
    figures.planned_v = option.v;
    figures.planned_range = VoltageRange{option.worst_min_v, option.worst_max_v};
}

void lines(const Job& job, std::vector<std::string>& all)
{
    all.push_back(job.plan.chosen->network.prettyText() + " " +
                  std::string(whereItJoins(job.plan.chosen->method)));
}

void before(ChangeProcedure& procedure)
{
    const Feedback& feedback = procedure.job().found.rails.front().feedback;
    Step& legs =
        procedure.add("change.legs", Stage::Change, StepKind::Touch, "Measure the legs",
                      "Ohmmeter in circuit, both ways round: other paths can only make it read low.");
    if (feedback.top)
        legs.detail += " Top " + formatOhms(feedback.top->ohm());
    if (feedback.bottom)
        legs.detail += ", bottom " + formatOhms(feedback.bottom->ohm()) + '.';
}

void wiring(const Job& job, const Figures& figures, std::vector<Connections>& all)
{
    const Feedback& feedback = job.found.rails.front().feedback;
    if (const auto use = trimmerUse(job, figures); use && use->problem.empty()) {
        all.push_back(dividerConnections(feedback, presetTrimmer(job.plan.trimmer, use->preset_ohm),
                                         isAdjustableRegulator(job.found)));
        all.back().name = "trimmer";
        all.back().sentence = trimmerSentence(job);
        all.back().station = Station::Smoothing; // where the loop takes what it regulates
    }
    all.push_back(dividerConnections(feedback, plannedDivider(job), isAdjustableRegulator(job.found)));
    all.back().sentence = fittingSentence(job);
    all.back().station = Station::Smoothing;
}

void parts(const Job& job, const Figures& /*figures*/, PartList& list)
{
    const ChosenNetwork& chosen = *job.plan.chosen;
    const Feedback& feedback = job.found.rails.front().feedback;
    const auto& old = joinsTop(chosen.method) ? feedback.top : feedback.bottom;
    const std::string out = replaces(chosen.method) && old ? old->prettyText() : "";
    for (const StockItem& part : chosen.parts)
        list.addResistor(part.ohm, part.tolerance, part.power_w, std::string(whereItJoins(chosen.method)),
                         out);
    if (job.plan.route == Route::TemporaryTrimmer)
        list.add("trimmer " + formatOhms(job.plan.trimmer.pot_ohm), "in the divider for a time");
}

Work work(const Job& job, const Figures& figures)
{
    return {.before = before,
            .fit = [change = dividerChange(job, figures)](ChangeProcedure& p) { changeDivider(p, change); }};
}

} // namespace

const Kind divider{.name = "divider",
                   .planned = planned,
                   .work = work,
                   .set_point = setPoint,
                   .lines = lines,
                   .wiring = wiring,
                   .parts = parts,
                   .schools = dividerSchools};

} // namespace offshoot::kind
