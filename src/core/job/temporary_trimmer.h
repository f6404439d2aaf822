// The temporary trimmer of a plan: whether it can find the value of the planned part, what it is preset to
// and what is read on the way.
#pragma once

#include "core/job/connections.h"

namespace offshoot {

/// Nothing unless the plan's route goes by a trimmer to a chosen part.
std::optional<TrimmerUse> trimmerUse(const Job& job, const Evaluation& evaluation);

/// With what stands in series.
AddedToDivider presetTrimmer(const TrimmerPlan& plan, double preset_ohm);

/// What was read of it after trimming, Ω with what is in series: the newest reading that stands.
std::optional<double> trimmerReading(const Job& job);

/// "Take the bottom leg out; the 10k trimmer with 1k in series, the wiper joined to its far end, goes in its
/// place, from the reference pin to the return."
std::string trimmerSentence(const Job& job);

} // namespace offshoot
