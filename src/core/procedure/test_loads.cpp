#include "core/procedure/test_loads.h"

#include "core/judge/consequences.h"
#include "core/values/format.h"
#include "core/values/preferred.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace offshoot {

namespace {

/// A resistor of `ohm` at `v_v`, rated for half as much again as it takes at `highest_v`.
TestLoad loadAt(double ohm, double v_v, double highest_v)
{
    constexpr double room = 1.5;
    static constexpr std::array<double, 14> sold_w{0.25, 0.5, 1,   2,   5,   10,   25,
                                                   50,   100, 200, 300, 500, 1000, 2000};
    const double wanted_w = room * highest_v * highest_v / ohm;
    const auto rated = std::ranges::find_if(sold_w, [&](double w) { return w >= wanted_w; });
    return {.ohm = ohm,
            .power_w = v_v * v_v / ohm,
            .rated_w = rated == sold_w.end() ? std::ceil(wanted_w / 1000) * 1000 : *rated,
            .current_a = v_v / ohm};
}

/// With `first` as the first unit of the job, at `v_v` each.
LoadLevel levelOf(const Job& job, const Supply& first, std::optional<double> v_v)
{
    LoadLevel level{
        .v_v = v_v, .wanted_a = job.need.current_a, .bears_a = bearable(first, first.rails.front(), v_v)};
    const auto& join = job.plan.join;
    if (level.wanted_a && join && join->kind == Joining::SideBySide)
        *level.wanted_a /= static_cast<double>(unitCount(job));
    for (const Supply& other : job.others)
        if (const auto bears_a = bearable(other, other.rails.front(), v_v))
            level.bears_a = std::min(level.bears_a.value_or(*bears_a), *bears_a);
    return level;
}

} // namespace

std::optional<double> bearable(const Supply& supply, const Rail& rail, std::optional<double> v_v)
{
    const auto allowed_a = allowedCurrent(supply, rail, v_v);
    return allowed_a ? allowed_a : rail.i_rated_a;
}

std::string TestLoad::text() const
{
    return formatOhms(ohm) + ", " + formatValue(rated_w, Quantity::Power) + " (" +
           formatValue(current_a, Quantity::Current, 2) + ", " + formatValue(power_w, Quantity::Power, 2) +
           ")";
}

TestLoad testLoad(double v_v, double current_a, double most_a)
{
    const double wanted_ohm = v_v / current_a;
    double ohm = wanted_ohm;
    double nearest = std::numeric_limits<double>::infinity();
    for (const double each : valuesWithin(Series::E24, wanted_ohm / 1.2, wanted_ohm * 1.2))
        if (const double off = std::abs(std::log(each / wanted_ohm)); off < nearest && v_v / each <= most_a) {
            nearest = off;
            ohm = each;
        }
    return loadAt(ohm, v_v, v_v);
}

std::optional<double> LoadLevel::fullAmps() const
{
    if (!wanted_a || !bears_a)
        return wanted_a ? wanted_a : bears_a;
    return std::min(*wanted_a, *bears_a);
}

bool LoadLevel::held() const { return wanted_a && bears_a && *wanted_a > *bears_a; }

std::optional<TestLoad> LoadLevel::load(double share) const
{
    const auto full_a = fullAmps();
    if (!v_v || !full_a || share <= 0)
        return std::nullopt;
    // A peak is short, and asked of the unit as the need has it.
    const double most_a = std::max(1.0, share) * bears_a.value_or(std::numeric_limits<double>::infinity());
    return testLoad(*v_v, share * *full_a, most_a);
}

bool LoadLevel::servedBy(double ohm, double share) const
{
    constexpr double near_share = 0.25;
    const auto full_a = fullAmps();
    if (!v_v || !full_a)
        return false;
    const double drawn_a = *v_v / ohm;
    return std::abs(drawn_a / (share * *full_a) - 1) <= near_share &&
           (!bears_a || drawn_a <= std::max(1.0, share) * *bears_a);
}

std::optional<TestLoad> TestLoads::load(double share, bool changed) const
{
    const auto before = found.load(share);
    const auto after = planned.load(share);
    if (before && after && found.servedBy(after->ohm, share))
        return loadAt(after->ohm, *at(changed).v_v, std::max(*found.v_v, *planned.v_v));
    return changed ? after : before;
}

TestLoads testLoadsOf(const Job& job, const Supply& planned)
{
    const auto target = unitTarget(job);
    const auto given_v = target ? std::optional(target->v) : std::nullopt;
    const Rail& rail = job.found.rails.front();
    return {.found = levelOf(job, job.found, rail.v_v ? rail.v_v : given_v),
            .planned = levelOf(job, planned, given_v ? given_v : planned.rails.front().v_v)};
}

} // namespace offshoot
