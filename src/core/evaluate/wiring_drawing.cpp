#include "core/evaluate/wiring_drawing.h"

#include "core/supply/conductances.h"
#include "core/values/figures.h"
#include "core/values/html.h"

#include <algorithm>
#include <map>
#include <numeric>

namespace offshoot {

namespace {

/// Potentials with every part as one ohm and one volt from top to bottom: what hangs between stands between.
std::vector<std::string> nodesFromTheTop(const Connections& c)
{
    constexpr double trace_s = 1e-9;
    constexpr double part_s = 1;
    constexpr double short_s = 100; // links lie close together
    Conductances net(trace_s);
    if (c.isList()) {
        for (const ConnectedPart& part : c.parts)
            for (const std::string& node : {part.from, part.to})
                net.node(node);
        return net.nodes();
    }
    const std::size_t top = net.node(c.top);
    for (const ConnectedPart& part : c.parts) {
        const bool close = part.kind == PartKind::Link || part.kind == PartKind::Bond;
        net.join(part.from, part.to, close ? short_s : part_s);
    }
    const std::size_t bottom = net.node(c.bottom);
    const std::vector<double> v = net.potentials({{top, 1}, {bottom, 0}}, {});
    const std::vector<std::string>& names = net.nodes();
    std::vector<std::size_t> order(names.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::ranges::stable_sort(order, [&](std::size_t a, std::size_t b) {
        constexpr double same = 1e-6;
        return v[a] > v[b] + same;
    });
    std::vector<std::string> sorted;
    for (const std::size_t at_index : order)
        sorted.push_back(names[at_index]);
    return sorted;
}

} // namespace

WiringDrawing wiringDrawing(const Connections& connections)
{
    WiringDrawing drawing;
    std::map<std::string, int> level;
    for (const std::string& name : nodesFromTheTop(connections)) {
        level[name] = static_cast<int>(drawing.nodes.size());
        drawing.nodes.push_back({name, level[name], -1, -1});
    }
    for (std::size_t i = 0; i < connections.parts.size(); ++i) {
        const ConnectedPart& part = connections.parts[i];
        const int from = level[part.from];
        const int to = level[part.to];
        DrawnPart drawn{i, 0, std::min(from, to), std::max(from, to), from <= to};
        // What stands above or below another shares its column, as legs of one divider do.
        const auto taken = [&](int column) {
            return std::ranges::any_of(drawing.parts, [&](const DrawnPart& other) {
                return other.column == column && drawn.upper < other.lower && other.upper < drawn.lower;
            });
        };
        while (taken(drawn.column))
            ++drawn.column;
        for (const int node : {from, to}) {
            DrawnNode& on = drawing.nodes[static_cast<std::size_t>(node)];
            on.first = on.first < 0 ? drawn.column : std::min(on.first, drawn.column);
            on.last = std::max(on.last, drawn.column);
        }
        drawing.columns = std::max(drawing.columns, drawn.column + 1);
        drawing.parts.push_back(drawn);
    }
    return drawing;
}

namespace {

constexpr double least_column_px = 104;
constexpr double letter_px = 6.6; // of the report's type, about
constexpr double bold_letter_px = 7.6;
constexpr double level_px = 74;
constexpr double left_px = 24;
constexpr double top_px = 26;

class Svg
{
public:
    explicit Svg(const Connections& connections)
        : m_c(connections)
        , m_drawing(wiringDrawing(connections))
    {
        std::size_t longest = 0;
        for (const ConnectedPart& part : connections.parts)
            longest = std::max(longest, part.name.size());
        m_column = std::max(m_column, 36 + letter_px * static_cast<double>(longest));
        for (const DrawnNode& node : m_drawing.nodes)
            m_column = std::max(m_column, 24 + bold_letter_px * static_cast<double>(node.name.size()));
    }

    std::string run()
    {
        if (m_c.isList())
            return rows();
        const double width = left_px + m_column * m_drawing.columns + 40;
        const double height = top_px + level_px * static_cast<double>(m_drawing.nodes.size() - 1) + 26;
        m_out = "<svg xmlns='http://www.w3.org/2000/svg' width='" + px(width) + "' height='" + px(height) +
                "' viewBox='0 0 " + px(width) + " " + px(height) +
                "' font-family='Offshoot B612, B612, sans-serif' font-size='12'>";
        for (const DrawnNode& node : m_drawing.nodes)
            drawNode(node);
        for (const DrawnPart& part : m_drawing.parts)
            drawPart(part);
        for (const DrawnNode& node : m_drawing.nodes)
            nameNode(node);
        return m_out + "</svg>";
    }

private:
    /// One wire below the other: where it comes from, its name over it, where it goes.
    std::string rows()
    {
        constexpr double row = 26;
        constexpr double from = 24;
        constexpr double begins = 230;
        constexpr double ends = 410;
        m_out = "<svg xmlns='http://www.w3.org/2000/svg' width='640' height='" +
                px(row * static_cast<double>(m_c.parts.size()) + 16) + "' viewBox='0 0 640 " +
                px(row * static_cast<double>(m_c.parts.size()) + 16) +
                "' font-family='Offshoot B612, B612, sans-serif' font-size='12'>";
        double y = 26;
        for (const ConnectedPart& part : m_c.parts) {
            setStroke(part.fate);
            line(begins, y, ends, y);
            text(from, y + 4, part.from);
            text(begins + 8, y - 4, part.name + (part.fate == PartFate::Added ? ", new" : ""));
            text(ends + 10, y + 4, part.to, " font-weight='bold'");
            y += row;
        }
        return m_out + "</svg>";
    }

    void setStroke(PartFate fate)
    {
        m_colour = fate == PartFate::Added ? "#075A57" : fate == PartFate::TakenOut ? "#5A6972" : "#4A5B65";
        m_width = fate == PartFate::Added ? "2.6" : "1.4";
        m_dash = fate == PartFate::TakenOut ? " stroke-dasharray='3 3'" : "";
    }

    static std::string px(double v) { return significant(v, 6); }
    double x(int column) const { return left_px + m_column * column + 0.28 * least_column_px; }
    static double y(int level) { return top_px + level_px * level; }

    void line(double x1, double y1, double x2, double y2)
    {
        m_out += "<line x1='" + px(x1) + "' y1='" + px(y1) + "' x2='" + px(x2) + "' y2='" + px(y2) +
                 "' stroke='" + m_colour + "' stroke-width='" + m_width + "'" + m_dash + "/>";
    }
    void text(double at_x, double at_y, const std::string& words, const std::string& style = {})
    {
        m_out += "<text x='" + px(at_x) + "' y='" + px(at_y) + "' fill='" + m_colour + "'" + style + ">" +
                 html::escaped(words) + "</text>";
    }

    void drawNode(const DrawnNode& node)
    {
        m_colour = "#1D2930";
        m_width = "1.4";
        m_dash.clear();
        const double x1 = x(std::max(0, node.first)) - 16;
        const double x2 = x(std::max(0, node.last)) + 16;
        line(x1, y(node.level), x2, y(node.level));
    }

    /// Beside the part that goes on upwards, and clear of what passes behind.
    void nameNode(const DrawnNode& node)
    {
        const double at = x(std::max(0, node.first)) + 8;
        m_colour = "#1D2930";
        m_out += "<rect x='" + px(at - 2) + "' y='" + px(y(node.level) - 16) + "' width='" +
                 px(4 + bold_letter_px * static_cast<double>(node.name.size())) +
                 "' height='14' fill='#FFFFFF' fill-opacity='0.85'/>";
        text(at, y(node.level) - 5, node.name, " font-weight='bold'");
    }

    void drawPart(const DrawnPart& drawn)
    {
        const ConnectedPart& part = m_c.parts[drawn.part];
        setStroke(part.fate);
        const double at = x(drawn.column);
        const double y1 = y(drawn.upper);
        const double y2 = y(drawn.lower);
        const double middle = (y1 + y2) / 2;
        constexpr double half = 16;
        const bool body =
            part.kind != PartKind::Link && part.kind != PartKind::Wire && part.kind != PartKind::Bond;
        line(at, y1, at, body ? middle - half : y2);
        if (body)
            line(at, middle + half, at, y2);
        for (const double end : {y1, y2})
            m_out += "<circle cx='" + px(at) + "' cy='" + px(end) + "' r='3' fill='" + m_colour + "'/>";
        symbol(part, at, middle, drawn.from_above);
        const std::string value = Connections::valueText(part);
        double words = middle; // not over a line that passes behind a long part
        for (int level = drawn.upper + 1; level < drawn.lower; ++level)
            if (std::abs(y(level) - words) < 20)
                words = y(level) + 0.4 * level_px;
        const bool says = part.fate != PartFate::Stays;
        double row = words - (says && !value.empty() ? 9 : 2);
        const double beside = at + (part.kind == PartKind::Source ? 22 : 14);
        text(beside, row, part.name);
        if (!value.empty())
            text(beside, row += 14, value, " font-weight='bold'");
        if (says)
            text(beside, row += 14, part.fate == PartFate::Added ? "new" : "out", " font-style='italic'");
    }

    void symbol(const ConnectedPart& part, double at, double middle, bool from_above)
    {
        const auto box = [&](double w, double h) {
            m_out += "<rect x='" + px(at - w / 2) + "' y='" + px(middle - h / 2) + "' width='" + px(w) +
                     "' height='" + px(h) + "' fill='#FCFBF6' stroke='" + m_colour + "' stroke-width='" +
                     m_width + "'" + m_dash + "/>";
        };
        switch (part.kind) {
        case PartKind::Resistor:
            box(12, 32);
            break;
        case PartKind::Trimmer:
            box(12, 32);
            line(at - 10, middle + 12, at + 10, middle - 12);
            break;
        case PartKind::Capacitor:
            line(at, middle - 16, at, middle - 4);
            line(at - 11, middle - 4, at + 11, middle - 4);
            line(at - 11, middle + 4, at + 11, middle + 4);
            line(at, middle + 4, at, middle + 16);
            text(at - 22, middle - 6, from_above ? "+" : "");
            break;
        case PartKind::Choke:
        case PartKind::Winding:
            for (int k = 0; k < 4; ++k)
                m_out += "<circle cx='" + px(at) + "' cy='" + px(middle - 12 + 8 * k) +
                         "' r='4' fill='none' stroke='" + m_colour + "' stroke-width='" + m_width + "'/>";
            if (part.kind == PartKind::Winding)
                m_out += "<circle cx='" + px(at - 10) + "' cy='" + px(middle + (from_above ? -14 : 14)) +
                         "' r='2.4' fill='" + m_colour + "'/>";
            break;
        case PartKind::Diode: {
            const double tip = from_above ? 10 : -10;
            line(at, middle - 16, at, middle + 16);
            m_out += "<path d='M" + px(at - 9) + ' ' + px(middle - tip) + " H" + px(at + 9) + " L" + px(at) +
                     ' ' + px(middle + tip) + " Z' fill='" + m_colour + "'/>";
            line(at - 10, middle + tip, at + 10, middle + tip);
            break;
        }
        case PartKind::Source:
            m_out += "<circle cx='" + px(at) + "' cy='" + px(middle) + "' r='16' fill='#FCFBF6' stroke='" +
                     m_colour + "' stroke-width='" + m_width + "'/>";
            text(at - 4, middle + (from_above ? -4 : 12), "+");
            text(at - 4, middle + (from_above ? 12 : -4), "−");
            break;
        case PartKind::Rectifier:
        case PartKind::Load:
            box(22, 32);
            break;
        case PartKind::Link:
        case PartKind::Wire:
        case PartKind::Bond:
            break;
        }
    }

    double m_column = least_column_px;
    const Connections& m_c;
    WiringDrawing m_drawing;
    std::string m_out;
    std::string m_colour;
    std::string m_width;
    std::string m_dash;
};

} // namespace

std::string wiringSvg(const Connections& connections)
{
    return connections.parts.empty() ? std::string() : Svg(connections).run();
}

} // namespace offshoot
