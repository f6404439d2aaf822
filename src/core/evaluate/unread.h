// What nobody has read yet, and whether it is worth reading.
#pragma once

#include "core/evaluate/evaluation.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// A rating that a row wants.
struct Unread
{
    Station station;
    std::string part;
    std::string quantity;
    RowKey row;
    std::string what;                       ///< where it stands: "the capacitor's rated voltage"
    bool blocks;                            ///< the sign-off waits for it
    bool decides;                           ///< some value it could have breaks or is tight, another fits
    std::optional<double> would_break = {}; ///< the largest usual rating that would break
    std::optional<double> would_fit = {};   ///< the smallest that would fit
    std::optional<Quantity> unit = {};
};
/// Whether the sign-off waits for what this row wants: of a mains-fed job, and the switch only where the
/// change raises its stress.
bool mustBeRead(const Job& job, const ConsequenceRow& row);

/// Values of the usual series that are not under what the part has borne already are held against what the
/// plan asks of it. What no series belongs to decides wherever the plan makes it worse. In the order of the
/// walk: what blocks, what decides, the rest; each along the power path.
std::vector<Unread> unreadOf(const Job& job, const Evaluation& evaluation);
/// "a 25 V part would break, a 35 V one fits", or why it need not be read.
std::string worthWords(const Unread& unread);

} // namespace offshoot
