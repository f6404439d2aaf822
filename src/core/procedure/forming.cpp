#include "core/procedure/forming.h"

#include <algorithm>

namespace offshoot {

std::vector<Forming> formingsOf(const Job& job)
{
    const auto& found = job.found.mains_side.chain;
    const RectifierChain* chain = found ? &*found : plannedChain(job);
    if (job.found.mains_side.idle_years.value_or(0) < idle_years_max)
        return {};
    std::vector<Forming> all;
    const auto add = [&all](const std::string& name, const SmoothingSection& capacitor) {
        if (!capacitor.v_rated_v)
            return;
        constexpr double most_a = 5e-3;
        const double r_ohm = *capacitor.v_rated_v / most_a;
        all.push_back({name, *capacitor.v_rated_v, r_ohm, *capacitor.v_rated_v * most_a,
                       0.01 * capacitor.c_f * *capacitor.v_rated_v + 3e-6});
    };
    if (chain == nullptr) {
        const BulkCapacitor& bulk = job.found.bulk;
        if (bulk.c_f && bulk.kind == CapacitorKind::Aluminium)
            add("bulk", {.c_f = *bulk.c_f, .v_rated_v = bulk.v_rated_v});
        return all;
    }
    for (std::size_t i = 0; i < chain->filter.size(); ++i)
        if (chain->filter[i].kind == SmoothingKind::C)
            add(chainPartName(*chain, std::to_string(i)), chain->filter[i]);
    for (const auto& [name, half] :
         {std::pair("upper", &chain->rectifier.upper), std::pair("lower", &chain->rectifier.lower)})
        if (*half)
            add(chainPartName(*chain, name), **half);
    return all;
}

} // namespace offshoot
