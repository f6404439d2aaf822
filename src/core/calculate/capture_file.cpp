#include "core/calculate/capture_file.h"

#include "core/values/verdict.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace offshoot {

namespace {

using Cells = std::vector<std::string_view>;

std::string_view trimmed(std::string_view text)
{
    constexpr std::string_view blanks = " \t\r";
    const auto first = text.find_first_not_of(blanks);
    return first == std::string_view::npos ? std::string_view()
                                           : text.substr(first, text.find_last_not_of(blanks) - first + 1);
}

/// Cells of a line, those empty at its end left out.
Cells cellsOf(std::string_view line, char separator)
{
    Cells cells;
    for (std::size_t from = 0; from <= line.size();) {
        const std::size_t to = std::min(line.find(separator, from), line.size());
        cells.push_back(trimmed(line.substr(from, to - from)));
        from = to + 1;
    }
    while (!cells.empty() && cells.back().empty())
        cells.pop_back();
    return cells;
}

/// A cell of a line; empty where there is none.
std::string_view cellIn(std::string_view line, char separator, std::size_t column)
{
    for (; column > 0; --column) {
        const std::size_t at = line.find(separator);
        if (at == std::string_view::npos)
            return {};
        line.remove_prefix(at + 1);
    }
    return trimmed(line.substr(0, line.find(separator)));
}

std::optional<double> numberIn(std::string_view cell, char separator)
{
    std::string pointed;
    if (separator != ',' && cell.find(',') != std::string_view::npos) {
        pointed = cell;
        std::ranges::replace(pointed, ',', '.');
        cell = pointed;
    }
    if (cell.starts_with('+'))
        cell.remove_prefix(1);
    double value = 0;
    const char* end = cell.data() + cell.size();
    const auto read = std::from_chars(cell.data(), end, value);
    const bool good = !cell.empty() && read.ec == std::errc() && read.ptr == end && std::isfinite(value) &&
                      std::abs(value) <= Range::largest;
    return good ? std::optional(value) : std::nullopt;
}

/// The file of an oscilloscope or a logger: headings, then the time and one column or more.
class CaptureFile
{
public:
    CaptureFile(std::string_view text, std::string at)
        : m_at(std::move(at))
    {
        for (std::size_t from = 0; from < text.size();) {
            const std::size_t to = std::min(text.find('\n', from), text.size());
            m_lines.push_back(text.substr(from, to - from));
            from = to + 1;
        }
        while (!m_lines.empty() && trimmed(m_lines.back()).empty())
            m_lines.pop_back();
        constexpr std::string_view byte_order_mark = "\xEF\xBB\xBF";
        if (!m_lines.empty() && m_lines.front().starts_with(byte_order_mark))
            m_lines.front().remove_prefix(byte_order_mark.size());
        findData();
    }

    CaptureTrace read(const CaptureColumnName& name) const
    {
        const std::size_t column = columnOf(name);
        CaptureTrace out{0, 0, {}};
        std::vector<double> times_s;
        times_s.reserve(m_lines.size() - m_first);
        out.values.reserve(m_lines.size() - m_first);
        for (std::size_t i = m_first; i < m_lines.size(); ++i) {
            const auto time_s = numberIn(cellIn(m_lines[i], m_separator, 0), m_separator);
            const auto value = numberIn(cellIn(m_lines[i], m_separator, column), m_separator);
            if (!time_s || !value)
                refuse(ErrorCode::Unreadable, "line " + std::to_string(i + 1) +
                                                  ": a number is wanted for the time and for the column");
            times_s.push_back(*time_s);
            out.values.push_back(*value);
        }
        if (times_s.size() < least_samples)
            refuse(ErrorCode::Unreadable, "fewer than 16 samples");
        if (times_s.size() > most_samples)
            refuse(ErrorCode::OutOfRange, "more than a million samples");
        out.from_s = times_s.front();
        out.dt_s = (times_s.back() - times_s.front()) / static_cast<double>(times_s.size() - 1);
        const auto step = [&](std::size_t i) { return times_s[i] - times_s[i - 1]; };
        for (std::size_t i = 1; i < times_s.size(); ++i)
            if (!(step(i) > 0))
                refuse(ErrorCode::Inconsistent, lineOf(i) + "time does not rise");
        constexpr double uneven = 0.01;
        for (std::size_t i = 1; i < times_s.size(); ++i)
            if (std::abs(step(i) - out.dt_s) > uneven * out.dt_s * (1 + limit_share))
                refuse(ErrorCode::Inconsistent, lineOf(i) + "the steps of time differ by more than 1 %");
        return out;
    }

    std::size_t columns() const { return cellsOf(m_lines[m_first], m_separator).size(); }

    /// The lines before the data with as many cells, the last first.
    std::vector<Cells> headings() const
    {
        std::vector<Cells> all;
        for (std::size_t i = m_first; i-- > 0;)
            if (Cells cells = cellsOf(m_lines[i], m_separator); cells.size() == columns())
                all.push_back(std::move(cells));
        return all;
    }

private:
    [[noreturn]] void refuse(ErrorCode code, const std::string& message, const char* key = "csv") const
    {
        throw DocumentError(code, jsonPath(m_at, key), message);
    }

    /// Where a sample stands in the file.
    std::string lineOf(std::size_t sample) const
    {
        return "line " + std::to_string(m_first + sample + 1) + ": ";
    }

    /// The first line that is data under any separator, which is then that of every line.
    void findData()
    {
        for (m_first = 0; m_first < m_lines.size(); ++m_first)
            for (const char separator : {'\t', ';', ','}) {
                const Cells cells = cellsOf(m_lines[m_first], separator);
                if (cells.size() >= 2 && numberIn(cells[0], separator) && numberIn(cells[1], separator)) {
                    m_separator = separator;
                    return;
                }
            }
        refuse(ErrorCode::Unreadable, "no line has a time and a value");
    }

    std::size_t columnOf(const CaptureColumnName& column) const
    {
        if (const auto* number = std::get_if<std::int64_t>(&column)) {
            if (*number < 1 || static_cast<std::size_t>(*number) >= columns())
                refuse(ErrorCode::OutOfRange, "there is no such column", "column");
            return static_cast<std::size_t>(*number);
        }
        const std::string_view name = trimmed(std::get<std::string>(column));
        for (const Cells& cells : headings())
            for (std::size_t k = 1; k < cells.size(); ++k)
                if (cells[k] == name)
                    return k;
        refuse(ErrorCode::OutOfRange, "no heading is called so", "column");
    }

    std::string m_at;
    std::vector<std::string_view> m_lines;
    std::size_t m_first = 0;
    char m_separator = ',';
};

/// A unit as oscilloscopes write it; nothing where the text is none.
struct CaptureUnit
{
    std::string_view written;
    Quantity quantity;
    double factor;
};
constexpr std::array<CaptureUnit, 21> units{
    {{"s", Quantity::Time, 1},         {"sec", Quantity::Time, 1},      {"second", Quantity::Time, 1},
     {"seconds", Quantity::Time, 1},   {"ms", Quantity::Time, 1e-3},    {"us", Quantity::Time, 1e-6},
     {"µs", Quantity::Time, 1e-6},     {"ns", Quantity::Time, 1e-9},    {"v", Quantity::Voltage, 1},
     {"volt", Quantity::Voltage, 1},   {"volts", Quantity::Voltage, 1}, {"mv", Quantity::Voltage, 1e-3},
     {"uv", Quantity::Voltage, 1e-6},  {"µv", Quantity::Voltage, 1e-6}, {"kv", Quantity::Voltage, 1e3},
     {"a", Quantity::Current, 1},      {"amp", Quantity::Current, 1},   {"amps", Quantity::Current, 1},
     {"ampere", Quantity::Current, 1}, {"ma", Quantity::Current, 1e-3}, {"ua", Quantity::Current, 1e-6}}};

const CaptureUnit* unitIn(std::string_view text)
{
    std::string low(text);
    for (char& c : low)
        c = c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
    const auto at = std::ranges::find(units, low, &CaptureUnit::written);
    return at == units.end() ? nullptr : &*at;
}

/// What stands in brackets at the end of a heading, or behind a comma or a stroke: "CH1 (mV)", "Time/s".
std::string_view bracketed(std::string_view name)
{
    const std::size_t open = name.find_last_of("([/,");
    if (open == std::string_view::npos)
        return {};
    std::string_view inside = name.substr(open + 1);
    if (name[open] == '(' || name[open] == '[') {
        const std::size_t close = inside.find_first_of(")]");
        if (close == std::string_view::npos)
            return {};
        inside = inside.substr(0, close);
    }
    return trimmed(inside);
}

} // namespace

CaptureTrace readCapture(std::string_view csv, const CaptureColumnName& column, const std::string& at)
{
    return CaptureFile(csv, at).read(column);
}

std::vector<CaptureHeading> captureHeadings(std::string_view csv)
{
    const CaptureFile file(csv, "");
    const auto rows = file.headings();
    std::vector<CaptureHeading> all;
    for (std::size_t k = 0; k < file.columns(); ++k) {
        CaptureHeading heading;
        for (const Cells& row : rows) { // the last row first: a row of units follows the names
            const std::string_view cell = row[k];
            const std::string_view inside = unitIn(cell) != nullptr ? cell : bracketed(cell);
            if (const CaptureUnit* unit = unitIn(inside); unit != nullptr && !heading.quantity) {
                heading.unit = inside;
                heading.quantity = unit->quantity;
                heading.factor = unit->factor;
            }
            if (unitIn(cell) == nullptr && heading.name.empty())
                heading.name = cell;
        }
        all.push_back(std::move(heading));
    }
    return all;
}

} // namespace offshoot
