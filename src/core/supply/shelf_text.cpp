#include "core/supply/shelf_text.h"

namespace offshoot {

namespace {

std::optional<double> valueIn(std::string text, Quantity quantity)
{
    const auto parsed = parseValue(text, quantity);
    return parsed ? std::optional(parsed->value) : std::nullopt;
}

} // namespace

std::optional<std::pair<double, double>> rangeIn(const std::string& text, Quantity quantity)
{
    for (const std::string_view dash : {"-", "–", "..", "…"}) {
        const auto at = text.find(dash, 1);
        if (at == std::string::npos)
            continue;
        const auto low = valueIn(text.substr(0, at), quantity);
        const auto high = valueIn(text.substr(at + dash.size()), quantity);
        if (low && high && *low >= 0 && *low <= *high)
            return std::pair(*low, *high);
    }
    return std::nullopt;
}

std::optional<BoxSize> sizeIn(std::string text)
{
    double unit_m = 1e-3;
    for (const auto& [name, scale] : {std::pair{"mm", 1e-3}, std::pair{"cm", 1e-2}})
        if (text.ends_with(name)) {
            unit_m = scale;
            text.resize(text.size() - 2);
        }
    constexpr std::string_view times = "×";
    for (std::size_t at = text.find(times); at != std::string::npos; at = text.find(times))
        text.replace(at, times.size(), "x");
    const auto first = text.find('x');
    const auto second = first == std::string::npos ? first : text.find('x', first + 1);
    if (second == std::string::npos)
        return std::nullopt;
    const auto x = valueIn(text.substr(0, first), Quantity::Number);
    const auto y = valueIn(text.substr(first + 1, second - first - 1), Quantity::Number);
    const auto z = valueIn(text.substr(second + 1), Quantity::Number);
    if (!x || !y || !z || *x <= 0 || *y <= 0 || *z <= 0)
        return std::nullopt;
    return BoxSize{*x * unit_m, *y * unit_m, *z * unit_m};
}

} // namespace offshoot
