#include "core/calculate/spectrum.h"

#include <fftw3.h>

#include <algorithm>
#include <cmath>
#include <memory>
#include <mutex>
#include <numbers>

namespace offshoot {

namespace {

struct Free
{
    void operator()(double* values) const { fftw_free(values); }
    void operator()(fftw_complex* values) const { fftw_free(values); }
};

/// The library plans one transform at a time.
std::mutex& planning()
{
    static std::mutex mutex;
    return mutex;
}

} // namespace

std::vector<std::complex<double>> spectrumOf(const std::vector<double>& values)
{
    const std::size_t n = values.size();
    const std::size_t bins = n / 2 + 1;
    const std::unique_ptr<double, Free> in(fftw_alloc_real(n));
    const std::unique_ptr<fftw_complex, Free> out(fftw_alloc_complex(bins));
    std::unique_lock lock(planning());
    const fftw_plan plan = fftw_plan_dft_r2c_1d(static_cast<int>(n), in.get(), out.get(), FFTW_ESTIMATE);
    lock.unlock();
    std::ranges::copy(values, in.get());
    fftw_execute(plan);
    lock.lock();
    fftw_destroy_plan(plan);
    const auto* first = reinterpret_cast<const std::complex<double>*>(out.get());
    return {first, first + bins};
}

void fields(Fields& f, SpectralLine& out)
{
    f.need("f_hz", out.f_hz);
    f.need("amplitude", out.amplitude);
}

HannSpectrum::HannSpectrum(const std::vector<double>& values, double mean, double dt_s)
    : m_resolution_hz(1 / (static_cast<double>(values.size()) * dt_s))
    , m_weight(static_cast<double>(values.size()) / 2)
{
    std::vector<double> about(values.size());
    std::ranges::transform(values, about.begin(), [mean](double value) { return value - mean; });
    const std::vector<std::complex<double>> bare = spectrumOf(about);
    // The window's own spectrum has three lines: 1/2 at its middle, −1/4 at either side. Beyond the last bin
    // the spectrum of real samples is its mirror.
    const auto beyond = std::conj(bare[bare.size() - 1 - (values.size() + 1) % 2]);
    m_sizes.reserve(bare.size());
    for (std::size_t j = 0; j < bare.size(); ++j) {
        const auto before = j > 0 ? bare[j - 1] : std::conj(bare[1]);
        const auto after = j + 1 < bare.size() ? bare[j + 1] : beyond;
        m_sizes.push_back(std::sqrt(std::norm(0.5 * bare[j] - 0.25 * (before + after))));
    }
}

std::vector<SpectralLine> HannSpectrum::lines(double share) const
{
    std::vector<std::size_t> maxima;
    double largest = 0;
    for (std::size_t j = 2; j + 1 < m_sizes.size(); ++j)
        if (m_sizes[j] > m_sizes[j - 1] && m_sizes[j] >= m_sizes[j + 1]) {
            maxima.push_back(j);
            largest = std::max(largest, m_sizes[j]);
        }
    constexpr double refines = 0.8; // a line between two bins is that much larger than its bin at most
    std::vector<SpectralLine> found;
    for (const std::size_t j : maxima)
        if (m_sizes[j] >= refines * share * largest)
            found.push_back(refined(j));
    std::ranges::stable_sort(found, std::ranges::greater{}, &SpectralLine::amplitude);
    return found;
}

std::optional<SpectralLine> HannSpectrum::last() const
{
    const std::size_t j = m_sizes.size() - 1;
    if (!(m_sizes[j] > m_sizes[j - 1]))
        return std::nullopt;
    return SpectralLine{static_cast<double>(j) * m_resolution_hz, 2 * m_sizes[j] / m_weight};
}

double HannSpectrum::mainsShare(double mains_hz) const
{
    constexpr double harmonics = 10;
    constexpr double wide = 2; // bins either way
    const double every = mains_hz / m_resolution_hz;
    double near = 0;
    double all = 0;
    for (std::size_t j = 2; j < m_sizes.size(); ++j) {
        const auto bin = static_cast<double>(j);
        const double power = m_sizes[j] * m_sizes[j];
        all += power;
        const double nearest = std::clamp(std::round(bin / every), 1.0, harmonics);
        if (std::abs(bin - nearest * every) <= wide)
            near += power;
    }
    return all > 0 ? std::sqrt(near / all) : 0;
}

SpectralLine HannSpectrum::refined(std::size_t j) const
{
    constexpr double too_small = 1e-9;
    const double before = m_sizes[j - 1];
    const double here = m_sizes[j];
    const double after = m_sizes[j + 1];
    double d = 0;
    if (std::min(before, after) >= too_small * here) {
        const double a = std::log(before);
        const double b = std::log(here);
        const double c = std::log(after);
        if (a - 2 * b + c != 0)
            d = (a - c) / (2 * (a - 2 * b + c));
    }
    const double droop = d == 0 ? 1 : std::sin(std::numbers::pi * d) / (std::numbers::pi * d * (1 - d * d));
    return {(static_cast<double>(j) + d) * m_resolution_hz, 2 * here / m_weight / droop};
}

} // namespace offshoot
