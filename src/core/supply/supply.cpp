#include "core/supply/supply.h"

#include "core/supply/conductor.h"
#include "core/values/format.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace offshoot {

namespace {

constexpr double room_k = 293.15;

} // namespace

Supply::Supply() = default;
Supply::Supply(const Supply&) = default;
Supply::Supply(Supply&&) noexcept = default;
Supply& Supply::operator=(const Supply&) = default;
Supply& Supply::operator=(Supply&&) noexcept = default;
Supply::~Supply() = default;
bool Supply::operator==(const Supply&) const = default;

std::optional<double> Cable::loopOhm() const
{
    if (r_loop_ohm || !length_m || !area_m2)
        return r_loop_ohm;
    return conductorOhm(2 * *length_m, *area_m2 * static_cast<double>(conductors), temperature_k) +
           contact_ohm;
}

std::optional<double> Joint::leadOhm() const
{
    if (!lead_length_m || !lead_area_m2)
        return std::nullopt;
    return conductorOhm(2 * *lead_length_m, *lead_area_m2, room_k);
}

double efficiencyOf(const Supply& supply, double v_out_v)
{
    const double read = supply.efficiency.value_or(usual_efficiency);
    const auto& in_v = supply.direct.mean_v ? supply.direct.mean_v : supply.direct.max_v;
    if (!isLinear(supply.topology) || !in_v || v_out_v <= 0)
        return read;
    constexpr double least = 0.01;
    return std::clamp(v_out_v / *in_v, least, read);
}

double inputCrest(const InputRectifier& input, double mains_v)
{
    const double crest_v = std::sqrt(2.0) * mains_v;
    switch (input.stage()) {
    case InputKind::Bridge:
        return crest_v;
    case InputKind::Doubler:
        return 2 * crest_v;
    case InputKind::PowerFactorStage:
        return input.bus_v.value_or(std::max(usual_bus_v, crest_v));
    }
    return 0;
}

bool isMainsSwitcher(Topology topology) { return topology == Topology::Flyback || isBuckDerived(topology); }

bool isBuckDerived(Topology topology)
{
    return topology == Topology::Forward || topology == Topology::HalfBridge ||
           topology == Topology::FullBridge;
}

std::string fuseText(const Fuse& fuse)
{
    return fuse.value_a ? fuse.type.value_or("") + significant(*fuse.value_a, 3) + " A" : "";
}

bool isLinear(Topology topology) { return topology == Topology::Linear || topology == Topology::SeriesPass; }
bool isDcFed(Topology topology) { return topology == Topology::Buck || topology == Topology::Boost; }

bool bearsLowMains(Topology topology) { return isLinear(topology) || topology == Topology::Unregulated; }

const Rail* railNamed(const Supply& supply, std::string_view name)
{
    const auto found = std::ranges::find_if(
        supply.rails, [name](const Rail& rail) { return name.empty() || rail.name == name; });
    return found == supply.rails.end() ? nullptr : &*found;
}

Rail* railNamed(Supply& supply, std::string_view name)
{
    return const_cast<Rail*>(railNamed(std::as_const(supply), name));
}

std::optional<double> turnsRatio(const Supply& supply, const Rail& rail)
{
    const SecondaryWinding& winding = rail.winding;
    if (winding.primary_turns_per_secondary)
        return winding.primary_turns_per_secondary;
    if (winding.turns && supply.transformer.primary_turns)
        return static_cast<double>(*supply.transformer.primary_turns) / static_cast<double>(*winding.turns);
    return &rail == &supply.rails.front() ? supply.transformer.primary_turns_per_secondary : std::nullopt;
}

bool movesWith(const Rail& rail, const Rail& moved) { return rail.regulated_by == moved.name; }

const std::string& loopOf(const Rail& rail) { return rail.regulated_by ? *rail.regulated_by : rail.name; }

std::optional<double> typicalCurrent(const Rail& rail)
{
    if (rail.users.empty())
        return std::nullopt;
    double sum = 0;
    for (const RailUser& user : rail.users) {
        if (!user.typical_a)
            return std::nullopt;
        sum += *user.typical_a;
    }
    return sum;
}

double leastCurrent(const Rail& rail)
{
    double sum_a = 0;
    for (const RailUser& user : rail.users)
        sum_a += user.least_a.value_or(0);
    return sum_a;
}

std::optional<FoundDivider> Feedback::divider() const
{
    if (!reference || !top || !bottom)
        return std::nullopt;
    return FoundDivider{*reference, *top, *bottom, tolerance};
}

Enclosure Supply::housing() const
{
    if (enclosure)
        return *enclosure;
    if (topology == Topology::SealedModule)
        return Enclosure::Sealed;
    const bool bare = silhouette == Silhouette::OpenBoard || silhouette == Silhouette::SmallModule ||
                      silhouette == Silhouette::AdjustableModule;
    return bare ? Enclosure::OpenFrame : Enclosure::Closed;
}

void takeLikelyKind(Supply& supply)
{
    const bool seen = supply.silhouette || supply.seen != KindClues{};
    if (supply.topology_assumed && seen)
        supply.topology = likelyKind(supply.seen, supply.silhouette);
}

} // namespace offshoot
