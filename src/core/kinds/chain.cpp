// Another rectifier, other smoothing.
#include "core/kinds/modules.h"
#include "core/procedure/change_procedure.h"

#include <algorithm>

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.chain.has_value(); }

void lines(const Job& /*job*/, std::vector<std::string>& all)
{
    all.emplace_back("rectifier and smoothing changed");
}

void steps(ChangeProcedure& procedure)
{
    const Job& job = procedure.job();
    Step& step = procedure.add(
        "change.chain", Stage::Change, StepKind::Touch, "Change rectifier and smoothing",
        chainSentence(job) + " Polarity of every capacitor, the rectifier's way round, a bleeder across "
                             "each reservoir.",
        {Does::WorkOutputSide, Does::TakeOut});
    step.unit = procedure.stepUnit(1);
    step.parts = chainParts(*job.plan.chain);
    if (!job.found.mains_side.idle_years)
        step.detail += " A capacitor that has lain for two years or more is formed first: enter how "
                       "long it lay under Lamp, discharge.";
    step.drawing = "chain";
    step.cautions = {Caution::OldCapacitors};
    if (procedure.hasValves())
        step.cautions.push_back(Caution::ValveEquipment);
}

void wiring(const Job& job, const Evaluation& /*evaluation*/, std::vector<Connections>& all)
{
    all.push_back(chainConnections(*job.plan.chain, job.found.mains_side.chain, job.need.load.name));
    all.back().sentence = chainSentence(job);
    all.back().station = Station::OutputRectifier;
}

void parts(const Job& job, const Evaluation& /*evaluation*/, PartList& list)
{
    const auto& found = job.found.mains_side.chain;
    const auto old = found ? chainParts(*found) : std::vector<std::string>{};
    for (const std::string& name : chainParts(*job.plan.chain))
        if (std::ranges::count(old, name) == 0)
            list.add(name, "rectifier and smoothing", old.empty() ? "" : "what stood there");
}

std::vector<ConsequenceRow> rows(const Job& job, const Evaluation& /*evaluation*/, const ChainRun* run)
{
    return chainRows(job, run);
}

} // namespace

const Kind chain{.planned = planned,
                 .lines = lines,
                 .steps = steps,
                 .wiring = wiring,
                 .parts = parts,
                 .rows = rows,
                 .pictures = chainPictures};

} // namespace offshoot::kind
