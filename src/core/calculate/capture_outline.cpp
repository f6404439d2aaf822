#include "core/calculate/capture_outline.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

CaptureOutline outlineOf(const CaptureTrace& trace, double from_s, double to_s, std::size_t columns)
{
    const auto sample = [&](double t_s, double beyond) {
        const double at = std::floor(t_s / trace.dt_s) + beyond;
        return static_cast<std::size_t>(std::clamp(at, 0.0, static_cast<double>(trace.values.size())));
    };
    const std::size_t first = sample(from_s, -1);
    const std::size_t n = std::max(sample(to_s, 2), first) - first;
    columns = std::min(n, columns);
    CaptureOutline out{trace.from_s + static_cast<double>(first) * trace.dt_s,
                       n > 0 ? trace.dt_s * static_cast<double>(n) / static_cast<double>(columns)
                             : trace.dt_s,
                       {},
                       {}};
    for (std::size_t i = 0; i < columns; ++i) {
        const auto from = trace.values.begin() + static_cast<std::ptrdiff_t>(first + i * n / columns);
        const auto to = trace.values.begin() + static_cast<std::ptrdiff_t>(first + (i + 1) * n / columns);
        const auto [low, high] = std::minmax_element(from, to);
        out.low.push_back(*low);
        out.high.push_back(*high);
    }
    return out;
}

} // namespace offshoot
