#include "ui/parallel/share_picture.h"

#include "core/values/format.h"
#include "ui/paint/axes.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

/// The place of a load among the view's samples.
std::size_t sampleAt(const ParallelView& view, double amperes)
{
    const auto at = std::ranges::lower_bound(view.loads_a, amperes);
    return std::min(static_cast<std::size_t>(at - view.loads_a.begin()), view.loads_a.size() - 1);
}

} // namespace

SharePicture::SharePicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setObjectName(u"sharePicture"_s);
    setAccessibleName(tr("Each unit's current over the total load"));
    setFocusPolicy(Qt::StrongFocus);
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(260), look.px(150)); });
    setCursor(Qt::SizeHorCursor);
}

void SharePicture::show(const ParallelView& view, double loadA)
{
    m_view = view;
    m_loadA = loadA;
    setAccessibleDescription(qs(view.sentence));
    update();
}

Axes SharePicture::axes() const
{
    const QRectF box = QRectF(rect()).adjusted(m_look.px(56), m_look.px(26), -m_look.px(18), -m_look.px(44));
    const double high = std::max(m_view.full_a, 1e-6);
    return {box, {0, high}, {0, high}};
}

double SharePicture::loadAt(QPointF position) const
{
    const double step = niceStep(m_view.full_a, 100);
    return std::clamp(std::round(axes().valueAtX(position.x()) / step) * step, step, m_view.full_a);
}

void SharePicture::mousePressEvent(QMouseEvent* event)
{
    if (m_view.result && event->button() == Qt::LeftButton)
        Q_EMIT loadDragged(loadAt(event->position()));
}

void SharePicture::mouseMoveEvent(QMouseEvent* event)
{
    if (m_view.result && event->buttons().testFlag(Qt::LeftButton))
        Q_EMIT loadDragged(loadAt(event->position()));
}

void SharePicture::mouseReleaseEvent(QMouseEvent* event)
{
    if (m_view.result && event->button() == Qt::LeftButton)
        Q_EMIT loadReleased(loadAt(event->position()));
}

void SharePicture::keyPressEvent(QKeyEvent* event)
{
    const double step = niceStep(std::max(m_view.full_a, 1e-6), 50);
    if (m_view.result && (event->key() == Qt::Key_Right || event->key() == Qt::Key_Left))
        Q_EMIT loadDragged(std::max(step, m_loadA + (event->key() == Qt::Key_Right ? step : -step)));
    else if (m_view.result && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter))
        Q_EMIT loadReleased(m_loadA);
    else
        QWidget::keyPressEvent(event);
}

/// From the bottom up, each unit's current on top of those before it.
void SharePicture::paintLayers(QPainter& painter, const Axes& axes) const
{
    const Colours& c = m_look.colours();
    const std::size_t units = m_view.currents_a.front().size();
    std::vector<double> below(m_view.loads_a.size(), 0.0);
    for (std::size_t unit = 0; unit < units; ++unit) {
        QPolygonF layer;
        QPolygonF limited;
        for (std::size_t k = 0; k < m_view.loads_a.size(); ++k)
            layer << axes.at(m_view.loads_a[k], below[k]);
        QPolygonF upper;
        for (std::size_t k = 0; k < m_view.loads_a.size(); ++k) {
            const double top = below[k] + m_view.currents_a[k][unit];
            upper << axes.at(m_view.loads_a[k], top);
            if (m_view.states[k][unit] == UnitState::Limiting) {
                limited << axes.at(m_view.loads_a[k], top);
                limited.prepend(axes.at(m_view.loads_a[k], below[k]));
            }
        }
        for (auto it = upper.rbegin(); it != upper.rend(); ++it)
            layer << *it;
        QColor tint = unit % 2 == 0 ? c.ribbon : c.loss;
        tint.setAlpha(m_look.dark() ? 150 : 170);
        painter.setPen(Qt::NoPen);
        painter.setBrush(tint);
        painter.drawPolygon(layer);
        if (limited.size() > 2) {
            QColor hatch = c.tight;
            hatch.setAlpha(150);
            painter.setBrush(QBrush(hatch, Qt::FDiagPattern));
            painter.drawPolygon(limited);
        }
        painter.setPen(QPen(c.ink, 1.2));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(upper);
        for (std::size_t k = 0; k < below.size(); ++k)
            below[k] += m_view.currents_a[k][unit];
    }
}

void SharePicture::paintLoad(QPainter& painter, const Axes& axes) const
{
    const Colours& c = m_look.colours();
    const double x = axes.x(std::min(m_loadA, m_view.full_a));
    painter.setPen(QPen(c.planned, 2));
    painter.drawLine(QPointF(x, axes.box().top()), QPointF(x, axes.box().bottom()));
    painter.setBrush(c.planned);
    painter.setPen(QPen(c.sheet, 1.4));
    painter.drawEllipse(QPointF(x, axes.box().bottom()), m_look.px(6), m_look.px(6));
    const BusState& bus = m_view.result->bus;
    const std::size_t k = sampleAt(m_view, std::min(m_loadA, m_view.full_a));
    // Names stand at the layers where the load is, on the side with room.
    const bool left = x > axes.box().center().x();
    const double wide = m_look.px(210);
    double below = 0;
    double lowest = axes.box().bottom() + m_look.px(4);
    for (std::size_t unit = 0; unit < bus.units.size(); ++unit) {
        const UnitShare& share = bus.units[unit];
        const double middle = axes.y(below + m_view.currents_a[k][unit] / 2);
        below += m_view.currents_a[k][unit];
        const double y = std::min(middle, lowest - m_look.px(15));
        lowest = y;
        QString text = qs(share.name) + u"  "_s + amps(share.current_a);
        if (share.state != UnitState::Sharing)
            text += u" · "_s + qs(phrase(share.state));
        const Verdict verdict = share.verdict();
        const double from = left ? x - wide - m_look.px(10) : x + m_look.px(10);
        const QRectF box(from, y - m_look.px(9), wide, m_look.px(18));
        const double mark = left ? box.right() - m_look.px(6) : box.left() + m_look.px(6);
        const QFont font = m_look.font(13, true);
        // A thin sheet behind the name: no boundary of a layer crosses its letters.
        const double reach = m_look.px(20) + textWidth(text, font);
        const QRectF behind(left ? box.right() - reach : box.left(), box.top(), reach, box.height());
        QColor sheet = c.sheet;
        sheet.setAlpha(190);
        painter.setPen(Qt::NoPen);
        painter.setBrush(sheet);
        painter.drawRoundedRect(behind, m_look.px(4), m_look.px(4));
        paintVerdict(painter, verdict, {mark, y}, m_look.px(11), c);
        paintText(painter,
                  left ? box.adjusted(0, 0, -m_look.px(16), 0) : box.adjusted(m_look.px(16), 0, 0, 0), text,
                  font, c.ink, (left ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    }
}

void SharePicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!m_view.result)
        return paintSentence(painter, rect(), qs(m_view.sentence), m_look);
    const Axes plot = axes();
    painter.save();
    painter.setClipRect(plot.box().adjusted(-1, -1, 1, m_look.px(8)));
    paintLayers(painter, plot);
    painter.restore();
    plot.paint(painter, m_look, tr("total load, A"), tr("units together, A"));
    paintLoad(painter, plot);
    if (hasFocus()) {
        painter.setPen(QPen(m_look.colours().planned, 1.4));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
    }
}

SetPointRuler::SetPointRuler(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setObjectName(u"setPoints"_s);
    setAccessibleName(tr("Set points of the units"));
    sizedWith(*this, look, [this, &look] { setFixedHeight(look.px(74)); });
    setCursor(Qt::PointingHandCursor);
}

void SetPointRuler::show(const ParallelView& view)
{
    m_view = view;
    if (view.model.input && !m_held) {
        // Fixed while a handle is held, so that the ruler does not run away under it.
        AxisRange range{1e9, -1e9};
        for (const ParallelUnit& unit : view.model.input->units) {
            range.low = std::min(range.low, unit.v_set_v);
            range.high = std::max(range.high, unit.v_set_v);
        }
        range.widen(0.5, std::max(6 * view.match_v, 0.01 * range.high));
        m_low = range.low;
        m_high = range.high;
    }
    update();
}

double SetPointRuler::x(double volts) const
{
    const double left = m_look.px(30);
    return left + (volts - m_low) / (m_high - m_low) * (width() - 2 * left);
}

double SetPointRuler::voltsAt(double pixel) const
{
    const double left = m_look.px(30);
    constexpr double millivolt = 1e-3;
    const double volts = m_low + (pixel - left) / (width() - 2 * left) * (m_high - m_low);
    return std::max(millivolt, std::round(volts / millivolt) * millivolt);
}

void SetPointRuler::mousePressEvent(QMouseEvent* event)
{
    if (!m_view.model.input)
        return;
    const auto& units = m_view.model.input->units;
    std::size_t nearest = 0;
    for (std::size_t i = 0; i < units.size(); ++i)
        if (std::abs(x(units[i].v_set_v) - event->position().x()) <
            std::abs(x(units[nearest].v_set_v) - event->position().x()))
            nearest = i;
    m_held = nearest;
    Q_EMIT dragged(nearest + 1, voltsAt(event->position().x()));
}

void SetPointRuler::mouseMoveEvent(QMouseEvent* event)
{
    if (m_held)
        Q_EMIT dragged(*m_held + 1, voltsAt(event->position().x()));
}

void SetPointRuler::mouseReleaseEvent(QMouseEvent* event)
{
    if (!m_held)
        return;
    const std::size_t unit = *m_held + 1;
    m_held.reset();
    Q_EMIT released(unit, voltsAt(event->position().x()));
}

void SetPointRuler::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    if (!m_view.model.input)
        return;
    const auto& units = m_view.model.input->units;
    const double axis = m_look.px(44);
    // The band the set points must lie in together, laid on the highest one.
    double highest = 0;
    for (const ParallelUnit& unit : units)
        highest = std::max(highest, unit.v_set_v);
    QColor band = c.fits;
    band.setAlpha(m_look.dark() ? 56 : 40);
    if (m_view.match_v > 0)
        painter.fillRect(QRectF(x(highest - m_view.match_v), m_look.px(20),
                                x(highest) - x(highest - m_view.match_v), axis - m_look.px(20)),
                         band);
    painter.setPen(QPen(c.ink, 1.2));
    painter.drawLine(QPointF(m_look.px(16), axis), QPointF(width() - m_look.px(16), axis));
    const double step = niceStep(m_high - m_low, 6);
    const int decimals = step < 0.01 ? 3 : step < 0.1 ? 2 : 1;
    for (const double v : ticks(m_low, m_high, step)) {
        painter.drawLine(QPointF(x(v), axis), QPointF(x(v), axis + m_look.px(5)));
        paintText(painter, QRectF(x(v) - m_look.px(40), axis + m_look.px(6), m_look.px(80), m_look.px(18)),
                  qs(fixed(v, decimals)) + (v + step > m_high ? u" V"_s : QString()), m_look.caption(),
                  c.softInk, Qt::AlignCenter);
    }
    double last = -1e9;
    double lift = 0;
    std::vector<std::size_t> order(units.size());
    for (std::size_t i = 0; i < order.size(); ++i)
        order[i] = i;
    std::ranges::sort(order, {}, [&](std::size_t i) { return units[i].v_set_v; });
    for (const std::size_t i : order) {
        const double at = x(units[i].v_set_v);
        lift = at - last < m_look.px(90) ? (lift == 0 ? m_look.px(15) : 0) : 0;
        last = at;
        const double s = m_look.px(6);
        painter.setPen(QPen(c.sheet, 1.2));
        painter.setBrush(c.planned);
        painter.drawPolygon(
            QPolygonF{{QPointF(at, axis), QPointF(at - s, axis - 2 * s), QPointF(at + s, axis - 2 * s)}});
        paintText(painter,
                  QRectF(at - m_look.px(70), axis - m_look.px(29) - lift, m_look.px(140), m_look.px(16)),
                  qs(units[i].name) + u' ' + qs(fixed(units[i].v_set_v, 3)), m_look.caption(), c.planned,
                  Qt::AlignCenter);
    }
}

} // namespace offshoot::ui
