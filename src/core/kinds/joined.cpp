// Units side by side or stacked. They are joined in Bring-up, when each was read by itself.
#include "core/job/joining.h"
#include "core/kinds/modules.h"
#include "core/values/figures.h"

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.join.has_value(); }

bool sideBySide(const Job& job) { return job.plan.join->kind == Joining::SideBySide; }

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

void wiring(const Job& job, const Evaluation& evaluation, std::vector<Connections>& all)
{
    if (job.others.empty())
        return;
    all.push_back(sideBySide(job) ? busConnections(job, evaluation) : stackConnections(job, evaluation));
    all.back().station = Station::Smoothing;
}

void parts(const Job& job, const Evaluation& /*evaluation*/, PartList& list)
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

std::vector<ConsequenceRow> rows(const Job& job, const Evaluation& evaluation, const ChainRun* /*run*/)
{
    return joinRows(job, evaluation);
}

void pictures(const Job& job, const Evaluation& evaluation, const ChainRun* run,
              std::vector<ReportPicture>& all)
{
    if (sideBySide(job))
        sharePictures(job, evaluation, run, all);
}

} // namespace

const Kind joined{.planned = planned,
                  .inside = false,
                  .lines = lines,
                  .wiring = wiring,
                  .parts = parts,
                  .rows = rows,
                  .pictures = pictures};

} // namespace offshoot::kind
