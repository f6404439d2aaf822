// Shapes shared by every painted view: verdict marks, isolation signs, parts that look like
// parts.
#pragma once

#include "core/values/marking.h"
#include "ui/look.h"
#include "ui/paint/text.h"

#include <QList>
#include <QPainter>
#include <QPixmap>

namespace offshoot::ui {

/// Fits ● tight ◆ breaks ▼ unknown ▢, `size` wide around `centre`.
void paintVerdict(QPainter& painter, Verdict verdict, QPointF centre, double size, const Colours& colours);
/// Live: jagged stroke; unproven: two plates; proven dead: open gap.
void paintIsolationSign(QPainter& painter, Isolation state, const QRectF& box, const QColor& colour);
/// The isolation state across the bench's head, to be read from two metres.
void paintBenchBand(QPainter& painter, int width, Isolation state, const Look& look);
QString verdictWord(Verdict verdict);

/// Where on the track of paintUse the limit stands: short of its end, so that going beyond it shows.
inline constexpr double useLimitAt = 0.9;
/// How much of its limit a part uses: a bar on a track whose mark is the limit; a notch stands where it fits
/// no more, unless that is the limit.
void paintUse(QPainter& painter, const QRectF& track, std::optional<double> use, double fitsTo,
              Verdict verdict, const Colours& colours);

/// What stands where there is nothing to draw yet.
void paintSentence(QPainter& painter, const QRect& box, const QString& text, const Look& look);

/// A through-hole resistor standing upright in `box` with the bands of its value, and their digits when the
/// look shows them: left of a found part, right of a planned one, which stands beside it.
void paintResistor(QPainter& painter, const QRectF& box, double ohm, double tolerance, const Look& look,
                   bool planned = false);
/// A chip resistor with its code.
void paintChip(QPainter& painter, const QRectF& box, const QString& code, const Look& look);
QColor bandColour(Colour colour);
/// The colours a wire's or lead's name says, first to last: two for "white/black".
QList<QColor> coloursIn(const QString& name);
/// An insulated lead: its colour, further ones as stripes, edged so that it shows on any ground.
void paintLead(QPainter& painter, QPointF from, QPointF to, const QList<QColor>& insulation,
               const Look& look);
/// A limiter lamp as it was seen: dark, a flash then dim, bright, pulsing.
QPixmap lampPicture(LampSeen seen, const Look& look);

} // namespace offshoot::ui
