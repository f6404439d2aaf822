// What hangs on a rail: how much of its rating its users draw, and which trimmers turn it.
#pragma once

#include "core/supply/supply.h"
#include "core/values/verdict.h"

#include <optional>

namespace offshoot {

/// Whether a trimmer moves this rail: it names it, or it names none and the rail hangs on the first one's
/// loop.
bool turns(const Supply& supply, const Trimmer& trimmer, const Rail& rail);

struct RailUse
{
    double drawn_a = 0;                 ///< typical currents of all users that say so
    bool complete = false;              ///< each of them says
    std::optional<double> use = {};     ///< of its rated current
    Verdict verdict = Verdict::Unknown; ///< breaks as soon as what is known is too much
};
RailUse railUse(const Rail& rail);

} // namespace offshoot
