// The rectifier and its smoothing in a job: what a simulation says of the plan, the dropping resistor from
// the drawer, and capacitors to be formed again.
#pragma once

#include "core/calculate/part_search.h"
#include "core/calculate/rectifier.h"
#include "core/job/job.h"
#include "core/judge/consequences.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// A chain to start from: a secondary that gives about the job's target through this rectifier.
RectifierChain usualChain(SimRectifier kind, const Job& job);
/// A silicon diode as a threshold or a junction, or a small rectifier valve, with usual datasheet figures.
SimDiode usualDiode(DiodeModel model);
LoadDraw drawOf(const SimLoad& load);
/// The same load at `v` volts told in another way.
SimLoad loadAs(LoadDraw draw, const SimLoad& load, double v);

/// The chain as planned, else as found; nothing until one is entered.
const RectifierChain* plannedChain(const Job& job);
/// What is simulated of a job: one cycle of its chain's steady state, against the ratings read.
std::optional<RectifierInput> chainInput(const Job& job);

/// A simulation that has been done, and what it was done for.
struct ChainRun
{
    RectifierInput input;
    SteadyResult result;
    /// Mean volts at the load with less of it: without, with a tenth, with half. Nothing where there is no
    /// steady state.
    struct Lighter
    {
        double share;
        double v;
    };
    std::vector<Lighter> lighter = {};
};
/// Throws what rectifierSimulate() throws.
ChainRun runChain(const RectifierInput& input, const SimProgress& progress = {});
/// Simulates the job's chain at once; nothing without one, or where it has no steady state.
std::optional<ChainRun> chainRunOf(const Job& job);
/// The run if it is of the job's chain as it is; null otherwise.
const ChainRun* runOf(const Job& job, const ChainRun* run);

/// Mean volts at a capacitor by its name in the simulation, or at the load where that is empty, as the run
/// has them; without a run, or where it has no such capacitor, the 70 % of the no-load voltage that a loaded
/// chain about keeps. At least 1 V.
double chainVolts(const RectifierChain& chain, const ChainRun* run, const std::string& capacitor);

/// What people call a part that the simulator numbers: "C1", "L1", "upper capacitor", "rectifier".
std::string chainPartName(const RectifierChain& chain, const std::string& part);
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

/// An aluminium electrolytic that has lain without voltage is formed again through a resistor at its rated
/// voltage (pre-conditioning of IEC 60384-4), here with at most 5 mA, until it leaks less than the usual
/// datasheet limit 0.01·C·V + 3 µA.
struct Forming
{
    std::string name; ///< "C1"
    double v_v;
    double r_ohm;         ///< V/5 mA
    double r_power_w;     ///< V²/R, into a short
    double leakage_max_a; ///< done below this
};
/// Years without voltage from which an electrolytic is formed again (usual storage limit of datasheets).
inline constexpr double idle_years_max = 2;
/// The chain's capacitors whose value and rating are known; empty for a supply that was in use.
std::vector<Forming> formingsOf(const Job& job);

} // namespace offshoot
