// What limits, joins and holds up an output.
#pragma once

#include "core/values/fields.h"
#include "core/values/network.h"

#include <array>
#include <optional>

namespace offshoot {

/// The voltage at which the limit acts: stated, or a reference divided down.
struct LimitThreshold
{
    std::optional<double> v_v = {};
    double tolerance; ///< of v_v, or of v_ref_v
    std::optional<double> v_ref_v = {};
    std::optional<Network> top = {};
    std::optional<Network> bottom = {};
    std::optional<double> divider_tolerance = {};
    Json unknown = {};
    bool operator==(const LimitThreshold&) const = default;
};
void fields(Fields& f, LimitThreshold& value);

/// What a unit does at its current limit.
enum class LimitKind { ConstantCurrent, Shutdown };
template <>
struct Words<LimitKind>
{
    static constexpr std::array<std::string_view, 2> list{"constant_current", "shutdown"};
};

/// A diode in series with a unit, so that it cannot be fed from the bus: V_f + I·r.
struct OringDiode
{
    double v_f_v;
    double r_ohm = 0;
    Json unknown = {};
    bool operator==(const OringDiode&) const = default;
};
void fields(Fields& f, OringDiode& value);

/// The output terminal that is tied to the case or to earth.
enum class Bond { None, Negative, Positive, Unknown };
template <>
struct Words<Bond>
{
    static constexpr std::array<std::string_view, 4> list{"none", "negative", "positive", "unknown"};
};

/// Across a unit's output, so that the others can push their current past it when it is dead.
struct ReverseDiode
{
    double v_rrm_v;
    double i_a;
    Json unknown = {};
    bool operator==(const ReverseDiode&) const = default;
};
void fields(Fields& f, ReverseDiode& value);

} // namespace offshoot
