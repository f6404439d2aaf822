// Where a walk along the board stands: the part at hand, those put off, what the line that is read off it
// says. The page and the bench share it.
#pragma once

#include "core/evaluate/walk_view.h"
#include "ui/session.h"

#include <QString>
#include <vector>

namespace offshoot::ui {

class WalkCourse
{
public:
    explicit WalkCourse(JobSession& session)
        : m_session(session)
    {}
    /// Takes over what the job is now; the first time it begins at what nobody read.
    void refresh();
    const WalkView& view() const { return m_view; }
    std::size_t at() const { return m_at; }
    const WalkStop* current() const { return m_at < m_view.stops.size() ? &m_view.stops[m_at] : nullptr; }
    /// Why hands may not go to it now; empty where they may.
    QString barred() const;
    void sayNeverPowered(bool never) { m_never_powered = never; }

    void goTo(std::size_t stop) { m_at = stop; }
    /// The same part comes again once the others were met.
    void later();
    /// How a line is understood, or what is wrong with it.
    struct Echo
    {
        QString text;
        bool fine;
    };
    Echo echo(const QString& line) const;
    /// Into the job, and on to the next part; an empty line only goes on. False where it does not read.
    bool take(const QString& line);

private:
    void goOn();

    JobSession& m_session;
    WalkView m_view;
    std::size_t m_at = 0;
    bool m_begun = false;
    bool m_never_powered = false;
    std::vector<BoardPlace> m_later;
};

} // namespace offshoot::ui
