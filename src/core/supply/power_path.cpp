#include "core/supply/power_path.h"

#include <algorithm>
#include <array>

namespace offshoot {

std::vector<Station> powerPath(const Supply& supply)
{
    using enum Station;
    if (supply.topology == Topology::SealedModule)
        return {Inlet, Fuse, Converter, Smoothing, Cable, Load};
    if (supply.dcFed())
        return isLinear(supply.topology)
                   ? std::vector{Inlet, Fuse, Reservoir, Converter, Smoothing, Cable, Load}
                   : std::vector{Inlet, Fuse, Reservoir, Converter, OutputRectifier, Smoothing, Cable, Load};
    if (supply.topology == Topology::Unregulated)
        return {Inlet, Fuse, Inrush, Transformer, InputRectifier, Reservoir, Smoothing, Cable, Load};
    if (isLinear(supply.topology))
        return {Inlet,     Fuse,      Inrush,    Transformer, InputRectifier,
                Reservoir, Converter, Smoothing, Cable,       Load};
    return {Inlet,     Fuse,  Inrush, InputRectifier, Reservoir, Converter, Transformer, OutputRectifier,
            Smoothing, Cable, Load};
}

bool nothingKnown(const Supply& supply)
{
    if (!supply.topology_assumed)
        return false;
    Supply blank;
    blank.name = supply.name;
    blank.topology = supply.topology;
    blank.topology_assumed = true;
    return supply == blank;
}

Station spokenFor(const std::vector<Station>& path, Station station)
{
    if (station == Station::Feedback || std::ranges::find(path, station) != path.end())
        return station;
    const bool iron = std::ranges::find(path, Station::InputRectifier) != path.end();
    if (station == Station::OutputRectifier && iron) // of a path whose one rectifier it is
        return Station::InputRectifier;
    Station nearest = path.front();
    for (const Station at : path)
        if (at < station && (nearest == path.front() || at > nearest))
            nearest = at;
    return nearest;
}

bool hasFeedback(const Supply& supply)
{
    return supply.topology != Topology::Unregulated && supply.topology != Topology::SealedModule;
}

std::string_view stationName(Station station, const Supply& supply)
{
    static constexpr std::array<std::string_view, station_count> names{
        "Mains",       "Fuse",      "Inrush",    "Input", "Reservoir", "Switch",
        "Transformer", "Rectifier", "Smoothing", "Cable", "Load",      "Feedback"};
    if (station == Station::Inlet && supply.dcFed())
        return "Feed";
    if (station == Station::InputRectifier && bearsLowMains(supply.topology))
        return "Rectifier";
    if (station == Station::Converter && isLinear(supply.topology))
        return "Regulator";
    if (supply.topology == Topology::SealedModule) {
        if (station == Station::Converter)
            return "Closed unit";
        if (station == Station::Smoothing)
            return "Output";
    }
    return names.at(static_cast<std::size_t>(station));
}

} // namespace offshoot
