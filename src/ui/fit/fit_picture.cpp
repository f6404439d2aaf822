#include "ui/fit/fit_picture.h"

#include "core/values/figures.h"
#include "ui/fields/lengths.h"
#include "ui/paint/marks.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString sizeText(const BoxSize& size)
{
    return u"%1 × %2 × %3"_s.arg(mmText(size.x_m), mmText(size.y_m), mmText(size.z_m));
}

} // namespace

FitPicture::FitPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setObjectName(u"fitPicture"_s);
    setAccessibleName(tr("The case with the new unit, from above and from the front"));
    setFocusPolicy(Qt::StrongFocus);
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(360), look.px(220)); });
}

void FitPicture::show(const Job& job, std::size_t unit, const FitView& view)
{
    m_space = job.found.space;
    m_units = job.plan.replace ? job.plan.replace->units : std::vector<ReplacingUnit>{};
    m_unit = unit;
    m_view = view;
    if (m_view.place && unit < m_units.size())
        m_units[unit].place = m_view.place;
    setAccessibleDescription(qs(view.sentence));
    update();
}

void FitPicture::setFromSide(bool side)
{
    m_side = side;
    update();
}

FitPicture::Scale FitPicture::scale() const
{
    const double margin = m_look.px(22);
    const double gap = m_look.px(34);
    const double wide = width() - 2 * margin;
    const double high = height() - margin - gap - m_look.px(8);
    const BoxSize& inside = m_space->inside;
    const double widest_m = m_side ? std::max(inside.x_m, inside.y_m) : inside.x_m;
    Scale s{std::min(wide / widest_m, high / (inside.y_m + inside.z_m)), {}, {}};
    const double left = margin + (wide - inside.x_m * s.px_per_m) / 2;
    s.above = {left, margin + inside.y_m * s.px_per_m};
    s.upright = {left, s.above.y() + gap + inside.z_m * s.px_per_m};
    return s;
}

QPointF FitPicture::above(double x_m, double y_m) const
{
    const Scale s = scale();
    return s.above + QPointF(x_m, -y_m) * s.px_per_m;
}

QRectF FitPicture::above(const NamedBox& box) const
{
    return QRectF(above(box.x_m, box.y_m + box.dy_m), above(box.x_m + box.dx_m, box.y_m));
}

QRectF FitPicture::upright(const NamedBox& box) const
{
    const Scale s = scale();
    // From the right side the front wall is at the left.
    const double from = m_side ? box.y_m : box.x_m;
    const double to = from + (m_side ? box.dy_m : box.dx_m);
    return QRectF(s.upright + QPointF(from, -(box.z_m + box.dz_m)) * s.px_per_m,
                  s.upright + QPointF(to, -box.z_m) * s.px_per_m);
}

void FitPicture::paintCase(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    const Scale s = scale();
    const BoxSize& inside = m_space->inside;
    const NamedBox whole{"", 0, 0, 0, inside.x_m, inside.y_m, inside.z_m};
    painter.setPen(QPen(c.ink, 2));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(above(whole));
    painter.drawRect(upright(whole));
    const auto title = [&](double y, const QString& text) {
        paintText(painter, QRectF(s.above.x(), y, width() - s.above.x(), m_look.px(18)), text,
                  m_look.caption(), c.softInk);
    };
    title(above(whole).top() - m_look.px(20), tr("from above, %1 mm inside").arg(sizeText(inside)));
    title(upright(whole).top() - m_look.px(20),
          (m_side ? tr("from the right side, lid at %1 mm") : tr("from the front, lid at %1 mm"))
              .arg(mmText(inside.z_m)));
}

void FitPicture::paintStays(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    for (const KeptPart& part : m_space->keep_out) {
        const NamedBox box = part.box();
        for (const QRectF& r : {above(box), upright(box)}) {
            painter.setPen(QPen(c.found, 1));
            painter.setBrush(c.paper);
            painter.drawRect(r);
        }
        paintText(painter, above(box).adjusted(3, 0, -3, 0), qs(box.name), m_look.caption(), c.found,
                  Qt::AlignCenter);
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(c.softInk, 1, Qt::DotLine));
    for (const NamedBox& vent : m_space->vents) {
        painter.drawRect(above(vent));
        painter.drawRect(upright(vent));
    }
}

void FitPicture::paintUnit(QPainter& painter, std::size_t unit) const
{
    const ReplacingUnit& own = m_units[unit];
    if (!own.place || !own.entry.unit.size)
        return;
    const Colours& c = m_look.colours();
    const bool moved = unit == m_unit;
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(c.planned, 1, Qt::DashLine));
    for (const NamedBox& zone : own.entry.zones) {
        const NamedBox placed = placedBox(own, *own.place, zone);
        painter.drawRect(above(placed));
        const bool blocked =
            moved && m_view.now && std::ranges::count(m_view.now->blocked_zones, zone.name) > 0;
        paintAlong(painter, above(placed), tr("for its %1").arg(qs(zone.name)),
                   blocked ? c.breaks : c.planned);
    }
    const NamedBox outline = placedOutline(own, *own.place);
    const bool broken = moved && m_view.now && m_view.now->verdict == Verdict::Breaks;
    painter.setPen(QPen(broken ? c.breaks : c.planned, moved ? 2 : 1.2));
    painter.setBrush(c.selection);
    painter.drawRect(above(outline));
    painter.drawRect(upright(outline));
    const QRectF box = above(outline);
    const QRectF middle(box.left() + 2, box.center().y() - m_look.px(19), box.width() - 4, m_look.px(19));
    paintText(painter, middle, qs(own.entry.unit.name), m_look.font(14, true), c.planned, Qt::AlignCenter);
    paintText(painter, middle.translated(0, m_look.px(19)), sizeText(*own.entry.unit.size), m_look.caption(),
              c.planned, Qt::AlignCenter);
}

/// Along the longer side of a box.
void FitPicture::paintAlong(QPainter& painter, const QRectF& box, const QString& text,
                            const QColor& colour) const
{
    if (box.width() >= box.height())
        return void(
            paintText(painter, box.adjusted(3, 0, -3, 0), text, m_look.caption(), colour, Qt::AlignCenter));
    painter.save();
    painter.translate(box.center());
    painter.rotate(-90);
    paintText(painter, QRectF(-box.height() / 2, -box.width() / 2, box.height(), box.width()), text,
              m_look.caption(), colour, Qt::AlignCenter);
    painter.restore();
}

/// Old holes are rings, those that serve are filled; new ones have cross hairs.
void FitPicture::paintHoles(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    const double s = scale().px_per_m;
    const auto radius = [&](double d_m) { return std::max(m_look.px(3) * 1.0, d_m * s / 2); };
    painter.setPen(QPen(c.found, 1.4));
    painter.setBrush(c.sheet);
    for (const RoundHole& hole : m_space->holes)
        painter.drawEllipse(above(hole.x_m, hole.y_m), radius(hole.d_m), radius(hole.d_m));
    if (!m_view.now || !m_view.input)
        return;
    FitPlaceInput bare = *m_view.input;
    bare.plate_holes.clear();
    for (const DrilledHole& all :
         placeAt(bare, m_view.place->turn, m_view.place->x_m, m_view.place->y_m).drill) {
        const QPointF at = above(all.hole.x_m, all.hole.y_m);
        const double r = radius(all.hole.d_m);
        const auto drilled = std::ranges::find_if(m_view.now->drill, [&](const DrilledHole& d) {
            return d.hole.x_m == all.hole.x_m && d.hole.y_m == all.hole.y_m;
        });
        if (drilled == m_view.now->drill.end()) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(c.fits);
            painter.drawEllipse(at, r, r);
            continue;
        }
        const QColor colour = drilled->spoiled ? c.breaks : c.planned;
        painter.setPen(QPen(colour, 1.4));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(at, r, r);
        painter.drawLine(at - QPointF(r + 3, 0), at + QPointF(r + 3, 0));
        painter.drawLine(at - QPointF(0, r + 3), at + QPointF(0, r + 3));
    }
}

void FitPicture::paintGap(QPainter& painter, QPointF from, QPointF to, double m, const QColor& colour) const
{
    painter.setPen(QPen(colour, 1.2));
    painter.drawLine(from, to);
    const QString text = mmText(m);
    const QFontMetricsF metrics(m_look.font(13, true));
    const QPointF middle = from + (to - from) * 0.35; // clear of what is written in the middle
    const bool across = std::abs(from.x() - to.x()) > std::abs(from.y() - to.y());
    const double wide = metrics.horizontalAdvance(text) + 6;
    QRectF box(middle.x() - wide / 2, middle.y() - m_look.px(18), wide, m_look.px(17));
    if (!across)
        box.moveTopLeft({middle.x() + 4, middle.y() - m_look.px(8)});
    box.moveRight(std::min(box.right(), width() - 2.0));
    box.moveLeft(std::max(box.left(), 2.0));
    QColor ground = m_look.colours().sheet;
    ground.setAlphaF(0.8F);
    painter.fillRect(box, ground);
    paintText(painter, box, text, m_look.font(13, true), colour, Qt::AlignCenter);
}

void FitPicture::paintGaps(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    for (const FitGap& gap : m_view.gaps)
        paintGap(painter, above(gap.from_x_m, gap.from_y_m), above(gap.to_x_m, gap.to_y_m), gap.m,
                 gap.m < 0                  ? c.breaks
                 : gap.m < m_space->clear_m ? c.tight
                                            : c.softInk);
    if (!m_view.place || m_unit >= m_units.size())
        return;
    const NamedBox unit = placedOutline(m_units[m_unit], *m_view.place);
    const double lid_m = m_space->inside.z_m - unit.z_m - unit.dz_m;
    const QRectF box = upright(unit);
    const double x = box.center().x();
    paintGap(painter, {x, box.top()}, {x, upright({"", 0, 0, 0, 1e-3, 1e-3, m_space->inside.z_m}).top()},
             lid_m,
             lid_m < 0                  ? c.breaks
             : lid_m < m_space->clear_m ? c.tight
                                        : c.softInk);
}

/// The mains terminal that comes nearest to something, with a line to it.
void FitPicture::paintNear(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    for (const NearThing& near : m_view.near) {
        const QPointF from = above(near.from.x_m, near.from.y_m);
        painter.setPen(Qt::NoPen);
        const bool bad = nearVerdict(near) == Verdict::Breaks;
        painter.setBrush(bad ? c.breaks : c.ink);
        painter.drawEllipse(from, m_look.px(3), m_look.px(3));
        if (!bad)
            continue;
        const QPointF to = above(near.to.x_m, near.to.y_m);
        painter.setPen(QPen(c.breaks, 2));
        painter.drawLine(from, to);
        const QString text = tr("mains, %1 to %2").arg(mmText(near.distance_m), qs(near.what));
        paintText(painter,
                  QRectF(from.x() + m_look.px(6), from.y() - m_look.px(20), m_look.px(220), m_look.px(18)),
                  text, m_look.font(13, true), c.breaks);
        return;
    }
}

void FitPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!m_space)
        return paintSentence(painter, rect(), qs(m_view.sentence), m_look);
    paintCase(painter);
    paintStays(painter);
    for (std::size_t i = 0; i < m_units.size(); ++i)
        if (i != m_unit)
            paintUnit(painter, i);
    if (m_unit < m_units.size())
        paintUnit(painter, m_unit);
    paintHoles(painter);
    paintGaps(painter);
    paintNear(painter);
    if (hasFocus()) {
        painter.setPen(QPen(m_look.colours().planned, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void FitPicture::keyPressEvent(QKeyEvent* event)
{
    constexpr double step_m = 1e-3;
    const double by = (event->modifiers() & Qt::ShiftModifier) != 0 ? 10 * step_m : step_m;
    switch (event->key()) {
    case Qt::Key_Left:
        return Q_EMIT nudged(-by, 0);
    case Qt::Key_Right:
        return Q_EMIT nudged(by, 0);
    case Qt::Key_Up:
        return Q_EMIT nudged(0, by);
    case Qt::Key_Down:
        return Q_EMIT nudged(0, -by);
    case Qt::Key_R:
        return Q_EMIT turned();
    case Qt::Key_S:
        return Q_EMIT sideWanted();
    case Qt::Key_Home:
        return Q_EMIT bestWanted();
    default:
        QWidget::keyPressEvent(event);
    }
}

void FitPicture::mousePressEvent(QMouseEvent* event)
{
    setFocus(Qt::MouseFocusReason);
    if (!m_space || !m_view.place || m_unit >= m_units.size())
        return;
    const NamedBox unit = placedOutline(m_units[m_unit], *m_view.place);
    if (!above(unit).contains(event->position()))
        return;
    const QPointF corner = above(unit.x_m, unit.y_m);
    const double s = scale().px_per_m;
    m_grabbed = QPointF((event->position().x() - corner.x()) / s, (corner.y() - event->position().y()) / s);
}

void FitPicture::mouseMoveEvent(QMouseEvent* event)
{
    if (!m_grabbed)
        return;
    const Scale s = scale();
    constexpr double step_m = 1e-3;
    const auto whole = [](double m) { return std::round(m / step_m) * step_m; };
    Q_EMIT dragged(whole((event->position().x() - s.above.x()) / s.px_per_m - m_grabbed->x()),
                   whole((s.above.y() - event->position().y()) / s.px_per_m - m_grabbed->y()));
}

void FitPicture::mouseReleaseEvent(QMouseEvent* /*event*/)
{
    if (!m_grabbed)
        return;
    m_grabbed.reset();
    if (m_view.place)
        Q_EMIT dropped(m_view.place->x_m, m_view.place->y_m);
}

} // namespace offshoot::ui
