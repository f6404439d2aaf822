// What the parts and papers of the mains side say of the mains.
#pragma once

#include "core/calculate/mains_evidence.h"
#include "core/evaluate/mains_bearing.h"
#include "core/judge/consequences.h"

#include <string>
#include <vector>

namespace offshoot {

struct EvidenceView
{
    EvidenceInput input;
    EvidenceResult result;
    std::string sentence; ///< the verdict
    std::string next;     ///< which part to read
};
/// The clues entered, and those that follow from the parts of the path: bulk capacitor, fuse.
EvidenceView evidenceView(const Job& job, const Supply& planned);
EvidenceView evidenceView(const Job& job);
/// What a contradiction means, in words.
std::string contradictionText(const Contradiction& contradiction);
/// The mains side's rows for the consequences panel; those of the rectifier stand in chain.h.
std::vector<ConsequenceRow> evidenceRows(const Job& job, const Supply& planned);

} // namespace offshoot
