// The model of one supply: mains entry, converter, rails, feedback, protection, and what hangs on it.
//
// Ratings are optional: one that nobody has read stays absent and makes its verdict *unknown*. Everything
// is in SI units. This is the supply part of the job file and of `consequences`.
#pragma once

#include "core/change/divider.h"
#include "core/procedure/discharge.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

enum class Topology { Flyback };
template <>
struct Words<Topology>
{
    static constexpr std::array<std::string_view, 1> list{"flyback"};
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
    double spread = 0.10;
    double f_hz = 50;
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

struct Inrush
{
    std::optional<double> r_ohm = {}; ///< cold limiter resistance
    Json unknown = {};
    bool operator==(const Inrush&) const = default;
};
void fields(Fields& f, Inrush& value);

struct InputRectifier
{
    InputKind kind = InputKind::Bridge;
    std::optional<double> v_rrm_v = {}; ///< of each diode
    std::optional<double> bus_v = {};   ///< behind a power factor stage
    Json unknown = {};
    bool operator==(const InputRectifier&) const = default;
};
void fields(Fields& f, InputRectifier& value);

struct BulkCapacitor
{
    std::optional<double> c_f = {};
    std::optional<double> v_rated_v = {};
    CapacitorKind kind = CapacitorKind::Aluminium;
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

struct Transformer
{
    std::optional<double> primary_turns_per_secondary = {};   ///< N_p/N_s
    std::optional<double> auxiliary_turns_per_secondary = {}; ///< N_aux/N_s
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

struct Cable
{
    std::optional<double> r_loop_ohm = {}; ///< go and return
    Json unknown = {};
    bool operator==(const Cable&) const = default;
};
void fields(Fields& f, Cable& value);

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

struct Rail
{
    std::string name = "out";
    std::optional<double> v_v = {}; ///< as found: label or reading
    std::optional<double> i_rated_a = {};
    OutputRectifier rectifier = {};
    OutputCapacitor capacitor = {};
    Feedback feedback = {};
    Indicator indicator = {};
    RailResistor minimum_load = {};
    Trip trip = {};
    Cable cable = {};
    Json unknown = {};
    bool operator==(const Rail&) const = default;
};
void fields(Fields& f, Rail& value);

struct Supply
{
    std::string name = {};
    Topology topology = Topology::Flyback;
    EarthClass earth_class = EarthClass::ClassI;
    std::optional<double> efficiency = {};
    Fuse fuse = {};
    Inrush inrush = {};
    InputRectifier input = {};
    BulkCapacitor bulk = {};
    SwitchStage converter = {};
    Transformer transformer = {};
    Auxiliary auxiliary = {};
    std::vector<Rail> rails = {Rail{}};
    Json unknown = {};
    bool operator==(const Supply&) const = default;
};
void fields(Fields& f, Supply& value);

/// Crest behind the input stage at `mains_v` rms: √2·V, doubled for a doubler, the bus behind a power factor
/// stage.
double inputCrest(const InputRectifier& input, double mains_v);

} // namespace offshoot
