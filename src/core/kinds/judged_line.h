// What was judged, in words, for pages that list it.
#pragma once

#include "core/values/verdict.h"

#include <string>

namespace offshoot {

struct JudgedLine
{
    std::string text;
    Verdict verdict;
};

} // namespace offshoot
