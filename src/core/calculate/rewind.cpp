#include "core/calculate/rewind.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace offshoot {

namespace {

constexpr std::int64_t most_turns = 10000;

class Rewind
{
public:
    explicit Rewind(const RewindInput& in)
        : m_in(in)
        , m_found_v(in.found.v + in.found.v_f_v.value_or(0))
        , m_v_f_v(in.wanted.v_f_v.value_or(in.found.v_f_v.value_or(0)))
        , m_wanted_v(in.wanted.v + m_v_f_v)
        , m_found_turns(static_cast<double>(in.secondary_turns))
    {}

    RewindResult run() const
    {
        RewindResult result{};
        result.ideal_turns = m_found_turns * m_wanted_v / m_found_v;
        for (std::int64_t turns : candidates(result.ideal_turns))
            result.options.push_back(option(turns));
        result.best_turns = best(result)->turns;
        return result;
    }

private:
    /// The whole numbers nearest to the ideal (ties: the lower), and the found one; ascending.
    std::set<std::int64_t> candidates(double ideal) const
    {
        std::set<std::int64_t> turns{m_in.secondary_turns};
        std::int64_t below = static_cast<std::int64_t>(std::floor(ideal));
        std::int64_t above = below + 1;
        for (std::int64_t i = 0; i < m_in.count; ++i) {
            const bool lower =
                below >= 1 && ideal - static_cast<double>(below) <= static_cast<double>(above) - ideal;
            turns.insert(lower ? below-- : above++);
        }
        return turns;
    }

    RewindOption option(std::int64_t whole) const
    {
        const double turns = static_cast<double>(whole);
        RewindOption o{};
        o.turns = whole;
        const bool line = m_in.topology == WoundTopology::Line;
        o.volts_per_turn = line ? m_found_v / m_found_turns : m_wanted_v / turns;
        o.v = line ? m_found_v * turns / m_found_turns - m_v_f_v : m_in.wanted.v;
        o.error_v = o.v - m_in.wanted.v;
        if (m_in.found.i_a && m_in.wanted.i_a) {
            o.wire_area_scale = *m_in.wanted.i_a / *m_in.found.i_a;
            o.fill_scale = turns / m_found_turns * *o.wire_area_scale;
        }
        stresses(o, turns);
        judge(o);
        return o;
    }

    void stresses(RewindOption& o, double turns) const
    {
        const bool flyback = m_in.topology == WoundTopology::Flyback;
        if (m_in.topology == WoundTopology::Line)
            return;
        if (m_in.primary_turns) {
            const double ratio = static_cast<double>(*m_in.primary_turns) / turns;
            if (flyback)
                o.reflected_v = m_wanted_v * ratio;
            if (m_in.v_in_max_v) {
                if (flyback)
                    o.switch_v = *m_in.v_in_max_v + *o.reflected_v + m_in.spike_v;
                o.rectifier_reverse_v = (flyback ? m_in.wanted.v : 0) + *m_in.v_in_max_v / ratio;
            }
        }
        if (flyback && m_in.aux)
            o.v_cc_v = m_wanted_v * static_cast<double>(m_in.aux->turns) / turns - m_in.aux->v_f_v;
    }

    void judge(RewindOption& o) const
    {
        if (m_in.topology == WoundTopology::Line)
            return;
        o.rectifier_verdict = judgeUse(useOf(o.rectifier_reverse_v, m_in.rectifier_v));
        if (m_in.topology == WoundTopology::Flyback)
            o.switch_verdict = judgeUse(useOf(o.switch_v, m_in.switch_v));
        if (o.v_cc_v)
            o.vcc_verdict = judgeAuxiliary(*o.v_cc_v);
        for (const auto& verdict : {o.vcc_verdict, o.switch_verdict, o.rectifier_verdict})
            if (verdict)
                o.verdict = worse(o.verdict.value_or(Verdict::Fits), *verdict);
    }

    Verdict judgeAuxiliary(double v_cc_v) const
    {
        constexpr double lockout_margin = 1.1;
        constexpr double use_margin = 0.8;
        if (!within(v_cc_v, m_in.aux->min_v, m_in.aux->max_v))
            return Verdict::Breaks;
        return within(v_cc_v, lockout_margin * m_in.aux->min_v, use_margin * m_in.aux->max_v)
                   ? Verdict::Fits
                   : Verdict::Tight;
    }

    std::vector<RewindOption>::const_iterator best(const RewindResult& result) const
    {
        const auto rank = [this](const RewindOption& o) {
            if (m_in.topology == WoundTopology::Line)
                return std::abs(o.error_v);
            static constexpr std::array<double, 4> order{0, 1, 3, 2}; // fits, tight, breaks, unknown
            return order.at(static_cast<std::size_t>(o.verdict.value_or(Verdict::Fits)));
        };
        const auto key = [&](const RewindOption& o) {
            return std::tuple(rank(o), std::abs(static_cast<double>(o.turns) - result.ideal_turns), o.turns);
        };
        return std::ranges::min_element(result.options, {}, key);
    }

    const RewindInput& m_in;
    double m_found_v; ///< with the rectifier's drop
    double m_v_f_v;
    double m_wanted_v; ///< likewise
    double m_found_turns;
};

} // namespace

RewindResult rewindOptions(const RewindInput& in) { return Rewind(in).run(); }

void fields(Fields& f, WoundOutput& value)
{
    f.need("v", value.v, range::positive);
    f.may("v_f_v", value.v_f_v, range::not_negative);
    f.may("i_a", value.i_a, range::positive);
}

void fields(Fields& f, AuxiliaryWinding& value)
{
    f.need("turns", value.turns, 1, most_turns);
    f.may("v_f_v", value.v_f_v, range::not_negative);
    f.need("min_v", value.min_v, range::positive);
    f.need("max_v", value.max_v, range::positive);
    f.demand(value.min_v <= value.max_v, ErrorCode::Inconsistent, {}, "min_v is above max_v");
}

void fields(Fields& f, RewindInput& in)
{
    f.need("topology", in.topology);
    f.need("secondary_turns", in.secondary_turns, 1, most_turns);
    f.need("found", in.found);
    f.need("wanted", in.wanted);
    f.may("aux", in.aux);
    f.may("primary_turns", in.primary_turns, 1, most_turns);
    f.may("v_in_max_v", in.v_in_max_v, range::positive);
    f.may("spike_v", in.spike_v, range::not_negative);
    f.may("switch_v", in.switch_v, range::positive);
    f.may("rectifier_v", in.rectifier_v, range::positive);
    f.may("count", in.count, 1, 50);
}

void fields(Fields& f, RewindOption& out)
{
    f.need("turns", out.turns, 1, most_turns);
    f.need("v", out.v);
    f.need("error_v", out.error_v);
    f.need("volts_per_turn", out.volts_per_turn);
    f.may("reflected_v", out.reflected_v);
    f.may("switch_v", out.switch_v);
    f.may("rectifier_reverse_v", out.rectifier_reverse_v);
    f.may("v_cc_v", out.v_cc_v);
    f.may("wire_area_scale", out.wire_area_scale);
    f.may("fill_scale", out.fill_scale);
    f.may("vcc_verdict", out.vcc_verdict);
    f.may("switch_verdict", out.switch_verdict);
    f.may("rectifier_verdict", out.rectifier_verdict);
    f.may("verdict", out.verdict);
}

void fields(Fields& f, RewindResult& out)
{
    f.need("ideal_turns", out.ideal_turns);
    f.need("best_turns", out.best_turns, 1, most_turns);
    f.need("options", out.options);
}

} // namespace offshoot
