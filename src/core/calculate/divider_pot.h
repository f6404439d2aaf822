// `divider.pot`: finding the value by turning a temporary trimmer, and what it should be preset to.
#pragma once

#include "core/calculate/divider.h"

namespace offshoot {

struct DividerPotInput
{
    FoundDivider divider;
    DividerMethod method;
    double pot_ohm;
    double fixed_ohm = 0;    ///< in series with the pot
    bool wiper_tied = false; ///< wiper joined to the far end: an open wiper leaves the whole pot
    std::optional<double> measured_ohm = {}; ///< pot and fixed together, read after trimming
    std::optional<Target> target = {};
};
void fields(Fields& f, DividerPotInput& in);

struct DividerPotResult
{
    double found_v;
    FaultResult at_zero;
    FaultResult at_full;
    double min_v;
    std::optional<double> max_v; ///< null if an end runs away
    FaultResult open_wiper;
    double preset_ohm; ///< the pot's own, before first power
    std::optional<double> preset_v;
    std::optional<double> predicted_v;
    std::optional<double> target_ohm; ///< the pot's own; null if off the travel
    std::optional<double> target_travel;
    std::optional<double> window_travel; ///< share of the travel inside the window; below 0.05 is too coarse
    std::optional<double> window_from;   ///< the travel x of 0 to 1 at the window's edges, ascending
    std::optional<double> window_to;
};
void fields(Fields& f, DividerPotResult& out);

/// The divider's formula along the travel, in which it is monotone: where it passes a voltage, by bisection.
/// An end without feedback has no voltage; throws nothing.
DividerPotResult dividerPot(const DividerPotInput& in);

struct TrimmerChoice
{
    double pot_ohm;
    double fixed_ohm;
};
/// A usual trimmer (1, 2 or 5 times a power of ten) and an E12 resistor in series that set `exact_ohm` (> 0)
/// well inside the travel: from at most 0.7 to at least 1.2 times of it.
TrimmerChoice usualTrimmerFor(double exact_ohm);

} // namespace offshoot
