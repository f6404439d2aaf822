// The pictures of the report, as SVG that can be read in black and white.
#pragma once

#include "core/values/quantity.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct ReportPicture
{
    std::string title;
    std::string svg;
};

/// A figure on its own axis: the window it must lie in, where it stands now and where it comes to.
struct Lane
{
    std::string name;
    Quantity quantity;
    std::optional<double> least; ///< of the window; open at its side where absent
    std::optional<double> most;
    std::optional<double> found;
    std::optional<double> planned;
};
/// A picture of these figures for the report; none where there are none.
void addLanes(std::vector<ReportPicture>& all, const std::string& title, const std::vector<Lane>& lanes);

struct Curve
{
    std::string name;
    std::vector<double> y;
    bool dashed;
    std::vector<double> high = {}; ///< not empty: what is drawn is the area from y up to it
};
/// Curves over one axis.
std::string curvesSvg(const std::vector<double>& x, const std::vector<Curve>& curves,
                      const std::string& x_words, const std::string& unit);
/// At most a few hundred points of a curve.
std::vector<double> thinned(const std::vector<double>& all);
/// The opening of a picture as wide as the page.
std::string svgHead(double height);

} // namespace offshoot
