#include "core/rehearse/true_unit.h"

#include "core/calculate/rectifier_spread.h"
#include "core/evaluate/safe_view.h"
#include "core/kinds/chain/chain_view.h"
#include "core/kinds/surge_limiter/inrush_view.h"
#include "core/values/remembered.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace offshoot {

namespace {

constexpr double unlimited = std::numeric_limits<double>::infinity();
/// Of an output without its control: what a converter's own limits about leave.
constexpr double runs_away_to = 1.5;

/// Of the legs as found, by the names of divider.diagnose.
double foundLeg(const Network& network, const std::string& prefix, const std::map<std::string, double>& ohms)
{
    std::vector<double> values;
    for (std::size_t i = 0; i < network.parts().size(); ++i)
        values.push_back(ohms.at(prefix + (network.parts().size() > 1 ? std::to_string(i + 1) : "")));
    return network.ohmWith(values);
}

} // namespace

TrueUnit::TrueUnit(Job job, const Evaluation& evaluation, const Draw& draw, UnitFault fault)
    : TrueUnit(std::move(job), evaluation, draw, draw, std::move(fault))
{}

TrueUnit::TrueUnit(Job job, const Evaluation& evaluation, const Draw& draw, const Draw& shared,
                   UnitFault fault)
    : m_job(std::move(job))
    , m_planned(evaluation.unit.supply)
    , m_fault(std::move(fault))
    , m_lamp(lampInput(m_job, evaluation))
    , m_lamp_w(evaluation.lamp_w)
{
    drawSource(draw, shared);
    drawLegs(draw);
    drawRails(evaluation, draw);
    drawReservoirs(draw);
}

double TrueUnit::feedVolts(const Supply& unit)
{
    return unit.direct.mean_v.value_or(unit.direct.max_v.value_or(0));
}

double TrueUnit::pinsVolts(double off_s, bool changed) const
{
    return dcFed(changed) ? 0
                          : std::numbers::sqrt2 * m_mains_v * m_pins_share * std::exp(-off_s / m_pins_tau_s);
}

double TrueUnit::earthOhm() const { return m_fault.kind == UnitFaultKind::NoEarth ? unlimited : m_earth_ohm; }

double TrueUnit::alteredOhm(const std::string& part, double ohm, bool changed) const
{
    if (!changed || part != m_fault.part)
        return ohm;
    constexpr double decade = 10;
    switch (m_fault.kind) {
    case UnitFaultKind::Open:
    case UnitFaultKind::WrongLeg:
        return unlimited;
    case UnitFaultKind::Short:
        return 0;
    case UnitFaultKind::DecadeUp:
        return ohm * decade;
    case UnitFaultKind::DecadeDown:
        return ohm / decade;
    default:
        return ohm;
    }
}

Legs TrueUnit::legs(bool changed) const
{
    const FoundDivider divider = *m_job.found.rails.front().feedback.divider();
    if (!changed || !m_planned_legs)
        return {foundLeg(divider.top, "top", m_parts_ohm), foundLeg(divider.bottom, "bottom", m_parts_ohm)};
    const auto ohms = [&](const DiagnosedLeg& leg) {
        const NamedNetwork network = *parseNamedNetwork(leg.network);
        std::vector<double> values;
        for (const std::string& name : network.names)
            values.push_back(alteredOhm(name, m_parts_ohm.at(name), changed));
        return Network::evaluate(network.root, values);
    };
    Legs made{ohms(m_planned_legs->top), ohms(m_planned_legs->bottom)};
    if (m_fault.kind == UnitFaultKind::WrongLeg) {
        const bool on_top = std::ranges::any_of(m_planned_legs->top.parts,
                                                [&](const auto& p) { return p.first == m_fault.part; });
        double& other_ohm = on_top ? made.bottom_ohm : made.top_ohm;
        other_ohm = parallelOhm(other_ohm, m_parts_ohm.at(m_fault.part));
    }
    return made;
}

std::optional<double> TrueUnit::legOhm(bool top, bool changed) const
{
    if (m_parts_ohm.empty())
        return std::nullopt;
    const Legs made = legs(changed);
    return parallelOhm(top ? made.top_ohm : made.bottom_ohm,
                       (top ? made.bottom_ohm : made.top_ohm) + m_across_ohm);
}

const Rail& TrueUnit::rail(std::size_t at, bool changed) const
{
    const Rail& found = m_job.found.rails[at];
    const Rail* planned = changed ? railNamed(m_planned, found.name) : nullptr;
    return planned != nullptr ? *planned : found;
}

std::pair<double, double> TrueUnit::trimRange(std::size_t at, bool changed) const
{
    constexpr double usual_travel = 0.15;
    const Rail& trimmed = rail(at, changed);
    if (changed && (m_job.plan.module || m_job.plan.replace))
        return {0, unlimited}; // an adjustable module, turned over its whole range
    for (const Trimmer& trimmer : supply(changed).trimmers)
        if (std::ranges::count(trimmer.rails, trimmed.name) > 0 || (trimmer.rails.empty() && at == 0))
            return {trimmer.min_scale.value_or(1 - usual_travel),
                    trimmer.max_scale.value_or(1 + usual_travel)};
    return {1 - usual_travel, 1 + usual_travel};
}

double TrueUnit::setVolts(std::size_t at, const Connected& connected) const
{
    const TrueRail& real = m_rails[at];
    const bool changed = connected.changed;
    const bool another = changed && (m_job.plan.replace || m_job.plan.module);
    if (at == 0 && !m_parts_ohm.empty() && !another) {
        const Legs made = legs(changed);
        return runsAway(made) ? unlimited : dividerVoltage(m_v_ref_v, m_i_ref_a, made) * connected.trim[0];
    }
    const double own_v = (changed ? real.planned_v : real.found_v) * connected.trim[at];
    if (!real.follows)
        return own_v;
    const TrueRail& first = m_rails.front();
    const double nominal_v = changed ? first.planned_v : first.found_v;
    return nominal_v > 0 ? own_v * setVolts(0, connected) / nominal_v : own_v;
}

OutputSource TrueUnit::source(std::size_t at, const Connected& connected, double input_share) const
{
    const TrueRail& real = m_rails[at];
    const Supply& unit = supply(connected.changed);
    const double most_v = runs_away_to * std::max(real.found_v, real.planned_v);
    double set_v = std::min(setVolts(at, connected), most_v * std::max(1.0, connected.trim[at]));
    if (bearsLowMains(unit.topology) && unit.direct.mean_v)
        set_v = std::clamp(*unit.direct.mean_v * input_share - unit.regulator.drop_v.value_or(2), 0.0, set_v);
    // V = V₀·(1 − d·I/I_full) − r·I.
    return {set_v, real.droop_share * set_v / real.full_a + real.r_out_ohm, real.limit_a};
}

/// With I = G·V.
double TrueUnit::railVolts(std::size_t at, const Connected& connected, double input_share) const
{
    const OutputSource from = source(at, connected, input_share);
    const double load_s = connected.load_s[at];
    const double v = from.v_v / (1 + from.ohm * load_s);
    return load_s * v > from.limit_a ? from.limit_a / load_s : v;
}

OutputSource TrueUnit::output(const Connected& connected, double input_v) const
{
    const double input_share = supply(connected.changed).dcFed() ? 1 : input_v / m_mains_v;
    Connected with = connected;
    const auto chainVolts = [&](double load_s) -> std::optional<double> {
        with.load_s.front() = load_s;
        const auto steady = chainAt(with, input_share);
        return steady ? std::optional(steady->load.v.v_mean_v) : std::nullopt;
    };
    const auto open_v = chainVolts(0);
    if (!open_v)
        return source(0, connected, input_share);
    const double full_s = m_rails.front().full_a / *open_v;
    const double full_v = chainVolts(full_s).value_or(*open_v);
    return {*open_v, (*open_v - full_v) / (full_s * full_v), unlimited};
}

bool TrueUnit::trips(const Connected& connected) const
{
    for (std::size_t i = 0; i < m_rails.size(); ++i) {
        const auto& trip_v = rail(i, connected.changed).trip.v_v;
        if (trip_v && setVolts(i, connected) > *trip_v)
            return true;
    }
    return false;
}

std::optional<SteadyResult> TrueUnit::chainAt(const Connected& connected, double input_share) const
{
    std::optional<RectifierInput> in = connected.changed ? m_chain_planned : m_chain_found;
    if (!in)
        return std::nullopt;
    constexpr double unloaded_share = 1e-4;
    const double most_v = in->chain.noLoadVolts();
    in->chain.source.v_rms_v *= input_share * m_mains_v / m_job.need.mains.v_v;
    const double full_s = m_rails.front().full_a / most_v;
    in->chain.load = {.resistance_ohm = 1 / std::max(connected.load_s.front(), unloaded_share * full_s)};
    // Each reading asks what the unit gives as it runs.
    thread_local Remembered<RectifierInput, std::optional<SteadyResult>, 32> runs;
    return runs.of(*in, [](const RectifierInput& chain) -> std::optional<SteadyResult> {
        try {
            return rectifierSimulate(chain).steady;
        } catch (const DocumentError&) {
            return std::nullopt; // no steady state with that load
        }
    });
}

/// At what voltage a rail's current is taken from the unit's input. Behind a transformer that which drives
/// it, whatever is left of it at the terminals; a converter takes what it gives.
double TrueUnit::drivingVolts(std::size_t at, const Running& running, const Connected& connected) const
{
    const Supply& unit = supply(connected.changed);
    if (!bearsLowMains(unit.topology))
        return running.rails_v[at] / m_efficiency;
    const double input_share = running.unit_v / m_mains_v;
    return unit.direct.mean_v ? *unit.direct.mean_v * input_share
                              : source(at, connected, input_share).v_v / m_efficiency;
}

void TrueUnit::setRails(Running& running, const Connected& connected) const
{
    if (connected.on_s < m_warms_in_s) {
        running.rails_v.assign(m_rails.size(), 0);
        running.ripple_v.assign(m_rails.size(), 0);
        return;
    }
    const double input_share = supply(connected.changed).dcFed() ? 1 : running.unit_v / m_mains_v;
    const auto chain = chainAt(connected, input_share);
    running.load_w = 0;
    for (std::size_t i = 0; i < m_rails.size(); ++i) {
        const bool of_chain = i == 0 && chain;
        running.rails_v.push_back(of_chain ? chain->load.v.v_mean_v : railVolts(i, connected, input_share));
        const double load_a = running.rails_v.back() * connected.load_s[i];
        running.load_w += of_chain ? chain->source.power_w : load_a * drivingVolts(i, running, connected);
        running.ripple_v.push_back(of_chain ? chain->load.v.ripple_pp_v
                                            : m_rails[i].ripple_v *
                                                  std::clamp(load_a / m_rails[i].full_a, 0.2, 1.5));
    }
}

RippleSource TrueUnit::ripple(std::size_t rail, const Running& running, bool changed) const
{
    return {.pp_v = running.ripple_v[rail],
            .mains_hz = dcFed(changed) ? std::nullopt : std::optional(m_job.need.mains.f_hz),
            .switching_hz = m_switching_hz > 0 ? std::optional(m_switching_hz) : std::nullopt};
}

std::optional<SurgeSource> TrueUnit::surge(bool limiter, bool changed, double phase_rad) const
{
    const auto in = surgeAsFound(m_job);
    if (!in || dcFed(changed))
        return std::nullopt;
    double ohm = inrushDirect(*in).r_total_ohm;
    if (const auto planned = changed ? plannedLimiter(m_job) : std::nullopt)
        ohm = planned->result.r_ohm + planned->input.r_other_ohm;
    if (limiter && m_lamp_w)
        ohm += lamp_cold_share * m_mains_v * m_mains_v / *m_lamp_w;
    return SurgeSource{.v_rms_v = m_mains_v,
                       .f_hz = m_job.need.mains.f_hz,
                       .ohm = ohm,
                       .c_f = *in->c_f * m_reservoir_share,
                       .phase_rad = phase_rad};
}

/// A transformer's unit is as a resistance at each voltage, though not the same at all: a regulator holds its
/// current until it drops out.
LampState TrueUnit::behindLamp(const Running& at_full, const Connected& connected) const
{
    LampLimitInput in = m_lamp;
    in.lamps_w = {*m_lamp_w};
    in.mains_v = m_mains_v;
    in.load_w = 0;
    const auto with = [&](double load_w) {
        in.idle_w = m_idle_w + m_leak_w + load_w;
        return lampLimit(in).idle;
    };
    LampState state = with(at_full.load_w);
    if (in.unit == LampUnit::ConstantPower || (connected.changed ? m_chain_planned : m_chain_found))
        return state;
    constexpr int halvings = 40;
    double low_v = 0;
    double high_v = m_mains_v;
    for (int i = 0; i < halvings; ++i) {
        const double unit_v = (low_v + high_v) / 2;
        const double share = unit_v / m_mains_v;
        Running now{.unit_v = unit_v};
        setRails(now, connected);
        state = with(now.load_w / (share * share));
        (*state.v_unit_v > unit_v ? low_v : high_v) = unit_v;
    }
    return state;
}

Running TrueUnit::running(const Connected& connected) const
{
    Running out;
    const Supply& unit = supply(connected.changed);
    const bool dc = unit.dcFed();
    out.unit_v = dc ? feedVolts(unit) : m_mains_v;
    const auto off = [&](Running::How how) {
        out.how = how;
        out.rails_v.assign(m_rails.size(), 0);
        out.ripple_v.assign(m_rails.size(), 0);
        return out;
    };
    if (m_fault.kind == UnitFaultKind::ShortedInput) {
        out.unit_v = 0;
        if (connected.limiter)
            out.glow = Glow::Bright;
        return off(connected.limiter ? Running::How::Short : Running::How::BlowsFuse);
    }
    if (connected.changed && m_fault.kind == UnitFaultKind::OpenLink) {
        if (connected.limiter && !dc)
            out.glow = Glow::Dark;
        return off(Running::How::Open);
    }
    if (trips(connected)) {
        if (connected.limiter && !dc)
            out.glow = Glow::Pulsing;
        return off(Running::How::Hiccups);
    }
    setRails(out, connected);
    out.taken_w = m_idle_w + m_leak_w + out.load_w;
    out.line_a = out.unit_v > 0 ? out.taken_w / out.unit_v : 0;
    if (!dc && connected.limiter && m_lamp_w) {
        const LampState lamp = behindLamp(out, connected);
        out.glow = lamp.glow;
        if (!lamp.v_unit_v) {
            out.glow = Glow::Pulsing;
            return off(Running::How::Hiccups);
        }
        out.unit_v = *lamp.v_unit_v;
        out.line_a = *lamp.i_a;
        out.taken_w = out.unit_v * out.line_a;
        out.rails_v.clear();
        out.ripple_v.clear();
        setRails(out, connected);
    }
    return out;
}

double runShare(const Job& job, const Evaluation& evaluation)
{
    const auto& output_v = evaluation.planned_v;
    if (!evaluation.load_v || !output_v || *output_v <= 0 || job.plan.remote_sense)
        return 1;
    return *evaluation.load_v / *output_v;
}

Draw suitedDraw(const Job& job, const Evaluation& evaluation, const Draw& seed)
{
    const auto target = unitTarget(job);
    if (!target || !evaluation.planned_v || job.plan.trim || job.plan.join)
        return seed;
    const double arrives = runShare(job, evaluation);
    if (!within(*evaluation.planned_v * arrives, target->min_v, target->max_v))
        return seed; // the plan itself is not what is asked for
    const double load_a = evaluation.own_current_a.value_or(0);
    constexpr int most = 24;
    for (int i = 0; i < most; ++i) {
        const Draw draw = i == 0 ? seed : seed.within("suited " + std::to_string(i));
        const TrueUnit unit(job, evaluation, draw, UnitFault{});
        Connected connected{.changed = true, .on_s = unit.warmsInS()};
        connected.load_s.assign(job.found.rails.size(), 0);
        connected.load_s.front() = load_a / *evaluation.planned_v;
        connected.trim.assign(job.found.rails.size(), 1);
        const Running running = unit.running(connected);
        if (running.how == Running::How::Runs &&
            within(running.rails_v.front() * arrives, target->min_v, target->max_v))
            return draw;
    }
    return seed;
}

} // namespace offshoot
