#include "core/calculate/units_match.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <tuple>

namespace offshoot {

namespace {

constexpr double use_step = 1e-9; ///< uses are compared rounded to this

double roundedUse(double use) { return std::round(use / use_step) * use_step; }

/// An output of a candidate: which of its units, which of that unit's outputs.
using Place = ServedBy;

/// How good a way to give the rails is: the less the better.
struct Score
{
    int badness = 0;
    double use = 0;
    bool operator<(const Score& other) const
    {
        return std::tie(badness, use) < std::tie(other.badness, other.use);
    }
    void add(Verdict verdict) { badness = std::max(badness, offshoot::badness(verdict)); }
    void add(const std::optional<double>& more)
    {
        if (more)
            use = std::max(use, roundedUse(*more));
    }
};

bool serves(const UnitOutput& output, const WantedRail& rail)
{
    return output.isolated || output.polarity == rail.polarity;
}

struct JudgedShare
{
    std::optional<double> use;
    Verdict verdict;
};

/// Of a rating of which a share is left; none left breaks.
JudgedShare judgedShare(double value, double rating, double share)
{
    if (share <= 0)
        return {std::nullopt, Verdict::Breaks};
    const double use = value / (rating * share);
    return {use, judgeUse(use)};
}

MatchedRail matchedRail(const WantedRail& rail, const UnitOutput& output, double share)
{
    MatchedRail out{.name = rail.name, .output = output.name, .set_v = output.v, .dummy_a = 0};
    if (output.trim_min_v && output.trim_max_v)
        out.set_v = std::clamp(rail.v, *output.trim_min_v, *output.trim_max_v);
    const auto inside = [&](double v) { return within(v, rail.min_v, rail.max_v); };
    out.voltage_verdict =
        !inside(out.set_v) ? Verdict::Breaks
        : inside(out.set_v * (1 - output.regulation)) && inside(out.set_v * (1 + output.regulation))
            ? Verdict::Fits
            : Verdict::Tight;
    out.least_verdict = rail.least_a >= output.least_a ? Verdict::Fits : Verdict::Tight;
    out.dummy_a = std::max(0.0, output.least_a - rail.least_a);
    const auto current = judgedShare(rail.current_a + out.dummy_a, output.rated_a, share);
    out.current_use = current.use;
    out.current_verdict = current.verdict;
    out.peak_use =
        (rail.peak_a.value_or(rail.current_a) + out.dummy_a) / output.peak_a.value_or(output.rated_a);
    out.peak_verdict = judgeUse(*out.peak_use);
    if (rail.ripple_max_v) {
        out.ripple_use = useOf(output.ripple_v, rail.ripple_max_v);
        out.ripple_verdict = judgeUse(out.ripple_use);
    }
    return out;
}

void addRail(Score& score, const MatchedRail& rail)
{
    score.add(railVerdict(rail));
    score.add(rail.current_use);
    score.add(rail.peak_use);
    score.add(rail.ripple_use);
}

/// What does not depend on which output serves which rail.
struct UnitFrame
{
    const ShelfUnit* unit;
    double share; ///< left of its ratings
    std::optional<std::string> selector;
    Verdict input_verdict;
    std::optional<Verdict> earth_verdict;
    std::optional<Verdict> space_verdict;
};

void judgeInput(const WantedUnit& need, UnitFrame& out)
{
    const UnitInput& input = out.unit->input;
    const bool ac = need.mains.has_value();
    const double low_v = ac ? need.mains->v * (1 - need.mains->spread) : need.feed->min_v;
    const double high_v = ac ? need.mains->v * (1 + need.mains->spread) : need.feed->max_v;
    const double mean_v = ac ? need.mains->v : (low_v + high_v) / 2;
    out.input_verdict = Verdict::Breaks;
    if (ac != (input.kind == InputCurrent::Ac))
        return;
    const auto holds = [&](double from_v, double to_v) {
        return std::ranges::find_if(input.ranges, [=](const InputRange& range) {
            return atMost(range.min_v, from_v) && atLeast(range.max_v, to_v);
        });
    };
    auto range = holds(low_v, high_v);
    if (range != input.ranges.end()) {
        out.input_verdict = Verdict::Fits;
    } else {
        range = holds(mean_v, mean_v);
        if (range == input.ranges.end())
            return;
        out.input_verdict = Verdict::Tight;
    }
    out.selector = range->selector;
    if (ac && ((input.f_min_hz && !atLeast(need.mains->f_hz, *input.f_min_hz)) ||
               (input.f_max_hz && !atMost(need.mains->f_hz, *input.f_max_hz))))
        out.input_verdict = Verdict::Breaks;
}

std::optional<Verdict> spaceVerdict(const WantedUnit& need, const ShelfUnit& unit)
{
    if (!need.space)
        return std::nullopt;
    if (!unit.size)
        return Verdict::Unknown;
    const auto sorted = [](const BoxSize& box) {
        std::array<double, 3> sides{box.x_m, box.y_m, box.z_m};
        std::ranges::sort(sides);
        return sides;
    };
    const auto space = sorted(*need.space);
    const auto size = sorted(*unit.size);
    const auto goes = [&](double clear_m) {
        for (std::size_t i = 0; i < size.size(); ++i)
            if (!atMost(size.at(i) + 2 * clear_m, space.at(i)))
                return false;
        return true;
    };
    return goes(need.clear_m) ? Verdict::Fits : goes(0) ? Verdict::Tight : Verdict::Breaks;
}

UnitFrame frameOf(const WantedUnit& need, const ShelfUnit& unit)
{
    UnitFrame out{.unit = &unit,
                  .share = deratedShare(unit.derating, need.ambient_k),
                  .selector = {},
                  .input_verdict = Verdict::Breaks,
                  .earth_verdict = {},
                  .space_verdict = spaceVerdict(need, unit)};
    judgeInput(need, out);
    if (need.mains)
        out.earth_verdict = !unit.protection_class                              ? Verdict::Unknown
                            : *unit.protection_class == 1 && !need.mains->earth ? Verdict::Breaks
                                                                                : Verdict::Fits;
    return out;
}

double ratedPower(const ShelfUnit& unit)
{
    if (unit.total_w)
        return *unit.total_w;
    double sum_w = 0;
    for (const UnitOutput& output : unit.outputs)
        sum_w += output.v * output.rated_a;
    return sum_w;
}

/// One or two units, and the best way to give the rails to their outputs.
class Candidate
{
public:
    Candidate(const WantedUnit& need, std::vector<UnitFrame> units)
        : m_need(need)
        , m_units(std::move(units))
        , m_taken(m_units.size())
    {
        for (std::size_t u = 0; u < m_units.size(); ++u) {
            UnitFrame& frame = m_units[u];
            if (m_units.size() > 1 && frame.space_verdict)
                frame.space_verdict = worse(*frame.space_verdict, Verdict::Tight);
            m_taken[u].assign(frame.unit->outputs.size(), false);
            m_floor.add(frame.input_verdict);
            for (const auto& verdict : {frame.earth_verdict, frame.space_verdict})
                if (verdict)
                    m_floor.add(*verdict);
        }
    }

    /// Nothing where a rail gets no output, or a unit no rail.
    std::optional<UnitsOption> best()
    {
        m_now.clear();
        give(m_floor);
        if (!m_best)
            return std::nullopt;
        return as(*m_best);
    }

    /// This way, whatever others there are.
    UnitsOption as(const std::vector<Place>& places) const
    {
        UnitsOption out{.units = {}, .worst_use = 0, .rated_w = 0, .verdict = Verdict::Fits};
        Score score;
        for (std::size_t u = 0; u < m_units.size(); ++u) {
            const MatchedUnit& unit = out.units.emplace_back(matched(u, places));
            for (const MatchedRail& rail : unit.rails)
                addRail(score, rail);
            score.add(unit.total_use);
            out.rated_w += ratedPower(*m_units[u].unit);
            out.verdict = worse(out.verdict, unit.verdict);
        }
        out.worst_use = score.use;
        return out;
    }

private:
    const UnitOutput& outputAt(const Place& place) const
    {
        return m_units[place.unit].unit->outputs[place.output];
    }

    /// In the order of outputs, so that of equal ways the first found is the one that counts; a way that is
    /// no better already is left.
    void give(const Score& score)
    {
        if (m_best && !(score < m_score))
            return;
        if (m_now.size() == m_need.rails.size())
            return finish(score);
        const WantedRail& rail = m_need.rails[m_now.size()];
        for (std::size_t u = 0; u < m_units.size(); ++u)
            for (std::size_t o = 0; o < m_taken[u].size(); ++o) {
                const UnitOutput& output = m_units[u].unit->outputs[o];
                if (m_taken[u][o] || !serves(output, rail))
                    continue;
                Score next = score;
                addRail(next, matchedRail(rail, output, m_units[u].share));
                m_taken[u][o] = true;
                m_now.push_back({u, o});
                give(next);
                m_now.pop_back();
                m_taken[u][o] = false;
            }
    }

    void finish(Score score)
    {
        for (std::size_t u = 0; u < m_units.size(); ++u) {
            if (std::ranges::none_of(m_now, [&](const Place& place) { return place.unit == u; }))
                return; // it serves nothing
            const MatchedUnit unit = matched(u, m_now);
            score.add(unit.verdict);
            score.add(unit.total_use);
        }
        if (m_best && !(score < m_score))
            return;
        m_best = m_now;
        m_score = score;
    }

    /// Whether an output's bond counts: always where the output must float, else where it would earth the
    /// rail itself.
    bool bondCounts(const UnitOutput& output, const WantedRail& rail) const
    {
        if (m_need.floating)
            return true;
        if (output.bonded == Bond::Unknown)
            return output.polarity != rail.polarity;
        return output.bonded == (rail.polarity == OutputPolarity::Positive ? Bond::Positive : Bond::Negative);
    }

    /// What a way asks of one unit, besides what its rails say.
    struct Asked
    {
        bool trims = false;
        bool loads = false;
        bool opens_bond = false;
        double power_w = 0;
    };

    MatchedUnit matched(std::size_t u, const std::vector<Place>& places) const
    {
        const UnitFrame& frame = m_units[u];
        MatchedUnit out{.name = frame.unit->name,
                        .actions = {},
                        .selector = frame.selector,
                        .rails = {},
                        .idle = {},
                        .idle_verdict = Verdict::Fits,
                        .total_use = {},
                        .total_verdict = {},
                        .input_verdict = frame.input_verdict,
                        .earth_verdict = frame.earth_verdict,
                        .floating_verdict = {},
                        .space_verdict = frame.space_verdict,
                        .verdict = Verdict::Fits};
        Asked asked;
        for (std::size_t r = 0; r < places.size(); ++r)
            if (places[r].unit == u)
                serve(m_need.rails[r], outputAt(places[r]), frame.share, out, asked);
        leaveIdle(u, places, out, asked);
        if (frame.unit->total_w) {
            const auto total = judgedShare(asked.power_w, *frame.unit->total_w, frame.share);
            out.total_use = total.use;
            out.total_verdict = total.verdict;
        }
        out.actions = actionsOf(*frame.unit, asked);
        out.verdict = worstOf(out);
        return out;
    }

    void serve(const WantedRail& rail, const UnitOutput& output, double share, MatchedUnit& out,
               Asked& asked) const
    {
        const MatchedRail& made = out.rails.emplace_back(matchedRail(rail, output, share));
        asked.trims = asked.trims || std::abs(made.set_v - output.v) > limit_share * output.v;
        asked.loads = asked.loads || made.dummy_a > 0;
        asked.power_w += rail.v * (rail.current_a + made.dummy_a);
        if (!bondCounts(output, rail))
            return;
        const bool bonded = output.bonded == Bond::Negative || output.bonded == Bond::Positive;
        asked.opens_bond = asked.opens_bond || bonded;
        const Verdict verdict = output.bonded == Bond::Unknown ? Verdict::Unknown
                                : bonded                       ? Verdict::Tight
                                                               : Verdict::Fits;
        out.floating_verdict = worse(out.floating_verdict.value_or(Verdict::Fits), verdict);
    }

    /// Outputs that serve no rail and want a load all the same.
    void leaveIdle(std::size_t u, const std::vector<Place>& places, MatchedUnit& out, Asked& asked) const
    {
        const std::vector<UnitOutput>& outputs = m_units[u].unit->outputs;
        for (std::size_t o = 0; o < outputs.size(); ++o) {
            const bool serving = std::ranges::any_of(
                places, [&](const Place& place) { return place.unit == u && place.output == o; });
            if (serving || outputs[o].least_a <= 0)
                continue;
            out.idle.push_back({outputs[o].name, outputs[o].least_a});
            out.idle_verdict = Verdict::Tight;
            asked.loads = true;
            asked.power_w += outputs[o].v * outputs[o].least_a;
        }
    }

    std::vector<UnitAction> actionsOf(const ShelfUnit& unit, const Asked& asked) const
    {
        const std::array<std::pair<UnitAction, bool>, 5> all{
            {{UnitAction::Trim, asked.trims},
             {UnitAction::DummyLoad, asked.loads},
             {UnitAction::SelectMains, m_need.mains && unit.input.ranges.size() > 1},
             {UnitAction::OpenBond, asked.opens_bond},
             {UnitAction::Enable, unit.enable != EnablePin::None}}};
        std::vector<UnitAction> actions;
        for (const auto& [action, wanted] : all)
            if (wanted)
                actions.push_back(action);
        return actions;
    }

    static Verdict worstOf(const MatchedUnit& unit)
    {
        Verdict worst = worse(unit.idle_verdict, unit.input_verdict);
        for (const auto& verdict :
             {unit.total_verdict, unit.earth_verdict, unit.floating_verdict, unit.space_verdict})
            if (verdict)
                worst = worse(worst, *verdict);
        for (const MatchedRail& rail : unit.rails)
            worst = worse(worst, railVerdict(rail));
        return worst;
    }
    const WantedUnit& m_need;
    std::vector<UnitFrame> m_units;
    std::vector<std::vector<bool>> m_taken;
    Score m_floor;
    Score m_score;
    std::vector<Place> m_now;
    std::optional<std::vector<Place>> m_best;
};

/// What decides the order of the options; the order in which they were made decides the rest.
auto optionKey(const UnitsOption& option)
{
    std::size_t actions = 0;
    for (const MatchedUnit& unit : option.units)
        actions += unit.actions.size();
    return std::tuple(badness(option.verdict), option.units.size(), actions, option.rated_w);
}

} // namespace

void fields(Fields& f, WantedRail& value)
{
    f.need("name", value.name);
    f.need("v", value.v, range::positive);
    f.need("min_v", value.min_v, range::not_negative);
    f.need("max_v", value.max_v, range::positive);
    f.need("current_a", value.current_a, range::not_negative);
    f.may("peak_a", value.peak_a, range::not_negative);
    f.may("least_a", value.least_a, range::not_negative);
    f.may("ripple_max_v", value.ripple_max_v, range::positive);
    f.may("polarity", value.polarity);
    f.demand(value.min_v <= value.v && value.v <= value.max_v, ErrorCode::Inconsistent, "v",
             "the voltage lies outside its window");
    f.demand(value.least_a <= value.current_a, ErrorCode::Inconsistent, "least_a",
             "the least current lies above the usual one");
    f.demand(value.peak_a.value_or(value.current_a) >= value.current_a, ErrorCode::Inconsistent, "peak_a",
             "the peak lies below the usual current");
}

void fields(Fields& f, WantedMains& value)
{
    f.need("v", value.v, range::positive);
    f.may("spread", value.spread, range::fraction);
    f.may("f_hz", value.f_hz, range::positive);
    f.may("earth", value.earth);
}

void fields(Fields& f, DcFeed& value)
{
    f.need("min_v", value.min_v, range::positive);
    f.need("max_v", value.max_v, range::positive);
    f.demand(value.min_v <= value.max_v, ErrorCode::Inconsistent, "max_v", "the range ends before it begins");
}

void fields(Fields& f, WantedUnit& value)
{
    constexpr std::size_t most_rails = 6;
    constexpr Range ambients{200, 400};
    f.need("rails", value.rails, Lengths{1, most_rails});
    f.demandUniqueNames("rails", value.rails);
    f.oneOf({"mains", "feed"});
    f.may("mains", value.mains);
    f.may("feed", value.feed);
    f.may("ambient_k", value.ambient_k, ambients);
    f.may("space", value.space);
    f.may("clear_m", value.clear_m, range::not_negative);
    f.may("floating", value.floating);
}

void fields(Fields& f, UnitsMatchInput& in)
{
    constexpr std::size_t most_units = 200;
    f.need("need", in.need);
    f.need("shelf", in.shelf, Lengths{0, most_units});
    f.demandUniqueNames("shelf", in.shelf);
    f.may("max_units", in.max_units, 1, 2);
    f.may("limit", in.limit, 1, static_cast<std::int64_t>(most_units));
}

void fields(Fields& f, MatchedRail& out)
{
    f.need("name", out.name);
    f.need("output", out.output);
    f.need("set_v", out.set_v);
    f.need("voltage_verdict", out.voltage_verdict);
    f.may("current_use", out.current_use);
    f.need("current_verdict", out.current_verdict);
    f.may("peak_use", out.peak_use);
    f.need("peak_verdict", out.peak_verdict);
    f.may("ripple_use", out.ripple_use);
    f.may("ripple_verdict", out.ripple_verdict);
    f.need("least_verdict", out.least_verdict);
    f.need("dummy_a", out.dummy_a);
}

void fields(Fields& f, IdleOutput& out)
{
    f.need("output", out.output);
    f.need("dummy_a", out.dummy_a);
}

void fields(Fields& f, MatchedUnit& out)
{
    f.need("name", out.name);
    f.need("actions", out.actions, Lengths{});
    f.may("selector", out.selector);
    f.need("rails", out.rails);
    f.need("idle", out.idle);
    f.need("idle_verdict", out.idle_verdict);
    f.may("total_use", out.total_use);
    f.may("total_verdict", out.total_verdict);
    f.need("input_verdict", out.input_verdict);
    f.may("earth_verdict", out.earth_verdict);
    f.may("floating_verdict", out.floating_verdict);
    f.may("space_verdict", out.space_verdict);
    f.need("verdict", out.verdict);
}

void fields(Fields& f, UnitsOption& out)
{
    f.need("units", out.units);
    f.need("worst_use", out.worst_use);
    f.need("rated_w", out.rated_w);
    f.need("verdict", out.verdict);
}

void fields(Fields& f, UnitsMatchResult& out)
{
    f.need("options", out.options);
    f.may("none_because", out.none_because);
}

Verdict railVerdict(const MatchedRail& rail)
{
    Verdict worst = worse(rail.voltage_verdict, rail.current_verdict);
    worst = worse(worst, worse(rail.peak_verdict, rail.least_verdict));
    return rail.ripple_verdict ? worse(worst, *rail.ripple_verdict) : worst;
}

UnitsOption matchAs(const WantedUnit& need, const std::vector<ShelfUnit>& units,
                    const std::vector<ServedBy>& served)
{
    std::vector<UnitFrame> frames;
    for (const ShelfUnit& unit : units)
        frames.push_back(frameOf(need, unit));
    return Candidate(need, std::move(frames)).as(served);
}

UnitsMatchResult unitsMatch(const UnitsMatchInput& in)
{
    UnitsMatchResult out{};
    std::vector<UnitFrame> frames;
    for (const ShelfUnit& unit : in.shelf)
        frames.push_back(frameOf(in.need, unit));
    const auto take = [&](std::vector<UnitFrame> units) {
        if (auto option = Candidate(in.need, std::move(units)).best())
            out.options.push_back(std::move(*option));
    };
    for (const UnitFrame& frame : frames)
        take({frame});
    for (std::size_t i = 0; in.max_units > 1 && i < frames.size(); ++i)
        for (std::size_t k = i; k < frames.size(); ++k)
            if (i != k || in.shelf[i].quantity > 1)
                take({frames[i], frames[k]});
    if (out.options.empty())
        out.none_because = in.shelf.empty() ? NoMatch::EmptyShelf : NoMatch::Outputs;
    std::ranges::stable_sort(out.options, {}, optionKey);
    if (out.options.size() > static_cast<std::size_t>(in.limit))
        out.options.resize(static_cast<std::size_t>(in.limit));
    return out;
}

} // namespace offshoot
