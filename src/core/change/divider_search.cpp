#include "core/change/divider_search.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace offshoot {

namespace {

using PartIndex = std::size_t;

/// One combination while it competes; what it costs to describe it waits until it has won.
struct Candidate
{
    double error_nv; ///< |error_v| rounded to 1 nV
    Shape shape;
    std::array<PartIndex, 3> parts; ///< into the sorted stock
};

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

/// Items equal in ohms, tolerance and power become one; quantities add, any number wins.
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

/// The search for one method and one number of parts.
class CombinationSearch
{
public:
    CombinationSearch(const DividerSolveInput& in, const Legs& legs, const std::vector<StockItem>& stock,
                      DividerMethod method, std::size_t count)
        : m_stock(stock)
        , m_legs(legs)
        , m_method(method)
        , m_count(count)
        , m_limit(static_cast<std::size_t>(in.limit))
        , m_v_ref_v(in.divider.reference.v_ref_v)
        , m_i_ref_a(in.divider.reference.i_ref_a)
        , m_target_v(in.target.v)
    {}

    std::vector<Candidate> run()
    {
        const std::size_t n = m_stock.size();
        if (m_count == 1) {
            search(Shape::One, {}, 0);
        } else if (m_count == 2) {
            for (PartIndex a = 0; a < n; ++a)
                for (Shape shape : {Shape::Series, Shape::Parallel})
                    search(shape, {a}, a);
        } else {
            for (PartIndex a = 0; a < n; ++a)
                for (PartIndex b = a; b < n; ++b) {
                    for (Shape shape : {Shape::Series, Shape::Parallel})
                        search(shape, {a, b}, b);
                    for (Shape shape : {Shape::ParallelThenSeries, Shape::SeriesThenParallel})
                        search(shape, {a, b}, 0);
                }
        }
        return {m_best.begin(), m_best.end()};
    }

private:
    struct Order
    {
        const CombinationSearch* search;
        bool operator()(const Candidate& a, const Candidate& b) const { return search->before(a, b); }
    };

    bool before(const Candidate& a, const Candidate& b) const
    {
        if (a.error_nv != b.error_nv)
            return a.error_nv < b.error_nv;
        for (std::size_t i = 0; i < m_count; ++i)
            if (m_stock[a.parts[i]].ohm != m_stock[b.parts[i]].ohm)
                return m_stock[a.parts[i]].ohm < m_stock[b.parts[i]].ohm;
        if (a.shape != b.shape)
            return a.shape < b.shape;
        // In a drawer sorted by partBefore the lower index of equal ohms is the better part.
        return a.parts < b.parts;
    }

    double errorFor(double added_ohm) const
    {
        return dividerVoltage(m_v_ref_v, m_i_ref_a, withAdded(m_method, m_legs, added_ohm)) - m_target_v;
    }

    /// The others' ohms, so that the last part only has to be put in series or in parallel with them.
    struct Rest
    {
        double ohm;
        bool last_in_series;
    };
    Rest restOf(Shape shape, std::span<const PartIndex> others) const
    {
        const auto ohm = [&](std::size_t i) { return m_stock[others[i]].ohm; };
        const bool series = shape == Shape::Series || shape == Shape::SeriesThenParallel;
        const double open = std::numeric_limits<double>::infinity();
        if (others.empty())
            return {0, true};
        double rest = series ? 0 : open;
        for (std::size_t i = 0; i < others.size(); ++i)
            rest = series ? rest + ohm(i) : parallelOhm(rest, ohm(i));
        return {rest, shape == Shape::Series || shape == Shape::ParallelThenSeries};
    }

    void search(Shape shape, std::initializer_list<PartIndex> others, PartIndex first)
    {
        const Rest rest = restOf(shape, std::span(others.begin(), others.size()));
        const auto error = [&](PartIndex last) {
            const double ohm = m_stock[last].ohm;
            return errorFor(rest.last_in_series ? rest.ohm + ohm : parallelOhm(rest.ohm, ohm));
        };
        const std::size_t n = m_stock.size();
        const bool rising = error(n - 1) >= error(first);
        // The first part whose error has passed zero.
        PartIndex low = first;
        PartIndex high = n;
        while (low < high) {
            const PartIndex middle = low + (high - low) / 2;
            if ((error(middle) < 0) == rising)
                low = middle + 1;
            else
                high = middle;
        }
        for (PartIndex last = low; last < n && offer(shape, others, last, error(last)); ++last) {
        }
        for (PartIndex last = low; last-- > first && offer(shape, others, last, error(last));) {
        }
    }

    /// False when neither this nor anything further out can enter the list.
    bool offer(Shape shape, std::initializer_list<PartIndex> others, PartIndex last, double error)
    {
        Candidate candidate{std::round(std::abs(error) * 1e9), shape, {}};
        if (m_best.size() == m_limit && candidate.error_nv > m_best.rbegin()->error_nv)
            return false;
        std::copy(others.begin(), others.end(), candidate.parts.begin());
        candidate.parts[others.size()] = last;
        if (!available(candidate))
            return true;
        m_best.insert(candidate);
        if (m_best.size() > m_limit)
            m_best.erase(std::prev(m_best.end()));
        return true;
    }

    bool available(const Candidate& candidate) const
    {
        for (std::size_t i = 0; i < m_count; ++i) {
            const auto& quantity = m_stock[candidate.parts[i]].quantity;
            const auto end = candidate.parts.begin() + static_cast<std::ptrdiff_t>(m_count);
            if (quantity && std::count(candidate.parts.begin(), end, candidate.parts[i]) > *quantity)
                return false;
        }
        return true;
    }

    const std::vector<StockItem>& m_stock;
    Legs m_legs;
    DividerMethod m_method;
    std::size_t m_count;
    std::size_t m_limit;
    double m_v_ref_v;
    double m_i_ref_a;
    double m_target_v;
    std::set<Candidate, Order> m_best{Order{this}};
};

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

/// Ohms of the network with every part at one end of its own tolerance.
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

void judgePower(DividerOption& option, const Legs& legs, double v_ref_v, const std::vector<StockItem>& parts)
{
    const bool top = joinsTop(option.method);
    const double leg_v = top ? option.v - v_ref_v : v_ref_v;
    const bool in_series =
        option.method == DividerMethod::SeriesBottom || option.method == DividerMethod::SeriesTop;
    const double leg_ohm = top ? legs.top_ohm : legs.bottom_ohm;
    const double volts = in_series ? leg_v * option.added_ohm / leg_ohm : leg_v;
    const auto powers = option.network.powers(volts);
    bool breaks = false;
    bool all_known = true;
    double use = 0;
    for (std::size_t i = 0; i < powers.size(); ++i) {
        option.power_w_max = std::max(option.power_w_max, powers[i]);
        const auto part_use = useOf(powers[i], parts[i].power_w);
        all_known = all_known && part_use;
        use = std::max(use, part_use.value_or(0));
        breaks = breaks || judgeUse(part_use, resistor_power_bounds) == Verdict::Breaks;
    }
    if (all_known)
        option.power_use = use;
    option.power_verdict = breaks ? Verdict::Breaks : judgeUse(option.power_use, resistor_power_bounds);
}

std::optional<double> widthRatio(const std::optional<VoltageRange>& plain,
                                 const std::optional<VoltageRange>& given)
{
    if (!plain || !given || given->max_v == given->min_v)
        return std::nullopt;
    return (plain->max_v - plain->min_v) / (given->max_v - given->min_v);
}

/// The legs every nominal figure works on: moved to the best estimate where there is a reading.
Legs workingLegs(const DividerSolveInput& in)
{
    const Legs nominal = in.divider.nominal();
    return in.before ? movedLegs(nominal, legFactor(in.divider, *in.before)) : nominal;
}

int openRank(const FaultResult& open)
{
    switch (open.outcome.value_or(Outcome::Low)) {
    case Outcome::Low:
    case Outcome::InWindow:
        return 0;
    case Outcome::High:
        return 1;
    case Outcome::Runaway:
        return 2;
    }
    return 0;
}

/// The order of the list before ties: what a person looks for first.
bool preferred(const DividerOption& a, const DividerOption& b)
{
    const auto key = [](const DividerOption& o) {
        return std::tuple(!o.in_window, !o.worst_in_window, openRank(o.if_open), o.parts_ohm.size(),
                          std::round(std::abs(o.error_v) * 1e9), o.method, o.parts_ohm, o.shape);
    };
    return key(a) < key(b);
}

} // namespace

std::vector<StockItem> stockOf(const StockSeries& series)
{
    std::vector<StockItem> stock;
    for (double ohm : valuesWithin(series.name, series.from_ohm, series.to_ohm))
        stock.push_back({.ohm = ohm, .tolerance = series.tolerance, .power_w = series.power_w});
    return stock;
}

DividerOption evaluateOption(const DividerSolveInput& in, DividerMethod method, const Network& network,
                             const std::vector<StockItem>& parts)
{
    const Reference& reference = in.divider.reference;
    const Legs legs = workingLegs(in);
    DividerOption option{};
    option.method = method;
    option.network = network;
    option.parts_ohm = network.parts();
    option.added_range = rangeOf(network, parts);
    option.parts = parts;
    option.added_ohm = network.ohm();
    const Legs changed = withAdded(method, legs, option.added_ohm);
    option.v = dividerVoltage(reference.v_ref_v, reference.i_ref_a, changed);
    option.error_v = option.v - in.target.v;
    option.in_window = within(option.v, in.target.min_v, in.target.max_v);
    const AddedRange added{method, option.added_range};
    const auto plain = plainRange(in.divider, added);
    const auto given = in.before ? rangeGivenReading(in.divider, *in.before, added) : plain;
    const VoltageRange worst = given.value_or(VoltageRange{option.v, option.v});
    option.worst_min_v = worst.min_v;
    option.worst_max_v = worst.max_v;
    option.worst_in_window = atLeast(worst.min_v, in.target.min_v) && atMost(worst.max_v, in.target.max_v);
    option.if_open = faultResult(reference, withAddedOpen(method, legs), &in.target);
    option.if_short = faultResult(reference, withAddedShort(method, legs), &in.target);
    option.divider_a = reference.v_ref_v / changed.bottom_ohm;
    option.loop_gain_scale = legs.top_ohm / changed.top_ohm;
    judgePower(option, changed, reference.v_ref_v, parts);
    option.has_before = in.before.has_value();
    if (in.before)
        option.gain = widthRatio(plain, given);
    return option;
}

DividerSolveResult dividerSolve(const DividerSolveInput& in)
{
    DividerSolveResult result{};
    const Reference& reference = in.divider.reference;
    auto found = plainRange(in.divider, std::nullopt);
    if (in.before) {
        checkBefore(in.divider, *in.before);
        found = rangeGivenReading(in.divider, *in.before, std::nullopt);
        if (!found)
            throw DocumentError(ErrorCode::Inconsistent, "/before/v",
                                "this divider cannot give this reading");
    }
    const Legs legs = workingLegs(in);
    result.found_v = dividerVoltage(reference.v_ref_v, reference.i_ref_a, legs);
    result.found_min_v = found->min_v;
    result.found_max_v = found->max_v;
    for (std::size_t i = 0; i < method_count; ++i)
        result.exact.ohm[i] = exactAdded(static_cast<DividerMethod>(i), legs, reference, in.target.v);

    const std::vector<StockItem> stock = sortedStock(in.stock);
    if (stock.empty())
        return result;
    for (DividerMethod method : in.methods)
        for (std::size_t count = 1; count <= static_cast<std::size_t>(in.max_parts); ++count) {
            const auto best = CombinationSearch(in, legs, stock, method, count).run();
            for (const Candidate& candidate : best) {
                std::vector<StockItem> parts;
                std::vector<double> ohms;
                for (std::size_t i = 0; i < count; ++i) {
                    parts.push_back(stock[candidate.parts[i]]);
                    ohms.push_back(parts.back().ohm);
                }
                result.options.push_back(evaluateOption(in, method, networkOf(candidate.shape, ohms), parts));
                result.options.back().shape = candidate.shape;
            }
        }
    // Stable: combinations equal so far keep the better tolerance and power first.
    std::stable_sort(result.options.begin(), result.options.end(), preferred);
    return result;
}

// ---- documents

void fields(Fields& f, StockItem& value)
{
    constexpr std::int64_t plenty = 1'000'000'000'000'000;
    f.need("ohm", value.ohm, range::positive);
    f.need("tolerance", value.tolerance, range::fraction);
    f.may("power_w", value.power_w, range::positive);
    f.may("quantity", value.quantity, 0, plenty);
    f.may("t_rated_k", value.t_rated_k, range::positive);
    f.may("t_max_k", value.t_max_k, range::positive);
    f.demand(value.t_max_k > value.t_rated_k, ErrorCode::Inconsistent, "t_max_k", "must be above t_rated_k");
}

void fields(Fields& f, StockSeries& value)
{
    f.need("name", value.name);
    f.need("from_ohm", value.from_ohm, range::positive);
    f.need("to_ohm", value.to_ohm, range::positive);
    f.need("tolerance", value.tolerance, range::fraction);
    f.may("power_w", value.power_w, range::positive);
    f.demand(value.from_ohm <= value.to_ohm, ErrorCode::Inconsistent, {}, "from_ohm is above to_ohm");
}

void fields(Fields& f, DividerSolveInput& in)
{
    constexpr std::size_t most_items = 1000;
    constexpr std::size_t most_for_three = 250;
    dividerFields(f, in.divider, true);
    f.need("target", in.target);
    f.oneOf({"stock", "series"});
    std::optional<StockSeries> series;
    f.may("stock", in.stock, {0, most_items});
    f.may("series", series);
    if (series)
        in.stock = stockOf(*series);
    f.demand(in.stock.size() <= most_items, ErrorCode::OutOfRange, "series", "more than 1000 values");
    f.may("methods", in.methods, {1, method_count});
    f.demand(std::set(in.methods.begin(), in.methods.end()).size() == in.methods.size(),
             ErrorCode::Inconsistent, "methods", "a method stands here twice");
    f.may("max_parts", in.max_parts, 1, 3);
    f.demand(in.max_parts < 3 || sortedStock(in.stock).size() <= most_for_three, ErrorCode::OutOfRange,
             "max_parts", "three parts need a drawer of at most 250 different items");
    f.may("limit", in.limit, 1, 100);
    f.may("before", in.before);
}

void fields(Fields& f, DividerOption& out)
{
    f.need("method", out.method);
    f.need("shape", out.shape);
    f.need("network", out.network);
    f.need("parts_ohm", out.parts_ohm, range::positive);
    f.need("added_ohm", out.added_ohm);
    f.need("v", out.v);
    f.need("error_v", out.error_v);
    f.need("in_window", out.in_window);
    f.need("worst_min_v", out.worst_min_v);
    f.need("worst_max_v", out.worst_max_v);
    f.need("worst_in_window", out.worst_in_window);
    f.need("if_open", out.if_open);
    f.need("if_short", out.if_short);
    f.need("divider_a", out.divider_a);
    f.need("loop_gain_scale", out.loop_gain_scale);
    f.need("power_w_max", out.power_w_max);
    f.may("power_use", out.power_use);
    f.need("power_verdict", out.power_verdict);
    if (out.has_before)
        f.may("gain", out.gain);
}

void fields(Fields& f, ExactOhms& out)
{
    for (std::size_t i = 0; i < method_count; ++i)
        f.may(Words<DividerMethod>::list[i], out.ohm[i]);
}

void fields(Fields& f, DividerSolveResult& out)
{
    f.need("found_v", out.found_v);
    f.need("found_min_v", out.found_min_v);
    f.need("found_max_v", out.found_max_v);
    f.need("exact", out.exact);
    f.need("options", out.options);
}

} // namespace offshoot
