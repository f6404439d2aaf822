#include "core/calculate/ballast.h"

#include "core/calculate/cable.h"
#include "core/calculate/parallel.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

BallastResult sourcesBallast(const BallastInput& in)
{
    const auto n = static_cast<double>(in.units);
    const double mean_a = in.current_a / n;
    const double per_ohm = (n - 1) / (n * mean_a); // imbalance = per_ohm·spread/R
    BallastResult out{};
    if (in.ballast_ohm)
        out.ballast_ohm = *in.ballast_ohm;
    else
        out.ballast_ohm = std::max(0.0, *in.spread_v * per_ohm / *in.imbalance - in.r_unit_ohm);
    out.r_total_ohm = in.r_unit_ohm + out.ballast_ohm;
    out.spread_v = in.spread_v ? *in.spread_v : out.r_total_ohm * *in.imbalance / per_ohm;
    if (out.spread_v > 0)
        out.imbalance =
            out.r_total_ohm > 0 ? std::min(n - 1, per_ohm * out.spread_v / out.r_total_ohm) : n - 1;
    out.one_carries = atLeast(out.imbalance, n - 1);
    out.highest_a = mean_a * (1 + out.imbalance);
    out.loss_each_w = mean_a * mean_a * out.ballast_ohm;
    out.loss_highest_w = out.highest_a * out.highest_a * out.ballast_ohm;
    out.loss_total_w = n * out.loss_each_w;
    out.drop_v = mean_a * out.ballast_ohm;
    out.droop_v = mean_a * out.r_total_ohm;
    return out;
}

namespace {

BallastResult withBallast(BallastInput in, double ohm)
{
    in.imbalance.reset();
    in.ballast_ohm = ohm;
    return sourcesBallast(in);
}

} // namespace

std::vector<BallastOption> ballastLeads(const BallastInput& in)
{
    const double needed_ohm = sourcesBallast(in).ballast_ohm;
    std::vector<BallastOption> options;
    if (needed_ohm < Range::smallest)
        return options;
    // Three digits, rounded up: nobody cuts a lead closer.
    const double unit = std::pow(10, std::floor(std::log10(needed_ohm)) - 2);
    const double ohm = std::ceil(needed_ohm / unit) * unit;
    const BallastResult result = withBallast(in, ohm);
    constexpr std::size_t most = 3;
    constexpr double room_k = 293.15;
    for (const NamedSize& size : wireSizes(WireSizes::Mm2)) {
        const double use = result.highest_a / (usual_density_a_per_m2 * size.area_m2);
        if (!atMost(use, 1) || options.size() == most)
            continue;
        options.push_back({Network(ohm), std::nullopt,
                           ExtraLead{ohm / conductorOhm(1, size.area_m2, room_k), size.area_m2}, result,
                           result.loss_highest_w, use, Verdict::Fits});
    }
    return options;
}

std::vector<BallastOption> ballastOptions(const BallastInput& in, const std::vector<StockItem>& stock)
{
    constexpr int most_parts = 4;
    constexpr double most_share = 2;
    const double needed_ohm = sourcesBallast(in).ballast_ohm;
    std::vector<BallastOption> options;
    const auto offer = [&](const StockItem& part, int count, bool in_row) {
        const double n = count;
        const double ohm = in_row ? part.ohm * n : part.ohm / n;
        if (!within(ohm, needed_ohm, most_share * needed_ohm))
            return;
        const Shape shape = count == 1 ? Shape::One : in_row ? Shape::Series : Shape::Parallel;
        const Network network =
            networkOf(shape, std::vector<double>(static_cast<std::size_t>(count), part.ohm));
        BallastOption option{network, part.power_w, std::nullopt,    withBallast(in, ohm),
                             0,       std::nullopt, Verdict::Unknown};
        option.power_each_w = option.result.loss_highest_w / n;
        option.use = useOf(option.power_each_w, part.power_w);
        option.verdict = judgeUse(option.use, resistor_power_bounds);
        options.push_back(std::move(option));
    };
    for (const StockItem& part : stock) {
        const auto there =
            static_cast<int>(std::min<std::int64_t>(part.quantity.value_or(most_parts), most_parts));
        for (int count = 1; count <= there; ++count) {
            offer(part, count, false);
            if (count > 1)
                offer(part, count, true);
        }
    }
    std::ranges::stable_sort(options, [](const BallastOption& a, const BallastOption& b) {
        return std::pair(badness(a.verdict), a.result.loss_total_w) <
               std::pair(badness(b.verdict), b.result.loss_total_w);
    });
    return options;
}

void fields(Fields& f, ExtraLead& value)
{
    f.need("length_m", value.length_m, range::positive);
    f.need("area_m2", value.area_m2, range::positive);
}

void fields(Fields& f, BallastInput& in)
{
    f.need("units", in.units, 2, 1000);
    f.need("current_a", in.current_a, range::positive);
    f.may("r_unit_ohm", in.r_unit_ohm, range::not_negative);
    f.may("spread_v", in.spread_v, range::not_negative);
    f.may("imbalance", in.imbalance, {0, 1, true});
    f.may("ballast_ohm", in.ballast_ohm, range::not_negative);
    const int given =
        int{in.spread_v.has_value()} + int{in.imbalance.has_value()} + int{in.ballast_ohm.has_value()};
    f.demand(given == 2, ErrorCode::Inconsistent, {}, "exactly two of spread_v, imbalance and ballast_ohm");
}

void fields(Fields& f, BallastResult& out)
{
    f.need("ballast_ohm", out.ballast_ohm);
    f.need("r_total_ohm", out.r_total_ohm);
    f.need("spread_v", out.spread_v);
    f.need("imbalance", out.imbalance);
    f.need("one_carries", out.one_carries);
    f.need("highest_a", out.highest_a);
    f.need("loss_each_w", out.loss_each_w);
    f.need("loss_highest_w", out.loss_highest_w);
    f.need("loss_total_w", out.loss_total_w);
    f.need("drop_v", out.drop_v);
    f.need("droop_v", out.droop_v);
}

} // namespace offshoot
