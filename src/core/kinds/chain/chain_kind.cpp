// Another rectifier, other smoothing.
#include "core/kinds/chain/chain_view.h"
#include "core/kinds/modules.h"

#include <algorithm>

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.chain.has_value(); }

/// Without a loop what the chain gives on its load is what there is, and unknown until it is simulated.
void setPoint(const Job& job, const ChainRun* run, Figures& figures)
{
    if (job.found.topology != Topology::Unregulated || run != nullptr)
        return;
    figures.planned_v.reset();
    figures.planned_range.reset();
}

void apply(const Job& job, PlannedUnit& unit) { unit.supply.mains_side.chain = job.plan.chain; }

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

void wiring(const Job& job, const Figures& /*figures*/, std::vector<Connections>& all)
{
    all.push_back(chainConnections(*job.plan.chain, job.found.mains_side.chain, job.need.load.name));
    all.back().sentence = chainSentence(job);
    all.back().station = Station::OutputRectifier;
}

void parts(const Job& job, const Figures& /*figures*/, PartList& list)
{
    const auto& found = job.found.mains_side.chain;
    const auto old = found ? chainParts(*found) : std::vector<std::string>{};
    for (const std::string& name : chainParts(*job.plan.chain))
        if (std::ranges::count(old, name) == 0)
            list.add(name, "rectifier and smoothing", old.empty() ? "" : "what stood there");
}

std::vector<ConsequenceRow> rows(const Job& job, const Figures& /*figures*/, const ChainRun* run)
{
    return chainRows(job, run);
}

void pictures(const Job& /*job*/, const Figures& /*figures*/, const ChainRun* run,
              std::vector<ReportPicture>& all)
{
    if (run == nullptr || !run->result.waveforms || run->result.waveforms->t_s.size() < 2)
        return;
    const SimWaveforms& waves = *run->result.waveforms;
    std::vector<double> ms = thinned(waves.t_s);
    for (double& t : ms)
        t *= 1e3;
    all.push_back({"One cycle at the load",
                   curvesSvg(ms, {{"load", thinned(waves.v_load_v), false}}, "milliseconds", "V")});
    all.push_back({"One cycle from the source",
                   curvesSvg(ms, {{"source", thinned(waves.i_source_a), false}}, "milliseconds", "A")});
}

Work work(const Job& /*job*/, const Figures& /*figures*/) { return {.fit = steps}; }

} // namespace

const Kind chain{.name = "chain",
                 .planned = planned,
                 .work = work,
                 .apply = apply,
                 .set_point = setPoint,
                 .lines = lines,
                 .wiring = wiring,
                 .parts = parts,
                 .rows = rows,
                 .pictures = pictures};

} // namespace offshoot::kind
