// Where the planned units sit in the case: their clearances, their holes, their screws, their mains
// terminals.
#pragma once

#include "core/calculate/fit_place.h"
#include "core/job/job.h"
#include "core/kinds/judged_line.h"
#include "core/kinds/school.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// Creepage and clearance guides of equipment on 230 V mains with basic insulation to earthed metal and
/// reinforced insulation to what can be touched or to an output; the local standard rules.
inline constexpr double to_earthed_m = 0.006;
inline constexpr double to_touched_m = 0.008;

/// What a mains terminal comes near to.
struct NearThing
{
    std::string terminal; ///< of which unit's mains side
    std::string what;     ///< "left wall", "lid", "inlet", "5 V out of Oyster 40"
    double distance_m;
    double wanted_m;
    TerminalSpot from; ///< where both are, in the case
    TerminalSpot to;
};

/// A gap seen from above, with the line that measures it.
struct FitGap
{
    std::string what;
    double m;
    double from_x_m;
    double from_y_m;
    double to_x_m;
    double to_y_m;
};

/// The fixing screws of one unit.
struct FixingScrew
{
    std::string thread; ///< "M3"
    double length_m;    ///< one that can be bought; 0 where none fits between the bounds
    double least_m;     ///< floor, standoff and three millimetres of thread, or as much as it takes
    double most_m;      ///< with as much as it takes: longer ones meet what is inside
    bool assumed;       ///< that it takes five millimetres; its shelf entry does not say
};

/// One unit of the plan, in the case as measured.
struct FitView
{
    std::optional<FitPlaceInput> input; ///< nothing without the case or the unit's size
    std::optional<PlacedAt> place;      ///< as planned, else the best there is
    bool placed = false;                ///< by the plan
    std::optional<Placing> now;         ///< of that place
    std::vector<FitGap> gaps;           ///< to the left, the right, the front, the back
    std::vector<NearThing> near;        ///< every mains terminal's nearest, nearest first
    std::optional<FixingScrew> screw;
    std::vector<JudgedLine> judged; ///< clearances, zones, mains terminals
    School school;                  ///< by its own holes or on an adapter plate
    std::string sentence;
};
/// `unit` counts from 0. Without a place in the plan the best one is searched: up to 50 ms.
FitView fitView(const Job& job, std::size_t unit);
/// The same with a place that is only looked at.
FitView fitAt(const Job& job, std::size_t unit, const PlacedAt& place);
/// Nothing where it cannot be searched.
std::optional<PlacedAt> bestPlace(const Job& job, std::size_t unit);

/// "left wall", "lid", or the name of what stays in the case.
std::string nearestWords(const std::string& nearest);
/// A spot of the unit as it lies in the case.
TerminalSpot placedSpot(const ReplacingUnit& unit, const PlacedAt& place, const TerminalSpot& spot);
/// A box of the unit, its zones too, as it lies in the case.
NamedBox placedBox(const ReplacingUnit& unit, const PlacedAt& place, const NamedBox& box);
/// The unit itself.
NamedBox placedOutline(const ReplacingUnit& unit, const PlacedAt& place);
/// Where a terminal is; nothing where nobody said.
const TerminalSpot* spotOf(const ShelfEntry& entry, const std::string& terminal);
/// Fits from the wanted distance on, a nanometre less as well.
Verdict nearVerdict(const NearThing& near);

} // namespace offshoot
