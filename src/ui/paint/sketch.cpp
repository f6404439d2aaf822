#include "ui/paint/sketch.h"

#include <QPainterPath>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

Sketch::Sketch(QPainter& painter, const QRectF& box, const Look& look)
    : m_painter(painter)
    , m_colours(look.colours())
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const double scale = std::min(box.width() / sheet.width(), box.height() / sheet.height());
    painter.translate(box.center());
    painter.scale(scale, scale);
    painter.translate(-sheet.width() / 2, -sheet.height() / 2);
    solid();
}

Sketch::~Sketch() { m_painter.restore(); }

void Sketch::solid() { lines(QPen(m_colours.ink, 1.6), m_colours.paper); }

void Sketch::missing()
{
    lines(QPen(m_colours.softInk, 1.2, Qt::DashLine), Qt::transparent);
    m_missing = true;
}

void Sketch::capacitor(QPointF at, double wide, double high)
{
    const QRectF body(at.x() - wide / 2, at.y() - high / 2, wide, high);
    m_painter.drawRoundedRect(body, 3, 3);
    if (m_missing)
        return;
    m_painter.fillRect(QRectF(body.right() - wide * 0.3, body.top() + 2, wide * 0.2, high - 4),
                       m_colours.ribbon);
    line(body.left() + wide * 0.25, body.top() + 5, body.left() + wide * 0.55, body.top() + 5);
    legs(at, body.bottom(), wide * 0.2, 2);
}

void Sketch::iron(QPointF at, double wide, double high)
{
    const QRectF core(at.x() - wide / 2, at.y() - high / 2, wide, high);
    m_painter.drawRect(core);
    const QRectF coil(at.x() - wide * 0.2, core.top() - 4, wide * 0.4, high + 8);
    if (!m_missing)
        for (double x = core.left() + 4; x < core.right(); x += 4) // its laminations
            line(x, core.top(), x, core.bottom());
    fill(m_colours.loss);
    m_painter.drawRoundedRect(coil, 3, 3);
    fill(m_colours.paper);
}

void Sketch::ferrite(QPointF at, double wide, double high)
{
    const QRectF core(at.x() - wide / 2, at.y() - high / 2, wide, high);
    fill(m_missing ? QColor(Qt::transparent) : m_colours.softInk);
    m_painter.drawRoundedRect(core, 2, 2);
    fill(m_missing ? QColor(Qt::transparent) : m_colours.ribbon);
    m_painter.drawRect(core.adjusted(wide * 0.2, -2, -wide * 0.2, 2)); // tape
    fill(m_colours.paper);
    if (!m_missing)
        legs(at, core.bottom(), wide * 0.16, 4);
}

void Sketch::choke(QPointF at, double size)
{
    const QRectF ring(at.x() - size / 2, at.y() - size / 2, size, size);
    m_painter.drawEllipse(ring);
    m_painter.drawEllipse(ring.adjusted(size * 0.28, size * 0.28, -size * 0.28, -size * 0.28));
    if (m_missing)
        return;
    m_painter.save();
    m_painter.translate(at);
    m_painter.setPen(QPen(m_colours.tight, 2.4));
    constexpr int turns = 12;
    for (int i = 0; i < turns; ++i) {
        m_painter.rotate(360.0 / turns);
        m_painter.drawLine(QPointF(size * 0.2, 0), QPointF(size * 0.52, 0));
    }
    m_painter.restore();
}

void Sketch::valve(QPointF at, double high)
{
    const double wide = high * 0.44;
    const double top = at.y() - high / 2;
    const double base = at.y() + high * 0.28;
    QPainterPath glass(QPointF(at.x() - wide / 2, base));
    glass.lineTo(at.x() - wide / 2, top + wide / 2);
    glass.arcTo(QRectF(at.x() - wide / 2, top, wide, wide), 180, -180);
    glass.lineTo(at.x() + wide / 2, base);
    glass.closeSubpath();
    m_painter.drawPath(glass);
    fill(m_missing ? QColor(Qt::transparent) : m_colours.softInk);
    box(at.x() - wide * 0.26, top + wide * 0.42, wide * 0.52, high * 0.34, 1);
    fill(m_colours.loss);
    box(at.x() - wide * 0.44, base, wide * 0.88, high * 0.14, 2);
    fill(m_colours.paper);
    if (!m_missing)
        legs(at, base + high * 0.14, wide * 0.22, 4);
}

void Sketch::resistor(QPointF at, double wide)
{
    const double high = wide * 0.26;
    line(at.x() - wide * 0.66, at.y(), at.x() + wide * 0.66, at.y());
    for (const double side : {-1.0, 1.0})
        line(at.x() + side * wide * 0.66, at.y(), at.x() + side * wide * 0.66, at.y() + high * 1.2);
    m_painter.drawRoundedRect(QRectF(at.x() - wide / 2, at.y() - high / 2, wide, high), high / 2, high / 2);
    if (m_missing)
        return;
    for (double x = at.x() - wide * 0.36; x < at.x() + wide * 0.38; x += wide * 0.09)
        line(x, at.y() - high / 2, x + wide * 0.04, at.y() + high / 2);
}

void Sketch::transistor(QPointF at, double high)
{
    const double wide = high * 0.56;
    const QRectF body(at.x() - wide / 2, at.y() - high * 0.14, wide, high * 0.42);
    const QRectF tab(body.left(), at.y() - high / 2, wide, high * 0.36);
    m_painter.drawRect(tab);
    m_painter.drawEllipse(tab.center(), wide * 0.13, wide * 0.13);
    fill(m_missing ? QColor(Qt::transparent) : m_colours.softInk);
    m_painter.drawRect(body);
    fill(m_colours.paper);
    if (!m_missing)
        legs(at, body.bottom(), wide * 0.3, 3);
}

void Sketch::heatsink(QPointF at, double wide, double high)
{
    const QRectF back(at.x() - wide / 2, at.y() - high / 2, wide, 5);
    m_painter.drawRect(back);
    for (double x = back.left() + 3; x < back.right(); x += 8)
        line(x, back.top(), x, back.top() - 7);
}

void Sketch::diode(QPointF at, double wide)
{
    const double high = wide * 0.42;
    line(at.x() - wide * 0.9, at.y(), at.x() + wide * 0.9, at.y());
    m_painter.drawRoundedRect(QRectF(at.x() - wide / 2, at.y() - high / 2, wide, high), 2, 2);
    if (!m_missing)
        m_painter.fillRect(QRectF(at.x() + wide * 0.25, at.y() - high / 2, wide * 0.12, high), m_colours.ink);
}

void Sketch::bridge(QPointF at, double size)
{
    const QRectF body(at.x() - size / 2, at.y() - size / 2, size, size * 0.8);
    QPainterPath shape(body.topLeft());
    shape.lineTo(body.right() - 8, body.top());
    shape.lineTo(body.right(), body.top() + 8); // the corner of the plus
    shape.lineTo(body.bottomRight());
    shape.lineTo(body.bottomLeft());
    shape.closeSubpath();
    m_painter.drawPath(shape);
    text(body.center() + QPointF(size * 0.28, 0), u"+"_s);
    text(body.center() - QPointF(size * 0.28, 0), u"−"_s);
    text(body.center(), u"~ ~"_s);
    legs(at, body.bottom(), size * 0.24, 4);
}

void Sketch::optocoupler(QPointF at)
{
    m_painter.save();
    m_painter.setPen(QPen(m_colours.softInk, 1.2, Qt::DashLine));
    line(at.x(), 6, at.x(), sheet.height() - 6);
    m_painter.restore();
    fill(m_missing ? QColor(Qt::transparent) : m_colours.softInk);
    m_painter.drawRect(QRectF(at.x() - 14, at.y() - 12, 28, 24));
    fill(m_colours.paper);
    for (const double y : {-7.0, 7.0})
        for (const double side : {-1.0, 1.0})
            line(at.x() + side * 14, at.y() + y, at.x() + side * 22, at.y() + y);
}

void Sketch::plug(QPointF at)
{
    m_painter.drawRoundedRect(QRectF(at.x() - 18, at.y() - 12, 32, 24), 6, 6);
    for (const double y : {-6.0, 6.0})
        line(at.x() + 14, at.y() + y, at.x() + 28, at.y() + y);
    line(at.x() - 18, at.y(), at.x() - 40, at.y());
}

void Sketch::screw(QPointF at, double size)
{
    m_painter.drawEllipse(at, size, size);
    line(at.x() - size * 0.6, at.y(), at.x() + size * 0.6, at.y());
    line(at.x(), at.y() - size * 0.6, at.x(), at.y() + size * 0.6);
}

void Sketch::columns(double feed, double output, bool apart)
{
    const double foot = 62;
    fill(m_colours.ribbon);
    m_painter.drawRect(QRectF(24, foot - feed, 22, feed));
    fill(m_colours.selection);
    m_painter.drawRect(QRectF(74, foot - output, 22, output));
    m_painter.save();
    if (apart) {
        m_painter.setPen(QPen(m_colours.softInk, 1.4, Qt::DashLine));
        line(60, 4, 60, 68);
    } else {
        line(46, foot - 2, 74, foot - 2);
    }
    m_painter.restore();
    fill(m_colours.paper);
}

void Sketch::fill(const QColor& colour) { m_painter.setBrush(m_missing ? QColor(Qt::transparent) : colour); }

void Sketch::line(double x1, double y1, double x2, double y2)
{
    m_painter.drawLine(QPointF(x1, y1), QPointF(x2, y2));
}

void Sketch::box(double x, double y, double wide, double high, double round)
{
    m_painter.drawRoundedRect(QRectF(x, y, wide, high), round, round);
}

void Sketch::text(QPointF at, const QString& words)
{
    QFont font = m_painter.font();
    font.setPixelSize(11);
    m_painter.setFont(font);
    m_painter.drawText(QRectF(at.x() - 30, at.y() - 8, 60, 16), Qt::AlignCenter, words);
}

void Sketch::lines(const QPen& pen, const QColor& brush)
{
    m_painter.setPen(pen);
    m_painter.setBrush(brush);
    m_missing = false;
}

void Sketch::legs(QPointF at, double from, double apart, int count)
{
    for (int i = 0; i < count; ++i) {
        const double x = at.x() + (i - (count - 1) / 2.0) * apart;
        line(x, from, x, from + 6);
    }
}

} // namespace offshoot::ui
