// What a capture is kept as beside its samples: its figures, what its ripple is made of, and what a picture
// of it needs. A surge likewise.
#pragma once

#include "core/calculate/capture.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// Roots of the mean squares of what the ripple is made of, in units of the point; their squares add up to
/// that of the whole.
struct RippleParts
{
    double wander = 0;    ///< below half the mains; below 20 Hz where there is no mains
    double mains = 0;     ///< within two bins of the mains and its harmonics to the tenth
    double switching = 0; ///< likewise, or within 1 %, of where it switches
    double rest = 0;
    bool operator==(const RippleParts&) const = default;
};
void fields(Fields& f, RippleParts& out);

/// The lowest and highest of the samples in each of some hundred columns.
struct CaptureOutline
{
    double from_s;
    double step_s; ///< from a column to the next
    std::vector<double> low;
    std::vector<double> high;
    bool operator==(const CaptureOutline&) const = default;
};
void fields(Fields& f, CaptureOutline& out);

/// The largest amplitude in each of some steps of the same ratio.
struct SpectrumOutline
{
    double from_hz;
    double ratio; ///< from one to the next
    std::vector<double> amplitude;
    bool operator==(const SpectrumOutline&) const = default;
};
void fields(Fields& f, SpectrumOutline& out);

struct SurgeFigures
{
    double peak;                   ///< the largest in magnitude
    double at_s;                   ///< after the capture began
    std::optional<double> decay_s; ///< until it stays below 1/e of it; nothing where it does not
    double square_time;            ///< ∫i²dt over the capture: A²s
    bool clipped;                  ///< at its peak, as captures are judged; zero before it does not count
    bool operator==(const SurgeFigures&) const = default;
};
void fields(Fields& f, SurgeFigures& out);

struct CaptureStudy
{
    CaptureResult saw;
    std::optional<double> mains_hz;
    std::optional<double> switching_hz;
    bool switching_seen = false; ///< nobody entered where it switches: its largest line above 2 kHz is taken
    RippleParts parts = {};
    CaptureOutline outline;
    SpectrumOutline spectrum;
    std::optional<SurgeFigures> surge;
    bool operator==(const CaptureStudy&) const = default;

    bool clipped() const { return surge ? surge->clipped : saw.clipped; }
    /// What was seen may be less than what was there.
    bool doubtful() const { return clipped() || saw.coarse; }
};
void fields(Fields& f, CaptureStudy& out);

/// `trace` of 16 samples at least, in units of its point; `surge` says that it is one. Where it switches is
/// refined to the largest line within a tenth of what is given.
CaptureStudy captureStudy(const CaptureTrace& trace, std::optional<double> mains_hz,
                          std::optional<double> switching_hz, bool surge);

/// Which line of a spectrum this is.
enum class LineOf { Mains, Switching, Other };
struct NamedLine
{
    SpectralLine line;
    LineOf of;
    int harmonic; ///< 1 is the fundamental; 0 of others
};
/// The lines of its ripple, each with what it is a harmonic of, in the order of the study.
std::vector<NamedLine> namedLines(const CaptureStudy& study);

} // namespace offshoot
