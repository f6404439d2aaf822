#include "core/kinds/picture.h"

#include "core/values/figures.h"
#include "core/values/html.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

using html::escaped;

constexpr std::string_view ink = "#1d2930";
constexpr std::string_view soft = "#4a5b65";
constexpr std::string_view planned_colour = "#075a57";

std::string number(double v) { return significant(v, 6); }

std::string textAt(double x, double y, const std::string& words, std::string_view anchor = "start",
                   std::string_view colour = ink)
{
    return "<text x='" + number(x) + "' y='" + number(y) + "' text-anchor='" + std::string(anchor) +
           "' fill='" + std::string(colour) + "'>" + escaped(words) + "</text>";
}

std::string stroke(double x1, double y1, double x2, double y2, std::string_view colour, double width)
{
    return "<line x1='" + number(x1) + "' y1='" + number(y1) + "' x2='" + number(x2) + "' y2='" + number(y2) +
           "' stroke='" + std::string(colour) + "' stroke-width='" + number(width) + "'/>";
}

/// Found is a ring, planned a full mark, so that both can be told without colour.
std::string lanesSvg(const std::vector<Lane>& lanes)
{
    constexpr double line = 44;
    constexpr double left = 150;
    constexpr double wide = 390;
    std::string svg = svgHead(line * static_cast<double>(lanes.size()) + 8);
    double y = 24;
    for (const Lane& lane : lanes) {
        double low = 1e300;
        double high = -1e300;
        for (const auto& v : {lane.least, lane.most, lane.found, lane.planned})
            if (v) {
                low = std::min(low, *v);
                high = std::max(high, *v);
            }
        const double room = 0.12 * std::max(high - low, 0.01 * std::abs(high) + 1e-12);
        low -= room;
        high += room;
        const auto x = [&](double v) { return left + wide * (v - low) / (high - low); };
        const auto said = [&](double v) {
            return lane.quantity == Quantity::Voltage ? volts(v) : formatValue(v, lane.quantity);
        };
        svg += textAt(left - 10, y + 4, lane.name, "end");
        svg += stroke(left, y, left + wide, y, soft, 1);
        const double from = lane.least ? x(*lane.least) : left;
        const double to = lane.most ? x(*lane.most) : left + wide;
        svg += "<rect x='" + number(from) + "' y='" + number(y - 9) + "' width='" + number(to - from) +
               "' height='18' fill='#e3eeea' stroke='" + std::string(ink) + "' stroke-dasharray='4 2'/>";
        if (lane.least)
            svg += textAt(from, y + 22, said(*lane.least), "middle", soft);
        if (lane.most)
            svg += textAt(to, y + 22, said(*lane.most), "middle", soft);
        if (lane.found)
            svg += "<circle cx='" + number(x(*lane.found)) + "' cy='" + number(y) +
                   "' r='5' fill='none' stroke='" + std::string(soft) + "' stroke-width='2'/>";
        if (lane.planned)
            svg += "<circle cx='" + number(x(*lane.planned)) + "' cy='" + number(y) + "' r='5' fill='" +
                   std::string(planned_colour) + "'/>";
        const double shift = lane.found && lane.planned ? 7 : 0;
        if (lane.found)
            svg += textAt(left + wide + 10, y + 4 - shift, "found " + said(*lane.found), "start", soft);
        if (lane.planned)
            svg += textAt(left + wide + 10, y + 4 + shift, "planned " + said(*lane.planned), "start",
                          planned_colour);
        y += line;
    }
    return svg + "</svg>";
}

/// Round figures within the range, about five of them.
std::vector<double> ticks(double low, double high)
{
    constexpr double about = 5;
    const double rough = (high - low) / about;
    const double decade = std::pow(10, std::floor(std::log10(rough)));
    double step = 10 * decade;
    for (const double nice : {5.0, 2.0, 1.0})
        if (nice * decade >= rough * (1 - 1e-9))
            step = nice * decade;
    std::vector<double> all;
    for (double k = std::ceil(low / step); k * step <= high; ++k)
        all.push_back(k * step);
    return all;
}

} // namespace

std::string svgHead(double height)
{
    return "<svg xmlns='http://www.w3.org/2000/svg' width='680' height='" + number(height) +
           "' viewBox='0 0 680 " + number(height) +
           "' font-family='Offshoot B612, B612, sans-serif' font-size='12'>";
}

/// Curves over one axis.
std::string curvesSvg(const std::vector<double>& x, const std::vector<Curve>& curves,
                      const std::string& below, const std::string& beside)
{
    constexpr double left = 64;
    constexpr double top = 22;
    constexpr double wide = 470;
    constexpr double high = 170;
    double low_y = 1e300;
    double high_y = -1e300;
    for (const Curve& curve : curves)
        for (const auto* values : {&curve.y, &curve.high})
            for (const double v : *values) {
                low_y = std::min(low_y, v);
                high_y = std::max(high_y, v);
            }
    const double room = 0.08 * std::max(high_y - low_y, 0.01 * std::abs(high_y) + 1e-12);
    low_y -= room;
    high_y += room;
    const auto at_x = [&](double v) { return left + wide * (v - x.front()) / (x.back() - x.front()); };
    const auto at_y = [&](double v) { return top + high * (high_y - v) / (high_y - low_y); };
    std::string svg = svgHead(top + high + 40);
    svg += textAt(left, 14, beside);
    svg += textAt(left + wide / 2, top + high + 34, below, "middle");
    for (const double v : ticks(low_y, high_y)) {
        svg += stroke(left, at_y(v), left + wide, at_y(v), "#d5cfbf", 1);
        svg += textAt(left - 6, at_y(v) + 4, significant(v, 5), "end", soft);
    }
    for (const double v : ticks(x.front(), x.back()))
        svg += textAt(at_x(v), top + high + 16, significant(v, 5), "middle", soft);
    double named = left + wide;
    for (const Curve& curve : curves) {
        const std::string colour(curve.dashed ? soft : planned_colour);
        const std::string dashes = curve.dashed ? " stroke-dasharray='6 3'" : "";
        const std::string line = "stroke='" + colour + "' stroke-width='";
        svg += curve.high.empty()
                   ? "<polyline fill='none' " + line + "2'" + dashes + " points='"
                   : "<polygon fill='" + colour + "' fill-opacity='0.35' " + line + "0.7' points='";
        for (std::size_t i = 0; i < x.size(); ++i)
            svg += number(at_x(x[i])) + "," + number(at_y(curve.y[i])) + " ";
        for (std::size_t i = curve.high.size(); i-- > 0;)
            svg += number(at_x(x[i])) + "," + number(at_y(curve.high[i])) + " ";
        svg += "'/>";
        if (curve.name.empty())
            continue;
        // Named above the plot, from the right, each behind a piece of its line.
        constexpr double name_wide = 110;
        constexpr double piece = 26;
        named -= name_wide;
        svg += "<line x1='" + number(named - piece - 6) + "' y1='10' x2='" + number(named - 6) +
               "' y2='10' stroke='" + colour + "' stroke-width='2'" + dashes + "/>" +
               textAt(named, 14, curve.name);
    }
    return svg + "</svg>";
}

/// No more than a page can show.
std::vector<double> thinned(const std::vector<double>& all)
{
    constexpr std::size_t most = 400;
    const std::size_t step = std::max<std::size_t>(1, all.size() / most);
    std::vector<double> kept;
    for (std::size_t i = 0; i < all.size(); i += step)
        kept.push_back(all[i]);
    return kept;
}

void addLanes(std::vector<ReportPicture>& all, const std::string& title, const std::vector<Lane>& lanes)
{
    if (!lanes.empty())
        all.push_back({title, lanesSvg(lanes)});
}

} // namespace offshoot
