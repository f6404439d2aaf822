#include "core/values/stock.h"

namespace offshoot {

std::vector<StockItem> stockOf(const StockSeries& series)
{
    std::vector<StockItem> stock;
    for (double ohm : valuesWithin(series.name, series.from_ohm, series.to_ohm))
        stock.push_back({.ohm = ohm, .tolerance = series.tolerance, .power_w = series.power_w});
    return stock;
}

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

} // namespace offshoot
