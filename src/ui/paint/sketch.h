// Things as they look on a bench, drawn plainly: cans, cores, chokes, cases with legs.
#pragma once

#include "ui/look.h"

#include <QPainter>

namespace offshoot::ui {

/// A pen that draws things as they look, and dashes what is not there. Everything is drawn on a sheet of one
/// size and laid into the box it is wanted in.
class Sketch
{
public:
    static constexpr QSizeF sheet{120, 72};

    Sketch(QPainter& painter, const QRectF& box, const Look& look);
    ~Sketch();
    Sketch(const Sketch&) = delete;
    Sketch& operator=(const Sketch&) = delete;
    void solid();
    void missing();
    void capacitor(QPointF at, double wide, double high);
    void iron(QPointF at, double wide, double high);
    void ferrite(QPointF at, double wide, double high);
    void choke(QPointF at, double size);
    /// A glass envelope on its base, the plate seen through it.
    void valve(QPointF at, double high);
    /// Wound on a ceramic body, lying on its two legs.
    void resistor(QPointF at, double wide);
    /// In a flat case with three legs, screwed to fins.
    void transistor(QPointF at, double high);
    void heatsink(QPointF at, double wide, double high);
    void diode(QPointF at, double wide);
    void bridge(QPointF at, double size);
    void optocoupler(QPointF at);
    void plug(QPointF at);
    void screw(QPointF at, double size);
    /// Feed and output as two columns; dashed between them where nothing joins them.
    void columns(double feed, double output, bool apart);
    QPainter& painter() { return m_painter; }
    const Colours& colours() const { return m_colours; }
    void fill(const QColor& colour);
    void line(double x1, double y1, double x2, double y2);
    void box(double x, double y, double wide, double high, double round = 2);
    void text(QPointF at, const QString& words);

private:
    void lines(const QPen& pen, const QColor& brush);
    void legs(QPointF at, double from, double apart, int count);

    QPainter& m_painter;
    const Colours& m_colours;
    bool m_missing = false;
};

} // namespace offshoot::ui
