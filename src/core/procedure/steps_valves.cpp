// Whether a unit has valves, and whether its capacitors bear that they are out: then nothing loads them.
#include "core/procedure/change_procedure.h"
#include "core/values/figures.h"

namespace offshoot {

bool ChangeProcedure::hasValves() const
{
    const auto valve = [](const Supply& supply) {
        const auto& chain = supply.mains_side.chain;
        return chain && chain->rectifier.diode.model == DiodeModel::Valve;
    };
    return valve(m_job.found) || valve(m_work.supply);
}

bool ChangeProcedure::bearsNoLoad() const { return noLoadWords().ends_with("every one bears it."); }

std::string ChangeProcedure::noLoadWords() const
{
    const RectifierChain* chain = plannedChain(m_job);
    if (chain == nullptr)
        return {};
    std::string text = "Without load the capacitors stand at up to " + volts(chain->noLoadVolts()) + ", and ";
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
    return text + (weak.empty() ? "every one bears it."
                                : "these bear too little: " + weak + ". Leave the valves in.");
}

} // namespace offshoot
