#include "core/kinds/replace/wiring_view.h"

#include "core/kinds/replace/fit_view.h"
#include "core/kinds/replace/wanted.h"
#include "core/values/figures.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace offshoot {

namespace {

constexpr double new_insulation_v = 500; ///< single-core wire of 300/500 V (IEC 60227)
constexpr std::string_view enable_function = "enable";
constexpr std::string_view feed_function = "feed +";
constexpr std::string_view feed_return_function = "feed return";

/// What `wiring.map` compares, of one unit.
struct UnitFunctions
{
    const Supply& found;
    const ReplacingUnit& unit;
    std::string name; ///< with its number where two are alike

    const UnitOutput* output(const std::string& name_of) const
    {
        const auto at = std::ranges::find(unit.entry.unit.outputs, name_of, &UnitOutput::name);
        return at == unit.entry.unit.outputs.end() ? nullptr : &*at;
    }
    /// An isolated output that serves a rail of the other sign: its own plus is the return then.
    bool swapped(const UnitOutput& output) const
    {
        return std::ranges::any_of(unit.rails, [&](const ServedRail& served) {
            const Rail* rail = served.output == output.name ? railNamed(found, served.rail) : nullptr;
            return rail != nullptr && output.isolated &&
                   rail->negative != (output.polarity == OutputPolarity::Negative);
        });
    }
    std::string outputOf(const UnitOutput& output) const { return output.name + " of " + name; }
    std::string returnOf(const UnitOutput& output) const { return output.name + " return of " + name; }
    /// Of a terminal, as the shelf has it.
    std::string ofTerminal(const NewTerminal& terminal) const
    {
        for (const UnitOutput& output : unit.entry.unit.outputs) {
            const bool back = terminal.function == output.name + " return";
            if (back || terminal.function == output.name)
                return back != swapped(output) ? returnOf(output) : outputOf(output);
        }
        return terminal.function;
    }
};

std::vector<UnitFunctions> unitsOf(const Job& job)
{
    const ReplacePlan& plan = *job.plan.replace;
    std::vector<UnitFunctions> all;
    for (std::size_t i = 0; i < plan.units.size(); ++i)
        all.push_back({job.found, plan.units[i], unitLabel(plan, i)});
    return all;
}

/// The output that serves the wire's rail. A return whose rail is not said goes to the first output's, where
/// all returns of the only unit are one node: its outputs are not isolated.
std::string outputFunction(const Wire& wire, const std::vector<UnitFunctions>& units)
{
    const bool back = wire.function == WireFunction::Return;
    for (const UnitFunctions& unit : units)
        for (const ServedRail& served : unit.unit.rails)
            if (served.rail == wire.rail)
                if (const UnitOutput* output = unit.output(served.output))
                    return back ? unit.returnOf(*output) : unit.outputOf(*output);
    if (!back || !wire.rail.empty() || units.size() > 1)
        return std::string(unknown_function);
    const auto& outputs = units.front().unit.entry.unit.outputs;
    return std::ranges::none_of(outputs, &UnitOutput::isolated) ? units.front().returnOf(outputs.front())
                                                                : std::string(unknown_function);
}

std::string functionOf(const Wire& wire, const std::vector<UnitFunctions>& units)
{
    switch (wire.function) {
    case WireFunction::Line:
        return std::string(line_function);
    case WireFunction::Neutral:
        return std::string(neutral_function);
    case WireFunction::Earth:
        return std::string(earth_function);
    case WireFunction::Enable:
        return std::string(enable_function);
    case WireFunction::Feed:
        return std::string(feed_function);
    case WireFunction::FeedReturn:
        return std::string(feed_return_function);
    case WireFunction::Output:
    case WireFunction::Return:
        return outputFunction(wire, units);
    case WireFunction::Unknown:
        break;
    default:
        return std::string(word(wire.function));
    }
    return std::string(unknown_function);
}

/// Along the walls: the three ways to go, added up.
std::optional<double> reachOf(const Job& job, const ReplacingUnit& unit, const NewTerminal& terminal,
                              bool mains)
{
    if (terminal.reach_m)
        return terminal.reach_m;
    const auto& space = job.found.space;
    const TerminalSpot* spot = spotOf(unit.entry, terminal.name);
    if (!space || !unit.place || !unit.entry.unit.size || spot == nullptr)
        return std::nullopt;
    const auto& from = mains ? space->mains_from : space->output_from;
    if (!from)
        return std::nullopt;
    const TerminalSpot at = placedSpot(unit, *unit.place, *spot);
    return std::abs(at.x_m - from->x_m) + std::abs(at.y_m - from->y_m) + at.z_m;
}

/// Function and rail of a wire that belongs on a terminal; of unknown function where the shelf's word is none
/// that a wire can have.
Wire servingWire(const std::string& function, const UnitFunctions& unit)
{
    static constexpr std::array<std::pair<std::string_view, WireFunction>, 6> plain{
        {{line_function, WireFunction::Line},
         {neutral_function, WireFunction::Neutral},
         {earth_function, WireFunction::Earth},
         {enable_function, WireFunction::Enable},
         {feed_function, WireFunction::Feed},
         {feed_return_function, WireFunction::FeedReturn}}};
    Wire wire;
    for (const auto& [text, kind] : plain)
        if (text == function)
            wire.function = kind;
    for (const ServedRail& served : unit.unit.rails) {
        const bool back = function == served.output + " return";
        if (!back && function != served.output)
            continue;
        const UnitOutput* output = unit.output(served.output);
        const bool swapped = output != nullptr && unit.swapped(*output);
        wire.function = back != swapped ? WireFunction::Return : WireFunction::Output;
        wire.rail = served.rail;
    }
    return wire;
}

OldWire oldWire(const Wire& wire, bool added, const Job& job, const std::vector<UnitFunctions>& units)
{
    OldWire old{.name = wire.name,
                .function = functionOf(wire, units),
                .measured = wire.measured || added,
                .area_m2 = wire.area_m2,
                .length_m = wire.length_m,
                .insulation_v = wire.insulation_v};
    old.current_a = wire.current_a.value_or(0);
    for (const PulledWire& pulled : job.plan.replace->pulled)
        if (pulled.wire == wire.name)
            old.pulled_to = pulled.terminal;
    return old;
}

struct Mapped
{
    WiringMapInput input;
    WiringView view;
};

void addTerminals(const Job& job, const std::vector<UnitFunctions>& units, Mapped& to)
{
    for (std::size_t u = 0; u < units.size(); ++u)
        for (const NewTerminal& own : units[u].unit.entry.terminals) {
            const Wire serves = servingWire(own.function, units[u]);
            NewTerminal terminal = own;
            if (units.size() > 1)
                terminal.name = units[u].name + " " + own.name;
            terminal.function = units[u].ofTerminal(own);
            terminal.reach_m = reachOf(job, units[u].unit, own, carriesMains(serves.function));
            const auto& outputs = units[u].unit.entry.unit.outputs;
            const auto output = std::ranges::find_if(outputs, [&](const UnitOutput& each) {
                return own.function == each.name || own.function == each.name + " return";
            });
            const bool of_output = output != outputs.end();
            const bool swapped = of_output && units[u].swapped(*output);
            // An output that serves nobody needs no wire.
            const bool idle =
                of_output && std::ranges::find(units[u].unit.rails, output->name, &ServedRail::output) ==
                                 units[u].unit.rails.end();
            terminal.must = own.must && !idle;
            to.view.terminals.push_back(
                {.unit = u,
                 .name = terminal.name,
                 .serves = serves,
                 .words = serves.function == WireFunction::Unknown ? own.function : functionWords(serves),
                 .swapped = swapped,
                 .must = terminal.must,
                 .most = own.max_wires});
            to.input.terminals.push_back(std::move(terminal));
        }
}

std::string lengthText(double m) { return significant(m * 1e3, 2) + " mm"; }

void addRemarks(PlannedWire& wire, const WireConnection& judged, const NewTerminal& terminal)
{
    const auto bad = [](const std::optional<Verdict>& verdict) {
        return verdict && *verdict != Verdict::Fits;
    };
    if (!judged.measured)
        wire.remarks.emplace_back("measure what it does first");
    if (bad(judged.insulation_verdict))
        wire.remarks.emplace_back(judged.insulation_verdict == Verdict::Unknown
                                      ? "what its insulation bears is not known: sleeve it"
                                      : "its insulation does not bear the mains");
    if (bad(judged.size_verdict))
        wire.remarks.push_back(formatValue(*wire.wire.area_m2, Quantity::WireSize) +
                               " does not suit the terminal: " +
                               formatValue(terminal.area_min_m2.value_or(0), Quantity::WireSize) + " to " +
                               formatValue(*terminal.area_max_m2, Quantity::WireSize));
    if (judged.reach_verdict == Verdict::Tight)
        wire.remarks.push_back("reaches, with less than " + lengthText(WiringMapInput{}.keep_slack_m) +
                               " to spare");
    else if (bad(judged.reach_verdict))
        wire.remarks.push_back(lengthText(*judged.splice_m) +
                               (carriesMains(wire.wire.function)
                                    ? " short: a longer one from its own origin, or a crimp in a sleeve with "
                                      "strain relief, never "
                                      "a loose terminal block"
                                    : " short: a crimp or a soldered joint in a sleeve, with strain relief"));
    if (bad(judged.load_verdict))
        wire.remarks.push_back("the terminal carries " + formatPercent(*judged.load_use) + " of its rating");
}

void answer(Mapped& mapped, const WiringMapResult& result)
{
    WiringView& view = mapped.view;
    for (const WireConnection& judged : result.connections) {
        const auto wire = std::ranges::find_if(
            view.wires, [&](const PlannedWire& w) { return w.wire.name == judged.wire; });
        const auto at = std::ranges::find(view.terminals, judged.terminal, &PlannedTerminal::name);
        wire->terminal = static_cast<std::size_t>(at - view.terminals.begin());
        wire->judged = judged;
        wire->verdict = judged.verdict;
        ++at->wires;
        addRemarks(*wire, judged, mapped.input.terminals[*wire->terminal]);
    }
    for (const LeftWire& left : result.left_over) {
        const auto wire =
            std::ranges::find_if(view.wires, [&](const PlannedWire& w) { return w.wire.name == left.wire; });
        wire->left = left.why == LeftOver::UnknownFunction ? "stays here until it is measured"
                     : left.why == LeftOver::NoTerminal    ? "nothing for it on the new side: cap it"
                                                           : "no room left on its terminal";
        wire->verdict = wire->wire.function == WireFunction::Earth ? Verdict::Breaks : Verdict::Unknown;
    }
    view.missing = result.missing;
    view.verdict = result.verdict;
}

/// Returns of outputs that are not isolated are one node: one that has a wire serves for all of its unit.
void forgiveSharedReturns(const Mapped& mapped, const ReplacePlan& plan, WiringMapResult& result)
{
    const auto sharedBy = [&](const std::string& name) -> std::optional<std::size_t> {
        const auto at = std::ranges::find(mapped.view.terminals, name, &PlannedTerminal::name);
        const auto& outputs = plan.units[at->unit].entry.unit.outputs;
        const bool back = at->serves.function == WireFunction::Return;
        return back && std::ranges::none_of(outputs, &UnitOutput::isolated) ? std::optional(at->unit)
                                                                            : std::nullopt;
    };
    const auto served = [&](const std::string& name) {
        const auto unit = sharedBy(name);
        return unit && std::ranges::any_of(result.connections, [&](const WireConnection& c) {
                   return sharedBy(c.terminal) == unit;
               });
    };
    const std::size_t before = result.missing.size();
    std::erase_if(result.missing, served);
    if (before == result.missing.size() || !result.missing.empty())
        return;
    result.verdict = Verdict::Fits;
    for (const WireConnection& connection : result.connections)
        result.verdict = worse(result.verdict, connection.verdict);
    if (!result.left_over.empty())
        result.verdict = worse(result.verdict, Verdict::Unknown);
}

std::string wiringSentence(const WiringView& view)
{
    if (view.wires.empty())
        return "Enter in Found, under Rails, the wires that come off the old unit.";
    std::size_t landed = 0;
    const PlannedWire* worst = nullptr;
    for (const PlannedWire& wire : view.wires) {
        landed += wire.terminal ? std::size_t{1} : std::size_t{0};
        if (wire.verdict != Verdict::Fits &&
            (worst == nullptr || badness(wire.verdict) > badness(worst->verdict)))
            worst = &wire;
    }
    std::string text = std::to_string(landed) + " of " + std::to_string(view.wires.size()) +
                       (view.wires.size() == 1 ? " wire has" : " wires have") + " a place.";
    if (!view.missing.empty())
        text += " Nothing goes to " + view.missing.front() +
                (view.missing.size() > 1 ? " and " + std::to_string(view.missing.size() - 1) + " more" : "") +
                " yet.";
    if (worst != nullptr)
        text += ' ' + worst->wire.name + ": " +
                (worst->terminal ? (worst->remarks.empty() ? "not known" : worst->remarks.front())
                                 : worst->left) +
                '.';
    return text;
}

} // namespace

std::string withColour(const Wire& wire)
{
    return wire.name + (wire.colour.empty() || wire.colour == wire.name ? "" : " (" + wire.colour + ")");
}

bool carriesMains(WireFunction function)
{
    return function == WireFunction::Line || function == WireFunction::Neutral ||
           function == WireFunction::Earth;
}

std::string functionWords(const Wire& wire)
{
    const std::string rail = wire.rail.empty() ? "" : " of " + wire.rail;
    switch (wire.function) {
    case WireFunction::Unknown:
        return "not measured yet";
    case WireFunction::Output:
        return wire.rail.empty() ? "an output" : wire.rail;
    case WireFunction::Return:
        return "return" + rail;
    case WireFunction::Line:
        return "live";
    case WireFunction::Neutral:
        return "neutral";
    case WireFunction::Earth:
        return "protective earth";
    case WireFunction::Feed:
        return "the feed's plus";
    case WireFunction::FeedReturn:
        return "the feed's return";
    default:
        return phrase(wire.function) + rail;
    }
}

namespace {

/// What of the front it comes from or goes through.
std::string frontWords(const std::optional<PanelPlan>& panel, const Wire& wire)
{
    if (!panel)
        return {};
    std::vector<std::string> through;
    switch (wire.function) {
    case WireFunction::Line:
    case WireFunction::Neutral:
        through = throughFront(*panel, true, wire.function == WireFunction::Neutral);
        break;
    case WireFunction::Feed:
        through = throughFront(*panel, false);
        break;
    case WireFunction::Output:
    case WireFunction::Return:
        if (const PanelItem* post = postOf(*panel, wire.rail, wire.function == WireFunction::Return))
            return ", from " + post->name + " on the front";
        break;
    default:
        break;
    }
    std::string text;
    for (const std::string& name : through)
        text += (text.empty() ? ", through " : ", ") + name;
    return text;
}

} // namespace

WiringView wiringView(const Job& job)
{
    Mapped mapped{};
    if (!job.plan.replace) {
        mapped.view.sentence = "Choose a unit first.";
        return mapped.view;
    }
    const ReplacePlan& plan = *job.plan.replace;
    const auto units = unitsOf(job);
    const auto take = [&](const Wire& wire, bool added) {
        const bool again = std::ranges::any_of(
            mapped.view.wires, [&](const PlannedWire& other) { return other.wire.name == wire.name; });
        if (again) // a name stands for one wire
            return;
        mapped.view.wires.push_back({.wire = wire,
                                     .added = added,
                                     .words = functionWords(wire) + frontWords(job.plan.panel, wire),
                                     .verdict = Verdict::Unknown});
        mapped.input.wires.push_back(oldWire(wire, added, job, units));
    };
    for (const Wire& wire : job.found.wires)
        take(wire, false);
    for (const Wire& wire : plan.new_wires)
        take(wire, true);
    addTerminals(job, units, mapped);
    if (!job.found.dcFed() && !job.need.mains.v_assumed)
        mapped.input.mains_v = job.need.mains.highest();
    if (mapped.input.terminals.empty())
        mapped.view.sentence = "Its terminals are not on the shelf: enter them there.";
    else {
        WiringMapResult result = wiringMap(mapped.input);
        forgiveSharedReturns(mapped, plan, result);
        answer(mapped, result);
        mapped.view.sentence = wiringSentence(mapped.view);
    }
    return mapped.view;
}

std::vector<Wire> missingWires(const Job& job)
{
    std::vector<Wire> made;
    if (!job.plan.replace)
        return made;
    const WiringView view = wiringView(job);
    const auto taken = [&](const std::string& name) {
        return std::ranges::any_of(view.wires,
                                   [&](const PlannedWire& wire) { return wire.wire.name == name; }) ||
               std::ranges::any_of(made, [&](const Wire& wire) { return wire.name == name; });
    };
    for (const PlannedTerminal& terminal : view.terminals) {
        if (std::ranges::find(view.missing, terminal.name) == view.missing.end())
            continue;
        Wire wire = terminal.serves;
        wire.name = "new, " + terminal.name;
        for (int i = 2; taken(wire.name); ++i)
            wire.name = "new " + std::to_string(i) + ", " + terminal.name;
        wire.measured = true;
        if (carriesMains(wire.function) && wire.function != WireFunction::Earth)
            wire.insulation_v = new_insulation_v;
        made.push_back(std::move(wire));
    }
    return made;
}

} // namespace offshoot
