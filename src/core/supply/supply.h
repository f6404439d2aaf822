// The model of one supply: mains entry, converter, rails, feedback, protection, and what hangs on it.
//
// Ratings are optional: one that nobody has read stays absent and makes its verdict *unknown*. Everything
// is in SI units. This is the supply part of the job file and of `consequences`.
#pragma once

#include "core/supply/case_space.h"
#include "core/supply/feedback.h"
#include "core/supply/kind_clues.h"
#include "core/supply/mains_side.h"
#include "core/supply/output_parts.h"
#include "core/values/usual.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

enum class Topology {
    Flyback,
    Forward,
    HalfBridge,
    FullBridge,
    Buck,
    Boost,
    Linear,     ///< an adjustable or fixed regulator in one case
    SeriesPass, ///< a discrete pass transistor with its reference
    SealedModule,
    Unregulated, ///< mains transformer, rectifier and smoothing, no loop
};
template <>
struct Words<Topology>
{
    static constexpr std::array<std::string_view, 10> list{
        "flyback", "forward", "half_bridge", "full_bridge",   "buck",
        "boost",   "linear",  "series_pass", "sealed_module", "unregulated"};
};
/// Behind the mains rectifier with a transformer of its own that the converter switches.
bool isMainsSwitcher(Topology topology);
/// Forward, half and full bridge: an output choke averages the secondary's pulses.
bool isBuckDerived(Topology topology);
/// Drops the difference in heat.
bool isLinear(Topology topology);
/// Draws no more current at low mains than at full, and may be brought up on a variable transformer.
bool bearsLowMains(Topology topology);
/// Its converter or regulator runs from a DC feed: no mains, no plug.
bool isDcFed(Topology topology);
/// What stands between hands and the circuit.
enum class Enclosure {
    Closed,    ///< a case that opens
    OpenFrame, ///< a bare board or an open frame
    Sealed,    ///< does not open without being destroyed: only its output can be reached
    Boxed,     ///< a case that opens, the unit in it does not
};
template <>
struct Words<Enclosure>
{
    static constexpr std::array<std::string_view, 4> list{"closed", "open_frame", "sealed", "boxed"};
};
enum class EarthClass { ClassI, ClassII };
template <>
struct Words<EarthClass>
{
    static constexpr std::array<std::string_view, 2> list{"class_1", "class_2"};
};
enum class InputKind { Bridge, Doubler, PowerFactorStage };
template <>
struct Words<InputKind>
{
    static constexpr std::array<std::string_view, 3> list{"bridge", "doubler", "power_factor_stage"};
};
enum class RectifierKind { Schottky, Fast };
template <>
struct Words<RectifierKind>
{
    static constexpr std::array<std::string_view, 2> list{"schottky", "fast"};
};
enum class TripKind { None, Zener, Crowbar, Winding };
template <>
struct Words<TripKind>
{
    static constexpr std::array<std::string_view, 4> list{"none", "zener", "crowbar", "winding"};
};
enum class LoadKind { Equipment, Battery };
template <>
struct Words<LoadKind>
{
    static constexpr std::array<std::string_view, 2> list{"equipment", "battery"};
};

/// The mains there is. `spread` is the share it may be off nominal, either way.
struct Mains
{
    double v_v = 230;
    double spread = usual_mains_spread;
    double f_hz = 50;
    bool v_assumed = false; ///< nobody said
    bool spread_assumed = false;
    Json unknown = {};
    double highest() const { return v_v * (1 + spread); }
    double lowest() const { return v_v * (1 - spread); }
    bool operator==(const Mains&) const = default;
};
void fields(Fields& f, Mains& value);

struct Fuse
{
    std::optional<double> value_a = {};
    std::optional<double> v_rated_v = {};
    std::optional<std::string> type = {}; ///< "T", "F"
    Json unknown = {};
    bool operator==(const Fuse&) const = default;
};
void fields(Fields& f, Fuse& value);
/// "T0.8 A"; empty for one that nobody has read.
std::string fuseText(const Fuse& fuse);

struct Inrush
{
    std::optional<double> r_ohm = {}; ///< cold limiter resistance
    Json unknown = {};
    bool operator==(const Inrush&) const = default;
};
void fields(Fields& f, Inrush& value);

struct InputRectifier
{
    std::optional<InputKind> kind = {};
    std::optional<double> v_rrm_v = {}; ///< of each diode
    std::optional<double> bus_v = {};   ///< behind a power factor stage
    Json unknown = {};
    /// A bridge where nobody looked.
    InputKind stage() const { return kind.value_or(InputKind::Bridge); }
    bool operator==(const InputRectifier&) const = default;
};
void fields(Fields& f, InputRectifier& value);

struct BulkCapacitor
{
    std::optional<double> c_f = {};
    std::optional<double> v_rated_v = {};
    CapacitorKind kind = CapacitorKind::Aluminium;
    std::optional<double> t_rated_k = {}; ///< for the record: nothing is judged by it
    std::optional<double> bleeder_ohm = {};
    Json unknown = {};
    bool operator==(const BulkCapacitor&) const = default;
};
void fields(Fields& f, BulkCapacitor& value);

struct SwitchStage
{
    std::optional<double> v_rated_v = {};
    std::optional<double> spike_v = {}; ///< leakage spike above the reflected voltage
    std::optional<double> clamp_v = {}; ///< clamp level above the input
    std::optional<double> duty_max = {};
    Json unknown = {};
    bool operator==(const SwitchStage&) const = default;
};
void fields(Fields& f, SwitchStage& value);

/// What stands in front of the converter where that is not the rectified mains: an adapter, another rail, a
/// mains transformer with its rectifier. `min_v` is the ripple trough at the lowest mains.
struct DirectInput
{
    std::optional<double> min_v = {};
    std::optional<double> mean_v = {}; ///< at the highest mains: what heats a linear regulator
    std::optional<double> max_v = {};
    Json unknown = {};
    bool operator==(const DirectInput&) const = default;
};
void fields(Fields& f, DirectInput& value);

/// What stands in front of a regulator that is to be replaced, as read.
struct RegulatorFeed
{
    std::optional<double> open_v = {};      ///< mean, unloaded, at the nominal mains
    std::optional<double> r_ohm = {};       ///< volts lost for each ampere
    std::optional<double> ripple_v = {};    ///< peak to peak, at ripple_at_a
    std::optional<double> ripple_at_a = {}; ///< absent: at the output's current
    std::optional<double> others_a = {};    ///< what else draws on it
    std::string others = {};                ///< and who that is
    Json unknown = {};
    bool operator==(const RegulatorFeed&) const = default;
};
void fields(Fields& f, RegulatorFeed& value);

/// What a buck, boost or linear stage needs and bears besides its switch.
struct Regulator
{
    std::optional<double> drop_v = {};        ///< buck: lost in switch and choke; linear: dropout it needs
    std::optional<double> headroom_v = {};    ///< buck module: input above output that its papers ask for
    std::optional<double> i_peak_a = {};      ///< boost: peak current the switch bears
    std::optional<double> ripple_a = {};      ///< boost: choke ripple, peak to peak
    std::optional<double> theta_k_per_w = {}; ///< linear: junction to ambient, heatsink included
    std::optional<double> t_ambient_k = {};   ///< around the unit when it works
    std::optional<double> t_j_max_k = {};
    Json unknown = {};
    bool operator==(const Regulator&) const = default;
};
void fields(Fields& f, Regulator& value);

/// A current limit: threshold across a shunt.
struct CurrentSense
{
    std::optional<LimitThreshold> threshold = {};
    std::optional<Network> shunt = {};
    double shunt_tolerance = 0.01;
    std::optional<double> part_power_w = {};
    double lead_ohm = 0;
    bool in_loop = false;      ///< ahead of the voltage sensing point
    bool primary_side = false; ///< then it limits the peak of the switch current
    double hiccup_duty = 1;
    Json unknown = {};
    bool operator==(const CurrentSense&) const = default;
};
void fields(Fields& f, CurrentSense& value);

/// A trimmer moves every rail it names in proportion. Its travel is in shares of where it stands now.
struct Trimmer
{
    std::string name = "trimmer";
    std::vector<std::string> rails = {}; ///< empty: all that share the first rail's loop
    std::optional<double> min_scale = {};
    std::optional<double> max_scale = {};
    Json unknown = {};
    bool operator==(const Trimmer&) const = default;
};
void fields(Fields& f, Trimmer& value);

enum class WireFunction {
    Unknown,
    Output,
    Return,
    Enable,
    PowerGood,
    Standby,
    Sense,
    SenseReturn,
    Line,
    Neutral,
    Earth,
    Feed,
    FeedReturn
};
template <>
struct Words<WireFunction>
{
    static constexpr std::array<std::string_view, 13> list{
        "unknown",      "output", "return",  "enable", "power_good", "standby",    "sense",
        "sense_return", "line",   "neutral", "earth",  "feed",       "feed_return"};
};
/// One wire of the harness. Its colour is never taken for its function: that counts once it was measured.
struct Wire
{
    std::string name = "wire";
    std::string colour = {};
    WireFunction function = WireFunction::Unknown;
    bool measured = false;
    std::string rail = {};
    std::optional<double> current_a = {};
    std::optional<double> area_m2 = {};
    std::optional<double> length_m = {};     ///< free length, from where it is held to its end
    std::optional<double> insulation_v = {}; ///< rms that its insulation bears
    std::optional<double> connector_a = {};  ///< rating of the contact that stays at its other end
    Json unknown = {};
    bool operator==(const Wire&) const = default;
};
void fields(Fields& f, Wire& value);

struct Transformer
{
    std::optional<double> primary_turns_per_secondary = {};   ///< N_p/N_s of the first rail's winding
    std::optional<double> auxiliary_turns_per_secondary = {}; ///< N_aux/N_s likewise
    std::optional<std::int64_t> primary_turns = {};
    std::optional<std::int64_t> auxiliary_turns = {};
    Json unknown = {};
    bool operator==(const Transformer&) const = default;
};
void fields(Fields& f, Transformer& value);

/// The controller's own supply from an auxiliary winding.
struct Auxiliary
{
    std::optional<double> v_f_v = {};
    std::optional<double> off_v = {}; ///< undervoltage lockout, off-threshold
    std::optional<double> max_v = {};
    Json unknown = {};
    bool operator==(const Auxiliary&) const = default;
};
void fields(Fields& f, Auxiliary& value);

struct OutputRectifier
{
    RectifierKind kind = RectifierKind::Schottky;
    std::optional<double> v_f_v = {};
    std::optional<double> v_rrm_v = {};
    std::optional<double> i_rated_a = {};
    Json unknown = {};
    bool operator==(const OutputRectifier&) const = default;
};
void fields(Fields& f, OutputRectifier& value);

struct OutputCapacitor
{
    std::string name = "output capacitor";
    std::optional<double> c_f = {};
    std::optional<double> v_rated_v = {};
    std::optional<double> t_rated_k = {}; ///< for the record: nothing is judged by it
    Json unknown = {};
    bool operator==(const OutputCapacitor&) const = default;
};
void fields(Fields& f, OutputCapacitor& value);

struct Indicator
{
    std::optional<bool> fitted = {}; ///< absent: nobody has looked
    std::optional<double> r_ohm = {};
    std::optional<double> v_f_v = {};
    std::optional<double> power_w = {};
    Json unknown = {};
    bool operator==(const Indicator&) const = default;
};
void fields(Fields& f, Indicator& value);

/// A bleeder or minimum-load resistor across the rail.
struct RailResistor
{
    std::optional<bool> fitted = {}; ///< absent: nobody has looked
    std::optional<double> r_ohm = {};
    std::optional<double> power_w = {};
    Json unknown = {};
    bool operator==(const RailResistor&) const = default;
};
void fields(Fields& f, RailResistor& value);

struct Trip
{
    std::optional<TripKind> kind = {};
    std::optional<double> v_v = {};
    Json unknown = {};
    bool operator==(const Trip&) const = default;
};
void fields(Fields& f, Trip& value);

/// A 431-type reference driving an optocoupler's LED.
struct ReferenceStage
{
    std::optional<double> cathode_max_v = {};
    bool own_supply = false;              ///< fed from a rail of its own, not from the output
    std::optional<double> r_led_ohm = {}; ///< in series with the optocoupler's LED
    std::optional<double> v_f_v = {};     ///< of that LED
    std::optional<double> i_needed_a =
        {};                ///< LED current the controller can ask for, at the least transfer ratio
    bool has_bias = false; ///< a resistor across the LED carries the reference's own 1 mA
    Json unknown = {};
    bool operator==(const ReferenceStage&) const = default;
};
void fields(Fields& f, ReferenceStage& value);

/// The divider as far as it was entered.
struct Feedback
{
    std::optional<Reference> reference = {};
    std::optional<Network> top = {};
    std::optional<Network> bottom = {};
    double tolerance = 0.01;
    ReferenceStage stage = {};
    Json unknown = {};
    /// The divider, once reference and both legs are known.
    std::optional<FoundDivider> divider() const;
    bool operator==(const Feedback&) const = default;
};
void fields(Fields& f, Feedback& value);

/// The run to the load. Its resistance is read as a whole, or follows from length and size.
struct Cable
{
    std::optional<double> r_loop_ohm = {}; ///< go and return, as measured
    std::optional<double> length_m = {};   ///< one way
    std::optional<double> area_m2 = {};    ///< of one conductor
    std::int64_t conductors = 1;           ///< side by side, each way
    double contact_ohm = 0;                ///< all connectors together
    double temperature_k = 293.15;
    Json unknown = {};
    /// What was measured, else computed from copper; nothing without either.
    std::optional<double> loopOhm() const;
    bool operator==(const Cable&) const = default;
};
void fields(Fields& f, Cable& value);

/// Sense terminals of an output, as its papers or readings give them.
struct RemoteSense
{
    bool fitted = false;
    double r_lead_ohm = 0;                     ///< of each sense wire
    std::optional<double> r_fallback_ohm = {}; ///< terminal to sense pin, inside the unit
    double current_a = 0;                      ///< drawn by each pin
    std::optional<double> range_v = {};        ///< the most it makes up for
    std::optional<double> ceiling_v = {};      ///< most the terminals can give
    std::optional<double> bandwidth_hz = {};
    std::optional<double> load_capacitor_f = {};
    Json unknown = {};
    bool operator==(const RemoteSense&) const = default;
};
void fields(Fields& f, RemoteSense& value);

/// How a unit's first rail meets others on a bus or in a stack, and what of it is earthed.
struct Joint
{
    std::optional<double> v_set_v = {};   ///< as it stands; the rail's own figure when absent
    std::optional<double> r_out_ohm = {}; ///< slope of its output: droop
    std::optional<double> i_limit_a = {};
    LimitKind limit = LimitKind::ConstantCurrent;
    std::optional<double> lead_length_m = {}; ///< one way, to where the units join
    std::optional<double> lead_area_m2 = {};
    std::optional<OringDiode> diode = {};
    Bond bonded = Bond::Unknown;
    std::optional<double> isolation_v = {}; ///< working voltage output to case
    std::optional<ReverseDiode> reverse_diode = {};
    Json unknown = {};
    /// Of the lead, go and return; nothing until length and size are known.
    std::optional<double> leadOhm() const;
    bool operator==(const Joint&) const = default;
};
void fields(Fields& f, Joint& value);

struct Battery
{
    std::optional<double> v_flat_v = {};
    std::optional<double> r_ohm = {}; ///< internal, with its leads
    std::optional<double> i_charge_max_a = {};
    std::optional<double> capacity_c = {}; ///< in coulomb (3600 C are one Ah)
    std::optional<double> fuse_a = {};
    std::optional<bool> blocking_diode = {}; ///< between supply and battery
    Json unknown = {};
    bool operator==(const Battery&) const = default;
};
void fields(Fields& f, Battery& value);

struct Load
{
    std::string name = "load";
    LoadKind kind = LoadKind::Equipment;
    Battery battery = {};
    Json unknown = {};
    bool operator==(const Load&) const = default;
};
void fields(Fields& f, Load& value);

/// The winding behind a rail.
struct SecondaryWinding
{
    std::optional<std::int64_t> turns = {};
    std::optional<double> primary_turns_per_secondary = {}; ///< N_p/N_s; the transformer's when absent
    std::optional<bool> centre_tapped = {};
    std::optional<double> i_rated_a = {};
    Json unknown = {};
    bool operator==(const SecondaryWinding&) const = default;
};
void fields(Fields& f, SecondaryWinding& value);

/// Who draws on a rail: "who else uses this rail?" needs an answer before it is moved or taken away.
struct RailUser
{
    std::string name = "user";
    std::string connector = {}; ///< connector and pin, or the circuit
    std::optional<double> typical_a = {};
    std::optional<double> least_a = {};
    std::optional<double> min_v = {};
    std::optional<double> max_v = {};
    std::string if_lost = {}; ///< what stops working without the rail
    Json unknown = {};
    bool operator==(const RailUser&) const = default;
};
void fields(Fields& f, RailUser& value);

struct Rail
{
    std::string name = "out";
    bool negative = false; ///< its voltage is below the return's; every figure stays a magnitude
    std::optional<std::string> regulated_by = {}; ///< the rail whose loop moves this one; absent: its own
    SecondaryWinding winding = {};
    std::optional<double> choke_rated_a = {};
    std::optional<double> trim_min_v = {}; ///< of a sealed module, from its papers
    std::optional<double> trim_max_v = {};
    std::vector<RailUser> users = {};
    std::optional<double> v_v = {}; ///< as found: label or reading
    std::optional<double> i_rated_a = {};
    OutputRectifier rectifier = {};
    OutputCapacitor capacitor = {};
    Feedback feedback = {};
    Indicator indicator = {};
    RailResistor minimum_load = {};
    Trip trip = {};
    Cable cable = {};
    RemoteSense sense = {};
    Json unknown = {};
    /// The sign its readings carry.
    double sign() const { return negative ? -1 : 1; }
    bool operator==(const Rail&) const = default;
};
void fields(Fields& f, Rail& value);

/// What stands between the outlet and the fuse, by its own ratings in amperes.
struct MainsEntry
{
    std::optional<double> inlet_a = {};
    std::optional<double> switch_a = {};
    std::optional<double> cord_a = {};
    Json unknown = {};
    bool operator==(const MainsEntry&) const = default;
};
void fields(Fields& f, MainsEntry& value);

struct Supply
{
    std::string name = {};
    Topology topology = Topology::Flyback;
    bool topology_assumed = false; ///< nobody said what it is: it is taken for the likely kind
    std::optional<Silhouette> silhouette = {};
    KindClues seen = {}; ///< what was looked at to find out what it is
    EarthClass earth_class = EarthClass::ClassI;
    std::optional<Enclosure> enclosure = {}; ///< absent: nobody said, see `housing`
    std::optional<double> efficiency = {};
    MainsEntry entry = {};
    Fuse fuse = {};
    Inrush inrush = {};
    InputRectifier input = {};
    BulkCapacitor bulk = {};
    SwitchStage converter = {};
    Transformer transformer = {};
    Auxiliary auxiliary = {};
    DirectInput direct = {};
    Regulator regulator = {};
    CurrentSense current_limit = {};
    std::vector<Rail> rails = {Rail{}}; ///< the first is the one under change
    std::vector<Trimmer> trimmers = {};
    std::vector<Wire> wires = {};
    Joint joint = {}; ///< with other units of the job
    MainsSide mains_side = {};
    std::optional<CaseSpace> space = {}; ///< the case it sits in
    std::optional<RegulatorFeed> feed = {};
    Json unknown = {};
    bool dcFed() const { return isDcFed(topology); }
    /// As said, else what its kind or its silhouette has.
    Enclosure housing() const;
    /// Its inside cannot be reached: its output is all that can be proven.
    bool sealed() const { return housing() == Enclosure::Sealed || housing() == Enclosure::Boxed; }
    /// There is a case around it that opens.
    bool opens() const { return housing() == Enclosure::Closed || housing() == Enclosure::Boxed; }
    /// Nothing can be reached but plug and output: no case around it, or none that opens.
    bool outsideOnly() const { return housing() == Enclosure::Sealed; }
    // Compiled once, in supply.cpp.
    Supply();
    Supply(const Supply&);
    Supply(Supply&&) noexcept;
    Supply& operator=(const Supply&);
    Supply& operator=(Supply&&) noexcept;
    ~Supply();
    bool operator==(const Supply&) const;
};
void fields(Fields& f, Supply& value);

/// Takes an unnamed supply for the kind that what was seen of it makes likely.
void takeLikelyKind(Supply& supply);

/// The rail of that name; the first where the name is empty; null where there is none.
const Rail* railNamed(const Supply& supply, std::string_view name);
Rail* railNamed(Supply& supply, std::string_view name);
/// N_p/N_s of a rail's winding, from what was read of it: its own ratio, turns, or the transformer's ratio.
std::optional<double> turnsRatio(const Supply& supply, const Rail& rail);
/// Whether a change of `moved`'s set point moves `rail` in proportion.
bool movesWith(const Rail& rail, const Rail& moved);
/// The name of the rail whose loop holds this one: its own where it has one.
const std::string& loopOf(const Rail& rail);
/// What the users of a rail draw together; nothing unless each of them says.
std::optional<double> typicalCurrent(const Rail& rail);
/// What they draw at the least, as far as it is known.
double leastCurrent(const Rail& rail);

/// Where nobody read it: the bus behind a power factor stage.
inline constexpr double usual_bus_v = 385;
/// DC above it, and AC above 25 V, is treated as mains: the limit of extra-low voltage of smooth DC without
/// protection against direct contact (IEC 60364-4-41).
inline constexpr double extra_low_v = 60;
/// A protective earth reads no more than this from pin to case: the usual guide, leads included.
inline constexpr double earth_max_ohm = 0.5;

/// Output over input power as read, else 0.8; a regulator that drops the difference in heat gives no more
/// than V_out over the mean V_in, whatever was read (`v_out_v` 0: not known).
double efficiencyOf(const Supply& supply, double v_out_v);

/// Crest behind the input stage at `mains_v` rms: √2·V, doubled for a doubler; behind a power factor stage
/// its bus, which nobody read is 385 V, never below the crest.
double inputCrest(const InputRectifier& input, double mains_v);

} // namespace offshoot
