#include "core/values/format.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace offshoot {

std::string plainNumber(double value)
{
    constexpr double readable_min = 1e-4;
    constexpr double readable_max = 1e16;
    const double size = std::abs(value);
    const bool readable = size == 0 || (size >= readable_min && size < readable_max);
    std::array<char, 40> buffer{};
    const auto end = std::to_chars(buffer.data(), buffer.data() + buffer.size(), value,
                                   readable ? std::chars_format::fixed : std::chars_format::scientific)
                         .ptr;
    return {buffer.data(), end};
}

std::string fixed(double value, int decimals)
{
    std::array<char, 400> buffer{};
    const auto end =
        std::to_chars(buffer.data(), buffer.data() + buffer.size(), value, std::chars_format::fixed, decimals)
            .ptr;
    std::string text(buffer.data(), end);
    if (text.find_first_not_of("-0.") == std::string::npos && text.front() == '-')
        text.erase(0, 1);
    return text;
}

namespace {

std::string withoutTrailingZeros(std::string text)
{
    if (text.find('.') == std::string::npos)
        return text;
    text.erase(text.find_last_not_of('0') + 1);
    if (text.back() == '.')
        text.pop_back();
    return text;
}

/// The power of ten of the first digit after rounding to `digits`.
int roundedExponent(double magnitude, int digits)
{
    if (magnitude == 0)
        return 0;
    std::array<char, 60> buffer{};
    const auto end = std::to_chars(buffer.data(), buffer.data() + buffer.size(), magnitude,
                                   std::chars_format::scientific, digits - 1)
                         .ptr;
    const std::string text(buffer.data(), end);
    int exponent = 0;
    const char* from = text.c_str() + text.find('e') + 1;
    if (*from == '+')
        ++from;
    std::from_chars(from, text.c_str() + text.size(), exponent);
    return exponent;
}

struct Prefix
{
    int exponent;
    std::string_view sign;
};
constexpr std::array<Prefix, 9> prefixes{
    {{-12, "p"}, {-9, "n"}, {-6, "µ"}, {-3, "m"}, {0, ""}, {3, "k"}, {6, "M"}, {9, "G"}, {12, "T"}}};

Prefix prefixFor(double magnitude, int digits)
{
    const int exponent = roundedExponent(magnitude, digits);
    const int wanted = std::clamp(3 * static_cast<int>(std::floor(exponent / 3.0)), -12, 12);
    return prefixes.at(static_cast<std::size_t>((wanted + 12) / 3));
}

std::string_view unitOf(Quantity quantity)
{
    static constexpr std::array<std::string_view, 16> units{"Ω", "F",  "H",   "V",  "A", "W",   "Hz", "s",
                                                            "m", "m²", "mm²", "°C", "J", "A²s", "K",  ""};
    return units.at(static_cast<std::size_t>(quantity));
}

} // namespace

std::string significant(double value, int digits)
{
    const int decimals = std::max(0, digits - 1 - roundedExponent(std::abs(value), digits));
    return withoutTrailingZeros(fixed(value, decimals));
}

std::string formatValue(double value, Quantity quantity, int digits)
{
    if (quantity == Quantity::Temperature)
        return significant(value - 273.15, digits) + " °C";
    if (quantity == Quantity::WireSize || quantity == Quantity::Area)
        return significant(value * 1e6, digits) + " mm²";
    if (quantity == Quantity::Number)
        return significant(value, digits);
    if (quantity == Quantity::SquaredCurrentTime || quantity == Quantity::TemperatureDifference)
        return significant(value, digits) + ' ' + std::string(unitOf(quantity));
    const Prefix prefix = value == 0 ? Prefix{0, ""} : prefixFor(std::abs(value), digits);
    std::string text = significant(value / std::pow(10.0, prefix.exponent), digits);
    text += ' ';
    text += prefix.sign;
    text += unitOf(quantity);
    return text;
}

std::string formatVolts(double volts)
{
    const double size = std::abs(volts);
    if (size < 0.9995)
        return formatValue(volts, Quantity::Voltage, 3);
    const int decimals = size < 99.95 ? 2 : 0;
    return fixed(volts, decimals) + " V";
}

std::string formatOhms(double ohm)
{
    constexpr int digits = 4;
    if (ohm == 0)
        return "0R";
    Prefix prefix = prefixFor(ohm, digits);
    if (prefix.exponent < 0 && ohm >= 0.01)
        prefix = {0, ""};
    std::string text = significant(ohm / std::pow(10.0, prefix.exponent), digits);
    const std::string letter = prefix.sign.empty() ? "R" : std::string(prefix.sign);
    if (prefix.exponent < 0)
        return text + letter + "R";
    const auto point = text.find('.');
    if (point == std::string::npos)
        return text + letter;
    text.replace(point, 1, letter);
    return text;
}

std::string formatPercent(double fraction, int digits) { return significant(fraction * 100, digits) + " %"; }

std::string formatDuration(double seconds)
{
    if (seconds < 1)
        return formatValue(seconds, Quantity::Time, 2);
    const auto whole = static_cast<long long>(std::ceil(seconds));
    if (whole < 60)
        return std::to_string(whole) + " s";
    if (whole < 3600)
        return std::to_string(whole / 60) + " min" +
               (whole % 60 != 0 ? " " + std::to_string(whole % 60) + " s" : "");
    return std::to_string(whole / 3600) + " h" +
           (whole % 3600 / 60 != 0 ? " " + std::to_string(whole % 3600 / 60) + " min" : "");
}

std::string listed(const std::vector<std::string>& names)
{
    std::string text;
    for (std::size_t i = 0; i < names.size(); ++i)
        text += (i == 0 ? "" : i + 1 == names.size() ? " and " : ", ") + names[i];
    return text;
}

} // namespace offshoot
