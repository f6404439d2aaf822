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

// What a kind of change is about; nothing is added where it cannot be computed yet.

/// The rails that a trimmer moves.
void trimPictures(const Job& job, const Evaluation& evaluation, const ChainRun* run,
                  std::vector<ReportPicture>& all);
/// A dummy load's rail.
void dummyLoadPictures(const Job& job, const Evaluation& evaluation, const ChainRun* run,
                       std::vector<ReportPicture>& all);
/// The limit between load and rating.
void limitPictures(const Job& job, const Evaluation& evaluation, const ChainRun* run,
                   std::vector<ReportPicture>& all);
/// The units' shares.
void sharePictures(const Job& job, const Evaluation& evaluation, const ChainRun* run,
                   std::vector<ReportPicture>& all);
/// The voltage along the run to the load.
void runPictures(const Job& job, const Evaluation& evaluation, const ChainRun* run,
                 std::vector<ReportPicture>& all);
/// The surge at switch-on.
void surgePictures(const Job& job, const Evaluation& evaluation, const ChainRun* run,
                   std::vector<ReportPicture>& all);
/// The rectifier's cycle.
void chainPictures(const Job& job, const Evaluation& evaluation, const ChainRun* run,
                   std::vector<ReportPicture>& all);

} // namespace offshoot
