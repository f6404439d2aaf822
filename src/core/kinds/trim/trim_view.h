// A trimmer of the unit turned: every rail it moves, between their windows.
#pragma once

#include "core/calculate/trim.h"
#include "core/job/job.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// One trimmer against every rail it moves.
struct TrimView
{
    std::string trimmer;
    std::optional<TrimResult> result; ///< nothing until a rail has a reading and a window
    TrimInput input;
    std::string sentence; ///< the answer
    std::string next;     ///< which reading tells the causes apart; empty where none is wanted
};
/// What turning the trimmer does to each rail it moves, from the newest readings; says which are missing.
TrimView trimView(const Job& job, std::size_t trimmer);

} // namespace offshoot
