#include "ui/found/unit_lanes.h"

#include "core/values/figures.h"
#include "core/values/format.h"
#include "ui/found/rail_lanes.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"
#include "ui/refresh.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr double unitWide = 240;
constexpr double wordsHigh = 18; ///< how they come together, below them

QString bondWords(const Supply& supply)
{
    const QString entry =
        supply.earth_class == EarthClass::ClassI ? UnitLanes::tr("case earthed") : UnitLanes::tr("class II");
    switch (supply.joint.bonded) {
    case Bond::None:
        return entry + UnitLanes::tr(", output free");
    case Bond::Negative:
        return entry + UnitLanes::tr(", negative tied to it");
    case Bond::Positive:
        return entry + UnitLanes::tr(", positive tied to it");
    case Bond::Unknown:
        return entry + UnitLanes::tr(", bond not measured");
    }
    return entry;
}

/// How the plan brings them together.
QString joinWords(const Job& job)
{
    if (unitCount(job) < 2)
        return {};
    if (!job.plan.join)
        return UnitLanes::tr("not joined by the plan");
    return job.plan.join->kind == Joining::Stacked ? UnitLanes::tr("stacked: their volts add")
                                                   : UnitLanes::tr("side by side: their amperes add");
}

} // namespace

UnitLanes::UnitLanes(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
{
    setAccessibleName(tr("The units and where they meet"));
    refreshWhileVisible(*this, session, look, [this] { refresh(); });
}

void UnitLanes::refresh()
{
    const Job& job = m_session.job();
    const int words = unitCount(job) > 1 ? m_look.px(wordsHigh) : 0;
    setFixedHeight(m_look.px(laneHigh) * static_cast<int>(unitCount(job)) + words);
    QStringList said;
    for (std::size_t unit = 0; unit < unitCount(job); ++unit)
        said << qs(unitName(job, unit + 1)) + u": "_s + bondWords(unitSupply(job, unit + 1));
    if (const QString joined = joinWords(job); !joined.isEmpty())
        said << joined;
    setAccessibleDescription(said.join(u"; "_s));
    update();
}

void UnitLanes::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    const std::size_t count = unitCount(m_session.job());
    QRectF box(0, 0, width(), m_look.px(laneHigh));
    for (std::size_t unit = 0; unit < count; ++unit) {
        paintUnit(painter, box, unit);
        box.translate(0, box.height());
    }
    if (count > 1)
        paintMeeting(painter, count);
    paintText(painter, QRectF(0, height() - m_look.px(wordsHigh), width(), m_look.px(wordsHigh)),
              joinWords(m_session.job()), m_look.caption(), c.softInk, Qt::AlignRight | Qt::AlignVCenter);
}

/// One node for units side by side; a stack has each its own, with the volts of one on those of the other;
/// what the plan does not join meets nowhere yet.
void UnitLanes::paintMeeting(QPainter& painter, std::size_t count) const
{
    const Colours& c = m_look.colours();
    const auto& join = m_session.job().plan.join;
    const double x = width() - m_look.px(20);
    const double lane = m_look.px(laneHigh);
    const double half = lane / 2;
    const double last = (static_cast<double>(count) - 1) * lane + half;
    if (!join || join->kind == Joining::SideBySide) {
        painter.setPen(join ? QPen(c.ribbon, m_look.px(8), Qt::SolidLine, Qt::RoundCap)
                            : QPen(c.softInk, 1.5, Qt::DotLine));
        return painter.drawLine(QPointF(x, half), QPointF(x, last));
    }
    painter.setPen(QPen(c.ribbon, m_look.px(8), Qt::SolidLine, Qt::RoundCap));
    const double own = m_look.px(11);
    for (double y = half; y <= last; y += lane)
        painter.drawLine(QPointF(x, y - own), QPointF(x, y + own));
    for (double y = half; y < last; y += lane)
        paintText(painter, QRectF(x - own, y + own, 2 * own, lane - 2 * own), u"+"_s, m_look.textBold(),
                  c.planned, Qt::AlignCenter);
}

void UnitLanes::paintUnit(QPainter& painter, const QRectF& box, std::size_t unit) const
{
    const Colours& c = m_look.colours();
    const Job& job = m_session.job();
    const Supply& supply = unitSupply(job, unit + 1);
    const Rail& rail = supply.rails.front();
    const QRectF body = QRectF(box.left() + 1, box.top() + m_look.px(6), m_look.px(unitWide), m_look.px(46));
    painter.setPen(QPen(supply.earth_class == EarthClass::ClassI ? c.ink : c.softInk, 1.4,
                        supply.earth_class == EarthClass::ClassI ? Qt::SolidLine : Qt::DashLine));
    painter.setBrush(c.sheet);
    painter.drawRoundedRect(body, 4, 4);
    const QRectF line(body.left() + m_look.px(8), body.top() + m_look.px(3), body.width() - m_look.px(16),
                      m_look.px(20));
    const auto& stands = supply.joint.v_set_v ? supply.joint.v_set_v : rail.v_v;
    QString gives = stands ? qs(formatVolts(*stands)) : tr("not read");
    if (rail.i_rated_a)
        gives += u"  "_s + amps(*rail.i_rated_a);
    paintText(painter, line, gives, m_look.text(), c.found, Qt::AlignRight | Qt::AlignVCenter);
    paintText(painter, line.adjusted(0, 0, -m_look.px(110), 0),
              u"%1  "_s.arg(unit + 1) + qs(unitName(job, unit + 1)), m_look.textBold(), c.ink);
    paintText(painter, line.translated(0, m_look.px(20)), bondWords(supply), m_look.caption(), c.softInk);
    paintLeadOf(painter,
                QRectF(body.right(), body.top(), box.right() - body.right() - m_look.px(20), body.height()),
                supply.joint);
}

/// As thick as it is; dashed where nobody measured it; the diode that keeps the others out stands on it.
void UnitLanes::paintLeadOf(QPainter& painter, const QRectF& box, const Joint& joint) const
{
    const Colours& c = m_look.colours();
    const double y = box.center().y();
    const bool known = joint.lead_length_m && joint.lead_area_m2;
    constexpr double perSquareMillimetre = 1.6;
    const double wide = known ? std::clamp(*joint.lead_area_m2 * 1e6 * perSquareMillimetre, 1.5, 8.0) : 1.5;
    painter.setPen(QPen(known ? c.loss : c.softInk, wide, known ? Qt::SolidLine : Qt::DashLine));
    painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y));
    QStringList said;
    if (known)
        said << tr("%1 of %2")
                    .arg(qs(formatValue(*joint.lead_length_m, Quantity::Length)),
                         qs(formatValue(*joint.lead_area_m2, Quantity::WireSize)));
    else
        said << tr("lead not measured");
    if (joint.r_out_ohm)
        said << tr("droop %1").arg(qs(formatOhms(*joint.r_out_ohm)));
    if (joint.i_limit_a)
        said << tr("limits at %1").arg(amps(*joint.i_limit_a));
    if (joint.diode) {
        const double size = m_look.px(9);
        const QPointF at(box.right() - m_look.px(34), y);
        painter.setPen(QPen(c.ink, 1.4));
        painter.setBrush(c.sheet);
        painter.drawPolygon(
            QPolygonF{at + QPointF(-size, -size), at + QPointF(-size, size), at + QPointF(size, 0)});
        painter.drawLine(at + QPointF(size, -size), at + QPointF(size, size));
        said << tr("diode %1").arg(qs(formatVolts(joint.diode->v_f_v)));
    }
    paintText(
        painter,
        QRectF(box.left() + m_look.px(10), y + m_look.px(5), box.width() - m_look.px(20), m_look.px(18)),
        said.join(u" · "_s), m_look.caption(), c.softInk);
}

} // namespace offshoot::ui
