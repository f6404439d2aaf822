// The document: one supply, one need, the change chosen, and the log. A plain value; see docs/FORMATS.md.
//
// Everything the application shows is computed from it by evaluate(). Need, found, plan and drawer are
// edited (and undone); the log only grows.
#pragma once

#include "core/calculate/divider_search.h"
#include "core/calculate/dummy_load.h"
#include "core/calculate/inrush.h"
#include "core/calculate/parallel.h"
#include "core/calculate/reading.h"
#include "core/judge/consequences.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// The version this program writes; it reads this one and older ones.
inline constexpr std::int64_t job_version = 2;
/// Units side by side or stacked in one job.
inline constexpr std::int64_t most_units = 100;

/// What is wanted of a rail besides the one under change.
struct RailNeed
{
    std::string rail;
    double min_v;
    double max_v;
    Json unknown = {};
    bool operator==(const RailNeed&) const = default;
};
void fields(Fields& f, RailNeed& value);

/// What the load keeps when its voltage changes.
enum class LoadDraw { Current, Power, Resistance };
template <>
struct Words<LoadDraw>
{
    static constexpr std::array<std::string_view, 3> list{"current", "power", "resistance"};
};

/// What the load wants, and what there is to feed it from.
struct Need
{
    std::optional<Target> target = {};
    std::optional<double> current_a = {}; ///< usual
    std::optional<double> least_a = {};
    std::optional<double> peak_a = {};
    LoadDraw draws = LoadDraw::Current;
    std::vector<RailNeed> others = {};
    std::optional<double> ripple_max_v = {};
    Mains mains = {};
    Load load = {};
    std::string why = {}; ///< where the window comes from
    std::string must_not_change = {};
    Json unknown = {};
    bool operator==(const Need&) const = default;
};
void fields(Fields& f, Need& value);

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
    std::vector<Refit> refits = {};
    std::vector<Acceptance> accepted = {};
    Json unknown = {};
    bool operator==(const Plan&) const = default;
};
void fields(Fields& f, Plan& value);

enum class LogKind {
    Opened,      ///< the job was opened, copied or recovered: counts as live
    SourceOff,   ///< one source declared off
    Live,        ///< power is on
    MeterProven, ///< the meter was tried on a known voltage
    Reading,
    Tick,
    Note,
    Photo,
    Lamp,    ///< what the limiter lamp did
    Hunting, ///< the output is unsteady
    Strike,  ///< an earlier entry was wrong
    Model,   ///< the sources and reservoirs changed
    SignedOff,
};
template <>
struct Words<LogKind>
{
    static constexpr std::array<std::string_view, 13> list{
        "opened", "source_off", "live",    "meter_proven", "reading", "tick",      "note",
        "photo",  "lamp",       "hunting", "strike",       "model",   "signed_off"};
};
enum class ReadingStage { Found, PlannedCheck, Measured };
template <>
struct Words<ReadingStage>
{
    static constexpr std::array<std::string_view, 3> list{"found", "planned_check", "measured"};
};
enum class Isolation { Live, Unproven, ProvenDead };
template <>
struct Words<Isolation>
{
    static constexpr std::array<std::string_view, 3> list{"live", "unproven", "proven_dead"};
};
enum class LampSeen { In, Out, Dark, Flash, Bright, Pulsing };
template <>
struct Words<LampSeen>
{
    static constexpr std::array<std::string_view, 6> list{"in", "out", "dark", "flash", "bright", "pulsing"};
};

struct ReadingLoad
{
    double value;
    Quantity quantity; ///< Current, Power or Resistance
    Json unknown = {};
    bool operator==(const ReadingLoad&) const = default;
};
void fields(Fields& f, ReadingLoad& value);

/// One line of the log. Which members it has follows from its kind.
struct LogEntry
{
    std::string id;
    double time_s; ///< since 1970-01-01 UTC
    LogKind kind;
    std::optional<std::string> step = {};
    std::optional<std::string> point = {};
    std::optional<Quantity> quantity = {};
    std::optional<double> value = {};
    std::optional<double> uncertainty = {};
    std::optional<ReadingLoad> load = {};
    std::optional<std::string> unit = {}; ///< of a batch
    std::optional<ReadingStage> stage = {};
    std::optional<Isolation> isolation = {}; ///< when it was taken
    std::optional<std::string> meter = {};
    std::optional<std::string> typed = {}; ///< what the person wrote
    /// Taken in from a file: nobody here knows when it was read, so it never proves a reservoir dead.
    std::optional<bool> imported = {};
    std::optional<std::string> text = {}; ///< note, path, source, struck id, or a tick's fingerprint
    std::optional<LampSeen> lamp = {};
    /// A tick or signature of a version-1 file: it refers to the words of its steps, not to what they do.
    std::optional<bool> by_words = {};
    std::vector<std::string> sources = {};    ///< Model
    std::vector<std::string> reservoirs = {}; ///< Model
    Json unknown = {};
    bool operator==(const LogEntry&) const = default;
};
void fields(Fields& f, LogEntry& value);
/// Amperes behind the load of a voltage reading, whether it was given in A, W or Ω; nothing without a load.
std::optional<double> loadAmps(const LogEntry& entry);

/// The meter readings are taken with unless a reading names its own uncertainty.
struct Meter
{
    std::string name = "bench meter";
    MeterAccuracy volts = {.reading_fraction = 0.005, .counts = 2, .resolution = 0.01};
    MeterAccuracy amps = {.reading_fraction = 0.01, .counts = 3, .resolution = 0.001};
    MeterAccuracy ohms = {.reading_fraction = 0.008, .counts = 2, .resolution = 0.1};
    Json unknown = {};
    double uncertainty(double value, Quantity quantity) const;
    bool operator==(const Meter&) const = default;
};
void fields(Fields& f, Meter& value);

/// What was seen of a unit that hiccups; absent: nobody has looked.
struct HiccupSeen
{
    std::optional<bool> lamp_in = {};
    std::optional<bool> stops_lamp_out = {};
    std::optional<bool> stops_unloaded = {};
    std::optional<bool> stops_with_load = {};
    std::optional<bool> reaches_output = {};
    Json unknown = {};
    bool operator==(const HiccupSeen&) const = default;
};
void fields(Fields& f, HiccupSeen& value);

struct Job
{
    std::int64_t version = job_version;
    std::int64_t revision = 0; ///< counts edits; recovery uses it
    std::string title = "New job";
    Need need = {};
    Supply found = {};               ///< the unit on the bench
    std::vector<Supply> others = {}; ///< further units of the job, "#2" on
    Plan plan = {};
    HiccupSeen hiccup = {};
    std::vector<StockItem> drawer = {};
    Meter meter = {};
    std::vector<LogEntry> log = {};
    Json unknown = {};
    bool operator==(const Job&) const = default;
};
void fields(Fields& f, Job& value);

/// The editable part of a job, everything but its log.
bool sameEdits(const Job& a, const Job& b);

/// What the unit on the bench is wanted at: the need's target, or its even share of it in a stack.
std::optional<Target> unitTarget(const Job& job);
/// The window a rail is wanted in: the need's own for the first rail, that of `others` for the rest.
std::optional<VoltageWindow> windowOf(const Job& job, const Rail& rail);
/// Makes a rail the one under change: it comes first and its window becomes the need's, the first rail's
/// moves to the others. A divider planned for the rail before goes; what was counted against that rail's
/// winding is carried over where both ratios are known, and forgotten where not.
void putUnderChange(Job& job, std::size_t rail);

/// The name of a unit: 1 is the one on the bench. Names that are empty or taken get their number.
std::string unitName(const Job& job, std::size_t unit);
/// The number its readings carry in the log; nothing for the unit on the bench.
std::optional<std::string> unitTag(std::size_t unit);

/// "A1-A2 + B1-B2": strings in parallel are set apart by two strokes.
std::string connectionText(const ConnectionPlan& connection);
/// "2.5 mm² wire", "3 conductors of 1 mm² each way".
std::string wireText(const WirePlan& wire);

/// Reads a job file. Throws DocumentError; a newer version is refused at /version with a clear message.
Job readJob(std::string_view text);
/// The same from a document already parsed.
Job jobFrom(const Json& document);
/// The file of a job, with the keys it was read with that this version does not know.
std::string writeJob(const Job& job);
/// The published JSON Schema of a job file.
Json jobSchema();

/// The next unused log id, such as "L12".
std::string nextLogId(const Job& job);
/// A new job with the same need, plan and drawer, no readings, and a supply whose readings start anew.
Job sameChangeOnAnotherUnit(const Job& job);

/// E24 1 % and E12 5 %, quarter watt, 1 Ω to 1 MΩ.
std::vector<StockItem> defaultDrawer();

/// The drawer as CSV: ohm,tolerance,power_w,quantity. Values may be as people write them ("4k7", "1 %").
std::string writeDrawerCsv(const std::vector<StockItem>& drawer);
/// Reads it back. The problem's position is the line, from 1.
Parsed<std::vector<StockItem>> readDrawerCsv(std::string_view text);
/// Readings of the log as CSV, one a line.
std::string writeReadingsCsv(const std::vector<LogEntry>& log);
/// Readings from CSV with the same columns; ids and times are given anew by the caller.
Parsed<std::vector<LogEntry>> readReadingsCsv(std::string_view text);

} // namespace offshoot
