#include "core/evaluate/evidence_view.h"

#include "core/judge/row_maker.h"
#include "core/kinds/planned.h"
#include "core/values/figures.h"
#include "core/values/typed_words.h"

#include <array>

namespace offshoot {

namespace {

std::string_view kindWords(ClueKind kind)
{
    static constexpr std::array<std::string_view, 10> words{"bulk capacitor's voltage",
                                                            "bulk capacitors' voltage",
                                                            "X capacitor's voltage",
                                                            "varistor's AC voltage",
                                                            "breaker's voltage",
                                                            "fuse's rated voltage",
                                                            "transformer's plate",
                                                            "label",
                                                            "manual",
                                                            "sibling"};
    return words.at(static_cast<std::size_t>(kind));
}

std::string goodFor(Verdict verdict)
{
    static constexpr std::array<std::string_view, 4> words{"Good for ", "Just good for ", "Not for ",
                                                           "Not known yet for "};
    return std::string(words.at(static_cast<std::size_t>(verdict)));
}

} // namespace

std::string contradictionText(const Contradiction& contradiction)
{
    const auto& parts = contradiction.parts;
    switch (contradiction.code) {
    case ContradictionCode::PaperPermitsPartForbids:
        return parts[0] + " permits it, " + parts[1] + " does not: the part rules.";
    case ContradictionCode::PaperForbidsPartsPermit:
        return parts[0] + " forbids it, the parts read permit it: read the rest before trusting either.";
    case ContradictionCode::PapersDisagree:
        return parts[0] + " and " + parts[1] + " disagree.";
    }
    return {};
}

EvidenceView evidenceView(const Job& job) { return evidenceView(job, plannedSupply(job)); }

EvidenceView evidenceView(const Job& job, const Supply& planned)
{
    EvidenceView view{
        .input = evidenceInput(planned, job.need.mains), .result = {}, .sentence = {}, .next = {}};
    if (planned.dcFed()) {
        view.result.verdict = Verdict::Unknown;
        view.sentence = no_mains_side;
        return view;
    }
    view.result = mainsEvidence(view.input);
    if (job.need.mains.v_assumed) {
        view.result.verdict = Verdict::Unknown;
        for (JudgedClue& clue : view.result.clues)
            clue.says = Says::Depends;
        view.sentence = mains_unsaid;
        return view;
    }
    const bool closed = planned.sealed() || planned.topology == Topology::SealedModule;
    if (closed && !planned.dcFed() && view.result.verdict != Verdict::Breaks)
        view.result.verdict = bearsMains(job, 1, Condition::Planned, planned).verdict;
    const EvidenceResult& r = view.result;
    if (!r.unread.empty())
        view.next = "Read " + r.unread.front() + " next.";
    else if (!r.missing.empty())
        view.next = "Read the " + std::string(kindWords(r.missing.front())) + " next.";
    view.sentence = goodFor(r.verdict) + significant(job.need.mains.v_v, 4) + " V ±" +
                    formatPercent(job.need.mains.spread, 3);
    if (r.ruled_by)
        view.sentence += (r.verdict == Verdict::Unknown ? ": so far at most " : ": at most ") +
                         significant(*r.max_nominal_v, 4) + " V (" + *r.ruled_by + ")";
    view.sentence += ".";
    return view;
}

std::vector<ConsequenceRow> evidenceRows(const Job& job, const Supply& planned)
{
    std::vector<ConsequenceRow> all;
    if (!job.found.dcFed()) {
        const EvidenceView view = evidenceView(job, planned);
        const std::string ruler = capitalized(view.result.ruled_by.value_or(""));
        rows::Judged judged{.limit = view.result.max_nominal_v, .verdict = view.result.verdict, .fits_to = 1};
        if (!job.need.mains.v_assumed)
            judged.value = job.need.mains.v_v;
        if (judged.verdict != Verdict::Unknown)
            judged.use = useOf(judged.value, judged.limit);
        ConsequenceRow row =
            rows::planRow(RowId::MainsEvidence, judged, "the lowest nominal mains that any part read permits",
                          view.sentence, ruler);
        if (job.need.mains.v_assumed)
            row.read_next = "which mains there is";
        all.push_back(std::move(row));
    }
    return all;
}

} // namespace offshoot
