// The table of what is read of a supply, and what is known of each part on the board.
#include "core/supply/part_figures.h"

#include "core/supply/power_path.h"

#include <algorithm>
#include <array>

namespace offshoot {

namespace {

using Value = PartFigure::Value;

bool isFlyback(Topology t) { return t == Topology::Flyback; }
bool isDirect(Topology t)
{
    return t == Topology::Buck || t == Topology::Boost || isLinear(t) || t == Topology::Unregulated;
}
bool hasEntry(Topology t) { return !isDcFed(t); }
bool isBuck(Topology t) { return t == Topology::Buck; }
bool isBoost(Topology t) { return t == Topology::Boost; }
bool isSealed(Topology t) { return t == Topology::SealedModule; }
bool dropsVolts(Topology t) { return t == Topology::Buck || isLinear(t); }
bool hasDuty(Topology t) { return isMainsSwitcher(t) || t == Topology::Buck; }

constexpr std::optional<BoardPart> elsewhere = {};

constexpr PartFigure figures[] = {
    {Station::Inlet, BoardPart::Entry, "Inlet rated", Quantity::Current,
     [](Supply& s, Rail&) -> Value& { return s.entry.inlet_a; }, "10A", false, false, 1e15, hasEntry},
    {Station::Inlet, BoardPart::Entry, "Switch rated", Quantity::Current,
     [](Supply& s, Rail&) -> Value& { return s.entry.switch_a; }, "4A", false, false, 1e15, hasEntry},
    {Station::Inlet, BoardPart::Entry, "Cord rated", Quantity::Current,
     [](Supply& s, Rail&) -> Value& { return s.entry.cord_a; }, "6A", false, false, 1e15, hasEntry},
    {Station::Fuse, BoardPart::Fuse, "Fuse value", Quantity::Current,
     [](Supply& s, Rail&) -> Value& { return s.fuse.value_a; }, "2A"},
    {Station::Fuse, BoardPart::Fuse, "Fuse rated voltage", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.fuse.v_rated_v; }, "250V"},
    {Station::Inrush, BoardPart::Limiter, "Cold limiter", Quantity::Resistance,
     [](Supply& s, Rail&) -> Value& { return s.inrush.r_ohm; }, "5R"},
    {Station::InputRectifier, BoardPart::Bridge, "Reverse rating", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.input.v_rrm_v; }, "600V"},
    {Station::InputRectifier, elsewhere, "Bus behind a PFC", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.input.bus_v; }, "385V"},
    {Station::Reservoir, BoardPart::Bulk, "Bulk capacitance", Quantity::Capacitance,
     [](Supply& s, Rail&) -> Value& { return s.bulk.c_f; }, "150u"},
    {Station::Reservoir, BoardPart::Bulk, "Bulk rated voltage", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.bulk.v_rated_v; }, "400V"},
    {Station::Reservoir, BoardPart::Bulk, "Bulk temperature rating", Quantity::Temperature,
     [](Supply& s, Rail&) -> Value& { return s.bulk.t_rated_k; }, "105C"},
    {Station::Reservoir, BoardPart::BulkBleeder, "Bulk bleeder", Quantity::Resistance,
     [](Supply& s, Rail&) -> Value& { return s.bulk.bleeder_ohm; }, "330k"},
    {Station::Converter, BoardPart::Switch, "Switch rated voltage", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.converter.v_rated_v; }, "650V", false, false, 1e15,
     isMainsSwitcher},
    {Station::Converter, elsewhere, "Leakage spike", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.converter.spike_v; }, "50V", false, true, 1e15, isFlyback},
    {Station::Converter, BoardPart::Clamp, "Clamp level", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.converter.clamp_v; }, "200V", false, false, 1e15, isFlyback},
    {Station::Converter, elsewhere, "Largest duty", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.converter.duty_max; }, "70 %", true, false, 0.99, hasDuty},
    {Station::Converter, BoardPart::Controller, "Lockout, off below", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.auxiliary.off_v; }, "9V5", false, false, 1e15, isFlyback},
    {Station::Converter, BoardPart::Controller, "Controller maximum", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.auxiliary.max_v; }, "20V", false, false, 1e15, isFlyback},
    {Station::Converter, elsewhere, "Its diode's drop", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.auxiliary.v_f_v; }, "0V9", false, true, 1e15, isFlyback},
    {Station::Converter, elsewhere, "Input, lowest", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.direct.min_v; }, "18V", false, false, 1e15, isDirect},
    {Station::Converter, elsewhere, "Input, mean at highest mains", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.direct.mean_v; }, "20V", false, false, 1e15, isDirect},
    {Station::Converter, elsewhere, "Input, highest", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.direct.max_v; }, "22V", false, false, 1e15, isDirect},
    {Station::Converter, BoardPart::Regulator, "Dropout", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.regulator.drop_v; }, "2V", false, true, 1e15, dropsVolts},
    {Station::Converter, elsewhere, "Headroom wanted", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.regulator.headroom_v; }, "3V", false, true, 1e15, isBuck},
    {Station::Converter, BoardPart::Switch, "Switch peak current", Quantity::Current,
     [](Supply& s, Rail&) -> Value& { return s.regulator.i_peak_a; }, "5A", false, false, 1e15, isBoost},
    {Station::Converter, elsewhere, "Choke ripple, p-p", Quantity::Current,
     [](Supply& s, Rail&) -> Value& { return s.regulator.ripple_a; }, "1A", false, true, 1e15, isBoost},
    {Station::Converter, elsewhere, "Junction to air, K/W", Quantity::Number,
     [](Supply& s, Rail&) -> Value& { return s.regulator.theta_k_per_w; }, "4", false, false, 1e15, isLinear},
    {Station::Converter, BoardPart::Regulator, "Junction limit", Quantity::Temperature,
     [](Supply& s, Rail&) -> Value& { return s.regulator.t_j_max_k; }, "125C", false, false, 1e15, isLinear},
    {Station::Converter, BoardPart::Plate, "Trim range, lowest", Quantity::Voltage,
     [](Supply&, Rail& r) -> Value& { return r.trim_min_v; }, "21V6", false, false, 1e15, isSealed},
    {Station::Converter, BoardPart::Plate, "Trim range, highest", Quantity::Voltage,
     [](Supply&, Rail& r) -> Value& { return r.trim_max_v; }, "28V8", false, false, 1e15, isSealed},
    {Station::Transformer, BoardPart::Transformer, "Turns primary : secondary", Quantity::Number,
     [](Supply& s, Rail&) -> Value& { return s.transformer.primary_turns_per_secondary; }, "4.5"},
    {Station::Transformer, BoardPart::Transformer, "Turns auxiliary : secondary", Quantity::Number,
     [](Supply& s, Rail&) -> Value& { return s.transformer.auxiliary_turns_per_secondary; }, "0.6"},
    {Station::Transformer, elsewhere, "Efficiency", Quantity::Voltage,
     [](Supply& s, Rail&) -> Value& { return s.efficiency; }, "84 %", true, false, 1},
    {Station::OutputRectifier, BoardPart::Diode, "Rectifier reverse rating", Quantity::Voltage,
     [](Supply&, Rail& r) -> Value& { return r.rectifier.v_rrm_v; }, "150V"},
    {Station::OutputRectifier, elsewhere, "Rectifier drop", Quantity::Voltage,
     [](Supply&, Rail& r) -> Value& { return r.rectifier.v_f_v; }, "0V5", false, true},
    {Station::OutputRectifier, BoardPart::Diode, "Rectifier current", Quantity::Current,
     [](Supply&, Rail& r) -> Value& { return r.rectifier.i_rated_a; }, "10A"},
    {Station::OutputRectifier, elsewhere, "Winding's own ratio", Quantity::Number,
     [](Supply&, Rail& r) -> Value& { return r.winding.primary_turns_per_secondary; }, "8", false, false,
     1e15, isMainsSwitcher},
    {Station::OutputRectifier, elsewhere, "Winding current", Quantity::Current,
     [](Supply&, Rail& r) -> Value& { return r.winding.i_rated_a; }, "10A", false, false, 1e15,
     isBuckDerived},
    {Station::Smoothing, BoardPart::Choke, "Choke current", Quantity::Current,
     [](Supply&, Rail& r) -> Value& { return r.choke_rated_a; }, "10A", false, false, 1e15, isBuckDerived},
    {Station::Smoothing, BoardPart::Capacitor, "Output capacitance", Quantity::Capacitance,
     [](Supply&, Rail& r) -> Value& { return r.capacitor.c_f; }, "2200u"},
    {Station::Smoothing, BoardPart::Capacitor, "Output capacitor voltage", Quantity::Voltage,
     [](Supply&, Rail& r) -> Value& { return r.capacitor.v_rated_v; }, "35V"},
    {Station::Smoothing, BoardPart::Capacitor, "Output capacitor temperature rating", Quantity::Temperature,
     [](Supply&, Rail& r) -> Value& { return r.capacitor.t_rated_k; }, "105C"},
    {Station::Smoothing, BoardPart::Trip, "Trip voltage", Quantity::Voltage,
     [](Supply&, Rail& r) -> Value& { return r.trip.v_v; }, "30V"},
    {Station::Smoothing, BoardPart::MinimumLoad, "Bleeder", Quantity::Resistance,
     [](Supply&, Rail& r) -> Value& { return r.minimum_load.r_ohm; }, "2k2"},
    {Station::Smoothing, BoardPart::MinimumLoad, "Bleeder power", Quantity::Power,
     [](Supply&, Rail& r) -> Value& { return r.minimum_load.power_w; }, "1W"},
    {Station::Smoothing, BoardPart::Indicator, "Indicator resistor", Quantity::Resistance,
     [](Supply&, Rail& r) -> Value& { return r.indicator.r_ohm; }, "10k"},
    {Station::Smoothing, elsewhere, "Indicator's drop", Quantity::Voltage,
     [](Supply&, Rail& r) -> Value& { return r.indicator.v_f_v; }, "2V", false, true},
    {Station::Smoothing, BoardPart::Indicator, "Indicator power", Quantity::Power,
     [](Supply&, Rail& r) -> Value& { return r.indicator.power_w; }, "1/4W"},
    {Station::Cable, elsewhere, "Cable, go and return", Quantity::Resistance,
     [](Supply&, Rail& r) -> Value& { return r.cable.r_loop_ohm; }, "0R05", false, true},
    {Station::Load, BoardPart::Plate, "Rated output", Quantity::Voltage,
     [](Supply&, Rail& r) -> Value& { return r.v_v; }, "24V"},
    {Station::Load, BoardPart::Plate, "Rated current", Quantity::Current,
     [](Supply&, Rail& r) -> Value& { return r.i_rated_a; }, "2A5"},
    {Station::Feedback, BoardPart::Reference, "Cathode rating", Quantity::Voltage,
     [](Supply&, Rail& r) -> Value& { return r.feedback.stage.cathode_max_v; }, "36V"},
    {Station::Feedback, BoardPart::LedResistor, "LED resistor", Quantity::Resistance,
     [](Supply&, Rail& r) -> Value& { return r.feedback.stage.r_led_ohm; }, "2k2"},
    {Station::Feedback, elsewhere, "LED drop", Quantity::Voltage,
     [](Supply&, Rail& r) -> Value& { return r.feedback.stage.v_f_v; }, "1V2", false, true},
    {Station::Feedback, elsewhere, "LED current needed", Quantity::Current,
     [](Supply&, Rail& r) -> Value& { return r.feedback.stage.i_needed_a; }, "2mA"},
};

constexpr std::array<BoardPartInfo, board_part_count> board_parts{{
    {"Inlet, switch, cord", "on the inlet's face, the side of the switch, along the cord: the amperes", "",
     false},
    {"Fuse", "on its end cap: speed, amperes, volts, such as T2A 250V",
     "It says what the cord and the inlet are protected by.", false},
    {"Surge limiter", "a disc like a coin behind the fuse: its code or its cold resistance",
     "It bounds the surge when the plug goes in.", false},
    {"Mains rectifier", "on the body of the bridge or of each diode: the type; its papers say the volts", "",
     false},
    {"Large capacitor",
     "along the side: volts, microfarad, temperature. It may be charged: look, do not touch",
     "The microfarads say how long it drains, and which resistor takes it down.", false},
    {"Resistor across it", "its bands or its code; it stands beside the large capacitor",
     "It drains the large capacitor once the plug is out.", false},
    {"Switch", "on the flat case at the heatsink: the type; its papers say the volts and amperes", "", false},
    {"Clamp", "a zener or suppressor beside the transformer: its code says the volts", "", false},
    {"Controller", "on its case: the type; its papers say where it starts, stops and breaks", "", false},
    {"Regulator", "on the flat case at the heatsink: the type; its papers say dropout and limit", "", false},
    {"Transformer", "on the tape or the core, or counted: turns of the primary for one of the output",
     "The ratio says what its diode and its switch bear.", false},
    {"Output rectifier", "on the case of the diode: the type; its papers say the volts and amperes", "",
     true},
    {"Output choke", "thickness of its wire, or its papers: the amperes", "", true},
    {"Output capacitor", "along the side: microfarad, volts, temperature, such as 1000u 25V 105C",
     "The microfarads say what holds charge, and how large the ripple is.", true},
    {"Over-voltage trip", "a zener, or a thyristor across the output: the code says the volts", "", true},
    {"Least load", "a resistor across the output: its bands or code, its size says the watts", "", true},
    {"Indicator", "the resistor of the lamp or LED: its bands or code, its size says the watts", "", true},
    {"Reference", "a small case with three legs near the optocoupler: the type; its papers say the volts", "",
     true},
    {"Resistor of the optocoupler", "in series with its LED: its bands or code", "", true},
    {"Plate", "outside, on the label: what it gives", "Everything is held against what the plate promises.",
     true},
}};

} // namespace

Value PartFigure::read(const Supply& supply, std::size_t rail) const
{
    // The table names the member once; reading does not change it.
    auto& unit = const_cast<Supply&>(supply);
    return access(unit, unit.rails[std::min(rail, unit.rails.size() - 1)]);
}

std::span<const PartFigure> partFigures() { return figures; }

const BoardPartInfo& infoOf(BoardPart part) { return board_parts.at(static_cast<std::size_t>(part)); }

std::vector<const PartFigure*> figuresOf(const Supply& supply, BoardPart part)
{
    std::vector<const PartFigure*> list;
    for (const PartFigure& figure : figures)
        if (figure.part == part && figure.isOf(supply.topology))
            list.push_back(&figure);
    return list;
}

std::vector<BoardPlace> boardWalk(const Supply& supply)
{
    std::vector<Station> path = powerPath(supply);
    if (hasFeedback(supply))
        path.push_back(Station::Feedback);
    std::vector<BoardPlace> walk;
    const auto add = [&](BoardPart part, Station station) {
        for (std::size_t rail = 0; rail < (infoOf(part).of_rail ? supply.rails.size() : 1); ++rail) {
            const BoardPlace place{part, rail, station};
            if (std::ranges::find(walk, place) == walk.end() && !figuresOf(supply, part).empty())
                walk.push_back(place);
        }
    };
    add(BoardPart::Plate, Station::Load);
    for (const Station station : path)
        for (const PartFigure& figure : figures)
            if (figure.station == station && figure.part && *figure.part != BoardPart::Plate &&
                figure.isOf(supply.topology))
                add(*figure.part, station);
    return walk;
}

} // namespace offshoot
