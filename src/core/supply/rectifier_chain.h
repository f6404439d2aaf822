// From the secondary over the rectifier to the load, as a chain of parts.
#pragma once

#include "core/values/fields.h"
#include "core/values/usual.h"

#include <array>
#include <cstdint>
#include <optional>
#include <vector>

namespace offshoot {

enum class SimRectifier { Half, FullWaveCt, Bridge, Doubler };
template <>
struct Words<SimRectifier>
{
    static constexpr std::array<std::string_view, 4> list{"half", "full_wave_ct", "bridge", "doubler"};
};

enum class DiodeModel { Threshold, Exponential, Valve };
template <>
struct Words<DiodeModel>
{
    static constexpr std::array<std::string_view, 3> list{"threshold", "exponential", "valve"};
};

/// EMF √2·V·sin(2πft + phase) behind r and l, seen from the secondary; of each half with a centre tap.
struct SimSource
{
    double v_rms_v;
    double f_hz;
    double r_ohm; ///< with the primary's reflected share
    std::optional<double> l_h = {};
    double phase_rad = 0;
    double spread = usual_mains_spread;
    Json unknown = {};
    bool operator==(const SimSource&) const = default;
};
void fields(Fields& f, SimSource& value);

/// One rectifying element.
struct SimDiode
{
    DiodeModel model;
    double v_f_v = 0;
    double r_ohm = 0; ///< in series with the junction
    double i_s_a = 0;
    double n = 1;
    double t_k = 298.15;
    double perveance_a_v15 = 0; ///< i = K·v^1.5 (Child and Langmuir)
    double r_plate_ohm = 0;
    Json unknown = {};
    /// What stands in series with it, whatever the model.
    double seriesOhm() const { return model == DiodeModel::Valve ? r_plate_ohm : r_ohm; }
    bool operator==(const SimDiode&) const = default;
};
void fields(Fields& f, SimDiode& value);

enum class SmoothingKind { C, L, R };
template <>
struct Words<SmoothingKind>
{
    static constexpr std::array<std::string_view, 3> list{"c", "l", "r"};
};

/// A capacitor from the present node to the return, or a choke or resistor to the next node.
struct SmoothingSection
{
    SmoothingKind kind = SmoothingKind::C;
    double c_f = 0;
    double esr_ohm = 0;
    double v0_v = 0;
    std::optional<double> v_rated_v = {};
    std::optional<double> i_ripple_a = {};
    double l_h = 0;
    double r_ohm = 0;                         ///< of the resistor, or of the choke's wire
    std::optional<double> i_rated_a = {};     ///< of a choke: what it bears for good
    std::optional<double> power_rated_w = {}; ///< of a resistor
    std::optional<double> tolerance = {};     ///< of capacitance or inductance, as a share either way
    Json unknown = {};
    bool operator==(const SmoothingSection&) const = default;
};
void fields(Fields& f, SmoothingSection& value);

struct SimRectifierPart
{
    SimRectifier kind;
    SimDiode diode;
    std::optional<SmoothingSection> upper = {}; ///< capacitors of a doubler
    std::optional<SmoothingSection> lower = {};
    Json unknown = {};
    bool operator==(const SimRectifierPart&) const = default;
};
void fields(Fields& f, SimRectifierPart& value);

/// One of the three; the last two fall to a resistance below v_min.
struct SimLoad
{
    std::optional<double> resistance_ohm = {};
    std::optional<double> current_a = {};
    std::optional<double> power_w = {};
    double v_min_v = 1;
    Json unknown = {};
    bool operator==(const SimLoad&) const = default;
};
void fields(Fields& f, SimLoad& value);

struct TapLoad
{
    std::int64_t section;
    SimLoad load;
    Json unknown = {};
    bool operator==(const TapLoad&) const = default;
};
void fields(Fields& f, TapLoad& value);

struct RectifierRatings
{
    std::optional<double> v_piv_v = {};
    std::optional<double> i_peak_a = {};
    std::optional<double> i_mean_a = {};
    std::optional<double> i_hot_a = {};
    std::optional<double> c_first_max_f = {};
    std::optional<double> r_plate_min_ohm = {};
    Json unknown = {};
    bool operator==(const RectifierRatings&) const = default;
};
void fields(Fields& f, RectifierRatings& value);

/// The chain itself: what both calculations share.
struct RectifierChain
{
    SimSource source;
    SimRectifierPart rectifier;
    std::vector<SmoothingSection> filter;
    SimLoad load;
    std::vector<TapLoad> tap_loads = {};
    /// Whether any capacitor stands in it.
    bool hasCapacitor() const;
    double noLoadVolts() const;
    /// Puts a section in before `at`, or takes it out: every tap stays on its capacitor, or goes with it.
    void insertSection(std::size_t at, const SmoothingSection& section);
    void eraseSection(std::size_t at);
    /// Another rectifier: the first capacitor becomes both of a doubler, a doubler's upper one the first.
    void setKind(SimRectifier kind);
    bool operator==(const RectifierChain&) const = default;
};
void fields(Fields& f, RectifierChain& value);

/// What people call a part that the simulator numbers: "C1", "L1", "upper capacitor", "rectifier".
std::string phrase(SimRectifier rectifier);
std::string chainPartName(const RectifierChain& chain, const std::string& part);

} // namespace offshoot
