#include "core/calculate/reading.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace offshoot {

double MeterAccuracy::uncertainty(double value) const
{
    return reading_fraction * std::abs(value) + counts * resolution;
}

namespace {

double uncertaintyOf(double value, const std::optional<MeterAccuracy>& meter,
                     std::optional<double> uncertainty)
{
    if (meter)
        return meter->uncertainty(value);
    return uncertainty.value_or(0);
}

void judgeWindow(ReadingJudgement& result, const ReadingWindow& window)
{
    constexpr double unbounded = std::numeric_limits<double>::infinity();
    const double min = window.min.value_or(-unbounded);
    const double max = window.max.value_or(unbounded);
    const double low = result.value - result.u;
    const double high = result.value + result.u;
    const bool below = window.min && !atLeast(result.value, min);
    const bool above = window.max && !atMost(result.value, max);
    const bool outside = (window.min && !atLeast(high, min)) || (window.max && !atMost(low, max));
    const bool inside = (!window.min || atLeast(low, min)) && (!window.max || atMost(high, max));
    result.place = below ? Place::Below : above ? Place::Above : Place::Inside;
    result.margin = std::min(result.value - min, max - result.value);
    result.verdict = inside ? Verdict::Fits : outside ? Verdict::Breaks : Verdict::Tight;
    result.meter_too_coarse = window.min && window.max && !atMost(result.u, (max - min) / 2);
}

ReadingJudgement::Difference difference(const ReadingJudgeInput& in)
{
    const double between = in.value - in.other->value;
    const double u_first = uncertaintyOf(in.value, in.meter, in.uncertainty);
    const double u_second = uncertaintyOf(in.other->value, in.other->meter, in.other->uncertainty);
    double u = std::hypot(u_first, u_second);
    if (in.same_meter) {
        const double digits = in.meter->counts * in.meter->resolution;
        u = std::hypot(std::sqrt(2.0) * digits, in.meter->reading_fraction * between);
    }
    double value = between;
    if (in.through) {
        value = between / in.through->ohm;
        u = std::hypot(u / in.through->ohm, in.through->tolerance * value);
    }
    const bool real = !atMost(std::abs(value), u);
    return {value, u, real ? DifferenceVerdict::Real : DifferenceVerdict::WithinAccuracy};
}

} // namespace

ReadingJudgement judgeReading(const ReadingJudgeInput& in)
{
    ReadingJudgement result{};
    result.value = in.value;
    result.u = uncertaintyOf(in.value, in.meter, in.uncertainty);
    result.u_known = in.meter || in.uncertainty;
    if (in.through) {
        result.value = in.value / in.through->ohm;
        result.u = std::hypot(result.u / in.through->ohm, result.value * in.through->tolerance);
    }
    result.verdict = Verdict::Unknown;
    if (in.window)
        judgeWindow(result, *in.window);
    if (in.other)
        result.other = difference(in);
    return result;
}

// ---- documents

void fields(Fields& f, MeterAccuracy& value)
{
    f.need("reading_fraction", value.reading_fraction, range::not_negative);
    f.may("counts", value.counts, range::not_negative);
    f.may("resolution", value.resolution, range::not_negative);
}

void fields(Fields& f, ReadingWindow& value)
{
    f.may("min", value.min);
    f.may("max", value.max);
    f.demand(value.min || value.max, ErrorCode::Inconsistent, {}, "a window needs an edge");
    f.demand(!value.min || !value.max || *value.min <= *value.max, ErrorCode::Inconsistent, {},
             "min is above max");
}

void fields(Fields& f, ReadingJudgeInput::Through& value)
{
    f.need("ohm", value.ohm, range::positive);
    f.may("tolerance", value.tolerance, range::fraction);
}

namespace {

template <class T>
void accuracyFields(Fields& f, T& value)
{
    f.need("value", value.value);
    f.may("meter", value.meter);
    f.may("uncertainty", value.uncertainty, range::not_negative);
    f.demand(!value.meter || !value.uncertainty, ErrorCode::Inconsistent, {}, "either meter or uncertainty");
}

} // namespace

void fields(Fields& f, ReadingJudgeInput::Other& value) { accuracyFields(f, value); }

void fields(Fields& f, ReadingJudgeInput& in)
{
    accuracyFields(f, in);
    f.may("window", in.window);
    f.may("through", in.through);
    f.may("other", in.other);
    f.may("same_meter", in.same_meter);
    const bool other_accuracy = in.other && (in.other->meter || in.other->uncertainty);
    f.demand(!in.same_meter || (in.meter && !other_accuracy), ErrorCode::Inconsistent, "same_meter",
             "the same meter needs meter, and other then has no accuracy of its own");
}

void fields(Fields& f, ReadingJudgement::Difference& out)
{
    f.need("difference", out.difference);
    f.need("difference_u", out.difference_u);
    f.need("difference_verdict", out.difference_verdict);
}

void fields(Fields& f, ReadingJudgement& out)
{
    f.need("value", out.value);
    f.need("u", out.u);
    f.need("u_known", out.u_known);
    f.need("verdict", out.verdict);
    f.may("place", out.place);
    f.may("margin", out.margin);
    f.need("meter_too_coarse", out.meter_too_coarse);
    f.may("other", out.other);
}

} // namespace offshoot
