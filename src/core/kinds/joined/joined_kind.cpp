// Units side by side or stacked. They are joined in Bring-up, when each was read by itself.
#include "core/kinds/joined/bus_view.h"
#include "core/kinds/joined/stack_view.h"
#include "core/kinds/modules.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.join.has_value(); }

bool sideBySide(const Job& job) { return job.plan.join->kind == Joining::SideBySide; }

/// The leads get their diodes, the outputs lose their bonds and are bridged by a reverse diode.
void apply(const Job& job, PlannedUnit& planned)
{
    const JoinPlan& join = *job.plan.join;
    for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
        Joint& joint = (unit == 1 ? planned.supply : planned.others[unit - 2]).joint;
        if (join.diode)
            joint.diode = join.diode;
        if (std::ranges::count(join.opened_bonds, static_cast<std::int64_t>(unit)) > 0)
            joint.bonded = Bond::None;
        if (join.reverse_diode)
            joint.reverse_diode = join.reverse_diode;
    }
}

/// The unit on the bench is set to what the join asks for.
void setPoint(const Job& job, const ChainRun* /*run*/, Figures& figures)
{
    for (const UnitSetting& setting : job.plan.join->settings)
        if (setting.unit == 1) {
            figures.planned_v = setting.v_set_v;
            figures.planned_range = VoltageRange{setting.v_set_v, setting.v_set_v};
        }
}

void lines(const Job& job, std::vector<std::string>& all)
{
    const JoinPlan& join = *job.plan.join;
    all.push_back(std::to_string(unitCount(job)) +
                  (sideBySide(job) ? " units side by side" : " units stacked"));
    for (const UnitSetting& setting : join.settings)
        all.push_back("unit " + std::to_string(setting.unit) + " set to " + formatVolts(setting.v_set_v));
    if (join.ballast)
        all.push_back("ballast " + join.ballastText() + " in each lead");
    if (join.diode)
        all.emplace_back("a diode in each lead");
    for (const std::int64_t unit : join.opened_bonds)
        all.push_back("output bond of unit " + std::to_string(unit) + " opened");
    if (join.reverse_diode)
        all.emplace_back("a reverse diode across each output");
}

void wiring(const Job& job, const Figures& figures, std::vector<Connections>& all)
{
    if (job.others.empty())
        return;
    all.push_back(sideBySide(job) ? busConnections(job, figures) : stackConnections(job, figures));
    all.back().station = Station::Smoothing;
}

void parts(const Job& job, const Figures& /*figures*/, PartList& list)
{
    const JoinPlan& join = *job.plan.join;
    if (job.others.empty())
        return;
    for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
        const std::string name = unitName(job, unit);
        if (join.ballast)
            list.add("ballast " + join.ballastText(), "lead of " + name, "",
                     join.ballast_lead || !list.inDrawer(join.ballast->ohm(), join.ballast_power_w));
        if (join.diode)
            list.add("diode, " + formatValue(join.diode->v_f_v, Quantity::Voltage, 2), "lead of " + name);
        if (join.reverse_diode)
            list.add("reverse diode, " + amps(join.reverse_diode->i_a) + ", " +
                         volts(join.reverse_diode->v_rrm_v),
                     "across " + name);
    }
}

std::vector<ConsequenceRow> rows(const Job& job, const Figures& figures, const ChainRun* /*run*/)
{
    if (!figures.joined)
        return {};
    return sideBySide(job) ? shareRows(*figures.joined) : stackRows(*figures.joined);
}

void schools(const Job& job, const Figures& figures, FiguresOf /*figuresOf*/, std::vector<School>& all)
{
    if (sideBySide(job))
        all.push_back(parallelView(job, figures).school);
}

void pictures(const Job& job, const Figures& figures, const ChainRun* /*run*/,
              std::vector<ReportPicture>& all)
{
    if (!sideBySide(job))
        return;
    const ParallelView view = parallelView(job, figures);
    if (!view.result)
        return;
    std::vector<Lane> units;
    for (const UnitShare& unit : view.result->bus.units)
        units.push_back({unit.name,
                         Quantity::Current,
                         0.0,
                         unit.use && *unit.use > 0 ? std::optional(unit.current_a / *unit.use) : std::nullopt,
                         {},
                         unit.current_a});
    addLanes(all, "What each unit gives, up to its limit", units);
}

Work work(const Job& /*job*/, const Figures& /*figures*/) { return {.inside = false}; }

} // namespace

const Kind joined{.name = "joined",
                  .planned = planned,
                  .work = work,
                  .apply = apply,
                  .set_point = setPoint,
                  .lines = lines,
                  .wiring = wiring,
                  .parts = parts,
                  .rows = rows,
                  .schools = schools,
                  .pictures = pictures};

} // namespace offshoot::kind
