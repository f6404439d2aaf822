// What may be wrong with the simulated unit: one fault, as a word and the part it is in.
#pragma once

#include "core/evaluate/evaluation.h"

#include <string>
#include <string_view>
#include <vector>

namespace offshoot {

class Draw;

enum class UnitFaultKind {
    None,
    Open,           ///< a part of the divider, since the change
    Short,          ///< likewise
    DecadeUp,       ///< a fitted part of ten times its value
    DecadeDown,     ///< of a tenth
    WrongLeg,       ///< a fitted part across the other leg
    Reference,      ///< another reference than the one entered, from the start
    NoEarth,        ///< the protective earth is not connected
    OpenBleeder,    ///< nothing takes the reservoirs down
    DriedCapacitor, ///< the output capacitor has lost most of its capacitance
    ShortedInput,   ///< behind the fuse: rectifier or switch
    LeakyCapacitor, ///< the reservoir takes current while it is charged
    OpenLink,       ///< a link or wire of the change was left open: nothing gets through
    SwappedWires,   ///< the new output's two wires are in each other's place
    PoorLead,       ///< a poor joint in one unit's lead to where they join
};
template <>
struct Words<UnitFaultKind>
{
    static constexpr std::array<std::string_view, 15> list{
        "none",      "open",          "short",        "decade_up",       "decade_down",   "wrong_leg",
        "reference", "no_earth",      "open_bleeder", "dried_capacitor", "shorted_input", "leaky_capacitor",
        "open_link", "swapped_wires", "poor_lead"};
};

struct UnitFault
{
    UnitFaultKind kind = UnitFaultKind::None;
    std::string part = {};          ///< as divider.diagnose names it: "top", "added"; a lead's unit: "#2"
    std::optional<double> v_v = {}; ///< of another reference
    bool operator==(const UnitFault&) const = default;
    /// "open added", "reference 1.24", "no_earth", "poor_lead #2".
    std::string text() const;
};

/// Those that this job's unit can have, each once.
std::vector<UnitFault> possibleFaults(const Job& job);
/// Reads text(); "any" draws one of those possible. Throws DocumentError at `path`, with what there is.
UnitFault unitFaultFrom(std::string_view text, const Job& job, const Draw& draw, const std::string& path);

} // namespace offshoot
