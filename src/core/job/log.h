// The log: what was read, done and seen, in order. It only grows.
#pragma once

#include "core/calculate/capture_study.h"
#include "core/supply/supply.h"
#include "core/values/quantity.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

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

/// What an oscilloscope saw, behind a reading of "ripple" (peak to peak) or "surge" (its crest).
struct KeptCapture
{
    std::string file; ///< its samples, from the job's folder; where it was read if not kept
    std::string from; ///< what the file was called
    std::optional<CaptureColumnName> column = {}; ///< absent: the first behind the time
    double scale = 1;                             ///< units of the point per number
    double time_scale = 1;                        ///< seconds per number
    CaptureStudy study = {};
    Json unknown = {};
    bool operator==(const KeptCapture&) const = default;
};
void fields(Fields& f, KeptCapture& value);

/// What ended a recording.
enum class RecordingEnd { ByHand, Time, Steady, Reached, MeterLost };
template <>
struct Words<RecordingEnd>
{
    static constexpr std::array<std::string_view, 5> list{"by_hand", "time", "steady", "reached",
                                                          "meter_lost"};
};

/// A reading followed over time, behind its last value.
struct KeptRecording
{
    std::string file; ///< its points, from the job's folder; empty where they were not kept
    double begun_s;   ///< since 1970-01-01 UTC
    double lasted_s;
    std::int64_t count = 0;
    double first = 0;
    double lowest = 0;
    double highest = 0;
    RecordingEnd ended = RecordingEnd::ByHand;
    std::vector<double> t_s = {}; ///< an outline, since it began
    std::vector<double> values = {};
    Json unknown = {};
    bool operator==(const KeptRecording&) const = default;
};
void fields(Fields& f, KeptRecording& value);

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
    std::optional<KeptCapture> capture = {};
    std::optional<KeptRecording> recording = {};
    /// A tick or signature of a version-1 file: it refers to the words of its steps, not to what they do.
    std::optional<bool> by_words = {};
    std::vector<std::string> sources = {};    ///< Model
    std::vector<std::string> reservoirs = {}; ///< Model
    Json unknown = {};
    bool operator==(const LogEntry&) const = default;
};
void fields(Fields& f, LogEntry& value);
/// A load as people write it: "2A", "50W", "10R"; nothing where it does not read.
std::optional<ReadingLoad> readLoad(std::string_view text);
/// Amperes behind the load of a voltage reading, whether it was given in A, W or Ω; nothing without a load.
std::optional<double> loadAmps(const LogEntry& entry);
/// "@4 A"; empty without a load.
std::string loadText(const LogEntry& entry);

} // namespace offshoot
