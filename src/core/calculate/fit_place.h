// `fit.place`: does a unit go into a case, where, and which of the old holes serve it? Boxes at right angles;
// lengths in metres from the case's inner corner, x to the right, y to the back, z up.
#pragma once

#include "core/supply/shelf_unit.h"
#include "core/values/verdict.h"

#include <string>
#include <vector>

namespace offshoot {

/// As it lies at turn 0, from its own corner.
struct PlacedUnit
{
    BoxSize size;
    std::vector<RoundHole> holes; ///< in its base; at most 50
    std::vector<NamedBox> zones;  ///< room before terminals, fan; at most 20
};
void fields(Fields& f, PlacedUnit& value);

struct FitPlaceInput
{
    BoxSize inside; ///< of the case
    std::vector<NamedBox> keep_out = {};
    PlacedUnit unit;
    double clear_m = 0.005;
    double standoff_m = 0; ///< its base above the floor
    std::vector<RoundHole> plate_holes = {};
    double tolerance_m = 0.0005; ///< a hole whose centre lies so near is the same
    double step_m = 0.001;
    std::vector<std::int64_t> turns = {0, 90, 180, 270}; ///< degrees counter-clockwise, seen from above
    std::int64_t limit = 5;
};
void fields(Fields& f, FitPlaceInput& in);

struct DrilledHole
{
    RoundHole hole;
    bool spoiled; ///< an old hole beside it leaves too little metal
};
void fields(Fields& f, DrilledHole& out);

struct Placing
{
    std::int64_t turn;
    double x_m;
    double y_m;
    double slack_m;      ///< to whatever is nearest
    std::string nearest; ///< name of a keep-out, or wall_left, wall_right, wall_front, wall_back, lid
    std::vector<std::string> blocked_zones;
    std::int64_t reused; ///< old holes that serve
    std::vector<DrilledHole> drill;
    Verdict verdict;
};
void fields(Fields& f, Placing& out);

struct FitPlaceResult
{
    std::vector<Placing> options; ///< best first
    std::int64_t places;          ///< how many were looked at
    BoxSize over;                 ///< how much it is too large for the empty case
    Verdict verdict;
};
void fields(Fields& f, FitPlaceResult& out);

/// Every multiple of the step in every turn is looked at: at most four million places.
FitPlaceResult fitPlace(const FitPlaceInput& in);
/// One place by itself, judged as the search does; it may lie outside the case.
Placing placeAt(const FitPlaceInput& in, std::int64_t turn, double x_m, double y_m);

} // namespace offshoot
