#include "core/evaluate/identity_view.h"

#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

namespace {

std::string namesOf(const std::vector<Topology>& kinds)
{
    std::string text;
    for (const Topology kind : kinds)
        text += (text.empty() ? "" : ", ") + std::string(kindWords(kind));
    return text;
}

std::string againstWords(const std::vector<KindClue>& clues, const KindClues& seen)
{
    std::string text;
    for (const KindClue clue : clues)
        text += (text.empty() ? "" : "; ") + std::string(seenWords(clue, *seen[clue]));
    return text;
}

void ask(IdentityView& view, const KindClues& seen, const std::vector<KindClue>& passed)
{
    std::vector<ClueWorth> clues = cluesByWorth(seen);
    if (clues.empty())
        return;
    std::stable_partition(clues.begin(), clues.end(), [&](const ClueWorth& worth) {
        return std::ranges::find(passed, worth.clue) == passed.end();
    });
    const KindClue clue = clues.front().clue;
    view.asked = clue;
    for (const ClueAnswer answer : answersOf(clue)) {
        KindClues then = seen;
        then[clue] = answer;
        std::vector<Topology> left;
        std::ranges::copy_if(kindsInOrder(), std::back_inserter(left),
                             [&](Topology kind) { return against(kind, then).empty(); });
        view.choices.push_back(
            {.answer = answer,
             .words = std::string(seenWords(clue, answer)),
             .left = left.size(),
             .leaves = left.empty() ? "then nothing fits that was seen" : "leaves " + namesOf(left)});
    }
    const auto pool = static_cast<std::size_t>(std::ranges::count_if(view.lanes, &KindLane::left));
    view.why = pool == 0
                   ? "Nothing looks like all that was seen: look again, this first."
                   : "Of " + std::to_string(pool) + " kinds about " + significant(clues.front().left, 2) +
                         " are left after it: no other look tells more.";
}

/// What nobody looked at closer.
std::string outlineWords(const Supply& supply)
{
    if (!supply.silhouette)
        return {};
    const KindClues shown = shownBy(*supply.silhouette);
    std::string text;
    for (std::size_t i = 0; i < clue_count; ++i)
        if (const auto clue = static_cast<KindClue>(i); shown[clue] && !supply.seen[clue])
            text += (text.empty() ? "" : ", ") + std::string(seenWords(clue, *shown[clue]));
    return text;
}

std::string sentenceOf(const Supply& supply, const IdentifyResult& result, bool looked)
{
    const std::string taken(kindWords(supply.topology));
    const bool fits = against(supply.topology, withSilhouette(supply.seen, supply.silhouette)).empty();
    if (!supply.topology_assumed)
        return fits ? "It is said to be: " + taken + "."
                    : "It is said to be: " + taken + ", which does not look like that.";
    if (!looked)
        return "What does it look like? A guess will do.";
    if (result.topology)
        return "Nothing but this looks like that: " + taken + ".";
    if (result.left == 0)
        return "No kind looks like all of that. Nearest: " + taken + ".";
    return std::to_string(result.left) + " kinds are left. Meanwhile it is taken for: " + taken + ".";
}

} // namespace

IdentityView identityView(const Supply& supply, const std::vector<KindClue>& passed)
{
    const KindClues seen = withSilhouette(supply.seen, supply.silhouette);
    const IdentifyResult result = supplyIdentify({seen});
    IdentityView view;
    for (const KindAgainst& kind : result.kinds)
        view.lanes.push_back({.topology = kind.topology,
                              .left = kind.against.empty(),
                              .taken = kind.topology == supply.topology,
                              .against = againstWords(kind.against, seen)});
    const bool looked = seen != KindClues{};
    if (!looked && supply.topology_assumed) // it is taken for nothing yet
        for (KindLane& lane : view.lanes)
            lane.taken = false;
    if (supply.topology_assumed && looked)
        view.offered = supply.topology;
    else if (result.topology && *result.topology != supply.topology)
        view.offered = result.topology;
    view.outline = outlineWords(supply);
    view.sentence = sentenceOf(supply, result, looked);
    ask(view, seen, passed);
    return view;
}

void setSilhouette(Supply& supply, std::optional<Silhouette> silhouette)
{
    supply.silhouette = silhouette;
    takeLikelyKind(supply);
}

void setClue(Supply& supply, KindClue clue, std::optional<ClueAnswer> answer)
{
    supply.seen[clue] = answer;
    takeLikelyKind(supply);
}

void sayKind(Supply& supply, Topology topology)
{
    supply.topology = topology;
    supply.topology_assumed = false;
}

} // namespace offshoot
