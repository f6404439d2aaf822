#include "ui/paint/curves.h"

#include "ui/paint/marks.h"

#include <QPolygonF>
#include <algorithm>

namespace offshoot::ui {

AxisRange yRange(const std::vector<Curve>& curves, bool zero)
{
    AxisRange range{1e300, -1e300};
    for (const Curve& curve : curves)
        for (const double y : curve.y)
            range.include(y);
    if (range.low > range.high)
        return {0, 1};
    if (zero)
        range.include(0);
    range.widen(0.06, 1e-9);
    return range;
}

void paintCurves(QPainter& painter, const Axes& axes, const std::vector<Curve>& curves, const Look& look)
{
    painter.save();
    painter.setClipRect(axes.box().adjusted(-1, -1, 1, 1));
    painter.setBrush(Qt::NoBrush);
    for (const Curve& curve : curves) {
        QPolygonF line;
        for (std::size_t i = 0; i < std::min(curve.x.size(), curve.y.size()); ++i)
            line << axes.at(curve.x[i], curve.y[i]);
        painter.setPen(QPen(curve.colour, curve.wide, curve.style, Qt::RoundCap, Qt::RoundJoin));
        painter.drawPolyline(line);
    }
    painter.restore();
    double x = axes.box().right();
    for (auto curve = curves.rbegin(); curve != curves.rend(); ++curve) {
        if (curve->name.isEmpty())
            continue;
        const double wide = textWidth(curve->name, look.caption()) + look.px(6);
        paintText(painter, QRectF(x - wide, axes.box().top() - look.px(20), wide, look.px(18)), curve->name,
                  look.caption(), look.colours().ink);
        x -= wide + look.px(18);
        painter.setPen(QPen(curve->colour, curve->wide + 0.6, curve->style));
        painter.drawLine(QPointF(x, axes.box().top() - look.px(11)),
                         QPointF(x + look.px(14), axes.box().top() - look.px(11)));
        x -= look.px(12);
    }
}

} // namespace offshoot::ui
