#include "core/calculate/capture.h"

#include "core/calculate/spectrum.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <numbers>

namespace offshoot {

namespace {

constexpr std::size_t least_samples = 16;
constexpr std::size_t most_samples = 1000000;

// ---- reading

using Cells = std::vector<std::string_view>;

std::string_view trimmed(std::string_view text)
{
    constexpr std::string_view blanks = " \t\r";
    const auto first = text.find_first_not_of(blanks);
    return first == std::string_view::npos ? std::string_view()
                                           : text.substr(first, text.find_last_not_of(blanks) - first + 1);
}

/// Cells of a line, those empty at its end left out.
Cells cellsOf(std::string_view line, char separator)
{
    Cells cells;
    for (std::size_t from = 0; from <= line.size();) {
        const std::size_t to = std::min(line.find(separator, from), line.size());
        cells.push_back(trimmed(line.substr(from, to - from)));
        from = to + 1;
    }
    while (!cells.empty() && cells.back().empty())
        cells.pop_back();
    return cells;
}

std::optional<double> numberIn(std::string_view cell, char separator)
{
    std::string text(cell);
    if (separator != ',')
        std::ranges::replace(text, ',', '.');
    if (text.starts_with('+'))
        text.erase(0, 1);
    double value = 0;
    const char* end = text.data() + text.size();
    const auto read = std::from_chars(text.data(), end, value);
    const bool good = !text.empty() && read.ec == std::errc() && read.ptr == end && std::isfinite(value) &&
                      std::abs(value) <= Range::largest;
    return good ? std::optional(value) : std::nullopt;
}

struct Capture
{
    double from_s;
    double dt_s;
    std::vector<double> values;
};

/// The file of an oscilloscope or a logger: headings, then the time and one column or more.
class CaptureFile
{
public:
    CaptureFile(const CaptureInput& in, std::string at)
        : m_in(in)
        , m_at(std::move(at))
    {
        const std::string_view text = *in.csv;
        for (std::size_t from = 0; from < text.size();) {
            const std::size_t to = std::min(text.find('\n', from), text.size());
            m_lines.push_back(text.substr(from, to - from));
            from = to + 1;
        }
        while (!m_lines.empty() && trimmed(m_lines.back()).empty())
            m_lines.pop_back();
        constexpr std::string_view byte_order_mark = "\xEF\xBB\xBF";
        if (!m_lines.empty() && m_lines.front().starts_with(byte_order_mark))
            m_lines.front().remove_prefix(byte_order_mark.size());
    }

    Capture read()
    {
        findData();
        const std::size_t column = columnIndex();
        Capture out{0, 0, {}};
        std::vector<double> times_s;
        for (std::size_t i = m_first; i < m_lines.size(); ++i) {
            const Cells cells = cellsOf(m_lines[i], m_separator);
            const auto time_s = cells.empty() ? std::nullopt : numberIn(cells.front(), m_separator);
            const auto value = column < cells.size() ? numberIn(cells[column], m_separator) : std::nullopt;
            if (!time_s || !value)
                refuse(ErrorCode::Unreadable, "line " + std::to_string(i + 1) +
                                                  ": a number is wanted for the time and for the column");
            times_s.push_back(*time_s);
            out.values.push_back(*value);
        }
        if (times_s.size() < least_samples)
            refuse(ErrorCode::Unreadable, "fewer than 16 samples");
        if (times_s.size() > most_samples)
            refuse(ErrorCode::OutOfRange, "more than a million samples");
        out.from_s = times_s.front();
        out.dt_s = (times_s.back() - times_s.front()) / static_cast<double>(times_s.size() - 1);
        const auto step = [&](std::size_t i) { return times_s[i] - times_s[i - 1]; };
        for (std::size_t i = 1; i < times_s.size(); ++i)
            if (!(step(i) > 0))
                refuse(ErrorCode::Inconsistent, lineOf(i) + "time does not rise");
        constexpr double uneven = 0.01;
        for (std::size_t i = 1; i < times_s.size(); ++i)
            if (std::abs(step(i) - out.dt_s) > uneven * out.dt_s * (1 + limit_share))
                refuse(ErrorCode::Inconsistent, lineOf(i) + "the steps of time differ by more than 1 %");
        return out;
    }

private:
    [[noreturn]] void refuse(ErrorCode code, const std::string& message, const char* key = "csv") const
    {
        throw DocumentError(code, jsonPath(m_at, key), message);
    }

    /// Where a sample stands in the file.
    std::string lineOf(std::size_t sample) const
    {
        return "line " + std::to_string(m_first + sample + 1) + ": ";
    }

    /// The first line that is data under any separator, which is then that of every line.
    void findData()
    {
        for (m_first = 0; m_first < m_lines.size(); ++m_first)
            for (const char separator : {'\t', ';', ','}) {
                const Cells cells = cellsOf(m_lines[m_first], separator);
                if (cells.size() >= 2 && numberIn(cells[0], separator) && numberIn(cells[1], separator)) {
                    m_separator = separator;
                    return;
                }
            }
        refuse(ErrorCode::Unreadable, "no line has a time and a value");
    }

    std::size_t columnIndex() const
    {
        const std::size_t count = cellsOf(m_lines[m_first], m_separator).size();
        const Fields::NumberOrText column = m_in.column.value_or(std::int64_t{1});
        if (const auto* number = std::get_if<std::int64_t>(&column)) {
            if (static_cast<std::size_t>(*number) >= count)
                refuse(ErrorCode::OutOfRange, "there is no such column", "column");
            return static_cast<std::size_t>(*number);
        }
        const std::string_view name = trimmed(std::get<std::string>(column));
        for (std::size_t i = m_first; i-- > 0;) {
            const Cells cells = cellsOf(m_lines[i], m_separator);
            if (cells.size() != count)
                continue;
            for (std::size_t k = 1; k < count; ++k)
                if (cells[k] == name)
                    return k;
        }
        refuse(ErrorCode::OutOfRange, "no heading is called so", "column");
    }

    const CaptureInput& m_in;
    std::string m_at;
    std::vector<std::string_view> m_lines;
    std::size_t m_first = 0;
    char m_separator = ',';
};

Capture captureOf(const CaptureInput& in, const std::string& at)
{
    Capture out = in.csv ? CaptureFile(in, at).read() : Capture{0, in.samples->dt_s, in.samples->values};
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

// ---- what it is made of

/// Linear between the ranks.
double percentile(const std::vector<double>& sorted, double share)
{
    const double rank = static_cast<double>(sorted.size() - 1) * share;
    const auto below = static_cast<std::size_t>(rank);
    const std::size_t above = std::min(below + 1, sorted.size() - 1);
    return sorted[below] + (sorted[above] - sorted[below]) * (rank - static_cast<double>(below));
}

/// Samples in runs of three or more at the value.
std::size_t heldAt(const std::vector<double>& values, double level)
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
    return held;
}

/// The spectrum of a capture about its mean, under a Hann window.
class Spectrum
{
public:
    Spectrum(const Capture& capture, double mean)
        : m_resolution_hz(1 / (static_cast<double>(capture.values.size()) * capture.dt_s))
    {
        const std::size_t n = capture.values.size();
        std::vector<double> windowed(n);
        for (std::size_t k = 0; k < n; ++k) {
            const double w =
                0.5 * (1 - std::cos(2 * std::numbers::pi * static_cast<double>(k) / static_cast<double>(n)));
            windowed[k] = (capture.values[k] - mean) * w;
            m_weight += w;
        }
        for (const std::complex<double>& x : spectrumOf(windowed))
            m_size.push_back(std::abs(x));
    }

    /// Every local maximum, largest first.
    std::vector<SpectralLine> lines() const
    {
        std::vector<SpectralLine> found;
        for (std::size_t j = 2; j + 1 < m_size.size(); ++j)
            if (m_size[j] > m_size[j - 1] && m_size[j] >= m_size[j + 1])
                found.push_back(refined(j));
        std::ranges::stable_sort(found, std::ranges::greater{}, &SpectralLine::amplitude);
        return found;
    }

    /// The last bin, where it stands above the one before it: what is there may come from beyond.
    std::optional<SpectralLine> last() const
    {
        const std::size_t j = m_size.size() - 1;
        if (!(m_size[j] > m_size[j - 1]))
            return std::nullopt;
        return SpectralLine{static_cast<double>(j) * m_resolution_hz, 2 * m_size[j] / m_weight};
    }

    double mainsShare(double mains_hz) const
    {
        constexpr int harmonics = 10;
        constexpr double wide = 2; // bins either way
        double near = 0;
        double all = 0;
        for (std::size_t j = 2; j < m_size.size(); ++j) {
            const double power = m_size[j] * m_size[j];
            all += power;
            for (int k = 1; k <= harmonics; ++k)
                if (std::abs(static_cast<double>(j) - k * mains_hz / m_resolution_hz) <= wide) {
                    near += power;
                    break;
                }
        }
        return all > 0 ? std::sqrt(near / all) : 0;
    }

private:
    SpectralLine refined(std::size_t j) const
    {
        constexpr double too_small = 1e-9;
        const double before = m_size[j - 1];
        const double here = m_size[j];
        const double after = m_size[j + 1];
        double d = 0;
        if (std::min(before, after) >= too_small * here) {
            const double a = std::log(before);
            const double b = std::log(here);
            const double c = std::log(after);
            if (a - 2 * b + c != 0)
                d = (a - c) / (2 * (a - 2 * b + c));
        }
        const double droop =
            d == 0 ? 1 : std::sin(std::numbers::pi * d) / (std::numbers::pi * d * (1 - d * d));
        return {(static_cast<double>(j) + d) * m_resolution_hz, 2 * here / m_weight / droop};
    }

    double m_resolution_hz;
    double m_weight = 0;
    std::vector<double> m_size;
};

void setLines(const CaptureInput& in, const Spectrum& spectrum, CaptureResult& out)
{
    constexpr double least_of_largest = 1e-3;
    constexpr double least_of_pp = 1e-6;
    constexpr double trusted = 0.2; // of the sampling rate
    std::vector<SpectralLine> lines = spectrum.lines();
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
    const Capture capture = captureOf(in, at);
    const std::vector<double>& x = capture.values;
    const auto n = static_cast<double>(x.size());
    CaptureResult out{};
    out.n = static_cast<std::int64_t>(x.size());
    out.dt_s = capture.dt_s;
    out.duration_s = n * capture.dt_s;
    for (const double value : x)
        out.mean += value / n;
    double squares = 0;
    double about = 0;
    double farthest = 0;
    for (const double value : x) {
        squares += value * value / n;
        about += (value - out.mean) * (value - out.mean) / n;
        farthest = std::max(farthest, std::abs(value - out.mean));
    }
    out.rms = std::sqrt(squares);
    std::vector<double> sorted = x;
    std::ranges::sort(sorted);
    out.pp = sorted.back() - sorted.front();
    out.pp_98 = percentile(sorted, 0.99) - percentile(sorted, 0.01);
    out.spiky = out.pp > 2 * out.pp_98;
    if (in.limit_pp)
        out.verdict = judgeUse(out.pp / *in.limit_pp);
    if (out.pp == 0)
        return out; // a flat line has no ripple, whatever the mean was rounded to
    out.ripple_rms = std::sqrt(about);
    out.crest = farthest / out.ripple_rms;
    constexpr double clipped_share = 0.01;
    const std::size_t held = heldAt(x, sorted.back()) + heldAt(x, sorted.front());
    out.clipped = static_cast<double>(held) > clipped_share * n;
    const Spectrum spectrum(capture, out.mean);
    setLines(in, spectrum, out);
    if (in.mains_hz)
        out.mains_share = spectrum.mainsShare(*in.mains_hz);
    return out;
}

} // namespace

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

void fields(Fields& f, SpectralLine& out)
{
    f.need("f_hz", out.f_hz);
    f.need("amplitude", out.amplitude);
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
    CaptureCompareResult out{};
    out.before = analysed(in.before, "/before");
    out.after = analysed(in.after, "/after");
    const auto ratio = [](double after, double before) {
        return before > 0 ? std::optional(after / before) : std::nullopt;
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
