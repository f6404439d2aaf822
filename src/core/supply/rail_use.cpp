#include "core/supply/rail_use.h"

#include <algorithm>

namespace offshoot {

bool turns(const Supply& supply, const Trimmer& trimmer, const Rail& rail)
{
    const Rail& first = supply.rails.front();
    return trimmer.rails.empty() ? &rail == &first || movesWith(rail, first)
                                 : std::ranges::count(trimmer.rails, rail.name) > 0;
}

RailUse railUse(const Rail& rail)
{
    RailUse made;
    for (const RailUser& user : rail.users)
        made.drawn_a += user.typical_a.value_or(0);
    made.complete = !rail.users.empty() && typicalCurrent(rail).has_value();
    if (!rail.i_rated_a)
        return made;
    made.use = made.drawn_a / *rail.i_rated_a;
    made.verdict = judgeUse(*made.use, default_bounds);
    if (!made.complete && made.verdict != Verdict::Breaks)
        made.verdict = Verdict::Unknown;
    return made;
}

} // namespace offshoot
