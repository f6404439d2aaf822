// `divider.tolerance`: how the voltage spreads over many builds, by Monte Carlo, beside the exact corners.
#pragma once

#include "core/calculate/divider.h"

namespace offshoot {

enum class Distribution { Uniform, Normal };
template <>
struct Words<Distribution>
{
    static constexpr std::array<std::string_view, 2> list{"uniform", "normal"};
};

struct DividerToleranceInput
{
    FoundDivider divider;
    std::optional<AddedNetwork> added;
    Target target;
    std::int64_t samples = 10000;
    std::int64_t seed = 1;
    /// Normal: σ is a third of the tolerance; draws beyond the tolerance are drawn again.
    Distribution distribution = Distribution::Uniform;
};
void fields(Fields& f, DividerToleranceInput& in);

struct DividerToleranceResult
{
    double nominal_v;
    double mean_v;
    double sd_v;
    double p0_1_v;
    double p50_v;
    double p99_9_v;
    double share_in_window;
    double worst_min_v;
    double worst_max_v;
};
void fields(Fields& f, DividerToleranceResult& out);

/// Every part and V_ref on its own; I_ref uniform between its ends. The same seed gives the same figures.
DividerToleranceResult dividerTolerance(const DividerToleranceInput& in);

} // namespace offshoot
