// Builds the rows of `consequences`: what every part of the supply is asked to bear, as found and as planned.
//
// A row is a function from one condition to what is compared there; it is asked twice, as found and as
// planned. What the supply shares is asked once for each loop that moves, and the worst stands. The rows of
// each group stand in a file of their own (rows_*.cpp).
#pragma once

#include "core/judge/consequences.h"
#include "core/values/figures.h"

#include <functional>
#include <utility>

namespace offshoot::rows {

using Value = std::optional<double>;

/// f of all values, or nothing where one is absent.
template <class F, class... V>
auto when(F f, const V&... values)
    -> std::optional<std::decay_t<std::invoke_result_t<F, decltype(*values)...>>>
{
    if ((values.has_value() && ...))
        return f(*values...);
    return std::nullopt;
}

/// One rail in one condition: as found or as planned. What nobody read or said is absent.
struct State
{
    Value low_v;
    Value high_v; ///< the most it can stand at: without load, where nothing regulates it
    Value i_a;
    Value loaded_v; ///< the highest predicted at that current
};

/// A rail that the plan moves.
struct MovedRail
{
    const Rail* rail;
    State found;
    State planned;
    bool named;                            ///< by the plan; else it moves along
    bool leads;                            ///< its loop: what the supply shares is judged with it
    std::vector<std::string> assumed = {}; ///< what its planned voltage rests on
};
/// In the order of the supply's rails. Throws DocumentError at /plan for a rail the supply does not have.
std::vector<MovedRail> movedRails(const ConsequencesInput& in);

/// Which way the output must move to make a row worse.
enum class Drive {
    None, ///< the row does not follow the output
    Rise,
    Fall,
    Both,
};

/// What a row compares in one condition. `use` is absent where nothing is to be compared.
struct Judged
{
    Value value = {};
    Value limit = {};
    Value use = {};
    Verdict verdict = Verdict::Unknown;
    double fits_to = default_bounds.fits;
};
using JudgeAt = std::function<Judged(const State&)>;
using WorkingAt = std::function<std::string(const State&)>;

inline constexpr UseBounds to_the_limit{1, 1};

/// No more than `limit`.
Judged most(Value value, Value limit, UseBounds bounds = default_bounds);
/// `need` must be available in `value`.
Judged least(Value value, Value need, UseBounds bounds = default_bounds);
/// Fits when the clamp is at 1.4 times the reflected voltage or more; at 1.1 times or less it burns output
/// energy.
Judged clampRoom(Value reflected_v, Value clamp_v);
/// Breaks from 95 % of the trip.
Judged belowTrip(Value value, Value trip_v);
/// No more than a converter reaches; none at all where it reaches nothing.
Judged reached(Value value, Value reach_v);
/// Within what it bears, from least to most; a low side that nobody read is unknown once the output comes
/// below the found one.
Judged between(const State& s, Value least_v, Value most_v, Value found_low_v);

/// What a row rests on besides what was read, and what is still to be read for it.
struct Notes
{
    std::vector<std::string> assumed = {};
    std::vector<std::string> unread = {};

    /// The value read, else a usual one, noted.
    double orAssume(const Value& read, double usual, std::string what);
    /// Notes what to read where the value is absent.
    void need(bool known, std::string what);
};

/// A row of what a plan brings about: judged as planned alone, and worse, where nothing was before. `part`
/// names it where there are several.
ConsequenceRow planRow(RowId id, const Judged& planned, std::string formula, std::string working,
                       std::string part = {});

class RowMaker
{
public:
    explicit RowMaker(const ConsequencesInput& in);

    std::vector<ConsequenceRow> run();
    const std::vector<MovedRail>& moved() const { return m_moved; }

private:
    /// One row, for the rail at hand. The working is asked for where there is a number.
    ConsequenceRow& add(RowId id, Drive drive, const JudgeAt& judge, std::string formula,
                        const WorkingAt& working, Notes notes = {});
    /// One that several rails share: what it compares was worked out over all of them.
    ConsequenceRow& addShared(RowId id, Drive drive, const Judged& found, const Judged& planned,
                              std::string formula, std::string working, Notes notes = {});
    ConsequenceRow& addJudged(RowId id, bool moved, const Judged& found, const Judged& planned,
                              std::string formula, std::string working, Notes notes);
    static bool moves(Drive drive, const MovedRail& rail);

    // What several rows need, each with its notes.
    double rectifierDrop(Notes& notes) const;
    double auxiliaryDrop(Notes& notes) const;
    double efficiency(Notes& notes) const;
    double ambient(Notes& notes) const;
    Value highestMains(Notes& notes) const;
    Value lowestMains(Notes& notes) const;
    /// The bus of a power factor stage: as read, else 385 V, never below the crest of the mains.
    Value stageBus(Notes& notes) const;
    /// In front of the converter: √2·V_mains,max behind a bridge, twice that behind a doubler, the bus.
    Value highestBus(Notes& notes) const;
    Value lowestBus(Notes& notes) const;
    std::string busFormula() const;
    Value ratio(Notes& notes) const;
    Value auxiliaryRatio(Notes& notes) const;
    Value auxiliarySupply(Value v, Value turns, double drop_v, double aux_drop_v) const;

    // rows_mains.cpp
    void fuseRows();
    const MovedRail* movedRail(const Rail& rail) const;
    Value givenPower(bool planned, Notes& notes) const;
    void bulkRows();
    void reservoirRow();
    // rows_converter.cpp
    void flybackRows();
    void auxiliaryRows();
    void forwardRows();
    // rows_regulator.cpp
    void buckRows();
    void boostRows();
    void linearRows();
    void shortedRow();
    void trimRow();
    void converterRows();
    // rows_output.cpp
    void railRows();
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
    void backFeedRow();
    void crowbarRow();

    /// Keeps, of the rows of each loop, the worst of each kind.
    void keepWorst(std::vector<ConsequenceRow> shared);

    const ConsequencesInput& m_in;
    const Supply& m_s;
    std::vector<MovedRail> m_moved;
    const MovedRail* m_at = nullptr; ///< the rail at hand
    std::vector<ConsequenceRow> m_rows;
};

/// Usual figures where nobody read the part; each row that uses one says so.
namespace usual {
inline constexpr double spike_share = 0.3;
inline constexpr double trough_share = 0.85;
inline constexpr double power_factor = 0.6;
inline constexpr double corrected_power_factor = 0.97;
inline constexpr double ambient_k = 313.15;
inline constexpr double indicator_v = 2.0;
inline constexpr double opto_v = 1.2;
inline constexpr double reference_v = 2.495;
inline constexpr double cathode_v = 36;
inline constexpr double auxiliary_drop_v = 0.9;
inline constexpr double reference_bias_a = 1e-3;
inline constexpr double schottky_v = 0.5;
inline constexpr double fast_v = 0.9;
} // namespace usual

double rectifierDropOf(const Rail& rail);
/// Nominal output current at which the unit limits, where a limit on its output was read.
Value limitCurrent(const Supply& supply, const Rail& rail);

} // namespace offshoot::rows
