// Two axes with ticks and labels for a painted picture: values to pixels and back.
#pragma once

#include "ui/look.h"

#include <QPainter>
#include <QRectF>
#include <vector>

namespace offshoot::ui {

/// A step of 1, 2 or 5 times a power of ten that divides `span` into about `count` parts.
double niceStep(double span, int count);
/// The multiples of `step` from `low` to `high`.
std::vector<double> ticks(double low, double high, double step);

/// About `count` ticks, three at least; `step` becomes what lies between them.
std::vector<double> niceTicks(double low, double high, int count, double& step);

struct AxisRange
{
    double low;
    double high;
    /// Takes in `value`.
    void include(double value);
    /// Adds a share of the span at both ends; at least `least` in all.
    void widen(double share, double least);
};

class Axes
{
public:
    Axes(const QRectF& box, AxisRange x, AxisRange y)
        : m_box(box)
        , m_x(x)
        , m_y(y)
    {}

    double x(double value) const
    {
        return m_box.left() + (value - m_x.low) / (m_x.high - m_x.low) * m_box.width();
    }
    double y(double value) const
    {
        return m_box.bottom() - (value - m_y.low) / (m_y.high - m_y.low) * m_box.height();
    }
    QPointF at(double xValue, double yValue) const { return {x(xValue), y(yValue)}; }
    double valueAtX(double pixel) const
    {
        return m_x.low + (pixel - m_box.left()) / m_box.width() * (m_x.high - m_x.low);
    }
    const QRectF& box() const { return m_box; }

    /// The upright axis alone.
    void paintUpright(QPainter& painter, const Look& look) const;
    /// Lines, ticks and figures; the labels carry the units.
    void paint(QPainter& painter, const Look& look, const QString& xLabel, const QString& yLabel) const;

private:
    QRectF m_box;
    AxisRange m_x;
    AxisRange m_y;
};

} // namespace offshoot::ui
