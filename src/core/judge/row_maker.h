// Builds the rows of `consequences` for one rail: what every part of the supply is asked to bear, as found
// and as planned. The rows of each group stand in a file of their own (rows_*.cpp).
#pragma once

#include "core/judge/consequences.h"
#include "core/values/figures.h"

#include <functional>

namespace offshoot::rows {

/// The output in one condition: as found or as planned.
struct State
{
    double low_v;
    double high_v;
    double i_a;
};

using Value = std::optional<double>;
/// Use and verdict of a value against its limit.
using Judged = std::pair<Value, Verdict>;
using Judge = std::function<Judged(double value, double limit)>;

/// Up to 80 % fits, up to the limit is tight.
Judged upper(double value, double limit);
/// Fits up to the limit itself.
Judged upToLimit(double value, double limit);
Judged resistorPower(double value, double limit);
/// Below the off-threshold it starves; within a tenth above it is tight.
Judged lockout(double value, double limit);
/// Fits from 1.4 times the reflected voltage; at 1.1 times or less the clamp burns output energy.
Judged clamp(double value, double limit);
Judged trip(double value, double limit);
/// `limit` must be available in `value`.
Judged needed(double value, double limit);

enum class RailRole {
    First,   ///< planned, and what the whole supply shares is judged with it
    Planned, ///< planned too
    Follows, ///< moves with the loop of a planned one
};

class RowMaker
{
public:
    RowMaker(const ConsequencesInput& in, const Rail& rail, const RailPlan& plan, RailRole role);

    std::vector<ConsequenceRow> run();

private:
    template <class ValueAt, class WorkingAt>
    void add(RowId id, Value limit, ValueAt value, const Judge& judge, std::string formula, WorkingAt working,
             std::vector<std::string> assumed = {})
    {
        ConsequenceRow row = startRow(id, limit, std::move(formula), std::move(assumed));
        row.planned = value(m_planned);
        if (m_found)
            row.found = value(*m_found);
        if (row.planned) {
            row.working = working(m_planned);
            if (limit)
                std::tie(row.use, row.verdict) = judge(*row.planned, *limit);
        }
        row.worse = isWorse(row, judge);
        m_rows.push_back(std::move(row));
    }

    ConsequenceRow startRow(RowId id, Value limit, std::string formula,
                            std::vector<std::string> assumed) const;
    bool isWorse(const ConsequenceRow& row, const Judge& judge) const;
    /// Notes an assumption when nobody read the value.
    static double orAssume(const Value& read, double usual, std::vector<std::string>& assumed,
                           std::string what);

    double rectifierDrop() const;
    void assumeDrop(std::vector<std::string>& assumed) const;
    double highestInput() const { return inputCrest(m_s.input, m_in.mains.highest()); }
    /// The DC in front of the converter at the lowest mains, at the trough of its ripple.
    double lowestBus(std::vector<std::string>& assumed) const;
    Value ratio() const { return turnsRatio(m_s, m_rail); }
    Value reflected(const State& s) const;
    double auxiliaryDrop(std::vector<std::string>& assumed) const;
    Value auxiliarySupply(double v, double drop_v) const;
    std::string auxiliaryWorking(double v, double drop_v) const;
    double totalPower(const State& s) const;

    // rows_mains.cpp
    void fuseRows();
    void bulkRows();
    // rows_converter.cpp
    void flybackRows();
    void auxiliaryRows();
    void forwardRows();
    // rows_regulator.cpp
    void buckRows();
    void boostRows();
    void linearRows();
    void sealedRows();
    void converterRows();
    // rows_output.cpp
    void outputCurrentRow();
    void currentRows();
    void rectifierRow();
    void outputRows();
    void windingTripRow();
    void hungOnRows();
    void userRows();
    void feedbackRows();
    // rows_battery.cpp
    void batteryRows();
    void flatBatteryRow();
    void crowbarRow();

    const ConsequencesInput& m_in;
    const Supply& m_s;
    const Rail& m_rail;
    RailPlan m_plan;
    RailRole m_role;
    State m_planned;
    std::optional<State> m_found;
    std::vector<ConsequenceRow> m_rows;
};

/// Usual figures where nobody read the part; each row that uses one says so.
namespace usual {
inline constexpr double spike_share = 0.3;
inline constexpr double trough_share = 0.85;
inline constexpr double efficiency = 0.8;
inline constexpr double power_factor = 0.6;
inline constexpr double indicator_v = 2.0;
inline constexpr double opto_v = 1.2;
inline constexpr double cathode_v = 36;
inline constexpr double auxiliary_drop_v = 0.9;
inline constexpr double reference_bias_a = 1e-3;
inline constexpr double schottky_v = 0.5;
inline constexpr double fast_v = 0.9;
} // namespace usual

double rectifierDropOf(const Rail& rail);

} // namespace offshoot::rows
