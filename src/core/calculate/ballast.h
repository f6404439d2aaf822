// `sources.ballast`: resistance in the leads of units side by side, so that they share.
#pragma once

#include "core/values/stock.h"
#include "core/values/verdict.h"

#include <optional>
#include <vector>

namespace offshoot {

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

} // namespace offshoot
