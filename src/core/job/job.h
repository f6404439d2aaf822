// The document: one supply, one need, the change chosen, and the log. A plain value; see docs/FORMATS.md.
//
// Everything the application shows is computed from it by evaluate(). Need, found, plan and drawer are
// edited (and undone); the log only grows.
#pragma once

#include "core/calculate/reading.h"
#include "core/job/log.h"
#include "core/job/need.h"
#include "core/job/plan.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// The version this program writes; it reads this one and older ones.
inline constexpr std::int64_t job_version = 2;

/// The meter readings are taken with unless a reading names its own uncertainty.
struct Meter
{
    std::string name = "bench meter";
    MeterAccuracy volts = {.reading_fraction = 0.005, .counts = 2, .resolution = 0.01};
    MeterAccuracy amps = {.reading_fraction = 0.01, .counts = 3, .resolution = 0.001};
    MeterAccuracy ohms = {.reading_fraction = 0.008, .counts = 2, .resolution = 0.1};
    /// Of the oscilloscope, where its files do not say; absent: nobody was asked yet.
    std::optional<double> probe_factor = {};  ///< volts at the probe's tip for each in the file
    std::optional<double> amps_per_volt = {}; ///< of the current probe or shunt
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

/// A place on a photograph, and the wire or part that is seen there.
struct PhotoPin
{
    std::string photo; ///< as the log names it
    double x;          ///< 0 at its left, 1 at its right
    double y;          ///< 0 at its top, 1 at its bottom
    std::string name = {};
    Json unknown = {};
    bool operator==(const PhotoPin&) const = default;
};
void fields(Fields& f, PhotoPin& value);

/// Units that get the same change, one beside the other; what is logged of one carries its number.
struct Batch
{
    std::int64_t units = 1;     ///< to 12
    bool live_together = false; ///< more than one of them may be live at once
    Json unknown = {};
    bool operator==(const Batch&) const = default;
};
void fields(Fields& f, Batch& value);

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
    std::vector<PhotoPin> pins = {};
    std::vector<HeldReadout> readouts = {}; ///< displays and meters held against something better
    Batch batch = {};
    std::vector<LogEntry> log = {};
    Json unknown = {};
    // Compiled once, in job.cpp.
    Job();
    Job(const Job&);
    Job(Job&&) noexcept;
    Job& operator=(const Job&);
    Job& operator=(Job&&) noexcept;
    ~Job();
    bool operator==(const Job&) const;
};
void fields(Fields& f, Job& value);

/// The photographs of the log that are not struck, oldest first.
std::vector<std::string> photosOf(const Job& job);
/// The pins on one of them, in their order.
std::vector<PhotoPin> pinsOn(const Job& job, const std::string& photo);

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
/// Units by their numbers, 1 is the one on the bench.
std::size_t unitCount(const Job& job);
const Supply& unitSupply(const Job& job, std::size_t unit);
/// The chain as planned, else as found; nothing until one is entered.
const RectifierChain* plannedChain(const Job& job);
/// The number its readings carry in the log; nothing for the unit on the bench.
std::optional<std::string> unitTag(std::size_t unit);

/// Reads a job file. Throws DocumentError; a newer version is refused at /version with a clear message.
Job readJob(std::string_view text);
/// The same from a document already parsed.
Job jobFrom(const Json& document);
/// The file of a job, with the keys it was read with that this version does not know.
std::string writeJob(const Job& job);
/// The published JSON Schema of a job file.
Json jobSchema();

/// How many units are worked on side by side: 1 where the job joins several, which are no batch.
std::size_t batchUnits(const Job& job);
/// The job as one unit of its batch sees it, from 1: with what was logged of it, without its number, and of
/// all.
Job unitOfBatch(const Job& job, std::size_t unit);

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

/// A captured surge from an oscilloscope's CSV: two columns of numbers, time and current, any heading
/// skipped.
Parsed<CapturedSurge> readSurgeCsv(std::string_view text);

} // namespace offshoot
