#pragma once

namespace offshoot {

/// Where `below` turns from true, as at `low`, to false, as at `high`: until no number is left between the
/// two. Where it turns at nothing, to 1e-60 of the range.
template <class Below>
double bisect(double low, double high, Below below)
{
    constexpr int halvings = 200;
    double middle = (low + high) / 2;
    for (int i = 0; i < halvings && low < middle && middle < high; ++i) {
        (below(middle) ? low : high) = middle;
        middle = (low + high) / 2;
    }
    return middle;
}

} // namespace offshoot
