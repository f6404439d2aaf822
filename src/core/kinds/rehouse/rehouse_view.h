// A bare adjustable module in a case of its own: what it reaches on its feed, what is brought out of it, what
// carried current under it, the heat of the closed case, the fuse of its feed, its readouts.
#pragma once

#include "core/job/job.h"
#include "core/judge/consequences.h"
#include "core/kinds/replace/reach.h"
#include "core/kinds/school.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// A potentiometer of the plan on this module.
struct PotView
{
    PotBreakResult broken;
    std::vector<Verdict> verdicts; ///< of each broken wire
    double least;                  ///< V or A that it turns to
    double most;                   ///< likewise, as the feed, the module and its guard allow
    double a_degree;               ///< V or A that one degree of its shaft moves
};

struct RehouseView
{
    const ReplacingUnit* module = nullptr; ///< of the plan; null without one
    std::optional<Reach> reach;
    std::vector<PotView> pots;      ///< as the plan lists them
    std::optional<double> input_a;  ///< from the feed at its lowest, the need's peak on the output
    std::optional<double> fuse_a;   ///< the smallest that bears it
    std::optional<double> loss_w;   ///< the module's, at the need's current
    std::optional<double> inside_k; ///< the air in the case
    std::vector<ConsequenceRow> rows;
    School school; ///< where a potentiometer of the volts sits
    std::string sentence;
};
/// The view points into the job: it must not outlive it.
RehouseView rehouseView(const Job& job);
/// What a bare module usually gets: its volts on a helical potentiometer, a readout, a fuse that bears it.
RehousePlan usualRehousing(const Job& job);

/// The steady air inside a closed sheet-steel case above the air around it, K: P/(k·A), k = 5.5 W/(m²·K) of
/// painted sheet steel and the effective area of a case that stands free, A = 1.8·H·(W+D) + 1.4·W·D
/// (IEC 60890). Vented: half of it, an assumption.
double caseRise(const BoxSize& inside, double loss_w, bool vented);

/// "its trimmer between output and sensing input".
std::string wiringWords(PotWiring wiring, PotSets sets);
/// What a broken wire does, in words: "either wire: the output rises to 20.5 V".
std::string brokenWords(const BrokenWire& wire, PotSets sets);
/// "1.25 to 20.5 V".
std::string rangeWords(double least, double most, PotSets sets);

} // namespace offshoot
