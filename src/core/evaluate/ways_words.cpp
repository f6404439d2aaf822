// The ways held against each other, in words: their names, the answer in a sentence, what tells two apart.
#include "core/evaluate/ways.h"
#include "core/values/figures.h"
#include "core/values/format.h"
#include "core/values/typed_words.h"

#include <algorithm>
#include <array>

namespace offshoot {

std::string_view wayWords(Way way)
{
    static constexpr std::array<std::string_view, Words<Way>::list.size()> words{
        "As it is",
        "Turn the trimmer",
        "Retune the divider",
        "By a temporary trimmer",
        "Rewind",
        "A dummy load",
        "Another current limit",
        "Thicker wire",
        "Remote sense",
        "Side by side",
        "Stack the units",
        "Connect the primaries anew",
        "A transformer in front",
        "Rework the rectifier",
        "Limit the surge",
        "Put another unit in its place",
        "A module for its regulator"};
    return words.at(static_cast<std::size_t>(way));
}

std::string wayName(const WorkedWay& way)
{
    std::string name(wayWords(way.way));
    if (way.way == Way::Divider && way.plan && way.plan->rewind)
        name += ", and rewind";
    if (way.way == Way::Divider && way.plan && way.plan->dummy_load)
        name += ", with a dummy load";
    return name;
}

WaysSentence waysSentence(const Job& job, const std::vector<WorkedWay>& ways)
{
    WaysSentence made;
    const auto& target = job.need.target;
    if (!target) {
        made.answer = "Say in Need what the load wants: then every way is worked out.";
        return made;
    }
    const auto does = [](const WorkedWay& way) {
        return way.concerned && way.way != Way::AsFound &&
               (way.verdict == Verdict::Fits || way.verdict == Verdict::Tight);
    };
    const auto as_found = std::ranges::find(ways, Way::AsFound, &WorkedWay::way);
    const auto count = std::ranges::count_if(ways, does);
    const bool known = as_found != ways.end() && as_found->reaches;
    const std::string from = known ? "from " + volts(as_found->reaches->min_v) + " " : "";
    if (as_found != ways.end() && (as_found->verdict == Verdict::Fits || as_found->verdict == Verdict::Tight))
        made.answer =
            "It serves as it is: " + volts(target->min_v) + " to " + volts(target->max_v) + " are wanted.";
    else if (count == 0)
        made.answer = "No way " + from + "to " + volts(target->v) + " is clear yet: each says what stops it.";
    else
        made.answer = std::to_string(count) + (count == 1 ? " way " : " ways ") + from + "to " +
                      volts(target->v) + " would do.";
    // What is still to be read of the first two.
    std::vector<std::string> wanted;
    int looked = 0;
    for (const WorkedWay& way : ways) {
        if (!way.concerned || way.verdict == Verdict::Breaks || way.way == Way::AsFound || ++looked > 2)
            continue;
        for (const Unread& unread : way.needs)
            if (std::ranges::find(wanted, unread.what) == wanted.end() && wanted.size() < 2)
                wanted.push_back(unread.what);
    }
    for (const std::string& what : wanted)
        made.decides += (made.decides.empty() ? "Still to read for the first ones: " : ", ") + what;
    if (!made.decides.empty())
        made.decides += '.';
    return made;
}

namespace {

std::string_view verb(Verdict verdict)
{
    switch (verdict) {
    case Verdict::Fits:
        return "fits";
    case Verdict::Tight:
        return "is tight";
    case Verdict::Breaks:
        return "breaks";
    case Verdict::Unknown:
        break;
    }
    return "is not known yet";
}

std::string whyPicked(const WorkedWay& pick, const WorkedWay& other)
{
    if (pick.verdict != other.verdict) {
        if (!other.stopped_by.empty())
            return "the other is stopped: " + other.stopped_by;
        return "it " + std::string(verb(pick.verdict)) + ", the other " + std::string(verb(other.verdict));
    }
    if (!pick.plan != !other.plan)
        return "the other is stopped: " + (pick.plan ? other : pick).stopped_by;
    if (pick.opens_mains_side != other.opens_mains_side)
        return "it leaves the mains side shut";
    constexpr double notable_min = 5;
    std::string why = other.minutes - pick.minutes >= notable_min
                          ? "about " + significant(other.minutes - pick.minutes, 2) + " min less"
                          : "they come to the same here: take the one you know";
    if (pick.reversible && !other.reversible)
        why += ", and it can be undone";
    return why;
}

} // namespace

std::vector<WaySchool> waySchools(const std::vector<WorkedWay>& ways)
{
    using enum Way;
    static constexpr std::array<std::pair<Way, Way>, 5> questions{{{Divider, Rewind},
                                                                   {Divider, Swap},
                                                                   {Windings, ExternalTransformer},
                                                                   {Wire, Sense},
                                                                   {SideBySide, Swap}}};
    std::vector<WaySchool> schools;
    for (const auto& question : questions) {
        const Way one = question.first;
        const Way another = question.second;
        const auto first = std::ranges::find_if(
            ways, [&](const WorkedWay& way) { return way.way == one || way.way == another; });
        if (first == ways.end())
            continue;
        const auto second = std::ranges::find(ways, first->way == one ? another : one, &WorkedWay::way);
        if (second == ways.end() || !first->concerned || !second->concerned)
            continue;
        schools.push_back({first->way, second->way, whyPicked(*first, *second)});
    }
    return schools;
}

std::string schoolWords(const WaySchool& school)
{
    return std::string(wayWords(school.pick)) + " or " + lowered(wayWords(school.other)) + "? " +
           std::string(wayWords(school.pick)) + ": " + school.why + ".";
}

} // namespace offshoot
