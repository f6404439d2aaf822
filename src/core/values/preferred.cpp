#include "core/values/preferred.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

/// E24 and below keep their historical rounding.
constexpr std::array<int, 24> e24{100, 110, 120, 130, 150, 160, 180, 200, 220, 240, 270, 300,
                                  330, 360, 390, 430, 470, 510, 560, 620, 680, 750, 820, 910};

std::vector<int> makeDecade(Series series)
{
    static constexpr std::array<int, 7> counts{3, 6, 12, 24, 48, 96, 192};
    const int count = counts.at(static_cast<std::size_t>(series));
    std::vector<int> numbers;
    for (int i = 0; i < count; ++i) {
        if (series <= Series::E24)
            numbers.push_back(e24.at(static_cast<std::size_t>(i * 24 / count)));
        else
            numbers.push_back(
                static_cast<int>(std::lround(100 * std::pow(10.0, static_cast<double>(i) / count))));
    }
    // The standard gives 9.20 where the formula gives 9.19.
    if (series == Series::E192)
        std::replace(numbers.begin(), numbers.end(), 919, 920);
    return numbers;
}

constexpr double exactness = 1e-9;

} // namespace

const std::vector<int>& decade(Series series)
{
    static const std::array<std::vector<int>, 7> decades{
        makeDecade(Series::E3),  makeDecade(Series::E6),  makeDecade(Series::E12), makeDecade(Series::E24),
        makeDecade(Series::E48), makeDecade(Series::E96), makeDecade(Series::E192)};
    return decades.at(static_cast<std::size_t>(series));
}

std::vector<double> valuesWithin(Series series, double from_ohm, double to_ohm)
{
    std::vector<double> values;
    // Mantissas are of three digits; one decade more on either side, for what is at an end of one but for
    // rounding.
    const int first = static_cast<int>(std::floor(std::log10(from_ohm))) - 3;
    const int last = static_cast<int>(std::floor(std::log10(to_ohm))) - 1;
    for (int exponent = first; exponent <= last; ++exponent) {
        const double power = std::pow(10.0, std::abs(exponent));
        for (const int mantissa : decade(series)) {
            // The nearest double, also for negative exponents.
            const double value = exponent < 0 ? mantissa / power : mantissa * power;
            if (value >= from_ohm * (1 - exactness) && value <= to_ohm * (1 + exactness))
                values.push_back(value);
        }
    }
    return values;
}

std::optional<Series> smallestSeriesWith(double value)
{
    if (!(value > 0))
        return std::nullopt;
    const int exponent = static_cast<int>(std::floor(std::log10(value) + exactness)) - 2;
    const double mantissa = value / std::pow(10.0, exponent);
    const auto rounded = static_cast<int>(std::lround(mantissa));
    if (std::abs(mantissa - rounded) > 1e-6 * mantissa)
        return std::nullopt;
    for (std::size_t i = 0; i < Words<Series>::list.size(); ++i) {
        const auto series = static_cast<Series>(i);
        const auto& numbers = decade(series);
        if (std::find(numbers.begin(), numbers.end(), rounded) != numbers.end())
            return series;
    }
    return std::nullopt;
}

} // namespace offshoot
