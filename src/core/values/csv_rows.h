// CSV as rows of cells. RFC 4180 quoting, a header line, points for decimals; read back also with semicolons,
// as spreadsheets of many countries write them.
#pragma once

#include "core/values/parsed.h"

#include <map>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace offshoot::csv {

using Row = std::vector<std::string>;

/// Splits a text into rows of cells, each with the line it begins in; quotes may hold separators, line ends
/// and doubled quotes. The separator is whichever of comma and semicolon comes first; a byte order mark is
/// skipped.
std::vector<std::pair<std::size_t, Row>> split(std::string_view text);
/// A row as a line with its end.
std::string joined(const Row& row);
std::string trimmed(const std::string& text);
TextProblem problemAt(std::size_t line, const std::string& message);

/// Cells of one row by the names of the header; empty where there is none.
class Cells
{
public:
    Cells(const Row& header, const Row& row);
    std::string operator[](const std::string& name) const;

private:
    std::map<std::string, std::string> m_cells;
};

} // namespace offshoot::csv
