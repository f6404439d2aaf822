// `mains.evidence`: is this supply good for this mains? Every mains-side part says what it permits; the
// lowest rated one rules, however optimistic the label, and what nobody has read keeps the answer unknown.
#pragma once

#include "core/supply/mains_parts.h"
#include "core/values/usual.h"
#include "core/values/verdict.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct MainsTarget
{
    double v_v;
    double spread = usual_mains_spread;
    double f_hz;
};
void fields(Fields& f, MainsTarget& value);

struct EvidenceInput
{
    std::vector<Clue> clues;
    MainsTarget target;
    std::vector<ClueKind> needed = {ClueKind::BulkCap, ClueKind::FuseV};
};
void fields(Fields& f, EvidenceInput& in);

enum class Says { Silent, Permits, Forbids, Depends };
template <>
struct Words<Says>
{
    static constexpr std::array<std::string_view, 4> list{"silent", "permits", "forbids", "depends"};
};

struct JudgedClue
{
    std::string part;
    ClueKind kind;
    Says says;
    std::optional<double> ceiling_v;
    std::optional<double> floor_v;
    std::optional<double> judged_v;
    std::optional<double> use;

    /// Of a part that permits it tight above 95 % of what it bears; what forbids it breaks, what is silent is
    /// unknown.
    Verdict verdict() const;
};
void fields(Fields& f, JudgedClue& out);

enum class ContradictionCode { PaperPermitsPartForbids, PaperForbidsPartsPermit, PapersDisagree };
template <>
struct Words<ContradictionCode>
{
    static constexpr std::array<std::string_view, 3> list{"paper_permits_part_forbids",
                                                          "paper_forbids_parts_permit", "papers_disagree"};
};
struct Contradiction
{
    ContradictionCode code;
    std::vector<std::string> parts;
};
void fields(Fields& f, Contradiction& out);

struct EvidenceResult
{
    Verdict verdict;
    std::vector<JudgedClue> clues;
    std::vector<std::string> unread;
    std::vector<ClueKind> missing;
    std::optional<std::string> ruled_by; ///< the part that allows the least
    std::optional<double> max_nominal_v; ///< what it allows
    std::vector<Contradiction> contradictions;
};
void fields(Fields& f, EvidenceResult& out);

/// Target V·(1 ± spread) at f against what each clue permits; one that is not read and needed leaves it
/// unknown, a part that forbids it breaks it whatever the label says. Throws nothing.
EvidenceResult mainsEvidence(const EvidenceInput& in);

} // namespace offshoot
