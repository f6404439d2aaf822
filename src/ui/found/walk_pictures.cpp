#include "ui/found/walk_pictures.h"

#include "ui/paint/marks.h"
#include "ui/paint/sketch.h"

#include <QPainterPath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr QPointF middle{60, 36};

/// Here it stands.
void mark(Sketch& s, const QRectF& where)
{
    QPainter& p = s.painter();
    p.save();
    p.setPen(QPen(s.colours().planned, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(where, 4, 4);
    const QPointF tip(where.right() + 2, where.center().y());
    p.drawLine(tip, tip + QPointF(14, -8));
    p.restore();
}

void resistor(Sketch& s)
{
    s.line(14, 36, 106, 36);
    s.box(36, 28, 48, 16, 6);
    const QColor bands[] = {bandColour(Colour::Red), bandColour(Colour::Red), bandColour(Colour::Black),
                            bandColour(Colour::Brown)};
    for (int i = 0; i < 4; ++i)
        s.painter().fillRect(QRectF(42 + i * 10, 28, 4, 16), bands[i]);
    mark(s, {38, 24, 44, 24});
}

void fuse(Sketch& s)
{
    s.box(26, 28, 68, 16, 3);
    s.fill(s.colours().loss);
    s.box(20, 26, 16, 20, 2);
    s.box(84, 26, 16, 20, 2);
    s.line(36, 36, 84, 36);
    mark(s, {18, 23, 20, 26});
}

void entry(Sketch& s)
{
    s.box(10, 14, 44, 44, 4);
    for (const QPointF pin : {QPointF(22, 30), QPointF(42, 30), QPointF(32, 44)})
        s.box(pin.x() - 2, pin.y() - 5, 4, 10, 1);
    s.box(66, 14, 24, 44, 3);
    s.text({78, 26}, u"I"_s);
    s.text({78, 46}, u"0"_s);
    mark(s, {12, 50, 40, 12});
}

void plate(Sketch& s)
{
    s.box(20, 10, 76, 52, 3);
    for (const double y : {20.0, 30.0, 50.0})
        s.line(28, y, 80, y);
    mark(s, {25, 35, 58, 10});
}

void limiter(Sketch& s)
{
    s.painter().drawEllipse(QPointF(60, 30), 22, 22);
    s.line(50, 50, 50, 68);
    s.line(70, 50, 70, 68);
    mark(s, {44, 22, 32, 16});
}

void smallCase(Sketch& s)
{
    QPainterPath body(QPointF(44, 16));
    body.lineTo(76, 16);
    body.lineTo(76, 42);
    body.lineTo(44, 42);
    body.closeSubpath();
    s.painter().drawPath(body);
    for (const double x : {50.0, 60.0, 70.0})
        s.line(x, 42, x, 66);
    mark(s, {47, 20, 26, 16});
}

void controller(Sketch& s)
{
    s.box(30, 22, 60, 28);
    s.painter().drawEllipse(QPointF(36, 36), 3, 3);
    for (int i = 0; i < 4; ++i) {
        s.line(38 + i * 14, 14, 38 + i * 14, 22);
        s.line(38 + i * 14, 50, 38 + i * 14, 58);
    }
    mark(s, {46, 28, 38, 16});
}

void clampPart(Sketch& s)
{
    s.diode(middle, 44);
    mark(s, {40, 26, 26, 20});
}

void indicator(Sketch& s)
{
    resistor(s);
    s.painter().drawEllipse(QPointF(100, 16), 8, 8);
}

void can(Sketch& s, double wide, double high)
{
    s.capacitor(middle, wide, high);
    mark(s, {60 - wide * 0.42, 36 - high * 0.2, wide * 0.58, high * 0.5});
}

void flatCase(Sketch& s)
{
    s.heatsink({60, 62}, 90, 104);
    s.transistor({60, 40}, 56);
    mark(s, {46, 33, 28, 18});
}

} // namespace

void paintBoardPart(QPainter& painter, const QRectF& box, BoardPart part, const Look& look)
{
    Sketch s(painter, box, look);
    switch (part) {
    case BoardPart::Entry:
        return entry(s);
    case BoardPart::Fuse:
        return fuse(s);
    case BoardPart::Limiter:
        return limiter(s);
    case BoardPart::Bridge:
        s.bridge(middle, 52);
        return mark(s, {38, 12, 34, 12});
    case BoardPart::Bulk:
        return can(s, 44, 56);
    case BoardPart::BulkBleeder:
    case BoardPart::MinimumLoad:
    case BoardPart::LedResistor:
        return resistor(s);
    case BoardPart::Switch:
    case BoardPart::Regulator:
    case BoardPart::Diode:
        return flatCase(s);
    case BoardPart::Clamp:
    case BoardPart::Trip:
        return clampPart(s);
    case BoardPart::Controller:
        return controller(s);
    case BoardPart::Transformer:
        s.ferrite(middle, 62, 42);
        return mark(s, {48, 20, 26, 30});
    case BoardPart::Choke:
        s.choke(middle, 52);
        return mark(s, {34, 12, 20, 18});
    case BoardPart::Capacitor:
        return can(s, 30, 46);
    case BoardPart::Indicator:
        return indicator(s);
    case BoardPart::Reference:
        return smallCase(s);
    case BoardPart::Plate:
        return plate(s);
    }
}

} // namespace offshoot::ui
