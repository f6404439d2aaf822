#include "core/kinds/replace/fit_view.h"

#include "core/calculate/wiring_map.h"
#include "core/kinds/replace/wanted.h"
#include "core/values/figures.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace offshoot {

namespace {

struct FloorTurn
{
    double x_m;
    double y_m;
};

/// Counter-clockwise from above, the outline back at its corner.
FloorTurn turned(double x_m, double y_m, std::int64_t turn, const BoxSize& size)
{
    switch (turn) {
    case 90:
        return {size.y_m - y_m, x_m};
    case 180:
        return {size.x_m - x_m, size.y_m - y_m};
    case 270:
        return {y_m, size.x_m - x_m};
    default:
        return {x_m, y_m};
    }
}

bool isMains(const std::string& function)
{
    return function == line_function || function == neutral_function;
}

/// The nearest point of a box.
TerminalSpot nearestPoint(const NamedBox& box, const TerminalSpot& from)
{
    return {box.name, std::clamp(from.x_m, box.x_m, box.x_m + box.dx_m),
            std::clamp(from.y_m, box.y_m, box.y_m + box.dy_m),
            std::clamp(from.z_m, box.z_m, box.z_m + box.dz_m)};
}

double distance(const TerminalSpot& a, const TerminalSpot& b)
{
    return std::hypot(a.x_m - b.x_m, a.y_m - b.y_m, a.z_m - b.z_m);
}

std::array<TerminalSpot, 6> wallsFrom(const TerminalSpot& p, const BoxSize& inside)
{
    return {{{"left wall", 0, p.y_m, p.z_m},
             {"right wall", inside.x_m, p.y_m, p.z_m},
             {"front wall", p.x_m, 0, p.z_m},
             {"back wall", p.x_m, inside.y_m, p.z_m},
             {"floor", p.x_m, p.y_m, 0},
             {"lid", p.x_m, p.y_m, inside.z_m}}};
}

/// Other units as placed, with the room that they want, are in the way.
std::vector<NamedBox> otherUnits(const ReplacePlan& plan, std::size_t unit)
{
    std::vector<NamedBox> boxes;
    for (std::size_t i = 0; i < plan.units.size(); ++i) {
        const ReplacingUnit& other = plan.units[i];
        if (i == unit || !other.place || !other.entry.unit.size)
            continue;
        boxes.push_back(placedOutline(other, *other.place));
        boxes.back().name = unitLabel(plan, i);
        for (const NamedBox& zone : other.entry.zones) {
            boxes.push_back(placedBox(other, *other.place, zone));
            boxes.back().name = zone.name + " of " + unitLabel(plan, i);
        }
    }
    return boxes;
}

std::optional<FitPlaceInput> fitInput(const Job& job, std::size_t unit)
{
    const auto& space = job.found.space;
    const ReplacingUnit& own = job.plan.replace->units.at(unit);
    if (!space || !own.entry.unit.size)
        return std::nullopt;
    FitPlaceInput in{.inside = space->inside,
                     .unit = {*own.entry.unit.size, own.entry.holes, own.entry.zones},
                     .clear_m = space->clear_m,
                     .standoff_m = own.place ? own.place->standoff_m : PlacedAt{}.standoff_m,
                     .plate_holes = space->holes,
                     .limit = 1};
    std::ranges::transform(space->keep_out, std::back_inserter(in.keep_out), &KeptPart::box);
    in.keep_out.insert(in.keep_out.end(), space->vents.begin(), space->vents.end());
    const auto others = otherUnits(*job.plan.replace, unit);
    in.keep_out.insert(in.keep_out.end(), others.begin(), others.end());
    return in;
}

/// What the mains terminals of a unit come near to: walls, what stays and does not insulate, and the outputs
/// of another unit.
std::vector<NearThing> nearThings(const Job& job, std::size_t unit, const PlacedAt& place)
{
    const CaseSpace& space = *job.found.space;
    const ReplacePlan& plan = *job.plan.replace;
    const ReplacingUnit& own = plan.units.at(unit);
    const double wanted_m = space.earthed_metal ? to_earthed_m : to_touched_m;
    std::vector<NearThing> all;
    for (const NewTerminal& terminal : own.entry.terminals) {
        const TerminalSpot* spot = spotOf(own.entry, terminal.name);
        if (!isMains(terminal.function) || spot == nullptr)
            continue;
        const TerminalSpot from = placedSpot(own, place, *spot);
        std::optional<NearThing> nearest;
        const auto meet = [&](const TerminalSpot& to, double least_m) {
            const NearThing thing{terminal.name, to.terminal, distance(from, to), least_m, from, to};
            if (!nearest || thing.distance_m / thing.wanted_m < nearest->distance_m / nearest->wanted_m)
                nearest = thing;
        };
        for (const TerminalSpot& wall : wallsFrom(from, space.inside))
            meet(wall, wanted_m);
        for (const KeptPart& part : space.keep_out)
            if (part.surface != Surface::Insulating)
                meet(nearestPoint(part.box(), from), part.surface == Surface::AsCase         ? wanted_m
                                                     : part.surface == Surface::EarthedMetal ? to_earthed_m
                                                                                             : to_touched_m);
        for (std::size_t i = 0; i < plan.units.size(); ++i)
            for (const NewTerminal& other : plan.units[i].entry.terminals) {
                const TerminalSpot* at = spotOf(plan.units[i].entry, other.name);
                if (i == unit || !plan.units[i].place || at == nullptr || isMains(other.function) ||
                    other.function == earth_function)
                    continue;
                TerminalSpot to = placedSpot(plan.units[i], *plan.units[i].place, *at);
                to.terminal = other.name + " of " + unitLabel(plan, i);
                meet(to, to_touched_m);
            }
        all.push_back(*nearest);
    }
    std::ranges::stable_sort(all, {}, [](const NearThing& n) { return n.distance_m / n.wanted_m; });
    return all;
}

/// By the unit's holes: a clearance hole of d takes the largest thread below it (ISO 273, medium and fine).
std::optional<FixingScrew> screwFor(const ReplacingUnit& unit, const CaseSpace& space, double standoff_m)
{
    struct Thread
    {
        const char* name;
        double hole_m;
    };
    static constexpr std::array<Thread, 6> threads{
        {{"M2", 2.2e-3}, {"M2.5", 2.7e-3}, {"M3", 3.2e-3}, {"M4", 4.3e-3}, {"M5", 5.3e-3}, {"M6", 6.4e-3}}};
    static constexpr std::array<double, 13> sold_m{4e-3,  5e-3,  6e-3,  8e-3,  10e-3, 12e-3, 14e-3,
                                                   16e-3, 20e-3, 25e-3, 30e-3, 35e-3, 40e-3};
    constexpr double least_thread_m = 3e-3;
    constexpr double usual_depth_m = 5e-3; // an assumption
    const double most_thread_m = unit.entry.screw_depth_m.value_or(usual_depth_m);
    constexpr double same_m = 1e-9;
    if (unit.entry.holes.empty())
        return std::nullopt;
    const auto narrowest = std::ranges::min(unit.entry.holes, {}, &RoundHole::d_m).d_m;
    FixingScrew screw{.thread = threads.front().name,
                      .length_m = 0,
                      .least_m = 0,
                      .most_m = 0,
                      .assumed = !unit.entry.screw_depth_m};
    for (const Thread& thread : threads)
        if (thread.hole_m <= narrowest + same_m)
            screw.thread = thread.name;
    screw.least_m = space.floor_m + standoff_m + std::min(least_thread_m, most_thread_m);
    screw.most_m = space.floor_m + standoff_m + most_thread_m;
    for (const double length_m : sold_m)
        if (length_m >= screw.least_m - same_m && length_m <= screw.most_m + same_m)
            screw.length_m = length_m;
    return screw;
}

School mountingSchool(const FitView& view, const ReplacingUnit& unit)
{
    School school{"By its own holes or on an adapter plate", {}, 0, {}};
    if (!view.now || unit.entry.holes.empty())
        return school;
    const auto holes = static_cast<std::int64_t>(unit.entry.holes.size());
    const auto drilled = static_cast<std::int64_t>(view.now->drill.size());
    const auto spoiled = std::ranges::count_if(view.now->drill, &DrilledHole::spoiled);
    const std::string own = std::to_string(view.now->reused) + " of " + std::to_string(holes) +
                            " old holes serve, " + std::to_string(drilled) + " to drill" +
                            (spoiled > 0 ? ", " + std::to_string(spoiled) + " too near an old one" : "");
    school.sides = {{"Its own holes", own},
                    {"Adapter plate", "the case stays as it is; " + std::to_string(holes) +
                                          " holes in the plate, and the plate's thickness in height"}};
    school.pick = spoiled > 0 ? 1 : 0;
    school.why = spoiled > 0    ? "A hole beside an old one leaves too little metal."
                 : drilled == 0 ? "Nothing is to be drilled."
                                : "New holes stand clear of the old ones; a plate would only add height.";
    return school;
}

std::string fitSentence(const FitView& view)
{
    const Placing& now = *view.now;
    if (now.verdict == Verdict::Breaks)
        return "It does not go in there: " + nearestWords(now.nearest) + " is in its way by " +
               millimetres(-now.slack_m) + " mm.";
    std::string text = "It goes in";
    if (now.turn != 0)
        text += now.turn == 180 ? ", turned half round" : ", turned a quarter";
    text += ": " + millimetres(now.slack_m) + " mm to " + nearestWords(now.nearest);
    const auto holes = static_cast<std::int64_t>(view.input->unit.holes.size());
    if (holes > 0)
        text += ", " + std::to_string(now.reused) + " of " + std::to_string(holes) + " old holes serve";
    text += '.';
    for (const std::string& zone : now.blocked_zones)
        text += " No room for its " + zone + '.';
    if (!view.near.empty() && nearVerdict(view.near.front()) == Verdict::Breaks)
        text += " Its mains terminal " + view.near.front().terminal + " is only " +
                millimetres(view.near.front().distance_m) + " mm from " + view.near.front().what + '.';
    return text;
}

/// What lies on the way from one side of the unit, seen from above, at its height.
std::vector<FitGap> gapsOf(const FitPlaceInput& in, const NamedBox& unit)
{
    const auto meets = [](double low, double high, double from, double to) {
        return low < to && high > from;
    };
    const double x1 = unit.x_m + unit.dx_m;
    const double y1 = unit.y_m + unit.dy_m;
    const double middle_x = unit.x_m + unit.dx_m / 2;
    const double middle_y = unit.y_m + unit.dy_m / 2;
    FitGap left{"wall_left", unit.x_m, 0, middle_y, unit.x_m, middle_y};
    FitGap right{"wall_right", in.inside.x_m - x1, x1, middle_y, in.inside.x_m, middle_y};
    FitGap front{"wall_front", unit.y_m, middle_x, 0, middle_x, unit.y_m};
    FitGap back{"wall_back", in.inside.y_m - y1, middle_x, y1, middle_x, in.inside.y_m};
    for (const NamedBox& box : in.keep_out) {
        if (!meets(box.z_m, box.z_m + box.dz_m, unit.z_m, unit.z_m + unit.dz_m))
            continue;
        const double bx1 = box.x_m + box.dx_m;
        const double by1 = box.y_m + box.dy_m;
        if (meets(box.y_m, by1, unit.y_m, y1)) {
            const double y = (std::max(box.y_m, unit.y_m) + std::min(by1, y1)) / 2;
            if (bx1 <= unit.x_m && unit.x_m - bx1 < left.m)
                left = {box.name, unit.x_m - bx1, bx1, y, unit.x_m, y};
            if (box.x_m >= x1 && box.x_m - x1 < right.m)
                right = {box.name, box.x_m - x1, x1, y, box.x_m, y};
        }
        if (meets(box.x_m, bx1, unit.x_m, x1)) {
            const double x = (std::max(box.x_m, unit.x_m) + std::min(bx1, x1)) / 2;
            if (by1 <= unit.y_m && unit.y_m - by1 < front.m)
                front = {box.name, unit.y_m - by1, x, by1, x, unit.y_m};
            if (box.y_m >= y1 && box.y_m - y1 < back.m)
                back = {box.name, box.y_m - y1, x, y1, x, box.y_m};
        }
    }
    return {left, right, front, back};
}

std::vector<JudgedLine> judgedLines(const FitView& view)
{
    std::vector<JudgedLine> lines{{millimetres(view.now->slack_m) + " mm to " +
                                       nearestWords(view.now->nearest) + ", " +
                                       millimetres(view.input->clear_m) + " mm wanted",
                                   view.now->verdict}};
    for (const std::string& zone : view.now->blocked_zones)
        lines.push_back({"no room for its " + zone, view.now->verdict});
    if (view.near.empty())
        lines.push_back({"where its mains terminals are is not on the shelf", Verdict::Unknown});
    for (const NearThing& near : view.near)
        lines.push_back({"mains terminal " + near.terminal + ": " + millimetres(near.distance_m) + " mm to " +
                             near.what + ", " + millimetres(near.wanted_m) +
                             " mm wanted (guide: the local standard rules)",
                         nearVerdict(near)});
    return lines;
}

FitView judged(const Job& job, std::size_t unit, FitView view)
{
    if (!view.place)
        return view;
    view.input->standoff_m = view.place->standoff_m;
    view.now = placeAt(*view.input, view.place->turn, view.place->x_m, view.place->y_m);
    view.near = nearThings(job, unit, *view.place);
    const ReplacingUnit& own = job.plan.replace->units.at(unit);
    view.gaps = gapsOf(*view.input, placedOutline(own, *view.place));
    view.screw = screwFor(own, *job.found.space, view.place->standoff_m);
    view.judged = judgedLines(view);
    view.school = mountingSchool(view, own);
    view.sentence = fitSentence(view);
    return view;
}

FitView begun(const Job& job, std::size_t unit)
{
    FitView view{};
    if (!job.plan.replace || unit >= job.plan.replace->units.size()) {
        view.sentence = "Choose a unit first.";
        return view;
    }
    view.input = fitInput(job, unit);
    if (!job.found.space)
        view.sentence = "Enter at the right how large the case is inside, and what stays in it.";
    else if (!view.input)
        view.sentence = "Its size is not on the shelf: measure it.";
    return view;
}

} // namespace

const TerminalSpot* spotOf(const ShelfEntry& entry, const std::string& terminal)
{
    const auto at = std::ranges::find(entry.spots, terminal, &TerminalSpot::terminal);
    return at == entry.spots.end() ? nullptr : &*at;
}

Verdict nearVerdict(const NearThing& near)
{
    constexpr double same_m = 1e-9;
    return near.distance_m >= near.wanted_m - same_m ? Verdict::Fits : Verdict::Breaks;
}

TerminalSpot placedSpot(const ReplacingUnit& unit, const PlacedAt& place, const TerminalSpot& spot)
{
    const FloorTurn at = turned(spot.x_m, spot.y_m, place.turn, *unit.entry.unit.size);
    return {spot.terminal, at.x_m + place.x_m, at.y_m + place.y_m, spot.z_m + place.standoff_m};
}

NamedBox placedBox(const ReplacingUnit& unit, const PlacedAt& place, const NamedBox& box)
{
    const BoxSize& size = *unit.entry.unit.size;
    const FloorTurn a = turned(box.x_m, box.y_m, place.turn, size);
    const FloorTurn b = turned(box.x_m + box.dx_m, box.y_m + box.dy_m, place.turn, size);
    return {.name = box.name,
            .x_m = std::min(a.x_m, b.x_m) + place.x_m,
            .y_m = std::min(a.y_m, b.y_m) + place.y_m,
            .z_m = box.z_m + place.standoff_m,
            .dx_m = std::abs(a.x_m - b.x_m),
            .dy_m = std::abs(a.y_m - b.y_m),
            .dz_m = box.dz_m};
}

NamedBox placedOutline(const ReplacingUnit& unit, const PlacedAt& place)
{
    const BoxSize& size = *unit.entry.unit.size;
    return placedBox(unit, place,
                     {.name = unit.entry.unit.name,
                      .x_m = 0,
                      .y_m = 0,
                      .z_m = 0,
                      .dx_m = size.x_m,
                      .dy_m = size.y_m,
                      .dz_m = size.z_m});
}

std::string nearestWords(const std::string& nearest)
{
    static constexpr std::array<std::pair<std::string_view, std::string_view>, 4> walls{
        {{"wall_left", "the left wall"},
         {"wall_right", "the right wall"},
         {"wall_front", "the front wall"},
         {"wall_back", "the back wall"}}};
    for (const auto& [word, words] : walls)
        if (word == nearest)
            return std::string(words);
    return nearest == "lid" ? "the lid" : nearest;
}

std::optional<PlacedAt> bestPlace(const Job& job, std::size_t unit)
{
    auto in = fitInput(job, unit);
    if (!in)
        return std::nullopt;
    const FitPlaceResult result = fitPlace(*in);
    if (result.options.empty())
        return std::nullopt;
    const Placing& best = result.options.front();
    return PlacedAt{.turn = best.turn, .x_m = best.x_m, .y_m = best.y_m, .standoff_m = in->standoff_m};
}

FitView fitAt(const Job& job, std::size_t unit, const PlacedAt& place)
{
    FitView view = begun(job, unit);
    if (view.input)
        view.place = place;
    return judged(job, unit, std::move(view));
}

FitView fitView(const Job& job, std::size_t unit)
{
    FitView view = begun(job, unit);
    if (!view.input)
        return view;
    view.place = job.plan.replace->units.at(unit).place;
    view.placed = view.place.has_value();
    if (!view.place)
        view.place = bestPlace(job, unit);
    if (!view.place) {
        const BoxSize over = fitPlace(*view.input).over;
        view.sentence = "It does not go into the case: too large by " +
                        millimetres(std::max({over.x_m, over.y_m, over.z_m})) + " mm.";
        return view;
    }
    return judged(job, unit, std::move(view));
}

} // namespace offshoot
