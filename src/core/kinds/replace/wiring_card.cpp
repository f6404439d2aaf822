#include "core/kinds/replace/wiring_card.h"

#include "core/kinds/replace/replace_view.h"
#include "core/kinds/replace/wanted.h"
#include "core/kinds/replace/wire_colour.h"
#include "core/kinds/svg_sheet.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

constexpr std::string_view ink = "#1d2930";
constexpr std::string_view soft = "#5a6972";

/// A wire from left to right, in the colour that it has: two where it has two, dashed where that is not said.
std::string wireStroke(double x1, double x2, double y, double width, const Wire& wire)
{
    const auto colours = wireColours(wire.colour);
    if (colours.empty())
        return sheet::line({x1, y}, {x2, y}, soft, width / 2, "2 2");
    std::string svg = sheet::line({x1, y}, {x2, y}, ink, width + 0.3) +
                      sheet::line({x1, y}, {x2, y}, colours.front(), width);
    if (colours.size() > 1)
        svg += sheet::line({x1, y}, {x2, y}, colours.back(), width, "3 3");
    return svg;
}

std::string endWords(const WiringView& view, const PlannedWire& wire)
{
    return wire.terminal ? view.terminals[*wire.terminal].name : wire.left;
}

std::string remarkWords(const PlannedWire& wire)
{
    std::string text = wire.wire.area_m2 ? formatValue(*wire.wire.area_m2, Quantity::WireSize) : "";
    for (const std::string& remark : wire.remarks)
        text += (text.empty() ? "" : "; ") + remark;
    return text;
}

/// What belongs on the card besides the wires.
std::vector<std::string> cardNotes(const Job& job, const WiringView& view)
{
    std::vector<std::string> notes;
    for (const PlannedTerminal& terminal : view.terminals)
        if (terminal.swapped && terminal.serves.function == WireFunction::Return)
            notes.push_back(terminal.name + " is the " + terminal.words +
                            ": its output serves a negative rail");
    for (const ReplacingUnit& unit : job.plan.replace->units) {
        const std::string& name = unit.entry.unit.name;
        if (unit.selector)
            notes.push_back(name + ": selector at " + *unit.selector);
        if (unit.entry.unit.enable != EnablePin::None)
            notes.push_back(name + ": " + enableWords(unit.entry.unit.enable));
        for (const ServedRail& served : unit.rails)
            notes.push_back(name + ": " + served.rail + " set to " + volts(served.set_v));
    }
    return notes;
}

struct Column
{
    double x;
    double wide;
};

/// One row of the card.
void cardRow(std::string& svg, const WiringView& view, const PlannedWire& wire, const Column& column,
             double y, double size)
{
    const double middle = y - size * 0.35;
    // Shares of the row: its tag, what was measured, the wire itself, where it goes.
    constexpr double measured = 0.25;
    constexpr double stroke = 0.46;
    constexpr double end = 0.56;
    const auto at = [&](double share) { return column.x + share * column.wide; };
    const bool called = wire.wire.colour.empty() || wire.wire.colour == wire.wire.name;
    svg += sheet::text(
        {column.x, y},
        elided(wire.wire.name + (called ? "" : " · " + wire.wire.colour), measured * column.wide, size), size,
        ink);
    svg += sheet::text({at(measured), y}, elided(wire.words, (stroke - measured) * column.wide, size), size,
                       "#6b3fa0");
    if (wire.terminal)
        svg += wireStroke(at(stroke), at(end) - 2, middle, size * 0.3, wire.wire);
    const std::string remarks = remarkWords(wire);
    svg += sheet::text({at(end), y},
                       elided(endWords(view, wire) + (remarks.empty() ? "" : " · " + remarks),
                              (1 - end) * column.wide, size),
                       size, wire.terminal ? "#075a57" : std::string_view(soft));
    svg +=
        sheet::line({column.x, y + size * 0.35}, {column.x + column.wide, y + size * 0.35}, "#d5cfbf", 0.1);
}

} // namespace

std::string wiringCard(const Job& job, const std::string& date)
{
    constexpr double top = 34;
    constexpr double most_row = 8.5;
    constexpr double least_row = 4.2;
    const WiringView view = wiringView(job);
    const auto notes = cardNotes(job, view);
    const double note_row = 4.6;
    const double bottom = sheet::height - sheet::margin - note_row * static_cast<double>(notes.size()) - 6;
    const double room = bottom - top;
    const auto wires = static_cast<double>(std::max<std::size_t>(1, view.wires.size()));
    const double columns = std::max(1.0, std::ceil(wires * least_row / room));
    const double in_one = std::ceil(wires / columns);
    const double row = std::min(most_row, room / in_one);
    const double size = std::min(3.6, row * 0.62);
    const double wide = (sheet::width - 2 * sheet::margin) / columns;
    std::string svg = sheet::begin();
    svg += sheet::text({sheet::margin, 17}, elided(job.title + ": " + unitNames(*job.plan.replace), 185, 6),
                       6, ink);
    svg += sheet::text({sheet::margin, 24},
                       "Wiring card · " + date + " · in place of " +
                           (job.found.name.empty() ? "the old unit" : job.found.name) +
                           " · labelled with what was measured",
                       3.2, soft);
    for (std::size_t i = 0; i < view.wires.size(); ++i) {
        const double at = std::floor(static_cast<double>(i) / in_one);
        const double y = top + (static_cast<double>(i) - at * in_one) * row;
        cardRow(svg, view, view.wires[i], {sheet::margin + at * wide, wide - 3}, y, size);
    }
    double y = bottom + 6;
    for (const std::string& note : notes) {
        svg += sheet::text({sheet::margin, y}, elided(note, 188, 3), 3, ink);
        y += note_row;
    }
    return svg + sheet::end();
}

} // namespace offshoot
