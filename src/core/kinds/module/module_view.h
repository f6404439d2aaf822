// A module in the place of the old regulator: what the source gives it, what it burns, what else stands on
// the source.
#pragma once

#include "core/calculate/regulator_replace.h"
#include "core/job/job.h"
#include "core/judge/consequences.h"
#include "core/kinds/judged_line.h"
#include "core/kinds/school.h"
#include "core/supply/connections.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// A module of the shelf, judged on this source.
struct ModuleOption
{
    std::size_t at; ///< on the shelf
    RegulatorReplaceInput input;
    RegulatorReplaceResult result;
};

struct ModuleView
{
    std::vector<ModuleOption> options;          ///< best first
    std::optional<std::size_t> planned;         ///< of them, the one in the plan
    std::optional<RegulatorReplaceInput> input; ///< of the plan
    std::optional<RegulatorReplaceResult> result;
    School school; ///< drop it in heat, or convert it
    std::vector<std::string> assumed;
    std::string sentence;
};
/// Modules of the shelf are those on DC with one output that say how they regulate.
ModuleView moduleView(const Job& job, const std::vector<ShelfEntry>& shelf);
/// Nothing until the source and the need are known.
std::optional<RegulatorReplaceInput> moduleInput(const Job& job, const ShelfEntry& entry);
/// What is still to be said before a module can be judged; empty where nothing is.
std::string moduleMissing(const Job& job);
/// The plan with this module, set to the need's voltage as far as it goes.
void planModule(Job& job, const ShelfEntry& entry);

/// What the module is held against: feed, drop, current, heat.
std::vector<ConsequenceRow> moduleRows(const Job& job);
/// Everything that was judged of a module on this source.
std::vector<JudgedLine> judgedLines(const ModuleOption& option);
/// The parts of the old regulator that come out, in words.
std::string regulatorParts(Topology topology);
/// Where the module ties into the old circuit.
Connections moduleConnections(const Job& job);
/// "linear", "down", "up", "up and down".
std::string moduleKindWords(ModuleKind kind);

} // namespace offshoot
