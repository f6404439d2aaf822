// Sheets at true scale, written as SVG (one file a sheet) or as one PDF.
#pragma once

#include <QString>
#include <string>
#include <vector>

namespace offshoot::ui {

/// By the ending of the path. Of several sheets as SVG each gets its number before the ending. Throws
/// StoreError.
void writeSheets(const QString& path, const std::vector<std::string>& pages, const QString& title);

} // namespace offshoot::ui
