#include "core/supply/shelf.h"
#include "core/supply/shelf_text.h"
#include "core/values/csv_rows.h"
#include "core/values/format.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace offshoot {

namespace {

using csv::Cells;

/// What a cell is about: how it is written, and how it reads.
struct UnitColumn
{
    const char* name;
    std::string (*write)(const ShelfEntry&, const UnitOutput&);
    /// What is wanted where the text does not read, else empty.
    std::string (*read)(const std::string& text, ShelfEntry&, UnitOutput&);
};

std::string number(const std::optional<double>& value) { return value ? plainNumber(*value) : ""; }

std::optional<double> figure(const std::string& text, Quantity quantity)
{
    const auto parsed = parseValue(text, quantity);
    return parsed ? std::optional(parsed->value) : std::nullopt;
}

std::string pairText(double low, double high) { return plainNumber(low) + '-' + plainNumber(high); }

/// Parts between bars.
std::vector<std::string> barred(const std::string& text)
{
    std::vector<std::string> parts;
    std::size_t from = 0;
    for (std::size_t at = text.find('|'); from <= text.size(); at = text.find('|', from)) {
        const std::size_t to = std::min(at, text.size());
        parts.push_back(csv::trimmed(text.substr(from, to - from)));
        from = to + 1;
    }
    return parts;
}

template <class E>
std::string readWord(const std::string& text, E& to)
{
    const auto read = enumFrom<E>(text);
    if (read)
        to = *read;
    std::vector<std::string> names(Words<E>::list.begin(), Words<E>::list.end());
    return read ? "" : listed(names) + " are what it can be";
}

std::string inputText(const UnitInput& input)
{
    std::string text(word(input.kind));
    for (std::size_t i = 0; i < input.ranges.size(); ++i) {
        const InputRange& range = input.ranges[i];
        text += (i == 0 ? " " : " | ") + pairText(range.min_v, range.max_v) +
                (range.selector ? " @" + *range.selector : "");
    }
    return text;
}

std::string readInput(const std::string& text, UnitInput& to)
{
    static const std::string wanted = "ac 100-240, dc 18-36 or ac 90-132 @115 | 180-264 @230 is wanted";
    UnitInput made{.kind = InputCurrent::Ac, .ranges = {}};
    std::string rest = text;
    for (const InputCurrent kind : {InputCurrent::Ac, InputCurrent::Dc})
        if (rest.starts_with(std::string(word(kind)) + ' ')) {
            made.kind = kind;
            rest.erase(0, word(kind).size() + 1);
        }
    for (const std::string& part : barred(rest)) {
        const auto at = part.find('@');
        const auto volts = rangeIn(csv::trimmed(part.substr(0, at)), Quantity::Voltage);
        if (!volts)
            return wanted;
        InputRange range{volts->first, volts->second};
        if (at != std::string::npos)
            range.selector = csv::trimmed(part.substr(at + 1));
        made.ranges.push_back(std::move(range));
    }
    to.kind = made.kind;
    to.ranges = std::move(made.ranges);
    return "";
}

std::string deratingText(const std::vector<DeratingPoint>& points)
{
    std::string text;
    for (const DeratingPoint& point : points)
        text += (text.empty() ? "" : " | ") + plainNumber(point.k) + "K " + plainNumber(point.share);
    return text;
}

std::string readDerating(const std::string& text, std::vector<DeratingPoint>& to)
{
    for (const std::string& part : barred(text)) {
        const auto blank = part.find(' ');
        const auto k = figure(part.substr(0, blank), Quantity::Temperature);
        const auto share = blank == std::string::npos
                               ? std::nullopt
                               : figure(csv::trimmed(part.substr(blank + 1)), Quantity::Number);
        if (!k || !share)
            return "temperatures and shares are wanted, such as 323.15K 1 | 343.15K 0.5";
        to.push_back({*k, *share});
    }
    return "";
}

std::string sizeText(const std::optional<BoxSize>& size)
{
    if (!size)
        return "";
    const auto mm = [](double m) {
        constexpr double finest = 1e-6;
        return significant(std::round(m * 1e3 / finest) * finest, 9);
    };
    return mm(size->x_m) + 'x' + mm(size->y_m) + 'x' + mm(size->z_m);
}

std::string readSize(const std::string& text, std::optional<BoxSize>& to)
{
    to = sizeIn(text);
    return to ? "" : "three sides in millimetres are wanted, such as 129x97x30";
}

template <auto member, Quantity quantity>
std::string readOutput(const std::string& text, ShelfEntry& /*entry*/, UnitOutput& output)
{
    const auto value = figure(text, quantity);
    if (!value)
        return "a value is wanted";
    output.*member = *value;
    return "";
}

template <auto member, Quantity quantity>
std::string readEntry(const std::string& text, ShelfEntry& entry, UnitOutput& /*output*/)
{
    const auto value = figure(text, quantity);
    if (!value)
        return "a value is wanted";
    entry.*member = *value;
    return "";
}

template <class E>
std::string readOptional(const std::string& text, std::optional<E>& to)
{
    E read{};
    const std::string wanted = readWord(text, read);
    if (wanted.empty())
        to = read;
    return wanted;
}

constexpr std::array<UnitColumn, 32> columns{{
    {"quantity", [](const ShelfEntry& e, const UnitOutput&) { return std::to_string(e.unit.quantity); },
     [](const std::string& text, ShelfEntry& e, UnitOutput&) -> std::string {
         const auto count = figure(text, Quantity::Number);
         if (!count || *count < 1 || *count > 1e6 ||
             *count != static_cast<double>(static_cast<std::int64_t>(*count)))
             return "a whole number is wanted";
         e.unit.quantity = static_cast<std::int64_t>(*count);
         return "";
     }},
    {"input", [](const ShelfEntry& e, const UnitOutput&) { return inputText(e.unit.input); },
     [](const std::string& text, ShelfEntry& e, UnitOutput&) { return readInput(text, e.unit.input); }},
    {"f_hz",
     [](const ShelfEntry& e, const UnitOutput&) {
         const UnitInput& in = e.unit.input;
         return in.f_min_hz && in.f_max_hz ? pairText(*in.f_min_hz, *in.f_max_hz) : "";
     },
     [](const std::string& text, ShelfEntry& e, UnitOutput&) -> std::string {
         const auto hz = rangeIn(text, Quantity::Frequency);
         if (!hz)
             return "a range is wanted, such as 47-63";
         e.unit.input.f_min_hz = hz->first;
         e.unit.input.f_max_hz = hz->second;
         return "";
     }},
    {"output", [](const ShelfEntry&, const UnitOutput& o) { return o.name; },
     [](const std::string& text, ShelfEntry&, UnitOutput& o) -> std::string {
         o.name = text;
         return "";
     }},
    {"v", [](const ShelfEntry&, const UnitOutput& o) { return plainNumber(o.v); },
     readOutput<&UnitOutput::v, Quantity::Voltage>},
    {"regulation", [](const ShelfEntry&, const UnitOutput& o) { return plainNumber(o.regulation); },
     readOutput<&UnitOutput::regulation, Quantity::Number>},
    {"trim",
     [](const ShelfEntry&, const UnitOutput& o) {
         return o.trim_min_v && o.trim_max_v ? pairText(*o.trim_min_v, *o.trim_max_v) : "";
     },
     [](const std::string& text, ShelfEntry&, UnitOutput& o) -> std::string {
         const auto volts = rangeIn(text, Quantity::Voltage);
         if (!volts)
             return "a range is wanted, such as 21.6-28.8";
         o.trim_min_v = volts->first;
         o.trim_max_v = volts->second;
         return "";
     }},
    {"rated_a", [](const ShelfEntry&, const UnitOutput& o) { return plainNumber(o.rated_a); },
     readOutput<&UnitOutput::rated_a, Quantity::Current>},
    {"peak_a", [](const ShelfEntry&, const UnitOutput& o) { return number(o.peak_a); },
     readOutput<&UnitOutput::peak_a, Quantity::Current>},
    {"least_a", [](const ShelfEntry&, const UnitOutput& o) { return plainNumber(o.least_a); },
     readOutput<&UnitOutput::least_a, Quantity::Current>},
    {"ripple_v", [](const ShelfEntry&, const UnitOutput& o) { return number(o.ripple_v); },
     readOutput<&UnitOutput::ripple_v, Quantity::Voltage>},
    {"polarity", [](const ShelfEntry&, const UnitOutput& o) { return std::string(word(o.polarity)); },
     [](const std::string& text, ShelfEntry&, UnitOutput& o) { return readWord(text, o.polarity); }},
    {"isolated",
     [](const ShelfEntry&, const UnitOutput& o) { return std::string(o.isolated ? "yes" : "no"); },
     [](const std::string& text, ShelfEntry&, UnitOutput& o) -> std::string {
         o.isolated = text == "yes";
         return text == "yes" || text == "no" ? "" : "yes or no is wanted";
     }},
    {"bonded", [](const ShelfEntry&, const UnitOutput& o) { return std::string(word(o.bonded)); },
     [](const std::string& text, ShelfEntry&, UnitOutput& o) { return readWord(text, o.bonded); }},
    {"total_w", [](const ShelfEntry& e, const UnitOutput&) { return number(e.unit.total_w); },
     [](const std::string& text, ShelfEntry& e, UnitOutput&) -> std::string {
         e.unit.total_w = figure(text, Quantity::Power);
         return e.unit.total_w ? "" : "watts are wanted";
     }},
    {"derating", [](const ShelfEntry& e, const UnitOutput&) { return deratingText(e.unit.derating); },
     [](const std::string& text, ShelfEntry& e, UnitOutput&) { return readDerating(text, e.unit.derating); }},
    {"class",
     [](const ShelfEntry& e, const UnitOutput&) {
         return e.unit.protection_class ? std::to_string(*e.unit.protection_class) : "";
     },
     [](const std::string& text, ShelfEntry& e, UnitOutput&) -> std::string {
         if (text != "1" && text != "2")
             return "1 or 2 is wanted";
         e.unit.protection_class = text == "1" ? 1 : 2;
         return "";
     }},
    {"size_mm", [](const ShelfEntry& e, const UnitOutput&) { return sizeText(e.unit.size); },
     [](const std::string& text, ShelfEntry& e, UnitOutput&) { return readSize(text, e.unit.size); }},
    {"enable", [](const ShelfEntry& e, const UnitOutput&) { return std::string(word(e.unit.enable)); },
     [](const std::string& text, ShelfEntry& e, UnitOutput&) { return readWord(text, e.unit.enable); }},
    {"efficiency", [](const ShelfEntry& e, const UnitOutput&) { return number(e.unit.efficiency); },
     [](const std::string& text, ShelfEntry& e, UnitOutput&) -> std::string {
         e.unit.efficiency = figure(text, Quantity::Number);
         return e.unit.efficiency ? "" : "a share is wanted, such as 0.88";
     }},
    {"mass_kg", [](const ShelfEntry& e, const UnitOutput&) { return number(e.mass_kg); },
     readEntry<&ShelfEntry::mass_kg, Quantity::Number>},
    {"screw_depth_m", [](const ShelfEntry& e, const UnitOutput&) { return number(e.screw_depth_m); },
     readEntry<&ShelfEntry::screw_depth_m, Quantity::Length>},
    {"price", [](const ShelfEntry& e, const UnitOutput&) { return number(e.price); },
     readEntry<&ShelfEntry::price, Quantity::Number>},
    {"mounting",
     [](const ShelfEntry& e, const UnitOutput&) {
         return e.mounting ? std::string(word(*e.mounting)) : std::string();
     },
     [](const std::string& text, ShelfEntry& e, UnitOutput&) { return readOptional(text, e.mounting); }},
    {"inrush_a", [](const ShelfEntry& e, const UnitOutput&) { return number(e.inrush_a); },
     readEntry<&ShelfEntry::inrush_a, Quantity::Current>},
    {"load_max_f", [](const ShelfEntry& e, const UnitOutput&) { return number(e.load_max_f); },
     readEntry<&ShelfEntry::load_max_f, Quantity::Capacitance>},
    {"standby_w", [](const ShelfEntry& e, const UnitOutput&) { return number(e.standby_w); },
     readEntry<&ShelfEntry::standby_w, Quantity::Power>},
    {"converts",
     [](const ShelfEntry& e, const UnitOutput&) {
         return e.converts ? std::string(word(*e.converts)) : std::string();
     },
     [](const std::string& text, ShelfEntry& e, UnitOutput&) { return readOptional(text, e.converts); }},
    {"headroom_v", [](const ShelfEntry& e, const UnitOutput&) { return plainNumber(e.headroom_v); },
     readEntry<&ShelfEntry::headroom_v, Quantity::Voltage>},
    {"theta_k_per_w", [](const ShelfEntry& e, const UnitOutput&) { return number(e.theta_k_per_w); },
     readEntry<&ShelfEntry::theta_k_per_w, Quantity::Number>},
    {"t_j_max_k",
     [](const ShelfEntry& e, const UnitOutput&) {
         return e.t_j_max_k ? plainNumber(*e.t_j_max_k) + "K" : std::string();
     },
     readEntry<&ShelfEntry::t_j_max_k, Quantity::Temperature>},
    {"note", [](const ShelfEntry& e, const UnitOutput&) { return e.note; },
     [](const std::string& text, ShelfEntry& e, UnitOutput&) -> std::string {
         e.note = text;
         return "";
     }},
}};

/// What the reader of the shelf's own file says against it, which knows every rule.
std::string against(const ShelfEntry& entry)
{
    try {
        readJson<ShelfEntry>(writeJson(entry, NullPolicy::Omit), UnknownKeys::Keep);
    } catch (const DocumentError& error) {
        return error.what();
    }
    return "";
}

} // namespace

std::string writeShelfCsv(const std::vector<ShelfEntry>& units)
{
    csv::Row header{"name"};
    for (const UnitColumn& column : columns)
        header.emplace_back(column.name);
    std::string text = csv::joined(header);
    for (const ShelfEntry& entry : units)
        for (const UnitOutput& output : entry.unit.outputs) {
            csv::Row row{entry.unit.name};
            for (const UnitColumn& column : columns)
                row.push_back(column.write(entry, output));
            text += csv::joined(row);
        }
    return text;
}

Parsed<std::vector<ShelfEntry>> readShelfCsv(std::string_view text)
{
    const auto rows = csv::split(text);
    const auto has = [&](const char* column) {
        return !rows.empty() && !Cells(rows.front().second, rows.front().second)[column].empty();
    };
    for (const char* column : {"name", "input", "v", "rated_a"})
        if (!has(column))
            return csv::problemAt(1,
                                  "the first line must name the columns: name, input, output, v, rated_a, …");
    std::vector<ShelfEntry> units;
    for (std::size_t i = 1; i < rows.size(); ++i) {
        const std::size_t line = rows[i].first;
        const Cells cells(rows.front().second, rows[i].second);
        if (cells["name"].empty())
            return csv::problemAt(line, "the name is missing");
        ShelfEntry read;
        UnitOutput output{.name = {}, .v = 0, .rated_a = 0};
        for (const UnitColumn& column : columns) {
            const std::string cell = cells[column.name];
            if (cell.empty())
                continue;
            if (const std::string wanted = column.read(cell, read, output); !wanted.empty())
                return csv::problemAt(line, std::string(column.name) + " \"" + cell + "\": " + wanted);
        }
        if (output.name.empty())
            output.name = significant(output.v, 4) + " V";
        const std::string name = cells["name"];
        const auto known = std::ranges::find(units, name, [](const ShelfEntry& e) { return e.unit.name; });
        const auto at = static_cast<std::size_t>(known - units.begin());
        if (known == units.end()) {
            if (units.size() == most_on_shelf)
                return csv::problemAt(line, "a shelf holds at most 200 different units");
            read.unit.name = name;
            units.push_back(std::move(read));
        }
        ShelfEntry& entry = units[at];
        entry.unit.outputs.push_back(std::move(output));
        if (const std::string wrong = against(entry); !wrong.empty())
            return csv::problemAt(line, wrong);
    }
    return units;
}

} // namespace offshoot
