// A resistor that limits the surge at switch-on, with its bypass.
#include "core/judge/row_maker.h"
#include "core/kinds/modules.h"
#include "core/kinds/surge_limiter/inrush_view.h"
#include "core/values/figures.h"

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.limiter.has_value(); }

void lines(const Job& job, std::vector<std::string>& all)
{
    const auto& ohm = job.plan.limiter->r_ohm;
    all.push_back("surge limiter" + (ohm ? " " + formatOhms(*ohm) : ""));
}

void apply(const Job& job, PlannedUnit& unit) { unit.limiter = plannedLimiter(job); }

void steps(ChangeProcedure& procedure, const std::optional<PlannedLimiter>& limiter)
{
    Step& step = procedure.add("change.limiter", Stage::Change, StepKind::Touch, "Fit the surge limiter",
                               limiterConnections(procedure.job(), limiter).sentence +
                                   " Sleeved leads, away from wires and plastics.",
                               {Does::WorkMainsSide, Does::ConnectWire});
    step.unit = procedure.stepUnit(1);
    if (limiter) {
        step.title += ", " + formatOhms(limiter->result.r_ohm);
        step.parts = {formatOhms(limiter->result.r_ohm)};
        step.detail += " Bypass not before " + formatValue(limiter->result.bypass_min_s, Quantity::Time) +
                       ". " + limiter->stuck;
    }
    step.drawing = "limiter";
    step.cautions = {Caution::HotParts, Caution::PlugPins};
}

void wiring(const Job& job, const Figures& figures, std::vector<Connections>& all)
{
    all.push_back(limiterConnections(job, figures.unit.limiter));
    all.back().station = Station::Inrush;
}

void parts(const Job& job, const Figures& figures, PartList& list)
{
    const LimiterPlan& limiter = *job.plan.limiter;
    const auto& sized = figures.unit.limiter;
    const auto ohm = sized ? std::optional(sized->result.r_ohm) : limiter.r_ohm;
    list.add("surge limiter" + (ohm ? " " + formatOhms(*ohm) : "") +
                 (limiter.power_w ? ", " + watts(*limiter.power_w) : ""),
             "in series with the live conductor");
    list.add("bypass relay", "across the surge limiter");
    if (const auto delay = plannedDelay(job); delay && delay->parts)
        for (const double part : delay->parts->network.parts())
            list.addResistor(part, {}, {}, "the relay's delay");
    if (limiter.delay_c_f)
        list.add("capacitor " + formatValue(*limiter.delay_c_f, Quantity::Capacitance), "the relay's delay");
}

/// What closes the bypass makes the rest of the surge and then carries the running current: the worse of the
/// two is shown.
ConsequenceRow contactsRow(const LimiterInput& in, const LimiterResult& r)
{
    const BypassRelay relay = in.relay.value_or(BypassRelay{});
    const auto makes = useOf(r.i_close_a, relay.i_make_max_a);
    const auto carries = useOf(r.i_run_a, relay.i_run_max_a);
    const bool carrying = carries && (!makes || *carries > *makes);
    const auto said = [](const std::optional<double>& a) { return a ? amps(*a) : "unknown"; };
    ConsequenceRow row = rows::planRow(RowId::BypassContacts,
                                       {.value = carrying ? r.i_run_a : r.i_close_a,
                                        .limit = carrying ? relay.i_run_max_a : relay.i_make_max_a,
                                        .use = carrying ? carries : makes,
                                        .verdict = r.relay_verdict},
                                       "made: what is left to charge·V̂/R_other; carried: P/(pf·V)",
                                       "made " + said(r.i_close_a) + ", carried " + said(r.i_run_a));
    row.assumed = r.assumed;
    return row;
}

/// Surge, bypass, pulse and contacts.
std::vector<ConsequenceRow> rows(const Job& job, const Figures& figures, const ChainRun* /*run*/)
{
    if (!planned(job))
        return {};
    const auto& limiter = figures.unit.limiter;
    if (!limiter) // of how many ohms, nothing says
        return {rows::planRow(RowId::SurgePeak, {}, {}, {})};
    const LimiterInput& in = limiter->input;
    const LimiterResult& r = limiter->result;
    const SwitchOn& surge = job.found.mains_side.surge;
    std::vector<ConsequenceRow> all;
    all.push_back(rows::planRow(
        RowId::SurgePeak,
        rows::most(r.i_peak_a, surge.breaker_trip_a ? surge.breaker_trip_a : surge.i_surge_max_a),
        "√2·V·(1 + spread)/(R + R_other)", volts(r.v_peak_v) + "/" + formatOhms(r.r_ohm + in.r_other_ohm)));
    constexpr double most_left = 0.20;
    all.push_back(rows::planRow(RowId::BypassTime,
                                {.value = r.residual,
                                 .limit = most_left,
                                 .use = useOf(r.residual, most_left),
                                 .verdict = r.bypass_verdict},
                                "what is left to charge when the bypass closes, from a rectified sine",
                                "0.95 after " + formatValue(r.t95_s, Quantity::Time)));
    const bool opens = in.fusible && r.stuck_verdict == Verdict::Breaks; // as a fusible one should
    all.push_back(rows::planRow(RowId::LimiterStuck,
                                {.value = r.stuck_w,
                                 .limit = in.power_w,
                                 .use = r.stuck_use,
                                 .verdict = opens ? Verdict::Tight : r.stuck_verdict},
                                "I²·R with the bypass open, the load drawing S = P/pf", limiter->stuck));
    all.back().assumed = r.assumed;
    all.push_back(rows::planRow(
        RowId::LimiterPulse,
        {.value = r.energy_j, .limit = in.pulse_j, .use = r.pulse_use, .verdict = r.pulse_verdict},
        "½·C·(V̂/n)²·R/(R + R_other)",
        "½·" + formatValue(in.c_f, Quantity::Capacitance) + "·(" + volts(r.v_peak_v / in.ratio) + ")²·" +
            significant(r.r_ohm, 3) + "/" + significant(r.r_ohm + in.r_other_ohm, 3) +
            (in.kind == LimiterKind::Doubler ? ", two capacitors" : "")));
    all.push_back(contactsRow(in, r));
    return all;
}

void pictures(const Job& job, const Figures& /*figures*/, const ChainRun* /*run*/,
              std::vector<ReportPicture>& all)
{
    const InrushView view = inrushView(job);
    if (view.limited.t_s.size() < 2)
        return;
    std::vector<double> ms = thinned(view.limited.t_s);
    for (double& t : ms)
        t *= 1e3;
    std::vector<Curve> curves{{"limited", thinned(view.limited.i_a), false}};
    if (view.bare.t_s == view.limited.t_s)
        curves.push_back({"as found", thinned(view.bare.i_a), true});
    all.push_back({"The surge at switch-on", curvesSvg(ms, curves, "milliseconds", "A")});
}

void schools(const Job& job, const Figures& /*figures*/, FiguresOf /*figuresOf*/, std::vector<School>& all)
{
    all.push_back(inrushView(job).school);
}

/// Whether the bypass closes in its time, and lets go so that the next switch-on is limited again.
void tryBypass(ChangeProcedure& p, const std::optional<PlannedLimiter>& limiter)
{
    Step& step = p.add(
        "bringup.bypass", Stage::BringUp, StepKind::Probe, "Try the bypass",
        "Time it from switch-on to its click, by ear or eye, not with fingers: bypass 0.8s. Then off for "
        "ten seconds and on again: it must have let go and take as long again. A resistor that smokes, or "
        "no click: isolate.",
        {Does::TryBypass});
    step.unit = p.stepUnit(1);
    constexpr double late = 3;
    constexpr double by_ear_s = 0.3;
    std::optional<ReadingWindow> window;
    if (limiter) {
        const double least_s = limiter->result.bypass_min_s;
        const double planned_s = p.job().plan.limiter->bypass_s.value_or(least_s);
        window =
            ReadingWindow{std::max(0.0, least_s - by_ear_s), std::max(planned_s, least_s) * late + by_ear_s};
    }
    step.asks.push_back(
        {"bypass", Quantity::Time, window, std::nullopt, "not before the capacitors are charged"});
    step.cautions = {Caution::MainsPotential, Caution::HotParts};
}

Work work(const Job& /*job*/, const Figures& figures)
{
    const auto& limiter = figures.unit.limiter;
    return {.on_mains_side = true,
            .fit = [&limiter](ChangeProcedure& p) { steps(p, limiter); },
            .at_full_mains = [&limiter](ChangeProcedure& p) { tryBypass(p, limiter); }};
}

} // namespace

const Kind surge_limiter{.name = "surge_limiter",
                         .planned = planned,
                         .work = work,
                         .apply = apply,
                         .lines = lines,
                         .wiring = wiring,
                         .parts = parts,
                         .rows = rows,
                         .schools = schools,
                         .pictures = pictures};

} // namespace offshoot::kind
