// The stations that a kind of supply has, along the way of its energy.
#pragma once

#include "core/supply/station.h"
#include "core/supply/supply.h"

#include <string_view>
#include <vector>

namespace offshoot {

/// From where the energy comes in to the load; the feedback stands beside it and is not among them.
std::vector<Station> powerPath(const Supply& supply);
/// Whether nobody has said or looked at anything: the kind is assumed, and so are its stations.
bool nothingKnown(const Supply& supply);
/// The station of a path that speaks for one which is not on it: the nearest before it, else the first.
Station spokenFor(const std::vector<Station>& path, Station station);
/// Whether its output is fed back over parts that anybody can see.
bool hasFeedback(const Supply& supply);
/// "Regulator" of an iron-transformer supply where a switcher has its "Switch".
std::string_view stationName(Station station, const Supply& supply);

} // namespace offshoot
