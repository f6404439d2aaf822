// The table of every row there is: its station, its words, the rating that answers it.
#include "core/judge/consequences.h"

namespace offshoot {

namespace {

const std::array<RowInfo, Words<RowId>::list.size()> row_infos{{
    {RowId::FuseVoltage, Station::Fuse, false, "Fuse", "rated voltage", Quantity::Voltage, true, true,
     "rated voltage", "the fuse's rated voltage"},
    {RowId::FuseCurrent, Station::Fuse, false, "Fuse", "line current", Quantity::Current, true, true, "value",
     "the fuse's value"},
    {RowId::InputRectifierReverse, Station::InputRectifier, false, "Mains rectifier", "reverse voltage",
     Quantity::Voltage, true, false, "reverse rating", "the rectifier's reverse rating"},
    {RowId::BulkVoltage, Station::Reservoir, false, "Bulk capacitor", "voltage", Quantity::Voltage, true,
     true, "rated voltage", "the bulk capacitor's rated voltage"},
    {RowId::SwitchVoltage, Station::Converter, false, "Switch", "drain voltage", Quantity::Voltage, true,
     true, "rated voltage", "the switch's rated voltage and the transformer's ratio"},
    {RowId::ClampLevel, Station::Converter, false, "Clamp", "reflected voltage", Quantity::Voltage, true,
     false, "clamp level", "the clamp's level"},
    {RowId::ConverterDuty, Station::Converter, false, "Controller", "duty at lowest mains", std::nullopt,
     true, false, "", "the controller's largest duty"},
    {RowId::AuxiliaryLow, Station::Converter, false, "Controller supply", "lockout", Quantity::Voltage, true,
     false, "", "the auxiliary turns and the controller's lockout"},
    {RowId::AuxiliaryHigh, Station::Converter, false, "Controller supply", "maximum", Quantity::Voltage, true,
     false, "maximum supply", "the auxiliary turns and the controller's maximum"},
    {RowId::OutputCurrent, Station::Transformer, true, "Output current", "allowed", Quantity::Current, false,
     false, "", "the rated output current"},
    {RowId::RectifierReverse, Station::OutputRectifier, true, "Rectifier", "reverse voltage",
     Quantity::Voltage, false, false, "reverse rating",
     "the output rectifier's reverse rating and the transformer's ratio"},
    {RowId::OutputCapacitorVoltage, Station::Smoothing, true, "Output capacitor", "voltage",
     Quantity::Voltage, false, false, "rated voltage", "the output capacitor's rated voltage"},
    {RowId::TripVoltage, Station::Smoothing, true, "Over-voltage trip", "voltage", Quantity::Voltage, false,
     false, "trip voltage", "whether there is a zener or crowbar, and its voltage"},
    {RowId::MinimumLoadPower, Station::Smoothing, true, "Bleeder", "power", Quantity::Power, false, false,
     "rated power", "whether a bleeder is fitted, its ohms and power"},
    {RowId::IndicatorPower, Station::Smoothing, true, "Indicator resistor", "power", Quantity::Power, false,
     false, "rated power", "whether an indicator is fitted, its resistor and power"},
    {RowId::ReferenceCathode, Station::Feedback, true, "Reference", "cathode voltage", Quantity::Voltage,
     false, false, "cathode rating", "what feeds the reference"},
    {RowId::OptocouplerCurrent, Station::Feedback, true, "Optocoupler", "LED current to spare",
     Quantity::Current, false, false, "", "the LED's resistor and the current the controller needs"},
    {RowId::BatteryFlatCurrent, Station::Load, false, "Flat battery", "charging current", Quantity::Current,
     false, false, "charging limit", "the largest charging current of the battery"},
    {RowId::BatteryBackFeed, Station::Load, false, "Back-feed", "30 days", Quantity::Current, false, false,
     "", "the battery's capacity and what stays across it"},
    {RowId::BatteryCrowbar, Station::Load, false, "Crowbar", "across the battery", Quantity::Current, false,
     false, "", "whether the supply has a crowbar"},
    {RowId::OutputReach, Station::Converter, false, "Converter", "highest output it reaches",
     Quantity::Voltage, true, false, "", "the turns ratio or the lowest input, and the largest duty"},
    {RowId::InputHeadroom, Station::Converter, false, "Converter", "input above output", Quantity::Voltage,
     false, false, "", "the lowest input and the headroom its papers ask for"},
    {RowId::BoostFloor, Station::Converter, false, "Converter", "output above input", Quantity::Voltage,
     false, false, "", "the highest input"},
    {RowId::SwitchPeakCurrent, Station::Converter, false, "Switch", "peak current", Quantity::Current, false,
     false, "peak rating", "the lowest input and the switch's peak rating"},
    {RowId::Dropout, Station::Converter, false, "Regulator", "voltage across it", Quantity::Voltage, false,
     false, "", "the lowest voltage in front of the regulator, and its dropout"},
    {RowId::JunctionTemperature, Station::Converter, false, "Regulator", "junction temperature",
     Quantity::Temperature, false, false, "junction limit",
     "the mean voltage in front of it, its thermal resistance and limit"},
    {RowId::JunctionShorted, Station::Converter, false, "Regulator", "junction, output shorted",
     Quantity::Temperature, false, false, "junction limit",
     "the current at which it limits, the mean voltage in front of it, its thermal resistance and limit"},
    {RowId::TrimRange, Station::Converter, true, "Module", "trim range", Quantity::Voltage, false, false, "",
     "the trim range in the module's papers"},
    {RowId::ChokeCurrent, Station::Smoothing, true, "Output choke", "current", Quantity::Current, false,
     false, "rated current", "the choke's rated current"},
    {RowId::RectifierCurrent, Station::OutputRectifier, true, "Rectifier", "current", Quantity::Current,
     false, false, "rated current", "the output rectifier's rated current"},
    {RowId::WindingCurrent, Station::Transformer, true, "Secondary", "current", Quantity::Current, false,
     false, "rated current", "the winding's rated current"},
    {RowId::UserVoltage, Station::Load, true, "User", "voltage", Quantity::Voltage, false, false, "",
     "who uses the rail, and what they bear"},
    {RowId::UnitShare, Station::Smoothing, false, "Unit", "share of the load", Quantity::Current, false,
     false, "", "the unit's current limit"},
    // Through the mains earth: a break here is no more to be accepted than one on the mains side.
    {RowId::StackIsolation, Station::Smoothing, false, "Unit", "output to case", Quantity::Voltage, true,
     false, "", "the working voltage from output to case, and what is bonded"},
    {RowId::StackDiode, Station::Smoothing, false, "Unit", "reverse diode", Quantity::Current, false, false,
     "", "whether a reverse diode is across its output"},
    {RowId::CableDrop, Station::Cable, false, "Run to the load", "drop", Quantity::Voltage, false, false, "",
     "length and size of the run, or its resistance"},
    {RowId::CableDensity, Station::Cable, false, "Run to the load", "A/mm²", std::nullopt, false, false, "",
     "the conductor's size"},
    {RowId::SenseRange, Station::Cable, false, "Remote sense", "drop it makes up for", Quantity::Voltage,
     false, false, "", "the sense range in the unit's papers"},
    {RowId::SenseTrip, Station::Cable, false, "Remote sense", "terminals against the trip", Quantity::Voltage,
     false, false, "", "the over-voltage trip"},
    {RowId::SenseCeiling, Station::Cable, false, "Remote sense", "terminals against their ceiling",
     Quantity::Voltage, false, false, "", "the highest voltage the unit can be set to"},
    {RowId::SenseLoop, Station::Cable, false, "Remote sense", "leads and load capacitor in the loop",
     std::nullopt, false, false, "", "the loop's bandwidth and the capacitor at the load"},
    {RowId::MainsEvidence, Station::Inlet, false, "Mains side", "for this mains", Quantity::Voltage, true,
     true, "", "what no part of the mains side has said yet: see Evidence"},
    {RowId::WindingFlux, Station::Transformer, false, "Primaries", "flux", std::nullopt, true, false, "",
     "the transformer's rated frequency"},
    {RowId::WindingSecondaries, Station::Transformer, false, "Secondaries", "off their volts, share",
     std::nullopt, false, false, "", "the secondaries' rated voltages"},
    {RowId::SurgePeak, Station::Inrush, false, "Switch-on", "surge", Quantity::Current, true, false, "",
     "what breaker and rectifier bear"},
    {RowId::BypassTime, Station::Inrush, false, "Bypass", "left to charge", std::nullopt, true, false, "",
     "when the bypass closes"},
    {RowId::LimiterStuck, Station::Inrush, false, "Surge limiter", "bypass stuck open", Quantity::Power, true,
     false, "", "the resistor's power and what the load draws"},
    {RowId::LimiterPulse, Station::Inrush, false, "Surge limiter", "pulse each time", Quantity::Energy, true,
     false, "", "the pulse the resistor's data sheet allows"},
    {RowId::BypassContacts, Station::Inrush, false, "Bypass", "contacts", Quantity::Current, true, false, "",
     "what the relay makes and what it carries, when it closes, and what the load draws"},
    {RowId::ChainOutput, Station::Smoothing, false, "Rectifier and smoothing", "voltage at the load",
     Quantity::Voltage, false, true, "", "the simulation, which runs in the background"},
    {RowId::ChainReverse, Station::InputRectifier, false, "Rectifier", "reverse voltage", Quantity::Voltage,
     true, false, "", "the rectifier's reverse rating: see Rectifier"},
    {RowId::ChainPeak, Station::InputRectifier, false, "Rectifier", "peak current", Quantity::Current, true,
     false, "", "the rectifier's peak current: see Rectifier"},
    {RowId::ChainMean, Station::InputRectifier, false, "Rectifier", "mean current", Quantity::Current, true,
     false, "", "the rectifier's mean current: see Rectifier"},
    {RowId::ChainHotStart, Station::InputRectifier, false, "Rectifier", "switched on hot", Quantity::Current,
     true, false, "", "the rectifier's hot switching current: see Rectifier"},
    {RowId::ChainFirst, Station::InputRectifier, false, "Rectifier", "first capacitor", Quantity::Capacitance,
     true, false, "", "the largest first capacitor it bears: see Rectifier"},
    {RowId::ChainPlate, Station::InputRectifier, false, "Rectifier", "resistance before it",
     Quantity::Resistance, true, false, "", "the least plate resistance it wants: see Rectifier"},
    // It fails by bursting, and so is no more to be accepted than one on the mains side.
    {RowId::ChainCapacitor, Station::Smoothing, false, "Capacitor", "voltage", Quantity::Voltage, true, true,
     "", "the capacitor's rated voltage: see Rectifier"},
    {RowId::ChainRipple, Station::Smoothing, false, "Capacitor", "ripple current", Quantity::Current, false,
     false, "", "the capacitor's ripple current: see Rectifier"},
    {RowId::ChainChoke, Station::Smoothing, false, "Choke", "current", Quantity::Current, false, false, "",
     "what the choke bears for good: see Rectifier"},
    {RowId::ChainResistor, Station::Smoothing, false, "Resistor", "power", Quantity::Power, false, false, "",
     "the resistor's power: see Rectifier"},
    {RowId::NewVoltage, Station::Smoothing, true, "New unit", "voltage", Quantity::Voltage, false, false, "",
     "its regulation, on its plate or in its papers"},
    {RowId::NewPeak, Station::Smoothing, true, "New unit", "peak current", Quantity::Current, false, false,
     "", "the peak in its papers"},
    {RowId::NewRipple, Station::Smoothing, true, "New unit", "ripple", Quantity::Voltage, false, false, "",
     "the ripple in its papers, or measured on a light load"},
    {RowId::NewLeast, Station::Smoothing, true, "New unit", "least load", Quantity::Current, false, false, "",
     "the least load in its papers"},
    {RowId::NewPower, Station::Converter, false, "New unit", "all outputs together", Quantity::Power, false,
     false, "", "the power on its plate"},
    // Mains that it does not bear, and an earth that is not there, are no more to be accepted than a part on
    // the mains side.
    {RowId::NewInput, Station::Inlet, false, "New unit", "its input", Quantity::Voltage, true, true, "",
     "the input range on its plate"},
    {RowId::NewEarth, Station::Inlet, false, "New unit", "protection class", std::nullopt, true, true, "",
     "the earth sign on the unit, and the earth at the socket"},
    {RowId::NewBond, Station::Smoothing, false, "New unit", "output to case", std::nullopt, false, false, "",
     "from each output to its case, by ohmmeter"},
    {RowId::NewInrush, Station::Fuse, false, "Fuse", "surge of the new unit", Quantity::SquaredCurrentTime,
     true, false, "", "the fuse's value and type, and the surge in the unit's papers"},
    {RowId::NewStart, Station::Load, true, "New unit", "starts into", Quantity::Capacitance, false, false, "",
     "the largest capacitive load in its papers"},
    {RowId::NewStandby, Station::Inlet, false, "New unit", "with nothing on its outputs", Quantity::Power,
     false, false, "", "its standby power, in its papers"},
    {RowId::NewEntry, Station::Inlet, false, "Mains entry", "mains current", Quantity::Current, true, false,
     "", "the amperes on inlet, switch and cord"},
    {RowId::NewConnector, Station::Cable, false, "Connector", "current of one contact", Quantity::Current,
     false, false, "", "what the wire carries"},
    {RowId::NewFit, Station::Converter, false, "New unit", "room around it", Quantity::Length, false, false,
     "", "the case inside, and the unit's size: see Fit"},
    {RowId::NewClearance, Station::Inlet, false, "New unit", "mains terminal to metal", Quantity::Length,
     true, false, "", "where its mains terminals are: see Fit"},
    {RowId::NewWires, Station::Cable, false, "Wires", "each on its terminal", std::nullopt, false, true, "",
     "what each wire does: see Wires"},
    {RowId::ModuleHeadroom, Station::Converter, false, "Module", "input above output", Quantity::Voltage,
     false, false, "", "the headroom in its papers"},
    {RowId::ModuleLow, Station::Converter, false, "Module", "least input", Quantity::Voltage, false, false,
     "", "the least input in its papers"},
    {RowId::ModuleInput, Station::Converter, false, "Module", "highest input", Quantity::Voltage, false, true,
     "", "the highest input in its papers, and what the source gives: see Module"},
    {RowId::ModuleOutput, Station::Converter, false, "Module", "output", Quantity::Voltage, false, false, "",
     "between what it can be set"},
    {RowId::ModuleCurrent, Station::Converter, false, "Module", "peak current", Quantity::Current, false,
     false, "", "the current in its papers"},
    {RowId::ModuleJunction, Station::Converter, false, "Module", "junction temperature",
     Quantity::Temperature, false, false, "", "its thermal resistance and junction limit"},
    {RowId::SourceRise, Station::Reservoir, false, "Reservoir", "unloaded source", Quantity::Voltage, false,
     false, "", "the reservoir's rated voltage"},
    {RowId::BrokenWire, Station::Converter, false, "Potentiometer", "when a wire breaks", std::nullopt, false,
     false, "", "where it sits in the module's divider: see Rehouse"},
    {RowId::PotVolts, Station::Converter, false, "Potentiometer", "what it turns to", Quantity::Voltage,
     false, false, "", "its value and the fixed leg beside it: see Rehouse"},
    {RowId::PotAmps, Station::Converter, false, "Potentiometer", "what it turns to", Quantity::Current, false,
     false, "", "what the load draws"},
    {RowId::PotStep, Station::Converter, false, "Potentiometer", "volts for a degree", Quantity::Voltage,
     false, false, "", "its turns: see Rehouse"},
    {RowId::PotLead, Station::Converter, false, "Potentiometer", "length of its wires", Quantity::Length,
     false, false, "", "the length of its wires: see Rehouse"},
    {RowId::SpacerPath, Station::Converter, false, "Spacer", "what it carries", Quantity::Current, false,
     false, "", "from its head to the board's plus, return and outputs, by ohmmeter, dead"},
    {RowId::CaseHeat, Station::Converter, false, "Module", "air in the closed case", Quantity::Temperature,
     false, false, "", "the case inside (see Fit), and the module's efficiency"},
    {RowId::FeedFuse, Station::Fuse, false, "Fuse", "of the feed", Quantity::Current, false, false, "",
     "the module's efficiency"},
    {RowId::ReadoutTrue, Station::Smoothing, false, "Readout", "held against a meter", std::nullopt, false,
     false, "", "two readings or more beside a good meter: see Rehouse"},
    {RowId::PanelRoom, Station::Smoothing, false, "Panel", "room on it", Quantity::Length, false, false, "",
     "the size of its cut-out: see Panel"},
    {RowId::PanelMains, Station::Inlet, false, "Panel", "mains part to output part", Quantity::Length, true,
     false, "", "which parts stand at mains potential: see Panel"},
    {RowId::PanelDepth, Station::Smoothing, false, "Panel", "room behind it", Quantity::Length, false, false,
     "", "the case inside: see Fit"},
    {RowId::PanelHoles, Station::Smoothing, false, "Panel", "old holes", Quantity::Length, false, false, "",
     "the size of each hole: see Panel"},
    {RowId::PanelLetters, Station::Smoothing, false, "Panel", "what it promises", Quantity::Voltage, false,
     false, "", "what the output can be set to"},
}};

} // namespace

const RowInfo& rowInfo(RowId id) { return row_infos.at(static_cast<std::size_t>(id)); }

std::optional<double>* ratingOf(RowId id, Supply& supply, Load& load, std::string_view rail_name)
{
    Rail* named = railNamed(supply, rail_name);
    if (named == nullptr)
        return nullptr;
    Rail& rail = *named;
    switch (id) {
    case RowId::FuseVoltage:
        return &supply.fuse.v_rated_v;
    case RowId::FuseCurrent:
        return &supply.fuse.value_a;
    case RowId::InputRectifierReverse:
        return &supply.input.v_rrm_v;
    case RowId::BulkVoltage:
        return &supply.bulk.v_rated_v;
    case RowId::SwitchVoltage:
        return &supply.converter.v_rated_v;
    case RowId::ClampLevel:
        return &supply.converter.clamp_v;
    case RowId::AuxiliaryHigh:
        return &supply.auxiliary.max_v;
    case RowId::RectifierReverse:
        return &rail.rectifier.v_rrm_v;
    case RowId::OutputCapacitorVoltage:
        return &rail.capacitor.v_rated_v;
    case RowId::TripVoltage:
        return &rail.trip.v_v;
    case RowId::MinimumLoadPower:
        return &rail.minimum_load.power_w;
    case RowId::IndicatorPower:
        return &rail.indicator.power_w;
    case RowId::ReferenceCathode:
        return &rail.feedback.stage.cathode_max_v;
    case RowId::BatteryFlatCurrent:
        return &load.battery.i_charge_max_a;
    case RowId::SwitchPeakCurrent:
        return &supply.regulator.i_peak_a;
    case RowId::JunctionTemperature:
    case RowId::JunctionShorted:
        return &supply.regulator.t_j_max_k;
    case RowId::ChokeCurrent:
        return &rail.choke_rated_a;
    case RowId::RectifierCurrent:
        return &rail.rectifier.i_rated_a;
    case RowId::WindingCurrent:
        return &rail.winding.i_rated_a;
    default: // no single rating answers it
        return nullptr;
    }
}

std::string_view reasonWithoutRows(Station station, Topology topology)
{
    switch (station) {
    case Station::Inlet:
        return "A change of the output leaves the mains entry as it is; earth and insulation are proven "
               "before power.";
    case Station::InputRectifier:
    case Station::Reservoir:
        if (bearsLowMains(topology))
            return "The transformer stands before it: a chain entered under Rectifier judges it.";
        [[fallthrough]];
    case Station::Fuse:
        return topology == Topology::SealedModule ? "Sealed: the papers rule over what is inside."
                                                  : "No mains behind this station: it is fed with DC.";
    case Station::Inrush:
        return "The surge depends on the mains side, which a change of the output leaves alone.";
    case Station::Transformer:
        return "No transformer, or none that anybody may open.";
    case Station::OutputRectifier:
        return topology == Topology::Unregulated
                   ? "Its one rectifier is judged at Input."
                   : "What rectifies stands in front of the regulator, or is sealed.";
    case Station::Cable:
        return "The drop follows the current, which the plan does not change.";
    case Station::Load:
        return "Equipment names its own window; it is the need.";
    case Station::Feedback:
        return topology == Topology::Unregulated ? "There is no loop."
               : isMainsSwitcher(topology)       ? "Nothing of its loop was entered."
                                                 : "The regulator senses its own output.";
    case Station::Converter:
        return topology == Topology::Unregulated
                   ? "Nothing regulates: the transformer and the load set the voltage."
                   : std::string_view();
    case Station::Smoothing:
        break;
    }
    return {};
}

} // namespace offshoot
