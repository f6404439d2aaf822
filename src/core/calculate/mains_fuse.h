// `mains.fuse`: the fuse that follows from another mains voltage, a rating in VA or a current; whether it
// bears the voltage, breaks what the socket can give, and outlives the switch-on surge.
#pragma once

#include "core/values/verdict.h"

#include <array>
#include <optional>

namespace offshoot {

/// What fuse-links carry, in amperes, the least first (IEC 60127; from 12.5 A on the same R10 numbers).
inline constexpr std::array fuse_values_a{
    0.032, 0.040, 0.050, 0.063, 0.080, 0.100, 0.125, 0.160, 0.200, 0.250, 0.315, 0.400, 0.500, 0.630, 0.800,
    1.0,   1.25,  1.6,   2.0,   2.5,   3.15,  4.0,   5.0,   6.3,   8.0,   10.0,  12.5,  16.0,  20.0};

enum class FuseSpeed { Unknown, Slow, Fast };
template <>
struct Words<FuseSpeed>
{
    static constexpr std::array<std::string_view, 3> list{"unknown", "slow", "fast"};
};

struct FuseSurge
{
    std::optional<double> i2t_a2s = {};
    std::optional<double> i_peak_a = {}; ///< of an exponential, with its time constant
    std::optional<double> tau_s = {};
    double i2t() const { return i2t_a2s ? *i2t_a2s : *i_peak_a * *i_peak_a * *tau_s / 2; }
};
void fields(Fields& f, FuseSurge& value);

struct FuseInput
{
    // One of: va and mains_v; current_a and mains_v; old_a, old_v and new_v.
    std::optional<double> va = {};
    std::optional<double> current_a = {};
    std::optional<double> mains_v = {};
    std::optional<double> old_a = {};
    std::optional<double> old_v = {};
    std::optional<double> new_v = {};
    double factor = 1;
    FuseSpeed speed = FuseSpeed::Unknown;
    std::optional<double> v_rated_v = {};
    std::optional<double> breaking_a = {};
    std::optional<double> prospective_a = {};
    std::optional<FuseSurge> inrush = {};
    std::optional<double> melting_i2t_a2s = {};
};
void fields(Fields& f, FuseInput& in);

enum class FuseRange { Below, Inside, Above };
template <>
struct Words<FuseRange>
{
    static constexpr std::array<std::string_view, 3> list{"below", "inside", "above"};
};

struct FuseResult
{
    double needed_a;
    std::optional<double> value_a; ///< of IEC 60127; nothing above 10.2 A
    std::optional<double> below_a;
    std::optional<double> over; ///< value/needed − 1
    FuseRange range;
    FuseSpeed speed;
    Verdict voltage_verdict;
    Verdict breaking_verdict;
    std::optional<double> inrush_i2t_a2s;
    std::optional<double> inrush_use;
    Verdict inrush_verdict;
};
void fields(Fields& f, FuseResult& out);

/// I = S/V, or I·V of the old mains over the new, times a factor of 1 to 10; the next value of IEC 60127 is
/// taken, and I²·τ/2 of an exponential surge held against its melting I²t. Throws nothing.
FuseResult mainsFuse(const FuseInput& in);

/// Of an I²t against what melts a fuse: thousands of switch-ons up to the first, some up to the second.
inline constexpr UseBounds melting_bounds{0.30, 0.75};

} // namespace offshoot
