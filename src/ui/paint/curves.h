// Curves over two axes: waveforms, gains, discharges. A thin layer over Axes for views that show several.
#pragma once

#include "ui/paint/axes.h"

#include <QColor>
#include <vector>

namespace offshoot::ui {

struct Curve
{
    std::vector<double> x;
    std::vector<double> y;
    QColor colour;
    double wide = 1.6;
    Qt::PenStyle style = Qt::SolidLine;
    QString name = {};
};

/// The range that shows every curve, with some room above and below; `zero` keeps 0 in sight.
AxisRange yRange(const std::vector<Curve>& curves, bool zero = true);
/// Draws the curves inside the axes' box, and their names as a line of keys above it.
void paintCurves(QPainter& painter, const Axes& axes, const std::vector<Curve>& curves, const Look& look);

} // namespace offshoot::ui
