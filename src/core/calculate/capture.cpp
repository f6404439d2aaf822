#include "core/calculate/capture.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

CaptureTrace traceOf(const CaptureInput& in, const std::string& at)
{
    CaptureTrace out = in.csv ? readCapture(*in.csv, in.column.value_or(std::int64_t{1}), at)
                              : CaptureTrace{0, in.samples->dt_s, in.samples->values};
    if (in.window) {
        std::vector<double> inside;
        const double near_s = limit_share * out.dt_s;
        for (std::size_t i = 0; i < out.values.size(); ++i)
            if (const double t_s = out.from_s + static_cast<double>(i) * out.dt_s;
                t_s >= in.window->from_s - near_s && t_s <= in.window->to_s + near_s)
                inside.push_back(out.values[i]);
        if (inside.size() < least_samples)
            throw DocumentError(ErrorCode::OutOfRange, jsonPath(at, "window"),
                                "fewer than 16 samples are left");
        out.values = std::move(inside);
    }
    for (double& value : out.values)
        value *= in.scale;
    return out;
}

/// Linear between the ranks; leaves the values in another order.
double percentile(std::vector<double>& values, double share)
{
    const double rank = static_cast<double>(values.size() - 1) * share;
    const auto below = values.begin() + static_cast<std::ptrdiff_t>(rank);
    std::ranges::nth_element(values, below);
    const auto above = std::ranges::min_element(std::min(below + 1, values.end() - 1), values.end());
    return *below + (*above - *below) * (rank - std::floor(rank));
}

void setLines(const CaptureInput& in, const HannSpectrum& spectrum, CaptureResult& out)
{
    constexpr double least_of_largest = 1e-3;
    constexpr double least_of_pp = 1e-6;
    constexpr double trusted = 0.2; // of the sampling rate
    std::vector<SpectralLine> lines = spectrum.lines(least_of_largest);
    std::optional<SpectralLine> largest = lines.empty() ? std::nullopt : std::optional(lines.front());
    if (const auto last = spectrum.last(); last && (!largest || last->amplitude > largest->amplitude))
        largest = last;
    const double floor =
        lines.empty() ? 0 : std::max(least_of_largest * lines.front().amplitude, least_of_pp * out.pp);
    std::erase_if(lines, [&](const SpectralLine& line) { return line.amplitude < floor; });
    out.coarse = largest && largest->amplitude >= least_of_pp * out.pp && largest->f_hz > trusted / out.dt_s;
    lines.resize(std::min(lines.size(), static_cast<std::size_t>(in.peaks)));
    out.peaks = std::move(lines);
}

CaptureResult analysed(const CaptureInput& in, const std::string& at)
{
    const CaptureTrace trace = traceOf(in, at);
    return captureFigures(trace, HannSpectrum(trace.values, meanOf(trace.values), trace.dt_s), in);
}

} // namespace

double meanOf(const std::vector<double>& values)
{
    double mean = 0;
    for (const double value : values)
        mean += value / static_cast<double>(values.size());
    return mean;
}

double heldAt(const std::vector<double>& values, double level)
{
    constexpr std::size_t least_run = 3;
    std::size_t held = 0;
    std::size_t run = 0;
    for (std::size_t i = 0; i <= values.size(); ++i) {
        if (i < values.size() && values[i] == level) {
            ++run;
            continue;
        }
        held += run >= least_run ? run : 0;
        run = 0;
    }
    return static_cast<double>(held);
}

CaptureResult captureFigures(const CaptureTrace& trace, const HannSpectrum& spectrum, const CaptureInput& in)
{
    const std::vector<double>& x = trace.values;
    const auto n = static_cast<double>(x.size());
    CaptureResult out{};
    out.n = static_cast<std::int64_t>(x.size());
    out.dt_s = trace.dt_s;
    out.duration_s = n * trace.dt_s;
    out.mean = meanOf(x);
    double squares = 0;
    double about = 0;
    double farthest = 0;
    for (const double value : x) {
        squares += value * value / n;
        about += (value - out.mean) * (value - out.mean) / n;
        farthest = std::max(farthest, std::abs(value - out.mean));
    }
    out.rms = std::sqrt(squares);
    const auto [lowest, highest] = std::ranges::minmax(x);
    out.pp = highest - lowest;
    std::vector<double> ranked = x;
    out.pp_98 = percentile(ranked, 0.99) - percentile(ranked, 0.01);
    out.spiky = out.pp > 2 * out.pp_98;
    if (in.limit_pp)
        out.verdict = judgeUse(out.pp / *in.limit_pp);
    if (out.pp == 0)
        return out; // a flat line has no ripple, whatever the mean was rounded to
    out.ripple_rms = std::sqrt(about);
    out.crest = farthest / out.ripple_rms;
    out.clipped = heldAt(x, highest) + heldAt(x, lowest) > clipped_share * n;
    setLines(in, spectrum, out);
    if (in.mains_hz)
        out.mains_share = spectrum.mainsShare(*in.mains_hz);
    return out;
}

void fields(Fields& f, CapturedSamples& value)
{
    f.need("dt_s", value.dt_s, range::positive);
    f.need("values", value.values, range::any, Lengths{least_samples, most_samples});
}

void fields(Fields& f, CaptureWindow& value)
{
    f.need("from_s", value.from_s);
    f.need("to_s", value.to_s);
    f.demand(value.from_s <= value.to_s, ErrorCode::Inconsistent, "to_s", "the window ends before it begins");
}

void fields(Fields& f, CaptureInput& in)
{
    constexpr std::int64_t most_columns = 1000;
    constexpr std::int64_t most_peaks = 50;
    constexpr Lengths file{0, 100000000};
    f.oneOf({"samples", "csv"});
    f.may("samples", in.samples);
    f.may("csv", in.csv, file);
    f.may("column", in.column, 1, most_columns);
    f.demand(!in.column || in.csv, ErrorCode::Inconsistent, "column", "a column is of a file");
    f.may("scale", in.scale);
    f.demand(std::abs(in.scale) >= Range::smallest, ErrorCode::OutOfRange, "scale", "a scale is not 0");
    f.may("mains_hz", in.mains_hz, range::positive);
    f.may("window", in.window);
    f.may("peaks", in.peaks, 0, most_peaks);
    f.may("limit_pp", in.limit_pp, range::positive);
}

void fields(Fields& f, CaptureResult& out)
{
    f.need("n", out.n, 0, static_cast<std::int64_t>(most_samples));
    f.need("dt_s", out.dt_s);
    f.need("duration_s", out.duration_s);
    f.need("mean", out.mean);
    f.need("rms", out.rms);
    f.need("ripple_rms", out.ripple_rms);
    f.need("pp", out.pp);
    f.need("pp_98", out.pp_98);
    f.may("crest", out.crest);
    f.need("spiky", out.spiky);
    f.need("clipped", out.clipped);
    f.need("peaks", out.peaks);
    f.may("mains_share", out.mains_share);
    f.need("coarse", out.coarse);
    f.may("verdict", out.verdict);
}

CaptureResult captureAnalyse(const CaptureInput& in) { return analysed(in, ""); }

void fields(Fields& f, CaptureCompareInput& in)
{
    f.need("before", in.before);
    f.need("after", in.after);
}

void fields(Fields& f, ComparedLine& out)
{
    f.need("f_hz", out.f_hz);
    f.need("before", out.before);
    f.may("after", out.after);
    f.may("ratio", out.ratio);
}

void fields(Fields& f, CaptureCompareResult& out)
{
    f.need("before", out.before);
    f.need("after", out.after);
    f.may("pp_ratio", out.pp_ratio);
    f.may("pp_db", out.pp_db);
    f.may("ripple_rms_ratio", out.ripple_rms_ratio);
    f.need("mean_change", out.mean_change);
    f.need("lines", out.lines);
    f.need("comparable", out.comparable);
}

CaptureCompareResult captureCompare(const CaptureCompareInput& in)
{
    return comparedCaptures(analysed(in.before, "/before"), analysed(in.after, "/after"));
}

CaptureCompareResult comparedCaptures(const CaptureResult& before, const CaptureResult& after)
{
    CaptureCompareResult out{};
    out.before = before;
    out.after = after;
    const auto ratio = [](double now, double then) {
        return then > 0 ? std::optional(now / then) : std::nullopt;
    };
    out.pp_ratio = ratio(out.after.pp, out.before.pp);
    if (out.pp_ratio && *out.pp_ratio > 0)
        out.pp_db = 20 * std::log10(*out.pp_ratio);
    out.ripple_rms_ratio = ratio(out.after.ripple_rms, out.before.ripple_rms);
    out.mean_change = out.after.mean - out.before.mean;
    constexpr double near = 2; // bins of the coarser one
    const double wide_hz = near / std::min(out.before.duration_s, out.after.duration_s);
    for (const SpectralLine& line : out.before.peaks) {
        ComparedLine compared{line.f_hz, line.amplitude, std::nullopt, std::nullopt};
        const auto there = std::ranges::find_if(out.after.peaks, [&](const SpectralLine& other) {
            return std::abs(other.f_hz - line.f_hz) <= wide_hz * (1 + limit_share);
        });
        if (there != out.after.peaks.end()) {
            compared.after = there->amplitude;
            compared.ratio = there->amplitude / line.amplitude;
        }
        out.lines.push_back(compared);
    }
    const auto alike = [](double a, double b, double factor) {
        return std::max(a, b) <= factor * std::min(a, b) * (1 + limit_share);
    };
    out.comparable =
        alike(out.before.dt_s, out.after.dt_s, 2) && alike(out.before.duration_s, out.after.duration_s, 5);
    return out;
}

} // namespace offshoot
