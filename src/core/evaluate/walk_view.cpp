#include "core/evaluate/walk_view.h"

#include "core/evaluate/unread.h"
#include "core/supply/power_path.h"
#include "core/values/format.h"

#include <algorithm>

namespace offshoot {

namespace {

class WalkMaker
{
public:
    WalkMaker(const Job& job, const Evaluation& evaluation)
        : m_job(job)
        , m_unread(unreadOf(job, evaluation))
        , m_nothing_judged(evaluation.consequences.rows.empty())
    {}

    WalkView run()
    {
        WalkView view;
        for (const BoardPlace& place : boardWalk(m_job.found))
            view.stops.push_back(stop(place));
        view.summary = summary(view.stops);
        return view;
    }

private:
    WalkStop stop(const BoardPlace& place)
    {
        const BoardPartInfo& info = infoOf(place.part);
        WalkStop made{.place = place,
                      .name = std::string(info.name),
                      .figures = {},
                      .absent = isAbsent(m_job.found, place.rail, place.part)};
        if (info.of_rail && m_job.found.rails.size() > 1)
            made.name += ", " + m_job.found.rails[place.rail].name;
        for (const PartFigure* figure : figuresOf(m_job.found, place.part))
            made.figures.push_back(weighed(*figure, place.rail));
        return made;
    }

    WalkFigure weighed(const PartFigure& figure, std::size_t rail)
    {
        WalkFigure made{.figure = &figure, .value = figure.read(m_job.found, rail), .shown = {}, .worth = {}};
        if (made.value) {
            made.shown = formatValue(*made.value, figure.quantity);
            made.worth = "read";
            return made;
        }
        if (const Unread* unread = wantedBy(figure, rail)) {
            made.decides = unread->decides;
            made.blocks = unread->blocks;
            made.worth = unread->decides  ? worthWords(*unread)
                         : unread->blocks ? "the sign-off waits for it, whatever it says"
                                          : worthWords(*unread);
            return made;
        }
        made.worth = unjudged(figure);
        return made;
    }

    /// What a figure is for that no row waits for.
    std::string unjudged(const PartFigure& figure) const
    {
        const std::string_view why = infoOf(*figure.part).why;
        if (!why.empty() && figure.quantity != Quantity::Temperature)
            return std::string(why);
        return m_nothing_judged ? "what it decides shows once Need says what is wanted"
                                : "decides nothing: it may stay unread";
    }

    /// The row that this rating answers, if one waits for it.
    const Unread* wantedBy(const PartFigure& figure, std::size_t rail_at)
    {
        Rail& rail = m_job.found.rails[rail_at];
        const auto* member = &figure.access(m_job.found, rail);
        for (const Unread& unread : m_unread) {
            const std::string& name =
                unread.row.rail.empty() ? m_job.found.rails.front().name : unread.row.rail;
            if (ratingOf(unread.row.id, m_job.found, m_job.need.load, name) == member)
                return &unread;
        }
        return nullptr;
    }

    std::string summary(const std::vector<WalkStop>& stops) const
    {
        if (nothingKnown(m_job.found))
            return "Walked as a " + phrase(m_job.found.topology) +
                   ", which is assumed: What is it? finds out first.";
        const auto open = std::ranges::count_if(stops, &WalkStop::open);
        std::string matters;
        for (const WalkStop& stop : stops)
            if (stop.matters())
                matters += (matters.empty() ? "" : ", ") + stop.name;
        if (open == 0)
            return "Everything on the board was read.";
        if (m_nothing_judged)
            return "What is still open shows its worth once Need says what is wanted.";
        if (matters.empty())
            return "What is still open decides nothing: it may stay so.";
        return "Still to read, and it matters: " + matters + ".";
    }

    Job m_job; ///< its members are compared by where they stand
    std::vector<Unread> m_unread;
    bool m_nothing_judged; ///< without a need there is no limit to hold anything against
};

} // namespace

bool WalkStop::open() const
{
    return !absent && std::ranges::any_of(figures, [](const WalkFigure& figure) { return !figure.value; });
}

bool WalkStop::matters() const
{
    return !absent && std::ranges::any_of(
                          figures, [](const WalkFigure& figure) { return figure.decides || figure.blocks; });
}

WalkView walkView(const Job& job, const Evaluation& evaluation) { return WalkMaker(job, evaluation).run(); }

bool mayBeNeverPowered(const Job& job, const Evaluation& evaluation)
{
    return evaluation.isolation.assumed && std::ranges::none_of(job.log, [](const LogEntry& entry) {
               return entry.kind == LogKind::Reading || entry.kind == LogKind::Live;
           });
}

std::string walkBarred(const Job& job, const Evaluation& evaluation, bool never_powered)
{
    if (evaluation.isolation.state == Isolation::ProvenDead)
        return {};
    if (never_powered && mayBeNeverPowered(job, evaluation))
        return {};
    return evaluation.isolation.state == Isolation::Live
               ? "It counts as live. Unplug it, declare each source off and prove it dead: then the walk "
                 "begins."
               : "Its charge is not proven gone: read each reservoir first, then the walk begins.";
}

} // namespace offshoot
