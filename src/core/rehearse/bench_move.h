// What somebody does at the bench of a rehearsal, as one line: "plug_in", "load 22R", "probe bulk",
// "discharge 4k7", "wait 60"; at another unit of the job with its number: "probe bulk #2".
#pragma once

#include "core/rehearse/scope.h"

#include <optional>
#include <string>
#include <string_view>

namespace offshoot {

/// "bulk", and of another unit than the first "bulk #2".
std::string atUnit(const std::string& what, std::size_t unit);

enum class MoveKind {
    PlugIn,
    Unplug,
    LampIn, ///< the limiter: of a DC-fed unit the bench supply at its current limit
    LampOut,
    Load,  ///< a resistor switched onto a rail, "none" takes it off
    Probe, ///< a voltmeter, or what else reads that point live
    Ohms,  ///< an ohmmeter
    Discharge,
    Screwdriver, ///< across a reservoir
    Hand,        ///< on a part
    OpenCase,
    CloseCase,
    Fit,    ///< the planned change, all of it
    Adjust, ///< a trimmer turned until the meter shows so many volts, or to its end
    Wait,
    ConnectLoad, ///< the real one
    Look,
    Capture, ///< an oscilloscope on the output, or on the mains
    DisconnectLoad,
    OpenBond, ///< what ties an output to its case
    Join,     ///< the outputs of the units, as the plan joins them
    FuseIn,   ///< a battery's, in the holder that was left open
};
template <>
struct Words<MoveKind>
{
    static constexpr std::array<std::string_view, 22> list{
        "plug_in",     "unplug",  "lamp_in",         "lamp_out",   "load", "probe",  "ohms", "discharge",
        "screwdriver", "hand",    "open_case",       "close_case", "fit",  "adjust", "wait", "connect_load",
        "look",        "capture", "disconnect_load", "open_bond",  "join", "fuse_in"};
};

struct BenchMove
{
    MoveKind kind;
    std::string point = {};            ///< rail, reservoir, leg or part; empty: the usual one
    std::optional<double> value = {};  ///< ohms of a resistor, seconds of a wait, volts to adjust to
    std::optional<double> time_s = {}; ///< a discharge: how long the resistor is held on; 5 s when absent
    std::optional<CaptureDialect> dialect = {}; ///< of a capture's file
    bool open = false;                          ///< a battery connected with its fuse out
    bool reversed = false;                      ///< a load connected the wrong way round
    std::size_t unit = 1;                       ///< which of the job's; written "#2" behind the move
    std::string text() const;
};

/// Reads one; points are those of the job, as the log line has them. Throws DocumentError at `path` with what
/// there is.
BenchMove benchMoveFrom(std::string_view text, const std::string& path);

} // namespace offshoot
