// `supply.identify`: which kind of supply is it, by what can be seen of it? And which look tells most next?
#pragma once

#include "core/supply/supply.h"

#include <optional>
#include <vector>

namespace offshoot {

/// In the order in which they are asked for where they tell the same.
enum class KindClue {
    Opens,             ///< without destroying it
    Feed,              ///< what feeds it
    Iron,              ///< its largest magnetic part
    Bulk,              ///< capacitors above 100 V behind the mains rectifier
    Switches,          ///< power transistors on the mains side; one inside the controller counts
    Rectifier,         ///< power diodes of the main output
    OutputChoke,       ///< a large one before the first output capacitor
    DriverTransformer, ///< a second small one at the switches
    Optocoupler,
    PassDevice, ///< on the output side, on a heatsink, in line with the output
    Output,     ///< against its feed
};
template <>
struct Words<KindClue>
{
    static constexpr std::array<std::string_view, 11> list{
        "opens",       "feed",        "iron",         "bulk",
        "switches",    "rectifier",   "output_choke", "driver_transformer",
        "optocoupler", "pass_device", "output"};
};

/// Every answer there is; which of them a clue has stands in its table.
enum class ClueAnswer {
    Yes,
    No,
    Mains,
    Dc,
    Line,
    Ferrite,
    Choke,
    None,
    One,
    Two,
    Four,
    Bridge,
    Regulator,
    Transistor,
    Lower,
    Higher,
    Isolated
};
template <>
struct Words<ClueAnswer>
{
    static constexpr std::array<std::string_view, 17> list{
        "yes", "no",   "mains",  "dc",        "line",       "ferrite", "choke",  "none",    "one",
        "two", "four", "bridge", "regulator", "transistor", "lower",   "higher", "isolated"};
};

inline constexpr std::size_t clue_count = Words<KindClue>::list.size();

struct KindClues
{
    std::array<std::optional<ClueAnswer>, clue_count> answers = {}; ///< by clue; absent: not looked at
};
void fields(Fields& f, KindClues& value);

struct IdentifyInput
{
    KindClues clues;
};
void fields(Fields& f, IdentifyInput& in);

struct KindAgainst
{
    Topology topology;
    std::vector<KindClue> against; ///< what was seen and is not so in this kind
};
void fields(Fields& f, KindAgainst& out);

struct IdentifyResult
{
    std::vector<KindAgainst> kinds;   ///< least against first
    std::optional<Topology> topology; ///< the one that has nothing against it
    std::int64_t left;                ///< how many have nothing against them
    std::optional<KindClue> next;     ///< the look that tells most
    std::optional<double> worth;      ///< kinds that are left after it, on average: less is better
};
void fields(Fields& f, IdentifyResult& out);

/// The answers a clue has, in order.
std::vector<ClueAnswer> answersOf(KindClue clue);
/// Whether a kind of supply may look so.
bool admits(Topology topology, KindClue clue, ClueAnswer answer);
IdentifyResult supplyIdentify(const IdentifyInput& in);

} // namespace offshoot
