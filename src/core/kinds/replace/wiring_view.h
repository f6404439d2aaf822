// Which of the old wires goes to which terminal of the planned units, and what is wrong with it.
#pragma once

#include "core/calculate/wiring_map.h"
#include "core/job/job.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// A terminal of a planned unit.
struct PlannedTerminal
{
    std::size_t unit;  ///< counts from 0
    std::string name;  ///< with its unit's name where there are two
    Wire serves;       ///< function and rail of a wire that belongs there
    std::string words; ///< what it is for: "5V", "return of 5V", "live"
    bool swapped;      ///< of an output that serves a rail of the other sign: its plus is the return
    bool must;
    std::size_t wires = 0; ///< on it
    std::int64_t most;
};

/// A wire on its way from the old side to the new one.
struct PlannedWire
{
    Wire wire;
    bool added;                                ///< made new
    std::string words;                         ///< what was measured, never what its colour means
    std::optional<std::size_t> terminal = {};  ///< its place among the terminals
    std::optional<WireConnection> judged = {}; ///< where it has one
    std::string left = {};                     ///< why it stays at the old side
    std::vector<std::string> remarks = {};     ///< what is wrong, what is missing, worst first
    Verdict verdict;
};

struct WiringView
{
    std::vector<PlannedWire> wires;         ///< found ones, then new ones
    std::vector<PlannedTerminal> terminals; ///< unit by unit
    std::vector<std::string> missing;       ///< terminals that must have a wire and have none
    Verdict verdict = Verdict::Unknown;
    std::string sentence;
};
/// Where every old and new wire goes by what the plan says, and what speaks against it.
WiringView wiringView(const Job& job);

/// "W4 (red)".
std::string withColour(const Wire& wire);
/// "protective earth", "5V", "return of 5V", "not measured yet".
std::string functionWords(const Wire& wire);
/// Of the mains side: line, neutral and the protective earth beside them.
bool carriesMains(WireFunction function);
/// New wires, each measured by whoever makes it, for every terminal that must have one and has none.
std::vector<Wire> missingWires(const Job& job);

} // namespace offshoot
