#include "core/calculate/cable.h"

#include "core/values/format.h"
#include "core/values/quantity.h"

#include <cmath>

namespace offshoot {

namespace {

constexpr std::array mm2_sizes{0.14, 0.25, 0.34, 0.5,  0.75, 1.0,  1.5,  2.5,  4.0,
                               6.0,  10.0, 16.0, 25.0, 35.0, 50.0, 70.0, 95.0, 120.0};

std::vector<NamedSize> makeMm2Sizes()
{
    std::vector<NamedSize> sizes;
    sizes.reserve(mm2_sizes.size());
    for (const double mm2 : mm2_sizes)
        sizes.push_back({plainNumber(mm2) + "mm2", mm2 * 1e-6});
    return sizes;
}

std::vector<NamedSize> makeAwgSizes()
{
    std::vector<NamedSize> sizes;
    for (int n = 30; n >= 0; --n)
        sizes.push_back({"AWG" + std::to_string(n), awgArea(n)});
    for (int zeros = 2; zeros <= 4; ++zeros)
        sizes.push_back({"AWG" + std::to_string(zeros) + "/0", awgArea(1 - zeros)});
    return sizes;
}

double returnLength(const CableInput& in) { return in.return_length_m.value_or(in.length_m); }

void setDrop(const CableInput& in, CableResult& out)
{
    const double go_m2 = *in.area_m2;
    const double return_m2 = in.return_area_m2.value_or(go_m2);
    out.r_go_ohm = conductorOhm(in.length_m, go_m2, in.temperature_k);
    out.r_return_ohm = conductorOhm(returnLength(in), return_m2, in.temperature_k);
    const double loop_ohm = *out.r_go_ohm + *out.r_return_ohm + in.contact_ohm;
    out.r_loop_ohm = loop_ohm;
    if (in.source_v)
        out.max_power_w = *in.source_v * *in.source_v / (4 * loop_ohm);
    const auto point = operatingPoint(in, loop_ohm);
    out.current_a = point ? std::optional(point->current_a) : in.current_a;
    if (out.current_a) {
        const double thinner_m2 = returnLength(in) > 0 ? std::min(go_m2, return_m2) : go_m2;
        out.density_a_per_m2 = *out.current_a / thinner_m2;
        out.density_verdict =
            atMost(*out.density_a_per_m2, usual_density_a_per_m2) ? Verdict::Fits : Verdict::Tight;
    }
    if (!point) {
        out.drop_verdict = Verdict::Breaks;
        return;
    }
    out.drop_v = point->drop_v;
    out.loss_w = point->drop_v * point->current_a;
    if (in.source_v)
        out.load_v = *in.source_v - point->drop_v;
    if (in.max_drop_v)
        out.drop_verdict = judgeUse(point->drop_v / *in.max_drop_v, default_bounds);
}

std::optional<SmallestSize> smallestSize(const CableInput& in)
{
    for (const NamedSize& size : wireSizes(in.sizes)) {
        const double loop_ohm =
            conductorOhm(in.length_m + returnLength(in), size.area_m2, in.temperature_k) + in.contact_ohm;
        const auto point = operatingPoint(in, loop_ohm);
        if (point && atMost(point->drop_v, *in.max_drop_v))
            return SmallestSize{size.name, size.area_m2, loop_ohm, point->drop_v};
    }
    return std::nullopt;
}

} // namespace

std::span<const NamedSize> wireSizes(WireSizes sizes)
{
    static const std::vector<NamedSize> mm2 = makeMm2Sizes();
    static const std::vector<NamedSize> awg = makeAwgSizes();
    return sizes == WireSizes::Mm2 ? mm2 : awg;
}

std::optional<OperatingPoint> operatingPoint(const CableInput& in, double r_loop_ohm)
{
    double current_a = 0;
    if (in.current_a) {
        current_a = *in.current_a;
    } else if (in.load_ohm) {
        current_a = *in.source_v / (*in.load_ohm + r_loop_ohm);
    } else {
        const double four_p_r = 4 * *in.power_w * r_loop_ohm;
        const double v_squared = *in.source_v * *in.source_v;
        if (!atMost(four_p_r, v_squared))
            return std::nullopt;
        current_a = 2 * *in.power_w / (*in.source_v + std::sqrt(std::max(0.0, v_squared - four_p_r)));
    }
    const double drop_v = current_a * r_loop_ohm;
    if (in.source_v && atLeast(drop_v, *in.source_v))
        return std::nullopt;
    return OperatingPoint{current_a, drop_v};
}

CableResult cableDrop(const CableInput& in)
{
    CableResult out{};
    if (in.area_m2)
        setDrop(in, out);
    if (in.max_drop_v)
        out.smallest = smallestSize(in);
    return out;
}

void fields(Fields& f, CableInput& in)
{
    f.need("length_m", in.length_m, range::positive);
    f.may("return_length_m", in.return_length_m, range::not_negative);
    std::optional<std::int64_t> awg;
    std::optional<std::string> wire;
    f.may("area_m2", in.area_m2, range::positive);
    f.may("awg", awg, -3, 50);
    f.may("wire", wire);
    const int sizes = int{in.area_m2.has_value()} + int{awg.has_value()} + int{wire.has_value()};
    f.demand(sizes <= 1, ErrorCode::Inconsistent, {}, "at most one of area_m2, awg and wire");
    if (awg)
        in.area_m2 = awgArea(static_cast<int>(*awg));
    if (wire) {
        const auto size = parseValue(*wire, Quantity::WireSize);
        if (!size)
            throw DocumentError(size.problem().code, jsonPath(f.path(), "wire"), size.problem().message);
        in.area_m2 = size->value;
    }
    f.may("return_area_m2", in.return_area_m2, range::positive);
    f.may("temperature_k", in.temperature_k, {60, 600});
    f.may("contact_ohm", in.contact_ohm, range::not_negative);
    f.oneOf({"current_a", "power_w", "load_ohm"});
    f.may("current_a", in.current_a, range::not_negative);
    f.may("power_w", in.power_w, range::not_negative);
    f.may("load_ohm", in.load_ohm, range::positive);
    f.may("source_v", in.source_v, range::positive);
    f.demand(in.source_v || in.current_a, ErrorCode::Missing, "source_v",
             "what a power or a resistance draws depends on it");
    f.may("max_drop_v", in.max_drop_v, range::positive);
    f.may("sizes", in.sizes);
    f.demand(in.area_m2 || in.max_drop_v, ErrorCode::Inconsistent, {}, "a size or max_drop_v, at least one");
}

void fields(Fields& f, SmallestSize& out)
{
    f.need("name", out.name);
    f.need("area_m2", out.area_m2);
    f.need("r_loop_ohm", out.r_loop_ohm);
    f.need("drop_v", out.drop_v);
}

void fields(Fields& f, CableResult& out)
{
    f.may("r_go_ohm", out.r_go_ohm);
    f.may("r_return_ohm", out.r_return_ohm);
    f.may("r_loop_ohm", out.r_loop_ohm);
    f.may("current_a", out.current_a);
    f.may("drop_v", out.drop_v);
    f.may("loss_w", out.loss_w);
    f.may("load_v", out.load_v);
    f.may("max_power_w", out.max_power_w);
    f.may("density_a_per_m2", out.density_a_per_m2);
    f.may("density_verdict", out.density_verdict);
    f.may("drop_verdict", out.drop_verdict);
    f.may("smallest", out.smallest);
}

} // namespace offshoot
