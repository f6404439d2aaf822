// The feedback divider: what it gives, how a network joins it, what its tolerances and a before-reading say.
//
// The loop holds the reference pin at V_ref; the pin draws I_ref:
//     V = V_ref·(1 + R_top/R_bottom) + I_ref·R_top        (431-type datasheets, closed loop)
// "Bottom" is the leg V_ref stands across. In a 317-type regulator that is the resistor from output to the
// adjust pin, and "top" the one from there to ground; formula and faults hold unchanged.
#pragma once

#include "core/calculate/part_search.h"
#include "core/supply/feedback.h"
#include "core/values/fields.h"

#include <array>
#include <limits>
#include <optional>

namespace offshoot {

inline constexpr double open_ohm = std::numeric_limits<double>::infinity();

/// How a network joins the found legs.
enum class DividerMethod { ReplaceBottom, ReplaceTop, ParallelBottom, ParallelTop, SeriesBottom, SeriesTop };
template <>
struct Words<DividerMethod>
{
    static constexpr std::array<std::string_view, 6> list{
        "replace_bottom", "replace_top", "parallel_bottom", "parallel_top", "series_bottom", "series_top"};
};
inline constexpr std::size_t method_count = Words<DividerMethod>::list.size();
/// Where the network goes, as a step says it: "across the bottom leg".
std::string_view whereItJoins(DividerMethod method);
/// Whether the part joins the top leg, else the bottom one; whether it takes a leg's place.
bool joinsTop(DividerMethod method);
bool replaces(DividerMethod method);

struct Target
{
    double v;
    double min_v;
    double max_v;
    bool operator==(const Target&) const = default;
};
void fields(Fields& f, Target& value);

/// A reading taken before the change.
struct BeforeReading
{
    double v;
    double uncertainty_v;
    bool operator==(const BeforeReading&) const = default;
};
void fields(Fields& f, BeforeReading& value);

struct AddedNetwork
{
    DividerMethod method;
    Network network; ///< may be a short (0 Ω)
    double tolerance;
};
void fields(Fields& f, AddedNetwork& value);

/// Without feedback the output rises until something else stops it.
bool runsAway(const Legs& legs);
/// Output voltage; only where !runsAway(legs).
inline double dividerVoltage(double v_ref_v, double i_ref_a, const Legs& legs)
{
    return v_ref_v * (1 + legs.top_ohm / legs.bottom_ohm) + i_ref_a * legs.top_ohm;
}
/// One leg after `added_ohm` joined it. Here for speed: searches and Monte Carlo call it by the million.
inline double joinedLeg(DividerMethod method, double leg_ohm, double added_ohm)
{
    switch (method) {
    case DividerMethod::ReplaceBottom:
    case DividerMethod::ReplaceTop:
        return added_ohm;
    case DividerMethod::ParallelBottom:
    case DividerMethod::ParallelTop:
        return parallelOhm(leg_ohm, added_ohm);
    case DividerMethod::SeriesBottom:
    case DividerMethod::SeriesTop:
        return leg_ohm + added_ohm;
    }
    return leg_ohm;
}

/// The legs after `added_ohm` joined them.
inline Legs withAdded(DividerMethod method, const Legs& legs, double added_ohm)
{
    if (joinsTop(method))
        return {joinedLeg(method, legs.top_ohm, added_ohm), legs.bottom_ohm};
    return {legs.top_ohm, joinedLeg(method, legs.bottom_ohm, added_ohm)};
}
/// The legs when the joint of the added network opens, or the network shorts.
Legs withAddedOpen(DividerMethod method, const Legs& legs);
/// The legs in ohms where the added network is shorted: one in parallel shorts its leg.
Legs withAddedShort(DividerMethod method, const Legs& legs);
/// The whole top (bottom) leg in ohms that gives exactly `v` beside the other leg; nothing where none does.
std::optional<double> topLegFor(double v, double bottom_ohm, const Reference& reference);
/// R_bottom = V_ref·R_top/(V − V_ref − I_ref·R_top), ohms; nothing where no positive one gives `v`.
std::optional<double> bottomLegFor(double v, double top_ohm, const Reference& reference);
/// The ohms of the added network that give exactly `v`; nothing where impossible or nothing is to be added.
std::optional<double> exactAdded(DividerMethod method, const Legs& legs, const Reference& reference,
                                 double v);

enum class Outcome { Low, InWindow, High, Runaway };
template <>
struct Words<Outcome>
{
    static constexpr std::array<std::string_view, 4> list{"low", "in_window", "high", "runaway"};
};
struct FaultResult
{
    std::optional<double> v; ///< null on runaway
    bool runaway;
    std::optional<Outcome> outcome; ///< null without a target
    bool operator==(const FaultResult&) const = default;
};
void fields(Fields& f, FaultResult& out);
/// What the divider gives with these legs, in volts, nothing where the loop runs away; against the target
/// where there is one.
FaultResult faultResult(const Reference& reference, const Legs& legs, const Target* target);

struct VoltageRange
{
    double min_v;
    double max_v;
    bool operator==(const VoltageRange&) const = default;
};

/// Exact extremes over all corners of reference and legs (V is monotone in each).
VoltageRange cornerRange(const Reference& reference, const OhmRange& top, const OhmRange& bottom);

struct AddedRange
{
    DividerMethod method;
    OhmRange ohm;
};

/// Extremes as if there were no reading. Nothing on runaway.
std::optional<VoltageRange> plainRange(const FoundDivider& divider, const std::optional<AddedRange>& added);

/// Extremes over every combination for which the found voltage lies in the reading's band. Nothing when no
/// combination reproduces the reading, or on runaway. At an extreme at most one of V_ref, I_ref and the legs
/// is not at an end of its range, so corners plus solving that one on both edges of the band is exact.
std::optional<VoltageRange> rangeGivenReading(const FoundDivider& divider, const BeforeReading& before,
                                              const std::optional<AddedRange>& added);

/// √k of the best estimate: V_ref and I_ref stay nominal, the legs become R_top·√k and R_bottom/√k.
/// Needs before.v above V_ref.
double legFactor(const FoundDivider& divider, const BeforeReading& before);
/// The legs moved to the best estimate.
Legs movedLegs(const Legs& nominal, double leg_factor);

struct DividerPredictInput
{
    FoundDivider divider;
    BeforeReading before;
    std::optional<AddedNetwork> added;
};
void fields(Fields& f, DividerPredictInput& in);

struct PredictedVoltage
{
    double v;
    double min_v;
    double max_v;
};
void fields(Fields& f, PredictedVoltage& out);

struct DividerPredictResult
{
    bool consistent;
    bool runaway;
    std::optional<PredictedVoltage> plain;
    std::optional<PredictedVoltage> predicted;
    double leg_factor;
    std::optional<double> gain;
};
void fields(Fields& f, DividerPredictResult& out);

/// `divider.predict`: what a before-reading is worth. Throws DocumentError at /before/v when the reading is
/// not above the reference.
DividerPredictResult dividerPredict(const DividerPredictInput& in);

/// The keys a divider has in every calculation: reference, top, bottom and (unless absent) found_tolerance.
void dividerFields(Fields& f, FoundDivider& divider, bool with_tolerance);
/// Throws `out_of_range` at /before/v unless the reading is above the reference.
void checkBefore(const FoundDivider& divider, const BeforeReading& before);

} // namespace offshoot
