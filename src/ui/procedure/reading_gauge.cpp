#include "ui/procedure/reading_gauge.h"

#include "core/values/format.h"
#include "ui/paint/marks.h"

#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

/// A figure for the axis: short, in the quantity's own unit.
QString figure(double value, Quantity quantity)
{
    return qs(quantity == Quantity::Voltage ? formatVolts(value) : formatValue(value, quantity));
}

} // namespace

ReadingGauge::ReadingGauge(const Asked& asked, const std::optional<TakenReading>& taken,
                           std::optional<double> found, const Look& look, QWidget* parent)
    : QWidget(parent)
    , m_asked(asked)
    , m_taken(taken)
    , m_found(found)
    , m_look(look)
{
    // One-sided windows start at nothing; the band takes about half of the axis.
    const double low = asked.window->min.value_or(0);
    const double high = asked.window->max.value_or(2 * low);
    const double room = std::max(high - low, 1e-3 * high) * (asked.window->min ? 0.6 : 0.5);
    m_low = asked.window->min ? low - room : 0;
    m_high = high + room;
    sizedWith(*this, look, [this, &look] { setFixedHeight(look.px(58)); });
    setAccessibleName(tr("Window of %1").arg(qs(asked.name())));
}

void ReadingGauge::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    const double left = m_look.px(10);
    const double right = width() - m_look.px(10);
    const double axis = m_look.px(34);
    const auto x = [&](double v) { return left + (v - m_low) / (m_high - m_low) * (right - left); };
    const double from = m_asked.window->min ? x(*m_asked.window->min) : left;
    const double to = m_asked.window->max ? x(*m_asked.window->max) : right;
    QColor band = c.fits;
    band.setAlpha(m_look.dark() ? 56 : 40);
    painter.fillRect(QRectF(from, m_look.px(6), to - from, axis - m_look.px(6)), band);
    painter.setPen(QPen(c.ink, 1.2));
    painter.drawLine(QPointF(left, axis), QPointF(right, axis));
    for (const auto& edge : {m_asked.window->min, m_asked.window->max}) {
        if (!edge)
            continue;
        painter.setPen(QPen(c.fits, 1.6));
        painter.drawLine(QPointF(x(*edge), m_look.px(6)), QPointF(x(*edge), axis + m_look.px(5)));
        paintText(painter,
                  QRectF(x(*edge) - m_look.px(60), axis + m_look.px(6), m_look.px(120), m_look.px(17)),
                  figure(*edge, m_asked.quantity), m_look.caption(), c.softInk, Qt::AlignCenter);
    }
    if (m_found && *m_found > m_low && *m_found < m_high) {
        painter.setPen(QPen(c.found, 1));
        painter.drawLine(QPointF(x(*m_found), m_look.px(10)), QPointF(x(*m_found), axis));
    }
    if (!m_taken)
        return;
    // A reading beyond the axis is drawn at its end, as an arrow.
    const double inside = std::clamp(m_taken->value, m_low, m_high);
    const QPointF dot(x(inside), m_look.px(20));
    painter.setPen(QPen(c.measured, 2));
    painter.drawLine(QPointF(std::max(left, x(m_taken->value - m_taken->u)), dot.y()),
                     QPointF(std::min(right, x(m_taken->value + m_taken->u)), dot.y()));
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.measured);
    if (inside == m_taken->value) {
        painter.drawEllipse(dot, m_look.px(5), m_look.px(5));
    } else {
        const double way = m_taken->value > m_high ? 1 : -1;
        painter.drawPolygon(QPolygonF{{dot + QPointF(way * m_look.px(8), 0),
                                       dot + QPointF(-way * m_look.px(4), -m_look.px(6)),
                                       dot + QPointF(-way * m_look.px(4), m_look.px(6))}});
    }
}

} // namespace offshoot::ui
