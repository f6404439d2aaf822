#include "core/kinds/surge_limiter/inrush_view.h"

#include "core/calculate/part_search.h"
#include "core/calculate/rectifier.h"
#include "core/values/figures.h"
#include "core/values/remembered.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace offshoot {

namespace {

constexpr std::int64_t curve_points = 500;

/// At the crest of the highest mains.
SurgeCurve crestSurge(const Job& job, double r_ohm, double c_f, double t_end_s)
{
    const Mains& mains = job.need.mains;
    return surgeCurve(mains.highest(), mains.f_hz, r_ohm, c_f, t_end_s, std::numbers::pi / 2);
}

std::string stuckText(const LimiterResult& r)
{
    if (!r.stuck_w)
        return "If the bypass never closes: enter what the load draws.";
    std::string text = "If the bypass never closes: ";
    text += *r.stalls ? "the supply stalls, " : "the supply runs, ";
    text += watts(*r.stuck_w) + " in the resistor";
    switch (r.stuck_outcome) {
    case StuckOutcome::Survives:
        return text + ", which it survives.";
    case StuckOutcome::Opens:
        return text + ": it opens, as a fusible one should.";
    case StuckOutcome::Burns:
        return text + ": it burns. Take a fusible one, or one that bears it.";
    case StuckOutcome::Unknown:
        break;
    }
    return text + "; enter its power rating.";
}

std::string surgeSentence(const Job& job, const InrushView& view)
{
    const InrushResult& d = *view.direct;
    std::string text = "Switched on at the crest it draws up to " +
                       amps(std::max(d.i_peak_a, d.i_peak_hot_a.value_or(0))) + " as it is";
    const Verdict worst =
        worse(worse(d.surge_verdict, d.breaker_verdict), worse(d.fuse_verdict, d.ntc_verdict));
    if (d.breaker_verdict == Verdict::Breaks)
        text += ": the breaker trips";
    else if (d.fuse_verdict == Verdict::Breaks)
        text += ": the fuse goes";
    else if (worst == Verdict::Breaks)
        text += ", more than a part bears";
    text += ". ";
    if (view.limiter && job.plan.limiter)
        text += "Through " + formatOhms(view.limiter->r_ohm) + ": " + amps(view.limiter->i_peak_a) +
                ", bypass not before " + formatValue(view.limiter->bypass_min_s, Quantity::Time) + ".";
    return text;
}

/// The relay's delay with the tolerances of usual parts; nothing until its figures fit together.
std::optional<DelayInput> delayInput(const LimiterPlan& plan)
{
    constexpr double usual_c_tolerance = 0.2;
    constexpr double usual_r_tolerance = 0.05;
    constexpr double discharge_ohm = 1000;
    if (!plan.bypass_s || *plan.bypass_s <= 0 || !plan.delay_c_f || !plan.delay_supply_v ||
        !plan.delay_threshold_v || *plan.delay_threshold_v >= *plan.delay_supply_v)
        return std::nullopt;
    return DelayInput{.c_f = *plan.delay_c_f,
                      .t_s = plan.bypass_s,
                      .v_supply_v = *plan.delay_supply_v,
                      .v_threshold_v = *plan.delay_threshold_v,
                      .r_tolerance = usual_r_tolerance,
                      .c_tolerance = usual_c_tolerance,
                      .r_discharge_ohm = discharge_ohm};
}

/// The nearest one or two parts; fewer parts where they are as near. Nothing where none comes within a tenth.
std::optional<DelayParts> delayParts(DelayInput in, double wanted_ohm, const std::vector<StockItem>& drawer)
{
    const auto error = [wanted_ohm](double ohm) { return ohm - wanted_ohm; };
    const auto stock = sortedStock(drawer);
    std::optional<PartChoice> best;
    double tolerance = 0;
    for (const std::size_t count : {std::size_t{1}, std::size_t{2}})
        for (PartChoice& choice : CombinationSearch(stock, count, 1, error).run())
            if (!best || std::abs(error(choice.network.ohm())) < std::abs(error(best->network.ohm())))
                best = std::move(choice);
    constexpr double near_share = 0.1;
    if (!best || std::abs(error(best->network.ohm())) > near_share * wanted_ohm)
        return std::nullopt;
    for (const StockItem& part : best->parts)
        tolerance = std::max(tolerance, part.tolerance);
    in.t_s.reset();
    in.r_ohm = best->network.ohm();
    in.r_tolerance = tolerance;
    return DelayParts{best->network, delayRc(in)};
}

School resistorOrNtc(const InrushView& view, const SwitchOn& surge)
{
    School school{"A resistor with a bypass or an NTC", {}, 0, {}};
    if (!view.limiter)
        return school;
    const LimiterResult& l = *view.limiter;
    school.sides.push_back({"Resistor", formatOhms(l.r_ohm) + ": " + amps(l.i_peak_a) +
                                            " every time; pulse " +
                                            formatValue(l.energy_j, Quantity::Energy) + ", bypass after " +
                                            formatValue(l.bypass_min_s, Quantity::Time)});
    const bool hot = view.direct && view.direct->i_peak_hot_a;
    school.sides.push_back(
        {"NTC", surge.ntc
                    ? "cold " + formatOhms(*view.direct->ntc_cold_ohm) + ": " + amps(view.direct->i_peak_a) +
                          (hot ? ", off and on again " + amps(*view.direct->i_peak_hot_a) : "")
                    : "none entered; off and on again it hardly limits"});
    const bool ntc_does = surge.ntc && hot && view.direct->breaker_verdict == Verdict::Fits;
    school.pick = ntc_does ? 1 : 0;
    school.why = ntc_does ? "Even hot it keeps the breaker in: one part, nothing to switch."
                          : "A resistor limits each time the same; its bypass must close, and not too soon.";
    return school;
}

std::optional<double> reservoirOf(const Job& job)
{
    const SwitchOn& surge = job.found.mains_side.surge;
    return surge.c_f ? surge.c_f : job.found.bulk.c_f;
}

/// The planned limiter, without one the least that keeps breaker and rectifier in; nothing where neither the
/// plan nor what they bear says how many ohms.
std::optional<LimiterInput> limiterInput(const Job& job)
{
    const SwitchOn& surge = job.found.mains_side.surge;
    const auto c_f = reservoirOf(job);
    constexpr double breaker_share = 0.8; // its trip current lies in a band
    const auto most_a =
        surge.breaker_trip_a ? std::optional(breaker_share * *surge.breaker_trip_a) : surge.i_surge_max_a;
    // The need's own load, at its peak while the capacitors charge; what was measured counts where it is
    // more.
    std::optional<double> load_w = surge.load_w;
    if (const auto target = unitTarget(job); target && job.need.current_a) {
        const double i_a = std::max(*job.need.current_a, job.need.peak_a.value_or(0));
        const double need_w = target->v * i_a / efficiencyOf(job.found, target->v);
        load_w = std::max(load_w.value_or(0), need_w);
    }
    const LimiterPlan plan = job.plan.limiter.value_or(LimiterPlan{});
    if (!c_f || job.need.mains.v_assumed || !(plan.r_ohm || most_a))
        return std::nullopt;
    return LimiterInput{.v_rms_v = job.need.mains.v_v,
                        .spread = job.need.mains.spread,
                        .f_hz = job.need.mains.f_hz,
                        .kind = surge.kind,
                        .ratio = surge.ratio,
                        .c_f = *c_f,
                        .i_peak_max_a = most_a,
                        .r_ohm = plan.r_ohm,
                        .r_other_ohm = surge.source_ohm.value_or(0) + surge.esr_ohm.value_or(0),
                        .load_w = load_w,
                        .pulse_j = plan.pulse_j,
                        .power_w = plan.power_w,
                        .fusible = plan.fusible,
                        .bypass_s = plan.bypass_s,
                        .relay = plan.relay};
}

} // namespace

SurgeCurve surgeCurve(double v_rms_v, double f_hz, double r_ohm, double c_f, double t_end_s, double phase_rad)
{
    RectifierInput in{
        .chain = {.source = {.v_rms_v = v_rms_v, .f_hz = f_hz, .r_ohm = r_ohm},
                  .rectifier = {.kind = SimRectifier::Bridge,
                                .diode = {.model = DiodeModel::Threshold, .v_f_v = 0, .r_ohm = 1e-4}},
                  .filter = {{.kind = SmoothingKind::C, .c_f = c_f}},
                  .load = {.current_a = 0.0}},
        .mode = SimMode::Start,
        .t_end_s = t_end_s,
        .points = curve_points};
    in.chain.source.phase_rad = phase_rad;
    const RectifierResult result = rectifierSimulate(in);
    SurgeCurve curve{result.start->waveforms->t_s, result.start->waveforms->i_source_a};
    for (double& a : curve.i_a)
        a = std::abs(a);
    return curve;
}

std::optional<PlannedDelay> plannedDelay(const Job& job)
{
    const auto& plan = job.plan.limiter;
    const auto in = plan ? delayInput(*plan) : std::nullopt;
    if (!in)
        return std::nullopt;
    DelayResult delay = delayRc(*in);
    auto parts = delayParts(*in, delay.r_ohm, job.drawer);
    return PlannedDelay{std::move(delay), std::move(parts)};
}

std::optional<InrushInput> surgeAsFound(const Job& job)
{
    const SwitchOn& surge = job.found.mains_side.surge;
    const auto c_f = reservoirOf(job);
    const Mains& mains = job.need.mains;
    if (!c_f || mains.v_assumed || !(surge.source_ohm || surge.esr_ohm || surge.ntc))
        return std::nullopt;
    return InrushInput{.v_rms_v = mains.v_v,
                       .spread = mains.spread,
                       .source_ohm = surge.source_ohm,
                       .esr_ohm = surge.esr_ohm,
                       .ntc = surge.ntc,
                       .c_f = *c_f / (surge.ratio * surge.ratio),
                       .i_surge_max_a = surge.i_surge_max_a,
                       .breaker_trip_a = surge.breaker_trip_a,
                       .fuse_i2t_a2s = surge.fuse_i2t_a2s};
}

InrushView inrushView(const Job& job)
{
    InrushView view;
    if (job.found.dcFed()) {
        view.sentence = no_mains_side;
        return view;
    }
    view.direct_input = surgeAsFound(job);
    const SwitchOn& surge = job.found.mains_side.surge;
    const Mains& mains = job.need.mains;
    if (!view.direct_input) {
        view.sentence =
            mains.v_assumed ? mains_unsaid
            : !reservoirOf(job)
                ? "Enter the reservoir's capacitance."
                : "Enter what resistance stands in the way: mains and leads, 0R3 to 1R as a usual start.";
        return view;
    }
    const double seen_f = *view.direct_input->c_f;
    view.direct = inrushDirect(*view.direct_input);
    view.limiter_input = limiterInput(job);
    if (view.limiter_input)
        view.limiter = inrushLimiter(*view.limiter_input);
    const double cycle_s = 1 / mains.f_hz;
    const double end_s =
        view.limiter ? std::clamp(3 * view.limiter->tau_s, 4 * cycle_s, 25 * cycle_s) : 4 * cycle_s;
    view.bare = crestSurge(job, view.direct->r_total_ohm, seen_f, end_s);
    if (view.limiter && view.limiter->r_ohm > 0)
        view.limited = crestSurge(job, view.limiter->r_ohm + view.limiter_input->r_other_ohm, seen_f, end_s);
    if (view.limiter)
        view.stuck = stuckText(*view.limiter);
    if (auto delay = plannedDelay(job)) {
        view.delay = std::move(delay->delay);
        view.delay_parts = std::move(delay->parts);
    }
    view.school = resistorOrNtc(view, surge);
    view.sentence = surgeSentence(job, view);
    return view;
}

std::optional<PlannedLimiter> plannedLimiter(const Job& job)
{
    const auto in = job.plan.limiter ? limiterInput(job) : std::nullopt;
    if (!in)
        return std::nullopt;
    // It runs a switch-on through in steps, and few edits are about it.
    thread_local Remembered<LimiterInput, LimiterResult, 4> limiters;
    const LimiterResult& result = limiters.of(*in, inrushLimiter);
    return PlannedLimiter{*in, result, stuckText(result)};
}

Connections limiterConnections(const Job& job, const std::optional<PlannedLimiter>& limiter)
{
    const auto ohm = limiter ? std::optional(limiter->result.r_ohm) : job.plan.limiter->r_ohm;
    return {.name = "limiter",
            .sentence =
                "In series with the live conductor, behind the fuse and the switch; its bypass contact "
                "across it.",
            .parts = {{"surge limiter", PartKind::Resistor, "live behind the switch",
                       "converter's live input", ohm, PartFate::Added},
                      {"bypass contact", PartKind::Link, "live behind the switch", "converter's live input",
                       std::nullopt, PartFate::Added}},
            .top = "live behind the switch",
            .bottom = "converter's live input"};
}

} // namespace offshoot
