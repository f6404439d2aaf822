// How a file of an oscilloscope becomes a reading of the job.
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

/// What its point is measured in.
Quantity captureQuantity(CapturePoint point);
/// Loads near enough to hold one capture, or one question, against another: within a tenth.
bool loadsAlike(double load_a, double load_b);

} // namespace offshoot
