// `sources.parallel` and `sources.ballast`: supplies side by side on one bus. How will the current really
// share, what happens when one drops out, and how much resistance makes them share?
//
// Every unit is a piecewise linear source, so their sum is one too: the operating point is found exactly,
// segment by segment, for a current, a resistance or a power. At most 100 units.
#pragma once

#include "core/calculate/part_search.h"
#include "core/supply/output_parts.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct ParallelUnit
{
    std::string name;
    double v_set_v; ///< at no load
    double r_out_ohm = 0;
    double r_lead_ohm = 0;                ///< leads, go and return, and ballast
    std::optional<double> i_limit_a = {}; ///< absent: not known
    LimitKind limit = LimitKind::ConstantCurrent;
    std::optional<OringDiode> diode = {};
};
void fields(Fields& f, ParallelUnit& value);

/// One of the three, none below zero.
struct BusLoad
{
    std::optional<double> current_a = {};
    std::optional<double> ohm = {};
    std::optional<double> power_w = {};
};

struct ParallelInput
{
    std::vector<ParallelUnit> units;
    BusLoad load;
};
void fields(Fields& f, ParallelInput& in);

enum class UnitState { Idle, Sharing, Limiting, Tripped };
template <>
struct Words<UnitState>
{
    static constexpr std::array<std::string_view, 4> list{"idle", "sharing", "limiting", "tripped"};
};
enum class ShareStatus { Overload, NoLoad, OneCarries, Shared, Uneven };
template <>
struct Words<ShareStatus>
{
    static constexpr std::array<std::string_view, 5> list{"overload", "no_load", "one_carries", "shared",
                                                          "uneven"};
};

struct UnitShare
{
    std::string name;
    double current_a;
    std::optional<double> share;
    std::optional<double> use; ///< of its limit
    UnitState state;
    double held_up_v; ///< how far the bus holds the output of an idle unit above its own set point
};
void fields(Fields& f, UnitShare& out);

struct BusState
{
    double v_bus_v;
    double no_load_v;
    double total_a;
    bool served;
    std::vector<UnitShare> units;
    std::vector<std::string> trips;  ///< in the order they happen
    std::optional<double> imbalance; ///< largest deviation from the mean, in means
    double ballast_loss_w;
    double diode_loss_w;
    std::optional<double> worst_use;
    ShareStatus status;
    Verdict verdict;
};
void fields(Fields& f, BusState& out);

struct BusWithout
{
    std::string removed;
    BusState bus;
};
void fields(Fields& f, BusWithout& out);

struct ParallelResult
{
    BusState bus;
    std::vector<BusWithout> without; ///< each unit taken away in turn
    bool redundant;
};
void fields(Fields& f, ParallelResult& out);

/// The bus as it settles, trips included.
BusState busState(const ParallelInput& in);
ParallelResult sourcesParallel(const ParallelInput& in);

/// N equal units, one set highest and the rest equal, or the mirror image.
struct BallastInput
{
    std::int64_t units;
    double current_a;      ///< of all together
    double r_unit_ohm = 0; ///< what each has already
    // Exactly two of these:
    std::optional<double> spread_v = {};  ///< highest set point less lowest
    std::optional<double> imbalance = {}; ///< allowed deviation of a unit from the mean, in means
    std::optional<double> ballast_ohm = {};
};
void fields(Fields& f, BallastInput& in);

struct BallastResult
{
    double ballast_ohm;
    double r_total_ohm;
    double spread_v;
    double imbalance;
    bool one_carries;
    double highest_a;
    double loss_each_w;
    double loss_highest_w; ///< rate the ballast for this
    double loss_total_w;
    double drop_v;
    double droop_v;
};
void fields(Fields& f, BallastResult& out);

/// R = spread·(N−1)/(N·imbalance·I), I = current/N: from the mesh equations of N equal sources.
BallastResult sourcesBallast(const BallastInput& in);

/// Leads made longer so that they are the ballast.
struct ExtraLead
{
    double length_m; ///< more conductor, go and return together
    double area_m2;
    Json unknown = {};
    bool operator==(const ExtraLead&) const = default;
};
void fields(Fields& f, ExtraLead& value);

/// Equal parts from the drawer, or a longer lead, as the ballast of one unit.
struct BallastOption
{
    Network network;
    std::optional<double> part_power_w; ///< rating of each part
    std::optional<ExtraLead> lead;      ///< instead of parts
    BallastResult result;               ///< with these parts, or this lead
    double power_each_w;                ///< of a part, in the unit that is set highest
    std::optional<double> use;
    Verdict verdict;
};
/// Up to four equal parts alone, side by side or in a row, of at least what `in` asks for and at most twice
/// that; best verdict first, then least loss. `in` names spread and imbalance.
std::vector<BallastOption> ballastOptions(const BallastInput& in, const std::vector<StockItem>& stock);
/// Copper at 20 °C (see cable.h), the three thinnest usual sizes that bear the unit set highest within
/// usual_density_a_per_m2; none where nothing is needed.
std::vector<BallastOption> ballastLeads(const BallastInput& in);

/// What a builder will get: set points and leads drawn at random, each in its own range, uniformly.
struct ShareSpreadInput
{
    ParallelInput bus;
    double set_spread_v; ///< each set point lies within ± this of the unit's own
    double lead_spread;  ///< each lead within ± this share
    std::int64_t samples = 2000;
    std::uint64_t seed = 1;
};
struct ShareSpreadResult
{
    double highest_share_low;    ///< of the unit that carries most: 5 % of builds lie below
    double highest_share_middle; ///< median
    double highest_share_high;   ///< 5 % of builds lie above
    double within_limits;        ///< share of builds in which no unit limits or trips and the load is served
};
ShareSpreadResult shareSpread(const ShareSpreadInput& in);

} // namespace offshoot
