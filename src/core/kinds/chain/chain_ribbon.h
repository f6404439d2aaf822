// The rectifier chain looked at closely, as the window draws it: its parts one after the other with the place
// each stands at and its own limit, the band of the voltage at each place, and what its tolerances make of
// it.
#pragma once

#include "core/calculate/rectifier_spread.h"
#include "core/kinds/chain/chain_view.h"

namespace offshoot {

enum class ChainThing { Source, Diodes, Valve, Can, Choke, Resistor, Load };

/// One part as it stands on the ribbon.
struct ChainPart
{
    ChainThing thing;
    std::string part; ///< "source", "rectifier", the index of a section, "load"
    std::string name; ///< "C1", "bridge"
    std::string value;
    std::size_t
        place; ///< where it stands, counted from behind the rectifier; of a part in line where it begins
    bool in_line = false;                     ///< from its place to the next
    std::string tapped = {};                  ///< what is drawn there on the way; empty for nothing
    std::optional<ConsequenceRow> limit = {}; ///< the worst of its rows
    std::string flow = {};                    ///< what flows there: "70 mA"
};

struct ChainRibbon
{
    std::vector<ChainPart> parts = {}; ///< source, rectifier, the sections, the load
    std::size_t places = 0;
    double unloaded_v = 0;             ///< crest at the nominal mains
    std::optional<Target> window = {}; ///< what the load asks of a supply that does not regulate
};
/// Empty without a chain. Limits and flows only where `run` is of the job's chain as it is.
ChainRibbon chainRibbon(const Job& job, const ChainRun* run);

/// "Lowest 224 V: mains −10 %, C1 −20 %, L1 +20 %. Highest 277 V: ..."
std::string spreadSentence(const RectifierChain& chain, const ChainSpread& spread);
/// "mains ±10 %, C and L ±20 %"
std::string toleranceText(const RectifierChain& chain);

/// A section to begin with where one is put in: 100 µF, 1 H with 10 Ω of wire, 10 Ω.
SmoothingSection usualSection(SmoothingKind kind);
/// The same section with its value times `share`, to the nearest of E24. A capacitor's capacitance, a choke's
/// inductance, a resistor's ohms; within what a chain may hold.
SmoothingSection scaledSection(const SmoothingSection& section, double share);
/// Takes a section up and lays it down before the one that is at `to` now; taps go with their capacitor.
void moveSection(RectifierChain& chain, std::size_t from, std::size_t to);

} // namespace offshoot
