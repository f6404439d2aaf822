// The steps of the mains side: windings found, proven and linked, fuse and selector, the surge limiter, the
// rectifier and its smoothing, secondaries measured before anything hangs on them.
#include "core/procedure/change_procedure.h"
#include "core/values/figures.h"

#include <algorithm>
#include <numbers>

namespace offshoot {

bool ChangeProcedure::hasValves() const
{
    const RectifierChain* chain = plannedChain(m_job);
    const auto& found = unit().mains_side.chain;
    return (chain != nullptr && chain->rectifier.diode.model == DiodeModel::Valve) ||
           (found && found->rectifier.diode.model == DiodeModel::Valve);
}

bool ChangeProcedure::bearsNoLoad() const { return noLoadWords().ends_with("every one bears it."); }

std::string ChangeProcedure::noLoadWords() const
{
    const RectifierChain* chain = plannedChain(m_job);
    if (chain == nullptr)
        return "Without load every capacitor stands at the crest.";
    std::string text = "Without load every capacitor stands at " + volts(chain->noLoadVolts()) + ": ";
    std::string weak;
    const auto check = [&weak](const std::string& name, const SmoothingSection& capacitor, double v) {
        if (!capacitor.v_rated_v || *capacitor.v_rated_v < v)
            weak += (weak.empty() ? "" : ", ") + name +
                    (capacitor.v_rated_v ? " (" + volts(*capacitor.v_rated_v) + ")" : " (not read)");
    };
    for (std::size_t i = 0; i < chain->filter.size(); ++i)
        if (chain->filter[i].kind == SmoothingKind::C)
            check(chainPartName(*chain, std::to_string(i)), chain->filter[i], chain->noLoadVolts());
    for (const auto& [name, half] :
         {std::pair("upper", &chain->rectifier.upper), std::pair("lower", &chain->rectifier.lower)})
        if (*half)
            check(chainPartName(*chain, name), **half, chain->noLoadVolts() / 2);
    return text + (weak.empty() ? "every one bears it." : "not these: " + weak + ". Leave the valves in.");
}

} // namespace offshoot
