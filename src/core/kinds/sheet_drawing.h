// A drawing at true scale, laid on sheets of A4: tiled with marks where one is too small, refused where it
// would take too many.
#pragma once

#include "core/kinds/svg_sheet.h"
#include "core/supply/case_space.h"

#include <string>
#include <string_view>
#include <vector>

namespace offshoot {

/// Sheets as SVG in millimetres; none, and the reason, where it cannot be drawn.
struct TemplateSheets
{
    std::vector<std::string> pages;
    std::string problem;
};

inline constexpr double mm_per_m = 1e3;
inline constexpr std::string_view seen_from_above = "seen from above";
inline constexpr std::string_view seen_from_front = "seen from the front";

/// Of a plane whose x runs to the right and whose y runs upwards on the paper. Lengths that end in `_m` are
/// in metres, all others in millimetres on the paper.
class SheetDrawing
{
public:
    /// `x0`, `y0`: its lower left corner.
    SheetDrawing(double x0, double y0, double wide, double high);

    sheet::At at(double x_m, double y_m) const;
    void box(double x_m, double y_m, double dx_m, double dy_m, std::string_view colour, double stroke,
             std::string_view dashes = {});
    /// A circle with cross hairs that reach over it; `words` at its right, at its left near the right edge.
    void drilled(const RoundHole& hole, const std::string& words, bool below = false);
    /// A cut-out with its middle crossed; `words` below it.
    void cut(double x_m, double y_m, double dx_m, double dy_m, const std::string& words);
    void old(const RoundHole& hole);
    void words(double x_m, double y_m, const std::string& text, std::string_view anchor = "start");
    /// Letters of `size`, about a middle.
    void lettered(double x_m, double y_m, const std::string& text, double size);

    TemplateSheets sheets(const std::string& title, std::string_view seen_from) const;

private:
    double m_x0;
    double m_y0;
    double m_wide;
    double m_high;
    std::string m_svg;
};

} // namespace offshoot
