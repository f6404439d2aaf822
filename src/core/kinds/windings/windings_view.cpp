#include "core/kinds/windings/windings_view.h"

#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

ConnectionPlan connectionPlan(const Connection& connection)
{
    ConnectionPlan plan;
    for (std::size_t k = 0; k < connection.strings.size(); ++k)
        for (const Segment& s : connection.strings[k])
            plan.segments.push_back(
                {.string = static_cast<std::int64_t>(k), .winding = s.winding, .from = s.from, .to = s.to});
    return plan;
}

bool isPlanned(const ConnectionPlan& plan, const Connection& connection)
{
    return connectionPlan(connection).segments == plan.segments;
}

WindingsView windingsView(const Job& job)
{
    WindingsView view;
    const MainsTransformer& t = job.found.mains_side.transformer;
    if (job.found.dcFed()) {
        view.sentence = no_mains_side;
        return view;
    }
    if (t.primaries.empty() || !t.f_rated_hz || !t.va) {
        view.sentence = t.primaries.empty()
                            ? "Enter the primary windings with their leads, as the plate or a "
                              "measurement gives them."
                            : "Enter the transformer's frequency and VA.";
        return view;
    }
    if (job.need.mains.v_assumed) {
        view.sentence = mains_unsaid;
        return view;
    }
    constexpr std::int64_t shown = 60;
    view.input = WindingsInput{
        .primaries = t.primaries,
        .f_rated_hz = *t.f_rated_hz,
        .va = *t.va,
        .secondaries = t.secondaries,
        .regulation = t.regulation,
        .target = {.v_v = job.need.mains.v_v, .spread = job.need.mains.spread, .f_hz = job.need.mains.f_hz},
        .limit = shown};
    view.result = mainsWindings(*view.input);
    const auto& connections = view.result->connections;
    for (std::size_t i = 0; job.plan.connection && i < connections.size(); ++i)
        if (isPlanned(*job.plan.connection, connections[i]))
            view.planned = i;
    const Connection& c = connections[view.planned.value_or(0)];
    constexpr double transformer_factor = 1.5;
    view.fuse = mainsFuse({.va = *t.va * c.va_share,
                           .mains_v = job.need.mains.v_v,
                           .factor = transformer_factor,
                           .speed = FuseSpeed::Slow,
                           .v_rated_v = job.found.fuse.v_rated_v});
    const Verdict worst = worse(c.verdict, c.secondary_verdict);
    const std::string what = view.planned ? "Planned: " : "Best: ";
    view.sentence = what + phrase(c.kind) + ", " + formatPercent(c.va_share, 3) +
                    " of its power, secondaries at " + formatPercent(c.v_scale, 3) + ". ";
    view.sentence += worst == Verdict::Breaks
                         ? "That is not good for this mains: take an external transformer."
                     : worst == Verdict::Tight ? "It bears it, but only just."
                                               : "Flux and outputs are right.";
    return view;
}

std::optional<double> followingFuse(const Job& job, const WindingsView& view)
{
    const bool by_hand = std::ranges::any_of(
        job.plan.refits, [](const Refit& refit) { return refit.row == RowId::FuseCurrent; });
    if (!job.plan.connection || by_hand)
        return std::nullopt;
    return view.planned && view.fuse ? view.fuse->value_a : std::nullopt;
}

std::string primariesSentence(const Job& job)
{
    if (!job.plan.connection)
        return {};
    const Connections c = primaryConnections(*job.plan.connection);
    std::string text;
    std::vector<std::string> live;
    std::vector<std::string> neutral;
    for (const ConnectedPart& part : c.parts) {
        if (part.kind == PartKind::Link)
            text += (text.empty() ? "Join " : "; join ") + part.from + " to " + part.to;
        if (part.kind == PartKind::Wire)
            (part.from == "mains live" ? live : neutral).push_back(part.to);
    }
    if (live.size() == 1 && neutral.size() == 1)
        return text + (text.empty() ? "Mains to " : "; mains to ") + live.front() + " and " +
               neutral.front() + ".";
    return text + (text.empty() ? "One" : "; one") + " side of the mains to " + listed(live) +
           " together, the other side to " + listed(neutral) + " together.";
}

Connections primaryConnections(const ConnectionPlan& plan)
{
    Connections out{
        .name = "primaries", .sentence = {}, .parts = {}, .top = "mains live", .bottom = "mains neutral"};
    const auto& segments = plan.segments;
    for (const PlannedSegment& s : segments)
        out.parts.push_back({s.winding, PartKind::Winding, s.from, s.to});
    for (std::size_t i = 0; i < segments.size(); ++i) {
        const PlannedSegment& s = segments[i];
        const bool first = i == 0 || segments[i - 1].string != s.string;
        const bool last = i + 1 == segments.size() || segments[i + 1].string != s.string;
        if (first)
            out.parts.push_back(
                {"live feed", PartKind::Wire, "mains live", s.from, std::nullopt, PartFate::Added});
        else
            out.parts.push_back(
                {"joint", PartKind::Link, segments[i - 1].to, s.from, std::nullopt, PartFate::Added});
        if (last)
            out.parts.push_back(
                {"neutral feed", PartKind::Wire, "mains neutral", s.to, std::nullopt, PartFate::Added});
    }
    return out;
}

} // namespace offshoot
