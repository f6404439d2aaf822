// `wiring.map`: old connections left, new terminals right. Which wire goes where, what is too thin or too
// short, what must stay unconnected until it is measured?
#pragma once

#include "core/supply/shelf_unit.h"
#include "core/values/verdict.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// The functions of the mains side, and that of a wire nobody has measured.
inline constexpr std::string_view line_function = "L";
inline constexpr std::string_view neutral_function = "N";
inline constexpr std::string_view earth_function = "PE";
inline constexpr std::string_view unknown_function = "unknown";

struct OldWire
{
    std::string name;
    std::string function;
    bool measured = false; ///< what it does was read, not guessed from its colour
    double current_a = 0;
    std::optional<double> area_m2 = {};
    std::optional<double> length_m = {}; ///< free length that is left
    std::optional<double> insulation_v = {};
    std::optional<std::string> pulled_to = {}; ///< somebody's own choice of terminal; in no document
};
void fields(Fields& f, OldWire& value);

struct WiringMapInput
{
    std::vector<OldWire> wires;         ///< 1 to 200
    std::vector<NewTerminal> terminals; ///< 1 to 100
    std::optional<double> mains_v = {}; ///< highest rms; asks for the insulation of L and N
    double keep_slack_m = 0.03;
};
void fields(Fields& f, WiringMapInput& in);

struct WireConnection
{
    std::string wire;
    std::string terminal;
    std::optional<double> load_use = {}; ///< the terminal's whole current over its rating
    std::optional<Verdict> load_verdict = {};
    std::optional<Verdict> size_verdict = {};
    std::optional<Verdict> reach_verdict = {};
    std::optional<double> splice_m = {}; ///< length that is missing
    std::optional<Verdict> insulation_verdict = {};
    bool measured;
    Verdict verdict = Verdict::Unknown;
};
void fields(Fields& f, WireConnection& out);

enum class LeftOver { UnknownFunction, NoTerminal, NoRoom };
template <>
struct Words<LeftOver>
{
    static constexpr std::array<std::string_view, 3> list{"unknown_function", "no_terminal", "no_room"};
};
struct LeftWire
{
    std::string wire;
    LeftOver why;
};
void fields(Fields& f, LeftWire& out);

struct WiringMapResult
{
    std::vector<WireConnection> connections; ///< in the order of the wires
    std::vector<std::string> unmeasured;
    std::vector<LeftWire> left_over;
    std::vector<std::string> empty;   ///< terminals without a wire
    std::vector<std::string> missing; ///< those of them that must have one
    Verdict verdict;
};
void fields(Fields& f, WiringMapResult& out);

/// Protective earth first, then by falling current: each wire to a terminal of its function that still has
/// room, one that must be connected before others, then the one that stays loaded least.
WiringMapResult wiringMap(const WiringMapInput& in);

} // namespace offshoot
