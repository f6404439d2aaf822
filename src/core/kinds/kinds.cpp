#include "core/kinds/chain/chain_view.h"
#include "core/kinds/job_figures.h"
#include "core/kinds/kind.h"
#include "core/kinds/modules.h"
#include "core/kinds/parts_list.h"
#include "core/kinds/picture.h"
#include "core/kinds/planned.h"
#include "core/supply/connections.h"

#include <algorithm>

namespace offshoot {

std::vector<const Kind*>& kinds()
{
    static std::vector<const Kind*> all{
        &kind::replace,       &kind::module,   &kind::rehouse,       &kind::panel, &kind::rewind,
        &kind::current_limit, &kind::windings, &kind::surge_limiter, &kind::chain, &kind::wire,
        &kind::dummy_load,    &kind::refits,   &kind::divider,       &kind::trim,  &kind::joined,
    };
    return all;
}

std::vector<const Kind*> plannedKinds(const Job& job)
{
    std::vector<const Kind*> planned;
    std::ranges::copy_if(kinds(), std::back_inserter(planned),
                         [&](const Kind* kind) { return kind->planned(job); });
    return planned;
}

PlannedUnit plannedUnit(const Job& job)
{
    PlannedUnit unit{.supply = job.found, .others = job.others, .load = job.need.load};
    for (const Kind* kind : plannedKinds(job))
        if (kind->apply != nullptr)
            kind->apply(job, unit);
    return unit;
}

Supply plannedSupply(const Job& job) { return plannedUnit(job).supply; }

std::vector<std::string> plannedChanges(const Job& job)
{
    std::vector<std::string> lines;
    for (const Kind* kind : plannedKinds(job))
        if (kind->lines != nullptr)
            kind->lines(job, lines);
    return lines;
}

bool changesAnything(const Job& job)
{
    return std::ranges::any_of(kinds(),
                               [&](const Kind* kind) { return !kind->follows && kind->planned(job); });
}

PlannedWork plannedWork(const Job& job, const Figures& figures)
{
    PlannedWork work{.supply = figures.unit.supply,
                     .lines = plannedChanges(job),
                     .changes = changesAnything(job),
                     .kinds = {}};
    work.other_unit = std::ranges::any_of(plannedKinds(job), &Kind::replaces);
    for (const Kind* kind : plannedKinds(job))
        work.kinds.push_back(kind->work != nullptr ? kind->work(job, figures) : Work{});
    return work;
}

EnergyModel energyModel(const Job& job, Condition condition)
{
    const Supply supply = condition == Condition::Planned ? plannedSupply(job) : job.found;
    const auto& chain = supply.mains_side.chain;
    return energyModel(job, supply, chain ? &*chain : nullptr);
}

EnergyModel energyModel(const Job& job)
{
    return energyModel(job, poweredSinceChange(job) ? Condition::Planned : Condition::Found);
}

std::vector<Connections> plannedConnections(const Job& job, const Figures& figures)
{
    std::vector<Connections> all;
    for (const Kind* kind : plannedKinds(job))
        if (kind->wiring != nullptr)
            kind->wiring(job, figures, all);
    std::ranges::stable_sort(all, {}, &Connections::station);
    return all;
}

PartList plannedParts(const Job& job, const Figures& figures)
{
    PartList list(job);
    for (const Kind* kind : plannedKinds(job))
        if (kind->parts != nullptr)
            kind->parts(job, figures, list);
    return list;
}

std::vector<ReportPicture> planPictures(const Job& job, const Figures& figures, const ChainRun* run)
{
    std::vector<ReportPicture> all;
    for (const Kind* kind : plannedKinds(job))
        if (kind->pictures != nullptr)
            kind->pictures(job, figures, run, all);
    return all;
}

std::vector<School> planSchools(const Job& job, const Figures& figures, FiguresOf figuresOf)
{
    std::vector<School> all;
    for (const Kind* kind : plannedKinds(job))
        if (kind->schools != nullptr)
            kind->schools(job, figures, figuresOf, all);
    std::erase_if(all, [](const School& school) { return school.sides.empty(); });
    return all;
}

std::vector<ConsequenceRow> kindRows(const Job& job, const Figures& figures, const ChainRun* run)
{
    std::vector<ConsequenceRow> all;
    for (const Kind* kind : kinds())
        if (kind->rows != nullptr)
            std::ranges::move(kind->rows(job, figures, run), std::back_inserter(all));
    return all;
}

} // namespace offshoot
