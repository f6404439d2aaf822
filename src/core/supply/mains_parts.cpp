#include "core/supply/mains_parts.h"

#include <array>
#include <cmath>

namespace offshoot {

namespace {

constexpr double rated_at_k = 298.15;

/// A key that belongs to another kind of clue.
void refuseForeign(const Fields& f, const Clue& clue)
{
    const bool paper = isPaper(clue.kind);
    struct Key
    {
        const char* name;
        bool given;
        bool own;
    };
    const std::array keys{
        Key{"rating_v", clue.rating_v.has_value(), !paper},
        Key{"link", clue.link.has_value(), clue.kind == ClueKind::BulkCapSeries},
        Key{"f_rated_hz", clue.f_rated_hz.has_value(), clue.kind == ClueKind::TransformerPrimary},
        Key{"min_v", clue.min_v.has_value(), paper},
        Key{"max_v", clue.max_v.has_value(), paper},
        Key{"f_min_hz", clue.f_min_hz.has_value(), paper},
        Key{"f_max_hz", clue.f_max_hz.has_value(), paper}};
    for (const Key& key : keys)
        f.demand(!key.given || key.own, ErrorCode::Inconsistent, key.name, "belongs to another kind of clue");
}

} // namespace

double recoveryShare(CapacitorKind kind)
{
    switch (kind) {
    case CapacitorKind::Aluminium:
    case CapacitorKind::Other:
        return 0.12;
    case CapacitorKind::FilmPolyester:
        return 0.005;
    case CapacitorKind::Polypropylene:
        return 0.001;
    case CapacitorKind::Ceramic2:
        return 0.03;
    }
    return 0.12;
}

double Ntc::ohmAt(double t_k) const
{
    return b_k ? r25_ohm * std::exp(*b_k * (1 / t_k - 1 / rated_at_k)) : r25_ohm;
}

void fields(Fields& f, Ntc& value)
{
    constexpr Range kelvins{200, 700};
    f.need("r25_ohm", value.r25_ohm, range::positive);
    f.may("b_k", value.b_k, {500, 10000});
    f.may("t_cold_k", value.t_cold_k, kelvins);
    f.may("t_hot_k", value.t_hot_k, kelvins);
    f.may("energy_max_j", value.energy_max_j, range::positive);
    constexpr double rated_k = 298.15; // where R25 holds without B
    const bool temperature = value.t_hot_k || value.t_cold_k != rated_k;
    f.demand(!temperature || value.b_k, ErrorCode::Missing, "b_k", "a temperature needs the B value");
}

void fields(Fields& f, NoiseSection& value)
{
    f.need("kind", value.kind);
    const bool r = value.kind == FilterKind::R;
    const bool c = value.kind == FilterKind::C;
    const bool l = value.kind == FilterKind::L;
    const bool common = value.kind == FilterKind::Cm;
    f.demandOwn({{"r_ohm", !c, r},
                 {"c_f", c, c},
                 {"esr_ohm", c, false},
                 {"esl_h", c, false},
                 {"l_h", l, l},
                 {"leakage_h", common, common},
                 {"c_par_f", l || common, false},
                 {"r_par_ohm", l || common, false}},
                "belongs to another kind of section");
    const bool every = f.mode() == Fields::Mode::Schema;
    if (!c || every)
        f.may("r_ohm", value.r_ohm, r && !every ? range::positive : range::not_negative);
    if (c || every) {
        f.may("c_f", value.c_f, range::positive);
        f.may("esr_ohm", value.esr_ohm, range::not_negative);
        f.may("esl_h", value.esl_h, range::not_negative);
    }
    if (l || every)
        f.may("l_h", value.l_h, range::positive);
    if (common || every)
        f.may("leakage_h", value.leakage_h, range::positive);
    if (l || common || every) {
        f.may("c_par_f", value.c_par_f, range::not_negative);
        f.may("r_par_ohm", value.r_par_ohm, range::positive);
    }
}

bool isPaper(ClueKind kind)
{
    return kind == ClueKind::Label || kind == ClueKind::Manual || kind == ClueKind::Sibling;
}

void fields(Fields& f, Clue& value)
{
    f.need("part", value.part);
    f.need("kind", value.kind);
    f.may("seen", value.seen);
    f.may("rating_v", value.rating_v, range::positive);
    f.may("link", value.link);
    f.may("f_rated_hz", value.f_rated_hz, mains_hz);
    f.may("min_v", value.min_v, range::positive);
    f.may("max_v", value.max_v, range::positive);
    f.may("f_min_hz", value.f_min_hz, mains_hz);
    f.may("f_max_hz", value.f_max_hz, mains_hz);
    refuseForeign(f, value);
    f.demand(value.kind != ClueKind::BulkCapSeries || value.link, ErrorCode::Missing, "link",
             "say whether the pair is straight or a doubler, or unknown");
    f.demand(value.kind != ClueKind::TransformerPrimary || !value.rating_v || value.f_rated_hz,
             ErrorCode::Missing, "f_rated_hz", "a rated voltage wants its frequency");
    const bool wants = isPaper(value.kind) && value.seen;
    f.demand(!wants || value.min_v, ErrorCode::Missing, "min_v", "what was seen names its volts");
    f.demand(!wants || value.max_v, ErrorCode::Missing, "max_v", "what was seen names its volts");
    f.demand(!value.min_v || !value.max_v || *value.min_v <= *value.max_v, ErrorCode::Inconsistent, {},
             "min_v is above max_v");
    f.demand(!value.f_min_hz || !value.f_max_hz || *value.f_min_hz <= *value.f_max_hz,
             ErrorCode::Inconsistent, {}, "f_min_hz is above f_max_hz");
}

void fields(Fields& f, Primary& value)
{
    f.need("name", value.name);
    f.need("start", value.start);
    f.need("end", value.end);
    f.need("v_v", value.v_v, range::positive);
    constexpr std::size_t most_taps = 4;
    f.may("taps", value.taps, f.reading() ? Range{0, value.v_v, true, true} : range::positive, most_taps);
    f.may("i_max_a", value.i_max_a, range::positive);
    f.may("r_ohm", value.r_ohm, range::positive);
}

void fields(Fields& f, Secondary& value)
{
    f.need("name", value.name);
    f.need("v_v", value.v_v, range::positive);
    f.may("i_a", value.i_a, range::positive);
    f.may("r_ohm", value.r_ohm, range::positive);
}

} // namespace offshoot
