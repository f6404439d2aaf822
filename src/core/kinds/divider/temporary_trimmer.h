// The temporary trimmer of a plan: whether it can find the value of the planned part, what it is preset to
// and what is read on the way.
#pragma once

#include "core/kinds/divider/divider_wiring.h"
#include "core/kinds/job_figures.h"

namespace offshoot {

/// A temporary trimmer that finds the value of the planned part.
struct TrimmerUse
{
    double preset_ohm;                  ///< its own, by the ohmmeter before it goes in
    std::optional<VoltageRange> preset; ///< what the output then gives, worst case
    std::optional<double> highest_v;    ///< at the worse end of its travel
    std::string problem;                ///< why it is not used, a sentence; empty where it is
    std::optional<ReadingWindow> serves_ohm =
        {}; ///< read with what is in series: there the plan's part serves
};

/// Nothing unless the plan's route goes by a trimmer to a chosen part.
std::optional<TrimmerUse> trimmerUse(const Job& job, const Figures& figures);

/// With what stands in series.
AddedToDivider presetTrimmer(const TrimmerPlan& plan, double preset_ohm);

/// What was read of it after trimming, Ω with what is in series: the newest reading that stands.
std::optional<double> trimmerReading(const Job& job);

/// "Take the bottom leg out; the 10k trimmer with 1k in series, the wiper joined to its far end, goes in its
/// place, from the reference pin to the return."
std::string trimmerSentence(const Job& job);

} // namespace offshoot
