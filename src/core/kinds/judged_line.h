// What was judged, in words, for pages that list it.
#pragma once

#include "core/judge/consequences.h"
#include "core/values/verdict.h"

#include <string>
#include <vector>

namespace offshoot {

struct JudgedLine
{
    std::string text;
    Verdict verdict;
};

/// Rows as lines, worst first.
std::vector<JudgedLine> judgedLines(std::vector<ConsequenceRow> rows);

} // namespace offshoot
