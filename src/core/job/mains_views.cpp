#include "core/job/mains_views.h"

#include "core/calculate/part_search.h"
#include "core/job/mains_bearing.h"
#include "core/kinds/planned.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace offshoot {

namespace {

std::string percent(double share) { return significant(share * 100, 3) + " %"; }

constexpr const char* no_mains = "Say in Need which mains there is.";

MainsTarget targetOf(const Job& job)
{
    return {.v_v = job.need.mains.v_v, .spread = job.need.mains.spread, .f_hz = job.need.mains.f_hz};
}

std::string_view kindWords(ClueKind kind)
{
    static constexpr std::array<std::string_view, 10> words{"bulk capacitor's voltage",
                                                            "bulk capacitors' voltage",
                                                            "X capacitor's voltage",
                                                            "varistor's AC voltage",
                                                            "breaker's voltage",
                                                            "fuse's rated voltage",
                                                            "transformer's plate",
                                                            "label",
                                                            "manual",
                                                            "sibling"};
    return words.at(static_cast<std::size_t>(kind));
}

} // namespace

// ---- evidence

std::string contradictionText(const Contradiction& contradiction)
{
    const auto& parts = contradiction.parts;
    switch (contradiction.code) {
    case ContradictionCode::PaperPermitsPartForbids:
        return parts[0] + " permits it, " + parts[1] + " does not: the part rules.";
    case ContradictionCode::PaperForbidsPartsPermit:
        return parts[0] + " forbids it, the parts read permit it: read the rest before trusting either.";
    case ContradictionCode::PapersDisagree:
        return parts[0] + " and " + parts[1] + " disagree.";
    }
    return {};
}

EvidenceView evidenceView(const Job& job)
{
    EvidenceView view{
        .input = evidenceInput(plannedSupply(job), job.need.mains), .result = {}, .sentence = {}, .next = {}};
    view.result = mainsEvidence(view.input);
    if (job.need.mains.v_assumed) {
        view.result.verdict = Verdict::Unknown;
        for (JudgedClue& clue : view.result.clues)
            clue.says = Says::Depends;
        view.sentence = no_mains;
        return view;
    }
    if (job.found.sealed() && view.result.verdict != Verdict::Breaks)
        view.result.verdict = bearsMains(job, 1, Condition::Planned).verdict;
    const EvidenceResult& r = view.result;
    const std::string mains = significant(job.need.mains.v_v, 4) + " V ±" + percent(job.need.mains.spread);
    const std::string most =
        r.ruled_by ? *r.ruled_by + " rules: " + significant(*r.max_nominal_v, 4) + " V at most" : "";
    if (!r.unread.empty())
        view.next = "Read " + r.unread.front() + " next.";
    else if (!r.missing.empty())
        view.next = "Read the " + std::string(kindWords(r.missing.front())) + " next.";
    switch (r.verdict) {
    case Verdict::Fits:
        view.sentence = "Good for " + mains + ". " + most + ".";
        break;
    case Verdict::Tight:
        view.sentence = "Just good for " + mains + ". " + most + ".";
        break;
    case Verdict::Breaks:
        view.sentence = "Not for " + mains + ". " + most + ".";
        break;
    case Verdict::Unknown:
        view.sentence = "Not known yet for " + mains + "." + (most.empty() ? "" : " So far " + most + ".");
        break;
    }
    return view;
}

// ---- windings

ConnectionPlan connectionPlan(const Connection& connection)
{
    ConnectionPlan plan;
    for (std::size_t k = 0; k < connection.strings.size(); ++k)
        for (const Segment& s : connection.strings[k])
            plan.segments.push_back(
                {.string = static_cast<std::int64_t>(k), .winding = s.winding, .from = s.from, .to = s.to});
    return plan;
}

bool isPlanned(const ConnectionPlan& plan, const Connection& connection)
{
    return connectionPlan(connection).segments == plan.segments;
}

WindingsView windingsView(const Job& job)
{
    WindingsView view;
    const MainsTransformer& t = job.found.mains_side.transformer;
    if (t.primaries.empty() || !t.f_rated_hz || !t.va) {
        view.sentence = t.primaries.empty()
                            ? "Enter the primary windings with their leads, as the plate or a "
                              "measurement gives them."
                            : "Enter the transformer's frequency and VA.";
        return view;
    }
    if (job.need.mains.v_assumed) {
        view.sentence = no_mains;
        return view;
    }
    constexpr std::int64_t shown = 60;
    view.input = WindingsInput{.primaries = t.primaries,
                               .f_rated_hz = *t.f_rated_hz,
                               .va = *t.va,
                               .secondaries = t.secondaries,
                               .regulation = t.regulation,
                               .target = targetOf(job),
                               .limit = shown};
    view.result = mainsWindings(*view.input);
    const auto& connections = view.result->connections;
    for (std::size_t i = 0; job.plan.connection && i < connections.size(); ++i)
        if (isPlanned(*job.plan.connection, connections[i]))
            view.planned = i;
    const Connection& c = connections[view.planned.value_or(0)];
    constexpr double transformer_factor = 1.5;
    view.fuse = mainsFuse({.va = *t.va * c.va_share,
                           .mains_v = job.need.mains.v_v,
                           .factor = transformer_factor,
                           .speed = FuseSpeed::Slow,
                           .v_rated_v = job.found.fuse.v_rated_v});
    const Verdict worst = worse(c.verdict, c.secondary_verdict);
    const std::string what = view.planned ? "Planned: " : "Best: ";
    std::string kind(word(c.kind));
    std::ranges::replace(kind, '_', ' ');
    view.sentence = what + kind + ", " + percent(c.va_share) + " of its power, secondaries at " +
                    percent(c.v_scale) + ". ";
    view.sentence += worst == Verdict::Breaks
                         ? "That is not good for this mains: take an external transformer."
                     : worst == Verdict::Tight ? "It bears it, but only just."
                                               : "Flux and outputs are right.";
    return view;
}

// ---- inrush

namespace {

constexpr std::int64_t curve_points = 500;

/// The surge at the crest by simulation: a bridge, the resistance in the way, the empty capacitor.
SurgeCurve surgeCurve(const Job& job, double r_ohm, double c_f, double t_end_s)
{
    const Mains& mains = job.need.mains;
    RectifierInput in{
        .chain = {.source = {.v_rms_v = mains.highest(), .f_hz = mains.f_hz, .r_ohm = r_ohm},
                  .rectifier = {.kind = SimRectifier::Bridge,
                                .diode = {.model = DiodeModel::Threshold, .v_f_v = 0, .r_ohm = 1e-4}},
                  .filter = {{.kind = SmoothingKind::C, .c_f = c_f}},
                  .load = {.current_a = 0.0}},
        .mode = SimMode::Start,
        .t_end_s = t_end_s,
        .points = curve_points};
    in.chain.source.phase_rad = std::numbers::pi / 2;
    const RectifierResult result = rectifierSimulate(in);
    SurgeCurve curve{result.start->waveforms->t_s, result.start->waveforms->i_source_a};
    for (double& a : curve.i_a)
        a = std::abs(a);
    return curve;
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
                                            formatValue(l.energy_j, Quantity::Power).append("s") +
                                            ", bypass after " + formatValue(l.bypass_min_s, Quantity::Time)});
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

InrushView inrushView(const Job& job)
{
    InrushView view;
    const SwitchOn& surge = job.found.mains_side.surge;
    const auto c_f = reservoirOf(job);
    const Mains& mains = job.need.mains;
    if (!c_f || mains.v_assumed || !(surge.source_ohm || surge.esr_ohm || surge.ntc)) {
        view.sentence =
            mains.v_assumed ? no_mains
            : !c_f          ? "Enter the reservoir's capacitance."
                   : "Enter what resistance stands in the way: mains and leads, 0R3 to 1R as a usual start.";
        return view;
    }
    const double seen_f = *c_f / (surge.ratio * surge.ratio);
    view.direct_input = InrushInput{.v_rms_v = mains.v_v,
                                    .spread = mains.spread,
                                    .source_ohm = surge.source_ohm,
                                    .esr_ohm = surge.esr_ohm,
                                    .ntc = surge.ntc,
                                    .c_f = seen_f,
                                    .i_surge_max_a = surge.i_surge_max_a,
                                    .breaker_trip_a = surge.breaker_trip_a,
                                    .fuse_i2t_a2s = surge.fuse_i2t_a2s};
    view.direct = inrushDirect(*view.direct_input);
    view.limiter_input = limiterInput(job);
    if (view.limiter_input)
        view.limiter = inrushLimiter(*view.limiter_input);
    const double cycle_s = 1 / mains.f_hz;
    const double end_s =
        view.limiter ? std::clamp(3 * view.limiter->tau_s, 4 * cycle_s, 25 * cycle_s) : 4 * cycle_s;
    view.bare = surgeCurve(job, view.direct->r_total_ohm, seen_f, end_s);
    if (view.limiter && view.limiter->r_ohm > 0)
        view.limited = surgeCurve(job, view.limiter->r_ohm + view.limiter_input->r_other_ohm, seen_f, end_s);
    if (view.limiter)
        view.stuck = stuckText(*view.limiter);
    const auto& plan = job.plan.limiter;
    if (const auto in = plan ? delayInput(*plan) : std::nullopt) {
        view.delay = delayRc(*in);
        view.delay_parts = delayParts(*in, view.delay->r_ohm, job.drawer);
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
    const LimiterResult result = inrushLimiter(*in);
    return PlannedLimiter{*in, result, stuckText(result)};
}

// ---- limiter lamp and discharge

std::optional<double> followingFuse(const Job& job)
{
    const bool by_hand = std::ranges::any_of(
        job.plan.refits, [](const Refit& refit) { return refit.row == RowId::FuseCurrent; });
    if (!job.plan.connection || by_hand)
        return std::nullopt;
    const WindingsView view = windingsView(job);
    return view.planned && view.fuse ? view.fuse->value_a : std::nullopt;
}

Fuse plannedFuse(const Job& job)
{
    Fuse fuse = plannedSupply(job).fuse;
    if (const auto value_a = followingFuse(job)) {
        fuse.value_a = value_a;
        fuse.type = "T";
    }
    return fuse;
}

LampLimitInput lampInput(const Job& job, const Evaluation& evaluation)
{
    constexpr double idle_share = 0.05;
    constexpr double light_share = 0.1;
    constexpr double small_w = 20;
    const auto target = unitTarget(job);
    constexpr double iron_share = 0.05; // of a mains transformer's VA
    constexpr double heater_share = 0.3;
    constexpr double heater_most_v = 13;
    const MainsTransformer& transformer = job.found.mains_side.transformer;
    double idle_w = transformer.va ? iron_share * *transformer.va : 0;
    const double out_w = target && evaluation.own_current_a ? target->v * *evaluation.own_current_a : small_w;
    const RectifierChain* chain = plannedChain(job);
    if (chain != nullptr && chain->rectifier.diode.model == DiodeModel::Valve) {
        double heaters_w = 0;
        for (const Secondary& s : transformer.secondaries)
            if (s.v_v <= heater_most_v)
                heaters_w += s.v_v * s.i_a.value_or(0);
        // Where nobody read them: a share of the transformer, else as much as the valves' own supply gives.
        if (heaters_w == 0)
            heaters_w = transformer.va ? heater_share * *transformer.va : out_w;
        idle_w += heaters_w;
    }
    return {.lamps_w = {},
            .lamp_v = job.need.mains.v_v,
            .mains_v = job.need.mains.v_v,
            .idle_w = std::max(idle_share * out_w, idle_w),
            .load_w = light_share * out_w,
            .efficiency = efficiencyOf(job.found, target ? target->v : 0),
            .unit = bearsLowMains(job.found.topology) ? LampUnit::Resistive : LampUnit::ConstantPower};
}

SafeView safeView(const Job& job, const Evaluation& evaluation)
{
    SafeView view;
    view.chosen_w = evaluation.lamp_w;
    LampLimitInput in = lampInput(job, evaluation);
    for (const double lamp_w : usual_lamps_w) {
        in.lamps_w = {lamp_w};
        view.lamps.push_back({lamp_w, lampLimit(in)});
    }
    double longest_s = 0;
    for (const Reservoir& reservoir : evaluation.energy.reservoirs) {
        if (!reservoir.c_f)
            continue;
        view.banks.push_back(
            {reservoir, dischargePlan({.v0_v = reservoir.v0_v,
                                       .capacitors = {{.c_f = *reservoir.c_f, .kind = reservoir.kind}},
                                       .bleeder_ohm = reservoir.bleeder_ohm})});
        longest_s = std::max(longest_s, reservoir.discharge_s.value_or(0));
    }
    view.sentence =
        view.chosen_w ? "Take the " + watts(*view.chosen_w) + " lamp" : std::string("No usual lamp suits");
    if (bearsLowMains(job.found.topology))
        view.sentence += ", or bring it up slowly on a variable transformer";
    view.sentence += ". ";
    const bool every = std::ranges::all_of(evaluation.energy.reservoirs,
                                           [](const Reservoir& r) { return r.discharge_s.has_value(); });
    view.sentence += view.banks.empty() ? "Enter the reservoirs: without them nothing can be proven dead."
                     : every ? "Its bleeders take " + formatDuration(longest_s) + " to 10 V; then measure."
                             : "A reservoir keeps its charge until you take it down.";
    return view;
}

// ---- noise filter

NoiseView noiseView(const Job& job)
{
    NoiseView view;
    const MainsSide& side = job.found.mains_side;
    if (side.noise.empty()) {
        view.sentence = "Put the filter together, from the noisy side to the load.";
        return view;
    }
    FilterInput in{.sections = side.noise};
    constexpr double usual_source_ohm = 0.05;
    in.source_ohm = usual_source_ohm;
    const auto target = unitTarget(job);
    if (target && job.need.current_a)
        in.load_ohm = target->v / *job.need.current_a;
    in.from_hz = 10;
    in.to_hz = 1e8;
    constexpr int points = 350;
    for (int k = 0; k <= points; ++k)
        in.f_hz.push_back(in.from_hz * std::pow(in.to_hz / in.from_hz, double(k) / points));
    if (side.noise_hz)
        in.ripple = {{.f_hz = *side.noise_hz, .in_pp_v = side.noise_pp_v.value_or(1)}};
    view.result = filterResponse(in);
    for (const FilterPoint& point : view.result->points)
        if (point.gain_db) {
            view.f_hz.push_back(point.f_hz);
            view.gain_db.push_back(*point.gain_db);
        }
    view.sentence = side.noise_hz && view.result->ripple.front().out_pp_v
                        ? formatValue(view.result->ripple.front().in_pp_v, Quantity::Voltage) + " at " +
                              formatValue(*side.noise_hz, Quantity::Frequency) + " becomes " +
                              formatValue(*view.result->ripple.front().out_pp_v, Quantity::Voltage) + ". "
                        : std::string("Enter where it switches. ");
    if (const auto& peak = view.result->peak) {
        view.sentence += "It peaks by " +
                         (peak->gain_db ? significant(*peak->gain_db, 2) + " dB" : std::string("far")) +
                         " at " + formatValue(peak->f_hz, Quantity::Frequency) + ".";
        constexpr double harmless_db = 3;
        if (peak->gain_db.value_or(harmless_db + 1) > harmless_db)
            view.damping = dampingOf(in);
    }
    constexpr double flat_db = 0.2;
    if (view.damping)
        view.sentence +=
            " The cure: " + formatValue(view.damping->c_f, Quantity::Capacitance) + " with " +
            formatOhms(view.damping->r_ohm) + " in series, across the " +
            formatValue(*side.noise[view.damping->section].c_f, Quantity::Capacitance) +
            (view.damping->peak_db < flat_db ? ": then it does not."
                                             : ": then by " + significant(view.damping->peak_db, 2) + " dB.");
    view.input = std::move(in);
    return view;
}

// ---- rows

std::vector<ConsequenceRow> evidenceRows(const Job& job)
{
    std::vector<ConsequenceRow> rows;
    if (!job.found.dcFed()) {
        const EvidenceView view = evidenceView(job);
        std::string ruler = view.result.ruled_by.value_or("");
        if (!ruler.empty())
            ruler.front() = static_cast<char>(std::toupper(static_cast<unsigned char>(ruler.front())));
        ConsequenceRow row = blankRow(RowId::MainsEvidence, ruler);
        if (job.need.mains.v_assumed)
            row.read_next = "which mains there is";
        else
            row.planned = job.need.mains.v_v;
        row.limit = view.result.max_nominal_v;
        row.verdict = view.result.verdict;
        row.fits_to = 1;
        if (row.verdict != Verdict::Unknown)
            row.use = useOf(row.planned, row.limit);
        row.formula = "the lowest nominal mains that any part read permits";
        row.working = view.sentence;
        row.worse = true;
        rows.push_back(std::move(row));
    }
    return rows;
}

} // namespace offshoot
