#include "core/kinds/kind.h"
#include "core/kinds/modules.h"

#include <algorithm>

namespace offshoot {

std::vector<const Kind*>& kinds()
{
    static std::vector<const Kind*> all{
        &kind::rewind,  &kind::current_limit, &kind::windings,   &kind::surge_limiter,
        &kind::chain,   &kind::wire,          &kind::dummy_load, &kind::refits,
        &kind::divider, &kind::joined,        &kind::trim,
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
    PlannedUnit unit{job.found, job.need.load};
    for (const Kind* kind : plannedKinds(job))
        if (kind->apply != nullptr)
            kind->apply(job, unit.supply, unit.load);
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

std::vector<Connections> plannedConnections(const Job& job, const Evaluation& evaluation)
{
    std::vector<Connections> all;
    for (const Kind* kind : plannedKinds(job))
        if (kind->wiring != nullptr)
            kind->wiring(job, evaluation, all);
    std::ranges::stable_sort(all, {}, &Connections::station);
    return all;
}

std::vector<PartLine> partsOf(const Job& job, const Evaluation& evaluation)
{
    PartList list(job);
    for (const Kind* kind : plannedKinds(job))
        if (kind->parts != nullptr)
            kind->parts(job, evaluation, list);
    list.addTools(evaluation);
    return list.take();
}

std::vector<ReportPicture> planPictures(const Job& job, const Evaluation& evaluation, const ChainRun* run)
{
    std::vector<ReportPicture> all;
    for (const Kind* kind : plannedKinds(job))
        if (kind->pictures != nullptr)
            kind->pictures(job, evaluation, run, all);
    return all;
}

std::vector<ConsequenceRow> kindRows(const Job& job, const Evaluation& evaluation, const ChainRun* run)
{
    std::vector<ConsequenceRow> all;
    for (const Kind* kind : kinds())
        if (kind->rows != nullptr)
            std::ranges::move(kind->rows(job, evaluation, run), std::back_inserter(all));
    return all;
}

} // namespace offshoot
