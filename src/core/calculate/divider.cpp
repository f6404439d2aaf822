#include "core/calculate/divider.h"

#include "core/values/verdict.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

std::string_view whereItJoins(DividerMethod method)
{
    static constexpr std::array<std::string_view, method_count> where{
        "in place of the bottom leg", "in place of the top leg",       "across the bottom leg",
        "across the top leg",         "in series with the bottom leg", "in series with the top leg"};
    return where.at(static_cast<std::size_t>(method));
}

bool joinsTop(DividerMethod method)
{
    return method == DividerMethod::ReplaceTop || method == DividerMethod::ParallelTop ||
           method == DividerMethod::SeriesTop;
}

bool replaces(DividerMethod method)
{
    return method == DividerMethod::ReplaceBottom || method == DividerMethod::ReplaceTop;
}

bool runsAway(const Legs& legs) { return std::isinf(legs.top_ohm) || legs.bottom_ohm == 0; }

Legs withAddedOpen(DividerMethod method, const Legs& legs) { return withAdded(method, legs, open_ohm); }

Legs withAddedShort(DividerMethod method, const Legs& legs) { return withAdded(method, legs, 0); }

namespace {

std::optional<double> ifUsable(double ohm)
{
    return ohm > 0 && std::isfinite(ohm) ? std::optional(ohm) : std::nullopt;
}

} // namespace

std::optional<double> topLegFor(double v, double bottom_ohm, const Reference& reference)
{
    return ifUsable((v - reference.v_ref_v) / (reference.v_ref_v / bottom_ohm + reference.i_ref_a));
}

std::optional<double> bottomLegFor(double v, double top_ohm, const Reference& reference)
{
    return ifUsable(reference.v_ref_v * top_ohm / (v - reference.v_ref_v - reference.i_ref_a * top_ohm));
}

std::optional<double> exactAdded(DividerMethod method, const Legs& legs, const Reference& reference, double v)
{
    const bool top = joinsTop(method);
    const double leg = top ? legs.top_ohm : legs.bottom_ohm;
    const auto needed =
        top ? topLegFor(v, legs.bottom_ohm, reference) : bottomLegFor(v, legs.top_ohm, reference);
    if (!needed || replaces(method))
        return needed;
    if (std::abs(*needed - leg) <= limit_share * leg)
        return std::nullopt;
    const bool parallel = method == DividerMethod::ParallelBottom || method == DividerMethod::ParallelTop;
    const double added = parallel ? 1 / (1 / *needed - 1 / leg) : *needed - leg;
    if (!(added > 0))
        return std::nullopt;
    return added;
}

FaultResult faultResult(const Reference& reference, const Legs& legs, const Target* target)
{
    FaultResult result{};
    result.runaway = runsAway(legs);
    if (!result.runaway)
        result.v = dividerVoltage(reference.v_ref_v, reference.i_ref_a, legs);
    if (target == nullptr)
        return result;
    if (result.runaway)
        result.outcome = Outcome::Runaway;
    else if (!atLeast(*result.v, target->min_v))
        result.outcome = Outcome::Low;
    else
        result.outcome = atMost(*result.v, target->max_v) ? Outcome::InWindow : Outcome::High;
    return result;
}

namespace {

/// Collects the extremes of whatever is offered.
class Extremes
{
public:
    void add(double v)
    {
        m_range = m_range ? VoltageRange{std::min(m_range->min_v, v), std::max(m_range->max_v, v)}
                          : VoltageRange{v, v};
    }
    const std::optional<VoltageRange>& range() const { return m_range; }

private:
    std::optional<VoltageRange> m_range;
};

/// V_ref, I_ref and the two legs, as the four things that vary together.
using Corner = std::array<double, 4>;
enum : std::size_t { VRef, IRef, Top, Bottom };

struct CornerBox
{
    Corner min;
    Corner max;
    double end(std::size_t which, unsigned bits) const
    {
        return (bits >> which & 1U) != 0 ? max[which] : min[which];
    }
    Corner corner(unsigned bits) const
    {
        return {end(VRef, bits), end(IRef, bits), end(Top, bits), end(Bottom, bits)};
    }
};
constexpr unsigned corner_count = 16;

CornerBox boxOf(const Reference& reference, const OhmRange& top, const OhmRange& bottom)
{
    return {{reference.vAt(-1), reference.iMin(), top.min_ohm, bottom.min_ohm},
            {reference.vAt(1), reference.iMax(), top.max_ohm, bottom.max_ohm}};
}

CornerBox boxOf(const FoundDivider& divider)
{
    return boxOf(divider.reference, OhmRange::of(divider.top, divider.found_tolerance),
                 OhmRange::of(divider.bottom, divider.found_tolerance));
}

double voltageAt(const Corner& c) { return dividerVoltage(c[VRef], c[IRef], {c[Top], c[Bottom]}); }

/// Adds what a corner gives with the added network at both its ends.
void addWithNetwork(Extremes& extremes, const Corner& c, const std::optional<AddedRange>& added)
{
    if (!added)
        return extremes.add(voltageAt(c));
    for (double ohm : {added->ohm.min_ohm, added->ohm.max_ohm})
        extremes.add(dividerVoltage(c[VRef], c[IRef], withAdded(added->method, {c[Top], c[Bottom]}, ohm)));
}

/// The value of one variable that makes the found voltage `v` with the others as in `c`.
double solveFor(std::size_t which, const Corner& c, double v)
{
    switch (which) {
    case VRef:
        return (v - c[IRef] * c[Top]) / (1 + c[Top] / c[Bottom]);
    case IRef:
        return (v - c[VRef] * (1 + c[Top] / c[Bottom])) / c[Top];
    case Top:
        return (v - c[VRef]) / (c[VRef] / c[Bottom] + c[IRef]);
    default:
        return c[VRef] * c[Top] / (v - c[VRef] - c[IRef] * c[Top]);
    }
}

bool addedRunsAway(const FoundDivider& divider, const std::optional<AddedRange>& added)
{
    return added && runsAway(withAdded(added->method, divider.nominal(), added->ohm.min_ohm));
}

} // namespace

VoltageRange cornerRange(const Reference& reference, const OhmRange& top, const OhmRange& bottom)
{
    const CornerBox box = boxOf(reference, top, bottom);
    Extremes extremes;
    for (unsigned bits = 0; bits < corner_count; ++bits)
        extremes.add(voltageAt(box.corner(bits)));
    return *extremes.range();
}

std::optional<VoltageRange> plainRange(const FoundDivider& divider, const std::optional<AddedRange>& added)
{
    if (addedRunsAway(divider, added))
        return std::nullopt;
    const CornerBox box = boxOf(divider);
    Extremes extremes;
    for (unsigned bits = 0; bits < corner_count; ++bits)
        addWithNetwork(extremes, box.corner(bits), added);
    return extremes.range();
}

std::optional<VoltageRange> rangeGivenReading(const FoundDivider& divider, const BeforeReading& before,
                                              const std::optional<AddedRange>& added)
{
    if (addedRunsAway(divider, added))
        return std::nullopt;
    const CornerBox box = boxOf(divider);
    const std::array<double, 2> edges{before.v - before.uncertainty_v, before.v + before.uncertainty_v};
    Extremes extremes;
    for (unsigned bits = 0; bits < corner_count; ++bits) {
        const Corner corner = box.corner(bits);
        if (within(voltageAt(corner), edges[0], edges[1]))
            addWithNetwork(extremes, corner, added);
        for (std::size_t free = 0; free < corner.size(); ++free) {
            if ((bits >> free & 1U) != 0)
                continue; // the other end of the same edge
            for (double edge : edges) {
                Corner c = corner;
                c[free] = solveFor(free, corner, edge);
                if (!std::isfinite(c[free]) || !within(c[free], box.min[free], box.max[free]))
                    continue;
                c[free] = std::clamp(c[free], box.min[free], box.max[free]);
                addWithNetwork(extremes, c, added);
            }
        }
    }
    return extremes.range();
}

double legFactor(const FoundDivider& divider, const BeforeReading& before)
{
    // a·s² + b·s + c = 0 with s = √k and c < 0 has one positive root, taken in its stable form.
    const Reference& reference = divider.reference;
    const Legs legs = divider.nominal();
    const double a = reference.v_ref_v * legs.top_ohm / legs.bottom_ohm;
    const double b = reference.i_ref_a * legs.top_ohm;
    const double c = reference.v_ref_v - before.v;
    const double root = std::sqrt(b * b - 4 * a * c);
    return b >= 0 ? -2 * c / (b + root) : (root - b) / (2 * a);
}

Legs movedLegs(const Legs& nominal, double leg_factor)
{
    return {nominal.top_ohm * leg_factor, nominal.bottom_ohm / leg_factor};
}

void checkBefore(const FoundDivider& divider, const BeforeReading& before)
{
    if (before.v <= divider.reference.v_ref_v)
        throw DocumentError(ErrorCode::OutOfRange, "/before/v",
                            "a reading before the change must be above the reference voltage");
}

DividerPredictResult dividerPredict(const DividerPredictInput& in)
{
    checkBefore(in.divider, in.before);
    std::optional<AddedRange> added;
    if (in.added)
        added = AddedRange{in.added->method, OhmRange::of(in.added->network, in.added->tolerance)};
    const auto voltage = [&](const Legs& legs) {
        const Legs changed = in.added ? withAdded(in.added->method, legs, in.added->network.ohm()) : legs;
        return dividerVoltage(in.divider.reference.v_ref_v, in.divider.reference.i_ref_a, changed);
    };
    DividerPredictResult result{};
    result.runaway = addedRunsAway(in.divider, added);
    result.consistent = rangeGivenReading(in.divider, in.before, std::nullopt).has_value();
    result.leg_factor = legFactor(in.divider, in.before);
    if (const auto plain = plainRange(in.divider, added))
        result.plain = {voltage(in.divider.nominal()), plain->min_v, plain->max_v};
    if (const auto given = rangeGivenReading(in.divider, in.before, added))
        result.predicted = {voltage(movedLegs(in.divider.nominal(), result.leg_factor)), given->min_v,
                            given->max_v};
    if (result.plain && result.predicted && result.predicted->max_v > result.predicted->min_v)
        result.gain =
            (result.plain->max_v - result.plain->min_v) / (result.predicted->max_v - result.predicted->min_v);
    return result;
}

// ---- documents

void fields(Fields& f, Target& value)
{
    f.need("v", value.v, range::positive);
    f.need("min_v", value.min_v);
    f.need("max_v", value.max_v);
    f.demand(value.min_v <= value.max_v && within(value.v, value.min_v, value.max_v), ErrorCode::Inconsistent,
             {}, "the target must lie in its own window");
}

void fields(Fields& f, BeforeReading& value)
{
    f.need("v", value.v, range::positive);
    f.need("uncertainty_v", value.uncertainty_v, range::not_negative);
}

void fields(Fields& f, AddedNetwork& value)
{
    f.need("method", value.method);
    f.need("network", value.network, true);
    f.need("tolerance", value.tolerance, range::fraction);
}

void fields(Fields& f, FaultResult& out)
{
    f.may("v", out.v);
    f.need("runaway", out.runaway);
    f.may("outcome", out.outcome);
}

void dividerFields(Fields& f, FoundDivider& divider, bool with_tolerance)
{
    f.need("reference", divider.reference);
    f.need("top", divider.top);
    f.need("bottom", divider.bottom);
    if (with_tolerance)
        f.need("found_tolerance", divider.found_tolerance, range::fraction);
}

void fields(Fields& f, DividerPredictInput& in)
{
    dividerFields(f, in.divider, true);
    f.need("before", in.before);
    f.may("added", in.added);
}

void fields(Fields& f, PredictedVoltage& out)
{
    f.need("v", out.v);
    f.need("min_v", out.min_v);
    f.need("max_v", out.max_v);
}

void fields(Fields& f, DividerPredictResult& out)
{
    f.need("consistent", out.consistent);
    f.need("runaway", out.runaway);
    f.may("plain", out.plain);
    f.may("predicted", out.predicted);
    f.need("leg_factor", out.leg_factor);
    f.may("gain", out.gain);
}

} // namespace offshoot
