// A reference with the two legs that set an output.
#pragma once

#include "core/values/fields.h"
#include "core/values/network.h"

#include <optional>

namespace offshoot {

/// A shunt reference or the amplifier's own: V at its pin, and A into it.
struct Reference
{
    double v_ref_v;
    double tolerance;
    double i_ref_a = 0; ///< into the pin; −1 mA to 1 mA
    std::optional<double> i_ref_min_a = {};
    std::optional<double> i_ref_max_a = {};
    double iMin() const { return i_ref_min_a.value_or(i_ref_a); }
    double iMax() const { return i_ref_max_a.value_or(i_ref_a); }
    double vAt(double sign) const { return v_ref_v * (1 + sign * tolerance); }
    Json unknown = {};
    bool operator==(const Reference&) const = default;
};
void fields(Fields& f, Reference& value);

/// The two legs in ohms. Infinity is an open leg, 0 a short.
struct Legs
{
    double top_ohm;
    double bottom_ohm;
    bool operator==(const Legs&) const = default;
};

/// A divider as found, with what is known of its tolerance.
struct FoundDivider
{
    Reference reference;
    Network top;
    Network bottom;
    double found_tolerance;
    Legs nominal() const { return {top.ohm(), bottom.ohm()}; }
    bool operator==(const FoundDivider&) const = default;
};

} // namespace offshoot
