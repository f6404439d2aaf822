#include "core/calculate/identify.h"

#include <algorithm>

namespace offshoot {

namespace {

/// How many of the kinds are left after looking, on average over what may be seen.
double worthOf(KindClue clue, const std::vector<Topology>& pool)
{
    const std::vector<ClueAnswer> answers = answersOf(clue);
    double sum = 0;
    for (const Topology kind : pool) {
        std::vector<ClueAnswer> seen;
        std::ranges::copy_if(answers, std::back_inserter(seen),
                             [&](ClueAnswer answer) { return admits(kind, clue, answer); });
        for (const ClueAnswer answer : seen)
            sum += static_cast<double>(std::ranges::count_if(
                       pool, [&](Topology other) { return admits(other, clue, answer); })) /
                   static_cast<double>(seen.size());
    }
    return sum / static_cast<double>(pool.size());
}

} // namespace

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

std::vector<ClueWorth> cluesByWorth(const KindClues& seen)
{
    std::vector<Topology> pool;
    std::ranges::copy_if(kindsInOrder(), std::back_inserter(pool),
                         [&](Topology kind) { return against(kind, seen).empty(); });
    if (pool.size() == 1)
        return {};
    if (pool.empty())
        pool.assign(kindsInOrder().begin(), kindsInOrder().end());
    std::vector<ClueWorth> list;
    for (std::size_t i = 0; i < clue_count; ++i)
        if (const auto clue = static_cast<KindClue>(i); !seen[clue])
            list.push_back({clue, worthOf(clue, pool)});
    constexpr double same = 1e-12; // such are ties, which stay in the table's order
    std::ranges::stable_sort(
        list, [](double a, double b) { return a < b - same; }, &ClueWorth::left);
    return list;
}

IdentifyResult supplyIdentify(const IdentifyInput& in)
{
    IdentifyResult out{};
    for (const Topology kind : kindsInOrder()) {
        out.kinds.push_back({kind, against(kind, in.clues)});
        out.left += out.kinds.back().against.empty() ? 1 : 0;
    }
    std::ranges::stable_sort(out.kinds, {}, [](const KindAgainst& kind) { return kind.against.size(); });
    if (out.left == 1)
        out.topology = out.kinds.front().topology;
    if (const std::vector<ClueWorth> clues = cluesByWorth(in.clues); !clues.empty()) {
        out.next = clues.front().clue;
        out.worth = clues.front().left;
    }
    return out;
}

} // namespace offshoot
