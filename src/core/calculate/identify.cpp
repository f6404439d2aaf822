#include "core/calculate/identify.h"

#include <algorithm>
#include <array>

namespace offshoot {

namespace {

using enum ClueAnswer;

constexpr std::size_t kind_count = 10;
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

bool admits(std::size_t kind, KindClue clue, ClueAnswer answer)
{
    return (rowOf(clue).admits.at(kind) & rowOf(clue).answers & bit(answer)) != 0;
}

/// How many of the kinds are left after looking, on average over what may be seen.
double worthOf(KindClue clue, const std::vector<std::size_t>& pool)
{
    const std::vector<ClueAnswer> answers = answersOf(clue);
    double sum = 0;
    for (const std::size_t kind : pool) {
        std::vector<ClueAnswer> seen;
        std::ranges::copy_if(answers, std::back_inserter(seen),
                             [&](ClueAnswer answer) { return admits(kind, clue, answer); });
        for (const ClueAnswer answer : seen)
            sum += static_cast<double>(std::ranges::count_if(
                       pool, [&](std::size_t other) { return admits(other, clue, answer); })) /
                   static_cast<double>(seen.size());
    }
    return sum / static_cast<double>(pool.size());
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

void fields(Fields& f, IdentifyInput& in) { f.need("clues", in.clues); }

void fields(Fields& f, KindAgainst& out)
{
    f.need("topology", out.topology);
    f.need("against", out.against, Lengths{});
}

void fields(Fields& f, IdentifyResult& out)
{
    f.need("kinds", out.kinds);
    f.may("topology", out.topology);
    f.need("left", out.left, 0, static_cast<std::int64_t>(kind_count));
    f.may("next", out.next);
    f.may("worth", out.worth);
}

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
    const auto at = static_cast<std::size_t>(std::ranges::find(kinds, topology) - kinds.begin());
    return admits(at, clue, answer);
}

IdentifyResult supplyIdentify(const IdentifyInput& in)
{
    IdentifyResult out{};
    std::vector<std::size_t> pool;
    for (std::size_t kind = 0; kind < kind_count; ++kind) {
        KindAgainst judged{kinds.at(kind), {}};
        for (std::size_t i = 0; i < clue_count; ++i)
            if (const auto& answer = in.clues.answers.at(i);
                answer && !admits(kind, static_cast<KindClue>(i), *answer))
                judged.against.push_back(static_cast<KindClue>(i));
        if (judged.against.empty())
            pool.push_back(kind);
        out.kinds.push_back(std::move(judged));
    }
    out.left = static_cast<std::int64_t>(pool.size());
    std::ranges::stable_sort(out.kinds, {}, [](const KindAgainst& kind) { return kind.against.size(); });
    if (pool.size() == 1) {
        out.topology = kinds.at(pool.front());
        return out;
    }
    if (pool.empty())
        for (std::size_t kind = 0; kind < kind_count; ++kind)
            pool.push_back(kind);
    constexpr double same = 1e-12;
    for (std::size_t i = 0; i < clue_count; ++i) {
        if (in.clues.answers.at(i))
            continue;
        const double worth = worthOf(static_cast<KindClue>(i), pool);
        if (out.worth && worth >= *out.worth - same)
            continue;
        out.next = static_cast<KindClue>(i);
        out.worth = worth;
    }
    return out;
}

} // namespace offshoot
