// The rectifier and its smoothing in a job: what a simulation says of the plan, the dropping resistor from
// the drawer, and capacitors to be formed again.
#pragma once

#include "core/calculate/part_search.h"
#include "core/calculate/rectifier.h"
#include "core/job/job.h"
#include "core/judge/consequences.h"
#include "core/supply/connections.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// A chain to start from: a secondary that gives about the job's target through this rectifier.
RectifierChain usualChain(SimRectifier kind, const Job& job);
/// A silicon diode as a threshold or a junction, or a small rectifier valve, with usual datasheet figures.
SimDiode usualDiode(DiodeModel model);
/// What the load holds: a current, a power or a resistance.
LoadDraw drawOf(const SimLoad& load);
/// The same load at `v` volts told in another way.
SimLoad loadAs(LoadDraw draw, const SimLoad& load, double v);

/// What is simulated of a job: one cycle of its chain's steady state, against the ratings read.
std::optional<RectifierInput> chainInput(const Job& job);

/// A simulation that has been done, and what it was done for.
struct ChainRun
{
    RectifierInput input = {};
    SteadyResult result = {};
    /// Mean volts at the load with all of it, as a sound unit may give them: at either end of the mains, with
    /// capacitors and chokes at either end of their tolerances.
    VoltageRange sound = {};
    /// The same with less of it: without, with a tenth, with half. Nothing where there is no steady state.
    struct Lighter
    {
        double share;
        VoltageRange sound;
    };
    std::vector<Lighter> lighter = {};
    // Compiled once, in chain_view.cpp.
    ChainRun();
    ChainRun(const ChainRun&);
    ChainRun(ChainRun&&) noexcept;
    ChainRun& operator=(const ChainRun&);
    ChainRun& operator=(ChainRun&&) noexcept;
    ~ChainRun();
};
/// Throws what rectifierSimulate() throws.
ChainRun runChain(const RectifierInput& input, const SimProgress& progress = {});
/// Simulates the job's chain at once; nothing without one, or where it has no steady state.
std::optional<ChainRun> chainRunOf(const Job& job, const SimProgress& progress = {});
/// The run if it is of the job's chain as it is; null otherwise.
const ChainRun* runOf(const Job& job, const ChainRun* run);

/// Mean volts at a capacitor by its name in the simulation, or at the load where that is empty, as the run
/// has them; without a run, or where it has no such capacitor, the 70 % of the no-load voltage that a loaded
/// chain about keeps. At least 1 V.
double chainVolts(const RectifierChain& chain, const ChainRun* run, const std::string& capacitor);

/// The answer to a run in one sentence.
std::string rectifierSentence(const ChainRun& run);
/// What the mains' spread makes of a simulated voltage.
VoltageRange withSpread(const ChainRun& run, double v);
/// The chain's rows for the consequences panel; one unknown row until a run of the plan as it is has come in.
std::vector<ConsequenceRow> chainRows(const Job& job, const ChainRun* run);

/// Parts from the drawer in the place of a dropping resistor.
struct DropperChoice
{
    PartChoice parts;
    double ohm;
    PartsPower power; ///< by the current through the resistor that was sought
};
/// One to three parts near the resistor sought: those whose power fits first, then the nearest.
std::vector<DropperChoice> dropperChoices(const DropperResult& sought, const std::vector<StockItem>& drawer);

/// From the secondary over each rectifier, anode to cathode, to `load`; new where `found` differs.
Connections chainConnections(const RectifierChain& chain, const std::optional<RectifierChain>& found,
                             const std::string& load);
/// "470R", "80mA".
std::string chainLoadText(const SimLoad& load);
/// What a row calls a part: "C1", "Upper capacitor", "Rectifier".
std::string chainPartTitle(const RectifierChain& chain, const std::string& part);
/// The planned chain from the rectifier to the load.
std::string chainSentence(const Job& job);
/// The chain's parts in words, from the rectifier to the load.
std::vector<std::string> chainParts(const RectifierChain& chain);

} // namespace offshoot
