// Which unit of the shelf would serve this job's need, and what each asks for.
#pragma once

#include "core/calculate/units_match.h"
#include "core/job/job.h"
#include "core/kinds/job_figures.h"
#include "core/kinds/judged_line.h"
#include "core/kinds/replace/wanted.h"
#include "core/kinds/school.h"
#include "core/supply/shelf.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct ChooseView
{
    std::optional<WantedUnit> wanted; ///< nothing until the need says enough
    std::vector<std::string> assumed;
    std::vector<UnitsOption> options;        ///< best first
    std::optional<std::size_t> planned = {}; ///< of the options the one that the plan holds
    School school;                           ///< repair or replace; no sides without a need
    std::string sentence;
};
/// `most` units together at most: 1 or 2.
ChooseView chooseView(const Job& job, const Figures& figures, const std::vector<ShelfEntry>& shelf,
                      std::int64_t most);

/// What its units ask for, in one line.
std::string asksFor(const UnitsOption& option);
/// Everything that was judged of a unit, worst first.
std::vector<JudgedLine> judgedLines(const MatchedUnit& unit);

} // namespace offshoot
