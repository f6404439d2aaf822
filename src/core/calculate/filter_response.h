// `filter.response`: what a ladder of series and shunt parts lets through, with their parasitics: gain,
// phase, insertion loss, ripple at given frequencies, and the peak that a filter without losses has.
//
// Chain (ABCD) matrices in complex arithmetic from load to source. At most 32 sections.
#pragma once

#include "core/supply/mains_parts.h"
#include "core/values/fields.h"

#include <complex>
#include <optional>
#include <vector>

namespace offshoot {

struct RippleAt
{
    double f_hz;
    double in_pp_v;
};
void fields(Fields& f, RippleAt& value);

struct FilterInput
{
    std::vector<NoiseSection> sections; ///< from source to load
    double source_ohm = 0;
    std::optional<double> load_ohm = {}; ///< open when absent
    std::vector<double> f_hz = {};
    double from_hz = 1;
    double to_hz = 1e8;
    std::vector<RippleAt> ripple = {};
};
void fields(Fields& f, FilterInput& in);

struct FilterPoint
{
    double f_hz;
    std::optional<double> gain_db; ///< nothing where it is 0 or without bound
    std::optional<double> phase_rad;
    std::optional<double> insertion_loss_db;
};
void fields(Fields& f, FilterPoint& out);

struct FilterPeak
{
    double f_hz;
    std::optional<double> gain_db; ///< nothing where no losses were stated
    std::optional<double> q;
};
void fields(Fields& f, FilterPeak& out);

struct FilteredRipple
{
    double f_hz;
    double in_pp_v;
    std::optional<double> out_pp_v;
};
void fields(Fields& f, FilteredRipple& out);

struct FilterResult
{
    std::vector<FilterPoint> points;
    std::optional<FilterPeak> peak;
    double series_r_ohm; ///< for the direct current
    std::vector<FilteredRipple> ripple;
};
void fields(Fields& f, FilterResult& out);

/// H = V_load/V_source by the product of the sections' matrices, 20·lg|H| in dB, phase in radians; the peak
/// is the highest between `from_hz` and `to_hz`. Throws nothing.
FilterResult filterResponse(const FilterInput& in);

/// A capacitor four times as large with a resistor in series, across one that stands there already: it takes
/// the peak down and lets no more through far above it, which a resistor in the first one's way would
/// (parallel R-C damping, textbook).
struct Damping
{
    std::size_t section; ///< the capacitor it stands across
    double c_f;
    double r_ohm;   ///< of E12
    double peak_db; ///< what is left of the peak
};
/// The best place and value; nothing without a capacitor behind a coil, or where it does not help.
std::optional<Damping> dampingOf(const FilterInput& in);

/// V_load/V_source at one frequency; without bound where the denominator is 0.
std::complex<double> filterGain(const FilterInput& in, double f_hz);

} // namespace offshoot
