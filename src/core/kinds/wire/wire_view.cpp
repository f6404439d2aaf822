#include "core/kinds/wire/wire_view.h"

#include "core/judge/row_maker.h"
#include "core/kinds/planned.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

/// Where the output is regulated: at the unit's terminals, or through sense wires at the load's.
enum class Regulated { AtTerminals, AtLoad };
Regulated regulated(const Job& job)
{
    return job.plan.remote_sense ? Regulated::AtLoad : Regulated::AtTerminals;
}

/// The voltage where the output is regulated: of the bus or the stack of joined units, else the unit's own,
/// planned before found.
std::optional<double> setVoltage(const Job& job, const Figures& e, Regulated where)
{
    if (e.joined)
        return e.joined->shared    ? std::optional(e.joined->shared->v_bus_v)
               : e.joined->stacked ? std::optional(e.joined->stacked->total_v)
                                   : std::nullopt;
    // A unit's own droop counts, but where sense leads regulate behind it.
    const double droop_v = where == Regulated::AtLoad || !job.need.current_a
                               ? 0
                               : job.found.joint.r_out_ohm.value_or(0) * *job.need.current_a;
    if (e.planned_v)
        return *e.planned_v - droop_v;
    if (e.found_v)
        return *e.found_v - droop_v;
    return job.need.target ? std::optional(job.need.target->v) : std::nullopt;
}

/// The load as the need says it behaves: a power or a resistance at the need's voltage.
void setLoad(CableInput& in, const Need& need)
{
    const double i_a = *need.current_a;
    if (!need.target || need.draws == LoadDraw::Current)
        in.current_a = i_a;
    else if (need.draws == LoadDraw::Power)
        in.power_w = i_a * need.target->v;
    else
        in.load_ohm = need.target->v / i_a;
}

/// The sense wires at the load, with the current that it draws at the voltage they keep there.
std::optional<SenseInput> senseInput(const Job& job, const Figures& e, const Cable& cable)
{
    const Rail& rail = job.found.rails.front();
    const auto loop_ohm = cable.loopOhm();
    const auto set_v = setVoltage(job, e, Regulated::AtLoad);
    if (!loop_ohm || !set_v || !job.need.current_a)
        return std::nullopt;
    SenseInput in{.v_set_v = *set_v,
                  .current_a = 0,
                  .r_positive_ohm = *loop_ohm / 2,
                  .r_negative_ohm = *loop_ohm / 2,
                  .r_sense_lead_ohm = rail.sense.r_lead_ohm,
                  .r_fallback_ohm = rail.sense.r_fallback_ohm,
                  .sense_current_a = rail.sense.current_a,
                  .sense_range_v = rail.sense.range_v,
                  .ceiling_v = rail.sense.ceiling_v,
                  .load_capacitor_f = rail.sense.load_capacitor_f,
                  .bandwidth_hz = rail.sense.bandwidth_hz};
    if (rail.trip.kind && *rail.trip.kind != TripKind::None)
        in.ovp_v = rail.trip.v_v;
    if (rail.v_v && rail.i_rated_a)
        in.rated_w = *rail.v_v * *rail.i_rated_a;
    if (job.need.target)
        in.window = SenseWindow{job.need.target->min_v, job.need.target->max_v};
    // The load's voltage falls in a straight line with its current: seen from there the run is a source and a
    // small resistance, what the sense wires do not make up for.
    const double open_v = *sensePlan(in).states.front().v_load_v;
    in.current_a = 1;
    const double left_ohm = open_v - *sensePlan(in).states.front().v_load_v;
    CableInput load{.length_m = 0};
    load.source_v = open_v;
    setLoad(load, job.need);
    const auto point = operatingPoint(load, left_ohm);
    if (!point)
        return std::nullopt;
    in.current_a = point->current_a;
    return in;
}

/// What may drop on the way where no sense wires make up for it.
std::optional<double> windowDrop(const Job& job, double terminal_v)
{
    const double spare_v = terminal_v - job.need.target->min_v;
    return spare_v > 0 ? std::optional(spare_v) : std::nullopt;
}

/// How far the voltage may fall on the way. Remote sense makes up for it: there its range counts.
std::optional<double> allowedDrop(const Job& job, double set_v, Regulated where)
{
    return where == Regulated::AtLoad ? job.found.rails.front().sense.range_v : windowDrop(job, set_v);
}

/// What the run carries and where it begins, without its length and size.
std::optional<CableInput> runInput(const Job& job, const Figures& e, const Cable& cable, Regulated where)
{
    const auto set_v = setVoltage(job, e, where);
    if (!set_v || !job.need.current_a)
        return std::nullopt;
    CableInput in{.length_m = 0};
    in.source_v = set_v;
    const auto sense = where == Regulated::AtLoad ? senseInput(job, e, cable) : std::nullopt;
    if (sense) {
        // The unit gives what drops on top: the run begins there, whatever wire it has.
        in.current_a = sense->current_a;
        in.source_v = sensePlan(*sense).states.front().v_terminal_v;
    } else {
        setLoad(in, job.need);
    }
    if (job.need.target)
        in.max_drop_v = allowedDrop(job, *set_v, where);
    return in;
}

std::optional<CableInput> cableInput(const Job& job, const Figures& e, const Cable& cable, Regulated where)
{
    auto in = runInput(job, e, cable, where);
    if (!in || !job.need.target || !cable.length_m)
        return std::nullopt;
    in->length_m = *cable.length_m;
    if (cable.area_m2)
        in->area_m2 = *cable.area_m2 * static_cast<double>(cable.conductors);
    in->temperature_k = cable.temperature_k;
    in->contact_ohm = cable.contact_ohm;
    return in;
}

/// Falls along the way there, rises along the way back; connectors at both ends share their ohms.
std::vector<RunPoint> profile(const CableInput& in, const CableResult& r, double terminal_v)
{
    std::vector<RunPoint> run;
    if (!r.current_a || !r.drop_v)
        return run;
    const double contact_v = *r.current_a * in.contact_ohm / 4;
    const double go_v = *r.current_a * *r.r_go_ohm;
    const double back_v = *r.current_a * *r.r_return_ohm;
    run.push_back({"unit", 0, terminal_v, 0});
    if (contact_v > 0)
        run.push_back({"connector", 0, terminal_v - contact_v, contact_v});
    if (contact_v > 0)
        run.push_back({"connector", in.length_m, terminal_v - contact_v - go_v, contact_v + back_v});
    run.push_back({"load", in.length_m, terminal_v - 2 * contact_v - go_v, 2 * contact_v + back_v});
    return run;
}

void addSizes(WireView& view, const Job& job, const Figures& e, Cable cable)
{
    cable.r_loop_ohm.reset();
    cable.conductors = 1;
    for (const NamedSize& size : wireSizes(WireSizes::Mm2)) {
        cable.area_m2 = size.area_m2;
        WireOption option{size.name,
                          {.area_m2 = size.area_m2, .conductors = cable.conductors},
                          cableDrop(*cableInput(job, e, cable, regulated(job))),
                          {}};
        option.verdict = worse(option.result.drop_verdict.value_or(Verdict::Unknown),
                               option.result.density_verdict.value_or(Verdict::Breaks));
        view.sizes.push_back(std::move(option));
    }
    // What fits first, thinnest before thicker; then the tight ones and those that break, thickest first.
    std::ranges::stable_sort(view.sizes, [](const WireOption& a, const WireOption& b) {
        const double sign_a = a.verdict == Verdict::Fits ? 1 : -1;
        const double sign_b = b.verdict == Verdict::Fits ? 1 : -1;
        return std::pair(badness(a.verdict), sign_a * a.wire.area_m2) <
               std::pair(badness(b.verdict), sign_b * b.wire.area_m2);
    });
}

void setMerge(WireView& view, const Job& job, const Cable& cable)
{
    if (!cable.area_m2 || !cable.length_m || !job.need.current_a)
        return;
    const double i_a = job.need.peak_a.value_or(*job.need.current_a);
    view.merge_input = MergeInput{.current_a = i_a,
                                  .area_m2 = *cable.area_m2,
                                  .conductors = cable.conductors,
                                  .length_m = *cable.length_m};
    view.merge = mergeWires(*view.merge_input);
    view.merge_needed = conductorsFor(*view.merge_input);
}

std::string wireSentence(const Job& job, const WireView& view)
{
    const CableResult& r = *view.result;
    const std::string load = job.need.load.name;
    if (!r.r_loop_ohm)
        return "Enter the size of the wire that is there, or choose one below.";
    if (!r.drop_v)
        return r.max_power_w && view.input->power_w && *view.input->power_w > *r.max_power_w
                   ? "No load can draw " + watts(*view.input->power_w) +
                         " through it: " + watts(*r.max_power_w) + " is the most this run passes."
                   : "More than the whole voltage would drop on the run.";
    std::string text =
        volts(*r.load_v) + " arrives at " + load + ", " + volts(*r.drop_v) + " drops on the way. ";
    if (job.plan.remote_sense)
        return text + "The sense wires make up for it.";
    if (r.drop_verdict == Verdict::Fits)
        return text + "That is inside the need's window.";
    return text + (r.smallest ? r.smallest->name + " is the thinnest wire that keeps it inside the window."
                              : "No size keeps it inside the window at this set point.");
}

School wireOrSense(const Job& job, const Figures& figures, const Cable& cable, const WireView& view)
{
    School school{"Thicker wire or remote sense", {}, 0, {}};
    if (!view.result->r_loop_ohm || !view.sense)
        return school;
    const auto smallest = cableDrop(*cableInput(job, figures, cable, Regulated::AtTerminals)).smallest;
    std::string thicker = "no size is enough at this set point";
    if (smallest)
        thicker = smallest->name + ": " + volts(smallest->drop_v) + " drop, nothing to fail";
    const SenseOutcome& remote = view.sense->states.front();
    const SenseOutcome& open = view.sense->states.at(static_cast<std::size_t>(SenseState::PositiveOpen));
    const std::string sensed =
        volts(*remote.v_load_v) + " at the load, " + volts(*remote.v_terminal_v) +
        " at the terminals; a sense wire opened: " +
        (open.runaway ? std::string("the output runs away") : volts(*open.v_load_v) + " at the load");
    school.sides = {{"Thicker wire", thicker}, {"Remote sense", sensed}};
    const bool fitted = job.found.rails.front().sense.fitted;
    const bool sense_good = fitted && !open.runaway && view.sense->verdict == Verdict::Fits;
    school.pick = smallest || !sense_good ? 0 : 1;
    school.why = school.pick == 1 ? "No size alone keeps the window; the sense terminals bear this drop."
                 : !smallest      ? "Neither is enough as it stands: raise the set point or shorten the run."
                                  : "Copper cannot open, be swapped or oscillate.";
    return school;
}

} // namespace

WireView wireView(const Job& job, const Figures& figures)
{
    WireView view{};
    Cable cable = figures.unit.supply.rails.front().cable;
    if (cable.length_m && cable.area_m2)
        cable.r_loop_ohm.reset(); // the page is about the wire: what its size gives, as for the others
    view.input = cableInput(job, figures, cable, regulated(job));
    if (!view.input) {
        view.sentence = !job.need.target || !job.need.current_a
                            ? "Say in Need what the load wants and draws."
                            : "Enter how long the run to " + job.need.load.name + " is.";
        return view;
    }
    if (!view.input->area_m2 && !view.input->max_drop_v) {
        view.sentence =
            job.plan.remote_sense
                ? "Enter the wire's size, or what the unit's sense terminals make up for."
                : "At this set point nothing may drop on the way: raise it, or enter the wire's size.";
        return view;
    }
    view.terminal_v = *view.input->source_v;
    view.result = cableDrop(*view.input);
    view.run = profile(*view.input, *view.result, view.terminal_v);
    addSizes(view, job, figures, cable);
    view.sense_input = senseInput(job, figures, cable);
    if (view.sense_input)
        view.sense = sensePlan(*view.sense_input);
    setMerge(view, job, cable);
    view.school = wireOrSense(job, figures, cable, view);
    view.sentence = wireSentence(job, view);
    view.assumed.emplace_back("copper at " + significant(cable.temperature_k - 273.15, 3) + " °C");
    if (cable.contact_ohm == 0)
        view.assumed.emplace_back("connectors of 0 Ω");
    if (view.sense && job.need.draws != LoadDraw::Current)
        view.assumed.emplace_back("with a sense wire open, the current of both closed");
    return view;
}

std::optional<double> loadVoltage(const Job& job, const Figures& figures)
{
    const Cable& cable = figures.unit.supply.rails.front().cable;
    const auto in = runInput(job, figures, cable, regulated(job));
    if (!in)
        return std::nullopt;
    const auto loop_ohm = cable.loopOhm();
    if (!loop_ohm)
        return figures.joined ? in->source_v : std::nullopt;
    const auto point = operatingPoint(*in, *loop_ohm);
    return point ? std::optional(*in->source_v - point->drop_v) : std::nullopt;
}

std::optional<double> runDrop(const Job& job, const Figures& figures, Condition condition)
{
    const bool planned = condition == Condition::Planned;
    const Cable& cable = (planned ? figures.unit.supply : job.found).rails.front().cable;
    const auto loop_ohm = cable.loopOhm();
    if (!loop_ohm || !job.need.current_a)
        return std::nullopt;
    auto in = planned ? runInput(job, figures, cable, regulated(job)) : std::nullopt;
    if (!planned && figures.found_v) {
        in = CableInput{.length_m = 0};
        in->source_v = figures.found_v;
        setLoad(*in, job.need);
    }
    if (!in)
        return *loop_ohm * *job.need.current_a;
    const auto point = operatingPoint(*in, *loop_ohm);
    return point ? std::optional(point->drop_v) : std::nullopt;
}

// ---- rows

namespace {

void senseRows(std::vector<ConsequenceRow>& all, const SenseInput& in)
{
    const SenseResult sense = sensePlan(in);
    const SenseOutcome& remote = sense.states.front();
    const double terminal_v = *remote.v_terminal_v;
    all.push_back(rows::planRow(RowId::SenseRange,
                                {.value = sense.drop_v,
                                 .limit = in.sense_range_v,
                                 .use = sense.range_use,
                                 .verdict = sense.range_verdict},
                                "I·(R_pos + R_neg)", volts(sense.drop_v) + " in both leads"));
    const auto against = [&](RowId id, const std::optional<double>& limit, Verdict verdict) {
        all.push_back(rows::planRow(
            id, {.value = terminal_v, .limit = limit, .use = useOf(terminal_v, limit), .verdict = verdict},
            "V_load + both drops", volts(*remote.v_load_v) + " + " + volts(sense.drop_v)));
    };
    against(RowId::SenseTrip, in.ovp_v, sense.ovp_verdict);
    against(RowId::SenseCeiling, in.ceiling_v, sense.ceiling_verdict);
    const auto& loop = sense.loop_use;
    const auto breaks = loop ? std::optional(sense_loop_breaks) : std::nullopt;
    all.push_back(rows::planRow(
        RowId::SenseLoop,
        {.value = loop, .limit = breaks, .use = useOf(loop, breaks), .verdict = sense.loop_verdict},
        "2π·bandwidth·(R_pos + R_neg)·C; above a tenth the loop feels it, above half it hunts",
        loop ? significant(*loop, 2) : ""));
}

/// The drop where all that is known of the run is its measured resistance.
std::optional<ConsequenceRow> loopRow(const Job& job, const Figures& e, const Cable& cable)
{
    const auto in = runInput(job, e, cable, regulated(job));
    const auto loop_ohm = cable.loopOhm();
    if (!loop_ohm || !in || !job.need.target)
        return std::nullopt;
    const auto point = operatingPoint(*in, *loop_ohm);
    rows::Judged drop{.verdict = Verdict::Breaks};
    std::string through = "no operating point through " + formatOhms(*loop_ohm);
    if (point) {
        drop.value = point->drop_v;
        drop.limit = in->max_drop_v;
        drop.use = useOf(drop.value, drop.limit);
        if (drop.limit || job.plan.remote_sense)
            drop.verdict = judgeUse(drop.use);
        through = amps(point->current_a) + " × " + formatOhms(*loop_ohm);
    }
    ConsequenceRow row =
        rows::planRow(RowId::CableDrop, drop, "I·R_loop, against what may drop until the load gets its least",
                      through + "; " + volts(*in->source_v) + " at the terminals, " +
                          volts(job.need.target->min_v) + " at least at the load");
    row.worse = changesAnything(job);
    return row;
}

} // namespace

std::vector<ConsequenceRow> wireRows(const Job& job, const Figures& figures)
{
    std::vector<ConsequenceRow> all;
    const Supply& planned = figures.unit.supply;
    const Cable& cable = planned.rails.front().cable;
    const auto in = cableInput(job, figures, cable, regulated(job));
    const auto sense = job.plan.remote_sense ? senseInput(job, figures, cable) : std::nullopt;
    if (cable.r_loop_ohm || !in || !in->area_m2) {
        if (auto row = loopRow(job, figures, cable))
            all.push_back(std::move(*row));
        if (sense)
            senseRows(all, *sense);
        return all;
    }
    const CableResult r = cableDrop(*in);
    const bool changed = job.plan.wire.has_value() || job.plan.remote_sense;
    const auto open =
        in->max_drop_v || job.plan.remote_sense ? Verdict::Unknown : Verdict::Breaks; // no operating point
    all.push_back(rows::planRow(
        RowId::CableDrop,
        {.value = r.drop_v,
         .limit = in->max_drop_v,
         .use = useOf(r.drop_v, in->max_drop_v),
         .verdict = r.drop_verdict.value_or(open)},
        "I·ρ·L/A·(1 + α·(T − 20 °C)), go and return, and the connectors",
        r.drop_v ? formatOhms(*r.r_loop_ohm) + " · " + formatValue(*r.current_a, Quantity::Current)
                 : "no operating point: the run passes at most " + watts(r.max_power_w.value_or(0))));
    rows::Judged density;
    std::string through;
    if (r.density_a_per_m2) {
        density.value = *r.density_a_per_m2 * 1e-6;
        density.limit = usual_density_a_per_m2 * 1e-6;
        density.use = *density.value / *density.limit;
        density.verdict = *r.density_verdict;
        through = formatValue(*r.current_a, Quantity::Current) + " through " +
                  formatValue(*in->area_m2, Quantity::WireSize);
    }
    all.push_back(
        rows::planRow(RowId::CableDensity, density, "I/A; above 6 A/mm² look at the local tables", through));
    for (ConsequenceRow& row : all)
        row.worse = changed;
    if (sense)
        senseRows(all, *sense);
    return all;
}

Connections runConnections(const Job& job, const Supply& planned)
{
    Connections out{.name = "run", .sentence = {}, .parts = {}, .top = "output +", .bottom = "output −"};
    const bool wire = job.plan.wire.has_value();
    const PartFate fate = wire ? PartFate::Added : PartFate::Stays;
    const auto loop_ohm = planned.rails.front().cable.loopOhm();
    const auto half = loop_ohm ? std::optional(*loop_ohm / 2) : std::nullopt;
    out.parts.push_back({"positive wire", PartKind::Wire, "output +", "load +", half, fate});
    out.parts.push_back({"return wire", PartKind::Wire, "output −", "load −", half, fate});
    out.parts.push_back({job.need.load.name, PartKind::Load, "load +", "load −"});
    out.sentence = "Output + to load +, output − to load −, side by side.";
    if (job.plan.remote_sense) {
        const double ohm = job.found.rails.front().sense.r_lead_ohm;
        out.parts.push_back({"sense + wire", PartKind::Wire, "sense +", "load +", ohm, PartFate::Added});
        out.parts.push_back({"sense − wire", PartKind::Wire, "sense −", "load −", ohm, PartFate::Added});
        out.parts.push_back(
            {"local link +", PartKind::Link, "sense +", "output +", std::nullopt, PartFate::TakenOut});
        out.parts.push_back(
            {"local link −", PartKind::Link, "sense −", "output −", std::nullopt, PartFate::TakenOut});
        out.sentence += " Sense + to load +, sense − to load −, at the load's own terminals.";
    }
    return out;
}

} // namespace offshoot
