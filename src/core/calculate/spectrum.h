// The discrete Fourier transform of any number of samples.
#pragma once

#include <complex>
#include <vector>

namespace offshoot {

/// X_j = Σ x_k·exp(−2πi·jk/n) for j from 0 to n/2. By the library's mixed radix where n has small factors
/// only, else by Bluestein's chirp (L. Bluestein, 1970), so that a prime number of samples takes no longer
/// than its neighbours.
std::vector<std::complex<double>> spectrumOf(const std::vector<double>& values);

} // namespace offshoot
