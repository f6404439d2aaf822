#include "ui/paint/marks.h"

#include "core/kinds/replace/wire_colour.h"
#include "core/values/format.h"
#include "core/values/marking.h"

#include <QCoreApplication>
#include <QPainterPath>
#include <cmath>
#include <numbers>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

void paintBenchBand(QPainter& painter, int width, Isolation state, const Look& look)
{
    const Colours& plate = lightColours();
    const QColor band = state == Isolation::Live       ? plate.breaks
                        : state == Isolation::Unproven ? plate.tight
                                                       : plate.fits;
    painter.fillRect(QRectF(0, 0, width, look.px(72)), band);
    const double side = look.px(40);
    paintIsolationSign(painter, state, QRectF(look.px(60), look.px(16), side, side), plate.paper);
    static const char* const words[] = {QT_TRANSLATE_NOOP("marks", "LIVE"),
                                        QT_TRANSLATE_NOOP("marks", "UNPLUGGED, CHARGE NOT PROVEN"),
                                        QT_TRANSLATE_NOOP("marks", "PROVEN DEAD")};
    paintText(painter, QRectF(look.px(120), 0, width - look.px(160), look.px(72)),
              QCoreApplication::translate("marks", words[static_cast<int>(state)]), look.font(34, true),
              plate.paper);
}

QString verdictWord(Verdict verdict)
{
    switch (verdict) {
    case Verdict::Fits:
        return QCoreApplication::translate("Verdict", "fits");
    case Verdict::Tight:
        return QCoreApplication::translate("Verdict", "tight");
    case Verdict::Breaks:
        return QCoreApplication::translate("Verdict", "breaks");
    case Verdict::Unknown:
        return QCoreApplication::translate("Verdict", "unknown");
    }
    return {};
}

void paintVerdict(QPainter& painter, Verdict verdict, QPointF centre, double size, const Colours& colours)
{
    const QColor colour = colours.verdict(verdict);
    const double r = size / 2;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(colour, 1.6));
    painter.setBrush(colour);
    switch (verdict) {
    case Verdict::Fits:
        painter.drawEllipse(centre, r * 0.86, r * 0.86);
        break;
    case Verdict::Tight: {
        const QPolygonF diamond{{centre + QPointF(0, -r), centre + QPointF(r, 0), centre + QPointF(0, r),
                                 centre + QPointF(-r, 0)}};
        painter.setBrush(Qt::NoBrush);
        painter.drawPolygon(diamond);
        painter.setBrush(colour);
        painter.drawPolygon(
            QPolygonF{{centre + QPointF(0, -r), centre + QPointF(0, r), centre + QPointF(-r, 0)}});
        break;
    }
    case Verdict::Breaks:
        painter.drawPolygon(QPolygonF{
            {centre + QPointF(-r, -r * 0.8), centre + QPointF(r, -r * 0.8), centre + QPointF(0, r * 0.9)}});
        break;
    case Verdict::Unknown: {
        QPen dashes(colour, 1.6);
        dashes.setDashPattern({1.6, 1.4});
        painter.setPen(dashes);
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(centre.x() - r * 0.8, centre.y() - r * 0.8, r * 1.6, r * 1.6));
        break;
    }
    }
    painter.restore();
}

void paintIsolationSign(QPainter& painter, Isolation state, const QRectF& box, const QColor& colour)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(colour, 2.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    painter.setBrush(Qt::NoBrush);
    const auto at = [&box](double x, double y) {
        return QPointF(box.left() + x * box.width(), box.top() + y * box.height());
    };
    switch (state) {
    case Isolation::Live:
        painter.drawPolyline(QPolygonF{{at(0.62, 0), at(0.28, 0.5), at(0.6, 0.5), at(0.34, 1)}});
        break;
    case Isolation::Unproven:
        painter.drawLine(at(0, 0.5), at(0.38, 0.5));
        painter.drawLine(at(0.38, 0.12), at(0.38, 0.88));
        painter.drawLine(at(0.62, 0.12), at(0.62, 0.88));
        painter.drawLine(at(0.62, 0.5), at(1, 0.5));
        break;
    case Isolation::ProvenDead:
        painter.drawLine(at(0, 0.6), at(0.3, 0.6));
        painter.drawLine(at(0.7, 0.6), at(1, 0.6));
        painter.drawLine(at(0.3, 0.6), at(0.62, 0.16));
        painter.drawEllipse(at(0.3, 0.6), 2, 2);
        painter.drawEllipse(at(0.7, 0.6), 2, 2);
        break;
    }
    painter.restore();
}

QColor bandColour(Colour colour)
{
    static const QRgb rgb[] = {0x2A2622, 0x7A4A21, 0xC0352B, 0xD9772B, 0xE3C13A, 0x2F8A4C, 0x2F64B0, 0x7C4FA3,
                               0x8B8F92, 0xF4F2EA, 0xB8923A, 0xB4B7B9, 0xE39BB0, 0x8B8F92, 0x7C4FA3};
    return QColor::fromRgb(rgb[static_cast<int>(colour)]);
}

QList<QColor> coloursIn(const QString& name)
{
    QList<QColor> found;
    for (const std::string& colour : wireColours(name.toStdString()))
        found << QColor(qs(colour));
    return found;
}

void paintLead(QPainter& painter, QPointF from, QPointF to, const QList<QColor>& insulation, const Look& look)
{
    const auto stroke = [&](const QColor& colour, double wide) {
        painter.setPen(QPen(colour, wide, Qt::SolidLine, Qt::FlatCap));
        painter.drawLine(from, to);
    };
    if (insulation.isEmpty())
        return stroke(look.colours().ink, 1.6);
    const double wide = look.px(6);
    stroke(look.colours().softInk, wide + 2);
    stroke(insulation.front(), wide);
    for (qsizetype i = 1; i < insulation.size(); ++i) {
        const double step = 1.0 / static_cast<double>(insulation.size());
        const QPointF along = to - from;
        painter.setPen(QPen(insulation[i], wide, Qt::SolidLine, Qt::FlatCap));
        painter.drawLine(from + along * (step * (static_cast<double>(i) - 0.25)),
                         from + along * (step * (static_cast<double>(i) + 0.25)));
    }
}

namespace {

std::vector<Colour> bandsOf(double ohm, double tolerance)
{
    MarkingWriteInput in{.kind = MarkingKind::Bands,
                         .value = ohm,
                         .tolerance = tolerance,
                         .tempco_per_k = {},
                         .count = {},
                         .style = {}};
    if (ohm == 0)
        in.tolerance.reset();
    try {
        return markingWrite(in).bands;
    } catch (const DocumentError&) {
        return {}; // a value no bands can say is drawn without them
    }
}

} // namespace

void paintUse(QPainter& painter, const QRectF& track, std::optional<double> use, double fitsTo,
              Verdict verdict, const Colours& colours)
{
    constexpr double round = 3;
    painter.setPen(Qt::NoPen);
    painter.setBrush(colours.hairline);
    painter.drawRoundedRect(track, round, round);
    if (use) {
        QRectF bar = track;
        bar.setWidth(track.width() * std::min(1.0, useLimitAt * *use));
        painter.setBrush(colours.verdict(verdict));
        painter.drawRoundedRect(bar, round, round);
    }
    if (fitsTo < 1) {
        const double notch = track.left() + track.width() * useLimitAt * fitsTo;
        painter.setPen(QPen(colours.softInk, 1));
        painter.drawLine(QPointF(notch, track.top()), QPointF(notch, track.bottom()));
    }
    const double limit = track.left() + track.width() * useLimitAt;
    painter.setPen(QPen(colours.ink, 1.6));
    painter.drawLine(QPointF(limit, track.top() - 3), QPointF(limit, track.bottom() + 3));
}

void paintSentence(QPainter& painter, const QRect& box, const QString& text, const Look& look)
{
    painter.setPen(look.colours().softInk);
    painter.setFont(look.text());
    painter.drawText(box.adjusted(look.px(30), 0, -look.px(30), 0), Qt::AlignCenter | Qt::TextWordWrap, text);
}

void paintResistor(QPainter& painter, const QRectF& box, double ohm, double tolerance, const Look& look,
                   bool planned)
{
    const Colours& c = look.colours();
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(planned ? c.planned : c.ink, planned ? 2 : 1.4));
    const double x = box.center().x();
    const QRectF body = box.adjusted(0, box.height() * 0.16, 0, -box.height() * 0.16);
    painter.drawLine(QPointF(x, box.top()), QPointF(x, body.top()));
    painter.drawLine(QPointF(x, body.bottom()), QPointF(x, box.bottom()));
    QPainterPath shape;
    shape.addRoundedRect(body, 5, 5);
    painter.setPen(QPen(planned ? c.planned : QColor(0xA8946B), planned ? 2 : 1));
    painter.setBrush(QColor(0xE9D9B4));
    painter.drawPath(shape);
    painter.setClipPath(shape);
    const auto bands = bandsOf(ohm, tolerance);
    const double pitch = body.height() / (static_cast<double>(bands.size()) + 1.4);
    for (std::size_t i = 0; i < bands.size(); ++i) {
        const bool last = i + 1 == bands.size() && bands.size() > 3;
        const double y = body.top() + pitch * (0.85 + static_cast<double>(i) + (last ? 0.35 : 0));
        painter.setClipping(true);
        painter.fillRect(QRectF(body.left(), y, body.width(), pitch * 0.55), bandColour(bands[i]));
        painter.setClipping(false);
        if (look.bandDigits())
            if (const auto digit = digitOf(bands[i]))
                paintText(painter,
                          QRectF(planned ? body.right() + look.px(5) : body.left() - look.px(16),
                                 y - look.px(6), look.px(12), pitch * 0.55 + look.px(12)),
                          QString::number(*digit), look.caption(), c.ink, Qt::AlignCenter);
    }
    painter.restore();
}

void paintChip(QPainter& painter, const QRectF& box, const QString& code, const Look& look)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(QColor(0xB9BDBF));
    painter.drawRoundedRect(box, 2, 2);
    const QRectF body = box.adjusted(box.width() * 0.14, 0, -box.width() * 0.14, 0);
    painter.fillRect(body, QColor(0x23282B));
    paintText(painter, body, code, look.font(13, true), QColor(0xF4F2EA), Qt::AlignCenter);
    painter.restore();
}

QPixmap lampPicture(LampSeen seen, const Look& look)
{
    constexpr int side = 44; // drawn at twice the size it is shown at
    QPixmap picture(side, side);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = look.colours();
    QColor glow = c.tight;
    glow.setAlpha(seen == LampSeen::Bright    ? 255
                  : seen == LampSeen::Flash   ? 90
                  : seen == LampSeen::Pulsing ? 160
                                              : 0);
    painter.setPen(QPen(c.ink, 3));
    painter.setBrush(glow);
    painter.drawEllipse(QRectF(10, 6, 24, 24));
    painter.drawLine(QPointF(16, 30), QPointF(16, 40));
    painter.drawLine(QPointF(28, 30), QPointF(28, 40));
    painter.drawLine(QPointF(14, 40), QPointF(30, 40));
    if (seen == LampSeen::Flash || seen == LampSeen::Bright)
        for (double degrees : {200.0, 270.0, 340.0}) {
            const double angle = degrees * std::numbers::pi / 180;
            const QPointF way(std::cos(angle), std::sin(angle));
            painter.drawLine(QPointF(22, 18) + way * 15,
                             QPointF(22, 18) + way * (seen == LampSeen::Bright ? 22 : 18));
        }
    if (seen == LampSeen::Pulsing)
        painter.drawPolyline(QPolygonF{{13, 20}, {18, 14}, {22, 22}, {26, 14}, {31, 20}});
    return picture;
}

} // namespace offshoot::ui
