// The report's blocks as a page.
#include "core/evaluate/report.h"
#include "core/values/figures.h"
#include "core/values/html.h"

namespace offshoot {

namespace {

using html::escaped;

std::string dataHtml(const ReportData& data)
{
    std::string html;
    for (const auto& [key, value] : data)
        html += " data-" + key + "='" + escaped(value) + "'";
    return html;
}

} // namespace

std::string tableHtml(const ReportBlock& table)
{
    std::string html = "<table width='100%' cellspacing='0' cellpadding='4'><thead><tr>";
    for (std::size_t i = 0; i < table.head.size(); ++i)
        html += "<th align='left' width='" + significant(table.widths.at(i) * 100, 3) + "%'>" +
                html::escaped(table.head[i]) + "</th>";
    html += "</tr></thead><tbody>";
    for (const ReportRow& row : table.rows) {
        html += "<tr" + dataHtml(row.data) + ">";
        for (const ReportCell& cell : row.cells)
            html += "<td" + dataHtml(cell.data) + ">" + cell.html + "</td>";
        html += "</tr>";
    }
    return html + "</tbody></table>";
}

std::string reportHtml(const Report& report)
{
    std::string html =
        "<!DOCTYPE html><html lang='en'><head><meta charset='utf-8'><title>" + html::escaped(report.title) +
        "</title><style>body { font-family: 'Offshoot B612', B612, sans-serif; font-size: 11pt; color: "
        "#1d2930; "
        "background: #fcfbf6; max-width: 52em; margin: 2em auto; } h1 { font-size: 20pt; } h2 { font-size: "
        "14pt; "
        "margin-top: 1.6em; break-after: avoid; } td, th { border-bottom: 1px solid #d5cfbf; vertical-align: "
        "top; "
        "text-align: left; } tr, svg, img { break-inside: avoid; } thead { display: table-header-group; } "
        "svg, img { "
        "max-width: 100%; height: auto; } @page { size: A4; margin: 16mm; }</style></head><body>";
    for (const ReportBlock& block : report.blocks)
        switch (block.kind) {
        case ReportBlockKind::Title:
            html += "<h1>" + block.html + "</h1>";
            break;
        case ReportBlockKind::Heading:
            html += "<h2>" + block.html + "</h2>";
            break;
        case ReportBlockKind::Text:
            html += "<p>" + block.html + "</p>";
            break;
        case ReportBlockKind::Table:
            html += tableHtml(block);
            break;
        case ReportBlockKind::Drawing:
            html += "<div" + dataHtml(block.data) + ">" + block.html + "</div>";
            break;
        case ReportBlockKind::Picture:
            html += "<img alt='photograph' src='" + html::escaped(block.html) + "'>";
            break;
        }
    return html + "</body></html>\n";
}

} // namespace offshoot
