#include "core/calculate/fit_place.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <tuple>

namespace offshoot {

namespace {

/// Lengths compare, and tie, within a nanometre.
constexpr double same_m = 1e-9;
constexpr double most_places = 4e6;

struct Interval
{
    double low;
    double high;
};

/// Gap between two of them, negative where they overlap.
double gap(const Interval& a, const Interval& b) { return std::max(a.low - b.high, b.low - a.high); }

using Box = std::array<Interval, 3>;

Box boxOf(const NamedBox& b)
{
    return {Interval{b.x_m, b.x_m + b.dx_m}, Interval{b.y_m, b.y_m + b.dy_m},
            Interval{b.z_m, b.z_m + b.dz_m}};
}

double separation(const Box& a, const Box& b)
{
    return std::max({gap(a[0], b[0]), gap(a[1], b[1]), gap(a[2], b[2])});
}

struct Point
{
    double x;
    double y;
};

/// A point of the unit after a turn, counter-clockwise from above, with its outline back at the corner.
Point turned(const Point& p, std::int64_t turn, const BoxSize& unit)
{
    switch (turn) {
    case 90:
        return {unit.y_m - p.y, p.x};
    case 180:
        return {unit.x_m - p.x, unit.y_m - p.y};
    case 270:
        return {p.y, unit.x_m - p.x};
    default:
        return p;
    }
}

Box turned(const Box& box, std::int64_t turn, const BoxSize& unit)
{
    const Point a = turned(Point{box[0].low, box[1].low}, turn, unit);
    const Point b = turned(Point{box[0].high, box[1].high}, turn, unit);
    return {Interval{std::min(a.x, b.x), std::max(a.x, b.x)},
            Interval{std::min(a.y, b.y), std::max(a.y, b.y)}, box[2]};
}

Box moved(Box box, double x, double y)
{
    box[0] = {box[0].low + x, box[0].high + x};
    box[1] = {box[1].low + y, box[1].high + y};
    return box;
}

/// The unit in one turn, not yet moved.
struct TurnedUnit
{
    std::int64_t turn;
    Box outline;
    std::vector<Box> zones;
    std::vector<RoundHole> holes;
};

TurnedUnit turnedUnit(const FitPlaceInput& in, std::int64_t turn)
{
    const PlacedUnit& unit = in.unit;
    TurnedUnit out{.turn = turn, .outline = {}, .zones = {}, .holes = {}};
    const auto raised = [&](Box box) {
        box[2] = {box[2].low + in.standoff_m, box[2].high + in.standoff_m};
        return turned(box, turn, unit.size);
    };
    out.outline =
        raised({Interval{0, unit.size.x_m}, Interval{0, unit.size.y_m}, Interval{0, unit.size.z_m}});
    for (const NamedBox& zone : unit.zones)
        out.zones.push_back(raised(boxOf(zone)));
    for (const RoundHole& hole : unit.holes) {
        const Point at = turned(Point{hole.x_m, hole.y_m}, turn, unit.size);
        out.holes.push_back({at.x, at.y, hole.d_m});
    }
    return out;
}

/// How many multiples of the step keep it inside along one axis: more than an integer holds where the step is
/// fine.
double placesAlong(double room_m, double size_m, double step_m)
{
    const double left_m = room_m - size_m;
    return left_m < -same_m ? 0 : std::floor((left_m + same_m) / step_m) + 1;
}

/// What decides the order of two places. Turn, row and column make it strict.
struct Rank
{
    int badness;
    std::int64_t reused;
    bool spoils;
    double slack; ///< whole nanometres: of a room of any size
    std::int64_t turn;
    std::int64_t row;
    std::int64_t column;

    auto key() const { return std::tuple(badness, -reused, spoils, -slack, turn, row, column); }
    bool operator<(const Rank& other) const { return key() < other.key(); }
};

class Placer
{
public:
    explicit Placer(const FitPlaceInput& in)
        : m_in(in)
    {
        for (const NamedBox& box : in.keep_out)
            m_keep_out.push_back(boxOf(box));
        for (std::size_t i = 0; i < in.plate_holes.size(); ++i)
            m_by_x.push_back(i);
        std::ranges::stable_sort(m_by_x, {}, [&](std::size_t i) { return in.plate_holes[i].x_m; });
        for (const RoundHole& hole : in.plate_holes)
            m_widest_m = std::max(m_widest_m, hole.d_m);
    }

    FitPlaceResult run()
    {
        FitPlaceResult out{.options = {}, .places = 0, .over = tooLarge(), .verdict = Verdict::Breaks};
        for (const std::int64_t turn : m_in.turns)
            out.places += search(turnedUnit(m_in, turn));
        std::sort(m_best.begin(), m_best.end());
        for (const Rank& rank : m_best)
            out.options.push_back(placing(turnedUnit(m_in, rank.turn),
                                          static_cast<double>(rank.column) * m_in.step_m,
                                          static_cast<double>(rank.row) * m_in.step_m));
        if (!out.options.empty())
            out.verdict = out.options.front().verdict;
        return out;
    }

    Placing placing(const TurnedUnit& unit, double x_m, double y_m) const
    {
        const Clearance clear = clearance(unit, x_m, y_m);
        Placing out{.turn = unit.turn,
                    .x_m = x_m,
                    .y_m = y_m,
                    .slack_m = clear.slack_m,
                    .nearest = nameOf(clear.nearest),
                    .blocked_zones = {},
                    .reused = 0,
                    .drill = {},
                    .verdict = Verdict::Fits};
        for (std::size_t i = 0; i < unit.zones.size(); ++i)
            if (blocked(moved(unit.zones[i], x_m, y_m)))
                out.blocked_zones.push_back(m_in.unit.zones[i].name);
        out.verdict = verdictOf(clear.slack_m, !out.blocked_zones.empty());
        std::vector<std::size_t> used;
        std::vector<RoundHole> drilled;
        holes(unit, x_m, y_m, used, drilled);
        out.reused = static_cast<std::int64_t>(used.size());
        for (const RoundHole& hole : drilled)
            out.drill.push_back({hole, spoiled(hole, used)});
        return out;
    }

private:
    struct Clearance
    {
        double slack_m;
        std::size_t nearest; ///< four walls, the lid, then what is in the way
    };

    /// How far it is from the nearest; of equals the first counts.
    Clearance clearance(const TurnedUnit& unit, double x_m, double y_m) const
    {
        const Box box = moved(unit.outline, x_m, y_m);
        Clearance out{std::numeric_limits<double>::infinity(), 0};
        std::size_t at = 0;
        const auto meet = [&](double distance_m) {
            if (distance_m < out.slack_m - same_m)
                out = {distance_m, at};
            ++at;
        };
        meet(box[0].low);
        meet(m_in.inside.x_m - box[0].high);
        meet(box[1].low);
        meet(m_in.inside.y_m - box[1].high);
        meet(m_in.inside.z_m - box[2].high);
        for (const Box& other : m_keep_out)
            meet(separation(box, other));
        return out;
    }

    std::string nameOf(std::size_t nearest) const
    {
        static constexpr std::array<std::string_view, 5> own{"wall_left", "wall_right", "wall_front",
                                                             "wall_back", "lid"};
        return nearest < own.size() ? std::string(own.at(nearest))
                                    : m_in.keep_out.at(nearest - own.size()).name;
    }

    bool blocked(const Box& zone) const
    {
        const std::array<double, 3> inside{m_in.inside.x_m, m_in.inside.y_m, m_in.inside.z_m};
        for (std::size_t axis = 0; axis < inside.size(); ++axis)
            if (zone.at(axis).low < -same_m || zone.at(axis).high > inside.at(axis) + same_m)
                return true;
        return std::ranges::any_of(m_keep_out,
                                   [&](const Box& other) { return separation(zone, other) < -same_m; });
    }

    Verdict verdictOf(double slack_m, bool zone_blocked) const
    {
        if (slack_m >= m_in.clear_m - same_m && !zone_blocked)
            return Verdict::Fits;
        return slack_m >= -same_m ? Verdict::Tight : Verdict::Breaks;
    }

    /// Plate holes whose centre may lie within `reach` of x, by rising x.
    template <class See>
    void near(double x_m, double reach_m, See see) const
    {
        const auto x_of = [&](std::size_t i) { return m_in.plate_holes[i].x_m; };
        for (auto it = std::ranges::lower_bound(m_by_x, x_m - reach_m, {}, x_of);
             it != m_by_x.end() && x_of(*it) <= x_m + reach_m; ++it)
            see(*it);
    }

    static double distance(const RoundHole& a, const RoundHole& b)
    {
        return std::hypot(a.x_m - b.x_m, a.y_m - b.y_m);
    }

    /// Which plate holes serve the unit's, each once, the nearest first; the others have to be drilled.
    void holes(const TurnedUnit& unit, double x_m, double y_m, std::vector<std::size_t>& used,
               std::vector<RoundHole>& drilled) const
    {
        for (const RoundHole& own : unit.holes) {
            const RoundHole hole{own.x_m + x_m, own.y_m + y_m, own.d_m};
            std::optional<std::size_t> best;
            double best_m = 0;
            near(hole.x_m, m_in.tolerance_m + same_m, [&](std::size_t i) {
                const RoundHole& plate = m_in.plate_holes[i];
                const double d_m = distance(plate, hole);
                const bool serves = d_m <= m_in.tolerance_m + same_m && plate.d_m >= hole.d_m - same_m &&
                                    plate.d_m <= 2 * hole.d_m + same_m;
                if (!serves || std::ranges::find(used, i) != used.end())
                    return;
                const bool nearer = d_m < best_m - same_m;
                const bool as_near = d_m <= best_m + same_m;
                if (!best || nearer || (as_near && i < *best)) {
                    best = i;
                    best_m = d_m;
                }
            });
            if (best)
                used.push_back(*best);
            else
                drilled.push_back(hole);
        }
    }

    bool spoiled(const RoundHole& hole, const std::vector<std::size_t>& used) const
    {
        bool spoils = false;
        near(hole.x_m, 1.5 * hole.d_m + m_widest_m / 2, [&](std::size_t i) {
            const RoundHole& plate = m_in.plate_holes[i];
            const double d_m = distance(plate, hole);
            const bool drilled_out = plate.d_m < hole.d_m - same_m && d_m <= m_in.tolerance_m + same_m;
            if (!drilled_out && d_m - plate.d_m / 2 - hole.d_m / 2 < hole.d_m - same_m &&
                std::ranges::find(used, i) == used.end())
                spoils = true;
        });
        return spoils;
    }

    std::int64_t search(const TurnedUnit& unit)
    {
        const auto columns =
            static_cast<std::int64_t>(placesAlong(m_in.inside.x_m, unit.outline[0].high, m_in.step_m));
        const auto rows =
            static_cast<std::int64_t>(placesAlong(m_in.inside.y_m, unit.outline[1].high, m_in.step_m));
        std::vector<std::size_t> used;
        std::vector<RoundHole> drilled;
        for (std::int64_t row = 0; row < rows; ++row)
            for (std::int64_t column = 0; column < columns; ++column) {
                const double x_m = static_cast<double>(column) * m_in.step_m;
                const double y_m = static_cast<double>(row) * m_in.step_m;
                const double slack_m = clearance(unit, x_m, y_m).slack_m;
                const bool zone_blocked = std::ranges::any_of(
                    unit.zones, [&](const Box& zone) { return blocked(moved(zone, x_m, y_m)); });
                Rank rank{.badness = badness(verdictOf(slack_m, zone_blocked)),
                          .reused = static_cast<std::int64_t>(unit.holes.size()),
                          .spoils = false,
                          .slack = std::round(slack_m / same_m),
                          .turn = unit.turn,
                          .row = row,
                          .column = column};
                if (!wanted(rank))
                    continue; // not even if every hole served it
                used.clear();
                drilled.clear();
                holes(unit, x_m, y_m, used, drilled);
                rank.reused = static_cast<std::int64_t>(used.size());
                rank.spoils =
                    std::ranges::any_of(drilled, [&](const RoundHole& hole) { return spoiled(hole, used); });
                if (wanted(rank))
                    keep(rank);
            }
        return rows * columns;
    }

    bool wanted(const Rank& rank) const
    {
        return m_best.size() < static_cast<std::size_t>(m_in.limit) || rank < m_best.front();
    }

    /// The best so far as a heap, the worst of them at its top.
    void keep(const Rank& rank)
    {
        if (m_best.size() == static_cast<std::size_t>(m_in.limit)) {
            std::pop_heap(m_best.begin(), m_best.end());
            m_best.pop_back();
        }
        m_best.push_back(rank);
        std::push_heap(m_best.begin(), m_best.end());
    }

    BoxSize tooLarge() const
    {
        const auto over = [](double size_m, double room_m) { return std::max(0.0, size_m - room_m); };
        std::optional<BoxSize> least;
        std::vector<std::int64_t> turns = m_in.turns;
        std::ranges::sort(turns);
        for (const std::int64_t turn : turns) {
            const Box box = turnedUnit(m_in, turn).outline;
            const BoxSize here{over(box[0].high + 2 * m_in.clear_m, m_in.inside.x_m),
                               over(box[1].high + 2 * m_in.clear_m, m_in.inside.y_m),
                               over(box[2].high + m_in.clear_m, m_in.inside.z_m)};
            if (!least || here.x_m + here.y_m < least->x_m + least->y_m - same_m)
                least = here;
        }
        return *least;
    }

    const FitPlaceInput& m_in;
    std::vector<Box> m_keep_out;
    std::vector<std::size_t> m_by_x; ///< plate holes
    double m_widest_m = 0;
    std::vector<Rank> m_best;
};

double placesIn(const FitPlaceInput& in)
{
    double sum = 0;
    for (const std::int64_t turn : in.turns) {
        const bool across = turn == 90 || turn == 270;
        const double x_m = across ? in.unit.size.y_m : in.unit.size.x_m;
        const double y_m = across ? in.unit.size.x_m : in.unit.size.y_m;
        sum += placesAlong(in.inside.x_m, x_m, in.step_m) * placesAlong(in.inside.y_m, y_m, in.step_m);
    }
    return sum;
}

/// Something in the way.
struct KeepOut : NamedBox
{};
void fields(Fields& f, KeepOut& value)
{
    f.need("name", value.name);
    f.need("x_m", value.x_m, range::not_negative);
    f.need("y_m", value.y_m, range::not_negative);
    f.may("z_m", value.z_m, range::not_negative);
    f.need("dx_m", value.dx_m, range::positive);
    f.need("dy_m", value.dy_m, range::positive);
    f.need("dz_m", value.dz_m, range::positive);
}

void keepOuts(Fields& f, std::vector<NamedBox>& list, std::size_t most)
{
    std::vector<KeepOut> boxes;
    for (const NamedBox& box : list)
        boxes.push_back({box});
    f.may("keep_out", boxes, Lengths{0, most});
    f.demandUniqueNames("keep_out", boxes);
    list.assign(boxes.begin(), boxes.end());
}

} // namespace

void fields(Fields& f, PlacedUnit& value)
{
    constexpr std::size_t most_holes = 50;
    constexpr std::size_t most_zones = 20;
    fields(f, value.size);
    f.may("holes", value.holes, Lengths{0, most_holes});
    f.may("zones", value.zones, Lengths{0, most_zones});
    f.demandUniqueNames("zones", value.zones);
    for (std::size_t i = 0; i < value.holes.size(); ++i)
        f.demand(
            within(value.holes[i].x_m, 0, value.size.x_m) && within(value.holes[i].y_m, 0, value.size.y_m),
            ErrorCode::Inconsistent, "holes", "hole " + std::to_string(i + 1) + " lies outside the unit");
}

void fields(Fields& f, FitPlaceInput& in)
{
    constexpr std::size_t most_boxes = 100;
    constexpr std::size_t most_plate_holes = 200;
    constexpr std::int64_t most_options = 100;
    f.need("case", in.inside);
    keepOuts(f, in.keep_out, most_boxes);
    f.need("unit", in.unit);
    f.may("clear_m", in.clear_m, range::not_negative);
    f.may("standoff_m", in.standoff_m, range::not_negative);
    f.may("plate_holes", in.plate_holes, Lengths{0, most_plate_holes});
    f.may("tolerance_m", in.tolerance_m, range::not_negative);
    f.may("step_m", in.step_m, range::positive);
    f.may("turns", in.turns, 0, 270);
    f.may("limit", in.limit, 1, most_options);
    if (!f.reading())
        return;
    f.demand(!in.turns.empty() && in.turns.size() <= 4, ErrorCode::OutOfRange, "turns",
             "one to four turns are wanted");
    for (std::size_t i = 0; i < in.turns.size(); ++i) {
        f.demand(in.turns[i] % 90 == 0, ErrorCode::OutOfRange, "turns", "a turn is 0, 90, 180 or 270");
        f.demand(std::ranges::count(in.turns, in.turns[i]) == 1, ErrorCode::Inconsistent, "turns",
                 "a turn stands here twice");
    }
    f.demand(placesIn(in) <= most_places, ErrorCode::OutOfRange, "step_m",
             "so fine a step asks for more than four million places");
}

void fields(Fields& f, DrilledHole& out)
{
    fields(f, out.hole);
    f.need("spoiled", out.spoiled);
}

void fields(Fields& f, Placing& out)
{
    f.need("turn", out.turn, 0, 270);
    f.need("x_m", out.x_m);
    f.need("y_m", out.y_m);
    f.need("slack_m", out.slack_m);
    f.need("nearest", out.nearest);
    f.may("blocked_zones", out.blocked_zones);
    f.need("reused", out.reused, 0, 50);
    f.need("drill", out.drill);
    f.need("verdict", out.verdict);
}

void fields(Fields& f, FitPlaceResult& out)
{
    f.need("options", out.options);
    f.need("places", out.places, 0, static_cast<std::int64_t>(most_places));
    f.need("over_m", out.over);
    f.need("verdict", out.verdict);
}

FitPlaceResult fitPlace(const FitPlaceInput& in) { return Placer(in).run(); }

Placing placeAt(const FitPlaceInput& in, std::int64_t turn, double x_m, double y_m)
{
    return Placer(in).placing(turnedUnit(in, turn), x_m, y_m);
}

} // namespace offshoot
