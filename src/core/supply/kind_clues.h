// What can be seen of a supply without a meter, and which kinds of supply look so.
#pragma once

#include "core/values/fields.h"

#include <array>
#include <optional>
#include <string_view>
#include <vector>

namespace offshoot {

enum class Topology;

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
    Json unknown = {};
    std::optional<ClueAnswer>& operator[](KindClue clue)
    {
        return answers.at(static_cast<std::size_t>(clue));
    }
    const std::optional<ClueAnswer>& operator[](KindClue clue) const
    {
        return answers.at(static_cast<std::size_t>(clue));
    }
    bool operator==(const KindClues&) const = default;
};
void fields(Fields& f, KindClues& value);

/// What a supply looks like from arm's length.
enum class Silhouette {
    SealedAdapter,
    OpenBoard,
    CasedTerminals,
    Computer,
    Rack,
    IronTransformer,
    ValveSet,
    SmallModule,
    AdjustableModule
};
template <>
struct Words<Silhouette>
{
    static constexpr std::array<std::string_view, 9> list{
        "sealed_adapter",   "open_board", "cased_terminals", "computer",         "rack",
        "iron_transformer", "valve_set",  "small_module",    "adjustable_module"};
};

inline constexpr std::size_t kind_count = 10;
/// Every kind of supply, in the order of the table.
const std::array<Topology, kind_count>& kindsInOrder();
/// The answers a clue has, in order.
std::vector<ClueAnswer> answersOf(KindClue clue);
/// Whether a kind of supply may look so.
bool admits(Topology topology, KindClue clue, ClueAnswer answer);
/// What was seen that is not so in this kind, in the order of the table.
std::vector<KindClue> against(Topology topology, const KindClues& seen);
/// What a silhouette shows by itself.
KindClues shownBy(Silhouette silhouette);
/// What was looked at, and what the silhouette shows where nobody looked closer.
KindClues withSilhouette(const KindClues& seen, std::optional<Silhouette> silhouette);
/// The kind it is taken for until somebody says: what the silhouette usually is, unless something seen speaks
/// against that; else the first of those with the least against them.
Topology likelyKind(const KindClues& seen, std::optional<Silhouette> silhouette);

/// "two large capacitors in a row": what is seen where a clue has this answer.
std::string_view seenWords(KindClue clue, ClueAnswer answer);
/// "large capacitors": the clue itself.
std::string_view clueName(KindClue clue);
/// "How many large capacitors behind the mains rectifier?"
std::string_view clueQuestion(KindClue clue);
/// Where to look.
std::string_view clueHelp(KindClue clue);
/// Whether the case has to be open for it.
bool underTheLid(KindClue clue);
std::string_view kindWords(Topology topology);
/// "an adapter that is sealed"
std::string_view silhouetteWords(Silhouette silhouette);

} // namespace offshoot
