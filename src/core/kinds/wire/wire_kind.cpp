// Another wire to the load, and sense wires that follow it there.
#include "core/kinds/modules.h"
#include "core/kinds/wire/wire_view.h"
#include "core/values/format.h"

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.wire || job.plan.remote_sense; }

void apply(const Job& job, PlannedUnit& unit)
{
    if (!job.plan.wire)
        return;
    Cable& cable = unit.supply.rails.front().cable;
    cable.r_loop_ohm.reset();
    cable.area_m2 = job.plan.wire->area_m2;
    cable.conductors = job.plan.wire->conductors;
}

void lines(const Job& job, std::vector<std::string>& all)
{
    if (job.plan.wire)
        all.push_back(wireText(*job.plan.wire) + " to the load");
    if (job.plan.remote_sense)
        all.emplace_back("sense wires to the load");
}

/// Sense wires are connected with the load, after the output was read: no step of theirs is here.
void steps(ChangeProcedure& procedure)
{
    if (!procedure.job().plan.wire)
        return;
    const std::string wire = wireText(*procedure.job().plan.wire);
    Step& step = procedure.add(
        "change.wire", Stage::Change, StepKind::Touch, "Run " + wire + " to the load",
        "Go and return side by side, strain relief at both ends; crimps with the tool that belongs to "
        "them. A fuse at the unit's end: of the lower of what the wire bears and of what the unit can "
        "give for long, or it never blows. The ends at the load stay open and insulated until the output "
        "was read.",
        {Does::RunCable, Does::LabelWires});
    step.parts = {wire};
    step.drawing = "run";
    if (procedure.anyMains() && !procedure.dc())
        step.cautions = {Caution::FixedWiring};
}

void wiring(const Job& job, const Figures& figures, std::vector<Connections>& all)
{
    all.push_back(runConnections(job, figures.unit.supply));
    all.back().station = Station::Cable;
}

void parts(const Job& job, const Figures& /*figures*/, PartList& list)
{
    if (job.plan.wire) {
        const auto& length_m = job.found.rails.front().cable.length_m;
        list.add(wireText(*job.plan.wire) +
                     (length_m ? ", " + formatValue(*length_m, Quantity::Length, 2) + " one way" : ""),
                 "to the load");
        list.add("fuse for the run", "at the unit's end");
    }
    if (job.plan.remote_sense)
        list.add("twisted pair", "sense, to the load");
}

std::vector<ConsequenceRow> rows(const Job& job, const Figures& figures, const ChainRun* /*run*/)
{
    return wireRows(job, figures);
}

void schools(const Job& job, const Figures& figures, FiguresOf /*figuresOf*/, std::vector<School>& all)
{
    all.push_back(wireView(job, figures).school);
}

void pictures(const Job& job, const Figures& figures, const ChainRun* /*run*/,
              std::vector<ReportPicture>& all)
{
    const WireView view = wireView(job, figures);
    if (view.run.size() < 2)
        return;
    std::vector<double> x;
    Curve rail{"between the wires", {}, false};
    for (const RunPoint& point : view.run) {
        x.push_back(point.at_m);
        rail.y.push_back(point.positive_v - point.negative_v);
    }
    if (x.back() > x.front())
        all.push_back({"The voltage along the run", curvesSvg(x, {rail}, "metres from the unit", "V")});
}

Work work(const Job& /*job*/, const Figures& /*figures*/) { return {.inside = false, .fit = steps}; }

} // namespace

const Kind wire{.name = "wire",
                .planned = planned,
                .work = work,
                .apply = apply,
                .lines = lines,
                .wiring = wiring,
                .parts = parts,
                .rows = rows,
                .schools = schools,
                .pictures = pictures};

} // namespace offshoot::kind
