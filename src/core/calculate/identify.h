// `supply.identify`: which kind of supply is it, by what can be seen of it? And which look tells most next?
#pragma once

#include "core/supply/kind_clues.h"
#include "core/supply/supply.h"

#include <optional>
#include <vector>

namespace offshoot {

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

struct ClueWorth
{
    KindClue clue;
    double left; ///< kinds that are left after looking, on average: less is better
};
/// What nobody has looked at yet, by what it is worth: the expected number of kinds that admit its answer,
/// where each kind left (if none is: each kind) is as likely as another and each of its answers too. Empty
/// once one kind is left.
std::vector<ClueWorth> cluesByWorth(const KindClues& seen);
/// Each kind with the clues against it, the least first; the next look is the one worth most (cluesByWorth).
/// Several kinds may be left; where clues disagree none is. Throws nothing.
IdentifyResult supplyIdentify(const IdentifyInput& in);

} // namespace offshoot
