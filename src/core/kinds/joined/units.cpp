#include "core/kinds/joined/units.h"

#include "core/job/readings.h"
#include "core/kinds/joined/bus_view.h"
#include "core/kinds/joined/stack_view.h"

#include <cmath>

namespace offshoot {

std::optional<double> unitFound(const Job& job, const Figures& figures, std::size_t unit)
{
    if (unit == 1)
        return figures.found_v;
    const auto read = liveVolts(job, job.found.rails.front().name, ReadingStage::Found, unitTag(unit));
    if (!read.empty())
        return std::abs(*read.back()->value);
    const Supply& supply = unitSupply(job, unit);
    return supply.joint.v_set_v ? supply.joint.v_set_v : supply.rails.front().v_v;
}

std::optional<JoinedUnits> joinedUnits(const Job& job, const Figures& figures)
{
    const auto& join = job.plan.join;
    if (!join || job.others.empty())
        return std::nullopt;
    JoinedUnits joined;
    if (join->kind == Joining::SideBySide) {
        joined.bus = busModel(job, figures);
        if (joined.bus.input)
            joined.shared = busState(*joined.bus.input);
    } else {
        joined.stack = stackModel(job, figures);
        if (joined.stack.input)
            joined.stacked = sourcesSeries(*joined.stack.input);
    }
    return joined;
}

std::optional<double> unitSet(const Job& job, const Figures& figures, std::size_t unit)
{
    if (job.plan.join)
        for (const UnitSetting& setting : job.plan.join->settings)
            if (static_cast<std::size_t>(setting.unit) == unit)
                return setting.v_set_v;
    if (unit == 1 && figures.planned_v)
        return figures.planned_v;
    return unitFound(job, figures, unit);
}

} // namespace offshoot
