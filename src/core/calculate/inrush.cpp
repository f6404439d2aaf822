#include "core/calculate/inrush.h"

#include "core/calculate/mains_fuse.h"
#include "core/values/bisect.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace offshoot {

namespace {

constexpr double charged = 0.95;
constexpr UseBounds residual_bounds{0.05, 0.20};
/// Beyond this product of time constant and frequency the mean over a cycle is good to 0.2 %.
constexpr double mean_from = 1000;

double crest(double v_rms_v, double spread) { return std::numbers::sqrt2 * v_rms_v * (1 + spread); }

} // namespace

InrushResult inrushDirect(const InrushInput& in)
{
    InrushResult out{};
    out.v_peak_v = crest(in.v_rms_v, in.spread);
    const double step_v = std::max(0.0, out.v_peak_v - in.v0_v);
    out.r_total_ohm = in.source_ohm.value_or(0) + in.esr_ohm.value_or(0) + in.other_ohm.value_or(0);
    if (in.ntc) {
        out.ntc_cold_ohm = in.ntc->ohmAt(in.ntc->t_cold_k);
        out.r_total_ohm += *out.ntc_cold_ohm;
        if (in.ntc->t_hot_k) {
            out.ntc_hot_ohm = in.ntc->ohmAt(*in.ntc->t_hot_k);
            out.i_peak_hot_a = step_v / (out.r_total_ohm - *out.ntc_cold_ohm + *out.ntc_hot_ohm);
        }
    }
    out.i_peak_a = step_v / out.r_total_ohm;
    std::optional<double> first_charge_j;
    if (in.c_f) {
        out.tau_s = out.r_total_ohm * *in.c_f;
        out.energy_j = 0.5 * *in.c_f * step_v * step_v;
        out.i2t_a2s = *out.energy_j / out.r_total_ohm;
        first_charge_j = 0.5 * *in.c_f * out.v_peak_v * out.v_peak_v;
    }
    const double larger_a = std::max(out.i_peak_a, out.i_peak_hot_a.value_or(0));
    out.ntc_verdict =
        judgeUse(useOf(first_charge_j, in.ntc ? in.ntc->energy_max_j : std::nullopt), default_bounds);
    out.surge_verdict = judgeUse(useOf(larger_a, in.i_surge_max_a), default_bounds);
    out.breaker_verdict = judgeUse(useOf(larger_a, in.breaker_trip_a), default_bounds);
    out.fuse_verdict = judgeUse(useOf(out.i2t_a2s, in.fuse_i2t_a2s), melting_bounds);
    return out;
}

// ---- charging near the crests

CrestCharging::CrestCharging(double tau_s, double f_hz, LimiterKind kind)
    : m_a(2 * std::numbers::pi * f_hz * tau_s)
    , m_omega(2 * std::numbers::pi * f_hz)
    , m_period_s((kind == LimiterKind::Bridge ? 0.5 : 1.0) / f_hz)
    , m_mean(tau_s * f_hz > mean_from)
    , m_kind(kind)
    , m_tau_s(tau_s)
{}

/// a·dx/dθ + x = sin θ from x0 at `from`.
double CrestCharging::inHalfWave(double theta, double from, double x0) const
{
    const auto settled = [this](double t) { return (std::sin(t) - m_a * std::cos(t)) / (1 + m_a * m_a); };
    return settled(theta) + (x0 - settled(from)) * std::exp((from - theta) / m_a);
}

/// Where the mains has come down to what is charged from it since `from`.
double CrestCharging::endOfCharging(double from, double x0) const
{
    return bisect(std::numbers::pi / 2, std::numbers::pi,
                  [&](double theta) { return inHalfWave(theta, from, x0) < std::sin(theta); });
}

/// Mean of max(0, |sin| − x) over a cycle.
double CrestCharging::meanSlope(double x) const
{
    const double both = 2 / std::numbers::pi * (std::sqrt((1 - x) * (1 + x)) - x * std::acos(x));
    return m_kind == LimiterKind::Bridge ? both : both / 2;
}

namespace {

/// One step of the mean equation in y = 1 − x, fourth order.
template <class Slope>
double stepMean(double x, double h, Slope slope)
{
    const auto at = [&slope](double v) { return slope(std::clamp(v, 0.0, 1.0)); };
    const double k1 = at(x);
    const double k2 = at(x + h / 2 * k1);
    const double k3 = at(x + h / 2 * k2);
    const double k4 = at(x + h * k3);
    return std::min(1.0, x + h / 6 * (k1 + 2 * k2 + 2 * k3 + k4));
}

/// Half waves followed one by one; after them the mean over a cycle does, for the share changes slowly.
constexpr int most_half_waves = 40000;

} // namespace

double CrestCharging::at(double t_s) const
{
    double x = 0;
    double done_s = 0;
    if (!m_mean) {
        for (int k = 0; k < most_half_waves && done_s + m_period_s * 1e-12 < t_s; ++k) {
            const double from = std::asin(x);
            const double until = std::min((t_s - done_s) * m_omega, std::numbers::pi);
            if (until <= from)
                return x;
            const double end = endOfCharging(from, x);
            if (until < end)
                return inHalfWave(until, from, x);
            x = std::min(1.0, inHalfWave(end, from, x));
            done_s += m_period_s;
        }
    }
    // The rest by the mean: steps that grow with the time passed.
    double left = std::max(0.0, t_s - done_s) / m_tau_s;
    double h = 0.01;
    while (left > 0 && x < 1) {
        const double step = std::min(h, left);
        x = stepMean(x, step, [this](double v) { return meanSlope(v); });
        left -= step;
        h *= 1.01;
    }
    return x;
}

double CrestCharging::timeOf(double wanted) const
{
    double x = 0;
    if (m_mean) {
        double t = 0;
        constexpr double h = 0.005;
        while (true) {
            const double next = stepMean(x, h, [this](double v) { return meanSlope(v); });
            if (next >= wanted)
                return (t + h * (wanted - x) / (next - x)) * m_tau_s;
            x = next;
            t += h;
        }
    }
    for (int k = 0;; ++k) {
        const double from = std::asin(x);
        const double end = endOfCharging(from, x);
        const double reached = inHalfWave(end, from, x);
        if (reached >= wanted) {
            const double theta =
                bisect(from, end, [&](double angle) { return inHalfWave(angle, from, x) < wanted; });
            return k * m_period_s + theta / m_omega;
        }
        x = reached;
    }
}

// ---- limiter with a bypass

namespace {

void setStuck(const LimiterInput& in, double r_total_ohm, LimiterResult& out)
{
    const double v = in.v_rms_v;
    out.shorted_w = (v / r_total_ohm) * (v / r_total_ohm) * out.r_ohm;
    out.stuck_verdict = Verdict::Unknown;
    out.stuck_outcome = StuckOutcome::Unknown;
    if (!in.load_w)
        return;
    if (!in.pf_given)
        out.assumed.emplace_back("pf");
    const double s_va = *in.load_w / in.pf;
    out.i_run_a = s_va / v;
    const double root = v * v - 4 * r_total_ohm * s_va;
    out.stalls = root < -limit_share * v * v;
    // 2·S/(V + √…) is (V − √…)/(2·R) without the difference of two like numbers.
    const double i_a = *out.stalls ? v / (2 * r_total_ohm) : 2 * s_va / (v + std::sqrt(std::max(0.0, root)));
    out.stuck_w = i_a * i_a * out.r_ohm;
    out.stuck_use = useOf(out.stuck_w, in.power_w);
    out.stuck_verdict = judgeUse(out.stuck_use, resistor_power_bounds);
    if (out.stuck_use)
        out.stuck_outcome = atMost(*out.stuck_use, 1) ? StuckOutcome::Survives
                            : in.fusible              ? StuckOutcome::Opens
                                                      : StuckOutcome::Burns;
}

void setBypass(const LimiterInput& in, const CrestCharging& charging, LimiterResult& out)
{
    out.bypass_verdict = Verdict::Unknown;
    if (!in.bypass_s)
        return;
    out.residual = 1 - charging.at(*in.bypass_s);
    out.bypass_verdict = judgeUse(*out.residual, residual_bounds);
    if (in.r_other_ohm > 0)
        out.i_close_a = *out.residual * out.v_peak_v / in.r_other_ohm;
}

} // namespace

LimiterResult inrushLimiter(const LimiterInput& in)
{
    LimiterResult out{};
    out.v_peak_v = crest(in.v_rms_v, in.spread);
    if (in.i_peak_max_a)
        out.r_needed_ohm = std::max(0.0, out.v_peak_v / *in.i_peak_max_a - in.r_other_ohm);
    out.r_ohm = in.r_ohm ? *in.r_ohm : *out.r_needed_ohm;
    const double r_total_ohm = out.r_ohm + in.r_other_ohm;
    out.i_peak_a = out.v_peak_v / r_total_ohm;
    out.tau_s = r_total_ohm * in.c_f / (in.ratio * in.ratio);
    const double v_c = out.v_peak_v / in.ratio;
    const double capacitors = in.kind == LimiterKind::Doubler ? 2 : 1;
    out.energy_j = capacitors * 0.5 * in.c_f * v_c * v_c * out.r_ohm / r_total_ohm;
    out.pulse_use = useOf(out.energy_j, in.pulse_j);
    out.pulse_verdict = judgeUse(out.pulse_use, default_bounds);
    const CrestCharging charging(out.tau_s, in.f_hz, in.kind);
    out.five_tau_s = 5 * out.tau_s;
    out.t95_s = charging.timeOf(charged);
    out.bypass_min_s = std::max(out.five_tau_s, out.t95_s);
    setBypass(in, charging, out);
    setStuck(in, r_total_ohm, out);
    const BypassRelay relay = in.relay.value_or(BypassRelay{});
    out.relay_verdict = worse(judgeUse(useOf(out.i_close_a, relay.i_make_max_a), default_bounds),
                              judgeUse(useOf(out.i_run_a, relay.i_run_max_a), default_bounds));
    return out;
}

// ---- documents

void fields(Fields& f, InrushInput& in)
{
    f.need("v_rms_v", in.v_rms_v, range::positive);
    f.may("spread", in.spread, range::fraction);
    f.may("source_ohm", in.source_ohm, range::positive);
    f.may("esr_ohm", in.esr_ohm, range::positive);
    f.may("other_ohm", in.other_ohm, range::positive);
    f.may("ntc", in.ntc);
    f.may("c_f", in.c_f, range::positive);
    f.may("v0_v", in.v0_v, range::not_negative);
    f.may("i_surge_max_a", in.i_surge_max_a, range::positive);
    f.may("breaker_trip_a", in.breaker_trip_a, range::positive);
    f.may("fuse_i2t_a2s", in.fuse_i2t_a2s, range::positive);
    f.demand(in.source_ohm || in.esr_ohm || in.other_ohm || in.ntc, ErrorCode::Missing, "source_ohm",
             "some resistance is wanted");
}

void fields(Fields& f, InrushResult& out)
{
    f.need("v_peak_v", out.v_peak_v);
    f.need("r_total_ohm", out.r_total_ohm);
    f.need("i_peak_a", out.i_peak_a);
    f.may("ntc_cold_ohm", out.ntc_cold_ohm);
    f.may("ntc_hot_ohm", out.ntc_hot_ohm);
    f.may("i_peak_hot_a", out.i_peak_hot_a);
    f.may("tau_s", out.tau_s);
    f.may("energy_j", out.energy_j);
    f.may("i2t_a2s", out.i2t_a2s);
    f.need("ntc_verdict", out.ntc_verdict);
    f.need("surge_verdict", out.surge_verdict);
    f.need("breaker_verdict", out.breaker_verdict);
    f.need("fuse_verdict", out.fuse_verdict);
}

void fields(Fields& f, BypassRelay& value)
{
    f.may("i_make_max_a", value.i_make_max_a, range::positive);
    f.may("i_run_max_a", value.i_run_max_a, range::positive);
}

void fields(Fields& f, LimiterInput& in)
{
    f.need("v_rms_v", in.v_rms_v, range::positive);
    f.may("spread", in.spread, range::fraction);
    f.may("f_hz", in.f_hz, mains_hz);
    f.may("kind", in.kind);
    f.may("ratio", in.ratio, {1e-3, 1e3});
    f.need("c_f", in.c_f, range::positive);
    f.may("i_peak_max_a", in.i_peak_max_a, range::positive);
    f.may("r_ohm", in.r_ohm, range::positive);
    f.may("r_other_ohm", in.r_other_ohm, range::not_negative);
    f.may("load_w", in.load_w, range::not_negative);
    f.may("pf", in.pf, {0.05, 1});
    if (f.reading())
        in.pf_given = f.present("pf");
    f.may("pulse_j", in.pulse_j, range::positive);
    f.may("power_w", in.power_w, range::positive);
    f.may("fusible", in.fusible);
    f.may("bypass_s", in.bypass_s, range::not_negative);
    f.may("relay", in.relay);
    f.demand(in.i_peak_max_a || in.r_ohm, ErrorCode::Missing, "i_peak_max_a",
             "the resistor or the peak wanted, one of them");
    if (f.reading() && !in.r_ohm) {
        const double needed = crest(in.v_rms_v, in.spread) / *in.i_peak_max_a - in.r_other_ohm;
        f.demand(needed > 0 || in.r_other_ohm > 0, ErrorCode::Inconsistent, "r_other_ohm",
                 "no resistance is left in the path");
    }
}

void fields(Fields& f, LimiterResult& out)
{
    f.need("v_peak_v", out.v_peak_v);
    f.may("r_needed_ohm", out.r_needed_ohm);
    f.need("r_ohm", out.r_ohm);
    f.need("i_peak_a", out.i_peak_a);
    f.need("tau_s", out.tau_s);
    f.need("energy_j", out.energy_j);
    f.may("pulse_use", out.pulse_use);
    f.need("pulse_verdict", out.pulse_verdict);
    f.need("five_tau_s", out.five_tau_s);
    f.need("t95_s", out.t95_s);
    f.need("bypass_min_s", out.bypass_min_s);
    f.may("residual", out.residual);
    f.need("bypass_verdict", out.bypass_verdict);
    f.may("i_close_a", out.i_close_a);
    f.may("i_run_a", out.i_run_a);
    f.may("stalls", out.stalls);
    f.may("stuck_w", out.stuck_w);
    f.may("stuck_use", out.stuck_use);
    f.need("stuck_verdict", out.stuck_verdict);
    f.need("stuck_outcome", out.stuck_outcome);
    f.need("shorted_w", out.shorted_w);
    f.need("relay_verdict", out.relay_verdict);
    f.may("assumed", out.assumed);
}

} // namespace offshoot
