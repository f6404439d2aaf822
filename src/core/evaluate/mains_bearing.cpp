#include "core/evaluate/mains_bearing.h"

#include "core/kinds/planned.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cctype>
#include <charconv>

namespace offshoot {

namespace {

/// Selectors and primaries further than this from the mains stand for another.
constexpr double same_mains = 0.2;

bool hasKind(const std::vector<Clue>& clues, std::initializer_list<ClueKind> kinds)
{
    return std::ranges::any_of(clues,
                               [&](const Clue& clue) { return std::ranges::count(kinds, clue.kind) > 0; });
}

/// What the power path already knows need not be entered twice.
void addKnownParts(std::vector<Clue>& clues, const Supply& supply)
{
    if (isMainsSwitcher(supply.topology) && supply.input.stage() != InputKind::PowerFactorStage &&
        !hasKind(clues, {ClueKind::BulkCap, ClueKind::BulkCapSeries})) {
        const bool doubler = supply.input.stage() == InputKind::Doubler;
        Clue bulk{.part = "bulk capacitor", .kind = doubler ? ClueKind::BulkCapSeries : ClueKind::BulkCap};
        bulk.rating_v = supply.bulk.v_rated_v;
        if (doubler)
            bulk.link = PairLink::Doubler;
        clues.push_back(std::move(bulk));
    }
    const auto& primaries = supply.mains_side.transformer.primaries;
    const auto& f_rated_hz = supply.mains_side.transformer.f_rated_hz;
    if (!isMainsSwitcher(supply.topology) && !hasKind(clues, {ClueKind::TransformerPrimary}) &&
        primaries.size() == 1 && primaries.front().taps.empty() && f_rated_hz)
        clues.push_back({.part = "primary " + primaries.front().name,
                         .kind = ClueKind::TransformerPrimary,
                         .rating_v = primaries.front().v_v,
                         .f_rated_hz = f_rated_hz});
    if (!hasKind(clues, {ClueKind::FuseV}))
        clues.push_back({.part = "fuse", .kind = ClueKind::FuseV, .rating_v = supply.fuse.v_rated_v});
}

class Bearing
{
public:
    Bearing(const Job& job, std::size_t unit, Condition condition, const Supply& planned)
        : m_job(job)
        , m_planned(condition == Condition::Planned && unit == 1)
        , m_supply(m_planned   ? planned
                   : unit == 1 ? job.found
                               : job.others.at(unit - 2))
    {}

    MainsBearing run()
    {
        if (m_supply.dcFed())
            return {Verdict::Fits, "It has no mains side."};
        if (m_job.need.mains.v_assumed)
            return {Verdict::Unknown, "Nobody said which mains there is: say it in Need."};
        const bool connected = m_planned && m_job.plan.connection;
        if (!connected)
            if (const auto range = selectorRange(m_supply.mains_side.transformer.selector))
                if (!matches(*range))
                    return {Verdict::Breaks, "Its selector stands at " +
                                                 m_supply.mains_side.transformer.selector + ", not " +
                                                 volts(m_job.need.mains.v_v) + "."};
        EvidenceInput in = evidenceInput(m_supply, m_job.need.mains);
        if (connected)
            connect(in);
        const EvidenceResult r = mainsEvidence(in);
        if (r.verdict == Verdict::Breaks)
            return {Verdict::Breaks, ruled(r) + " forbids it."};
        const Verdict strapped = connected ? Verdict::Fits : primaries(in);
        if (strapped == Verdict::Breaks)
            return {Verdict::Breaks, "Its primaries stand for another mains."};
        const bool permitted = papersPermit(r);
        if (strapped == Verdict::Unknown && !permitted)
            return {Verdict::Unknown, "How its primaries are connected is not known."};
        if (m_supply.sealed() || m_supply.topology == Topology::SealedModule)
            return permitted
                       ? MainsBearing{Verdict::Tight, "Its label permits it; nothing inside can be read."}
                       : MainsBearing{Verdict::Unknown, "Read its label."};
        if (r.verdict != Verdict::Unknown)
            return {r.verdict, "Every part read permits it."};
        if (permitted)
            return {Verdict::Tight, "A label or papers permit it; parts are still unread."};
        // After a conversion the papers speak of what it was: the parts that rule must have been read.
        if (connected && r.missing.empty())
            return {Verdict::Tight, "The parts that rule permit it; others are still unread."};
        return {Verdict::Unknown, r.unread.empty() ? "Nothing read says that it bears this mains."
                                                   : "Read " + r.unread.front() + "."};
    }

private:
    bool matches(const SelectorRange& range) const
    {
        const double v = m_job.need.mains.v_v;
        return v >= range.min_v * (1 - same_mains) && v <= range.max_v * (1 + same_mains);
    }

    static std::string ruled(const EvidenceResult& r) { return r.ruled_by.value_or("A part read"); }

    /// The primaries as planned take the place of what stood for another mains, and so do the papers.
    void connect(EvidenceInput& in) const
    {
        std::erase_if(in.clues, [&](const Clue& clue) {
            const bool forbids = clue.max_v && (*clue.max_v < m_job.need.mains.v_v ||
                                                clue.min_v.value_or(0) > m_job.need.mains.v_v);
            return clue.kind == ClueKind::TransformerPrimary || (isPaper(clue.kind) && forbids);
        });
        const MainsTransformer& t = m_supply.mains_side.transformer;
        double v_v = 0;
        for (const PlannedSegment& s : m_job.plan.connection->segments)
            if (s.string == 0)
                v_v += segmentVolts(t, s);
        if (v_v > 0)
            in.clues.push_back({.part = "primaries as planned",
                                .kind = ClueKind::TransformerPrimary,
                                .rating_v = v_v,
                                .f_rated_hz = t.f_rated_hz.value_or(m_job.need.mains.f_hz)});
    }

    static double segmentVolts(const MainsTransformer& t, const PlannedSegment& s)
    {
        for (const Primary& p : t.primaries) {
            if (p.name != s.winding)
                continue;
            const auto at = [&p](const std::string& lead) {
                for (const auto& [name, v] : p.taps)
                    if (name == lead)
                        return v;
                return lead == p.end ? p.v_v : 0.0;
            };
            return std::abs(at(s.to) - at(s.from));
        }
        return 0;
    }

    /// Of a transformer with several ways to be connected, nobody knows which one stands.
    Verdict primaries(const EvidenceInput& in) const
    {
        const MainsTransformer& t = m_supply.mains_side.transformer;
        if (t.primaries.empty() || selectorRange(t.selector) ||
            std::ranges::any_of(
                in.clues, [](const Clue& c) { return c.kind == ClueKind::TransformerPrimary && c.rating_v; }))
            return Verdict::Fits;
        double sum_v = 0;
        for (const Primary& p : t.primaries)
            sum_v += p.v_v;
        return sum_v * (1 + same_mains) < m_job.need.mains.v_v ? Verdict::Breaks : Verdict::Unknown;
    }

    static bool papersPermit(const EvidenceResult& r)
    {
        bool permitted = false;
        for (const JudgedClue& clue : r.clues) {
            if (!isPaper(clue.kind))
                continue;
            if (clue.says == Says::Forbids)
                return false;
            permitted = permitted || clue.says == Says::Permits;
        }
        return permitted;
    }

    const Job& m_job;
    bool m_planned;
    Supply m_supply;
};

} // namespace

EvidenceInput evidenceInput(const Supply& supply, const Mains& mains)
{
    EvidenceInput in{.clues = supply.mains_side.clues,
                     .target = {.v_v = mains.v_v, .spread = mains.spread, .f_hz = mains.f_hz},
                     .needed = {}};
    if (supply.sealed() || supply.topology == Topology::SealedModule)
        return in;
    addKnownParts(in.clues, supply);
    in.needed = isMainsSwitcher(supply.topology) ? std::vector{ClueKind::BulkCap, ClueKind::FuseV}
                                                 : std::vector{ClueKind::TransformerPrimary, ClueKind::FuseV};
    // Behind a power factor stage the bus is its own; the fuse alone is asked for.
    if (isMainsSwitcher(supply.topology) && supply.input.stage() == InputKind::PowerFactorStage)
        in.needed = {ClueKind::FuseV};
    return in;
}

std::optional<SelectorRange> selectorRange(std::string_view text)
{
    constexpr double least_v = 60;
    constexpr double most_v = 600;
    std::optional<SelectorRange> range;
    for (std::size_t i = 0; i < text.size();) {
        if (std::isdigit(static_cast<unsigned char>(text[i])) == 0) {
            ++i;
            continue;
        }
        double v = 0;
        const auto read = std::from_chars(text.data() + i, text.data() + text.size(), v);
        i = static_cast<std::size_t>(read.ptr - text.data());
        if (v < least_v || v > most_v)
            continue;
        range =
            range ? SelectorRange{std::min(range->min_v, v), std::max(range->max_v, v)} : SelectorRange{v, v};
    }
    return range;
}

MainsBearing bearsMains(const Job& job, std::size_t unit, Condition condition, const Supply& planned)
{
    return Bearing(job, unit, condition, planned).run();
}

MainsBearing bearsMains(const Job& job, std::size_t unit, Condition condition)
{
    return bearsMains(job, unit, condition, plannedSupply(job));
}

} // namespace offshoot
