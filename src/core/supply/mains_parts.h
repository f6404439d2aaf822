// Parts of the mains side, and what on a unit tells which mains it was made for.
#pragma once

#include "core/values/fields.h"

#include <array>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace offshoot {

/// What counts as a mains frequency.
inline constexpr Range mains_hz{10, 1000};

/// The kinds differ in dielectric absorption: the share of the old voltage that recovers after a discharge.
enum class CapacitorKind { Aluminium, FilmPolyester, Polypropylene, Ceramic2, Other };
template <>
struct Words<CapacitorKind>
{
    static constexpr std::array<std::string_view, 5> list{"aluminium", "film_polyester", "polypropylene",
                                                          "ceramic_2", "other"};
};
double recoveryShare(CapacitorKind kind);

/// R = R25·exp(B·(1/T − 1/298.15 K)): the beta equation of thermistor data sheets.
struct Ntc
{
    double r25_ohm;
    std::optional<double> b_k = {};
    double t_cold_k = 298.15;
    std::optional<double> t_hot_k = {};
    std::optional<double> energy_max_j = {};
    Json unknown = {};
    double ohmAt(double t_k) const;
    bool operator==(const Ntc&) const = default;
};
void fields(Fields& f, Ntc& value);

enum class LimiterKind { Bridge, Doubler };
template <>
struct Words<LimiterKind>
{
    static constexpr std::array<std::string_view, 2> list{"bridge", "doubler"};
};

enum class FilterKind { R, C, L, Cm };
template <>
struct Words<FilterKind>
{
    static constexpr std::array<std::string_view, 4> list{"r", "c", "l", "cm"};
};

/// `r`, `l` and `cm` stand in series, `c` across.
struct NoiseSection
{
    FilterKind kind;
    std::optional<double> r_ohm = {}; ///< the resistor's, or a coil's
    std::optional<double> c_f = {};
    double esr_ohm = 0;
    double esl_h = 0;
    std::optional<double> l_h = {};
    std::optional<double> leakage_h = {}; ///< of a common-mode choke: what it shows to differential noise
    double c_par_f = 0;
    std::optional<double> r_par_ohm = {};
    Json unknown = {};
    bool operator==(const NoiseSection&) const = default;
};
void fields(Fields& f, NoiseSection& value);

enum class ClueKind {
    BulkCap,
    BulkCapSeries,
    XCap,
    Mov,
    Breaker,
    FuseV,
    TransformerPrimary,
    Label,
    Manual,
    Sibling,
};
template <>
struct Words<ClueKind>
{
    static constexpr std::array<std::string_view, 10> list{
        "bulk_cap", "bulk_cap_series",     "x_cap", "mov",    "breaker",
        "fuse_v",   "transformer_primary", "label", "manual", "sibling"};
};
/// Label, manual or a sibling unit: what somebody wrote, not what a part bears.
bool isPaper(ClueKind kind);

enum class PairLink { Straight, Doubler, Unknown };
template <>
struct Words<PairLink>
{
    static constexpr std::array<std::string_view, 3> list{"straight", "doubler", "unknown"};
};

struct Clue
{
    std::string part;
    ClueKind kind;
    bool seen = true;
    std::optional<double> rating_v = {}; ///< DC of a bulk capacitor, else AC
    std::optional<PairLink> link = {};   ///< of a pair in series
    std::optional<double> f_rated_hz = {};
    std::optional<double> min_v = {}; ///< papers
    std::optional<double> max_v = {};
    std::optional<double> f_min_hz = {};
    std::optional<double> f_max_hz = {};
    Json unknown = {};
    bool operator==(const Clue&) const = default;
};
void fields(Fields& f, Clue& value);

struct Primary
{
    std::string name;
    std::string start;
    std::string end;
    double v_v;                                            ///< rated, start to end
    std::vector<std::pair<std::string, double>> taps = {}; ///< lead and its volts from the start
    std::optional<double> i_max_a = {};
    std::optional<double> r_ohm = {};
    Json unknown = {};
    bool operator==(const Primary&) const = default;
};
void fields(Fields& f, Primary& value);

struct Secondary
{
    std::string name;
    double v_v;
    std::optional<double> i_a = {};
    std::optional<double> r_ohm = {};
    Json unknown = {};
    bool operator==(const Secondary&) const = default;
};
void fields(Fields& f, Secondary& value);

} // namespace offshoot
