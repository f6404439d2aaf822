#include "core/evaluate/ruler.h"

#include "core/evaluate/before_after.h"
#include "core/kinds/picture.h"
#include "core/values/figures.h"
#include "core/values/html.h"

#include <algorithm>

namespace offshoot {

using html::escaped;

std::string rulerSvg(const Job& job, const Evaluation& e)
{
    const auto target = unitTarget(job);
    if (!target)
        return {};
    struct Bar
    {
        std::string name;
        double low;
        double high;
        std::string_view colour;
        double height;
    };
    std::vector<Bar> bars;
    if (e.found_plain)
        bars.push_back(
            {"found, by its tolerances", e.found_plain->min_v, e.found_plain->max_v, "#d5cfbf", 10});
    if (e.found_v)
        bars.push_back({"found " + volts(*e.found_v), *e.found_v, *e.found_v, "#4a5b65", 16});
    if (e.planned)
        bars.push_back(
            {"planned, by tolerances alone", e.planned->plain.min_v, e.planned->plain.max_v, "#9cc2bc", 10});
    if (e.planned_range)
        bars.push_back(
            {"planned " + fixed(e.planned_range->min_v, 2) + " to " + fixed(e.planned_range->max_v, 2) + " V",
             e.planned_range->min_v, e.planned_range->max_v, "#075a57", 16});
    for (const BeforeAfter& row : beforeAfter(e))
        if (row.measured && row.quantity == Quantity::Voltage && !row.name.starts_with("ripple"))
            bars.push_back({"measured, " + row.name + " " + volts(*row.measured), std::abs(*row.measured),
                            std::abs(*row.measured), "#6b3fa0", 16});
    if (bars.empty())
        return {};
    double low = target->min_v;
    double high = target->max_v;
    for (const Bar& bar : bars) {
        low = std::min(low, bar.low);
        high = std::max(high, bar.high);
    }
    const double room = 0.06 * std::max(high - low, 0.02 * high);
    low -= room;
    high += room;
    constexpr double left = 8;
    constexpr double wide = 430;
    constexpr double line = 22;
    const auto x = [&](double v) { return significant(left + wide * (v - low) / (high - low), 6); };
    const double height = 40 + line * static_cast<double>(bars.size());
    std::string svg = svgHead(height);
    svg += "<rect x='" + x(target->min_v) + "' y='18' width='" +
           significant(wide * (target->max_v - target->min_v) / (high - low), 6) + "' height='" +
           significant(height - 34, 5) +
           "' fill='#e3eeea' stroke='#1d2930' stroke-width='1' stroke-dasharray='4 2'/>";
    svg += "<text x='" + x(target->min_v) + "' y='13' fill='#1d2930'>wanted " + fixed(target->min_v, 2) +
           " to " + fixed(target->max_v, 2) + " V</text>";
    double y = 26;
    for (const Bar& bar : bars) {
        const double least = 3; // a single value is a stroke
        const double w = std::max(least, wide * (bar.high - bar.low) / (high - low));
        svg += "<rect x='" + x(bar.low) + "' y='" + significant(y + (16 - bar.height) / 2, 5) + "' width='" +
               significant(w, 6) + "' height='" + significant(bar.height, 3) + "' fill='" +
               std::string(bar.colour) + "'/><text x='452' y='" + significant(y + 12, 5) +
               "' fill='#1d2930'>" + escaped(bar.name) + "</text>";
        y += line;
    }
    for (const auto& [v, anchor] : {std::pair(low, "start"), std::pair(high, "end")})
        svg += "<text x='" + x(v) + "' y='" + significant(height - 2, 5) + "' text-anchor='" + anchor +
               "' fill='#5a6972'>" + fixed(v, 1) + " V</text>";
    return svg + "</svg>";
}

} // namespace offshoot
