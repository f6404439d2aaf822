#include "core/kinds/judged_line.h"

#include <algorithm>

namespace offshoot {

std::vector<JudgedLine> judgedLines(std::vector<ConsequenceRow> rows)
{
    std::ranges::stable_sort(rows, [](const ConsequenceRow& a, const ConsequenceRow& b) {
        return badness(a.verdict) > badness(b.verdict);
    });
    std::vector<JudgedLine> lines;
    for (const ConsequenceRow& row : rows) {
        std::string text = row.part + ", " + row.quantity + ": " + row.working;
        for (const std::string& assumed : row.assumed)
            text += "; assumed: " + assumed;
        lines.push_back({std::move(text), row.verdict});
    }
    return lines;
}

} // namespace offshoot
