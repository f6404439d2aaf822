#include "core/supply/kind_clues.h"

#include "core/supply/supply.h"

#include <algorithm>

namespace offshoot {

namespace {

using enum ClueAnswer;

/// In the order of the columns below.
constexpr std::array<Topology, kind_count> kinds{
    Topology::Flyback,     Topology::Forward,     Topology::HalfBridge, Topology::FullBridge,
    Topology::Buck,        Topology::Boost,       Topology::Linear,     Topology::SeriesPass,
    Topology::Unregulated, Topology::SealedModule};

/// A set of answers.
constexpr unsigned bit(ClueAnswer answer) { return 1U << static_cast<unsigned>(answer); }
template <class... Answers>
constexpr unsigned set(Answers... answers)
{
    return (0U | ... | bit(answers));
}
constexpr unsigned any = ~0U;

/// What each kind of supply looks like; `any` where the look tells nothing.
struct KindClueRow
{
    unsigned answers;
    std::array<unsigned, kind_count> admits;
};
constexpr unsigned yes = set(Yes);
constexpr unsigned no = set(No);
constexpr std::array<KindClueRow, clue_count> rows{{
    {set(Yes, No), {yes, yes, yes, yes, yes, yes, yes, yes, yes, no}},
    {set(Mains, Dc),
     {set(Mains), set(Mains), set(Mains), set(Mains), set(Dc), set(Dc), any, any, set(Mains), any}},
    {set(Line, Ferrite, Choke, None),
     {set(Ferrite), set(Ferrite), set(Ferrite), set(Ferrite), set(Choke), set(Choke), set(Line, None),
      set(Line, None), set(Line), any}},
    {set(None, One, Two),
     {set(One, Two), set(One, Two), set(One, Two), set(One, Two), set(None), set(None), set(None), set(None),
      set(None), any}},
    {set(None, One, Two, Four),
     {set(One), set(One, Two), set(Two), set(Four), set(None), set(None), set(None), set(None), set(None),
      any}},
    {set(None, One, Two, Bridge),
     {set(One), set(Two), set(Two, Bridge), set(Two, Bridge), set(None, One), set(One), any, any,
      set(Two, Bridge, One), any}},
    {set(Yes, No), {no, yes, yes, yes, yes, no, no, no, any, any}},
    {set(Yes, No), {no, any, any, any, no, no, no, no, no, any}},
    {set(Yes, No), {any, any, any, any, no, no, no, no, no, any}},
    {set(None, Regulator, Transistor),
     {set(None), set(None), set(None), set(None), set(None), set(None), set(Regulator), set(Transistor),
      set(None), any}},
    {set(Lower, Higher, Isolated),
     {set(Isolated), set(Isolated), set(Isolated), set(Isolated), set(Lower), set(Higher), any, any,
      set(Isolated), any}},
}};

const KindClueRow& rowOf(KindClue clue) { return rows.at(static_cast<std::size_t>(clue)); }

struct ClueWords
{
    std::string_view name;
    std::string_view question;
    std::string_view help;
    bool under_the_lid;
    /// As its answers stand in the table.
    std::vector<std::string_view> seen;
};
const ClueWords& wordsOf(KindClue clue)
{
    static const std::array<ClueWords, clue_count> list{{
        {"opens",
         "Can it be opened without destroying it?",
         "Look for screws and clips. Glued or welded shut: leave it shut.",
         false,
         {"it opens", "it is sealed"}},
        {"fed by",
         "What feeds it?",
         "Follow the input to its plug or terminals.",
         false,
         {"fed from the mains", "fed with DC"}},
        {"largest magnetic part",
         "What is its largest magnetic part?",
         "Stacked or wound iron is heavy for its size and made for the mains frequency; ferrite is dark, "
         "smooth and wrapped in tape; a choke has one winding.",
         true,
         {"a transformer of iron", "a transformer of ferrite", "a choke alone", "no magnetic part"}},
        {"large capacitors",
         "How many large capacitors stand behind the mains rectifier?",
         "Read what is printed: above 100 V. Two in a row are alike and stand side by side. They may be "
         "charged: look, do not touch.",
         true,
         {"no large capacitor", "one large capacitor", "two large capacitors in a row"}},
        {"mains-side transistors",
         "How many power transistors are on the mains side?",
         "On the heatsink between the large capacitor and the transformer. One inside the controller counts.",
         true,
         {"no power transistor", "one power transistor", "two power transistors", "four power transistors"}},
        {"output diodes",
         "How many power diodes has the main output?",
         "Between the transformer and the first output capacitor. A double one in one case counts as two.",
         true,
         {"no power diode", "one power diode", "two power diodes", "a bridge of diodes"}},
        {"output choke",
         "Is there a large choke before the first output capacitor?",
         "A ring or rod of thick wire. A thin one between two capacitors is a filter and does not count.",
         true,
         {"a large output choke", "no large output choke"}},
        {"driver transformer",
         "Is there a second, small transformer at the power transistors?",
         "A cube of a centimetre or two between controller and transistors.",
         true,
         {"a driver transformer", "no driver transformer"}},
        {"optocoupler",
         "Is there an optocoupler?",
         "A small block with four or six legs that stands across the gap between mains side and output.",
         true,
         {"an optocoupler", "no optocoupler"}},
        {"in line with the output",
         "What stands in line with the output, on a heatsink?",
         "On the output side, between the reservoir and the terminal.",
         true,
         {"nothing in line with the output", "a regulator in line with the output",
          "a transistor in line with the output"}},
        {"its output is",
         "What does it make of its feed?",
         "From the labels, or from what it is used for. Isolated: no connection from the output to the feed.",
         false,
         {"an output below its feed", "an output above its feed", "an output isolated from its feed"}},
    }};
    return list.at(static_cast<std::size_t>(clue));
}

struct Look
{
    std::string_view words;
    Topology usual;
    KindClues shows;
};
KindClues shows(ClueAnswer opens, ClueAnswer feed, std::optional<ClueAnswer> iron = {})
{
    KindClues clues;
    clues[KindClue::Opens] = opens;
    clues[KindClue::Feed] = feed;
    clues[KindClue::Iron] = iron;
    return clues;
}
const Look& lookOf(Silhouette silhouette)
{
    static const std::array<Look, Words<Silhouette>::list.size()> list{{
        {"sealed adapter", Topology::SealedModule, shows(No, Mains)},
        {"open board", Topology::Flyback, shows(Yes, Mains)},
        {"metal case with terminals", Topology::Flyback, shows(Yes, Mains)},
        {"computer type", Topology::HalfBridge, shows(Yes, Mains)},
        {"rack type", Topology::Forward, shows(Yes, Mains)},
        {"iron transformer", Topology::Linear, shows(Yes, Mains, Line)},
        {"valve set", Topology::Unregulated, shows(Yes, Mains, Line)},
        {"small module on DC", Topology::Buck, shows(Yes, Dc)},
        {"adjustable module on DC", Topology::Buck, shows(Yes, Dc)},
    }};
    return list.at(static_cast<std::size_t>(silhouette));
}

} // namespace

void fields(Fields& f, KindClues& value)
{
    for (std::size_t i = 0; i < clue_count; ++i) {
        const auto clue = static_cast<KindClue>(i);
        f.may(word(clue), value.answers.at(i));
        f.demand(!value.answers.at(i) || (rowOf(clue).answers & bit(*value.answers.at(i))) != 0,
                 ErrorCode::OutOfRange, word(clue), "this clue has no such answer");
    }
}

const std::array<Topology, kind_count>& kindsInOrder() { return kinds; }

std::vector<ClueAnswer> answersOf(KindClue clue)
{
    std::vector<ClueAnswer> answers;
    for (std::size_t i = 0; i < Words<ClueAnswer>::list.size(); ++i)
        if ((rowOf(clue).answers & bit(static_cast<ClueAnswer>(i))) != 0)
            answers.push_back(static_cast<ClueAnswer>(i));
    return answers;
}

bool admits(Topology topology, KindClue clue, ClueAnswer answer)
{
    const auto kind = static_cast<std::size_t>(std::ranges::find(kinds, topology) - kinds.begin());
    return (rowOf(clue).admits.at(kind) & rowOf(clue).answers & bit(answer)) != 0;
}

std::vector<KindClue> against(Topology topology, const KindClues& seen)
{
    std::vector<KindClue> list;
    for (std::size_t i = 0; i < clue_count; ++i)
        if (const auto clue = static_cast<KindClue>(i); seen[clue] && !admits(topology, clue, *seen[clue]))
            list.push_back(clue);
    return list;
}

KindClues shownBy(Silhouette silhouette) { return lookOf(silhouette).shows; }

KindClues withSilhouette(const KindClues& seen, std::optional<Silhouette> silhouette)
{
    KindClues all = seen;
    if (silhouette)
        for (std::size_t i = 0; i < clue_count; ++i)
            if (!all.answers.at(i))
                all.answers.at(i) = lookOf(*silhouette).shows.answers.at(i);
    return all;
}

Topology likelyKind(const KindClues& seen, std::optional<Silhouette> silhouette)
{
    const KindClues all = withSilhouette(seen, silhouette);
    if (silhouette && against(lookOf(*silhouette).usual, all).empty())
        return lookOf(*silhouette).usual;
    return *std::ranges::min_element(kinds, {},
                                     [&](Topology topology) { return against(topology, all).size(); });
}

std::string_view seenWords(KindClue clue, ClueAnswer answer)
{
    const std::vector<ClueAnswer> answers = answersOf(clue);
    const auto at = std::ranges::find(answers, answer) - answers.begin();
    return wordsOf(clue).seen.at(static_cast<std::size_t>(at));
}
std::string_view clueName(KindClue clue) { return wordsOf(clue).name; }
std::string_view clueQuestion(KindClue clue) { return wordsOf(clue).question; }
std::string_view clueHelp(KindClue clue) { return wordsOf(clue).help; }
bool underTheLid(KindClue clue) { return wordsOf(clue).under_the_lid; }

std::string_view kindWords(Topology topology)
{
    static constexpr std::array<std::string_view, kind_count> list{"flyback",
                                                                   "forward",
                                                                   "half bridge",
                                                                   "full bridge",
                                                                   "buck",
                                                                   "boost",
                                                                   "linear regulator",
                                                                   "series pass, discrete",
                                                                   "sealed module",
                                                                   "transformer and rectifier, unregulated"};
    return list.at(static_cast<std::size_t>(topology));
}

std::string_view silhouetteWords(Silhouette silhouette) { return lookOf(silhouette).words; }

} // namespace offshoot
