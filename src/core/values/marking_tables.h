// What bands and letters of a marking mean, for reading and writing it: IEC 60062.
#pragma once

#include "core/values/marking.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>
#include <utility>

namespace offshoot {

/// What a colour means in each place; NaN-free: an absent meaning is nullopt. Shares in per mille of a
/// percent would hide typing errors, so the table is in the units of IEC 60062.
struct BandMeaning
{
    Colour colour;
    std::optional<int> digit;
    int exponent; ///< of ten, as a multiplier
    std::optional<double> tolerance_percent;
    std::optional<double> tempco_ppm;
};
inline constexpr std::array<BandMeaning, 13> band_meanings{{
    {Colour::Black, 0, 0, {}, 250},
    {Colour::Brown, 1, 1, 1, 100},
    {Colour::Red, 2, 2, 2, 50},
    {Colour::Orange, 3, 3, 0.05, 15},
    {Colour::Yellow, 4, 4, 0.02, 25},
    {Colour::Green, 5, 5, 0.5, 20},
    {Colour::Blue, 6, 6, 0.25, 10},
    {Colour::Violet, 7, 7, 0.1, 5},
    {Colour::Grey, 8, 8, 0.01, 1},
    {Colour::White, 9, 9, {}, {}},
    {Colour::Gold, {}, -1, 5, {}},
    {Colour::Silver, {}, -2, 10, {}},
    {Colour::Pink, {}, -3, {}, {}},
}};

inline const BandMeaning& meaningOf(Colour colour)
{
    if (colour == Colour::Gray)
        colour = Colour::Grey;
    if (colour == Colour::Purple)
        colour = Colour::Violet;
    return band_meanings.at(static_cast<std::size_t>(colour));
}

/// m·10^exponent, exact to the last bit also for negative exponents.
inline double timesTen(double mantissa, int exponent)
{
    const double power = std::pow(10.0, std::abs(exponent));
    return exponent < 0 ? mantissa / power : mantissa * power;
}

inline constexpr double same_share = 1e-9;
inline bool same(double a, double b)
{
    return std::abs(a - b) <= same_share * std::max(std::abs(a), std::abs(b));
}

/// Multiplier letters of EIA-96 and their powers of ten, those that are written first.
inline constexpr std::array<std::pair<char, int>, 12> eia96_letters{{{'Z', -3},
                                                                     {'Y', -2},
                                                                     {'X', -1},
                                                                     {'A', 0},
                                                                     {'B', 1},
                                                                     {'C', 2},
                                                                     {'D', 3},
                                                                     {'E', 4},
                                                                     {'F', 5},
                                                                     {'R', -2},
                                                                     {'S', -1},
                                                                     {'H', 1}}};

} // namespace offshoot
