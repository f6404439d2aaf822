// What makes the first power and the work behind it safe: limiter lamp and discharge.
#pragma once

#include "core/calculate/discharge.h"
#include "core/calculate/limiter_lamp.h"
#include "core/evaluate/evaluation.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct LampView
{
    double lamp_w;
    LampLimitResult result;
};
struct SafeView
{
    std::vector<LampView> lamps; ///< the usual ones; none for what runs on DC
    std::optional<double> chosen_w;
    struct Bank
    {
        Reservoir reservoir;
        DischargePlanResult plan;
    };
    std::vector<Bank> banks;
    std::string sentence;
};
/// The limiter lamp's sums but for the lamp: the unit on the bench at first power, idle and with a light
/// load.
LampLimitInput lampInput(const Job& job, const Evaluation& evaluation);
SafeView safeView(const Job& job, const Evaluation& evaluation);

} // namespace offshoot
