// The primaries of a mains transformer connected for another mains, with its fuse and selector.
#include "core/job/mains_views.h"
#include "core/kinds/modules.h"
#include "core/procedure/change_procedure.h"
#include "core/values/figures.h"

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.connection.has_value(); }

/// "A blue to grey in series with B violet to brown": no joint that could be read as another.
std::string connectionWords(const ConnectionPlan& connection)
{
    std::string text;
    std::int64_t last = -1;
    for (const PlannedSegment& s : connection.segments) {
        text += last < 0 ? "" : s.string == last ? " in series with " : " side by side with ";
        text += s.winding + " " + s.from + " to " + s.to;
        last = s.string;
    }
    return text;
}

void lines(const Job& job, std::vector<std::string>& all)
{
    all.push_back("primaries for " + significant(job.need.mains.v_v, 4) +
                  " V: " + connectionWords(*job.plan.connection));
}

void steps(ChangeProcedure& procedure) { procedure.connectWindings(); }

void wiring(const Job& job, const Evaluation& /*evaluation*/, std::vector<Connections>& all)
{
    all.push_back(primaryConnections(*job.plan.connection));
    all.back().sentence = primariesSentence(job);
    all.back().station = Station::Transformer;
}

void parts(const Job& job, const Evaluation& /*evaluation*/, PartList& list)
{
    if (followingFuse(job))
        list.add("fuse " + fuseText(plannedFuse(job)), "the holder", fuseText(job.found.fuse));
    list.add("sleeving, crimps or solder for the links", "the primaries");
}

std::vector<ConsequenceRow> rows(const Job& job, const Evaluation& /*evaluation*/, const ChainRun* /*run*/)
{
    return windingRows(job);
}

} // namespace

const Kind windings{.word = "windings",
                    .planned = planned,
                    .on_mains_side = planned,
                    .lines = lines,
                    .steps = steps,
                    .wiring = wiring,
                    .parts = parts,
                    .rows = rows};

} // namespace offshoot::kind
