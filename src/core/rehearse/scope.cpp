#include "core/rehearse/scope.h"

#include "core/kinds/surge_limiter/inrush_view.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <random>

namespace offshoot {

namespace {

/// The steps of eight bits over ten divisions of 1, 2 or 5, of which the signal takes eight at most.
void digitize(CaptureTrace& trace, const Draw& draw)
{
    constexpr double levels = 256;
    constexpr double divisions = 10;
    constexpr double used = 8;
    const auto [low, high] = std::ranges::minmax(trace.values);
    const double wanted = std::max(high - low, 1e-9) / used;
    const double decade = std::pow(10, std::floor(std::log10(wanted)));
    double division = 10 * decade;
    for (const double nice : {5.0, 2.0, 1.0})
        if (nice * decade >= wanted)
            division = nice * decade;
    const double step = division * divisions / levels;
    constexpr double noise_steps = 0.7; // either way
    std::mt19937 noise(static_cast<std::uint32_t>(draw.between("scope noise", 0, std::mt19937::max())));
    for (double& value : trace.values)
        value = step * std::round(value / step +
                                  noise_steps * (2 * static_cast<double>(noise()) / std::mt19937::max() - 1));
}

/// −1/2 to 1/2: charged within `share` of a period, then drained.
double sawtooth(double periods, double share)
{
    const double at = periods - std::floor(periods);
    return at < share ? at / share - 0.5 : 0.5 - (at - share) / (1 - share);
}

std::string number(double value, int digits, bool comma)
{
    std::array<char, 32> text{};
    const auto end =
        std::to_chars(text.data(), text.data() + text.size(), value, std::chars_format::scientific, digits)
            .ptr;
    if (comma)
        std::replace(text.data(), end, '.', ',');
    return {text.data(), end};
}

} // namespace

CaptureTrace rippleTrace(const RippleSource& source, const Draw& unit, const Draw& capture)
{
    constexpr double slow_dt_s = 20e-6;
    constexpr double in_a_period = 16;
    constexpr double length_s = 0.02;
    constexpr double slow_length_s = 0.1;
    const double shortest_s = source.mains_hz ? 1.05 / *source.mains_hz : length_s;
    CaptureTrace out{0, source.switching_hz ? 1 / (in_a_period * *source.switching_hz) : slow_dt_s, {}};
    const double end_s = std::max(source.switching_hz ? length_s : slow_length_s, shortest_s);
    const double mains_share = !source.switching_hz ? 1
                               : source.mains_hz    ? unit.between("scope mains", 0.15, 0.4)
                                                    : 0;
    const double duty = unit.between("scope duty", 0.25, 0.45);
    const double spike = unit.between("scope spike", 0.2, 0.5);
    const double phase = capture.share("scope phase");
    constexpr double charges = 0.18; // of a half cycle
    const auto count = std::min(static_cast<std::size_t>(std::ceil(end_s / out.dt_s)), most_samples);
    for (std::size_t i = 0; i < count; ++i) {
        const double t_s = static_cast<double>(i) * out.dt_s;
        double value = 0;
        if (source.mains_hz)
            value += mains_share * sawtooth(2 * *source.mains_hz * t_s + phase, charges);
        if (source.switching_hz) {
            value += (1 - mains_share) * sawtooth(*source.switching_hz * t_s, duty);
            // Its edges couple through, one sample wide and the other way at the other edge.
            const auto in_period = static_cast<int>(i) % static_cast<int>(in_a_period);
            if (in_period == 0)
                value += spike;
            else if (in_period == static_cast<int>(duty * in_a_period))
                value -= spike;
        }
        out.values.push_back(value);
    }
    const auto [low, high] = std::ranges::minmax(out.values);
    const double scale = high > low ? source.pp_v / (high - low) : 0;
    const double middle = (low + high) / 2;
    for (double& value : out.values)
        value = (value - middle) * scale;
    if (source.pp_v > 0)
        digitize(out, capture);
    return out;
}

CaptureTrace surgeTrace(const SurgeSource& source, const Draw& draw)
{
    constexpr double before_s = 4e-3;
    constexpr double cycles = 4;
    const SurgeCurve curve = surgeCurve(source.v_rms_v, source.f_hz, source.ohm, source.c_f,
                                        cycles / source.f_hz, source.phase_rad);
    CaptureTrace out{-before_s, curve.t_s[1] - curve.t_s[0], {}};
    out.values.assign(static_cast<std::size_t>(before_s / out.dt_s), 0);
    out.from_s = -out.dt_s * static_cast<double>(out.values.size());
    out.values.insert(out.values.end(), curve.i_a.begin(), curve.i_a.end());
    digitize(out, draw);
    return out;
}

std::string captureFile(const CaptureTrace& trace, CapturePoint point, CaptureDialect dialect)
{
    const bool comma = dialect == CaptureDialect::Semicolon;
    const char separator = dialect == CaptureDialect::Comma ? ',' : comma ? ';' : '\t';
    const bool surge = point == CapturePoint::Surge;
    std::string text;
    switch (dialect) {
    case CaptureDialect::Comma:
        text = surge ? "Time,CH2\ns,A\n" : "Time,CH1\ns,V\n";
        break;
    case CaptureDialect::Semicolon:
        text = surge ? "time (s);probe (A)\n" : "time (s);output (V)\n";
        break;
    case CaptureDialect::Tab:
        text = "record length\t" + std::to_string(trace.values.size()) + "\ncoupling\t" +
               (surge ? "direct" : "alternating") + "\n\nTime/s\t" + (surge ? "current/A" : "voltage/V") +
               "\n";
        break;
    }
    constexpr int time_digits = 6;
    constexpr int value_digits = 3; // of eight bits
    for (std::size_t i = 0; i < trace.values.size(); ++i)
        text += number(trace.from_s + static_cast<double>(i) * trace.dt_s, time_digits, comma) + separator +
                number(trace.values[i], value_digits, comma) + "\n";
    return text;
}

} // namespace offshoot
