// The change as chosen.
#pragma once

#include "core/calculate/ballast.h"
#include "core/calculate/divider_search.h"
#include "core/calculate/dummy_load.h"
#include "core/calculate/inrush.h"
#include "core/calculate/parallel.h"
#include "core/job/front.h"
#include "core/judge/consequences.h"
#include "core/supply/shelf.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// Units side by side or stacked in one job.
inline constexpr std::int64_t most_units = 100;

enum class Route { FixedPart, TemporaryTrimmer };
template <>
struct Words<Route>
{
    static constexpr std::array<std::string_view, 2> list{"fixed_part", "temporary_trimmer"};
};

/// The network to be fitted and the parts it is made of, in the order the network writes them.
struct ChosenNetwork
{
    DividerMethod method;
    Network network;
    std::vector<StockItem> parts;
    Json unknown = {};
    bool operator==(const ChosenNetwork&) const = default;
};
void fields(Fields& f, ChosenNetwork& value);

struct TrimmerPlan
{
    DividerMethod method = DividerMethod::ParallelBottom;
    double pot_ohm = 10000;
    double fixed_ohm = 0;
    bool wiper_tied = true;
    std::optional<double> measured_ohm = {};
    Json unknown = {};
    bool operator==(const TrimmerPlan&) const = default;
};
void fields(Fields& f, TrimmerPlan& value);

/// A trimmer turned: every rail it moves by the same share.
struct TrimPlan
{
    std::string trimmer;
    double scale = 1;
    Json unknown = {};
    bool operator==(const TrimPlan&) const = default;
};
void fields(Fields& f, TrimPlan& value);

/// A resistor bank across a rail, for good.
struct DummyLoadPlan
{
    std::string rail;
    Network network;
    std::optional<double> part_power_w = {};
    Json unknown = {};
    bool operator==(const DummyLoadPlan&) const = default;
};
void fields(Fields& f, DummyLoadPlan& value);

/// Other turns on a rail's winding.
struct RewindPlan
{
    std::string rail;
    std::int64_t turns;
    Json unknown = {};
    bool operator==(const RewindPlan&) const = default;
};
void fields(Fields& f, RewindPlan& value);

/// Another shunt for the current limit.
struct ShuntPlan
{
    Network network;
    double tolerance = 0.01;
    std::optional<double> part_power_w = {};
    Json unknown = {};
    bool operator==(const ShuntPlan&) const = default;
};
void fields(Fields& f, ShuntPlan& value);

enum class Joining { SideBySide, Stacked };
template <>
struct Words<Joining>
{
    static constexpr std::array<std::string_view, 2> list{"side_by_side", "stacked"};
};

/// A unit's set point as planned.
struct UnitSetting
{
    std::int64_t unit; ///< 1 is the unit on the bench
    double v_set_v;
    Json unknown = {};
    bool operator==(const UnitSetting&) const = default;
};
void fields(Fields& f, UnitSetting& value);

/// The units of the job joined for good.
struct JoinPlan
{
    Joining kind = Joining::SideBySide;
    std::vector<UnitSetting> settings = {};
    // Side by side; in every unit's lead:
    std::optional<Network> ballast = {};
    std::optional<double> ballast_power_w = {}; ///< rating of each of its parts
    std::optional<ExtraLead> ballast_lead = {}; ///< where the ballast is more lead, and no part
    std::optional<OringDiode> diode = {};
    // Stacked:
    std::vector<std::int64_t> opened_bonds = {}; ///< units whose output is freed from the case
    std::optional<ReverseDiode> reverse_diode = {};
    std::optional<std::int64_t> earthed_node = {}; ///< where load or wiring earths the stack
    Json unknown = {};
    /// "0R1", or "87 mΩ by 8.3 m more lead of 0.75 mm²"; only with a ballast.
    std::string ballastText() const;
    bool operator==(const JoinPlan&) const = default;
};
void fields(Fields& f, JoinPlan& value);

/// Another wire to the load.
struct WirePlan
{
    double area_m2; ///< of one conductor
    std::int64_t conductors = 1;
    Json unknown = {};
    bool operator==(const WirePlan&) const = default;
};
void fields(Fields& f, WirePlan& value);

/// A stretch of a primary winding between two leads, in a string of the connection.
struct PlannedSegment
{
    std::int64_t string;
    std::string winding;
    std::string from;
    std::string to;
    Json unknown = {};
    bool operator==(const PlannedSegment&) const = default;
};
void fields(Fields& f, PlannedSegment& value);

/// The primaries connected for this mains.
struct ConnectionPlan
{
    std::vector<PlannedSegment> segments = {};
    Json unknown = {};
    bool operator==(const ConnectionPlan&) const = default;
};
void fields(Fields& f, ConnectionPlan& value);

/// A resistor that limits the surge, with its bypass and the parts of its delay.
struct LimiterPlan
{
    std::optional<double> r_ohm = {}; ///< absent: what is needed
    std::optional<double> power_w = {};
    std::optional<double> pulse_j = {};
    bool fusible = false;
    std::optional<double> bypass_s = {};
    std::optional<BypassRelay> relay = {};
    std::optional<double> delay_c_f = {};
    std::optional<double> delay_supply_v = {};
    std::optional<double> delay_threshold_v = {};
    Json unknown = {};
    bool operator==(const LimiterPlan&) const = default;
};
void fields(Fields& f, LimiterPlan& value);

/// The output of a new unit that serves a rail, and what it is set to.
struct ServedRail
{
    std::string rail;
    std::string output;
    double set_v;       ///< magnitude
    double dummy_a = 0; ///< what a dummy load has to draw
    Json unknown = {};
    bool operator==(const ServedRail&) const = default;
};
void fields(Fields& f, ServedRail& value);

/// An output that serves no rail and is loaded all the same: the unit asks for it.
struct LoadedOutput
{
    std::string output;
    double dummy_a;
    Json unknown = {};
    bool operator==(const LoadedOutput&) const = default;
};
void fields(Fields& f, LoadedOutput& value);

/// Where it is screwed down: its corner from that of the case, turned counter-clockwise, seen from above.
struct PlacedAt
{
    std::int64_t turn = 0; ///< 0, 90, 180 or 270 degrees
    double x_m = 0;
    double y_m = 0;
    double standoff_m = 0.006; ///< its base above the floor
    Json unknown = {};
    bool operator==(const PlacedAt&) const = default;
};
void fields(Fields& f, PlacedAt& value);

/// A unit that comes in. The plan keeps its own copy: the shelf may lose it.
struct ReplacingUnit
{
    ShelfEntry entry;
    std::vector<ServedRail> rails;
    std::vector<LoadedOutput> idle = {};
    std::optional<std::string> selector = {}; ///< where it has to stand
    std::optional<PlacedAt> place = {};
    Json unknown = {};
    bool operator==(const ReplacingUnit&) const = default;
};
void fields(Fields& f, ReplacingUnit& value);

/// A wire that somebody put on a terminal of his own choice.
struct PulledWire
{
    std::string wire;
    std::string terminal;
    Json unknown = {};
    bool operator==(const PulledWire&) const = default;
};
void fields(Fields& f, PulledWire& value);

/// Other units in the place of the old one.
struct ReplacePlan
{
    std::vector<ReplacingUnit> units; ///< 1 or 2
    std::vector<Wire> new_wires = {}; ///< made for it; known by who made them
    std::vector<PulledWire> pulled = {};
    Json unknown = {};
    bool operator==(const ReplacePlan&) const = default;
};
void fields(Fields& f, ReplacePlan& value);

/// A module in the place of the supply's regulator. The plan keeps its own copy.
struct ModulePlan
{
    ShelfEntry entry; ///< its first output counts
    double set_v;
    Json unknown = {};
    bool operator==(const ModulePlan&) const = default;
};
void fields(Fields& f, ModulePlan& value);

/// Another part fitted where a row breaks: its rating replaces the found one and becomes a step.
struct Refit
{
    RowId row;
    double rating;
    std::string rail = {}; ///< empty: the whole supply's, or the first rail's
    bool covers(const ConsequenceRow& judged) const;
    Json unknown = {};
    bool operator==(const Refit&) const = default;
};
void fields(Fields& f, Refit& value);

struct Acceptance
{
    RowId row;
    std::string reason;
    std::string rail = {}; ///< as in Refit
    std::string part = {}; ///< of several users of one rail; empty: any
    bool covers(const ConsequenceRow& judged) const;
    Json unknown = {};
    bool operator==(const Acceptance&) const = default;
};
void fields(Fields& f, Acceptance& value);

struct Plan
{
    Route route = Route::FixedPart;
    std::optional<ChosenNetwork> chosen = {};
    TrimmerPlan trimmer = {};
    std::int64_t max_parts = 2;
    std::optional<TrimPlan> trim = {};
    std::optional<DummyLoadPlan> dummy_load = {};
    std::optional<RewindPlan> rewind = {};
    std::optional<ShuntPlan> shunt = {};
    std::optional<JoinPlan> join = {};
    std::optional<WirePlan> wire = {};
    bool remote_sense = false; ///< sense wires taken to the load
    std::optional<ConnectionPlan> connection = {};
    std::optional<LimiterPlan> limiter = {};
    std::optional<RectifierChain> chain = {};
    std::optional<ReplacePlan> replace = {};
    std::optional<ModulePlan> module = {};
    std::optional<RehousePlan> rehouse = {};
    std::optional<PanelPlan> panel = {};
    std::vector<Refit> refits = {};
    std::vector<Acceptance> accepted = {};
    Json unknown = {};
    // Compiled once, in plan.cpp.
    Plan();
    Plan(const Plan&);
    Plan(Plan&&) noexcept;
    Plan& operator=(const Plan&);
    Plan& operator=(Plan&&) noexcept;
    ~Plan();
    bool operator==(const Plan&) const;
};
void fields(Fields& f, Plan& value);

/// "A1-A2 + B1-B2": strings in parallel are set apart by two strokes.
std::string connectionText(const ConnectionPlan& connection);
/// "2.5 mm² wire", "3 conductors of 1 mm² each way".
std::string wireText(const WirePlan& wire);

} // namespace offshoot
