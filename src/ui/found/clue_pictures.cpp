#include "ui/found/clue_pictures.h"

#include "ui/paint/sketch.h"

#include <QPainterPath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

/// One thing so often, beside each other; dashed where there is none of it.
template <class Draws>
void paintCount(Sketch& s, ClueAnswer answer, const Draws& draws)
{
    int count = 1;
    if (answer == ClueAnswer::None || answer == ClueAnswer::No)
        s.missing();
    else if (answer == ClueAnswer::Two)
        count = 2;
    else if (answer == ClueAnswer::Four)
        count = 4;
    const double apart = count == 4 ? 28 : 38;
    for (int i = 0; i < count; ++i)
        draws(
            QPointF(Sketch::sheet.width() / 2 + (i - (count - 1) / 2.0) * apart, Sketch::sheet.height() / 2));
}

void paintOpens(Sketch& s, bool opens)
{
    s.box(20, 14, 80, 46, 4);
    if (opens) {
        for (const QPointF at : {QPointF(28, 22), QPointF(92, 22), QPointF(28, 52), QPointF(92, 52)})
            s.screw(at, 4);
        return;
    }
    s.painter().setPen(QPen(s.colours().ink, 3)); // a welded seam
    s.line(20, 38, 100, 38);
}

void paintFeed(Sketch& s, bool mains)
{
    if (mains) {
        s.plug({60, 36});
        return;
    }
    s.box(62, 18, 34, 36, 3);
    s.text({80, 28}, u"+"_s);
    s.text({80, 44}, u"−"_s);
    s.line(22, 28, 62, 28);
    s.line(22, 44, 62, 44);
}

void paintIron(Sketch& s, ClueAnswer answer)
{
    const QPointF middle(60, 36);
    switch (answer) {
    case ClueAnswer::Line:
        return s.iron(middle, 62, 44);
    case ClueAnswer::Ferrite:
        return s.ferrite(middle, 50, 36);
    case ClueAnswer::Choke:
        return s.choke(middle, 46);
    default:
        s.missing();
        s.ferrite(middle, 50, 36);
    }
}

void paintRectifier(Sketch& s, ClueAnswer answer)
{
    if (answer == ClueAnswer::Bridge)
        return s.bridge({60, 36}, 50);
    if (answer == ClueAnswer::None)
        s.missing();
    s.diode({60, answer == ClueAnswer::Two ? 24.0 : 36.0}, 40);
    if (answer == ClueAnswer::Two)
        s.diode({60, 50}, 40);
}

void paintPassDevice(Sketch& s, ClueAnswer answer)
{
    if (answer == ClueAnswer::None)
        s.missing();
    s.heatsink({60, 58}, 84, 96);
    s.transistor({60, 42}, 44);
    if (answer != ClueAnswer::None)
        s.text({98, 46}, answer == ClueAnswer::Regulator ? u"317"_s : u"NPN"_s);
}

void paintAdapter(Sketch& s)
{
    s.box(30, 20, 54, 36, 8);
    for (const double y : {30.0, 46.0})
        s.line(18, y, 30, y);
    QPainterPath cord(QPointF(84, 38));
    cord.cubicTo(100, 38, 92, 62, 112, 60);
    s.painter().setBrush(Qt::NoBrush);
    s.painter().drawPath(cord);
}

void paintBoard(Sketch& s)
{
    s.box(10, 12, 100, 50);
    s.capacitor({30, 34}, 16, 26);
    s.ferrite({58, 34}, 24, 20);
    s.capacitor({84, 28}, 9, 15);
    s.capacitor({97, 28}, 9, 15);
}

void paintCased(Sketch& s)
{
    s.box(14, 10, 92, 44);
    for (int row = 0; row < 3; ++row)
        for (int hole = 0; hole < 10; ++hole)
            s.painter().drawEllipse(QPointF(26 + hole * 7.4, 20 + row * 8), 1.6, 1.6);
    s.box(14, 46, 92, 16);
    for (int i = 0; i < 7; ++i)
        s.screw({24 + i * 12.0, 54}, 4);
}

void paintComputer(Sketch& s)
{
    s.box(16, 8, 70, 58);
    s.painter().drawEllipse(QPointF(51, 37), 22, 22);
    s.painter().drawEllipse(QPointF(51, 37), 6, 6);
    for (int wire = 0; wire < 5; ++wire)
        s.line(86, 24 + wire * 5, 112, 16 + wire * 9);
}

void paintRack(Sketch& s)
{
    s.box(8, 22, 92, 30);
    s.box(100, 28, 10, 18, 1); // its edge connector
    for (int slot = 0; slot < 5; ++slot)
        s.line(103, 31 + slot * 3, 108, 31 + slot * 3);
    s.painter().drawEllipse(QPointF(28, 37), 11, 11);
    QPainterPath handle(QPointF(8, 28));
    handle.cubicTo(-2, 28, -2, 46, 8, 46);
    s.painter().setBrush(Qt::NoBrush);
    s.painter().drawPath(handle);
}

void paintValves(Sketch& s)
{
    s.box(8, 46, 104, 18);
    s.iron({30, 30}, 34, 26);
    for (const double x : {68.0, 92.0}) {
        QPainterPath bulb(QPointF(x - 8, 46));
        bulb.lineTo(x - 8, 20);
        bulb.cubicTo(x - 8, 4, x + 8, 4, x + 8, 20);
        bulb.lineTo(x + 8, 46);
        s.painter().drawPath(bulb);
        s.line(x - 3, 46, x - 3, 26);
        s.line(x + 3, 46, x + 3, 26);
    }
}

void paintModule(Sketch& s, bool adjustable)
{
    s.box(24, 18, 72, 40);
    s.choke({48, 38}, 22);
    s.capacitor({72, 34}, 9, 14);
    for (const double y : {22.0, 54.0})
        for (const double x : {29.0, 91.0})
            s.painter().drawEllipse(QPointF(x, y), 2.2, 2.2);
    if (!adjustable)
        return;
    s.fill(s.colours().ribbon);
    s.box(62, 48, 24, 9, 1); // the trimmer with its screw
    s.fill(s.colours().tight);
    s.painter().drawEllipse(QPointF(87, 52), 3, 3);
}

} // namespace

void paintSilhouette(QPainter& painter, const QRectF& box, Silhouette silhouette, const Look& look)
{
    Sketch s(painter, box, look);
    switch (silhouette) {
    case Silhouette::SealedAdapter:
        return paintAdapter(s);
    case Silhouette::OpenBoard:
        return paintBoard(s);
    case Silhouette::CasedTerminals:
        return paintCased(s);
    case Silhouette::Computer:
        return paintComputer(s);
    case Silhouette::Rack:
        return paintRack(s);
    case Silhouette::IronTransformer:
        return s.iron({60, 36}, 70, 48);
    case Silhouette::ValveSet:
        return paintValves(s);
    case Silhouette::SmallModule:
    case Silhouette::AdjustableModule:
        return paintModule(s, silhouette == Silhouette::AdjustableModule);
    }
}

void paintClue(QPainter& painter, const QRectF& box, KindClue clue, ClueAnswer answer, const Look& look)
{
    Sketch s(painter, box, look);
    const auto count = [&](const auto& draws) { paintCount(s, answer, draws); };
    switch (clue) {
    case KindClue::Opens:
        return paintOpens(s, answer == ClueAnswer::Yes);
    case KindClue::Feed:
        return paintFeed(s, answer == ClueAnswer::Mains);
    case KindClue::Iron:
        return paintIron(s, answer);
    case KindClue::Bulk:
        return count([&](QPointF at) { s.capacitor(at, 28, 46); });
    case KindClue::Switches:
        return count([&](QPointF at) { s.transistor(at, 46); });
    case KindClue::Rectifier:
        return paintRectifier(s, answer);
    case KindClue::OutputChoke:
        return count([&](QPointF at) { s.choke(at, 46); });
    case KindClue::DriverTransformer:
        return count([&](QPointF at) { s.ferrite(at, 24, 20); });
    case KindClue::Optocoupler:
        return count([&](QPointF at) { s.optocoupler(at); });
    case KindClue::PassDevice:
        return paintPassDevice(s, answer);
    case KindClue::Output:
        return answer == ClueAnswer::Lower    ? s.columns(52, 24, false)
               : answer == ClueAnswer::Higher ? s.columns(24, 52, false)
                                              : s.columns(52, 24, true);
    }
}

} // namespace offshoot::ui
