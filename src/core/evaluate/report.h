// The report of a job, from which another person can repeat the change: one structure of blocks that HTML and
// PDF are both made of. `job.report` gives the HTML.
#pragma once

#include "core/evaluate/before_after.h"
#include "core/evaluate/evaluation.h"
#include "core/kinds/chain/chain_view.h"

#include <string>
#include <utility>
#include <vector>

namespace offshoot {

/// Data that a program reads back from the HTML: `data-KEY="VALUE"`.
using ReportData = std::vector<std::pair<std::string, std::string>>;

struct ReportCell
{
    std::string html; ///< inline only: b, i, s, span, br
    ReportData data = {};
};

struct ReportRow
{
    std::vector<ReportCell> cells;
    ReportData data = {};
};

enum class ReportBlockKind { Title, Heading, Text, Table, Drawing, Picture };

/// A piece that no page tears; of a table each row is one.
struct ReportBlock
{
    ReportBlockKind kind;
    std::string html;              ///< words; of a drawing its SVG, of a picture its file
    std::vector<std::string> head; ///< of a table, repeated on every page
    std::vector<ReportRow> rows;   ///< of a table
    std::vector<double> widths;    ///< of its columns, as shares
    ReportData data;
};

struct Report
{
    std::string title;
    bool signed_off;
    std::vector<ReportBlock> blocks;
};

/// `run` is what the rectifier chain's simulation gave, for its picture.
Report reportOf(const Job& job, const Evaluation& evaluation, const ChainRun* run = nullptr);
/// A whole HTML document.
std::string reportHtml(const Report& report);
/// One table as HTML.
std::string tableHtml(const ReportBlock& table);
/// Found, planned and measured side by side.
ReportBlock comparisonTable(const Evaluation& evaluation);
/// The same readings of every unit of a batch side by side, with the spread between them; no rows without
/// readings.
ReportBlock unitsTable(const Job& job, const Evaluation& evaluation);
/// "27.44 to 27.97 V", "below 10.00 V".
std::string windowWords(const Asked& asked);
/// `{html}` of a job, for `offshoot-calc job.report`.
Json jobReport(const Json& input);

} // namespace offshoot
