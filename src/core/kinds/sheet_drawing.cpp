#include "core/kinds/sheet_drawing.h"

#include "core/values/format.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

using sheet::black;
using sheet::grey;

namespace {

// What a sheet has for the drawing: below its head, above its ruler.
constexpr double head = 16;
constexpr double foot = 22;
constexpr double room_x = sheet::width - 2 * sheet::margin;
constexpr double room_y = sheet::height - 2 * sheet::margin - head - foot;
constexpr double overlap = 10; ///< of neighbouring sheets
constexpr int most_sheets = 16;

struct Tile
{
    int row;
    int column;
    int down;
    int across;
};

std::string titles(const std::string& title, std::string_view seen_from, double wide)
{
    return sheet::text({sheet::margin, sheet::margin + 5}, elided(title, wide, 4.4), 4.4, black) +
           sheet::text({sheet::margin, sheet::margin + 10},
                       std::string(seen_from) + ", true scale: print at 100 %, not fitted to the page", 3,
                       grey);
}

std::string rulerBelow() { return sheet::ruler({sheet::margin + 5, sheet::height - sheet::margin - 3}); }

/// What spills over the room of a sheet is covered: head, foot and margins stay free.
std::string covers()
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
std::string marks(const Tile& tile)
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

std::string tiled(const std::string& drawing, const std::string& title, std::string_view seen_from,
                  const Tile& tile)
{
    const double dx = sheet::margin - tile.column * (room_x - overlap);
    const double dy = sheet::margin + head - tile.row * (room_y - overlap);
    const bool many = tile.down * tile.across > 1;
    std::string svg = sheet::begin();
    svg +=
        "<g transform='translate(" + significant(dx, 7) + "," + significant(dy, 7) + ")'>" + drawing + "</g>";
    if (many)
        svg += covers() + marks(tile);
    svg += titles(title, seen_from, many ? 150.0 : room_x);
    if (many)
        svg += sheet::text({sheet::width - sheet::margin, sheet::margin + 5},
                           "sheet " + std::to_string(tile.row * tile.across + tile.column + 1) + " of " +
                               std::to_string(tile.down * tile.across),
                           3.6, black, "end");
    return svg + rulerBelow() + sheet::end();
}

} // namespace

SheetDrawing::SheetDrawing(double x0, double y0, double wide, double high)
    : m_x0(x0)
    , m_y0(y0)
    , m_wide(wide)
    , m_high(high)
{}

sheet::At SheetDrawing::at(double x_m, double y_m) const
{
    return {x_m * mm_per_m - m_x0, m_high - (y_m * mm_per_m - m_y0)};
}

void SheetDrawing::box(double x_m, double y_m, double dx_m, double dy_m, std::string_view colour,
                       double stroke, std::string_view dashes)
{
    m_svg += sheet::box(at(x_m, y_m + dy_m), {dx_m * mm_per_m, dy_m * mm_per_m}, colour, stroke, dashes);
}

void SheetDrawing::drilled(const RoundHole& hole, const std::string& words, bool below)
{
    const sheet::At c = at(hole.x_m, hole.y_m);
    const double r = hole.d_m * mm_per_m / 2;
    m_svg += sheet::circle(c, r, black, 0.25);
    m_svg += sheet::line({c.x - r - 3, c.y}, {c.x + r + 3, c.y}, black, 0.12);
    m_svg += sheet::line({c.x, c.y - r - 3}, {c.x, c.y + r + 3}, black, 0.12);
    constexpr double label = 38; // long enough for the longest
    const bool at_edge = c.x > m_wide - label && c.x > label;
    m_svg += sheet::text({at_edge ? c.x - r - 0.8 : c.x + r + 0.8, c.y + (below ? 3.2 : -1)}, words, 2.6,
                         black, at_edge ? "end" : "start");
}

void SheetDrawing::cut(double x_m, double y_m, double dx_m, double dy_m, const std::string& words)
{
    const sheet::At c = at(x_m, y_m);
    box(x_m - dx_m / 2, y_m - dy_m / 2, dx_m, dy_m, black, 0.25);
    m_svg += sheet::line({c.x - 3, c.y}, {c.x + 3, c.y}, black, 0.12);
    m_svg += sheet::line({c.x, c.y - 3}, {c.x, c.y + 3}, black, 0.12);
    m_svg += sheet::text({c.x, c.y + dy_m * mm_per_m / 2 + 3}, words, 2.6, black, "middle");
}

void SheetDrawing::old(const RoundHole& hole)
{
    m_svg += sheet::circle(at(hole.x_m, hole.y_m), hole.d_m * mm_per_m / 2, grey, 0.2);
}

void SheetDrawing::words(double x_m, double y_m, const std::string& text, std::string_view anchor)
{
    const sheet::At c = at(x_m, y_m);
    m_svg += sheet::text({c.x + 1.5, c.y - 1.5}, text, 3, grey, anchor);
}

void SheetDrawing::lettered(double x_m, double y_m, const std::string& text, double size)
{
    m_svg += sheet::text(at(x_m, y_m), text, size, black, "middle");
}

TemplateSheets SheetDrawing::sheets(const std::string& title, std::string_view seen_from) const
{
    const auto count = [](double size, double room) {
        return size <= room ? 1 : static_cast<int>(std::ceil((size - overlap) / (room - overlap)));
    };
    // What fits on one sheet when it lies across.
    if ((m_wide > room_x || m_high > room_y) && m_high <= room_x && m_wide <= room_y)
        return {{sheet::begin() + "<g transform='translate(" + significant(sheet::margin + m_high, 7) + "," +
                 significant(sheet::margin + head, 7) + ") rotate(90)'>" + m_svg + "</g>" +
                 titles(title, seen_from, room_x) + rulerBelow() + sheet::end()},
                {}};
    const int across = count(m_wide, room_x);
    const int down = count(m_high, room_y);
    if (across * down > most_sheets)
        return {{},
                "It would take " + std::to_string(across * down) +
                    " sheets of A4: have it drawn on one large sheet, or measure it out by hand."};
    TemplateSheets out;
    for (int row = 0; row < down; ++row)
        for (int column = 0; column < across; ++column)
            out.pages.push_back(tiled(m_svg, title, seen_from, {row, column, down, across}));
    return out;
}

} // namespace offshoot
