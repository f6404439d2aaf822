#include "core/calculate/divider_tolerance.h"

#include "core/values/verdict.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <iterator>
#include <random>
#include <span>

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

    double evenly()
    {
        // Signed, since only that conversion is one instruction.
        return static_cast<double>(static_cast<std::int64_t>(m_engine())) * 0x1p-63;
    }
    double deviation()
    {
        if (m_distribution == Distribution::Uniform)
            return evenly();
        constexpr double sigma = 1.0 / 3;
        double draw = 0;
        do
            draw = sigma * m_normal(m_engine);
        while (std::abs(draw) > 1);
        return draw;
    }
    void deviate(double nominal, double tolerance, std::span<double> drawn)
    {
        for (double& each : drawn)
            each = nominal * (1 + tolerance * deviation());
    }

private:
    SplitMix64 m_engine;
    std::normal_distribution<double> m_normal;
    Distribution m_distribution;
};

/// Samples drawn column by column: a loop over one quantity at a time is several times as fast.
constexpr std::size_t column_size = 1024;
using Column = std::array<double, column_size>;

/// Draws the parts of a network anew for each sample.
class DrawnNetwork
{
public:
    DrawnNetwork(const Network& network, double tolerance)
        : m_network(network)
        , m_tolerance(tolerance)
        , m_drawn(network.parts())
    {}
    void draw(Draws& draws, Column& ohm)
    {
        if (m_drawn.size() == 1) {
            draws.deviate(m_network.parts().front(), m_tolerance, ohm);
            return;
        }
        for (double& each : ohm) {
            for (std::size_t i = 0; i < m_drawn.size(); ++i)
                m_drawn[i] = m_network.parts()[i] * (1 + m_tolerance * draws.deviation());
            each = m_network.ohmWith(m_drawn);
        }
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
    const auto bin_of = [&, low_v = low_v](double v) { return static_cast<int>((v - low_v) * bins_per_v); };
    std::array<std::ptrdiff_t, bin_count> counts{};
    for (const double v : samples)
        ++counts[static_cast<std::size_t>(bin_of(v))];
    const auto at = [&](double share) {
        std::ptrdiff_t rank = std::llround(share * static_cast<double>(samples.size() - 1));
        int bin = 0;
        while (rank >= counts[static_cast<std::size_t>(bin)])
            rank -= counts[static_cast<std::size_t>(bin++)];
        std::vector<double> inside;
        std::ranges::copy_if(samples, std::back_inserter(inside), [&](double v) { return bin_of(v) == bin; });
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
    const double i_ref_mid_a = (reference.iMax() + reference.iMin()) / 2;
    const double i_ref_half_a = (reference.iMax() - reference.iMin()) / 2;
    std::vector<double> samples(static_cast<std::size_t>(in.samples));
    Column v_ref_v;
    Column i_ref_a;
    Column top_ohm;
    Column bottom_ohm;
    Column added_ohm;
    for (std::size_t first = 0; first < samples.size(); first += column_size) {
        draws.deviate(reference.v_ref_v, reference.tolerance, v_ref_v);
        for (double& a : i_ref_a)
            a = i_ref_mid_a + i_ref_half_a * draws.evenly();
        top.draw(draws, top_ohm);
        bottom.draw(draws, bottom_ohm);
        if (in.added) {
            added.draw(draws, added_ohm);
            Column& joined_ohm = joinsTop(in.added->method) ? top_ohm : bottom_ohm;
            for (std::size_t i = 0; i < column_size; ++i)
                joined_ohm[i] = joinedLeg(in.added->method, joined_ohm[i], added_ohm[i]);
        }
        const std::size_t last = std::min(first + column_size, samples.size());
        for (std::size_t i = first; i < last; ++i)
            samples[i] = dividerVoltage(v_ref_v[i - first], i_ref_a[i - first],
                                        {top_ohm[i - first], bottom_ohm[i - first]});
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
