// The pictures of the report, as SVG that can be read in black and white: what each kind of change in the
// plan is about.
#pragma once

#include "core/job/chain.h"
#include "core/job/evaluation.h"

#include <string>
#include <vector>

namespace offshoot {

/// The voltage ruler: the need's window, what was found, the plan with both spreads, what was measured; empty
/// without a need.
std::string rulerSvg(const Job& job, const Evaluation& evaluation);

struct ReportPicture
{
    std::string title;
    std::string svg;
};

/// One for each kind in the plan that is about more than the first rail's voltage: the rails of a trimmer, a
/// dummy load's rail, the limit between load and rating, the units' shares, the run to the load, the surge,
/// the rectifier's cycle. What cannot be computed yet has none.
std::vector<ReportPicture> planPictures(const Job& job, const Evaluation& evaluation, const ChainRun* run);

} // namespace offshoot
