// Values drawn by a seed, each by its name: one more that is drawn leaves the others as they are, and the
// same seed draws the same on every machine.
#pragma once

#include <cstdint>
#include <string_view>

namespace offshoot {

class Draw
{
public:
    explicit Draw(std::uint64_t seed)
        : m_seed(seed)
    {}
    /// From 0 to below 1.
    double share(std::string_view name) const
    {
        constexpr std::uint64_t fnv_basis = 14695981039346656037U; // FNV-1a
        constexpr std::uint64_t fnv_prime = 1099511628211U;
        std::uint64_t hash = fnv_basis;
        for (const char c : name)
            hash = (hash ^ static_cast<unsigned char>(c)) * fnv_prime;
        std::uint64_t z = m_seed * 0x9E3779B97F4A7C15U + hash; // SplitMix64 (Steele, Lea, Flood 2014)
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9U;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EBU;
        z ^= z >> 31;
        return static_cast<double>(z >> 11) / steps;
    }
    double between(std::string_view name, double from, double to) const
    {
        return from + (to - from) * share(name);
    }
    /// `value` with up to `tolerance`, a share, either way.
    double around(std::string_view name, double value, double tolerance) const
    {
        return value * (1 + between(name, -tolerance, tolerance));
    }

    /// Another that draws by this one's seed and a name.
    Draw within(std::string_view name) const { return Draw(static_cast<std::uint64_t>(share(name) * steps)); }

private:
    static constexpr double steps = 9007199254740992.0; ///< 2^53
    std::uint64_t m_seed;
};

} // namespace offshoot
