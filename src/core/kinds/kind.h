// The table of the kinds of change. Each is a module of its own that answers whatever the rest asks of a
// kind; nothing else knows how many there are. Add one: a file here that defines it, and its line in
// kinds.cpp.
#pragma once

#include "core/job/chain.h"
#include "core/job/connections.h"
#include "core/job/parts_list.h"
#include "core/job/report_pictures.h"
#include "core/kinds/planned.h"

#include <vector>

namespace offshoot {

class ChangeProcedure;

/// A function that is null has nothing to say. All but `planned` and `rows` are asked only where it is
/// planned.
struct Kind
{
    bool (*planned)(const Job&);
    /// The work needs the case open: a sealed one bars it.
    bool inside = true;
    /// It only mends what another kind drags along: by itself it is no change.
    bool follows = false;
    /// The supply itself is another one then: what is found is judged by the unit as it was.
    bool rebuilds = false;
    /// Whether earth and insulation have to be measured again after it.
    bool (*on_mains_side)(const Job&) = nullptr;

    /// Makes of the found supply and load the planned ones, or puts others in their place.
    void (*apply)(const Job&, Supply&, Load&) = nullptr;
    /// Its lines in the plan.
    void (*lines)(const Job&, std::vector<std::string>&) = nullptr;
    /// Steps made dead before any part is touched.
    void (*before)(ChangeProcedure&) = nullptr;
    /// The steps that fit it.
    void (*steps)(ChangeProcedure&) = nullptr;
    /// The wiring that it changes.
    void (*wiring)(const Job&, const Evaluation&, std::vector<Connections>&) = nullptr;
    /// What is fitted and what is to be got.
    void (*parts)(const Job&, const Evaluation&, PartList&) = nullptr;
    /// Its own consequences, also of what stands there as found.
    std::vector<ConsequenceRow> (*rows)(const Job&, const Evaluation&, const ChainRun*) = nullptr;
    /// What it is about, in the report.
    void (*pictures)(const Job&, const Evaluation&, const ChainRun*, std::vector<ReportPicture>&) = nullptr;
};

/// In the order of the work: deepest first, what needs the transformer out, then the board, then what is
/// added from outside; the divider behind them, because a temporary trimmer powers the unit.
std::vector<const Kind*>& kinds();
/// Those that the job's plan holds.
std::vector<const Kind*> plannedKinds(const Job& job);

/// Every wiring that the plan changes, in the order of the power path.
std::vector<Connections> plannedConnections(const Job& job, const Evaluation& evaluation);
/// Every part that the plan uses or asks for, then the tools of its steps.
std::vector<PartLine> partsOf(const Job& job, const Evaluation& evaluation);
/// What each kind in the plan is about. What cannot be computed yet has none.
std::vector<ReportPicture> planPictures(const Job& job, const Evaluation& evaluation, const ChainRun* run);
/// The rows of every kind.
std::vector<ConsequenceRow> kindRows(const Job& job, const Evaluation& evaluation, const ChainRun* run);

} // namespace offshoot
