#include "core/calculate/merge_wires.h"

#include "core/calculate/cable.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace offshoot {

namespace {

constexpr double air_w_per_m2_k = 10;
constexpr double most_rise_k = 200;
constexpr double fits_rise_k = 20;
constexpr double tight_rise_k = 40;
/// Round wires packed into a round bundle fill about this share of it.
constexpr double packing = 0.75;

/// Bundle's outer surface for each metre, in m².
double surface(const MergeInput& in)
{
    const double wire_m = 2 * std::sqrt(in.area_m2 / std::numbers::pi) + 2 * in.insulation_m;
    const auto n = static_cast<double>(in.conductors);
    const double bundle_m = in.conductors == 1 ? wire_m : wire_m * std::sqrt(n / packing);
    return std::numbers::pi * bundle_m;
}

double lossPerMetre(const MergeInput& in, double conductor_k)
{
    const double ohm_per_m = conductorOhm(1, in.area_m2 * static_cast<double>(in.conductors), conductor_k);
    return in.current_a * in.current_a * ohm_per_m;
}

} // namespace

MergeResult mergeWires(const MergeInput& in)
{
    MergeResult out{};
    const auto n = static_cast<double>(in.conductors);
    // Copper gets dearer as it warms: a few rounds settle it.
    for (int round = 0; round < 8; ++round) {
        out.loss_w_per_m = lossPerMetre(in, in.ambient_k + out.rise_k);
        out.rise_k = std::min(most_rise_k, out.loss_w_per_m / (air_w_per_m2_k * surface(in)));
    }
    out.conductor_k = in.ambient_k + out.rise_k;
    out.each_a = in.current_a / n;
    const double wire_ohm = conductorOhm(in.length_m, in.area_m2, out.conductor_k);
    const double best = 1 / (wire_ohm + in.joint_ohm * (1 - in.joint_spread));
    const double worst = 1 / (wire_ohm + in.joint_ohm * (1 + in.joint_spread));
    out.most_a = in.current_a * best / (best + (n - 1) * worst);
    out.r_way_ohm = (wire_ohm + in.joint_ohm) / n;
    out.density_a_per_m2 = out.most_a / in.area_m2;
    out.verdict = atMost(out.rise_k, fits_rise_k)    ? Verdict::Fits
                  : atMost(out.rise_k, tight_rise_k) ? Verdict::Tight
                                                     : Verdict::Breaks;
    if (!atMost(out.density_a_per_m2, usual_density_a_per_m2))
        out.verdict = worse(out.verdict, Verdict::Tight);
    return out;
}

std::optional<std::int64_t> conductorsFor(MergeInput in)
{
    constexpr std::int64_t most = 20;
    for (in.conductors = 1; in.conductors <= most; ++in.conductors)
        if (mergeWires(in).verdict == Verdict::Fits)
            return in.conductors;
    return std::nullopt;
}

} // namespace offshoot
