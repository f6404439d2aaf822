// The surge at switch-on and what limits it.
#pragma once

#include "core/calculate/delay.h"
#include "core/calculate/inrush.h"
#include "core/job/job.h"
#include "core/kinds/school.h"
#include "core/supply/connections.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// The surge over time: one point for each step.
struct SurgeCurve
{
    std::vector<double> t_s;
    std::vector<double> i_a;
};
/// The surge into an empty capacitor behind a bridge, by simulation, in magnitude; `phase_rad` of the mains
/// when it is switched on.
SurgeCurve surgeCurve(double v_rms_v, double f_hz, double r_ohm, double c_f, double t_end_s,
                      double phase_rad);
/// One or two resistors from the drawer for the relay's delay, and what they make of it.
struct DelayParts
{
    Network network;
    DelayResult delay;
};
/// The planned delay of the bypass by exact parts, and by parts of the drawer.
struct PlannedDelay
{
    DelayResult delay;
    std::optional<DelayParts> parts; ///< nothing where the drawer has none that comes near
};
/// Nothing until the plan's figures of it fit together.
std::optional<PlannedDelay> plannedDelay(const Job& job);
struct InrushView
{
    std::optional<InrushInput> direct_input;
    std::optional<InrushResult> direct;
    std::optional<LimiterInput> limiter_input;
    std::optional<LimiterResult> limiter;
    SurgeCurve bare;    ///< at the crest, as found
    SurgeCurve limited; ///< through the planned limiter
    std::optional<DelayResult> delay;
    std::optional<DelayParts> delay_parts; ///< nothing where the drawer has none that comes near
    std::string sentence;
    std::string stuck; ///< what if the bypass never closes
    School school;     ///< a resistor with a bypass or an NTC
};
/// The surge as found and through the planned limiter, with its curves; says what is not entered yet.
InrushView inrushView(const Job& job);
/// What stands in the way of the surge as found, with the reservoir seen from the mains; nothing where nobody
/// entered it.
std::optional<InrushInput> surgeAsFound(const Job& job);
/// The planned limiter by itself, without the curves; nothing where nothing says how many ohms.
struct PlannedLimiter
{
    LimiterInput input;
    LimiterResult result;
    std::string stuck; ///< what if the bypass never closes
};
std::optional<PlannedLimiter> plannedLimiter(const Job& job);
/// The planned surge limiter and its bypass.
Connections limiterConnections(const Job& job, const std::optional<PlannedLimiter>& limiter);

} // namespace offshoot
