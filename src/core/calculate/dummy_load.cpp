#include "core/calculate/dummy_load.h"

#include "core/values/quantity.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <set>

namespace offshoot {

namespace {

constexpr double burns_fingers_k = 333.15;

Network bankOf(double ohm, std::int64_t count, Arrangement arrangement)
{
    return networkOf(arrangement == Arrangement::Single     ? Shape::One
                     : arrangement == Arrangement::Parallel ? Shape::Parallel
                                                            : Shape::Series,
                     std::vector<double>(static_cast<std::size_t>(count), ohm));
}

/// The power a part bears at the ambient; nothing where its rating is unknown.
std::optional<double> allowedPower(const StockItem& item, double ambient_k)
{
    if (!item.power_w)
        return std::nullopt;
    const double share = (item.t_max_k - ambient_k) / (item.t_max_k - item.t_rated_k);
    return *item.power_w * std::clamp(share, 0.0, 1.0);
}

DummyLoadOption optionOf(const DummyLoadInput& in, const StockItem& item, std::int64_t count,
                         Arrangement arrangement)
{
    DummyLoadOption o{};
    o.network = bankOf(item.ohm, count, arrangement);
    o.arrangement = arrangement;
    o.count = count;
    o.part = item;
    o.ohm = o.network.ohm();
    o.current_a = in.rail_v / o.ohm;
    o.power_w = in.rail_v * o.current_a;
    const double highest_v = in.rail_max_v.value_or(in.rail_v);
    o.power_each_w = highest_v * highest_v / o.ohm / static_cast<double>(count);
    o.energy_j_per_day = o.power_w * seconds_per_day;
    const auto allowed = allowedPower(item, in.ambient_k);
    const bool nothing_allowed = allowed && *allowed <= 0;
    if (allowed && !nothing_allowed)
        o.use = o.power_each_w / *allowed;
    o.verdict = nothing_allowed ? Verdict::Breaks : judgeUse(o.use, {in.max_use, 1.0});
    if (item.power_w)
        o.body_k = in.ambient_k + o.power_each_w / *item.power_w * (item.t_max_k - item.t_rated_k);
    o.hot = o.body_k.value_or(0) > burns_fingers_k;
    return o;
}

bool wanted(const DummyLoadInput& in, const DummyLoadOption& o)
{
    return in.current_a ? within(o.current_a, in.current_a->min_a, in.current_a->max_a)
                        : within(o.power_w, in.power_w->min_w, in.power_w->max_w);
}

bool preferredLoad(const DummyLoadOption& a, const DummyLoadOption& b)
{
    const auto key = [](const DummyLoadOption& o) {
        static constexpr std::array<int, 4> order{0, 1, 3, 2}; // fits, tight, breaks, unknown
        return std::tuple(order.at(static_cast<std::size_t>(o.verdict)), o.count,
                          o.use.value_or(std::numeric_limits<double>::infinity()));
    };
    return key(a) < key(b);
}

bool possible(const DummyLoadInput& in, std::int64_t count, Arrangement arrangement)
{
    const auto asked = [&in](BankKind kind) { return std::ranges::count(in.arrangements, kind) > 0; };
    switch (arrangement) {
    case Arrangement::Single:
        return count == 1;
    case Arrangement::Parallel:
        return count > 1 && asked(BankKind::Parallel);
    case Arrangement::Series:
        return count > 1 && asked(BankKind::Series);
    }
    return false;
}

} // namespace

DummyLoadResult dummyLoadOptions(const DummyLoadInput& in)
{
    DummyLoadResult result;
    for (const StockItem& item : in.stock)
        for (std::int64_t count = 1; count <= std::min(in.max_parts, item.quantity.value_or(in.max_parts));
             ++count)
            for (Arrangement arrangement :
                 {Arrangement::Single, Arrangement::Parallel, Arrangement::Series}) {
                if (!possible(in, count, arrangement))
                    continue;
                DummyLoadOption option = optionOf(in, item, count, arrangement);
                if (wanted(in, option))
                    result.options.push_back(std::move(option));
            }
    // Stable: what is equal so far stays in the order of the stock, side by side before in a row.
    std::ranges::stable_sort(result.options, preferredLoad);
    if (result.options.size() > static_cast<std::size_t>(in.limit))
        result.options.resize(static_cast<std::size_t>(in.limit));
    return result;
}

namespace {

class LineFit
{
public:
    explicit LineFit(const MinimumLoadInput& in)
        : m_in(in)
    {
        for (const LoadReading& reading : in.readings)
            if (!reading.hunting)
                m_steady.push_back(reading);
        std::ranges::sort(m_steady, {}, &LoadReading::current_a);
    }

    MinimumLoadResult run()
    {
        m_result.steady = static_cast<std::int64_t>(m_steady.size());
        m_result.hunting = static_cast<std::int64_t>(m_in.readings.size() - m_steady.size());
        m_result.verdict = Verdict::Unknown;
        findSteadyFrom();
        if (!fit())
            return m_result;
        const double width_v = m_in.window.max_v - m_in.window.min_v;
        constexpr double bent_share = 0.1;
        m_result.bent = !atMost(*m_result.worst_residual_v, bent_share * width_v);
        if (!m_result.steady_from_a)
            return m_result;
        crossWindow();
        m_result.verdict = !m_result.least_current_a                ? Verdict::Breaks
                           : m_result.bent || m_result.extrapolated ? Verdict::Tight
                                                                    : Verdict::Fits;
        return m_result;
    }

private:
    void findSteadyFrom()
    {
        double highest_hunting_a = -1;
        for (const LoadReading& reading : m_in.readings)
            if (reading.hunting)
                highest_hunting_a = std::max(highest_hunting_a, reading.current_a);
        if (highest_hunting_a < 0)
            m_result.steady_from_a = 0;
        for (const LoadReading& reading : m_steady)
            if (!m_result.steady_from_a && reading.current_a > highest_hunting_a)
                m_result.steady_from_a = reading.current_a;
    }

    /// False with too few readings, or all at one current.
    bool fit()
    {
        if (m_steady.size() < 2 || atMost(m_steady.back().current_a, m_steady.front().current_a))
            return false;
        const double n = static_cast<double>(m_steady.size());
        double mean_i_a = 0;
        double mean_v = 0;
        for (const LoadReading& r : m_steady) {
            mean_i_a += r.current_a / n;
            mean_v += r.v / n;
        }
        double s_ii = 0;
        double s_iv = 0;
        for (const LoadReading& r : m_steady) {
            s_ii += (r.current_a - mean_i_a) * (r.current_a - mean_i_a);
            s_iv += (r.current_a - mean_i_a) * (r.v - mean_v);
        }
        double r_ohm = -s_iv / s_ii;
        double v0_v = mean_v + r_ohm * mean_i_a;
        const double moved_v = std::abs(r_ohm) * (m_steady.back().current_a - m_steady.front().current_a);
        if (moved_v < limit_share * std::abs(v0_v)) {
            r_ohm = 0;
            v0_v = mean_v;
        }
        m_result.r_ohm = r_ohm;
        m_result.v0_v = v0_v;
        m_result.worst_residual_v = 0;
        for (const LoadReading& r : m_in.readings) {
            if (r.hunting)
                continue;
            m_result.residuals_v.push_back(r.v - (v0_v - r_ohm * r.current_a));
            m_result.worst_residual_v =
                std::max(*m_result.worst_residual_v, std::abs(m_result.residuals_v.back()));
        }
        return true;
    }

    /// The part of I ≥ steady_from_a where the line is inside the window.
    void crossWindow()
    {
        const double r_ohm = *m_result.r_ohm;
        const double v0_v = *m_result.v0_v;
        const double from_a = *m_result.steady_from_a;
        if (r_ohm == 0) {
            if (within(v0_v, m_in.window.min_v, m_in.window.max_v))
                m_result.least_current_a = from_a;
        } else {
            const double enter_a = (v0_v - (r_ohm > 0 ? m_in.window.max_v : m_in.window.min_v)) / r_ohm;
            const double leave_a = (v0_v - (r_ohm > 0 ? m_in.window.min_v : m_in.window.max_v)) / r_ohm;
            const double least_a = std::max(enter_a, from_a);
            if (!atMost(least_a, leave_a))
                return;
            m_result.least_current_a = least_a;
            m_result.most_current_a = leave_a;
        }
        if (m_result.least_current_a)
            m_result.extrapolated =
                !within(*m_result.least_current_a, m_steady.front().current_a, m_steady.back().current_a);
    }

    const MinimumLoadInput& m_in;
    std::vector<LoadReading> m_steady; ///< by current
    MinimumLoadResult m_result{};
};

} // namespace

MinimumLoadResult minimumLoadFit(const MinimumLoadInput& in) { return LineFit(in).run(); }

// ---- documents

void fields(Fields& f, CurrentWindow& value)
{
    f.need("min_a", value.min_a, range::not_negative);
    f.need("max_a", value.max_a, range::positive);
    f.demand(value.min_a <= value.max_a, ErrorCode::Inconsistent, {}, "min_a is above max_a");
}

void fields(Fields& f, PowerWindow& value)
{
    f.need("min_w", value.min_w, range::not_negative);
    f.need("max_w", value.max_w, range::positive);
    f.demand(value.min_w <= value.max_w, ErrorCode::Inconsistent, {}, "min_w is above max_w");
}

void fields(Fields& f, DummyLoadInput& in)
{
    f.need("rail_v", in.rail_v, range::positive);
    f.may("rail_max_v", in.rail_max_v, range::positive);
    f.demand(!in.rail_max_v || *in.rail_max_v >= in.rail_v, ErrorCode::Inconsistent, "rail_max_v",
             "below rail_v");
    f.oneOf({"current_a", "power_w"});
    f.may("current_a", in.current_a);
    f.may("power_w", in.power_w);
    f.need("stock", in.stock);
    f.may("max_parts", in.max_parts, 1, 8);
    f.may("arrangements", in.arrangements, {1, 2});
    f.demand(std::set(in.arrangements.begin(), in.arrangements.end()).size() == in.arrangements.size(),
             ErrorCode::Inconsistent, "arrangements", "an arrangement stands here twice");
    f.may("ambient_k", in.ambient_k, range::positive);
    f.may("max_use", in.max_use, {0, 1, true});
    f.may("limit", in.limit, 1, 1000);
}

void fields(Fields& f, DummyLoadOption& out)
{
    f.need("network", out.network);
    f.need("arrangement", out.arrangement);
    f.need("count", out.count, 1, 8);
    f.need("part_ohm", out.part.ohm);
    f.need("ohm", out.ohm);
    f.need("current_a", out.current_a);
    f.need("power_w", out.power_w);
    f.need("power_each_w", out.power_each_w);
    f.may("use", out.use);
    f.may("body_k", out.body_k);
    f.need("hot", out.hot);
    f.need("energy_j_per_day", out.energy_j_per_day);
    f.need("verdict", out.verdict);
}

void fields(Fields& f, DummyLoadResult& out) { f.need("options", out.options); }

void fields(Fields& f, LoadReading& value)
{
    f.need("current_a", value.current_a, range::not_negative);
    f.need("v", value.v);
    f.may("hunting", value.hunting);
}

void fields(Fields& f, VoltageWindow& value)
{
    f.need("min_v", value.min_v);
    f.need("max_v", value.max_v);
    f.demand(value.min_v < value.max_v, ErrorCode::Inconsistent, {}, "min_v is not below max_v");
}

void fields(Fields& f, MinimumLoadInput& in)
{
    f.need("readings", in.readings);
    f.need("window", in.window);
}

void fields(Fields& f, MinimumLoadResult& out)
{
    constexpr std::int64_t plenty = 1'000'000;
    f.need("steady", out.steady, 0, plenty);
    f.need("hunting", out.hunting, 0, plenty);
    f.may("v0_v", out.v0_v);
    f.may("r_ohm", out.r_ohm);
    f.need("residuals_v", out.residuals_v, range::any);
    f.may("worst_residual_v", out.worst_residual_v);
    f.may("steady_from_a", out.steady_from_a);
    f.may("least_current_a", out.least_current_a);
    f.may("most_current_a", out.most_current_a);
    f.need("bent", out.bent);
    f.need("extrapolated", out.extrapolated);
    f.need("verdict", out.verdict);
}

} // namespace offshoot
