// Other turns on a rail's winding.
#pragma once

#include "core/calculate/rewind.h"
#include "core/kinds/job_figures.h"
#include "core/kinds/school.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct RewindView
{
    std::optional<RewindInput> input;
    std::optional<RewindResult> result;
    std::string sentence;         ///< the answer, or what is still to be read
    std::optional<School> school; ///< rewind or the divider alone; a mains winding has no divider
};
/// Other turns for the rail, with what they change; says what is not entered yet.
RewindView rewindView(const Job& job, const Figures& figures, const Rail& rail);

} // namespace offshoot
