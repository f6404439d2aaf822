// The oscilloscope on the simulated unit: what it saw of a ripple and of a surge, and the files it writes.
#pragma once

#include "core/evaluate/capture_reading.h"
#include "core/rehearse/draw.h"

#include <optional>
#include <string>

namespace offshoot {

/// What the ripple of an output is made of.
struct RippleSource
{
    double pp_v;                         ///< of all of it
    std::optional<double> mains_hz = {}; ///< its reservoir is charged twice a cycle
    std::optional<double> switching_hz = {};
};
/// Coupled for alternating voltage: about 0 V, a cycle of the mains long at least, in the steps of eight bits
/// over ten divisions. Its spikes last a sixteenth of a switching period. Its shape is the unit's, where it
/// begins and its noise are the capture's.
CaptureTrace rippleTrace(const RippleSource& source, const Draw& unit, const Draw& capture);

struct SurgeSource
{
    double v_rms_v;
    double f_hz;
    double ohm;       ///< all that stands in the way
    double c_f;       ///< empty, seen from the mains
    double phase_rad; ///< of the mains when it is switched on
};
/// With a few milliseconds before it is switched on, in magnitude.
CaptureTrace surgeTrace(const SurgeSource& source, const Draw& draw);

/// How oscilloscopes write files.
enum class CaptureDialect {
    Comma,     ///< a row of names, a row of units
    Semicolon, ///< decimal commas, units in brackets
    Tab,       ///< its settings above the data
};
template <>
struct Words<CaptureDialect>
{
    static constexpr std::array<std::string_view, 3> list{"comma", "semicolon", "tab"};
};
std::string captureFile(const CaptureTrace& trace, CapturePoint point, CaptureDialect dialect);

} // namespace offshoot
