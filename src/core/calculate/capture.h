// `capture.analyse` and `capture.compare`: what an oscilloscope saw. How large is the ripple, which lines is
// it made of, how much of it is the mains', and can the capture be trusted?
#pragma once

#include "core/calculate/capture_file.h"
#include "core/calculate/spectrum.h"
#include "core/values/verdict.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct CapturedSamples
{
    double dt_s;                ///< above 0
    std::vector<double> values; ///< 16 to a million, from 0 s on
};
void fields(Fields& f, CapturedSamples& value);

/// Both ends in.
struct CaptureWindow
{
    double from_s;
    double to_s;
};
void fields(Fields& f, CaptureWindow& value);

struct CaptureInput
{
    std::optional<CapturedSamples> samples = {};
    std::optional<std::string> csv = {};
    std::optional<CaptureColumnName> column = {};
    double scale = 1; ///< units per number; not 0
    std::optional<double> mains_hz = {};
    std::optional<CaptureWindow> window = {};
    std::int64_t peaks = 5; ///< listed at most
    std::optional<double> limit_pp = {};
};
void fields(Fields& f, CaptureInput& in);

struct CaptureResult
{
    std::int64_t n;
    double dt_s;
    double duration_s; ///< n·dt
    double mean;
    double rms;        ///< of the value, not of its ripple
    double ripple_rms; ///< about the mean
    double pp;
    double pp_98; ///< without rare spikes: 99th less 1st percentile
    std::optional<double> crest;
    bool spiky;
    bool clipped;
    std::vector<SpectralLine> peaks; ///< largest first
    std::optional<double> mains_share;
    bool coarse; ///< the sampling may have missed what matters
    std::optional<Verdict> verdict;
    bool operator==(const CaptureResult&) const = default;
};
void fields(Fields& f, CaptureResult& out);

/// A Hann window over all samples; lines are local maxima of the spectrum, refined by a parabola through the
/// logarithms. Throws DocumentError at /csv, /column or /window.
CaptureResult captureAnalyse(const CaptureInput& in);
/// The same of samples whose spectrum is known; of `in` what is asked of them, not where they come from.
CaptureResult captureFigures(const CaptureTrace& trace, const HannSpectrum& spectrum, const CaptureInput& in);
/// Of one value or more, in their unit.
double meanOf(const std::vector<double>& values);
/// How many samples stand in runs of three or more at a level, and which share of all makes a capture
/// clipped.
double heldAt(const std::vector<double>& values, double level);
inline constexpr double clipped_share = 0.01;

struct CaptureCompareInput
{
    CaptureInput before;
    CaptureInput after;
};
void fields(Fields& f, CaptureCompareInput& in);

struct ComparedLine
{
    double f_hz;
    double before;
    std::optional<double> after; ///< nothing where it is gone
    std::optional<double> ratio;
};
void fields(Fields& f, ComparedLine& out);

struct CaptureCompareResult
{
    CaptureResult before;
    CaptureResult after;
    std::optional<double> pp_ratio;
    std::optional<double> pp_db;
    std::optional<double> ripple_rms_ratio;
    double mean_change;
    std::vector<ComparedLine> lines;
    bool comparable; ///< sampled alike
};
void fields(Fields& f, CaptureCompareResult& out);

/// What is after over what was before, peak to peak also in dB (20·lg); a line is the same within two bins.
/// Comparable are captures whose steps differ by a factor of 2 at most, and their lengths by 5. Throws what
/// captureAnalyse does, at /before or /after.
CaptureCompareResult captureCompare(const CaptureCompareInput& in);
/// The same of what was analysed.
CaptureCompareResult comparedCaptures(const CaptureResult& before, const CaptureResult& after);

} // namespace offshoot
