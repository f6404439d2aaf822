// The procedure of a job: steps with stable ids, generated from need, found and plan, with the cautions that
// belong to each step and the reading it asks for.
#pragma once

#include "core/procedure/isolation.h"

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
};
template <>
struct Words<Caution>
{
    static constexpr std::array<std::string_view, 14> list{
        "mains_potential",      "no_scope",           "discharge",    "plug_pins",
        "high_output",          "battery_source",     "series_lamp",  "hot_parts",
        "old_capacitors",       "lent_or_unattended", "fixed_wiring", "output_floats",
        "variable_transformer", "valve_equipment"};
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
    std::vector<Caution> cautions = {};
    std::vector<Asked> asks = {};
    std::vector<std::string> checks = {}; ///< pre-power checks, each to be ticked
    std::optional<double> wait_s = {};
    bool watches_lamp = false; ///< what the limiter lamp did belongs to it
    bool shows_plan = false;   ///< the plan's drawing belongs to it
    ReadingStage reading_stage = ReadingStage::Found;

    /// What a tick refers to: the words and figures of the step. A tick of another content is shown as
    /// "again".
    std::string fingerprint() const;
};

/// What the steps need to know besides the job: the predictions.
struct Predictions
{
    std::optional<VoltageRange> found;   ///< of the output before the change
    std::optional<VoltageRange> planned; ///< and after it
    std::string planned_because = "the plan, worst case";
    /// After it with a share of the load: of a supply that nothing regulates, whose voltage follows the load.
    std::vector<std::pair<double, VoltageRange>> lighter = {};
    std::optional<double> bottom_ohm; ///< the changed leg by itself
    std::optional<double> top_ohm;
    std::optional<double> lamp_w;
    double lamp_share = 1; ///< of the volts, with the lamp in series and nothing that regulates
    /// The other rails: where they should be before and after, and why.
    struct Other
    {
        std::string rail;
        std::optional<ReadingWindow> found; ///< absent: a before-reading records, whatever it is
        std::optional<ReadingWindow> planned;
        std::string because;
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

/// Every change of the plan in one procedure: the deepest intervention first, what needs the lid open before
/// what needs only a screwdriver. Windows under load follow the droop of the before-readings where there are
/// any.
std::vector<Step> changeProcedure(const Job& job, const EnergyModel& model, const Predictions& predictions);

} // namespace offshoot
