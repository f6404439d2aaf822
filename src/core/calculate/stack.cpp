#include "core/calculate/stack.h"

#include "core/supply/supply.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace offshoot {

namespace {

/// The node a unit's bond earths; nothing where it has none or nobody has looked.
std::optional<std::int64_t> earthedBy(const StackInput& in, std::size_t unit)
{
    const auto below = static_cast<std::int64_t>(unit);
    switch (in.units[unit].bonded) {
    case Bond::Negative:
        return below;
    case Bond::Positive:
        return below + 1;
    case Bond::None:
    case Bond::Unknown:
        return std::nullopt;
    }
    return std::nullopt;
}

class Stack
{
public:
    explicit Stack(const StackInput& in)
        : m_in(in)
        , m_sums{0.0}
    {
        for (const StackUnit& unit : in.units)
            m_sums.push_back(m_sums.back() + unit.v_v);
        for (std::size_t i = 0; i < in.units.size(); ++i)
            if (const auto node = earthedBy(in, i))
                m_earthed.insert(*node);
        if (in.earthed_node)
            m_earthed.insert(*in.earthed_node);
        if (!m_earthed.empty())
            m_kept = in.earthed_node.value_or(*m_earthed.begin());
    }

    StackResult run()
    {
        m_out.total_v = m_sums.back();
        const auto weakest = std::ranges::min_element(m_in.units, {}, &StackUnit::i_limit_a);
        m_out.current_limit_a = weakest->i_limit_a;
        m_out.limited_by = weakest->name;
        m_out.floating = !m_kept;
        if (m_kept) {
            m_out.nodes_v.emplace();
            for (const double sum : m_sums)
                m_out.nodes_v->push_back(sum - sumAt(*m_kept));
        }
        for (std::size_t i = 0; i < m_in.units.size(); ++i)
            m_out.units.push_back(unitAt(i));
        findConflicts();
        m_out.hazard = isHazard();
        m_out.verdict = verdict();
        return std::move(m_out);
    }

private:
    double sumAt(std::int64_t node) const { return m_sums[static_cast<std::size_t>(node)]; }

    StackedUnit unitAt(std::size_t i) const
    {
        const StackUnit& unit = m_in.units[i];
        StackedUnit out{};
        out.name = unit.name;
        if (m_out.nodes_v) {
            out.low_v = (*m_out.nodes_v)[i];
            out.high_v = (*m_out.nodes_v)[i + 1];
            out.to_earth_max_v = std::max(std::abs(*out.low_v), std::abs(*out.high_v));
        } else {
            out.to_earth_max_v = std::max(m_sums[i + 1], m_sums.back() - m_sums[i]);
        }
        out.isolation_use = useOf(out.to_earth_max_v, unit.isolation_v);
        out.isolation_verdict = judgeUse(out.isolation_use, default_bounds);
        if (m_in.units.size() > 1) {
            if (unit.reverse_diode)
                out.diode_use =
                    std::max(unit.v_v / unit.reverse_diode->v_rrm_v, mostPushed(i) / unit.reverse_diode->i_a);
            out.diode_verdict = judgeUse(out.diode_use, default_bounds);
        }
        return out;
    }

    /// The most that the other units push through this one's diode.
    double mostPushed(std::size_t i) const
    {
        double most = 0;
        for (std::size_t other = 0; other < m_in.units.size(); ++other)
            if (other != i)
                most = std::max(most, m_in.units[other].i_limit_a);
        return most;
    }

    void findConflicts()
    {
        for (auto from = m_earthed.begin(); from != m_earthed.end(); ++from) {
            const auto to = std::next(from);
            if (to == m_earthed.end())
                break;
            EarthConflict& conflict = m_out.conflicts.emplace_back(EarthConflict{*from, *to, {}});
            for (auto k = static_cast<std::size_t>(*from); k < static_cast<std::size_t>(*to); ++k) {
                m_out.units[k].shorted = true;
                conflict.shorted.push_back(m_in.units[k].name);
            }
        }
        for (std::size_t i = 0; i < m_in.units.size(); ++i)
            if (const auto node = earthedBy(m_in, i); node && node != m_kept)
                m_out.open_bonds.push_back(m_in.units[i].name);
    }

    bool isHazard() const
    {
        const auto above = [](double v) { return !atMost(std::abs(v), extra_low_v); };
        return above(m_out.total_v) || (m_out.nodes_v && std::ranges::any_of(*m_out.nodes_v, above));
    }

    Verdict verdict() const
    {
        if (!m_out.conflicts.empty())
            return Verdict::Breaks;
        Verdict worst = Verdict::Fits;
        for (std::size_t i = 0; i < m_in.units.size(); ++i) {
            const StackedUnit& unit = m_out.units[i];
            worst = worse(worst, unit.isolation_verdict);
            worst = worse(worst, unit.diode_verdict.value_or(Verdict::Fits));
            if (m_in.units[i].bonded == Bond::Unknown)
                worst = worse(worst, Verdict::Unknown);
        }
        return worst;
    }

    const StackInput& m_in;
    std::vector<double> m_sums; ///< of each node above the bottom
    std::set<std::int64_t> m_earthed;
    std::optional<std::int64_t> m_kept; ///< the node that stays earthed
    StackResult m_out{};
};

} // namespace

StackResult sourcesSeries(const StackInput& in) { return Stack(in).run(); }

Verdict StackedUnit::verdict() const
{
    return shorted ? Verdict::Breaks : worse(isolation_verdict, diode_verdict.value_or(Verdict::Fits));
}

void fields(Fields& f, StackUnit& value)
{
    f.need("name", value.name);
    f.need("v_v", value.v_v, range::not_negative);
    f.need("i_limit_a", value.i_limit_a, range::positive);
    f.need("bonded", value.bonded);
    f.may("isolation_v", value.isolation_v, range::positive);
    f.may("reverse_diode", value.reverse_diode);
}

void fields(Fields& f, StackInput& in)
{
    f.need("units", in.units, {1, 100});
    f.demandUniqueNames("units", in.units);
    f.may("earthed_node", in.earthed_node, 0, f.reading() ? static_cast<std::int64_t>(in.units.size()) : 100);
}

void fields(Fields& f, StackedUnit& out)
{
    f.need("name", out.name);
    f.may("low_v", out.low_v);
    f.may("high_v", out.high_v);
    f.need("to_earth_max_v", out.to_earth_max_v);
    f.may("isolation_use", out.isolation_use);
    f.need("isolation_verdict", out.isolation_verdict);
    f.may("diode_use", out.diode_use);
    f.may("diode_verdict", out.diode_verdict);
    f.need("shorted", out.shorted);
}

void fields(Fields& f, EarthConflict& out)
{
    f.need("from_node", out.from_node, 0, 100);
    f.need("to_node", out.to_node, 0, 100);
    f.may("shorted", out.shorted);
}

void fields(Fields& f, StackResult& out)
{
    f.need("total_v", out.total_v);
    f.need("current_limit_a", out.current_limit_a);
    f.need("limited_by", out.limited_by);
    f.need("floating", out.floating);
    f.write("nodes_v", out.nodes_v ? Json(*out.nodes_v) : Json());
    f.need("units", out.units);
    f.need("conflicts", out.conflicts);
    f.may("open_bonds", out.open_bonds);
    f.need("hazard", out.hazard);
    f.need("verdict", out.verdict);
}

} // namespace offshoot
