#include "core/calculate/trim.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <set>

namespace offshoot {

namespace {

constexpr double no_turn = 0.0005;

/// One rail against the scale: the scales that keep it in its window, and the V of its distance from the
/// middle.
struct ScaledRail
{
    double low;    ///< scale at which it enters its window
    double high;   ///< and leaves it
    double centre; ///< scale that puts it in the middle
    double slope;  ///< weighted half windows for each unit of scale
};

ScaledRail lineOf(const TrimRail& rail)
{
    const double at_min = rail.min_v / rail.v;
    const double at_max = rail.max_v / rail.v;
    const double half_v = (rail.max_v - rail.min_v) / 2;
    return {std::min(at_min, at_max), std::max(at_min, at_max), (rail.min_v + rail.max_v) / 2 / rail.v,
            rail.weight * std::abs(rail.v) / half_v};
}

RailId idOf(const TrimRail& rail) { return {rail.name, rail.load}; }

class Trim
{
public:
    explicit Trim(const TrimInput& in)
        : m_in(in)
    {
        for (const TrimRail& rail : in.rails)
            m_lines.push_back(lineOf(rail));
        const auto up = std::ranges::max_element(m_lines, {}, &ScaledRail::low);
        const auto down = std::ranges::min_element(m_lines, {}, &ScaledRail::high);
        m_low = std::max(up->low, 0.0);
        m_high = down->high;
        m_up = static_cast<std::size_t>(up - m_lines.begin());
        m_down = static_cast<std::size_t>(down - m_lines.begin());
    }

    TrimResult run()
    {
        const auto wrong_sign =
            std::ranges::find_if(m_lines, [](const ScaledRail& l) { return l.high <= 0; });
        m_result.now_in_windows =
            std::ranges::all_of(m_in.rails, [](const TrimRail& r) { return within(r.v, r.min_v, r.max_v); });
        m_result.turn = Turn::None;
        if (wrong_sign != m_lines.end()) {
            const RailId id = idOf(m_in.rails[static_cast<std::size_t>(wrong_sign - m_lines.begin())]);
            m_result.blocked_by = TrimBlock::Rails;
            m_result.conflict = {id, id, ConflictCause::Sign};
            m_result.rails = railsAt(m_in, 1);
            return m_result;
        }
        findBlock();
        const double scale = bestScale();
        m_result.best_scale = scale;
        m_result.change = scale - 1;
        if (!atMost(std::abs(scale - 1), no_turn))
            m_result.turn = scale > 1 ? Turn::Up : Turn::Down;
        m_result.rails = railsAt(m_in, scale);
        return m_result;
    }

private:
    void findBlock()
    {
        if (!atMost(m_low, m_high)) {
            const TrimRail& up = m_in.rails[m_up];
            const TrimRail& down = m_in.rails[m_down];
            m_result.blocked_by = TrimBlock::Rails;
            m_result.conflict = {idOf(up), idOf(down),
                                 up.name == down.name ? ConflictCause::Load : ConflictCause::Cross};
            return;
        }
        const auto& travel = m_in.travel;
        if (travel && (!atMost(m_low, travel->max_scale) || !atLeast(m_high, travel->min_scale))) {
            m_result.blocked_by = TrimBlock::Travel;
            m_result.travel_end = m_low > travel->max_scale ? TravelEnd::Max : TravelEnd::Min;
            return;
        }
        m_result.feasible = true;
        const double low = travel ? std::max(m_low, travel->min_scale) : m_low;
        const double high = travel ? std::min(m_high, travel->max_scale) : m_high;
        m_result.interval = ScaleRange{low, std::max(low, high)};
    }

    double bestScale() const
    {
        double worst = -1;
        double scale = m_lines.front().centre;
        for (const ScaledRail& a : m_lines)
            for (const ScaledRail& b : m_lines) {
                const double crossing =
                    a.slope * b.slope * std::abs(a.centre - b.centre) / (a.slope + b.slope);
                if (crossing <= worst)
                    continue;
                worst = crossing;
                scale = (a.slope * a.centre + b.slope * b.centre) / (a.slope + b.slope);
            }
        if (m_result.interval)
            return std::clamp(scale, m_result.interval->min_scale, m_result.interval->max_scale);
        if (m_in.travel)
            return std::clamp(scale, m_in.travel->min_scale, m_in.travel->max_scale);
        return std::max(scale, 0.0);
    }

    const TrimInput& m_in;
    std::vector<ScaledRail> m_lines;
    double m_low;
    double m_high;
    std::size_t m_up;
    std::size_t m_down;
    TrimResult m_result{};
};

} // namespace

TrimResult railsTrim(const TrimInput& in) { return Trim(in).run(); }

std::vector<TrimmedRail> railsAt(const TrimInput& in, double scale)
{
    std::vector<TrimmedRail> rails;
    for (const TrimRail& rail : in.rails) {
        const double v = scale * rail.v;
        const double margin_v = std::min(v - rail.min_v, rail.max_v - v);
        rails.push_back({rail.name, rail.load, v, within(v, rail.min_v, rail.max_v),
                         margin_v / ((rail.max_v - rail.min_v) / 2), margin_v});
    }
    return rails;
}

void fields(Fields& f, TrimRail& value)
{
    f.need("name", value.name);
    f.may("load", value.load);
    f.need("v", value.v);
    f.demand(std::abs(value.v) >= Range::smallest, ErrorCode::OutOfRange, "v", "a rail at 0 V moves nowhere");
    f.need("min_v", value.min_v);
    f.need("max_v", value.max_v);
    f.demand(value.max_v > value.min_v, ErrorCode::Inconsistent, "max_v", "not above min_v");
    f.may("weight", value.weight, range::positive);
}

void fields(Fields& f, ScaleRange& value)
{
    f.need("min_scale", value.min_scale, range::positive);
    f.need("max_scale", value.max_scale, range::positive);
    f.demand(value.min_scale <= value.max_scale, ErrorCode::Inconsistent, {}, "min_scale is above max_scale");
}

void fields(Fields& f, TrimInput& in)
{
    f.need("rails", in.rails, {1, 100});
    std::set<std::pair<std::string, std::string>> seen;
    for (std::size_t i = 0; i < in.rails.size(); ++i)
        if (!seen.emplace(in.rails[i].name, in.rails[i].load).second)
            throw DocumentError(ErrorCode::Inconsistent, f.path() + "/rails/" + std::to_string(i) + "/name",
                                "this rail under this load stands here already");
    f.may("travel", in.travel);
}

void fields(Fields& f, RailId& out)
{
    f.need("name", out.name);
    f.need("load", out.load, any_text);
}

void fields(Fields& f, TrimConflict& out)
{
    f.need("up", out.up);
    f.need("down", out.down);
    f.need("cause", out.cause);
}

void fields(Fields& f, TrimmedRail& out)
{
    f.need("name", out.name);
    f.need("load", out.load, any_text);
    f.need("v", out.v);
    f.need("in_window", out.in_window);
    f.need("margin", out.margin);
    f.need("margin_v", out.margin_v);
}

void fields(Fields& f, TrimResult& out)
{
    f.need("feasible", out.feasible);
    f.may("interval", out.interval);
    f.need("now_in_windows", out.now_in_windows);
    f.may("best_scale", out.best_scale);
    f.may("change", out.change);
    f.need("turn", out.turn);
    f.need("rails", out.rails);
    f.may("blocked_by", out.blocked_by);
    f.may("conflict", out.conflict);
    f.may("travel_end", out.travel_end);
}

} // namespace offshoot
