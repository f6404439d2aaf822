// Which fault a rehearsal's readings speak for: each that the unit can have is put into another unit of the
// same job, the same moves are made at it, and what is read there is held against what was read.
#pragma once

#include "core/rehearse/procedure_play.h"

#include <functional>

namespace offshoot {

struct Suspect
{
    UnitFault fault;
    double off; ///< how many readings' worth it differs by: 0 where all are alike
};

/// What it could be, likeliest first, a unit without a fault among them; empty before anything was read.
/// Asked before each whether it is still wanted, and throws SimCancelled where it is not.
std::vector<Suspect> suspects(const RehearsedJob& rehearsed, const std::function<bool()>& wanted = {});
/// The first three, and whatever the readings cannot tell from the third.
std::vector<Suspect> likeliest(const std::vector<Suspect>& all);

} // namespace offshoot
