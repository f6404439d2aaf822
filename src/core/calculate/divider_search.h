// `divider.solve`: which parts from the drawer, joined how, bring the divider to its target?
#pragma once

#include "core/calculate/divider.h"

#include <optional>
#include <vector>

namespace offshoot {

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
    bool operator==(const DividerSolveInput&) const = default;
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
    bool operator==(const DividerOption&) const = default;
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
