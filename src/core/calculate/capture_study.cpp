#include "core/calculate/capture_study.h"

#include "core/calculate/capture_outline.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

constexpr std::int64_t listed_lines = 12;
constexpr double bins_wide = 2;
constexpr double mains_harmonics = 10;
constexpr double switching_from_hz = 2000;
constexpr double parts_share = 0.1;
constexpr double drifts = 0.01; ///< a converter's frequency within one capture

/// Distance in Hz to the nearest harmonic, and which that is.
std::pair<double, double> nearestHarmonic(double f_hz, double every_hz, double most)
{
    const double k = std::clamp(std::round(f_hz / every_hz), 1.0, most);
    return {std::abs(f_hz - k * every_hz), k};
}

bool isMains(double f_hz, const CaptureStudy& study, double resolution_hz)
{
    return study.mains_hz && nearestHarmonic(f_hz, *study.mains_hz, mains_harmonics).first <=
                                 bins_wide * resolution_hz * (1 + limit_share);
}

bool isSwitching(double f_hz, const CaptureStudy& study, double resolution_hz)
{
    constexpr double most = 1e6;
    if (!study.switching_hz)
        return false;
    const auto [off, k] = nearestHarmonic(f_hz, *study.switching_hz, most);
    return off <= std::max(bins_wide * resolution_hz, drifts * k * *study.switching_hz) * (1 + limit_share) &&
           off < *study.switching_hz / 4; // where its harmonics run into each other, everything would be near
}

/// Four digits: what a picture can show.
double shown(double value)
{
    constexpr double digits = 1e4;
    if (value == 0 || !std::isfinite(value))
        return 0;
    const double scale = digits / std::pow(10, std::ceil(std::log10(std::abs(value))));
    return std::round(value * scale) / scale;
}

CaptureOutline outlineOfAll(const CaptureTrace& trace)
{
    constexpr std::size_t most = 360;
    CaptureOutline out = outlineOf(trace, 0, trace.dt_s * static_cast<double>(trace.values.size()), most);
    for (std::vector<double>* edge : {&out.low, &out.high})
        std::ranges::transform(*edge, edge->begin(), shown);
    return out;
}

SpectrumOutline outlineOf(const HannSpectrum& spectrum)
{
    constexpr std::size_t steps = 180;
    const double first = 1;
    const auto last = static_cast<double>(spectrum.sizes().size() - 1);
    SpectrumOutline out{first * spectrum.resolutionHz(), std::pow(last / first, 1.0 / steps),
                        std::vector<double>(steps, 0)};
    for (std::size_t j = 1; j < spectrum.sizes().size(); ++j) {
        const double at = std::log(static_cast<double>(j) / first) / std::log(out.ratio);
        double& most = out.amplitude[std::min(static_cast<std::size_t>(at), steps - 1)];
        most = std::max(most, spectrum.amplitude(j));
    }
    // Where the steps are narrower than the bins, those between two hold what the one before does.
    for (std::size_t i = 1; i < steps; ++i)
        out.amplitude[i] = out.amplitude[i] > 0 ? out.amplitude[i] : out.amplitude[i - 1];
    std::ranges::transform(out.amplitude, out.amplitude.begin(), shown);
    return out;
}

SurgeFigures surgeOf(const CaptureTrace& trace)
{
    const std::vector<double>& i_a = trace.values;
    const auto larger = [](double a, double b) { return std::abs(a) < std::abs(b); };
    const auto top = std::ranges::max_element(i_a, larger);
    SurgeFigures out{std::abs(*top),
                     static_cast<double>(top - i_a.begin()) * trace.dt_s,
                     {},
                     0,
                     heldAt(i_a, *top) > clipped_share * static_cast<double>(i_a.size())};
    for (const double value : i_a)
        out.square_time += value * value * trace.dt_s;
    const auto after = std::find_if(i_a.rbegin(), i_a.rend(),
                                    [&](double value) { return std::abs(value) >= out.peak * std::exp(-1); });
    const auto falls = static_cast<double>(i_a.rend() - after); // the sample behind the last one above
    if (after != i_a.rbegin())
        out.decay_s = falls * trace.dt_s - out.at_s;
    return out;
}

RippleParts partsOf(const HannSpectrum& spectrum, const CaptureStudy& study)
{
    constexpr double wander_hz = 20;
    const double below_hz = study.mains_hz ? *study.mains_hz / 2 : wander_hz;
    RippleParts power;
    double all = 0;
    for (std::size_t j = 1; j < spectrum.sizes().size(); ++j) {
        const double f_hz = static_cast<double>(j) * spectrum.resolutionHz();
        const double p = spectrum.sizes()[j] * spectrum.sizes()[j];
        all += p;
        (f_hz < below_hz                                     ? power.wander
         : isMains(f_hz, study, spectrum.resolutionHz())     ? power.mains
         : isSwitching(f_hz, study, spectrum.resolutionHz()) ? power.switching
                                                             : power.rest) += p;
    }
    const auto root = [&](double p) { return all > 0 ? study.saw.ripple_rms * std::sqrt(p / all) : 0; };
    return {root(power.wander), root(power.mains), root(power.switching), root(power.rest)};
}

} // namespace

CaptureStudy captureStudy(const CaptureTrace& trace, std::optional<double> mains_hz,
                          std::optional<double> switching_hz, bool surge)
{
    const HannSpectrum spectrum(trace.values, meanOf(trace.values), trace.dt_s);
    const CaptureInput asked{.mains_hz = mains_hz, .peaks = listed_lines};
    CaptureStudy out{.saw = captureFigures(trace, spectrum, asked),
                     .mains_hz = mains_hz,
                     .switching_hz = switching_hz,
                     .outline = outlineOfAll(trace),
                     .spectrum = outlineOf(spectrum),
                     .surge = surge ? std::optional(surgeOf(trace)) : std::nullopt};
    if (!surge) {
        // As it truly is: what was entered is what its parts make of it.
        const auto line = std::ranges::find_if(out.saw.peaks, [&](const SpectralLine& l) {
            return switching_hz ? std::abs(l.f_hz - *switching_hz) <= parts_share * *switching_hz
                                : l.f_hz >= switching_from_hz;
        });
        out.switching_seen = !switching_hz && line != out.saw.peaks.end();
        if (line != out.saw.peaks.end())
            out.switching_hz = line->f_hz;
    }
    out.parts = partsOf(spectrum, out);
    return out;
}

std::vector<NamedLine> namedLines(const CaptureStudy& study)
{
    constexpr double most = 1e6;
    const double resolution_hz = 1 / study.saw.duration_s;
    std::vector<NamedLine> all;
    for (const SpectralLine& line : study.saw.peaks) {
        if (isMains(line.f_hz, study, resolution_hz))
            all.push_back(
                {line, LineOf::Mains,
                 static_cast<int>(nearestHarmonic(line.f_hz, *study.mains_hz, mains_harmonics).second)});
        else if (isSwitching(line.f_hz, study, resolution_hz))
            all.push_back({line, LineOf::Switching,
                           static_cast<int>(nearestHarmonic(line.f_hz, *study.switching_hz, most).second)});
        else
            all.push_back({line, LineOf::Other, 0});
    }
    return all;
}

void fields(Fields& f, RippleParts& out)
{
    f.need("wander", out.wander, range::not_negative);
    f.need("mains", out.mains, range::not_negative);
    f.need("switching", out.switching, range::not_negative);
    f.need("rest", out.rest, range::not_negative);
}

void fields(Fields& f, CaptureOutline& out)
{
    constexpr Lengths columns{1, 2000};
    f.need("from_s", out.from_s);
    f.need("step_s", out.step_s, range::positive);
    f.need("low", out.low, range::any, columns);
    f.need("high", out.high, range::any, columns);
    f.demand(out.low.size() == out.high.size(), ErrorCode::Inconsistent, "high", "as many as low");
}

void fields(Fields& f, SpectrumOutline& out)
{
    constexpr Lengths steps{1, 2000};
    f.need("from_hz", out.from_hz, range::positive);
    f.need("ratio", out.ratio, range::positive);
    f.need("amplitude", out.amplitude, range::not_negative, steps);
}

void fields(Fields& f, SurgeFigures& out)
{
    f.need("peak", out.peak, range::not_negative);
    f.need("at_s", out.at_s, range::not_negative);
    f.may("decay_s", out.decay_s, range::not_negative);
    f.need("square_time", out.square_time, range::not_negative);
    f.need("clipped", out.clipped);
}

void fields(Fields& f, CaptureStudy& out)
{
    f.need("saw", out.saw);
    f.may("mains_hz", out.mains_hz, range::positive);
    f.may("switching_hz", out.switching_hz, range::positive);
    f.may("switching_seen", out.switching_seen);
    f.need("parts", out.parts);
    f.need("outline", out.outline);
    f.need("spectrum", out.spectrum);
    f.may("surge", out.surge);
}

} // namespace offshoot
