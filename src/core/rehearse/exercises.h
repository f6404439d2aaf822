// Exercises at the simulated unit: a demo job, what is to be reached with it, and what may be wrong with the
// unit.
#pragma once

#include "core/rehearse/procedure_play.h"

#include <span>
#include <string>
#include <string_view>

namespace offshoot {

enum class Goal {
    ProveDead,     ///< every reservoir read below 10 V since the power was on
    BehindLimiter, ///< powered through the limiter, looked at, and off again
    NameFault,
    WholeJob, ///< every step of the procedure; or what keeps it from being done, named
};

struct Exercise
{
    std::string_view id;  ///< stable: progress is kept by it
    std::string_view job; ///< of the demo jobs, without its ending
    std::string_view title;
    std::string_view says; ///< what is to be done
    Goal goal;
    std::string_view faults; ///< those that are drawn from, with commas between
};

std::span<const Exercise> exercises();

/// The demo job as the exercise has it: units that are to share a bus are all set alike.
Job exerciseJob(const Exercise& exercise, Job job);
/// The fault of this unit, drawn from the exercise's by the seed.
UnitFault faultOf(const Exercise& exercise, const Job& job, std::uint64_t seed);
/// Why the exercise is not done yet; empty when it is. `guess`: what the person took the fault for.
std::string missing(const Exercise& exercise, const RehearsedJob& rehearsed,
                    const std::optional<UnitFault>& guess);

} // namespace offshoot
