#include "core/supply/mains_side.h"

namespace offshoot {

void fields(Fields& f, MainsTransformer& value)
{
    f.may("primaries", value.primaries, {0, 4});
    f.demandUniqueNames("primaries", value.primaries);
    f.may("f_rated_hz", value.f_rated_hz, mains_hz);
    f.may("va", value.va, range::positive);
    f.may("regulation", value.regulation, {0, 1});
    f.may("secondaries", value.secondaries, {0, 16});
    f.demandUniqueNames("secondaries", value.secondaries);
    f.may("selector", value.selector);
}

void fields(Fields& f, SwitchOn& value)
{
    f.may("kind", value.kind);
    f.may("ratio", value.ratio, {1e-3, 1e3});
    f.may("c_f", value.c_f, range::positive);
    f.may("source_ohm", value.source_ohm, range::positive);
    f.may("esr_ohm", value.esr_ohm, range::positive);
    f.may("ntc", value.ntc);
    f.may("i_surge_max_a", value.i_surge_max_a, range::positive);
    f.may("breaker_trip_a", value.breaker_trip_a, range::positive);
    f.may("fuse_i2t_a2s", value.fuse_i2t_a2s, range::positive);
    f.may("load_w", value.load_w, range::not_negative);
}

void fields(Fields& f, CapturedSurge& value)
{
    constexpr Lengths points{0, 20000};
    f.may("t_s", value.t_s, range::any, points);
    f.may("i_a", value.i_a, range::any, points);
    f.may("from", value.from);
    f.demand(value.t_s.size() == value.i_a.size(), ErrorCode::Inconsistent, "i_a",
             "not as many currents as times");
}

void fields(Fields& f, MainsSide& value)
{
    f.may("clues", value.clues, {0, 200});
    f.may("transformer", value.transformer);
    f.may("surge", value.surge);
    f.may("captured", value.captured);
    f.may("chain", value.chain);
    f.may("ratings", value.ratings);
    f.may("idle_years", value.idle_years, {0, 200});
    f.may("noise", value.noise, {0, 32});
    f.may("noise_hz", value.noise_hz, {1e-6, 1e12});
    f.may("noise_pp_v", value.noise_pp_v, range::positive);
}

} // namespace offshoot
