#include "core/kinds/replace/templates.h"

#include "core/kinds/replace/svg_sheet.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

constexpr double mm = 1e3;
constexpr std::string_view black = "#000000";
constexpr std::string_view grey = "#7a858c";

// What a sheet has for the drawing: below its head, above its ruler.
constexpr double head = 16;
constexpr double foot = 22;
constexpr double room_x = sheet::width - 2 * sheet::margin;
constexpr double room_y = sheet::height - 2 * sheet::margin - head - foot;
constexpr double overlap = 10; ///< of neighbouring sheets
constexpr int most_sheets = 16;

/// What is drawn, in millimetres of the case: x to the right, y to the back, so up on the paper.
class Drawing
{
public:
    Drawing(double x0, double y0, double wide, double high)
        : m_x0(x0)
        , m_y0(y0)
        , m_wide(wide)
        , m_high(high)
    {}

    sheet::At at(double x_m, double y_m) const { return {x_m * mm - m_x0, m_high - (y_m * mm - m_y0)}; }
    void box(double x_m, double y_m, double dx_m, double dy_m, std::string_view colour, double stroke,
             std::string_view dashes = {})
    {
        const sheet::At corner = at(x_m, y_m + dy_m);
        m_svg += sheet::box(corner, {dx_m * mm, dy_m * mm}, colour, stroke, dashes);
    }
    /// A circle with cross hairs that reach over it; `words` at its right.
    void drilled(const RoundHole& hole, const std::string& words, bool below = false)
    {
        const sheet::At c = at(hole.x_m, hole.y_m);
        const double r = hole.d_m * mm / 2;
        m_svg += sheet::circle(c, r, black, 0.25);
        m_svg += sheet::line({c.x - r - 3, c.y}, {c.x + r + 3, c.y}, black, 0.12);
        m_svg += sheet::line({c.x, c.y - r - 3}, {c.x, c.y + r + 3}, black, 0.12);
        constexpr double label = 38; // long enough for the longest
        const bool at_edge = c.x > m_wide - label && c.x > label;
        m_svg += sheet::text({at_edge ? c.x - r - 0.8 : c.x + r + 0.8, c.y + (below ? 3.2 : -1)}, words, 2.6,
                             black, at_edge ? "end" : "start");
    }
    void old(const RoundHole& hole)
    {
        m_svg += sheet::circle(at(hole.x_m, hole.y_m), hole.d_m * mm / 2, grey, 0.2);
    }
    void words(double x_m, double y_m, const std::string& text, std::string_view anchor = "start")
    {
        const sheet::At c = at(x_m, y_m);
        m_svg += sheet::text({c.x + 1.5, c.y - 1.5}, text, 3, grey, anchor);
    }

    TemplateSheets sheets(const std::string& title) const
    {
        const auto count = [](double size, double room) {
            return size <= room ? 1 : static_cast<int>(std::ceil((size - overlap) / (room - overlap)));
        };
        if ((m_wide > room_x || m_high > room_y) && m_high <= room_x && m_wide <= room_y)
            return {{turnedPage(title)}, {}};
        const int across = count(m_wide, room_x);
        const int down = count(m_high, room_y);
        if (across * down > most_sheets)
            return {{},
                    "It would take " + std::to_string(across * down) +
                        " sheets of A4: have it drawn on one large sheet, or measure it out by hand."};
        TemplateSheets out;
        for (int row = 0; row < down; ++row)
            for (int column = 0; column < across; ++column)
                out.pages.push_back(page(title, {row, column, down, across}));
        return out;
    }

private:
    struct Tile
    {
        int row;
        int column;
        int down;
        int across;
    };

    /// What fits on one sheet when it lies across.
    std::string turnedPage(const std::string& title) const
    {
        return sheet::begin() + "<g transform='translate(" + significant(sheet::margin + m_high, 7) + "," +
               significant(sheet::margin + head, 7) + ") rotate(90)'>" + m_svg + "</g>" +
               titles(title, room_x) + rulerBelow() + sheet::end();
    }

    static std::string titles(const std::string& title, double wide)
    {
        return sheet::text({sheet::margin, sheet::margin + 5}, elided(title, wide, 4.4), 4.4, black) +
               sheet::text({sheet::margin, sheet::margin + 10},
                           "seen from above, true scale: print at 100 %, not fitted to the page", 3, grey);
    }

    static std::string rulerBelow()
    {
        return sheet::ruler({sheet::margin + 5, sheet::height - sheet::margin - 3});
    }

    std::string page(const std::string& title, const Tile& tile) const
    {
        const double dx = sheet::margin - tile.column * (room_x - overlap);
        const double dy = sheet::margin + head - tile.row * (room_y - overlap);
        const bool many = tile.down * tile.across > 1;
        std::string svg = sheet::begin();
        svg += "<g transform='translate(" + significant(dx, 7) + "," + significant(dy, 7) + ")'>" + m_svg +
               "</g>";
        if (many)
            svg += covers() + marks(tile);
        svg += titles(title, many ? 150.0 : room_x);
        if (many)
            svg += sheet::text({sheet::width - sheet::margin, sheet::margin + 5},
                               "sheet " + std::to_string(tile.row * tile.across + tile.column + 1) + " of " +
                                   std::to_string(tile.down * tile.across),
                               3.6, black, "end");
        return svg + rulerBelow() + sheet::end();
    }

    /// What spills over the room of a sheet is covered: head, foot and margins stay free.
    static std::string covers()
    {
        const auto white = [](double x, double y, double w, double h) {
            return "<rect x='" + significant(x, 6) + "' y='" + significant(y, 6) + "' width='" +
                   significant(w, 6) + "' height='" + significant(h, 6) + "' fill='#ffffff'/>";
        };
        const double top = sheet::margin + head;
        const double bottom = top + room_y;
        return white(0, 0, sheet::width, top) + white(0, bottom, sheet::width, sheet::height - bottom) +
               white(0, 0, sheet::margin, sheet::height) +
               white(sheet::width - sheet::margin, 0, sheet::margin, sheet::height);
    }

    /// Crosses at the corners of what two sheets share: laid over each other, they join.
    static std::string marks(const Tile& tile)
    {
        const double left = sheet::margin + (tile.column > 0 ? overlap : 0);
        const double right = sheet::margin + room_x - (tile.column + 1 < tile.across ? overlap : 0);
        const double top = sheet::margin + head + (tile.row > 0 ? overlap : 0);
        const double bottom = sheet::margin + head + room_y - (tile.row + 1 < tile.down ? overlap : 0);
        std::string svg;
        for (const double x : {left, right})
            for (const double y : {top, bottom})
                svg += sheet::line({x - 4, y}, {x + 4, y}, black, 0.15) +
                       sheet::line({x, y - 4}, {x, y + 4}, black, 0.15);
        return svg;
    }

    double m_x0;
    double m_y0;
    double m_wide;
    double m_high;
    std::string m_svg;
};

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
    Drawing drawing(0, 0, space.inside.x_m * mm, space.inside.y_m * mm);
    drawing.box(0, 0, space.inside.x_m, space.inside.y_m, black, 0.3);
    drawing.words(space.inside.x_m / 2, 0, "front wall, inside");
    drawing.words(0, space.inside.y_m / 2, "left wall");
    for (const NamedBox& box : space.keep_out) {
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
    return drawing.sheets("Drill template for " + at.unit->entry.unit.name + ": " + job.title);
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
    Drawing drawing(x0 * mm, y0 * mm, (x1 - x0) * mm, (y1 - y0) * mm);
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
    for (const NamedBox& box : space.keep_out)
        if (box.z_m <= 0 && box.x_m < x1 && box.x_m + box.dx_m > x0 && box.y_m < y1 &&
            box.y_m + box.dy_m > y0) {
            drawing.box(std::max(box.x_m, x0), std::max(box.y_m, y0),
                        std::min(box.x_m + box.dx_m, x1) - std::max(box.x_m, x0),
                        std::min(box.y_m + box.dy_m, y1) - std::max(box.y_m, y0), grey, 0.2, "1 1");
            drawing.words(box.x_m, box.y_m, "cut out for " + box.name);
        }
    return drawing.sheets("Adapter plate for " + at.unit->entry.unit.name + ": " + job.title);
}

} // namespace offshoot
