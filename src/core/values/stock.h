// Resistors of a drawer, or of a preferred series.
#pragma once

#include "core/values/fields.h"
#include "core/values/preferred.h"

#include <cstdint>
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

} // namespace offshoot
