// What kind of supply it is, by what was seen of it: which kinds are left, what speaks against the others,
// and the look that tells most.
#pragma once

#include "core/calculate/identify.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// A kind of supply, and what was seen that it does not look like.
struct KindLane
{
    Topology topology;
    bool left;           ///< nothing speaks against it
    bool taken;          ///< the supply counts as one
    std::string against; ///< "two large capacitors in a row; no optocoupler"
};

/// What may be seen, and what is left then.
struct ClueChoice
{
    ClueAnswer answer;
    std::string words;
    std::size_t left;   ///< how many kinds look like what was seen and this
    std::string leaves; ///< "leaves flyback, forward"
};

struct IdentityView
{
    std::vector<KindLane> lanes;   ///< least against first
    std::optional<KindClue> asked; ///< absent where every look was had or nothing is left to tell apart
    std::vector<ClueChoice> choices;
    std::string why;                 ///< why this clue is asked for
    std::string outline;             ///< what its outline shows by itself: "it opens, fed with DC"
    std::string sentence;            ///< "It is a flyback: nothing else looks like that."
    std::optional<Topology> offered; ///< what may be said now
};

/// `passed` are clues that nobody could tell: others are asked for first.
IdentityView identityView(const Supply& supply, const std::vector<KindClue>& passed = {});

void setSilhouette(Supply& supply, std::optional<Silhouette> silhouette);
void setClue(Supply& supply, KindClue clue, std::optional<ClueAnswer> answer);
/// Somebody says so: it is assumed no more.
void sayKind(Supply& supply, Topology topology);

} // namespace offshoot
