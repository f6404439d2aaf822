#include "core/change/divider_tolerance.h"

#include "core/judge/verdict.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <iterator>
#include <random>

namespace offshoot {

namespace {

/// The SplitMix64 generator: a million samples take four million draws, and the standard
/// library's engines take most of the time for them.
class SplitMix64
{
public:
    using result_type = std::uint64_t;
    explicit SplitMix64(std::uint64_t seed)
        : m_state(seed)
    {}
    static constexpr result_type min() { return 0; }
    static constexpr result_type max() { return ~std::uint64_t{0}; }
    result_type operator()()
    {
        m_state += 0x9e3779b97f4a7c15;
        std::uint64_t z = m_state;
        z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9;
        z = (z ^ (z >> 27)) * 0x94d049bb133111eb;
        return z ^ (z >> 31);
    }

private:
    std::uint64_t m_state;
};

/// Draws relative deviations within ±1; one generator for all, so that a seed fixes everything.
class Draws
{
public:
    Draws(std::int64_t seed, Distribution distribution)
        : m_engine(static_cast<std::uint64_t>(seed))
        , m_distribution(distribution)
    {}

    double uniform() // 0 to 1
    {
        // Signed, since only that conversion is one instruction; 53 bits fit either way.
        return static_cast<double>(static_cast<std::int64_t>(m_engine() >> 11)) * 0x1p-53;
    }
    double deviation()
    {
        if (m_distribution == Distribution::Uniform)
            return 2 * uniform() - 1;
        constexpr double sigma = 1.0 / 3;
        double draw = 0;
        do
            draw = sigma * m_normal(m_engine);
        while (std::abs(draw) > 1);
        return draw;
    }

private:
    SplitMix64 m_engine;
    std::normal_distribution<double> m_normal;
    Distribution m_distribution;
};

/// A network whose parts are drawn anew each time.
class DrawnNetwork
{
public:
    DrawnNetwork(const Network& network, double tolerance)
        : m_network(network)
        , m_tolerance(tolerance)
        , m_drawn(network.parts())
    {}
    double draw(Draws& draws)
    {
        if (m_drawn.size() == 1)
            return m_network.parts().front() * (1 + m_tolerance * draws.deviation());
        for (std::size_t i = 0; i < m_drawn.size(); ++i)
            m_drawn[i] = m_network.parts()[i] * (1 + m_tolerance * draws.deviation());
        return m_network.ohmWith(m_drawn);
    }

private:
    const Network& m_network;
    double m_tolerance;
    std::vector<double> m_drawn;
};

/// The values below which 0.1, 50 and 99.9 % of the samples lie. The samples are counted into bins over their
/// range, so that only the bin that holds a value has to be put in order.
void findPercentiles(const std::vector<double>& samples, DividerToleranceResult& result)
{
    constexpr int bin_count = 4096;
    const auto [low_v, high_v] = std::ranges::minmax(samples);
    const double bins_per_v = high_v > low_v ? (bin_count - 1) / (high_v - low_v) : 0;
    const auto binOf = [&, low_v = low_v](double v) { return static_cast<int>((v - low_v) * bins_per_v); };
    std::array<std::ptrdiff_t, bin_count> counts{};
    for (const double v : samples)
        ++counts[static_cast<std::size_t>(binOf(v))];
    const auto at = [&](double share) {
        std::ptrdiff_t rank = std::llround(share * static_cast<double>(samples.size() - 1));
        int bin = 0;
        while (rank >= counts[static_cast<std::size_t>(bin)])
            rank -= counts[static_cast<std::size_t>(bin++)];
        std::vector<double> inside;
        std::ranges::copy_if(samples, std::back_inserter(inside), [&](double v) { return binOf(v) == bin; });
        std::ranges::nth_element(inside, inside.begin() + rank);
        return inside[static_cast<std::size_t>(rank)];
    };
    result.p0_1_v = at(0.001);
    result.p50_v = at(0.5);
    result.p99_9_v = at(0.999);
}

std::vector<double> drawSamples(const DividerToleranceInput& in)
{
    Draws draws(in.seed, in.distribution);
    const Reference& reference = in.divider.reference;
    DrawnNetwork top(in.divider.top, in.divider.found_tolerance);
    DrawnNetwork bottom(in.divider.bottom, in.divider.found_tolerance);
    const Network nothing(0);
    DrawnNetwork added(in.added ? in.added->network : nothing, in.added ? in.added->tolerance : 0);
    const double i_ref_span_a = reference.iMax() - reference.iMin();
    std::vector<double> samples(static_cast<std::size_t>(in.samples));
    for (double& v : samples) {
        const double v_ref_v = reference.v_ref_v * (1 + reference.tolerance * draws.deviation());
        const double i_ref_a = reference.iMin() + (i_ref_span_a > 0 ? i_ref_span_a * draws.uniform() : 0);
        Legs legs{top.draw(draws), bottom.draw(draws)};
        if (in.added)
            legs = withAdded(in.added->method, legs, added.draw(draws));
        v = dividerVoltage(v_ref_v, i_ref_a, legs);
    }
    return samples;
}

} // namespace

DividerToleranceResult dividerTolerance(const DividerToleranceInput& in)
{
    DividerToleranceResult result{};
    std::optional<AddedRange> added;
    Legs legs = in.divider.nominal();
    if (in.added) {
        added = AddedRange{in.added->method, OhmRange::of(in.added->network, in.added->tolerance)};
        legs = withAdded(in.added->method, legs, in.added->network.ohm());
    }
    result.nominal_v = dividerVoltage(in.divider.reference.v_ref_v, in.divider.reference.i_ref_a, legs);
    const auto corners = plainRange(in.divider, added);
    result.worst_min_v = corners->min_v;
    result.worst_max_v = corners->max_v;

    const std::vector<double> samples = drawSamples(in);
    const auto count = static_cast<double>(samples.size());
    double sum = 0;
    double squares = 0;
    double inside = 0;
    const double low_v = in.target.min_v - limit_share * std::abs(in.target.min_v);
    const double high_v = in.target.max_v + limit_share * std::abs(in.target.max_v);
    for (double v : samples) {
        const double deviation = v - result.nominal_v;
        sum += deviation;
        squares += deviation * deviation;
        inside += v >= low_v && v <= high_v ? 1 : 0;
    }
    const double mean = sum / count;
    result.mean_v = result.nominal_v + mean;
    result.sd_v = std::sqrt(std::max(0.0, squares / count - mean * mean));
    result.share_in_window = inside / count;
    findPercentiles(samples, result);
    return result;
}

void fields(Fields& f, DividerToleranceInput& in)
{
    dividerFields(f, in.divider, true);
    f.may("added", in.added);
    f.demand(!in.added || in.added->network.ohm() > 0, ErrorCode::OutOfRange, "added",
             "an added short has no tolerance to study");
    f.need("target", in.target);
    f.may("samples", in.samples, 100, 1'000'000);
    f.may("seed", in.seed, 0, 4294967295);
    f.may("distribution", in.distribution);
}

void fields(Fields& f, DividerToleranceResult& out)
{
    f.need("nominal_v", out.nominal_v);
    f.need("mean_v", out.mean_v);
    f.need("sd_v", out.sd_v);
    f.need("p0_1_v", out.p0_1_v);
    f.need("p50_v", out.p50_v);
    f.need("p99_9_v", out.p99_9_v);
    f.need("share_in_window", out.share_in_window);
    f.need("worst_min_v", out.worst_min_v);
    f.need("worst_max_v", out.worst_max_v);
}

} // namespace offshoot
