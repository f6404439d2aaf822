#include "core/values/csv_rows.h"

namespace offshoot::csv {

std::vector<std::pair<std::size_t, Row>> split(std::string_view text)
{
    constexpr std::string_view byte_order_mark = "\xEF\xBB\xBF";
    if (text.starts_with(byte_order_mark))
        text.remove_prefix(byte_order_mark.size());
    const std::size_t first = text.find_first_of(",;");
    const char separator = first == std::string_view::npos ? ',' : text[first];
    std::vector<std::pair<std::size_t, Row>> rows;
    Row row{""};
    std::size_t line = 1;
    std::size_t row_line = 1;
    bool quoted = false;
    const auto end_row = [&] {
        if (row.size() > 1 || !row.front().empty())
            rows.emplace_back(row_line, row);
        row = {""};
        row_line = line;
    };
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (c == '\n')
            ++line;
        if (quoted && c == '"' && i + 1 < text.size() && text[i + 1] == '"') {
            row.back() += '"';
            ++i;
        } else if (c == '"') {
            quoted = !quoted;
        } else if (!quoted && c == separator) {
            row.emplace_back();
        } else if (!quoted && c == '\n') {
            end_row();
        } else if (quoted || c != '\r') {
            row.back() += c;
        }
    }
    ++line;
    end_row();
    return rows;
}

static std::string quoted(const std::string& cell)
{
    if (cell.find_first_of(",;\"\r\n") == std::string::npos)
        return cell;
    std::string text = "\"";
    for (char c : cell)
        text += c == '"' ? std::string("\"\"") : std::string(1, c);
    return text + '"';
}

std::string joined(const Row& row)
{
    std::string line;
    for (std::size_t i = 0; i < row.size(); ++i)
        line += (i == 0 ? "" : ",") + quoted(row[i]);
    return line + '\n';
}

std::string trimmed(const std::string& text)
{
    const auto first = text.find_first_not_of(" \t");
    return first == std::string::npos ? "" : text.substr(first, text.find_last_not_of(" \t") - first + 1);
}

TextProblem problemAt(std::size_t line, const std::string& message)
{
    return {ErrorCode::Unreadable, line, "line " + std::to_string(line) + ": " + message};
}

Cells::Cells(const Row& header, const Row& row)
{
    for (std::size_t i = 0; i < header.size() && i < row.size(); ++i)
        m_cells[trimmed(header[i])] = trimmed(row[i]);
}

std::string Cells::operator[](const std::string& name) const
{
    const auto found = m_cells.find(name);
    return found == m_cells.end() ? "" : found->second;
}

} // namespace offshoot::csv
