// `consequences`: what a new output voltage drags along. One row for each part and quantity, worst first.
//
// Every rail of the plan counts, in whatever order they are named, and moves every rail of its loop: their
// rows stand here too, each with the name of its rail. Which values are compared: voltage stress uses the
// highest predicted voltage at the highest mains; lockout and dropout use the lowest, at the lowest mains and
// the ripple trough. What nobody has read is assumed where a usual figure exists (and said so) or leaves the
// verdict unknown with the part to read.
#pragma once

#include "core/supply/station.h"
#include "core/supply/supply.h"
#include "core/values/quantity.h"
#include "core/values/verdict.h"

#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace offshoot {

/// Every row there is. `RowInfo` below says where it stands and which rating answers it.
enum class RowId {
    FuseVoltage,
    FuseCurrent,
    InputRectifierReverse,
    BulkVoltage,
    SwitchVoltage,
    ClampLevel,
    ConverterDuty,
    AuxiliaryLow,
    AuxiliaryHigh,
    OutputCurrent,
    RectifierReverse,
    OutputCapacitorVoltage,
    TripVoltage,
    MinimumLoadPower,
    IndicatorPower,
    ReferenceCathode,
    OptocouplerCurrent,
    BatteryFlatCurrent,
    BatteryBackFeed,
    BatteryCrowbar,
    OutputReach,
    InputHeadroom,
    BoostFloor,
    SwitchPeakCurrent,
    Dropout,
    JunctionTemperature,
    JunctionShorted,
    TrimRange,
    ChokeCurrent,
    RectifierCurrent,
    WindingCurrent,
    UserVoltage,
    // Of units joined and of the run to the load; added by the evaluation of a job:
    UnitShare,
    StackIsolation,
    StackDiode,
    CableDrop,
    CableDensity,
    SenseRange,
    SenseTrip,
    SenseCeiling,
    SenseLoop,
    // Of the mains side, likewise:
    MainsEvidence,
    WindingFlux,
    WindingSecondaries,
    SurgePeak,
    BypassTime,
    LimiterStuck,
    LimiterPulse,
    BypassContacts,
    // Of the rectifier chain, once its simulation has come in:
    ChainOutput,
    ChainReverse,
    ChainPeak,
    ChainMean,
    ChainHotStart,
    ChainFirst,
    ChainPlate,
    ChainCapacitor,
    ChainRipple,
    ChainChoke,
    ChainResistor,
    // Of other units in the place of the old one:
    NewVoltage,
    NewPeak,
    NewRipple,
    NewLeast,
    NewPower,
    NewInput,
    NewEarth,
    NewBond,
    NewInrush,
    NewStart,
    NewStandby,
    NewEntry,
    NewConnector,
    NewFit,
    NewClearance,
    NewWires,
    // Of a module in the place of the regulator:
    ModuleHeadroom,
    ModuleLow,
    ModuleInput,
    ModuleOutput,
    ModuleCurrent,
    ModuleJunction,
    SourceRise,
    // Of an adjustable module in a case of its own:
    BrokenWire,
    PotVolts,
    PotAmps,
    PotStep,
    PotLead,
    SpacerPath,
    CaseHeat,
    FeedFuse,
    ReadoutTrue,
    // Of what comes out to a front:
    PanelRoom,
    PanelMains,
    PanelDepth,
    PanelHoles,
    PanelLetters,
};
template <>
struct Words<RowId>
{
    static constexpr std::array<std::string_view, 97> list{"fuse_voltage",
                                                           "fuse_current",
                                                           "input_rectifier_reverse",
                                                           "bulk_voltage",
                                                           "switch_voltage",
                                                           "clamp_level",
                                                           "converter_duty",
                                                           "auxiliary_low",
                                                           "auxiliary_high",
                                                           "output_current",
                                                           "rectifier_reverse",
                                                           "output_capacitor_voltage",
                                                           "trip_voltage",
                                                           "minimum_load_power",
                                                           "indicator_power",
                                                           "reference_cathode",
                                                           "optocoupler_current",
                                                           "battery_flat_current",
                                                           "battery_back_feed",
                                                           "battery_crowbar",
                                                           "output_reach",
                                                           "input_headroom",
                                                           "boost_floor",
                                                           "switch_peak_current",
                                                           "dropout",
                                                           "junction_temperature",
                                                           "junction_shorted",
                                                           "trim_range",
                                                           "choke_current",
                                                           "rectifier_current",
                                                           "winding_current",
                                                           "user_voltage",
                                                           "unit_share",
                                                           "stack_isolation",
                                                           "stack_diode",
                                                           "cable_drop",
                                                           "cable_density",
                                                           "sense_range",
                                                           "sense_trip",
                                                           "sense_ceiling",
                                                           "sense_loop",
                                                           "mains_evidence",
                                                           "winding_flux",
                                                           "winding_secondaries",
                                                           "surge_peak",
                                                           "bypass_time",
                                                           "limiter_stuck",
                                                           "limiter_pulse",
                                                           "bypass_contacts",
                                                           "chain_output",
                                                           "chain_reverse",
                                                           "chain_peak",
                                                           "chain_mean",
                                                           "chain_hot_start",
                                                           "chain_first",
                                                           "chain_plate",
                                                           "chain_capacitor",
                                                           "chain_ripple",
                                                           "chain_choke",
                                                           "chain_resistor",
                                                           "new_voltage",
                                                           "new_peak",
                                                           "new_ripple",
                                                           "new_least",
                                                           "new_power",
                                                           "new_input",
                                                           "new_earth",
                                                           "new_bond",
                                                           "new_inrush",
                                                           "new_start",
                                                           "new_standby",
                                                           "new_entry",
                                                           "new_connector",
                                                           "new_fit",
                                                           "new_clearance",
                                                           "new_wires",
                                                           "module_headroom",
                                                           "module_low",
                                                           "module_input",
                                                           "module_output",
                                                           "module_current",
                                                           "module_junction",
                                                           "source_rise",
                                                           "broken_wire",
                                                           "pot_volts",
                                                           "pot_amps",
                                                           "pot_step",
                                                           "pot_lead",
                                                           "spacer_path",
                                                           "case_heat",
                                                           "feed_fuse",
                                                           "readout_true",
                                                           "panel_room",
                                                           "panel_mains",
                                                           "panel_depth",
                                                           "panel_holes",
                                                           "panel_letters"};
};

struct RowInfo
{
    RowId id;
    Station station;
    bool of_rail; ///< else of the whole supply
    std::string_view part;
    std::string_view quantity;
    std::optional<Quantity> unit; ///< none for a plain ratio
    bool mains_side;              ///< a break here cannot be accepted
    bool needed_for_sign_off;     ///< of a mains-fed job
    std::string_view rating;      ///< what another part would change, or empty if none would
    std::string_view read_next;   ///< what settles an unknown
};
const RowInfo& rowInfo(RowId id);

/// The rating of the part a row judges, to fit another one; null where no single rating answers it. `rail`
/// names the rail the row belongs to; empty is the first.
std::optional<double>* ratingOf(RowId id, Supply& supply, Load& load, std::string_view rail = {});

/// Which row it is: several rails and users have the same one.
struct RowKey
{
    RowId id;
    std::string rail;
    std::string part;
    bool operator==(const RowKey&) const = default;
};

struct ConsequenceRow
{
    RowId id;
    Station station;
    std::string rail; ///< empty for what the whole supply shares
    std::string part;
    std::string quantity;
    std::optional<double> found;
    std::optional<double> planned;
    std::optional<double> limit;
    std::optional<double> use;
    Verdict verdict;
    std::vector<std::string> assumed;
    std::string formula;
    std::string working;
    std::string read_next = {}; ///< what would settle an unknown, of this supply; empty: the table's words
    double fits_to;             ///< the use up to which it fits: 0.80, or 1 where there is only yes or no
    bool worse;                 ///< than as found
    bool counted;               ///< in the header: worse and not fitting, or breaking
    RowKey key() const { return {id, rail, part}; }
    /// Whether the limit is the least that is needed, and not the most: its use is the limit over the figure.
    bool limitIsLeast() const;
    bool operator==(const ConsequenceRow&) const = default;
};
void fields(Fields& f, ConsequenceRow& out);
/// An empty row with the words of the table; the part's own name where one is given.
ConsequenceRow blankRow(RowId id, std::string part = {});
/// Marks what the header counts and puts those first, each part worst first. Returns the worst of them.
Verdict countAndSort(std::vector<ConsequenceRow>& rows);

struct RailPlan
{
    double v_v;
    std::optional<double> min_v = {}; ///< lowest and highest predicted; v_v when absent
    std::optional<double> max_v = {};
    std::optional<double> i_a = {}; ///< what the load wants; its users' typical currents when absent
    double low() const { return min_v.value_or(v_v); }
    double high() const { return max_v.value_or(v_v); }
    bool operator==(const RailPlan&) const = default;
};
void fields(Fields& f, RailPlan& value);

/// The mains as far as somebody said.
struct MainsGiven
{
    std::optional<double> v_v = {};
    std::optional<double> spread = {};
    std::optional<double> f_hz = {};
};
void fields(Fields& f, MainsGiven& value);

struct ConsequencesInput
{
    Supply supply;
    MainsGiven mains = {};
    Load load = {};
    std::vector<std::pair<std::string, RailPlan>> plan;
};
void fields(Fields& f, ConsequencesInput& in);

struct ConsequencesResult
{
    std::vector<ConsequenceRow> rows; ///< counted ones first, each part worst first
    std::vector<std::pair<std::string, std::optional<double>>> allowed_current_a;
    Verdict verdict; ///< worst of the counted rows
};
void fields(Fields& f, ConsequencesResult& out);

/// Throws DocumentError at /plan for a rail the supply does not have.
ConsequencesResult consequences(const ConsequencesInput& in);

/// Why a station of this topology has no row of its own; empty if it has one.
std::string_view reasonWithoutRows(Station station, Topology topology);

/// Output current a rail may give at `v_v`: what the nameplate's power allows (flyback and sealed module: the
/// power stays, the rectifier's share included; boost: the switch's peak) and no more than any rating that
/// was read: rectifier, choke, winding, current limit. Nothing without a nameplate current.
std::optional<double> allowedCurrent(const Supply& supply, const Rail& rail, std::optional<double> v_v);

/// A rail and the voltage it stands at.
struct RailAt
{
    const Rail& rail;
    double v_v;
};
/// What a rail gives when another of its loop is brought to `to_v`: behind one transformer the windings'
/// voltages keep their ratio, rectifier drops included (transformer with ideal coupling, textbook); elsewhere
/// the outputs do.
double followedVoltage(const Supply& supply, const RailAt& own, const RailAt& moved, double to_v);

} // namespace offshoot
