#include "core/calculate/mains_evidence.h"

#include <algorithm>
#include <numbers>

namespace offshoot {

namespace {

constexpr Range spread_range{0, 1, false, true};
/// Above this use a part that permits still makes the answer tight.
constexpr double tight_from = 0.95;
/// A transformer bears a tenth above its rating, its own spread.
constexpr double transformer_room = 1.10;

bool isBulk(ClueKind kind) { return kind == ClueKind::BulkCap || kind == ClueKind::BulkCapSeries; }

bool standsFor(ClueKind kind, ClueKind needed) { return kind == needed || (isBulk(kind) && isBulk(needed)); }

class Evidence
{
public:
    explicit Evidence(const EvidenceInput& in)
        : m_in(in)
        , m_top_v(in.target.v_v * (1 + in.target.spread))
    {}

    EvidenceResult run()
    {
        for (const Clue& clue : m_in.clues)
            m_out.clues.push_back(judge(clue));
        findUnread();
        findRuler();
        findContradictions();
        m_out.verdict = verdict();
        return std::move(m_out);
    }

private:
    /// What it permits at most with its doubler link straight, and otherwise.
    double ceiling(const Clue& clue, bool straight) const
    {
        const double rating_v = *clue.rating_v;
        switch (clue.kind) {
        case ClueKind::BulkCap:
            return rating_v / std::numbers::sqrt2;
        case ClueKind::BulkCapSeries:
            return (straight ? 2 : 1) * rating_v / std::numbers::sqrt2;
        case ClueKind::TransformerPrimary:
            return transformer_room * rating_v * m_in.target.f_hz / *clue.f_rated_hz;
        case ClueKind::XCap:
        case ClueKind::Mov:
        case ClueKind::Breaker:
        case ClueKind::FuseV:
        case ClueKind::Label:
        case ClueKind::Manual:
        case ClueKind::Sibling:
            break;
        }
        return rating_v;
    }

    double judgedAt(ClueKind kind) const
    {
        switch (kind) {
        case ClueKind::BulkCap:
        case ClueKind::BulkCapSeries:
        case ClueKind::XCap:
        case ClueKind::Mov:
            return m_top_v;
        case ClueKind::TransformerPrimary:
            return std::max(m_in.target.v_v, m_top_v / transformer_room);
        case ClueKind::Breaker:
        case ClueKind::FuseV:
        case ClueKind::Label:
        case ClueKind::Manual:
        case ClueKind::Sibling:
            break;
        }
        return m_in.target.v_v;
    }

    JudgedClue judge(const Clue& clue) const
    {
        JudgedClue out{clue.part, clue.kind, Says::Silent, {}, {}, {}, {}};
        if (!clue.seen || (!isPaper(clue.kind) && !clue.rating_v))
            return out;
        if (isPaper(clue.kind))
            return judgePaper(clue, std::move(out));
        const bool straight = clue.link == PairLink::Straight;
        const double judged_v = judgedAt(clue.kind);
        out.ceiling_v = ceiling(clue, straight);
        out.judged_v = judged_v;
        out.use = judged_v / *out.ceiling_v;
        out.says = atMost(judged_v, *out.ceiling_v) ? Says::Permits : Says::Forbids;
        if (out.says == Says::Forbids && clue.link == PairLink::Unknown &&
            atMost(judged_v, ceiling(clue, true)))
            out.says = Says::Depends;
        return out;
    }

    JudgedClue judgePaper(const Clue& clue, JudgedClue out) const
    {
        const bool volts = within(m_in.target.v_v, *clue.min_v, *clue.max_v);
        const bool hertz = atLeast(m_in.target.f_hz, clue.f_min_hz.value_or(0)) &&
                           atMost(m_in.target.f_hz, clue.f_max_hz.value_or(Range::largest));
        const bool permits = volts && hertz;
        if (!permits && clue.kind == ClueKind::Sibling)
            return out;
        out.ceiling_v = clue.max_v;
        out.floor_v = clue.min_v;
        out.judged_v = m_in.target.v_v;
        out.use = m_in.target.v_v / *clue.max_v;
        out.says = permits ? Says::Permits : Says::Forbids;
        return out;
    }

    void findUnread()
    {
        for (const JudgedClue& clue : m_out.clues)
            if (!isPaper(clue.kind) && clue.says == Says::Silent)
                m_out.unread.push_back(clue.part);
        for (const ClueKind needed : m_in.needed)
            if (std::ranges::none_of(m_out.clues, [needed](const JudgedClue& clue) {
                    return clue.says != Says::Silent && standsFor(clue.kind, needed);
                }))
                m_out.missing.push_back(needed);
    }

    void findRuler()
    {
        for (const JudgedClue& clue : m_out.clues) {
            if (isPaper(clue.kind) || !clue.ceiling_v)
                continue;
            const double nominal_v = *clue.ceiling_v * m_in.target.v_v / *clue.judged_v;
            if (m_out.max_nominal_v && nominal_v >= *m_out.max_nominal_v)
                continue;
            m_out.max_nominal_v = nominal_v;
            m_out.ruled_by = clue.part;
        }
    }

    std::vector<const JudgedClue*> papers() const
    {
        std::vector<const JudgedClue*> list;
        for (const JudgedClue& clue : m_out.clues)
            if (clue.kind == ClueKind::Label || clue.kind == ClueKind::Manual)
                list.push_back(&clue);
        return list;
    }

    bool anyPart(Says says) const
    {
        return std::ranges::any_of(
            m_out.clues, [says](const JudgedClue& clue) { return !isPaper(clue.kind) && clue.says == says; });
    }

    void findContradictions()
    {
        const auto all = papers();
        for (const JudgedClue* paper : all)
            for (const JudgedClue& part : m_out.clues)
                if (paper->says == Says::Permits && !isPaper(part.kind) && part.says == Says::Forbids)
                    m_out.contradictions.push_back(
                        {ContradictionCode::PaperPermitsPartForbids, {paper->part, part.part}});
        const bool read = anyPart(Says::Permits) || anyPart(Says::Depends);
        for (const JudgedClue* paper : all)
            if (paper->says == Says::Forbids && read && !anyPart(Says::Forbids))
                m_out.contradictions.push_back({ContradictionCode::PaperForbidsPartsPermit, {paper->part}});
        for (std::size_t i = 0; i < all.size(); ++i)
            for (std::size_t j = i + 1; j < all.size(); ++j) {
                const bool silent = all[i]->says == Says::Silent || all[j]->says == Says::Silent;
                if (!silent && all[i]->says != all[j]->says)
                    m_out.contradictions.push_back(
                        {ContradictionCode::PapersDisagree, {all[i]->part, all[j]->part}});
            }
    }

    Verdict verdict() const
    {
        if (anyPart(Says::Forbids))
            return Verdict::Breaks;
        const auto all = papers();
        const bool paper_forbids =
            std::ranges::any_of(all, [](const JudgedClue* paper) { return paper->says == Says::Forbids; });
        if (!m_out.unread.empty() || !m_out.missing.empty() || anyPart(Says::Depends) || paper_forbids)
            return Verdict::Unknown;
        const bool tight = std::ranges::any_of(m_out.clues, [](const JudgedClue& clue) {
            return !isPaper(clue.kind) && clue.use && !atMost(*clue.use, tight_from);
        });
        return tight ? Verdict::Tight : Verdict::Fits;
    }

    const EvidenceInput& m_in;
    double m_top_v;
    EvidenceResult m_out{};
};

} // namespace

EvidenceResult mainsEvidence(const EvidenceInput& in) { return Evidence(in).run(); }

Verdict JudgedClue::verdict() const
{
    constexpr double nearly_all = 0.95;
    if (says == Says::Permits)
        return !isPaper(kind) && use.value_or(0) > nearly_all ? Verdict::Tight : Verdict::Fits;
    return says == Says::Forbids ? Verdict::Breaks : Verdict::Unknown;
}

void fields(Fields& f, MainsTarget& value)
{
    f.need("v_v", value.v_v, range::positive);
    f.may("spread", value.spread, spread_range);
    f.need("f_hz", value.f_hz, mains_hz);
}

void fields(Fields& f, EvidenceInput& in)
{
    f.need("clues", in.clues, {0, 200});
    f.need("target", in.target);
    f.may("needed", in.needed, {0, 7});
    for (std::size_t i = 0; i < in.needed.size(); ++i)
        f.demand(!isPaper(in.needed[i]), ErrorCode::OutOfRange, "needed", "papers cannot be needed");
}

void fields(Fields& f, JudgedClue& out)
{
    f.need("part", out.part);
    f.need("kind", out.kind);
    f.need("says", out.says);
    f.may("ceiling_v", out.ceiling_v);
    f.may("floor_v", out.floor_v);
    f.may("judged_v", out.judged_v);
    f.may("use", out.use);
}

void fields(Fields& f, Contradiction& out)
{
    f.need("code", out.code);
    f.may("parts", out.parts);
}

void fields(Fields& f, EvidenceResult& out)
{
    f.need("verdict", out.verdict);
    f.need("clues", out.clues);
    f.may("unread", out.unread);
    f.may("missing", out.missing, {0, 7});
    f.may("ruled_by", out.ruled_by);
    f.may("max_nominal_v", out.max_nominal_v);
    f.need("contradictions", out.contradictions);
}

} // namespace offshoot
