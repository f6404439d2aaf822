// The parts of a front: what of it and of the room behind it each takes.
#pragma once

#include "core/job/front.h"

#include <optional>
#include <string>

namespace offshoot {

/// The usual part of a kind: its cut-out, how much of the front and of the room behind it takes. Metres;
/// usual figures of such parts' data sheets, taken where nobody measured.
struct PanelPartSize
{
    std::optional<double> d_m; ///< of a round cut-out; else two sides
    double dx_m;
    double dy_m;
    double over_m;  ///< its rim beyond the cut-out, on each side
    double depth_m; ///< behind the panel
};
/// The cut-out, rim and depth, in metres, of the usual part of its kind.
PanelPartSize usualSize(PanelPart kind);
/// "binding post".
std::string partWords(PanelPart kind);

/// A rectangle of the front, in metres from the panel's lower left corner.
struct PanelBox
{
    double x_m;
    double y_m;
    double dx_m;
    double dy_m;
};
/// What a hole takes of the panel: round, or with two sides.
PanelBox boxOf(const PanelHole& hole);
/// From edge to edge; 0 where they touch or overlap.
double gapBetween(const PanelBox& a, const PanelBox& b);
/// More than touching.
bool overlap(const PanelBox& a, const PanelBox& b);
/// Of `a` in `b`.
bool inside(const PanelBox& a, const PanelBox& b);

/// A part where it is: its own cut-out, or the usual one.
struct PanelShape
{
    PanelBox cut;
    bool round;
    PanelBox body; ///< what of the front is taken
    double depth_m;
};
/// Where it is and what it takes: a cut-out that was entered before the usual one.
PanelShape shapeOf(const PanelItem& item);
/// Whether somebody said its cut-out.
bool ownSize(const PanelItem& item);

} // namespace offshoot
