// What the load wants, and what there is to feed it from.
#pragma once

#include "core/calculate/divider_search.h"
#include "core/job/aim.h"
#include "core/supply/supply.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// What is wanted of a rail besides the one under change.
struct RailNeed
{
    std::string rail;
    double min_v;
    double max_v;
    Json unknown = {};
    bool operator==(const RailNeed&) const = default;
};
void fields(Fields& f, RailNeed& value);

/// What the load keeps when its voltage changes.
enum class LoadDraw { Current, Power, Resistance };
template <>
struct Words<LoadDraw>
{
    static constexpr std::array<std::string_view, 3> list{"current", "power", "resistance"};
};

/// What one rail gives in one state of the load ("standby", "warming up"), as it was measured.
struct StateDraw
{
    std::string state;
    std::string rail;
    double usual_a = 0;
    std::optional<double> least_a = {}; ///< absent: usual
    std::optional<double> peak_a = {};  ///< absent: usual
    std::optional<double> peak_s = {};  ///< how long the peak lasts
    double u_a = 0;                     ///< the meter's doubt
    Json unknown = {};
    bool operator==(const StateDraw&) const = default;
};
void fields(Fields& f, StateDraw& value);

/// What the load wants, and what there is to feed it from.
struct Need
{
    std::optional<Aim> aim = {};
    std::optional<Target> target = {};
    std::optional<double> current_a = {}; ///< usual
    std::optional<double> least_a = {};
    std::optional<double> peak_a = {};
    LoadDraw draws = LoadDraw::Current;
    std::vector<RailNeed> others = {};
    std::vector<StateDraw> measured = {}; ///< each rail once in a state
    std::optional<double> ripple_max_v = {};
    Mains mains = {};
    Load load = {};
    std::string why = {}; ///< where the window comes from
    std::string must_not_change = {};
    Json unknown = {};
    // Compiled once, in need.cpp.
    Need();
    Need(const Need&);
    Need(Need&&) noexcept;
    Need& operator=(const Need&);
    Need& operator=(Need&&) noexcept;
    ~Need();
    bool operator==(const Need&) const;
};
void fields(Fields& f, Need& value);
/// What to do where nobody said which mains there is.
inline constexpr const char* mains_unsaid = "Say in Need which mains there is.";
/// Where something of the mains side is asked of a unit that has none.
inline constexpr const char* no_mains_side = "It runs on DC: no mains reaches it.";

} // namespace offshoot
