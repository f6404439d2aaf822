#include "core/calculate/sense.h"

#include <algorithm>
#include <numbers>

namespace offshoot {

namespace {

constexpr UseBounds ceiling_bounds{0.98, 1.00};
/// The pole of leads and load capacitor, in shares of the loop's bandwidth.
constexpr UseBounds loop_bounds{0.1, sense_loop_breaks};
constexpr double ovp_fits_below = 0.90;
constexpr double ovp_breaks_from = 0.95;

class Sense
{
public:
    explicit Sense(const SenseInput& in)
        : m_in(in)
        , m_positive_v(in.current_a * in.r_positive_ohm)
        , m_negative_v(in.current_a * in.r_negative_ohm)
    {}

    SenseResult run() const
    {
        SenseResult out{};
        out.drop_v = m_positive_v + m_negative_v;
        for (std::size_t i = 0; i < Words<SenseState>::list.size(); ++i)
            out.states.push_back(outcome(static_cast<SenseState>(i)));
        const SenseOutcome& remote = out.states.front();
        const double terminal_v = *remote.v_terminal_v;
        out.range_use = useOf(out.drop_v, m_in.sense_range_v);
        out.range_verdict = judgeUse(out.range_use, default_bounds);
        out.ceiling_verdict = judgeUse(useOf(terminal_v, m_in.ceiling_v), ceiling_bounds);
        out.ovp_verdict = ovpVerdict(terminal_v);
        out.power_w = terminal_v * m_in.current_a;
        out.power_verdict = judgeUse(useOf(out.power_w, m_in.rated_w), default_bounds);
        out.regulation_local = out.drop_v / m_in.v_set_v;
        if (m_in.bandwidth_hz && m_in.load_capacitor_f)
            out.loop_use = 2 * std::numbers::pi * *m_in.bandwidth_hz *
                           (m_in.r_positive_ohm + m_in.r_negative_ohm) * *m_in.load_capacitor_f;
        out.loop_verdict = judgeUse(out.loop_use, loop_bounds);
        out.verdict = Verdict::Unknown;
        for (const Verdict verdict : {remote.verdict, out.range_verdict, out.ceiling_verdict, out.ovp_verdict,
                                      out.power_verdict, out.loop_verdict})
            if (verdict != Verdict::Unknown)
                out.verdict = out.verdict == Verdict::Unknown ? verdict : worse(out.verdict, verdict);
        return out;
    }

private:
    SenseOutcome outcome(SenseState state) const
    {
        SenseOutcome out{state, std::nullopt, std::nullopt, false, Verdict::Breaks};
        const auto v_load = loadVoltage(state);
        if (!v_load) {
            out.runaway = true;
            return out;
        }
        out.v_load_v = *v_load;
        out.v_terminal_v = *v_load + m_positive_v + m_negative_v;
        out.verdict = verdictOf(*out.v_load_v, *out.v_terminal_v);
        return out;
    }

    /// Nothing where the loop has lost its output and drives it to the ceiling.
    std::optional<double> loadVoltage(SenseState state) const
    {
        switch (state) {
        case SenseState::Local:
            return m_in.v_set_v - m_positive_v - m_negative_v;
        case SenseState::Reversed:
            return std::nullopt;
        case SenseState::Remote:
        case SenseState::PositiveOpen:
        case SenseState::NegativeOpen:
        case SenseState::BothOpen:
            break;
        }
        const bool positive_open = state == SenseState::PositiveOpen || state == SenseState::BothOpen;
        const bool negative_open = state == SenseState::NegativeOpen || state == SenseState::BothOpen;
        if (!m_in.r_fallback_ohm && (positive_open || negative_open))
            return std::nullopt;
        return m_in.v_set_v - pinError(m_positive_v, positive_open) - pinError(m_negative_v, negative_open);
    }

    /// How far one pin misses the load's terminal, in volts.
    double pinError(double lead_drop_v, bool open) const
    {
        if (!m_in.r_fallback_ohm)
            return -m_in.sense_current_a * m_in.r_sense_lead_ohm;
        const double fallback_ohm = *m_in.r_fallback_ohm;
        const double k = open ? 1 : m_in.r_sense_lead_ohm / (m_in.r_sense_lead_ohm + fallback_ohm);
        return k * (lead_drop_v - m_in.sense_current_a * fallback_ohm);
    }

    Verdict verdictOf(double v_load_v, double v_terminal_v) const
    {
        if (m_in.ceiling_v && !atMost(v_terminal_v, *m_in.ceiling_v))
            return Verdict::Breaks;
        if (ovpVerdict(v_terminal_v) == Verdict::Breaks)
            return Verdict::Breaks;
        if (!m_in.window)
            return Verdict::Unknown;
        return within(v_load_v, m_in.window->min_v, m_in.window->max_v) ? Verdict::Fits : Verdict::Breaks;
    }

    Verdict ovpVerdict(double terminal_v) const
    {
        if (!m_in.ovp_v)
            return Verdict::Unknown;
        if (atLeast(terminal_v, ovp_breaks_from * *m_in.ovp_v))
            return Verdict::Breaks;
        return atLeast(terminal_v, ovp_fits_below * *m_in.ovp_v) ? Verdict::Tight : Verdict::Fits;
    }

    const SenseInput& m_in;
    double m_positive_v; ///< dropped in the lead there
    double m_negative_v; ///< and back
};

} // namespace

SenseResult sensePlan(const SenseInput& in) { return Sense(in).run(); }

void fields(Fields& f, SenseWindow& value)
{
    f.need("min_v", value.min_v);
    f.need("max_v", value.max_v);
    f.demand(value.min_v <= value.max_v, ErrorCode::Inconsistent, {}, "min_v is above max_v");
}

void fields(Fields& f, SenseInput& in)
{
    f.need("v_set_v", in.v_set_v, range::positive);
    f.need("current_a", in.current_a, range::not_negative);
    f.need("r_positive_ohm", in.r_positive_ohm, range::not_negative);
    f.need("r_negative_ohm", in.r_negative_ohm, range::not_negative);
    f.may("r_sense_lead_ohm", in.r_sense_lead_ohm, range::not_negative);
    f.may("r_fallback_ohm", in.r_fallback_ohm, range::positive);
    f.may("sense_current_a", in.sense_current_a, range::not_negative);
    f.may("sense_range_v", in.sense_range_v, range::positive);
    f.may("ceiling_v", in.ceiling_v, range::positive);
    f.may("ovp_v", in.ovp_v, range::positive);
    f.may("rated_w", in.rated_w, range::positive);
    f.may("load_capacitor_f", in.load_capacitor_f, range::positive);
    f.may("bandwidth_hz", in.bandwidth_hz, range::positive);
    f.may("window", in.window);
}

void fields(Fields& f, SenseOutcome& out)
{
    f.need("state", out.state);
    f.may("v_load_v", out.v_load_v);
    f.may("v_terminal_v", out.v_terminal_v);
    f.need("runaway", out.runaway);
    f.need("verdict", out.verdict);
}

void fields(Fields& f, SenseResult& out)
{
    f.need("drop_v", out.drop_v);
    f.need("states", out.states);
    f.may("range_use", out.range_use);
    f.need("range_verdict", out.range_verdict);
    f.need("ceiling_verdict", out.ceiling_verdict);
    f.need("ovp_verdict", out.ovp_verdict);
    f.need("power_w", out.power_w);
    f.need("power_verdict", out.power_verdict);
    f.need("regulation_local", out.regulation_local);
    f.may("loop_use", out.loop_use);
    f.need("loop_verdict", out.loop_verdict);
    f.need("verdict", out.verdict);
}

} // namespace offshoot
