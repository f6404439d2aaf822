#include "ui/paint/axes.h"

#include "core/values/format.h"
#include "ui/paint/marks.h"

#include <algorithm>
#include <cmath>

namespace offshoot::ui {

double niceStep(double span, int count)
{
    const double rough = span / std::max(count, 1);
    const double power = std::pow(10, std::floor(std::log10(rough)));
    const double share = rough / power;
    return power * (share <= 1 ? 1 : share <= 2 ? 2 : share <= 5 ? 5 : 10);
}

std::vector<double> ticks(double low, double high, double step)
{
    std::vector<double> values;
    const double first = std::ceil(low / step - 1e-9);
    const double last = std::floor(high / step + 1e-9);
    const int count = static_cast<int>(last - first) + 1;
    values.reserve(static_cast<std::size_t>(std::max(0, count)));
    for (int i = 0; i < count; ++i)
        values.push_back((first + i) * step);
    return values;
}

std::vector<double> niceTicks(double low, double high, int count, double& step)
{
    constexpr std::size_t fewest = 3;
    std::vector<double> values;
    do {
        step = niceStep(high - low, count++);
        values = ticks(low, high, step);
    } while (values.size() < fewest);
    return values;
}

void AxisRange::include(double value)
{
    low = std::min(low, value);
    high = std::max(high, value);
}

void AxisRange::widen(double share, double least)
{
    const double room = std::max((high - low) * share, (least - (high - low)) / 2);
    low -= room;
    high += room;
}

namespace {

/// A tick's figure, with the decimals its step asks for.
QString tickText(double value, double step)
{
    const int decimals = std::max(0, static_cast<int>(std::ceil(-std::log10(step) - 1e-9)));
    return qs(fixed(value + 0.0, decimals));
}

} // namespace

void Axes::paintUpright(QPainter& painter, const Look& look) const
{
    const Colours& c = look.colours();
    const double tick = look.px(5);
    painter.setPen(QPen(c.ink, 1.2));
    painter.drawLine(m_box.bottomLeft(), m_box.topLeft());
    double step = 0;
    double free = m_box.bottom() + 1;
    for (const double v :
         niceTicks(m_y.low, m_y.high, static_cast<int>(m_box.height() / look.px(46)), step)) {
        painter.setPen(QPen(c.ink, 1));
        painter.drawLine(QPointF(m_box.left() - tick, y(v)), QPointF(m_box.left(), y(v)));
        if (y(v) > free) // a low box has room for some of the figures only
            continue;
        free = y(v) - look.px(16);
        paintText(painter,
                  QRectF(m_box.left() - look.px(60), y(v) - look.px(9), look.px(60) - tick - 2, look.px(18)),
                  tickText(v, step), look.caption(), c.softInk, Qt::AlignRight | Qt::AlignVCenter);
    }
}

void Axes::paint(QPainter& painter, const Look& look, const QString& xLabel, const QString& yLabel) const
{
    const Colours& c = look.colours();
    const double tick = look.px(5);
    paintUpright(painter, look);
    painter.setPen(QPen(c.ink, 1.2));
    painter.drawLine(m_box.bottomLeft(), m_box.bottomRight());
    double step = 0;
    for (const double v : niceTicks(m_x.low, m_x.high, static_cast<int>(m_box.width() / look.px(90)), step)) {
        painter.setPen(QPen(c.ink, 1));
        painter.drawLine(QPointF(x(v), m_box.bottom()), QPointF(x(v), m_box.bottom() + tick));
        paintText(painter, QRectF(x(v) - look.px(40), m_box.bottom() + tick, look.px(80), look.px(18)),
                  tickText(v, step), look.caption(), c.softInk, Qt::AlignCenter);
    }
    paintText(painter, QRectF(m_box.left(), m_box.bottom() + tick + look.px(17), m_box.width(), look.px(18)),
              xLabel, look.caption(), c.ink, Qt::AlignRight | Qt::AlignVCenter);
    paintText(painter,
              QRectF(m_box.left() - look.px(56), m_box.top() - look.px(22), look.px(300), look.px(18)),
              yLabel, look.caption(), c.ink);
}

} // namespace offshoot::ui
