#include "core/calculate/delay.h"

#include "core/values/bisect.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

/// Discharged to this share of the threshold it delays again in full.
constexpr double reset_share = 0.1;

/// Nothing where the threshold is never reached.
std::optional<double> timeTo(const DelayInput& in, double r_ohm, double c_f)
{
    const double end_v = in.v_supply_v - r_ohm * in.i_leak_a;
    const double ratio = (end_v - in.v_initial_v) / (end_v - in.v_threshold_v);
    const bool ahead = (end_v - in.v_threshold_v) * (in.v_supply_v - in.v_initial_v) > 0;
    if (!ahead || ratio < 1)
        return std::nullopt;
    return r_ohm * c_f * std::log(ratio);
}

void checkThreshold(const DelayInput& in)
{
    const double way_v = in.v_supply_v - in.v_initial_v;
    const double done_v = in.v_threshold_v - in.v_initial_v;
    const bool between =
        way_v > 0 ? done_v >= 0 && done_v < way_v : way_v < 0 && done_v <= 0 && done_v > way_v;
    if (!between && !(way_v == 0 && done_v == 0))
        throw DocumentError(ErrorCode::NoSolution, "/v_threshold_v",
                            "the threshold does not lie between the start and the supply");
}

/// t rises with R, without bound where leakage holds it down.
double resistanceFor(const DelayInput& in)
{
    if (in.v_threshold_v == in.v_initial_v)
        throw DocumentError(ErrorCode::NoSolution, "/v_threshold_v", "the threshold is where it starts");
    const double plain = *in.t_s / (*timeTo({.c_f = 1,
                                             .r_ohm = 1.0,
                                             .v_supply_v = in.v_supply_v,
                                             .v_initial_v = in.v_initial_v,
                                             .v_threshold_v = in.v_threshold_v},
                                            1, 1) *
                                    in.c_f);
    if (in.i_leak_a == 0)
        return plain;
    const double most_ohm = std::min(plain, (in.v_supply_v - in.v_threshold_v) / in.i_leak_a);
    return bisect(0, most_ohm, [&](double ohm) {
        const auto t = timeTo(in, ohm, in.c_f);
        return t && *t < *in.t_s;
    });
}

} // namespace

DelayResult delayRc(const DelayInput& in)
{
    checkThreshold(in);
    DelayResult out{};
    if (in.v_threshold_v == in.v_initial_v && in.r_ohm) {
        out = {0, *in.r_ohm, in.v_supply_v - *in.r_ohm * in.i_leak_a, 0, 0.0, std::nullopt};
    } else {
        out.r_ohm = in.r_ohm ? *in.r_ohm : resistanceFor(in);
        const auto t = timeTo(in, out.r_ohm, in.c_f);
        if (!t)
            throw DocumentError(ErrorCode::NoSolution, "/i_leak_a", "leakage holds it below the threshold");
        out.t_s = in.t_s.value_or(*t);
        out.v_final_v = in.v_supply_v - out.r_ohm * in.i_leak_a;
        out.t_min_s = timeTo(in, out.r_ohm * (1 - in.r_tolerance), in.c_f * (1 - in.c_tolerance)).value_or(0);
        out.t_max_s = timeTo(in, out.r_ohm * (1 + in.r_tolerance), in.c_f * (1 + in.c_tolerance));
    }
    if (in.r_discharge_ohm && in.v_supply_v > 0 && in.v_threshold_v > 0)
        out.reset_s = std::max(0.0, *in.r_discharge_ohm * in.c_f *
                                        std::log(in.v_supply_v / (reset_share * in.v_threshold_v)));
    return out;
}

void fields(Fields& f, DelayInput& in)
{
    f.need("c_f", in.c_f, range::positive);
    f.may("r_ohm", in.r_ohm, range::positive);
    f.may("t_s", in.t_s, range::positive);
    f.oneOf({"r_ohm", "t_s"}, "r_ohm");
    f.need("v_supply_v", in.v_supply_v);
    f.may("v_initial_v", in.v_initial_v);
    f.need("v_threshold_v", in.v_threshold_v);
    f.may("i_leak_a", in.i_leak_a, range::not_negative);
    f.demand(in.i_leak_a == 0 || in.v_supply_v > in.v_initial_v, ErrorCode::Inconsistent, "i_leak_a",
             "leakage counts only while it charges");
    f.may("r_tolerance", in.r_tolerance, range::fraction);
    f.may("c_tolerance", in.c_tolerance, range::fraction);
    f.may("r_discharge_ohm", in.r_discharge_ohm, range::positive);
}

void fields(Fields& f, DelayResult& out)
{
    f.need("t_s", out.t_s);
    f.need("r_ohm", out.r_ohm);
    f.need("v_final_v", out.v_final_v);
    f.need("t_min_s", out.t_min_s);
    f.may("t_max_s", out.t_max_s);
    f.may("reset_s", out.reset_s);
}

} // namespace offshoot
