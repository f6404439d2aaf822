#include "core/calculate/filter_response.h"

#include "core/values/bisect.h"
#include "core/values/preferred.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace offshoot {

namespace {

using Complex = std::complex<double>;

constexpr Range any_hz{1e-6, 1e12};
constexpr double most_span = 1e12;
constexpr int points_per_decade = 400;
/// Above this gain nobody stated the losses.
constexpr double lossless_db = 160;
constexpr double peak_margin = 1e-6;

double decibels(double share) { return 20 * std::log10(share); }

/// A coil with its resistance, and what lies across both.
Complex coilAdmittance(double l_h, double r_ohm, const NoiseSection& s, double omega)
{
    const Complex coil(r_ohm, omega * l_h);
    Complex y = 1.0 / coil + Complex(0, omega * s.c_par_f);
    if (s.r_par_ohm)
        y += 1 / *s.r_par_ohm;
    return y;
}

/// 1/H: the source voltage for 1 V at the load.
Complex inverseGain(const FilterInput& in, double f_hz)
{
    const double omega = 2 * std::numbers::pi * f_hz;
    Complex v = 1;
    Complex i = in.load_ohm ? 1 / *in.load_ohm : 0;
    for (auto s = in.sections.rbegin(); s != in.sections.rend(); ++s) {
        switch (s->kind) {
        case FilterKind::R:
            v += i * *s->r_ohm;
            break;
        case FilterKind::C:
            i += v / Complex(s->esr_ohm, omega * s->esl_h - 1 / (omega * *s->c_f));
            break;
        case FilterKind::L:
            v += i / coilAdmittance(*s->l_h, s->r_ohm.value_or(0), *s, omega);
            break;
        case FilterKind::Cm:
            v += i / coilAdmittance(*s->leakage_h, s->r_ohm.value_or(0), *s, omega);
            break;
        }
    }
    return v + i * in.source_ohm;
}

/// The load without the filter.
double plainGain(const FilterInput& in)
{
    return in.load_ohm ? *in.load_ohm / (in.source_ohm + *in.load_ohm) : 1;
}

FilterPoint pointAt(const FilterInput& in, double f_hz)
{
    FilterPoint point{f_hz, {}, {}, {}};
    const Complex inverse = inverseGain(in, f_hz);
    const double size = std::abs(inverse);
    if (size == 0 || !std::isfinite(size))
        return point;
    point.gain_db = -decibels(size);
    point.phase_rad = -std::arg(inverse);
    point.insertion_loss_db = decibels(plainGain(in) * size);
    return point;
}

class PeakSearch
{
public:
    explicit PeakSearch(const FilterInput& in)
        : m_in(in)
        , m_low(std::log(in.from_hz))
        , m_high(std::log(in.to_hz))
    {}

    std::optional<FilterPeak> run()
    {
        scan();
        const double ends = std::max(gain(m_low), gain(m_high));
        if (!m_best || !(m_best_gain > ends + peak_margin))
            return std::nullopt;
        FilterPeak peak{std::exp(*m_best), {}, {}};
        const double db = decibels(m_best_gain);
        if (!std::isfinite(db) || db > lossless_db)
            return peak;
        peak.gain_db = db;
        const auto below = edge(-1);
        const auto above = edge(1);
        if (below && above)
            peak.q = peak.f_hz / (std::exp(*above) - std::exp(*below));
        return peak;
    }

private:
    double gain(double u) const { return 1 / std::abs(inverseGain(m_in, std::exp(u))); }
    Complex inverse(double u) const { return inverseGain(m_in, std::exp(u)); }

    /// A grid finds what is broad. What is narrower shows where the real or the imaginary part of 1/H passes
    /// through zero: there it is looked for on its own.
    void scan()
    {
        const int count =
            std::max(8, static_cast<int>((m_high - m_low) / std::numbers::ln10 * points_per_decade));
        const double step = (m_high - m_low) / count;
        std::vector<Complex> values;
        for (int k = 0; k <= count; ++k)
            values.push_back(inverse(m_low + step * k));
        for (int k = 0; k < count; ++k) {
            const auto at = static_cast<std::size_t>(k);
            const double u = m_low + step * k;
            if (k > 0 && std::abs(values[at]) <= std::abs(values[at - 1]) &&
                std::abs(values[at]) <= std::abs(values[at + 1]))
                offer(u - step, u + step);
            if (values[at].real() * values[at + 1].real() < 0)
                narrow(u, u + step, [](Complex z) { return z.real(); });
            if (values[at].imag() * values[at + 1].imag() < 0)
                narrow(u, u + step, [](Complex z) { return z.imag(); });
        }
    }

    template <class Part>
    void narrow(double low, double high, Part part)
    {
        const bool rising = part(inverse(high)) > 0;
        const double root = bisect(low, high, [&](double u) { return (part(inverse(u)) > 0) != rising; });
        take(root);
        // The maximum lies near the crossing, as near as the losses are small.
        for (const double width : {1e-12, 1e-11, 1e-10, 1e-9, 1e-8, 1e-7, 1e-6, 1e-5, 1e-4, 1e-3})
            if (gain(root) > gain(root - width) && gain(root) > gain(root + width))
                return offer(root - width, root + width);
    }

    /// Golden section for the largest gain between two places.
    void offer(double low, double high)
    {
        low = std::max(low, m_low);
        high = std::min(high, m_high);
        const double golden = (std::sqrt(5.0) - 1) / 2;
        double a = high - golden * (high - low);
        double b = low + golden * (high - low);
        double at_a = gain(a);
        double at_b = gain(b);
        constexpr int rounds = 90;
        for (int i = 0; i < rounds; ++i) {
            if (at_a > at_b) {
                high = b;
                b = a;
                at_b = at_a;
                a = high - golden * (high - low);
                at_a = gain(a);
            } else {
                low = a;
                a = b;
                at_a = at_b;
                b = low + golden * (high - low);
                at_b = gain(b);
            }
        }
        take((low + high) / 2);
    }

    void take(double u)
    {
        // The ends are no maxima of their own.
        if (u <= m_low || u >= m_high)
            return;
        const double here = gain(u);
        if (m_best && here <= m_best_gain)
            return;
        m_best = u;
        m_best_gain = here;
    }

    /// Where the gain has fallen to peak/√2 on one side; nothing inside the range.
    std::optional<double> edge(int direction) const
    {
        const double wanted = m_best_gain / std::numbers::sqrt2;
        double near = *m_best;
        double width = 1e-10;
        while (true) {
            double far = *m_best + direction * width;
            const bool end = far <= m_low || far >= m_high;
            far = std::clamp(far, m_low, m_high);
            if (gain(far) <= wanted)
                return between(near, far, wanted);
            if (end)
                return std::nullopt;
            near = far;
            width *= 1.3;
        }
    }

    double between(double above, double below, double wanted) const
    {
        constexpr int halvings = 60;
        for (int i = 0; i < halvings; ++i) {
            const double middle = (above + below) / 2;
            (gain(middle) > wanted ? above : below) = middle;
        }
        return (above + below) / 2;
    }

    const FilterInput& m_in;
    double m_low; ///< logarithms of the range's ends
    double m_high;
    std::optional<double> m_best;
    double m_best_gain = 0;
};

double seriesOhm(const NoiseSection& s)
{
    const double r_ohm = s.r_ohm.value_or(0);
    if (s.kind == FilterKind::C)
        return 0;
    return s.r_par_ohm && r_ohm > 0 ? r_ohm * *s.r_par_ohm / (r_ohm + *s.r_par_ohm) : r_ohm;
}

/// The most that passes anywhere, in dB, looked for on a grid.
double highestDb(const FilterInput& in)
{
    constexpr int points = 160;
    double most = -1e9;
    for (int k = 0; k <= points; ++k) {
        const double f_hz = in.from_hz * std::pow(in.to_hz / in.from_hz, double(k) / points);
        most = std::max(most, decibels(1 / std::abs(inverseGain(in, f_hz))));
    }
    return most;
}

FilterInput damped(const FilterInput& in, const Damping& damping)
{
    FilterInput with = in;
    with.sections.insert(with.sections.begin() + static_cast<std::ptrdiff_t>(damping.section) + 1,
                         NoiseSection{.kind = FilterKind::C, .c_f = damping.c_f, .esr_ohm = damping.r_ohm});
    return with;
}

} // namespace

std::optional<Damping> dampingOf(const FilterInput& in)
{
    constexpr double times = 4;
    std::optional<Damping> best;
    double coil_h = 0;
    for (std::size_t at = 0; at < in.sections.size(); ++at) {
        const NoiseSection& s = in.sections[at];
        coil_h += s.l_h.value_or(0) + s.leakage_h.value_or(0);
        if (s.kind != FilterKind::C || coil_h == 0)
            continue;
        // The best resistor lies near √(L/C); every E12 value around it is tried.
        const double near_ohm = std::sqrt(coil_h / *s.c_f);
        for (const double ohm : valuesWithin(Series::E12, near_ohm / 5, near_ohm * 5)) {
            Damping tried{at, times * *s.c_f, ohm, 0};
            tried.peak_db = highestDb(damped(in, tried));
            if (!best || tried.peak_db < best->peak_db)
                best = tried;
        }
    }
    constexpr std::size_t most_sections = 32;
    if (best && (in.sections.size() == most_sections || best->peak_db > highestDb(in) - 1))
        best.reset();
    return best;
}

std::complex<double> filterGain(const FilterInput& in, double f_hz) { return 1.0 / inverseGain(in, f_hz); }

FilterResult filterResponse(const FilterInput& in)
{
    FilterResult out{};
    for (const double f_hz : in.f_hz)
        out.points.push_back(pointAt(in, f_hz));
    out.peak = PeakSearch(in).run();
    for (const NoiseSection& section : in.sections)
        out.series_r_ohm += seriesOhm(section);
    for (const RippleAt& ripple : in.ripple) {
        const double size = std::abs(inverseGain(in, ripple.f_hz));
        FilteredRipple filtered{ripple.f_hz, ripple.in_pp_v, std::nullopt};
        if (size > 0)
            filtered.out_pp_v = ripple.in_pp_v / size;
        out.ripple.push_back(filtered);
    }
    return out;
}

void fields(Fields& f, RippleAt& value)
{
    f.need("f_hz", value.f_hz, any_hz);
    f.need("in_pp_v", value.in_pp_v, range::positive);
}

void fields(Fields& f, FilterInput& in)
{
    f.need("sections", in.sections, {1, 32});
    f.may("source_ohm", in.source_ohm, range::not_negative);
    f.may("load_ohm", in.load_ohm, range::positive);
    f.may("f_hz", in.f_hz, any_hz, {0, 2000});
    f.may("from_hz", in.from_hz, any_hz);
    f.may("to_hz", in.to_hz, any_hz);
    f.demand(in.to_hz > in.from_hz && in.to_hz <= most_span * in.from_hz, ErrorCode::Inconsistent, "to_hz",
             "not above from_hz, or too far above it");
    f.may("ripple", in.ripple);
    const bool only_c =
        std::ranges::all_of(in.sections, [](const NoiseSection& s) { return s.kind == FilterKind::C; });
    f.demand(!only_c || in.source_ohm > 0, ErrorCode::Inconsistent, "source_ohm",
             "capacitors across a stiff source filter nothing");
}

void fields(Fields& f, FilterPoint& out)
{
    f.need("f_hz", out.f_hz);
    f.may("gain_db", out.gain_db);
    f.may("phase_rad", out.phase_rad);
    f.may("insertion_loss_db", out.insertion_loss_db);
}

void fields(Fields& f, FilterPeak& out)
{
    f.need("f_hz", out.f_hz);
    f.may("gain_db", out.gain_db);
    f.may("q", out.q);
}

void fields(Fields& f, FilteredRipple& out)
{
    f.need("f_hz", out.f_hz);
    f.need("in_pp_v", out.in_pp_v);
    f.may("out_pp_v", out.out_pp_v);
}

void fields(Fields& f, FilterResult& out)
{
    f.need("points", out.points);
    f.may("peak", out.peak);
    f.need("series_r_ohm", out.series_r_ohm);
    f.need("ripple", out.ripple);
}

} // namespace offshoot
