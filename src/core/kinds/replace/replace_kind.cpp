// Other units from the shelf in the place of the old one.
#include "core/kinds/modules.h"
#include "core/kinds/replace/fit_view.h"
#include "core/kinds/replace/replace_view.h"
#include "core/kinds/replace/wanted.h"
#include "core/kinds/replace/wiring_view.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot::kind {

namespace {

/// Of a wide-range input stage without papers: what designers allow for each watt, the upper end.
constexpr double usual_bulk_f_per_w = 3e-6;

bool planned(const Job& job) { return job.plan.replace.has_value(); }

const ServedRail* servedRail(const ReplacePlan& plan, const std::string& rail, const ReplacingUnit** by)
{
    for (const ReplacingUnit& unit : plan.units)
        for (const ServedRail& served : unit.rails)
            if (served.rail == rail) {
                *by = &unit;
                return &served;
            }
    return nullptr;
}

const UnitOutput& outputOf(const ReplacingUnit& unit, const ServedRail& served)
{
    return *std::ranges::find(unit.entry.unit.outputs, served.output, &UnitOutput::name);
}

/// What its users and its run see stays; what was the old unit's own goes.
Rail plannedRail(const Rail& found, const ReplacePlan& plan, double ambient_k)
{
    Rail rail;
    rail.name = found.name;
    rail.negative = found.negative;
    rail.users = found.users;
    rail.cable = found.cable;
    rail.sense.load_capacitor_f = found.sense.load_capacitor_f;
    rail.indicator.fitted = false;
    rail.minimum_load.fitted = false;
    const ReplacingUnit* unit = nullptr;
    const ServedRail* served = servedRail(plan, found.name, &unit);
    if (served == nullptr)
        return rail;
    const UnitOutput& output = outputOf(*unit, *served);
    rail.v_v = served->set_v;
    rail.i_rated_a = output.rated_a * deratedShare(unit->entry.unit.derating, ambient_k);
    rail.trim_min_v = output.trim_min_v.value_or(output.v) * (1 - output.regulation);
    rail.trim_max_v = output.trim_max_v.value_or(output.v) * (1 + output.regulation);
    if (served->dummy_a > 0) {
        rail.minimum_load.fitted = true;
        rail.minimum_load.r_ohm = served->set_v / served->dummy_a;
    }
    return rail;
}

/// Of an open board what is inside can be reached, and has to be proven; of any other its outputs alone.
void setReach(const Supply& found, const ReplacePlan& plan, Supply& supply)
{
    const auto open = [](const ReplacingUnit& unit) {
        return unit.entry.mounting == Mounting::OpenBoard || unit.entry.mounting == Mounting::Module;
    };
    const bool any_open = std::ranges::any_of(plan.units, open);
    const bool plugs = std::ranges::all_of(
        plan.units, [](const ReplacingUnit& unit) { return unit.entry.mounting == Mounting::Adapter; });
    if (any_open)
        supply.enclosure = found.opens() ? Enclosure::Closed : Enclosure::OpenFrame;
    else
        supply.enclosure = plugs && !found.opens() ? Enclosure::Sealed : Enclosure::Boxed;
    double open_w = 0;
    for (const ReplacingUnit& unit : plan.units)
        if (open(unit))
            for (const UnitOutput& output : unit.entry.unit.outputs)
                open_w += output.v * output.rated_a;
    if (any_open)
        supply.bulk.c_f = usual_bulk_f_per_w * open_w;
}

/// The plates say which mains it bears: by the range at the place of the selector; of several that need none
/// the one that holds the mains there is.
void setMainsSide(const Job& job, Supply& supply)
{
    for (const ReplacingUnit& unit : job.plan.replace->units) {
        const UnitInput& input = unit.entry.unit.input;
        const auto at = [&](const InputRange& range) { return range.selector == unit.selector; };
        const auto holds = [&](const InputRange& range) {
            return at(range) && within(job.need.mains.v_v, range.min_v, range.max_v);
        };
        auto range = std::ranges::find_if(input.ranges, holds);
        if (range == input.ranges.end())
            range = std::ranges::find_if(input.ranges, at);
        if (range == input.ranges.end())
            continue;
        Clue label{.part = "plate of " + unit.entry.unit.name, .kind = ClueKind::Label};
        label.min_v = range->min_v;
        label.max_v = range->max_v;
        label.f_min_hz = input.f_min_hz;
        label.f_max_hz = input.f_max_hz;
        supply.mains_side.clues.push_back(std::move(label));
    }
}

void apply(const Job& job, PlannedUnit& unit)
{
    const ReplacePlan& plan = *job.plan.replace;
    const Supply& found = job.found;
    Supply supply;
    supply.name = unitNames(plan);
    supply.topology = found.dcFed() ? Topology::Buck : Topology::SealedModule;
    supply.direct = found.direct;
    supply.entry = found.entry;
    supply.fuse = found.fuse;
    supply.space = found.space;
    supply.regulator.t_ambient_k = found.regulator.t_ambient_k;
    supply.efficiency = plan.units.front().entry.unit.efficiency;
    const bool class_1 = std::ranges::any_of(
        plan.units, [](const ReplacingUnit& own) { return own.entry.unit.protection_class == 1; });
    supply.earth_class =
        class_1 || found.earth_class == EarthClass::ClassI ? EarthClass::ClassI : EarthClass::ClassII;
    setReach(found, plan, supply);
    setMainsSide(job, supply);
    supply.rails.clear();
    const double ambient_k = found.regulator.t_ambient_k.value_or(WantedUnit{}.ambient_k);
    for (const Rail& rail : found.rails)
        supply.rails.push_back(plannedRail(rail, plan, ambient_k));
    supply.wires = found.wires;
    supply.wires.insert(supply.wires.end(), plan.new_wires.begin(), plan.new_wires.end());
    const ReplacingUnit* first = nullptr;
    if (const ServedRail* served = servedRail(plan, found.rails.front().name, &first))
        supply.joint.bonded = outputOf(*first, *served).bonded;
    unit.supply = std::move(supply);
}

void setPoint(const Job& job, const ChainRun* /*run*/, Figures& figures)
{
    figures.planned_v.reset();
    figures.planned_range.reset();
    figures.planned.reset(); // a divider of the unit that goes
    figures.planned_legs.reset();
    const ReplacingUnit* unit = nullptr;
    const ServedRail* served = servedRail(*job.plan.replace, job.found.rails.front().name, &unit);
    if (served == nullptr)
        return;
    const double share = outputOf(*unit, *served).regulation;
    figures.planned_v = served->set_v;
    figures.planned_range = VoltageRange{served->set_v * (1 - share), served->set_v * (1 + share)};
}

void setRails(const Job& job, Figures& figures)
{
    for (std::size_t i = 1; i < job.found.rails.size(); ++i) {
        const ReplacingUnit* unit = nullptr;
        const ServedRail* served = servedRail(*job.plan.replace, job.found.rails[i].name, &unit);
        figures.rails_planned_v[i] = served != nullptr ? std::optional(served->set_v) : std::nullopt;
        if (served != nullptr)
            figures.rails_set.push_back(i);
    }
}

void lines(const Job& job, std::vector<std::string>& all)
{
    for (const ReplacingUnit& unit : job.plan.replace->units) {
        std::string text = unit.entry.unit.name + " in the old one's place:";
        for (const ServedRail& served : unit.rails)
            text += (text.back() == ':' ? " " : ", ") + served.rail + " at " + volts(served.set_v) +
                    " from " + served.output;
        all.push_back(std::move(text));
    }
}

void wiring(const Job& job, const Figures& /*figures*/, std::vector<Connections>& all)
{
    const WiringView view = wiringView(job);
    Connections made{.name = "replacement", .sentence = view.sentence, .parts = {}};
    for (const PlannedWire& wire : view.wires)
        if (wire.terminal)
            made.parts.push_back({.name = withColour(wire.wire),
                                  .kind = PartKind::Wire,
                                  .from = wire.words,
                                  .to = view.terminals[*wire.terminal].name,
                                  .fate = wire.added ? PartFate::Added : PartFate::Stays});
    made.station = Station::Cable;
    if (!made.parts.empty())
        all.push_back(std::move(made));
}

void unitParts(const Job& job, std::size_t at, PartList& list)
{
    const ReplacingUnit& unit = job.plan.replace->units[at];
    list.add(unit.entry.unit.name, "the old one's place", job.found.name, false);
    const FitView view = unit.place ? fitView(job, at) : FitView{};
    if (view.screw) {
        const std::string length = view.screw->length_m > 0
                                       ? millimetres(view.screw->length_m) + " mm"
                                       : "between " + millimetres(view.screw->least_m) + " and " +
                                             millimetres(view.screw->most_m) + " mm";
        list.add(std::to_string(unit.entry.holes.size()) + " screws " + view.screw->thread + " × " + length,
                 "through the floor into " + unit.entry.unit.name);
        list.add(std::to_string(unit.entry.holes.size()) + " spacers " + millimetres(unit.place->standoff_m) +
                     " mm, " + view.screw->thread,
                 "under " + unit.entry.unit.name);
    }
    for (const PlannedDummy& dummy : plannedDummies(unit))
        list.add("dummy load " + dummyLoad(dummy).text(), dummy.output + " of " + unit.entry.unit.name);
}

void parts(const Job& job, const Figures& /*figures*/, PartList& list)
{
    for (std::size_t i = 0; i < job.plan.replace->units.size(); ++i)
        unitParts(job, i, list);
    std::size_t ferrules = 0;
    for (const PlannedWire& wire : wiringView(job).wires) {
        ferrules += wire.terminal ? std::size_t{1} : std::size_t{0};
        const std::string size =
            wire.wire.area_m2 ? formatValue(*wire.wire.area_m2, Quantity::WireSize) : "wire of enough size";
        if (wire.added)
            list.add(size + ", " +
                         (wire.wire.length_m ? formatValue(*wire.wire.length_m, Quantity::Length, 2)
                                             : std::string("to measure")),
                     wire.wire.name);
        else if (wire.judged && wire.judged->reach_verdict == Verdict::Breaks)
            list.add("crimp, sleeve and " + formatValue(*wire.judged->splice_m, Quantity::Length, 2) +
                         " of " + size,
                     wire.wire.name + ", too short");
    }
    if (ferrules > 0)
        list.add(std::to_string(ferrules) + " ferrules or eyelets", "the ends of the wires");
}

std::vector<ConsequenceRow> rows(const Job& job, const Figures& figures, const ChainRun* /*run*/)
{
    return replaceRows(job, figures);
}

/// Set inside the range on its plate, the new unit's own papers answer for the parts in it.
bool answers(const ConsequenceRow& row)
{
    switch (row.id) {
    case RowId::OutputReach: // by what its feed lets it reach
    case RowId::InputHeadroom:
    case RowId::BoostFloor:
    case RowId::Dropout:
        return true;
    case RowId::OutputCapacitorVoltage:
    case RowId::TripVoltage:
    case RowId::SwitchVoltage:
    case RowId::RectifierReverse:
    case RowId::BulkVoltage:
    case RowId::SwitchPeakCurrent:
        return !row.limit;
    default:
        return false;
    }
}

void schools(const Job& job, const Figures& /*figures*/, FiguresOf /*figuresOf*/, std::vector<School>& all)
{
    for (std::size_t i = 0; i < job.plan.replace->units.size(); ++i)
        if (job.plan.replace->units[i].place)
            all.push_back(fitView(job, i).school);
}

Work work(const Job& job, const Figures& figures)
{
    const bool outside = job.found.outsideOnly() && figures.unit.supply.outsideOnly();
    return {.inside = false,
            .on_mains_side = !job.found.dcFed() && !outside,
            .fit = replaceSteps,
            .close = closeReplacement,
            .at_first_power = readAtConnectors,
            .set = setNewUnits,
            .warm = WarmPart{"unit", 343.15, "usual surface limit of a caged unit"}};
}

} // namespace

const Kind replace{.name = "replace",
                   .planned = planned,
                   .rebuilds = true,
                   .replaces = true,
                   .work = work,
                   .apply = apply,
                   .set_point = setPoint,
                   .set_rails = setRails,
                   .lines = lines,
                   .wiring = wiring,
                   .parts = parts,
                   .rows = rows,
                   .answers = answers,
                   .schools = schools};

} // namespace offshoot::kind
