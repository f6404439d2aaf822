// Captures of a job: how a file of an oscilloscope becomes a reading, and what the captures before and after
// a change say beside each other.
#pragma once

#include "core/evaluate/evaluation.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace offshoot {

/// Vertical accuracy of an oscilloscope, of what it shows: a usual figure.
inline constexpr double scope_share = 0.03;

enum class CapturePoint { Ripple, Surge };
template <>
struct Words<CapturePoint>
{
    static constexpr std::array<std::string_view, 2> list{"ripple", "surge"};
};

/// A capture that somebody wants to log.
struct CaptureAsk
{
    std::string path;
    CapturePoint point = CapturePoint::Ripple;
    std::optional<ReadingLoad> load = {};
    std::optional<std::string> unit = {};
    std::optional<CaptureColumnName> column = {};
};

/// What neither the file's headings nor the job's oscilloscope say; empty where nothing is missing. Throws
/// DocumentError where the file has no such column, or one of another quantity.
enum class CaptureMissing { Nothing, ProbeFactor, AmpsPerVolt };
CaptureMissing captureMissing(const CaptureAsk& ask, const std::vector<CaptureHeading>& headings,
                              const Meter& meter);

/// The reading that a file is, without id, time, step, isolation and stage. What is missing counts as 1.
/// Throws DocumentError.
LogEntry captureEntry(const CaptureAsk& ask, std::string_view csv, const Job& job);
/// The samples of a kept capture out of its file, in units of its point. Throws DocumentError.
CaptureTrace keptTrace(const KeptCapture& kept, std::string_view csv);
/// The same of samples in units of the point, whose file is not known.
LogEntry captureEntry(CapturePoint point, const CaptureTrace& trace, const Job& job);
/// Attaches it to the step that asks for it. One that is clipped or too coarse, or taken with another load
/// than is asked for, answers no step.
void attachCapture(LogEntry& entry, const Evaluation& evaluation);

struct CaptureSeen
{
    LogEntry entry;
    std::string title; ///< "before, at 3 A"
    std::optional<Verdict> verdict = {};
    std::vector<NamedLine> lines = {};
};

/// Before and after at one point of one unit.
struct ComparedCaptures
{
    CapturePoint point;
    std::optional<std::string> unit;
    std::optional<CaptureSeen> before = {};
    std::optional<CaptureSeen> after = {};
    std::optional<CaptureCompareResult> compared = {};
    std::optional<double> limit = {};      ///< ripple: of the need; surge: what the breaker bears
    std::vector<std::string> doubts = {};  ///< what keeps a verdict from counting; said before it
    std::string sentence = {};             ///< what changed
    std::vector<std::string> remarks = {}; ///< the filter's promise, what the breaker and the fuse make of it
};

struct CapturesView
{
    std::vector<ComparedCaptures> all;
    std::string sentence; ///< of the first, or how to get one
};
CapturesView capturesView(const Job& job);

/// A figure of both side by side.
struct CaptureRow
{
    std::string name;
    Quantity quantity;
    std::optional<double> before = {};
    std::optional<double> after = {};
};
std::vector<CaptureRow> captureRows(const ComparedCaptures& compared);
/// Both over one axis as SVG, with the limit as a band; milliseconds from the beginning of each, of a surge
/// from its peak.
std::string captureSvg(const ComparedCaptures& compared);
/// A ripple is shown about the middle of what it reaches, a surge as it is.
double captureMiddle(const CaptureStudy& study);
/// Where the axis of time has its zero: the beginning of a ripple, the peak of a surge; seconds.
double captureZero(const CaptureStudy& study);

/// "mains ×2", "switching", "61 kHz".
std::string lineWords(const NamedLine& line, const CaptureStudy& study);
/// A value of the point: volts or amperes.
std::string captureValue(double value, CapturePoint point);

} // namespace offshoot
