// Why a unit starts, stops and starts again.
#pragma once

#include "core/calculate/hiccup.h"
#include "core/job/job.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct HiccupView
{
    HiccupInput input;
    HiccupResult result;
    std::string sentence;
};
/// For the unit as it was seen: with the plan's set point, but without the cures that are planned for it.
HiccupView hiccupView(const Job& job);

} // namespace offshoot
