#include "core/supply/shelf_unit.h"

#include <algorithm>
#include <limits>

namespace offshoot {

void fields(Fields& f, NewTerminal& value)
{
    f.need("name", value.name);
    f.need("function", value.function);
    f.may("rated_a", value.rated_a, range::positive);
    f.may("max_wires", value.max_wires, 1, std::numeric_limits<std::int32_t>::max());
    f.may("area_min_m2", value.area_min_m2, range::positive);
    f.may("area_max_m2", value.area_max_m2, range::positive);
    f.may("reach_m", value.reach_m, range::not_negative);
    f.may("must", value.must);
    f.demand(!value.area_min_m2 || !value.area_max_m2 || *value.area_min_m2 <= *value.area_max_m2,
             ErrorCode::Inconsistent, "area_min_m2", "the thinnest wire lies above the thickest");
}

void fields(Fields& f, InputRange& value)
{
    f.need("min_v", value.min_v, range::not_negative);
    f.need("max_v", value.max_v, range::not_negative);
    f.may("selector", value.selector);
    f.demand(value.min_v <= value.max_v, ErrorCode::Inconsistent, "max_v", "the range ends before it begins");
}

void fields(Fields& f, UnitInput& value)
{
    constexpr std::size_t most_ranges = 8;
    f.need("kind", value.kind);
    f.need("ranges", value.ranges, Lengths{1, most_ranges});
    f.may("f_min_hz", value.f_min_hz, range::positive);
    f.may("f_max_hz", value.f_max_hz, range::positive);
    f.demand(!value.f_min_hz || !value.f_max_hz || *value.f_min_hz <= *value.f_max_hz,
             ErrorCode::Inconsistent, "f_max_hz", "the range ends before it begins");
}

void fields(Fields& f, UnitOutput& value)
{
    f.need("name", value.name);
    f.need("v", value.v, range::positive);
    f.may("regulation", value.regulation, range::fraction);
    f.may("trim_min_v", value.trim_min_v, range::positive);
    f.may("trim_max_v", value.trim_max_v, range::positive);
    f.need("rated_a", value.rated_a, range::positive);
    f.may("peak_a", value.peak_a, range::positive);
    f.may("least_a", value.least_a, range::not_negative);
    f.may("ripple_v", value.ripple_v, range::not_negative);
    f.may("polarity", value.polarity);
    f.may("isolated", value.isolated);
    f.may("bonded", value.bonded);
    f.demand(value.trim_min_v.has_value() == value.trim_max_v.has_value(), ErrorCode::Inconsistent,
             value.trim_min_v ? "trim_min_v" : "trim_max_v", "a trim range has two ends");
    f.demand(!value.trim_min_v || !value.trim_max_v ||
                 (*value.trim_min_v <= value.v && value.v <= *value.trim_max_v),
             ErrorCode::Inconsistent, "trim_min_v", "the output's own voltage lies outside its trim range");
    f.demand(value.peak_a.value_or(value.rated_a) >= value.rated_a, ErrorCode::Inconsistent, "peak_a",
             "the peak lies below the rating");
}

void fields(Fields& f, DeratingPoint& value)
{
    f.need("k", value.k, range::positive);
    f.need("share", value.share, Range{0, 1});
}

void fields(Fields& f, ShelfUnit& value)
{
    constexpr std::size_t most_outputs = 8;
    constexpr std::int64_t most_of_one = 1000000;
    f.need("name", value.name);
    f.may("quantity", value.quantity, 1, most_of_one);
    f.need("input", value.input);
    f.need("outputs", value.outputs, Lengths{1, most_outputs});
    f.may("total_w", value.total_w, range::positive);
    f.may("derating", value.derating);
    f.may("class", value.protection_class, 1, 2);
    f.may("size", value.size);
    f.may("enable", value.enable);
    f.may("efficiency", value.efficiency, Range{0, 1, true});
    f.demandUniqueNames("outputs", value.outputs);
    for (std::size_t i = 1; i < value.derating.size(); ++i)
        f.demand(value.derating[i].k > value.derating[i - 1].k &&
                     value.derating[i].share <= value.derating[i - 1].share,
                 ErrorCode::Inconsistent, "derating", "temperatures rise and shares do not");
}

double deratedShare(const std::vector<DeratingPoint>& derating, double ambient_k)
{
    if (derating.empty() || ambient_k < derating.front().k)
        return 1;
    const auto above =
        std::ranges::find_if(derating, [&](const DeratingPoint& point) { return point.k > ambient_k; });
    const DeratingPoint& low = *(above - 1);
    if (above == derating.end())
        return low.share;
    return low.share + (above->share - low.share) * (ambient_k - low.k) / (above->k - low.k);
}

} // namespace offshoot
