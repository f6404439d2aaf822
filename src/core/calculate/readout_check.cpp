#include "core/calculate/readout_check.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

CheckedPoint checkedPoint(const ReadoutCheckInput& in, const ReadoutPoint& point)
{
    CheckedPoint out{.shown = point.shown,
                     .truth = point.truth.value_or(0),
                     .u_truth = point.u_truth,
                     .error = 0,
                     .allowed = {},
                     .verdict = Verdict::Unknown};
    if (in.through) {
        out.truth = *point.across_v / in.through->ohm;
        out.u_truth = std::hypot(point.u_v / in.through->ohm, out.truth * in.through->tolerance);
    }
    out.error = out.shown - out.truth;
    if (in.claim)
        out.allowed =
            in.claim->reading_fraction * std::abs(out.shown) + in.claim->counts * in.claim->resolution;
    return out;
}

/// The doubt of one comparison: of the truth, and half a step of the readout.
double doubtOf(const ReadoutCheckInput& in, const CheckedPoint& point)
{
    return point.u_truth + in.resolution / 2;
}

double rounding(const CheckedPoint& point)
{
    return limit_share * std::max(std::abs(point.shown), std::abs(point.truth));
}

void judge(const ReadoutCheckInput& in, CheckedPoint& point)
{
    if (!point.allowed)
        return;
    const double w = doubtOf(in, point);
    const double near = rounding(point);
    point.verdict = std::abs(point.error) + w <= *point.allowed + near  ? Verdict::Fits
                    : std::abs(point.error) - w > *point.allowed + near ? Verdict::Breaks
                                                                        : Verdict::Tight;
}

struct Line
{
    double gain;
    double offset;
};

std::optional<Line> lineThrough(const std::vector<CheckedPoint>& points)
{
    if (points.size() < 2)
        return std::nullopt;
    const auto n = static_cast<double>(points.size());
    double mean_truth = 0;
    double mean_shown = 0;
    for (const CheckedPoint& point : points) {
        mean_truth += point.truth / n;
        mean_shown += point.shown / n;
    }
    double across = 0;
    double along = 0;
    for (const CheckedPoint& point : points) {
        along += (point.truth - mean_truth) * (point.truth - mean_truth);
        across += (point.truth - mean_truth) * (point.shown - mean_shown);
    }
    const auto [low, high] = std::ranges::minmax(points, {}, &CheckedPoint::truth);
    if (low.truth == high.truth)
        return std::nullopt;
    const double gain = across / along;
    return Line{gain, mean_shown - gain * mean_truth};
}

std::optional<ReadoutCure> cureOf(const ReadoutCheckInput& in, const std::vector<CheckedPoint>& points,
                                  const std::optional<Line>& line)
{
    const auto everywhere = [&](const auto& left) {
        return std::ranges::all_of(points, [&](const CheckedPoint& point) {
            return std::abs(left(point)) <= doubtOf(in, point) + rounding(point);
        });
    };
    if (everywhere([](const CheckedPoint& point) { return point.error; }))
        return ReadoutCure::NothingNeeded;
    if (!line)
        return std::nullopt;
    double mean_error = 0;
    double products = 0;
    double squares = 0;
    for (const CheckedPoint& point : points) {
        mean_error += point.error / static_cast<double>(points.size());
        products += point.shown * point.truth;
        squares += point.truth * point.truth;
    }
    if (everywhere([&](const CheckedPoint& point) { return point.error - mean_error; }))
        return ReadoutCure::Offset;
    const double gain = products / squares;
    if (everywhere([&](const CheckedPoint& point) { return point.shown - gain * point.truth; }))
        return ReadoutCure::Gain;
    if (everywhere(
            [&](const CheckedPoint& point) { return point.shown - line->offset - line->gain * point.truth; }))
        return ReadoutCure::Both;
    return ReadoutCure::Neither;
}

} // namespace

void fields(Fields& f, ReadoutPoint& value)
{
    f.need("shown", value.shown);
    f.may("truth", value.truth);
    f.may("u_truth", value.u_truth, range::not_negative);
    f.may("across_v", value.across_v);
    f.may("u_v", value.u_v, range::not_negative);
    f.oneOf({"truth", "across_v"});
    f.demandOwn({{"u_truth", value.truth.has_value(), false}, {"u_v", value.across_v.has_value(), false}},
                "a doubt stands beside what it is of");
}

void fields(Fields& f, KnownResistance& value)
{
    f.need("ohm", value.ohm, range::positive);
    f.may("tolerance", value.tolerance, range::fraction);
}

void fields(Fields& f, ReadoutClaim& value)
{
    f.may("reading_fraction", value.reading_fraction, range::not_negative);
    f.may("counts", value.counts, range::not_negative);
    f.may("resolution", value.resolution, range::not_negative);
}

void fields(Fields& f, ReadoutCheckInput& in)
{
    constexpr std::size_t most_points = 200;
    f.need("points", in.points, Lengths{1, most_points});
    f.may("through", in.through);
    f.may("claim", in.claim);
    f.may("resolution", in.resolution, range::not_negative);
    for (const ReadoutPoint& point : in.points)
        f.demand(!f.reading() || point.across_v.has_value() == in.through.has_value(),
                 ErrorCode::Inconsistent, in.through ? "through" : "points",
                 "a resistance goes with volts across it, at every point");
}

void fields(Fields& f, CheckedPoint& out)
{
    f.need("shown", out.shown);
    f.need("truth", out.truth);
    f.need("u_truth", out.u_truth);
    f.need("error", out.error);
    f.may("allowed", out.allowed);
    f.need("verdict", out.verdict);
}

void fields(Fields& f, ReadoutCheckResult& out)
{
    f.need("points", out.points);
    f.may("gain", out.gain);
    f.may("offset", out.offset);
    f.may("worst_residual", out.worst_residual);
    f.may("cured_by", out.cured_by);
    f.need("verdict", out.verdict);
}

ReadoutCheckResult readoutCheck(const ReadoutCheckInput& in)
{
    ReadoutCheckResult out{};
    out.verdict = Verdict::Fits;
    for (const ReadoutPoint& point : in.points) {
        out.points.push_back(checkedPoint(in, point));
        judge(in, out.points.back());
        out.verdict = worse(out.verdict, out.points.back().verdict);
    }
    const auto line = lineThrough(out.points);
    if (line) {
        out.gain = line->gain;
        out.offset = line->offset;
        double worst = 0;
        for (const CheckedPoint& point : out.points)
            worst = std::max(worst, std::abs(point.shown - line->offset - line->gain * point.truth));
        out.worst_residual = worst;
    }
    out.cured_by = cureOf(in, out.points, line);
    return out;
}

} // namespace offshoot
