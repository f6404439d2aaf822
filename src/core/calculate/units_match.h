// `units.match`: which unit of the shelf, or which two, would serve the need: set to its window, loaded
// within ratings at this temperature, on this mains, earthed and floating as asked, in the space there is?
#pragma once

#include "core/supply/shelf_unit.h"
#include "core/values/usual.h"
#include "core/values/verdict.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct WantedRail
{
    std::string name;
    double v; ///< magnitude
    double min_v;
    double max_v;
    double current_a;
    std::optional<double> peak_a = {}; ///< absent: current_a
    double least_a = 0;
    std::optional<double> ripple_max_v = {};
    OutputPolarity polarity = OutputPolarity::Positive;
};
void fields(Fields& f, WantedRail& value);

struct WantedMains
{
    double v;
    double spread = usual_mains_spread;
    double f_hz = 50;
    bool earth = true;
};
void fields(Fields& f, WantedMains& value);

/// A DC feed in place of the mains.
struct DcFeed
{
    double min_v;
    double max_v;
};
void fields(Fields& f, DcFeed& value);

struct WantedUnit
{
    std::vector<WantedRail> rails; ///< 1 to 6
    std::optional<WantedMains> mains = {};
    std::optional<DcFeed> feed = {};
    double ambient_k = 298.15;
    std::optional<BoxSize> space = {};
    double clear_m = 0.005; ///< on every side
    bool floating = false;  ///< the output must not be tied to case or earth
};
void fields(Fields& f, WantedUnit& value);

struct UnitsMatchInput
{
    WantedUnit need;
    std::vector<ShelfUnit> shelf; ///< at most 200
    std::int64_t max_units = 1;   ///< 1 or 2
    std::int64_t limit = 10;
};
void fields(Fields& f, UnitsMatchInput& in);

enum class UnitAction { Trim, DummyLoad, SelectMains, OpenBond, Enable };
template <>
struct Words<UnitAction>
{
    static constexpr std::array<std::string_view, 5> list{"trim", "dummy_load", "select_mains", "open_bond",
                                                          "enable"};
};

struct MatchedRail
{
    std::string name;
    std::string output;
    double set_v;
    Verdict voltage_verdict = Verdict::Unknown;
    std::optional<double> current_use = {};
    Verdict current_verdict = Verdict::Unknown;
    std::optional<double> peak_use = {};
    Verdict peak_verdict = Verdict::Unknown;
    std::optional<double> ripple_use = {};
    std::optional<Verdict> ripple_verdict = {};
    Verdict least_verdict = Verdict::Unknown;
    double dummy_a;
};
void fields(Fields& f, MatchedRail& out);
/// The worst of what was judged of a rail.
Verdict railVerdict(const MatchedRail& rail);

/// An output that serves no rail and still wants a load.
struct IdleOutput
{
    std::string output;
    double dummy_a;
};
void fields(Fields& f, IdleOutput& out);

struct MatchedUnit
{
    std::string name;
    std::vector<UnitAction> actions;
    std::optional<std::string> selector;
    std::vector<MatchedRail> rails;
    std::vector<IdleOutput> idle;
    Verdict idle_verdict;
    std::optional<double> total_use;
    std::optional<Verdict> total_verdict;
    Verdict input_verdict;
    std::optional<Verdict> earth_verdict;
    std::optional<Verdict> floating_verdict;
    std::optional<Verdict> space_verdict;
    Verdict verdict;
};
void fields(Fields& f, MatchedUnit& out);

struct UnitsOption
{
    std::vector<MatchedUnit> units;
    double worst_use; ///< the largest of current, peak, ripple and total
    double rated_w;
    Verdict verdict;
};
void fields(Fields& f, UnitsOption& out);

enum class NoMatch { EmptyShelf, Outputs };
template <>
struct Words<NoMatch>
{
    static constexpr std::array<std::string_view, 2> list{"empty_shelf", "outputs"};
};

struct UnitsMatchResult
{
    std::vector<UnitsOption> options; ///< best first
    std::optional<NoMatch> none_because;
};
void fields(Fields& f, UnitsMatchResult& out);

/// Of all ways to give the rails to a candidate's outputs the best is taken: by verdict, then by its largest
/// use.
UnitsMatchResult unitsMatch(const UnitsMatchInput& in);

/// The output that serves a rail.
struct ServedBy
{
    std::size_t unit;
    std::size_t output;
};
/// One way by itself, judged as the search does: `served` has a place for each rail of the need.
UnitsOption matchAs(const WantedUnit& need, const std::vector<ShelfUnit>& units,
                    const std::vector<ServedBy>& served);

} // namespace offshoot
