// Does a unit of the job bear the mains there is: label, papers, parts, selector and primaries weighed, as it
// was found and as the plan leaves it. The procedure powers nothing that this calls *breaks*.
#pragma once

#include "core/calculate/mains_evidence.h"
#include "core/job/job.h"
#include "core/kinds/planned.h"
#include "core/procedure/isolation.h"

#include <string>

namespace offshoot {

struct MainsBearing
{
    /// *Breaks*: something read forbids it. *Unknown*: nothing read permits it. *Tight*: a label or papers
    /// permit it and nothing read forbids it, while parts that rule are unread. *Fits* where DC-fed.
    Verdict verdict;
    std::string why; ///< what decides, one sentence
};
MainsBearing bearsMains(const Job& job, std::size_t unit, Condition condition, const Supply& planned);
MainsBearing bearsMains(const Job& job, std::size_t unit, Condition condition);

/// The clues of a supply and those that follow from its parts: bulk capacitor, fuse. With the kinds that must
/// be read.
EvidenceInput evidenceInput(const Supply& supply, const Mains& mains);

/// The mains in volts that a selector's words name ("115", "220-240 V"); nothing where they name none.
struct SelectorRange
{
    double min_v;
    double max_v;
};
std::optional<SelectorRange> selectorRange(std::string_view text);

} // namespace offshoot
