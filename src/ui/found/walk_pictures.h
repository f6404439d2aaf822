// The parts of a board as they look, with a mark where on the body what is read stands.
#pragma once

#include "core/supply/part_figures.h"
#include "ui/look.h"

#include <QPainter>

namespace offshoot::ui {

void paintBoardPart(QPainter& painter, const QRectF& box, BoardPart part, const Look& look);

} // namespace offshoot::ui
