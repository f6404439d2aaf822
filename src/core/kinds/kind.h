// The table of the kinds of change. Each is a module of its own, in a folder here, that answers whatever the
// rest asks of a kind; nothing else knows how many there are. How to add one stands in docs/ARCHITECTURE.md.
#pragma once

#include "core/kinds/chain/chain_view.h"
#include "core/kinds/job_figures.h"
#include "core/kinds/parts_list.h"
#include "core/kinds/picture.h"
#include "core/kinds/planned.h"
#include "core/kinds/school.h"
#include "core/supply/connections.h"

#include <string_view>
#include <vector>

namespace offshoot {

/// A function that is null has nothing to say. All but `planned` and `rows` are asked only where it is
/// planned.
struct Kind
{
    std::string_view name; ///< of its folder
    bool (*planned)(const Job&);
    /// It only mends what another kind drags along: by itself it is no change.
    bool follows = false;
    /// The supply itself is another one then: what is found is judged by the unit as it was.
    bool rebuilds = false;
    /// Another unit or regulator takes the place of the old one: nothing read of that one's output speaks of
    /// it.
    bool replaces = false;
    /// What it does in the procedure. The figures outlive the work.
    Work (*work)(const Job&, const Figures&) = nullptr;

    /// Makes of the found supply and load the planned ones, or puts others in their place.
    void (*apply)(const Job&, PlannedUnit&) = nullptr;
    /// What the first rail gives after it: what was found, or what a kind before it made of that, is there
    /// already.
    void (*set_point)(const Job&, const ChainRun*, Figures&) = nullptr;
    /// What other rails give; those that follow the first one have moved.
    void (*set_rails)(const Job&, Figures&) = nullptr;
    /// Its lines in the plan.
    void (*lines)(const Job&, std::vector<std::string>&) = nullptr;
    /// The wiring that it changes.
    void (*wiring)(const Job&, const Figures&, std::vector<Connections>&) = nullptr;
    /// What is fitted and what is to be got.
    void (*parts)(const Job&, const Figures&, PartList&) = nullptr;
    /// Its own consequences, also of what stands there as found.
    std::vector<ConsequenceRow> (*rows)(const Job&, const Figures&, const ChainRun*) = nullptr;
    /// Whether its own rows judge what this row of the supply does: then that is left out.
    bool (*answers)(const ConsequenceRow&) = nullptr;
    /// The questions about it on which good people disagree.
    void (*schools)(const Job&, const Figures&, FiguresOf, std::vector<School>&) = nullptr;
    /// What it is about, in the report.
    void (*pictures)(const Job&, const Figures&, const ChainRun*, std::vector<ReportPicture>&) = nullptr;
};

/// In the order of the work: deepest first, what needs the transformer out, then the board, then what is
/// added from outside; the divider behind them, because a temporary trimmer powers the unit. Set points are
/// worked out in the same order: a join's settings stand above what its units were set to before.
std::vector<const Kind*>& kinds();
/// Those that the job's plan holds.
std::vector<const Kind*> plannedKinds(const Job& job);

/// What has to be done for the plan. The figures outlive it.
PlannedWork plannedWork(const Job& job, const Figures& figures);
/// Every wiring that the plan changes, in the order of the power path.
std::vector<Connections> plannedConnections(const Job& job, const Figures& figures);
/// Every part that the plan uses or asks for.
PartList plannedParts(const Job& job, const Figures& figures);
/// What each kind in the plan is about. What cannot be computed yet has none.
std::vector<ReportPicture> planPictures(const Job& job, const Figures& figures, const ChainRun* run);
/// The questions about each kind in the plan.
std::vector<School> planSchools(const Job& job, const Figures& figures, FiguresOf figuresOf);
/// The rows of every kind.
std::vector<ConsequenceRow> kindRows(const Job& job, const Figures& figures, const ChainRun* run);

} // namespace offshoot
