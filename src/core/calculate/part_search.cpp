#include "core/calculate/part_search.h"

namespace offshoot {

namespace {

/// Order in which parts stand in a drawer: ohms, then lower tolerance, then higher power.
bool betterPart(const StockItem& a, const StockItem& b)
{
    if (a.tolerance != b.tolerance)
        return a.tolerance < b.tolerance;
    return a.power_w.value_or(-1) > b.power_w.value_or(-1);
}

bool partBefore(const StockItem& a, const StockItem& b)
{
    return a.ohm != b.ohm ? a.ohm < b.ohm : betterPart(a, b);
}

bool samePart(const StockItem& a, const StockItem& b)
{
    return a.ohm == b.ohm && a.tolerance == b.tolerance && a.power_w == b.power_w;
}

} // namespace

std::vector<StockItem> sortedStock(std::vector<StockItem> stock)
{
    std::stable_sort(stock.begin(), stock.end(), partBefore);
    std::vector<StockItem> merged;
    for (const StockItem& item : stock) {
        if (merged.empty() || !samePart(merged.back(), item)) {
            merged.push_back(item);
            continue;
        }
        auto& quantity = merged.back().quantity;
        quantity = quantity && item.quantity ? std::optional(*quantity + *item.quantity) : std::nullopt;
    }
    std::erase_if(merged, [](const StockItem& item) { return item.quantity == 0; });
    return merged;
}

Network networkOf(Shape shape, const std::vector<double>& ohms)
{
    using Kind = Network::Kind;
    const auto leaf = [](std::size_t i) { return Network::Node{Kind::Part, i, {}}; };
    const auto group = [](Kind kind, std::vector<Network::Node> children) {
        return Network::Node{kind, 0, std::move(children)};
    };
    std::vector<Network::Node> leaves;
    for (std::size_t i = 0; i < ohms.size(); ++i)
        leaves.push_back(leaf(i));
    switch (shape) {
    case Shape::One:
        return {leaf(0), ohms};
    case Shape::Series:
        return {group(Kind::Series, leaves), ohms};
    case Shape::Parallel:
        return {group(Kind::Parallel, leaves), ohms};
    case Shape::ParallelThenSeries:
        return {group(Kind::Series, {group(Kind::Parallel, {leaf(0), leaf(1)}), leaf(2)}), ohms};
    case Shape::SeriesThenParallel:
        return {group(Kind::Parallel, {group(Kind::Series, {leaf(0), leaf(1)}), leaf(2)}), ohms};
    }
    return Network(0);
}

OhmRange OhmRange::of(const Network& network, double tolerance)
{
    return {network.ohmScaled(-tolerance), network.ohmScaled(tolerance)};
}

OhmRange rangeOf(const Network& network, const std::vector<StockItem>& parts)
{
    std::vector<double> low = network.parts();
    std::vector<double> high = network.parts();
    for (std::size_t i = 0; i < parts.size(); ++i) {
        low[i] *= 1 - parts[i].tolerance;
        high[i] *= 1 + parts[i].tolerance;
    }
    return {network.ohmWith(low), network.ohmWith(high)};
}

PartsPower partsPower(const Network& network, const std::vector<StockItem>& parts, double volts)
{
    PartsPower power{};
    bool breaks = false;
    bool all_known = true;
    double use = 0;
    const auto powers = network.powers(volts);
    for (std::size_t i = 0; i < powers.size(); ++i) {
        power.w_max = std::max(power.w_max, powers[i]);
        const auto part_use = useOf(powers[i], parts[i].power_w);
        all_known = all_known && part_use;
        use = std::max(use, part_use.value_or(0));
        breaks = breaks || judgeUse(part_use, resistor_power_bounds) == Verdict::Breaks;
    }
    if (all_known)
        power.use = use;
    power.verdict = breaks ? Verdict::Breaks : judgeUse(power.use, resistor_power_bounds);
    return power;
}

} // namespace offshoot
