#include "core/calculate/spectrum.h"

#include <unsupported/Eigen/FFT>

#include <cmath>
#include <numbers>

namespace offshoot {

namespace {

using Complex = std::complex<double>;

/// The library multiplies out every other factor as a matrix of that size.
bool hasSmallFactors(std::size_t n)
{
    for (const std::size_t factor : {2U, 3U, 5U, 7U})
        while (n % factor == 0)
            n /= factor;
    return n == 1;
}

/// exp(−πi·k²/n); k² is taken modulo 2n, because the phase of a large number has no digits left.
std::vector<Complex> chirpOf(std::size_t n)
{
    std::vector<Complex> chirp(n);
    std::size_t square = 0;
    for (std::size_t k = 0; k < n; ++k) {
        chirp[k] = std::polar(1.0, -std::numbers::pi * static_cast<double>(square) / static_cast<double>(n));
        square = (square + 2 * k + 1) % (2 * n);
    }
    return chirp;
}

std::vector<Complex> bluestein(const std::vector<double>& values)
{
    const std::size_t n = values.size();
    std::size_t size = 1;
    while (size < 2 * n)
        size *= 2;
    const std::vector<Complex> chirp = chirpOf(n);
    std::vector<Complex> a(size, 0);
    std::vector<Complex> b(size, 0);
    for (std::size_t k = 0; k < n; ++k) {
        a[k] = values[k] * chirp[k];
        b[k] = std::conj(chirp[k]);
        if (k > 0)
            b[size - k] = b[k];
    }
    Eigen::FFT<double> fft;
    std::vector<Complex> across;
    std::vector<Complex> along;
    fft.fwd(across, a);
    fft.fwd(along, b);
    for (std::size_t k = 0; k < size; ++k)
        across[k] *= along[k];
    fft.inv(a, across);
    std::vector<Complex> out(n / 2 + 1);
    for (std::size_t j = 0; j < out.size(); ++j)
        out[j] = a[j] * chirp[j];
    return out;
}

} // namespace

std::vector<Complex> spectrumOf(const std::vector<double>& values)
{
    if (!hasSmallFactors(values.size()))
        return bluestein(values);
    std::vector<Complex> in(values.begin(), values.end());
    std::vector<Complex> out;
    Eigen::FFT<double> fft;
    fft.fwd(out, in);
    out.resize(values.size() / 2 + 1);
    return out;
}

} // namespace offshoot
