#include "core/kinds/replace/templates.h"

#include "core/kinds/sheet_drawing.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

constexpr std::string_view black = sheet::black;
constexpr std::string_view grey = sheet::grey;

std::string sizeWords(const RoundHole& hole)
{
    return "⌀" + millimetres(hole.d_m) + " at " + millimetres(hole.x_m) + " / " + millimetres(hole.y_m);
}

struct Ready
{
    FitView view;
    const ReplacingUnit* unit = nullptr;
    std::string problem = {};
};

Ready ready(const Job& job, std::size_t unit)
{
    Ready out{.view = fitView(job, unit)};
    if (!out.view.now) {
        out.problem = out.view.sentence;
        return out;
    }
    out.unit = &job.plan.replace->units.at(unit);
    if (out.unit->entry.holes.empty())
        out.problem =
            "The shelf has no holes of " + out.unit->entry.unit.name + ": measure them and enter them there.";
    return out;
}

} // namespace

TemplateSheets drillTemplate(const Job& job, std::size_t unit)
{
    const Ready at = ready(job, unit);
    if (!at.problem.empty())
        return {{}, at.problem};
    const CaseSpace& space = *job.found.space;
    SheetDrawing drawing(0, 0, space.inside.x_m * mm_per_m, space.inside.y_m * mm_per_m);
    drawing.box(0, 0, space.inside.x_m, space.inside.y_m, black, 0.3);
    drawing.words(space.inside.x_m / 2, 0, "front wall, inside");
    drawing.words(0, space.inside.y_m / 2, "left wall");
    for (const KeptPart& box : space.keep_out) {
        drawing.box(box.x_m, box.y_m, box.dx_m, box.dy_m, grey, 0.2);
        drawing.words(box.x_m, box.y_m, box.name);
    }
    const NamedBox outline = placedOutline(*at.unit, *at.view.place);
    drawing.box(outline.x_m, outline.y_m, outline.dx_m, outline.dy_m, black, 0.2, "3 2");
    drawing.words(outline.x_m, outline.y_m + outline.dy_m, at.unit->entry.unit.name);
    for (const RoundHole& hole : space.holes)
        drawing.old(hole);
    for (const DrilledHole& hole : at.view.now->drill)
        drawing.drilled(hole.hole, sizeWords(hole.hole) + (hole.spoiled ? ", near an old hole" : ""));
    return drawing.sheets("Drill template for " + at.unit->entry.unit.name + ": " + job.title,
                          seen_from_above);
}

TemplateSheets adapterPlate(const Job& job, std::size_t unit)
{
    const Ready at = ready(job, unit);
    if (!at.problem.empty())
        return {{}, at.problem};
    const CaseSpace& space = *job.found.space;
    if (space.holes.empty())
        return {{}, "The case has no old holes to hold a plate by: drill the floor instead."};
    const NamedBox outline = placedOutline(*at.unit, *at.view.place);
    constexpr double edge_m = 0.008; // metal around a hole
    double x0 = outline.x_m;
    double y0 = outline.y_m;
    double x1 = outline.x_m + outline.dx_m;
    double y1 = outline.y_m + outline.dy_m;
    for (const RoundHole& hole : space.holes) {
        x0 = std::min(x0, hole.x_m - edge_m);
        y0 = std::min(y0, hole.y_m - edge_m);
        x1 = std::max(x1, hole.x_m + edge_m);
        y1 = std::max(y1, hole.y_m + edge_m);
    }
    x0 = std::max(x0, 0.0);
    y0 = std::max(y0, 0.0);
    x1 = std::min(x1, space.inside.x_m);
    y1 = std::min(y1, space.inside.y_m);
    SheetDrawing drawing(x0 * mm_per_m, y0 * mm_per_m, (x1 - x0) * mm_per_m, (y1 - y0) * mm_per_m);
    drawing.box(x0, y0, x1 - x0, y1 - y0, black, 0.35);
    drawing.box(outline.x_m, outline.y_m, outline.dx_m, outline.dy_m, black, 0.2, "3 2");
    drawing.words(outline.x_m, outline.y_m + outline.dy_m, at.unit->entry.unit.name);
    FitPlaceInput bare = *at.view.input;
    bare.plate_holes.clear();
    const auto own = placeAt(bare, at.view.place->turn, at.view.place->x_m, at.view.place->y_m).drill;
    // One screw cannot hold the plate where another holds the unit.
    const auto taken = [&](const RoundHole& hole) {
        return std::ranges::any_of(own, [&](const DrilledHole& other) {
            return std::hypot(hole.x_m - other.hole.x_m, hole.y_m - other.hole.y_m) < edge_m;
        });
    };
    for (const RoundHole& hole : space.holes)
        if (!taken(hole))
            drawing.drilled(hole, "⌀" + millimetres(hole.d_m) + " to the case", true);
    for (const DrilledHole& hole : own)
        drawing.drilled(hole.hole, "⌀" + millimetres(hole.hole.d_m) + ", countersunk below");
    for (const KeptPart& box : space.keep_out)
        if (box.z_m <= 0 && box.x_m < x1 && box.x_m + box.dx_m > x0 && box.y_m < y1 &&
            box.y_m + box.dy_m > y0) {
            drawing.box(std::max(box.x_m, x0), std::max(box.y_m, y0),
                        std::min(box.x_m + box.dx_m, x1) - std::max(box.x_m, x0),
                        std::min(box.y_m + box.dy_m, y1) - std::max(box.y_m, y0), grey, 0.2, "1 1");
            drawing.words(box.x_m, box.y_m, "cut out for " + box.name);
        }
    return drawing.sheets("Adapter plate for " + at.unit->entry.unit.name + ": " + job.title,
                          seen_from_above);
}

} // namespace offshoot
