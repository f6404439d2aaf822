// The surge at switch-on. `inrush.direct`: what the mains, the leads and an NTC let through into an empty
// capacitor. `inrush.limiter`: a resistor with a bypass, how long it is wanted, and what if the bypass never
// closes.
//
// From a rectified sine a capacitor only takes current near the crests, so five time constants are not
// enough: τ·dx/dt = max(0, |sin ωt| − x), solved half wave by half wave in closed form.
#pragma once

#include "core/supply/mains_parts.h"
#include "core/values/usual.h"
#include "core/values/verdict.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct InrushInput
{
    double v_rms_v;
    double spread = usual_mains_spread;
    std::optional<double> source_ohm = {};
    std::optional<double> esr_ohm = {};
    std::optional<double> other_ohm = {};
    std::optional<Ntc> ntc = {};
    std::optional<double> c_f = {};
    double v0_v = 0;
    std::optional<double> i_surge_max_a = {};
    std::optional<double> breaker_trip_a = {}; ///< crest
    std::optional<double> fuse_i2t_a2s = {};
};
void fields(Fields& f, InrushInput& in);

struct InrushResult
{
    double v_peak_v;
    double r_total_ohm; ///< cold
    double i_peak_a;
    std::optional<double> ntc_cold_ohm;
    std::optional<double> ntc_hot_ohm;
    std::optional<double> i_peak_hot_a; ///< off and on again at once
    std::optional<double> tau_s;
    std::optional<double> energy_j;
    std::optional<double> i2t_a2s;
    Verdict ntc_verdict;
    Verdict surge_verdict;
    Verdict breaker_verdict;
    Verdict fuse_verdict;
};
void fields(Fields& f, InrushResult& out);

/// I_peak = (√2·V·(1 + spread) − V_0)/R_total, amperes; R(T) = R25·exp(B·(1/T − 1/298.15 K)) of an NTC
/// (thermistor datasheets). Throws nothing; a resistance of 0 is refused where the input is read.
InrushResult inrushDirect(const InrushInput& in);

enum class StuckOutcome { Survives, Opens, Burns, Unknown };
template <>
struct Words<StuckOutcome>
{
    static constexpr std::array<std::string_view, 4> list{"survives", "opens", "burns", "unknown"};
};

struct BypassRelay
{
    std::optional<double> i_make_max_a = {};
    std::optional<double> i_run_max_a = {};
    Json unknown = {};
    bool operator==(const BypassRelay&) const = default;
};
void fields(Fields& f, BypassRelay& value);

struct LimiterInput
{
    double v_rms_v;
    double spread = usual_mains_spread;
    double f_hz = 50;
    LimiterKind kind = LimiterKind::Bridge;
    double ratio = 1; ///< mains volts over secondary volts
    double c_f;       ///< each capacitor of a doubler
    std::optional<double> i_peak_max_a = {};
    std::optional<double> r_ohm = {};
    double r_other_ohm = 0;
    std::optional<double> load_w = {};
    double pf = 0.65;
    bool pf_given = false;
    std::optional<double> pulse_j = {};
    std::optional<double> power_w = {};
    bool fusible = false;
    std::optional<double> bypass_s = {};
    std::optional<BypassRelay> relay = {};

    bool operator==(const LimiterInput&) const = default;
};
void fields(Fields& f, LimiterInput& in);

struct LimiterResult
{
    double v_peak_v;
    std::optional<double> r_needed_ohm;
    double r_ohm;
    double i_peak_a;
    double tau_s;
    double energy_j;
    std::optional<double> pulse_use;
    Verdict pulse_verdict;
    double five_tau_s;
    double t95_s;
    double bypass_min_s;
    std::optional<double> residual;
    Verdict bypass_verdict;
    std::optional<double> i_close_a;
    std::optional<double> i_run_a;
    std::optional<bool> stalls;
    std::optional<double> stuck_w; ///< in the resistor when the bypass never closes
    std::optional<double> stuck_use;
    Verdict stuck_verdict;
    StuckOutcome stuck_outcome;
    double shorted_w;
    Verdict relay_verdict;
    std::vector<std::string> assumed;
};
void fields(Fields& f, LimiterResult& out);

/// τ = R_total·C/ratio², seconds; E = ½·C·V² shared by R/R_total, joules; how long until the bypass may close
/// comes from the charging near crests. What has no rating is unknown. Throws nothing.
LimiterResult inrushLimiter(const LimiterInput& in);

/// Charging of a reservoir through a resistance from a rectified sine, as a share of the crest.
class CrestCharging
{
public:
    CrestCharging(double tau_s, double f_hz, LimiterKind kind);
    /// The share reached `t_s` after a rising zero crossing.
    double at(double t_s) const;
    /// When `x` (below 1) is first reached.
    double timeOf(double x) const;

private:
    double inHalfWave(double theta, double from, double x0) const;
    double endOfCharging(double from, double x0) const;
    double meanSlope(double x) const;

    double m_a; ///< ω·τ
    double m_omega;
    double m_period_s; ///< from one conduction to the next
    bool m_mean;       ///< so slow that the mean over a cycle does
    LimiterKind m_kind;
    double m_tau_s;
};

} // namespace offshoot
