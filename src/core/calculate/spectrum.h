// The spectrum of samples at even times.
#pragma once

#include "core/values/fields.h"

#include <complex>
#include <optional>
#include <vector>

namespace offshoot {

/// X_j = Σ x_k·exp(−2πi·jk/n) for j from 0 to n/2, of 1 to 2³¹ − 1 samples, in a time that grows as n·log n
/// for every n (FFTW: M. Frigo and S. G. Johnson, 2005).
std::vector<std::complex<double>> spectrumOf(const std::vector<double>& values);

struct SpectralLine
{
    double f_hz;
    double amplitude;
    bool operator==(const SpectralLine&) const = default;
};
void fields(Fields& f, SpectralLine& out);

/// Magnitudes of samples about their mean under a periodic Hann window.
class HannSpectrum
{
public:
    /// `dt_s` above 0; 4 samples at least.
    HannSpectrum(const std::vector<double>& values, double mean, double dt_s);

    /// |X_j|, from 0 Hz on.
    const std::vector<double>& sizes() const { return m_sizes; }
    /// From one to the next, in Hz.
    double resolutionHz() const { return m_resolution_hz; }
    /// Of a sine whose frequency is the bin's.
    double amplitude(std::size_t bin) const { return 2 * m_sizes[bin] / m_weight; }
    /// Local maxima of at least `share` of the largest, which comes first. Frequency and amplitude are
    /// refined by a parabola through the logarithms of three neighbours (a usual method for this window).
    std::vector<SpectralLine> lines(double share) const;
    /// The last bin, where it stands above the one before it: what is there may come from beyond.
    std::optional<SpectralLine> last() const;
    /// The share of the ripple, as root of its power, within two bins of the mains and its harmonics to the
    /// tenth; 0 to 1.
    double mainsShare(double mains_hz) const;

private:
    SpectralLine refined(std::size_t bin) const;

    double m_resolution_hz;
    double m_weight; ///< sum of the window
    std::vector<double> m_sizes;
};

} // namespace offshoot
