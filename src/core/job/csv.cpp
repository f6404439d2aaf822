// CSV in and out of a job: the drawer and the readings. RFC 4180 quoting, a header line, points for decimals;
// read back also with semicolons and decimal commas, as spreadsheets of many countries write them.
#include "core/job/job.h"
#include "core/values/csv_rows.h"
#include "core/values/format.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <functional>

namespace offshoot {

namespace {

/// A share as "0.01", "1 %" or "1%".
std::optional<double> readShare(std::string text)
{
    std::ranges::replace(text, ',', '.');
    double scale = 1;
    if (text.ends_with('%')) {
        scale = 0.01;
        text = csv::trimmed(text.substr(0, text.size() - 1));
    }
    double value = 0;
    const auto result = std::from_chars(text.data(), text.data() + text.size(), value);
    if (result.ec != std::errc() || result.ptr != text.data() + text.size())
        return std::nullopt;
    value *= scale;
    return value >= 0 && value < 1 ? std::optional(value) : std::nullopt;
}

Parsed<StockItem> readStock(const csv::Cells& cells, std::size_t line)
{
    StockItem item{.ohm = 0, .tolerance = 0.05};
    const auto ohm = parseValue(cells["ohm"], Quantity::Resistance);
    if (!ohm || ohm->value < Range::smallest)
        return csv::problemAt(line, "\"" + cells["ohm"] + "\" is no resistance");
    item.ohm = ohm->value;
    if (!cells["tolerance"].empty()) {
        const auto share = readShare(cells["tolerance"]);
        if (!share)
            return csv::problemAt(line, "\"" + cells["tolerance"] + "\" is no tolerance such as 1 % or 0.01");
        item.tolerance = *share;
    }
    if (!cells["power_w"].empty()) {
        const auto power = parseValue(cells["power_w"], Quantity::Power);
        if (!power || power->value < Range::smallest)
            return csv::problemAt(line, "\"" + cells["power_w"] + "\" is no power such as 0.25 or 1/4W");
        item.power_w = power->value;
    }
    if (const std::string text = cells["quantity"]; !text.empty()) {
        std::int64_t count = 0;
        const auto result = std::from_chars(text.data(), text.data() + text.size(), count);
        constexpr std::int64_t plenty = 1'000'000'000;
        if (result.ec != std::errc() || result.ptr != text.data() + text.size() || count < 0 ||
            count > plenty)
            return csv::problemAt(line, "\"" + text + "\" is no whole number of parts");
        item.quantity = count;
    }
    for (const auto& [column, to] :
         {std::pair{"t_rated_k", &item.t_rated_k}, std::pair{"t_max_k", &item.t_max_k}}) {
        if (cells[column].empty())
            continue;
        const auto kelvin = parseValue(cells[column], Quantity::Temperature);
        if (!kelvin || kelvin->value < Range::smallest)
            return csv::problemAt(line,
                                  "\"" + cells[column] + "\" is no temperature such as 70 C or 343.15 K");
        *to = kelvin->value;
    }
    if (item.t_max_k <= item.t_rated_k)
        return csv::problemAt(line, "t_max_k is not above t_rated_k");
    return item;
}

std::string orEmpty(const std::optional<double>& value) { return value ? plainNumber(*value) : ""; }

/// A number alone is no temperature: it is written with its unit.
std::string reading(double value, Quantity quantity)
{
    return plainNumber(value) + (quantity == Quantity::Temperature ? " K" : "");
}

} // namespace

std::string writeDrawerCsv(const std::vector<StockItem>& drawer)
{
    std::string text = "ohm,tolerance,power_w,quantity,t_rated_k,t_max_k\n";
    const StockItem usual{.ohm = 0, .tolerance = 0};
    const auto unless_usual = [](double kelvin, double usual_k) {
        return kelvin == usual_k ? "" : reading(kelvin, Quantity::Temperature);
    };
    for (const StockItem& item : drawer)
        text += csv::joined({plainNumber(item.ohm), plainNumber(item.tolerance), orEmpty(item.power_w),
                             item.quantity ? std::to_string(*item.quantity) : "",
                             unless_usual(item.t_rated_k, usual.t_rated_k),
                             unless_usual(item.t_max_k, usual.t_max_k)});
    return text;
}

Parsed<std::vector<StockItem>> readDrawerCsv(std::string_view text)
{
    const auto rows = csv::split(text);
    if (rows.empty() || csv::Cells(rows.front().second, rows.front().second)["ohm"].empty())
        return csv::problemAt(
            1, "the first line must name the columns: ohm, tolerance, power_w, quantity, t_rated_k, t_max_k");
    constexpr std::size_t most = 1000;
    std::vector<StockItem> drawer;
    for (std::size_t i = 1; i < rows.size(); ++i) {
        const auto item = readStock(csv::Cells(rows.front().second, rows[i].second), rows[i].first);
        if (!item)
            return item.problem();
        if (drawer.size() == most)
            return csv::problemAt(rows[i].first, "a drawer holds at most 1000 different parts");
        drawer.push_back(*item);
    }
    return drawer;
}

std::string writeReadingsCsv(const std::vector<LogEntry>& log)
{
    std::string text = "time_s,point,quantity,value,uncertainty,load,load_quantity,unit,stage,typed\n";
    for (const LogEntry& entry : log) {
        if (entry.kind != LogKind::Reading)
            continue;
        text +=
            csv::joined({plainNumber(entry.time_s), *entry.point, std::string(word(*entry.quantity)),
                         reading(*entry.value, *entry.quantity),
                         entry.uncertainty ? reading(*entry.uncertainty, *entry.quantity) : "",
                         entry.load ? plainNumber(entry.load->value) : "",
                         entry.load ? std::string(word(entry.load->quantity)) : "", entry.unit.value_or(""),
                         entry.stage ? std::string(word(*entry.stage)) : "", entry.typed.value_or("")});
    }
    return text;
}

namespace {

Parsed<LogEntry> readReading(const csv::Cells& cells, std::size_t line)
{
    LogEntry entry{.id = "", .time_s = 0, .kind = LogKind::Reading};
    const auto quantity = enumFrom<Quantity>(cells["quantity"].empty() ? "voltage" : cells["quantity"]);
    if (!quantity)
        return csv::problemAt(line, "\"" + cells["quantity"] + "\" is no quantity");
    if (cells["point"].empty())
        return csv::problemAt(line, "the point is missing");
    const auto value = parseValue(cells["value"], *quantity);
    if (!value)
        return csv::problemAt(line, "\"" + cells["value"] + "\": " + value.problem().message);
    entry.point = cells["point"];
    entry.quantity = quantity;
    entry.value = value->value;
    if (!cells["uncertainty"].empty()) {
        const auto u = parseValue(cells["uncertainty"], *quantity);
        if (!u || u->value < 0)
            return csv::problemAt(line, "\"" + cells["uncertainty"] + "\" is no uncertainty");
        entry.uncertainty = u->value;
    }
    if (!cells["load"].empty()) {
        const auto load_quantity =
            enumFrom<Quantity>(cells["load_quantity"].empty() ? "current" : cells["load_quantity"]);
        if (!load_quantity)
            return csv::problemAt(line, "\"" + cells["load_quantity"] + "\" is no quantity");
        const auto load = parseValue(cells["load"], *load_quantity);
        if (!load || load->value < 0)
            return csv::problemAt(line, "\"" + cells["load"] + "\" is no load");
        entry.load = ReadingLoad{load->value, *load_quantity};
    }
    if (!cells["unit"].empty())
        entry.unit = cells["unit"];
    if (!cells["stage"].empty()) {
        entry.stage = enumFrom<ReadingStage>(cells["stage"]);
        if (!entry.stage)
            return csv::problemAt(line, "\"" + cells["stage"] + "\" is no stage");
    }
    return entry;
}

} // namespace

Parsed<std::vector<LogEntry>> readReadingsCsv(std::string_view text)
{
    const auto rows = csv::split(text);
    if (rows.empty() || csv::Cells(rows.front().second, rows.front().second)["point"].empty())
        return csv::problemAt(1, "the first line must name the columns: point, quantity, value, …");
    std::vector<LogEntry> readings;
    for (std::size_t i = 1; i < rows.size(); ++i) {
        const auto entry = readReading(csv::Cells(rows.front().second, rows[i].second), rows[i].first);
        if (!entry)
            return entry.problem();
        readings.push_back(*entry);
    }
    return readings;
}

namespace {

std::optional<double> plainDouble(const std::string& cell)
{
    std::string text = csv::trimmed(cell);
    std::ranges::replace(text, ',', '.');
    double value = 0;
    const char* end = text.data() + text.size();
    const auto read = std::from_chars(text.data(), end, value);
    const bool good =
        !text.empty() && read.ec == std::errc() && read.ptr == end && std::abs(value) <= Range::largest;
    return good ? std::optional(value) : std::nullopt;
}

} // namespace

Parsed<CapturedSurge> readSurgeCsv(std::string_view text)
{
    constexpr std::size_t most_points = 20000;
    CapturedSurge surge;
    for (const auto& [line, row] : csv::split(text)) {
        const auto t_s = plainDouble(row.front());
        const auto i_a = row.size() > 1 ? plainDouble(row[1]) : std::nullopt;
        if (!t_s || !i_a) {
            if (surge.t_s.empty())
                continue; // a heading
            return csv::problemAt(line, "two numbers are wanted, time in seconds and current in amperes");
        }
        if (!surge.t_s.empty() && *t_s < surge.t_s.back())
            return csv::problemAt(line, "time runs backwards");
        if (surge.t_s.size() == most_points)
            return csv::problemAt(line, "more than 20000 points");
        surge.t_s.push_back(*t_s);
        surge.i_a.push_back(*i_a);
    }
    if (surge.t_s.size() < 2)
        return TextProblem{ErrorCode::Unreadable, 1,
                           "no two columns of numbers: time in seconds, current in amperes"};
    return surge;
}

} // namespace offshoot
