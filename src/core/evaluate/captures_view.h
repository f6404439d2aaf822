// Captures of a job: what those before and after a change say beside each other.
#pragma once

#include "core/evaluate/capture_reading.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

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
