// The primaries of a mains transformer: how they can be connected for this mains, and what the plan connects.
#pragma once

#include "core/calculate/mains_fuse.h"
#include "core/calculate/windings.h"
#include "core/job/job.h"
#include "core/supply/connections.h"

#include <optional>
#include <string>

namespace offshoot {

struct WindingsView
{
    std::optional<WindingsInput> input;
    std::optional<WindingsResult> result;
    std::optional<std::size_t> planned; ///< place among the connections
    std::optional<FuseResult> fuse;     ///< that follows from the connection planned, or the best
    std::string sentence;
};
/// Every connection for the need's mains, the planned one marked; says what is not entered yet.
WindingsView windingsView(const Job& job);
/// The plan of a connection, and whether it is the one planned.
ConnectionPlan connectionPlan(const Connection& connection);
/// Whether the plan is this connection, segment by segment.
bool isPlanned(const ConnectionPlan& plan, const Connection& connection);
/// The rating in amperes, slow, that follows from the planned connection of the primaries; nothing without
/// one, or where another fuse was planned by hand.
std::optional<double> followingFuse(const Job& job, const WindingsView& view);

/// Each joint and each feed by its leads: "Join grey to violet; mains to blue and brown."
std::string primariesSentence(const Job& job);
/// The leads of the primaries as the plan joins them.
Connections primaryConnections(const ConnectionPlan& plan);

} // namespace offshoot
