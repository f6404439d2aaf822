// What is said at the end of a rehearsal: the fault and the reading that told of it, wrong moves, what was
// left out, the time, and what the unit truly was.
#pragma once

#include "core/rehearse/procedure_play.h"

namespace offshoot {

struct RehearsalEnd
{
    std::string fault;               ///< "Nothing was wrong with it." or what was
    std::string guessed;             ///< whether the person named it; empty where nobody tried
    std::string told_by;             ///< the first reading outside its window; empty where there was none
    std::vector<std::string> wrongs; ///< each kind once, with what it would have done and how often
    std::vector<std::string> missed; ///< titles of the steps not carried out
    std::string time;
    std::vector<std::pair<std::string, std::string>> truth; ///< name and value
};
/// `guess`: what the person took the fault for.
RehearsalEnd rehearsalEnd(const RehearsedJob& rehearsed, const std::optional<UnitFault>& guess = {});

/// "A part of the divider was open: added."
std::string faultSentence(const UnitFault& fault);
/// "drained bulk through 4k7 for 5 s".
std::string moveText(const BenchMove& move);
/// "27.69 V", "overload".
std::string readingText(const BenchReading& reading);
/// Where a reading was to be: "26.95 V to 28.51 V", "at most 10 V"; empty without an end.
std::string windowText(const ReadingWindow& window, Quantity quantity);
/// Where it was read: "bulk", "bulk #2".
std::string pointText(const BenchAnswer& answer);

} // namespace offshoot
