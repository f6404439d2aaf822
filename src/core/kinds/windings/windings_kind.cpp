// The primaries of a mains transformer connected for another mains, with its fuse and selector.
#include "core/judge/row_maker.h"
#include "core/kinds/modules.h"
#include "core/kinds/windings/windings_steps.h"
#include "core/kinds/windings/windings_view.h"
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

/// Another mains asks for another fuse, unless one is planned by hand.
void apply(const Job& job, PlannedUnit& unit)
{
    unit.windings = windingsView(job);
    if (const auto value_a = followingFuse(job, *unit.windings)) {
        unit.supply.fuse.value_a = value_a;
        unit.supply.fuse.type = "T";
    }
}

void wiring(const Job& job, const Figures& /*figures*/, std::vector<Connections>& all)
{
    all.push_back(primaryConnections(*job.plan.connection));
    all.back().sentence = primariesSentence(job);
    all.back().station = Station::Transformer;
}

void parts(const Job& job, const Figures& figures, PartList& list)
{
    if (followingFuse(job, *figures.unit.windings))
        list.add("fuse " + fuseText(figures.unit.supply.fuse), "the holder", fuseText(job.found.fuse));
    list.add("sleeving, crimps or solder for the links", "the primaries");
}

/// Flux and secondaries of the planned connection.
std::vector<ConsequenceRow> rows(const Job& job, const Figures& figures, const ChainRun* /*run*/)
{
    if (!planned(job) || !figures.unit.windings->planned)
        return {};
    const WindingsView& view = *figures.unit.windings;
    const Connection& c = view.result->connections[*view.planned];
    // A rated voltage already allows for its own spread.
    constexpr double rated_spread = 1.10;
    const auto judged = [](double value, const UseBounds& bounds, Verdict verdict) {
        return rows::Judged{.value = value,
                            .limit = bounds.tight,
                            .use = value / bounds.tight,
                            .verdict = verdict,
                            .fits_to = bounds.fits / bounds.tight};
    };
    return {
        rows::planRow(RowId::WindingFlux,
                      judged(std::max(c.flux, c.flux_top / rated_spread), flux_bounds, c.verdict),
                      "(V/f)/(V_rated/f_rated)", significant(c.v_scale, 4) + " of its volts"),
        rows::planRow(RowId::WindingSecondaries,
                      judged(std::abs(c.v_scale - 1), secondary_bounds, c.secondary_verdict),
                      "|V/V_rated − 1|: every secondary is off by this share; fits to 0.05, tight to 0.10",
                      significant(c.v_scale * 100, 3) + " % of their volts")};
}

Work work(const Job& /*job*/, const Figures& figures)
{
    const WindingsView& view = *figures.unit.windings;
    return {.on_mains_side = true,
            .fit = [&view](ChangeProcedure& p) { connectWindings(p, view); },
            .at_first_power = [&view](ChangeProcedure& p) { measureSecondaries(p, view); },
            .warm = warm_winding};
}

} // namespace

const Kind windings{.name = "windings",
                    .planned = planned,
                    .work = work,
                    .apply = apply,
                    .lines = lines,
                    .wiring = wiring,
                    .parts = parts,
                    .rows = rows};

} // namespace offshoot::kind
