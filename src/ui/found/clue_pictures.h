// Small drawings of what can be seen of a supply: what it looks like from outside, and both sides of every
// clue.
#pragma once

#include "core/supply/kind_clues.h"
#include "ui/look.h"

#include <QPainter>

namespace offshoot::ui {

void paintSilhouette(QPainter& painter, const QRectF& box, Silhouette silhouette, const Look& look);
/// What is seen where the clue has this answer; what is not there is dashed.
void paintClue(QPainter& painter, const QRectF& box, KindClue clue, ClueAnswer answer, const Look& look);

} // namespace offshoot::ui
