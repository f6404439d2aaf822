#include "ui/found/walk_course.h"

#include "ui/look.h"

#include <algorithm>

namespace offshoot::ui {

void WalkCourse::refresh()
{
    m_view = walkView(m_session.job(), m_session.evaluation());
    const auto& stops = m_view.stops;
    if (!m_begun && !stops.empty() && !stops.front().open()) { // with what matters, else with what is open
        auto first = std::ranges::find_if(stops, &WalkStop::matters);
        if (first == stops.end())
            first = std::ranges::find_if(stops, &WalkStop::open);
        m_at = static_cast<std::size_t>(first - stops.begin());
    }
    m_begun = true;
    m_at = std::min(m_at, stops.empty() ? 0 : stops.size() - 1);
}

QString WalkCourse::barred() const
{
    return qs(walkBarred(m_session.job(), m_session.evaluation(), m_never_powered));
}

void WalkCourse::later()
{
    if (const WalkStop* stop = current())
        m_later.push_back(stop->place);
    goOn();
}

WalkCourse::Echo WalkCourse::echo(const QString& line) const
{
    const WalkStop* stop = current();
    const std::string text = line.trimmed().toStdString();
    if (stop == nullptr || text.empty())
        return {{}, true};
    const auto read = readPartLine(m_session.job().found, stop->place.part, text);
    return {qs(read ? read->echo : read.problem().message), bool(read)};
}

bool WalkCourse::take(const QString& line)
{
    const WalkStop* stop = current();
    if (stop == nullptr)
        return false;
    if (const std::string text = line.trimmed().toStdString(); !text.empty()) {
        const BoardPlace place = stop->place;
        const auto read = readPartLine(m_session.job().found, place.part, text);
        if (!read)
            return false;
        m_session.edit(qs(stop->name),
                       [&](Job& job) { takePartLine(job.found, place.rail, place.part, *read); });
        refresh();
    }
    goOn();
    return true;
}

/// The next part that is open; then those that were put off; else the one behind this.
void WalkCourse::goOn()
{
    const auto& stops = m_view.stops;
    const auto putOff = [this](const WalkStop& stop) {
        return std::ranges::find(m_later, stop.place) != m_later.end();
    };
    for (std::size_t i = m_at + 1; i < stops.size(); ++i)
        if (stops[i].open() && !putOff(stops[i]))
            return goTo(i);
    for (std::size_t i = 0; i < stops.size(); ++i)
        if (i != m_at && stops[i].open() && putOff(stops[i])) {
            std::erase(m_later, stops[i].place);
            return goTo(i);
        }
    goTo(std::min(m_at + 1, stops.empty() ? 0 : stops.size() - 1));
}

} // namespace offshoot::ui
