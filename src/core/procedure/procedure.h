// The procedure of a job: steps with stable ids, generated from need, found and plan, with the cautions that
// belong to each step and the reading it asks for.
#pragma once

#include "core/calculate/discharge.h"
#include "core/calculate/part_search.h"
#include "core/procedure/isolation.h"

#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace offshoot {

enum class Stage { Need, Found, Plan, Change, BringUp, SignOff };
template <>
struct Words<Stage>
{
    static constexpr std::array<std::string_view, 6> list{"need",   "found",    "plan",
                                                          "change", "bring_up", "sign_off"};
};

/// What a step does, in words that stay: the laws of a procedure and `job.evaluate` speak in them.
enum class Does {
    OpenCase,
    CloseCase,
    ReadParts,
    Isolate,
    MeasurePins, ///< volts across the plug's pins after unplugging
    Discharge,
    Prove,
    EarthTest,
    InsulationTest,
    LeakageTest, ///< from an output that floats to the case
    PolarityTest,
    WorkMainsSide,
    WorkOutputSide,
    OpenLinks,
    LinkWindings,
    FindWindings, ///< which leads are one winding, by ohms; leads tagged
    PhaseTest,
    SetSelector,
    FitFuse,
    OpenBond,
    MeasureBonds,
    FormCapacitors,
    ValvesOut,
    ValvesIn,
    LampIn,
    LampOut,
    BenchSupplyIn,
    BenchSupplyOut,
    Power,
    ReadOutput,
    ReadSecondaries,
    MeasureWires,
    TieEnable,
    Adjust,
    LoadResistive,
    ConnectLoad,
    ConnectSource,
    DisconnectSource,
    RunCable,
    JoinUnits,
    TryBypass,
    TryLimit,
    ReadTemperature,
    Photograph,
    LabelWires,
    TakeOut,
    Mount,
    ConnectWire,
    TugTest,
    SecondLook,
    Label,
};
template <>
struct Words<Does>
{
    static constexpr std::array<std::string_view, 51> list{"open_case",
                                                           "close_case",
                                                           "read_parts",
                                                           "isolate",
                                                           "measure_pins",
                                                           "discharge",
                                                           "prove",
                                                           "earth_test",
                                                           "insulation_test",
                                                           "leakage_test",
                                                           "polarity_test",
                                                           "work_mains_side",
                                                           "work_output_side",
                                                           "open_links",
                                                           "link_windings",
                                                           "find_windings",
                                                           "phase_test",
                                                           "set_selector",
                                                           "fit_fuse",
                                                           "open_bond",
                                                           "measure_bonds",
                                                           "form_capacitors",
                                                           "valves_out",
                                                           "valves_in",
                                                           "lamp_in",
                                                           "lamp_out",
                                                           "bench_supply_in",
                                                           "bench_supply_out",
                                                           "power",
                                                           "read_output",
                                                           "read_secondaries",
                                                           "measure_wires",
                                                           "tie_enable",
                                                           "adjust",
                                                           "load_resistive",
                                                           "connect_load",
                                                           "connect_source",
                                                           "disconnect_source",
                                                           "run_cable",
                                                           "join_units",
                                                           "try_bypass",
                                                           "try_limit",
                                                           "read_temperature",
                                                           "photograph",
                                                           "label_wires",
                                                           "take_out",
                                                           "mount",
                                                           "connect_wire",
                                                           "tug_test",
                                                           "second_look",
                                                           "label"};
};
/// Taken apart, fitted or connected inside a unit: what ends the trust in an earlier reading behind the
/// limiter.
bool worksInside(Does does);

/// How power comes to a unit.
enum class Through { Lamp, BenchSupply, VariableTransformer, Direct };
template <>
struct Words<Through>
{
    static constexpr std::array<std::string_view, 4> list{"lamp", "bench_supply", "variable_transformer",
                                                          "direct"};
};

/// The usual cautions. `cautionText` has the words; which step shows which follows from the supply.
enum class Caution {
    MainsPotential,
    NoScope,
    Discharge,
    PlugPins,
    HighOutput,
    BatterySource,
    SeriesLamp,
    HotParts,
    OldCapacitors,
    LentOrUnattended,
    FixedWiring,
    OutputFloats,
    VariableTransformer,
    ValveEquipment,
    OneHand,
};
template <>
struct Words<Caution>
{
    static constexpr std::array<std::string_view, 15> list{
        "mains_potential",      "no_scope",           "discharge",    "plug_pins",
        "high_output",          "battery_source",     "series_lamp",  "hot_parts",
        "old_capacitors",       "lent_or_unattended", "fixed_wiring", "output_floats",
        "variable_transformer", "valve_equipment",    "one_hand"};
};
std::string_view cautionText(Caution caution);

/// The window of a rail's readings for magnitudes from `low_v` to `high_v`.
ReadingWindow signedWindow(const Rail& rail, double low_v, double high_v);

/// A reading a step asks for.
struct Asked
{
    std::string point;
    Quantity quantity;
    std::optional<ReadingWindow> window;
    std::optional<double> load_a;
    std::string because;                  ///< where the window comes from
    std::optional<std::string> unit = {}; ///< of another unit of the job: "2"

    /// As it is typed: "out #2".
    std::string name() const;
    /// "temp D5" answers what asks for "temp".
    bool answeredBy(std::string_view logged_point, std::optional<Quantity> logged_quantity) const;
};

struct Step
{
    std::string id;
    Stage stage;
    StepKind kind;
    std::string title;
    std::string detail;
    std::optional<std::size_t> unit = {}; ///< of a joined job; absent: the job as a whole, or its only unit
    std::vector<Does> does = {};
    std::optional<Through> through = {};         ///< power steps
    std::optional<DischargeTool> discharge = {}; ///< the resistor that the step names
    std::vector<std::string> parts = {}; ///< what it fits, sets or names: another of these is another step
    std::vector<Caution> cautions = {};
    std::vector<Asked> asks = {};
    std::vector<std::string> checks = {}; ///< pre-power checks, each to be ticked
    std::optional<double> wait_s = {};
    bool watches_lamp = false; ///< what the limiter lamp did belongs to it
    std::string drawing = {}; ///< of the plan's connections the one that belongs to it; "plan" is all of them
    ReadingStage reading_stage = ReadingStage::Found;

    bool is(Does what) const;
    bool worksInside() const;
    /// What a tick refers to: what the step does, its parts and its windows, not its wording. A tick of
    /// another content is shown as "again".
    std::string fingerprint() const;
    /// Whether a version-1 tick, which kept the words of its step, was one of this content: its parts were
    /// named.
    bool namedBy(std::string_view old_words) const;
};

/// From an output to its case: below the first it is bonded, above the second it floats.
inline constexpr double bonded_below_ohm = 1;
inline constexpr double free_above_ohm = 1e6;

/// Where a temporary trimmer is read that was taken out.
inline constexpr std::string_view trimmer_point = "trimmer";

/// What the steps need to know besides the job: the predictions.
struct Predictions
{
    std::optional<VoltageRange> found;   ///< of the output before the change
    std::optional<VoltageRange> planned; ///< and after it
    std::string planned_because = "the plan, worst case";
    /// After it with a share of the load: of a supply that nothing regulates, whose voltage follows the load.
    std::vector<std::pair<double, VoltageRange>> lighter = {};
    std::optional<double> lamp_w;
    /// Of the volts, least and most, with the lamp in series and nothing that regulates; heaters and iron
    /// that nobody knows widen it.
    double lamp_share_min = 1;
    double lamp_share_max = 1;
    /// Of each unit, in order: whether it bears the mains, as found and as planned.
    struct Bears
    {
        Verdict found;
        std::string found_why;
        Verdict planned;
        std::string planned_why;
    };
    std::vector<Bears> bears = {};
    EnergyModel energy_found = {};
    EnergyModel energy_planned = {};
    std::optional<ReadingWindow> polarity_v =
        {}; ///< across a battery's open fuse holder, the right way round
    /// The other rails: where they should be before and after, and why.
    struct Other
    {
        std::string rail;
        std::optional<ReadingWindow> found; ///< absent: a before-reading records, whatever it is
        std::optional<ReadingWindow> planned;
        std::string because;
        std::optional<double> v_v = {};    ///< about what it gives, as a magnitude
        std::optional<double> load_a = {}; ///< what its users draw
    };
    std::vector<Other> others;
    /// The units of the job as they are to be joined; none where the plan joins none.
    struct Unit
    {
        std::string name;
        std::optional<std::string> tag; ///< its readings' number
        double set_v;
        std::optional<double> lead_a; ///< side by side: what its lead carries
        std::optional<double> top_v;  ///< stacked: its upper terminal to earth
    };
    std::vector<Unit> units = {};
    std::optional<double> own_current_a; ///< full load of the unit on the bench
    double match_v = 0;                  ///< side by side: how near the set points must be
    std::optional<double> load_v = {};   ///< at the far end of a run that is known
};

class ChangeProcedure;

/// What is read warm of a part that a kind of change adds or loads.
struct WarmPart
{
    std::string what; ///< its point is "temp " with this
    double most_k;
    std::string why;
};

/// What a kind of change does in the procedure, each at its place. An empty function has nothing to do.
struct Work
{
    /// The work needs the case open: a sealed one bars it.
    bool inside = true;
    /// Whether earth and insulation have to be measured again after it.
    bool on_mains_side = false;
    /// Steps made dead before any part is touched.
    std::function<void(ChangeProcedure&)> before = {};
    /// The steps that fit it.
    std::function<void(ChangeProcedure&)> fit = {};
    /// After everything is fitted.
    std::function<void(ChangeProcedure&)> close = {};
    /// Where units come in: to them and to their case, dead on the bench, before their first power.
    std::function<void(ChangeProcedure&)> on_bench = {};
    /// While an adjustable module runs alone on the bench, behind the limiter.
    std::function<void(ChangeProcedure&)> alone = {};
    /// Behind the limiter, before anything else is read.
    std::function<void(ChangeProcedure&)> at_first_power = {};
    /// At full mains, without load.
    std::function<void(ChangeProcedure&)> at_full_mains = {};
    /// The set point turned, before the load steps.
    std::function<void(ChangeProcedure&)> set = {};
    /// After the load steps.
    std::function<void(ChangeProcedure&)> at_load = {};
    std::optional<WarmPart> warm = {};
};

/// What the plan makes of the unit on the bench, and what has to be done for it.
struct PlannedWork
{
    Supply supply;                  ///< as the plan leaves it
    std::vector<std::string> lines; ///< the plan in words
    bool changes = false;           ///< anything at all
    bool other_unit = false;        ///< nothing read of the old unit speaks of the new one
    std::vector<Work> kinds;        ///< of what is planned, in the order of the work
};

/// Every change of the plan in one procedure, done in order from the first step: see the laws in
/// docs/PROCEDURES.md. Windows under load follow the droop of the before-readings where there are any.
std::vector<Step> changeProcedure(const Job& job, const Predictions& predictions, const PlannedWork& work);

} // namespace offshoot
