// Text in one line, as every painted view sets it. How a text is set is kept: the same words come again with
// every edit.
#pragma once

#include <QFont>
#include <QPainter>

namespace offshoot::ui {

/// Draws text in one line, elided to fit. Returns the width drawn.
int paintText(QPainter& painter, const QRectF& box, const QString& text, const QFont& font,
              const QColor& colour, Qt::Alignment alignment = Qt::AlignLeft | Qt::AlignVCenter,
              Qt::TextElideMode elide = Qt::ElideRight);

/// How wide it is when it is not elided.
double textWidth(const QString& text, const QFont& font);

} // namespace offshoot::ui
