// Which combinations of drawer parts bring a quantity nearest to zero error? For a divider's added network
// and for a current limit's shunt alike.
//
// True optima: for every number of parts the best of all combinations the stock allows. The error is monotone
// in the ohms of the whole, so for each choice of the other parts the last part is found by bisection in the
// sorted drawer and the neighbourhood is walked outwards only as far as it can still enter the list. E96 from
// 1 Ω to 1 MΩ with two parts and six methods takes a few milliseconds.
#pragma once

#include "core/values/network.h"
#include "core/values/stock.h"
#include "core/values/verdict.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>
#include <set>
#include <vector>

namespace offshoot {

enum class Shape { One, Series, Parallel, ParallelThenSeries, SeriesThenParallel };
template <>
struct Words<Shape>
{
    static constexpr std::array<std::string_view, 5> list{"one", "series", "parallel", "parallel_then_series",
                                                          "series_then_parallel"};
};

/// A leg or an added network, as a whole, from its parts' lower ends to their upper ends.
struct OhmRange
{
    double min_ohm;
    double max_ohm;
    static OhmRange of(const Network& network, double tolerance);
    bool operator==(const OhmRange&) const = default;
};

/// Ohms of the network with every part at one end of its own tolerance; `parts` as the network counts them.
OhmRange rangeOf(const Network& network, const std::vector<StockItem>& parts);

/// The drawer as the search wants it: sorted by ohms, then lower tolerance, then higher power; items equal in
/// these become one (quantities add, any number wins), items of which there are none are gone.
std::vector<StockItem> sortedStock(std::vector<StockItem> stock);

/// The ohms joined as the shape says.
Network networkOf(Shape shape, const std::vector<double>& ohms);

/// The network and parts of one winner of a search.
struct PartChoice
{
    Shape shape;
    Network network;
    std::vector<StockItem> parts; ///< in the order of the network
};

/// Power in the hottest part, and its use of what the part bears, with `volts` across the network.
struct PartsPower
{
    double w_max = 0;
    std::optional<double> use = {}; ///< nothing where a rating is unknown
    Verdict verdict = Verdict::Unknown;
};
/// P = V²/R of each part with `volts` across the whole, watts; the worst against its rating, unknown where
/// one has none, unless another breaks.
PartsPower partsPower(const Network& network, const std::vector<StockItem>& parts, double volts);

/// The search for one number of parts (1 to 3). `Error` gives the error in volts or amperes for the ohms of
/// the whole and is monotone in them; |error| is compared after rounding to 1e-9.
template <class Error>
class CombinationSearch
{
public:
    /// `stock` comes from sortedStock() and outlives the search.
    CombinationSearch(const std::vector<StockItem>& stock, std::size_t count, std::size_t limit, Error error)
        : m_stock(stock)
        , m_count(count)
        , m_limit(limit)
        , m_error(std::move(error))
    {}

    std::vector<PartChoice> run()
    {
        const std::size_t n = m_stock.size();
        if (n == 0)
            return {};
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
        return choices();
    }

private:
    using PartIndex = std::size_t;

    /// One combination while it competes; what it costs to describe it waits until it has won.
    struct Candidate
    {
        double error_nano; ///< |error| rounded to 1e-9
        Shape shape;
        std::array<PartIndex, 3> parts; ///< into the sorted stock
    };

    struct Order
    {
        const CombinationSearch* search;
        bool operator()(const Candidate& a, const Candidate& b) const { return search->before(a, b); }
    };

    bool before(const Candidate& a, const Candidate& b) const
    {
        if (a.error_nano != b.error_nano)
            return a.error_nano < b.error_nano;
        for (std::size_t i = 0; i < m_count; ++i)
            if (m_stock[a.parts[i]].ohm != m_stock[b.parts[i]].ohm)
                return m_stock[a.parts[i]].ohm < m_stock[b.parts[i]].ohm;
        if (a.shape != b.shape)
            return a.shape < b.shape;
        // In a drawer sorted by partBefore the lower index of equal ohms is the better part.
        return a.parts < b.parts;
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
            return m_error(rest.last_in_series ? rest.ohm + ohm : parallelOhm(rest.ohm, ohm));
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
        if (m_best.size() == m_limit && candidate.error_nano > m_best.rbegin()->error_nano)
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

    std::vector<PartChoice> choices() const
    {
        std::vector<PartChoice> all;
        for (const Candidate& candidate : m_best) {
            std::vector<StockItem> parts;
            std::vector<double> ohms;
            for (std::size_t i = 0; i < m_count; ++i) {
                parts.push_back(m_stock[candidate.parts[i]]);
                ohms.push_back(parts.back().ohm);
            }
            all.push_back({candidate.shape, networkOf(candidate.shape, ohms), std::move(parts)});
        }
        return all;
    }

    const std::vector<StockItem>& m_stock;
    std::size_t m_count;
    std::size_t m_limit;
    Error m_error;
    std::set<Candidate, Order> m_best{Order{this}};
};

} // namespace offshoot
