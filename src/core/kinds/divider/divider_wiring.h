// The feedback divider and what the plan joins to it, as drawn and as said.
#pragma once

#include "core/job/job.h"
#include "core/supply/connections.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// What joins a leg of the divider: a network, or a trimmer with an optional network in series.
struct AddedToDivider
{
    DividerMethod method;
    std::optional<Network> network;
    std::vector<double> tolerances;
    std::optional<double> trimmer_ohm = {}; ///< what it is set to
};
/// The feedback divider between "output", "reference" and "return", with what is added. In a 317-type
/// regulator the reference leg stands from the output to the adjust pin.
Connections dividerConnections(const Feedback& feedback, const std::optional<AddedToDivider>& added,
                               bool adjustable);
/// Whether the reference of a supply is that of a 317-type regulator.
bool isAdjustableRegulator(const Supply& supply);

/// "From the reference pin to the return, beside the bottom leg": where the planned network's two ends go.
std::string fittingSentence(const Job& job);
/// The leg that something joins: as it was found, or lifted or out already.
enum class LegNow { AsFound, Prepared };
/// The same of any part; `adjustable` of a 317-type regulator.
std::string fittingSentence(const std::string& what, DividerMethod method, bool adjustable, LegNow leg);
/// What the plan adds to the divider.
std::optional<AddedToDivider> plannedDivider(const Job& job);

} // namespace offshoot
