// `divider.solve`: which parts from the drawer, joined how, bring the divider to its target?
//
// True optima: for every method and number of parts the best of all combinations the stock allows. V is
// monotone in the added ohms, so for each choice of the other parts the last part is found by bisection in
// the sorted drawer and the neighbourhood is walked outwards only as far as it can still enter the list.
// E96 from 1 Ω to 1 MΩ with two parts and six methods takes a few milliseconds.
#pragma once

#include "core/change/divider.h"
#include "core/judge/verdict.h"
#include "core/values/preferred.h"

#include <optional>
#include <vector>

namespace offshoot {

struct StockItem
{
    double ohm;
    double tolerance;
    std::optional<double> power_w = {};
    std::optional<std::int64_t> quantity = {}; ///< absent: any number
    double t_rated_k = 343.15;
    double t_max_k = 428.15;
    Json unknown = {};
    bool operator==(const StockItem&) const = default;
};
void fields(Fields& f, StockItem& value);

struct StockSeries
{
    Series name;
    double from_ohm;
    double to_ohm;
    double tolerance;
    std::optional<double> power_w = {};
};
void fields(Fields& f, StockSeries& value);
std::vector<StockItem> stockOf(const StockSeries& series);

enum class Shape { One, Series, Parallel, ParallelThenSeries, SeriesThenParallel };
template <>
struct Words<Shape>
{
    static constexpr std::array<std::string_view, 5> list{"one", "series", "parallel", "parallel_then_series",
                                                          "series_then_parallel"};
};

struct DividerSolveInput
{
    FoundDivider divider;
    Target target;
    std::vector<StockItem> stock;
    std::vector<DividerMethod> methods{DividerMethod::ReplaceBottom,  DividerMethod::ReplaceTop,
                                       DividerMethod::ParallelBottom, DividerMethod::ParallelTop,
                                       DividerMethod::SeriesBottom,   DividerMethod::SeriesTop};
    std::int64_t max_parts = 2;
    std::int64_t limit = 5; ///< options kept for each method and number of parts
    std::optional<BeforeReading> before;
};
void fields(Fields& f, DividerSolveInput& in);

struct DividerOption
{
    DividerMethod method;
    Shape shape;
    Network network;
    std::vector<StockItem> parts; ///< in the order of the network
    std::vector<double> parts_ohm;
    OhmRange added_range;
    double added_ohm;
    double v;
    double error_v;
    bool in_window;
    double worst_min_v;
    double worst_max_v;
    bool worst_in_window;
    FaultResult if_open;
    FaultResult if_short;
    double divider_a;
    double loop_gain_scale;
    double power_w_max;
    std::optional<double> power_use;
    Verdict power_verdict;
    bool has_before;
    std::optional<double> gain; ///< only with a before-reading
};
void fields(Fields& f, DividerOption& out);

struct ExactOhms
{
    std::array<std::optional<double>, method_count> ohm;
};
void fields(Fields& f, ExactOhms& out);

struct DividerSolveResult
{
    double found_v;
    double found_min_v;
    double found_max_v;
    ExactOhms exact;
    std::vector<DividerOption> options;
};
void fields(Fields& f, DividerSolveResult& out);

/// Throws DocumentError `inconsistent` at /before/v when the divider cannot give the reading.
DividerSolveResult dividerSolve(const DividerSolveInput& in);

/// Everything about one choice that need not come from the search, such as a network typed by hand.
DividerOption evaluateOption(const DividerSolveInput& in, DividerMethod method, const Network& network,
                             const std::vector<StockItem>& parts);

} // namespace offshoot
