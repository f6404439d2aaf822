#include "core/kinds/panel/panel_parts.h"

#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

using lengths::mm;

PanelBox about(double x_m, double y_m, double dx_m, double dy_m)
{
    return {x_m - dx_m / 2, y_m - dy_m / 2, dx_m, dy_m};
}

} // namespace

bool overlap(const PanelBox& a, const PanelBox& b)
{
    constexpr double touching = 1e-9;
    return a.x_m + a.dx_m > b.x_m + touching && b.x_m + b.dx_m > a.x_m + touching &&
           a.y_m + a.dy_m > b.y_m + touching && b.y_m + b.dy_m > a.y_m + touching;
}

bool inside(const PanelBox& a, const PanelBox& b)
{
    constexpr double touching = 1e-9;
    return a.x_m >= b.x_m - touching && a.y_m >= b.y_m - touching &&
           a.x_m + a.dx_m <= b.x_m + b.dx_m + touching && a.y_m + a.dy_m <= b.y_m + b.dy_m + touching;
}

PanelBox boxOf(const PanelHole& hole)
{
    const double dx_m = hole.dx_m.value_or(hole.d_m.value_or(0));
    return about(hole.x_m, hole.y_m, dx_m, hole.dy_m.value_or(dx_m));
}

bool ownSize(const PanelItem& item) { return item.d_m || item.dx_m; }

PanelPartSize usualSize(PanelPart kind)
{
    switch (kind) {
    case PanelPart::Post:
        return {.d_m = 8 * mm, .dx_m = 0, .dy_m = 0, .over_m = 3 * mm, .depth_m = 25 * mm};
    case PanelPart::Socket:
        return {.d_m = 8 * mm, .dx_m = 0, .dy_m = 0, .over_m = 1.5 * mm, .depth_m = 25 * mm};
    case PanelPart::Switch:
        return {.d_m = 12.2 * mm, .dx_m = 0, .dy_m = 0, .over_m = 3 * mm, .depth_m = 32 * mm};
    case PanelPart::FuseHolder:
        return {.d_m = 12.7 * mm, .dx_m = 0, .dy_m = 0, .over_m = 2 * mm, .depth_m = 38 * mm};
    case PanelPart::Inlet:
        return {.d_m = {}, .dx_m = 27.5 * mm, .dy_m = 20 * mm, .over_m = 6 * mm, .depth_m = 32 * mm};
    case PanelPart::Potentiometer:
        return {.d_m = 7.2 * mm, .dx_m = 0, .dy_m = 0, .over_m = 8 * mm, .depth_m = 25 * mm};
    case PanelPart::Readout:
        return {.d_m = {}, .dx_m = 45.5 * mm, .dy_m = 26.5 * mm, .over_m = 1.5 * mm, .depth_m = 22 * mm};
    case PanelPart::Lamp:
        return {.d_m = 8 * mm, .dx_m = 0, .dy_m = 0, .over_m = 1 * mm, .depth_m = 30 * mm};
    case PanelPart::Gland:
        return {.d_m = 12.2 * mm, .dx_m = 0, .dy_m = 0, .over_m = 3 * mm, .depth_m = 20 * mm};
    case PanelPart::Other:
        break;
    }
    return {.d_m = 6 * mm, .dx_m = 0, .dy_m = 0, .over_m = 2 * mm, .depth_m = 20 * mm};
}

std::string partWords(PanelPart kind)
{
    switch (kind) {
    case PanelPart::Post:
        return "binding post";
    case PanelPart::Socket:
        return "socket";
    case PanelPart::Switch:
        return "switch";
    case PanelPart::FuseHolder:
        return "fuse holder";
    case PanelPart::Inlet:
        return "inlet";
    case PanelPart::Potentiometer:
        return "potentiometer";
    case PanelPart::Readout:
        return "readout";
    case PanelPart::Lamp:
        return "indicator lamp";
    case PanelPart::Gland:
        return "cable gland";
    case PanelPart::Other:
        break;
    }
    return "part";
}

double gapBetween(const PanelBox& a, const PanelBox& b)
{
    const double dx_m = std::max({0.0, b.x_m - a.x_m - a.dx_m, a.x_m - b.x_m - b.dx_m});
    const double dy_m = std::max({0.0, b.y_m - a.y_m - a.dy_m, a.y_m - b.y_m - b.dy_m});
    return std::hypot(dx_m, dy_m);
}

PanelShape shapeOf(const PanelItem& item)
{
    const PanelPartSize usual = usualSize(item.kind);
    const double dx_m = item.dx_m ? *item.dx_m : item.d_m ? *item.d_m : usual.d_m ? *usual.d_m : usual.dx_m;
    const bool round = item.dx_m ? false : item.d_m || usual.d_m;
    const double dy_m = round ? dx_m : item.dy_m.value_or(usual.dy_m);
    return {.cut = about(item.x_m, item.y_m, dx_m, dy_m),
            .round = round,
            .body = about(item.x_m, item.y_m, dx_m + 2 * usual.over_m, dy_m + 2 * usual.over_m),
            .depth_m = usual.depth_m};
}

} // namespace offshoot
