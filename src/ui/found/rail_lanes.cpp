#include "ui/found/rail_lanes.h"

#include "core/supply/rail_use.h"
#include "core/values/figures.h"
#include "core/values/format.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"
#include "ui/refresh.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr double headWide = 150;
constexpr double wiresWide = 150;

/// The trimmers that move a rail.
QStringList trimmersOf(const Supply& supply, const Rail& rail)
{
    QStringList names;
    for (const Trimmer& trimmer : supply.trimmers)
        if (turns(supply, trimmer, rail))
            names << qs(trimmer.name);
    return names;
}

} // namespace

RailLanes::RailLanes(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
{
    setAccessibleName(tr("The rails with their users and wires"));
    refreshWhileVisible(*this, session, look, [this] { refresh(); });
}

void RailLanes::refresh()
{
    const Supply& supply = m_session.job().found;
    setFixedHeight(m_look.px(laneHigh) * static_cast<int>(supply.rails.size()));
    QStringList said;
    for (const Rail& rail : supply.rails) {
        QStringList users;
        for (const RailUser& user : rail.users)
            users << qs(user.name);
        said << tr("%1 feeds %2")
                    .arg(qs(rail.name), users.isEmpty() ? tr("nobody named") : users.join(u", "_s));
    }
    setAccessibleDescription(said.join(u"; "_s));
    update();
}

void RailLanes::mousePressEvent(QMouseEvent* event)
{
    const int rail = static_cast<int>(event->position().y()) / m_look.px(laneHigh);
    if (rail >= 0 && rail < static_cast<int>(m_session.job().found.rails.size()))
        Q_EMIT chosen(rail);
}

void RailLanes::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    QRectF box(0, 0, width(), m_look.px(laneHigh));
    for (const Rail& rail : m_session.job().found.rails) {
        paintLane(painter, box, rail);
        box.translate(0, box.height());
    }
}

void RailLanes::paintLane(QPainter& painter, const QRectF& box, const Rail& rail) const
{
    const Colours& c = m_look.colours();
    const double line = m_look.px(20);
    const QRectF head(box.left(), box.top() + m_look.px(4), m_look.px(headWide) - m_look.px(8), line);
    const QString sign = rail.negative ? u"−"_s : QString();
    paintText(painter, head, qs(rail.name), m_look.textBold(), c.ink);
    paintText(painter, head, rail.v_v ? sign + qs(formatVolts(*rail.v_v)) : tr("not read"), m_look.text(),
              c.found, Qt::AlignRight | Qt::AlignVCenter);
    QString below = rail.regulated_by ? tr("follows %1").arg(qs(*rail.regulated_by)) : tr("its own loop");
    if (const QStringList trimmers = trimmersOf(m_session.job().found, rail); !trimmers.isEmpty())
        below += u" · "_s + trimmers.join(u", "_s);
    paintText(painter, head.translated(0, line), below, m_look.caption(), c.softInk);
    const QRectF track(box.left() + m_look.px(headWide), box.top() + m_look.px(8),
                       box.width() - m_look.px(headWide + wiresWide), m_look.px(18));
    paintUsers(painter, track, rail);
    paintWires(painter,
               QRectF(track.right() + m_look.px(10), box.top(), m_look.px(wiresWide - 10), box.height()),
               rail);
    painter.setPen(QPen(c.hairline, 1));
    painter.drawLine(box.bottomLeft(), box.bottomRight());
}

/// Each user so wide as it draws; who draws nobody knows what is dashed; a stroke where the rating ends.
void RailLanes::paintUsers(QPainter& painter, const QRectF& track, const Rail& rail) const
{
    const Colours& c = m_look.colours();
    const RailUse use = railUse(rail);
    constexpr double least_a = 1e-6; // of a rail nobody knows anything of
    const double most_a = std::max({rail.i_rated_a.value_or(0), use.drawn_a, least_a});
    const double unit = track.width() * useLimitAt / most_a;
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.hairline);
    painter.drawRect(QRectF(track.left(), track.center().y() - 2, track.width(), 4));
    double x = track.left();
    for (const RailUser& user : rail.users) {
        const bool known = user.typical_a.has_value();
        const double wide = known ? std::max(3.0, *user.typical_a * unit) : m_look.px(26);
        const QRectF bar(x, track.top(), std::min(wide, track.right() - x), track.height());
        painter.setPen(known ? QPen(c.sheet, 1) : QPen(c.softInk, 1.2, Qt::DashLine));
        painter.setBrush(known ? c.loss : QColor(Qt::transparent));
        painter.drawRect(bar);
        paintText(painter, bar.adjusted(4, 0, -2, 0), qs(user.name), m_look.caption(), c.ink);
        x = bar.right();
    }
    const QRectF below(track.left(), track.bottom() + m_look.px(4), track.width(), m_look.px(18));
    QString said =
        rail.users.empty() ? tr("nobody named who draws on it") : tr("%1 drawn").arg(amps(use.drawn_a));
    if (!rail.users.empty() && !use.complete)
        said += tr(", and what nobody measured");
    paintText(painter, below, said, m_look.caption(), c.softInk);
    if (!rail.i_rated_a)
        return;
    const double limit = track.left() + *rail.i_rated_a * unit;
    const QColor colour = use.verdict == Verdict::Breaks ? c.breaks : c.ink;
    painter.setPen(QPen(colour, 2));
    painter.drawLine(QPointF(limit, track.top() - 4), QPointF(limit, track.bottom() + 4));
    paintText(painter, below, tr("rated %1").arg(amps(*rail.i_rated_a)), m_look.caption(),
              use.verdict == Verdict::Breaks ? c.breaks : c.softInk, Qt::AlignRight | Qt::AlignVCenter);
}

/// In the colours they have; one whose function nobody measured is dashed beside.
void RailLanes::paintWires(QPainter& painter, const QRectF& box, const Rail& rail) const
{
    const Colours& c = m_look.colours();
    std::vector<const Wire*> wires;
    for (const Wire& wire : m_session.job().found.wires)
        if (wire.rail == rail.name)
            wires.push_back(&wire);
    constexpr std::size_t most = 3;
    double y = box.top() + m_look.px(12);
    for (std::size_t i = 0; i < std::min(wires.size(), most); ++i) {
        const Wire& wire = *wires[i];
        paintLead(painter, {box.left(), y}, {box.left() + m_look.px(36), y}, coloursIn(qs(wire.colour)),
                  m_look);
        paintText(
            painter,
            QRectF(box.left() + m_look.px(42), y - m_look.px(9), box.width() - m_look.px(42), m_look.px(18)),
            qs(wire.name) + (wire.measured ? QString() : tr(" ?")), m_look.caption(),
            wire.measured ? c.measured : c.softInk);
        y += m_look.px(17);
    }
    if (wires.size() > most)
        paintText(
            painter,
            QRectF(box.right() - m_look.px(60), box.bottom() - m_look.px(20), m_look.px(56), m_look.px(18)),
            tr("+%1").arg(wires.size() - most), m_look.caption(), c.softInk,
            Qt::AlignRight | Qt::AlignVCenter);
}

} // namespace offshoot::ui
