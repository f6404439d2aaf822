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

    /// A unit that tripped breaks; else by its use.
    Verdict verdict() const;
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
/// V_bus where the units' lines sum to the load's, volts and amperes, exact; the same without each unit in
/// turn. A load that cannot be served says so. Throws nothing.
ParallelResult sourcesParallel(const ParallelInput& in);

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
/// The highest share of builds drawn within the spreads, even between their bounds, from `seed`: the same
/// seed gives the same builds. Throws nothing.
ShareSpreadResult shareSpread(const ShareSpreadInput& in);

} // namespace offshoot
