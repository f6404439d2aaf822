#include "core/kinds/svg_sheet.h"

#include "core/values/format.h"
#include "core/values/html.h"

#include <cmath>

namespace offshoot {

std::string elided(const std::string& text, double wide, double size)
{
    constexpr double figure = 0.53;
    const auto most = static_cast<std::size_t>(std::max(1.0, wide / (figure * size)));
    std::size_t letters = 0;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const bool begins = (static_cast<unsigned char>(text[i]) & 0xC0U) != 0x80U;
        if (begins && ++letters > most)
            return text.substr(0, i) + "…";
    }
    return text;
}

namespace sheet {

namespace {

std::string number(double v) { return significant(std::abs(v) < 1e-9 ? 0 : v, 7); }

std::string stroke(std::string_view colour, double wide, std::string_view dashes)
{
    return " stroke='" + std::string(colour) + "' stroke-width='" + number(wide) + "'" +
           (dashes.empty() ? "" : " stroke-dasharray='" + std::string(dashes) + "'");
}

} // namespace

std::string begin()
{
    return "<svg xmlns='http://www.w3.org/2000/svg' width='210mm' height='297mm' viewBox='0 0 210 297' "
           "font-family='B612, sans-serif'><rect x='0' y='0' width='210' height='297' fill='#ffffff'/>";
}

std::string end() { return "</svg>"; }

std::string line(const At& from, const At& to, std::string_view colour, double wide, std::string_view dashes)
{
    return "<line x1='" + number(from.x) + "' y1='" + number(from.y) + "' x2='" + number(to.x) + "' y2='" +
           number(to.y) + "'" + stroke(colour, wide, dashes) + "/>";
}

std::string circle(const At& centre, double radius, std::string_view colour, double wide,
                   std::string_view fill)
{
    return "<circle cx='" + number(centre.x) + "' cy='" + number(centre.y) + "' r='" + number(radius) +
           "' fill='" + std::string(fill) + "'" + stroke(colour, wide, {}) + "/>";
}

std::string box(const At& corner, const At& size, std::string_view colour, double wide,
                std::string_view dashes)
{
    return "<rect x='" + number(corner.x) + "' y='" + number(corner.y) + "' width='" + number(size.x) +
           "' height='" + number(size.y) + "' fill='none'" + stroke(colour, wide, dashes) + "/>";
}

std::string text(const At& at, const std::string& words, double size, std::string_view colour,
                 std::string_view anchor)
{
    return "<text x='" + number(at.x) + "' y='" + number(at.y) + "' font-size='" + number(size) +
           "' text-anchor='" + std::string(anchor) + "' fill='" + std::string(colour) + "'>" +
           html::escaped(words) + "</text>";
}

std::string ruler(const At& from)
{
    constexpr double length = 100;
    constexpr double tick = 2;
    std::string svg = line(from, {from.x + length, from.y}, "#000000", 0.2);
    for (const double x : {0.0, length})
        svg += line({from.x + x, from.y - tick}, {from.x + x, from.y + tick}, "#000000", 0.2);
    return svg + text({from.x + length / 2, from.y - 1.2}, "100 mm: measure it before you drill", 3,
                      "#000000", "middle");
}

} // namespace sheet

} // namespace offshoot
