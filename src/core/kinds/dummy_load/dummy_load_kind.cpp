// A resistor across a rail that needs a least load.
#include "core/kinds/dummy_load/dummy_load_view.h"
#include "core/kinds/modules.h"
#include "core/values/figures.h"

namespace offshoot::kind {

namespace {

/// Usual surface limit of a wirewound resistor on metal.
constexpr double resistor_max_k = 398.15;

bool planned(const Job& job) { return job.plan.dummy_load.has_value(); }

void apply(const Job& job, PlannedUnit& unit)
{
    const DummyLoadPlan& dummy = *job.plan.dummy_load;
    Rail* rail = railNamed(unit.supply, dummy.rail);
    if (rail == nullptr)
        return;
    const auto& w = dummy.part_power_w;
    rail->minimum_load = {.fitted = true,
                          .r_ohm = dummy.network.ohm(),
                          .power_w = w ? std::optional(*w * static_cast<double>(dummy.network.parts().size()))
                                       : std::nullopt};
}

/// It moves its rail along the line of the rail's readings; the first one is held by its loop.
void setRails(const Job& job, Figures& figures)
{
    const DummyLoadPlan& dummy = *job.plan.dummy_load;
    for (std::size_t i = 1; i < job.found.rails.size(); ++i) {
        auto& planned_v = figures.rails_planned_v[i];
        if (!planned_v || job.found.rails[i].name != dummy.rail)
            continue;
        planned_v =
            voltageWithDummy(job, figures, job.found.rails[i], dummy.network.ohm()).value_or(*planned_v);
        figures.rails_set.push_back(i);
    }
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
    const bool outside = procedure.unit().outsideOnly();
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

void parts(const Job& job, const Figures& /*figures*/, PartList& list)
{
    const DummyLoadPlan& dummy = *job.plan.dummy_load;
    for (const double ohm : dummy.network.parts())
        list.addResistor(ohm, {}, dummy.part_power_w, "dummy load on " + dummy.rail);
}

void pictures(const Job& job, const Figures& figures, const ChainRun* /*run*/,
              std::vector<ReportPicture>& all)
{
    const std::string& name = job.plan.dummy_load->rail;
    for (std::size_t i = 0; i < job.found.rails.size(); ++i) {
        const Rail& rail = job.found.rails[i];
        if (rail.name != name)
            continue;
        Lane lane{rail.name, Quantity::Voltage, {}, {}, figures.rails_found_v[i], figures.rails_planned_v[i]};
        for (const RailUser& user : rail.users) {
            if (user.min_v)
                lane.least = std::max(lane.least.value_or(*user.min_v), *user.min_v);
            if (user.max_v)
                lane.most = std::min(lane.most.value_or(*user.max_v), *user.max_v);
        }
        if (lane.found || lane.planned)
            addLanes(all, "The rail with its dummy load", {lane});
    }
}

void schools(const Job& job, const Figures& figures, FiguresOf /*figuresOf*/, std::vector<School>& all)
{
    if (const Rail* rail = railNamed(job.found, job.plan.dummy_load->rail))
        all.push_back(minimumLoadView(job, figures, *rail).school);
}

Work work(const Job& /*job*/, const Figures& /*figures*/)
{
    return {.inside = false,
            .fit = steps,
            .warm = WarmPart{"dummy-load", resistor_max_k, "usual limit of a wirewound's body"}};
}

} // namespace

const Kind dummy_load{.name = "dummy_load",
                      .planned = planned,
                      .rebuilds = true,
                      .work = work,
                      .apply = apply,
                      .set_rails = setRails,
                      .lines = lines,
                      .parts = parts,
                      .schools = schools,
                      .pictures = pictures};

} // namespace offshoot::kind
