#include "core/rehearse/unit_fault.h"

#include "core/rehearse/draw.h"
#include "core/values/format.h"

#include <algorithm>

namespace offshoot {

namespace {

void addDividerFaults(const DividerDiagnoseInput& in, std::vector<UnitFault>& faults)
{
    for (const double v : in.reference.others())
        faults.push_back({UnitFaultKind::Reference, {}, v});
    for (const DiagnosedLeg* leg : {&in.top, &in.bottom})
        for (const auto& [name, part] : leg->parts) {
            faults.push_back({UnitFaultKind::Open, name});
            faults.push_back({UnitFaultKind::Short, name});
            if (!part.is_new)
                continue;
            faults.push_back({UnitFaultKind::DecadeUp, name});
            faults.push_back({UnitFaultKind::DecadeDown, name});
            if (leg->network.ends_with(")||(" + name + ")"))
                faults.push_back({UnitFaultKind::WrongLeg, name});
        }
}

} // namespace

std::string UnitFault::text() const
{
    return std::string(word(kind)) + (part.empty() ? "" : " " + part) +
           (v_v ? " " + plainNumber(*v_v) : std::string());
}

std::vector<UnitFault> possibleFaults(const Job& job)
{
    std::vector<UnitFault> faults;
    if (const auto in = diagnosisInput(job, 0, 0, Observed::Steady))
        addDividerFaults(*in, faults);
    const Supply& unit = job.found;
    if (!unit.dcFed() && unit.earth_class == EarthClass::ClassI)
        faults.push_back({UnitFaultKind::NoEarth});
    const auto bled = [](const Reservoir& r) { return r.bleeder_ohm.has_value(); };
    if (std::ranges::any_of(energyModel(job, Condition::Found).reservoirs, bled))
        faults.push_back({UnitFaultKind::OpenBleeder});
    // Ripple tells, where there is something to hold it against; of a chain it follows from its parts.
    if (job.need.ripple_max_v && unit.topology != Topology::Unregulated)
        faults.push_back({UnitFaultKind::DriedCapacitor});
    if (!unit.dcFed())
        faults.push_back({UnitFaultKind::ShortedInput});
    if (!unit.dcFed() && isMainsSwitcher(unit.topology) && unit.bulk.c_f && !job.plan.replace)
        faults.push_back({UnitFaultKind::LeakyCapacitor});
    const Plan& plan = job.plan;
    if (plan.connection || plan.limiter || plan.replace || plan.module)
        faults.push_back({UnitFaultKind::OpenLink});
    if (plan.replace || plan.module)
        faults.push_back({UnitFaultKind::SwappedWires});
    if (plan.join && plan.join->kind == Joining::SideBySide && !job.others.empty())
        for (std::size_t number = 1; number <= unitCount(job); ++number)
            faults.push_back({UnitFaultKind::PoorLead, "#" + std::to_string(number)});
    return faults;
}

UnitFault unitFaultFrom(std::string_view text, const Job& job, const Draw& draw, const std::string& path)
{
    if (text == word(UnitFaultKind::None))
        return {};
    const std::vector<UnitFault> faults = possibleFaults(job);
    if (text == "any")
        return faults[static_cast<std::size_t>(draw.share("fault") * static_cast<double>(faults.size()))];
    const auto fault = std::ranges::find(faults, text, &UnitFault::text);
    if (fault != faults.end())
        return *fault;
    std::string known = "none, any";
    for (const UnitFault& one : faults)
        known += ", " + one.text();
    throw DocumentError(ErrorCode::OutOfRange, path, "this unit has no such fault; there is " + known);
}

} // namespace offshoot
