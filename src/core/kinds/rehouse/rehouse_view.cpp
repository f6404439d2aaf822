#include "core/kinds/rehouse/rehouse_view.h"

#include "core/calculate/mains_fuse.h"
#include "core/job/readings.h"
#include "core/judge/row_maker.h"
#include "core/values/figures.h"
#include "core/values/preferred.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

using rows::Judged;
using rows::planRow;

constexpr double usual_ambient_k = 298.15;
constexpr double usual_case_limit_k = 333.15;
constexpr double short_lead_m = 0.1;
constexpr double twisted_lead_m = 0.3;
constexpr double most_a_per_m2 = 6e6;

/// V or A, with its unit.
std::string shown(double value, PotSets sets) { return sets == PotSets::Volts ? volts(value) : amps(value); }

/// High is judged by what the need bears; a current limit gone high is the module's own, which everything
/// behind it has to bear.
Verdict verdictOf(const BrokenWire& wire, PotSets sets, const std::optional<Target>& target)
{
    if (wire.goes == BreakGoes::Nowhere)
        return Verdict::Unknown;
    if (wire.goes == BreakGoes::Low)
        return Verdict::Fits;
    if (sets == PotSets::Amps)
        return Verdict::Tight;
    return target && atMost(*wire.to, target->max_v) ? Verdict::Tight : Verdict::Breaks;
}

PotView potView(const RehouseView& view, const BroughtOut& pot, const Need& need)
{
    const UnitOutput& out = view.module->entry.unit.outputs.front();
    const bool v = pot.sets == PotSets::Volts;
    const double most = v ? out.trim_max_v.value_or(out.v) : out.peak_a.value_or(out.rated_a);
    const PotBreakInput in{.sets = pot.sets,
                           .wiring = pot.wiring,
                           .ohm = pot.ohm,
                           .set = v ? view.module->rails.front().set_v
                                    : std::min(need.current_a.value_or(out.rated_a), out.rated_a),
                           .least = v ? out.trim_min_v.value_or(out.v) : 0,
                           .most = most,
                           .reach = v ? view.reach->max_v : most,
                           .reference_v = pot.reference_v,
                           .other_ohm = pot.other_ohm,
                           .guard_ohm = pot.guard_ohm};
    PotView made{.broken = potBreak(in), .verdicts = {}, .least = 0, .most = 0, .a_degree = 0};
    made.least = v ? std::max(view.reach->min_v, made.broken.least) : made.broken.least;
    made.most = std::min(made.broken.most, in.reach);
    for (const BrokenWire& wire : made.broken.wires)
        made.verdicts.push_back(verdictOf(wire, pot.sets, need.target));
    constexpr double one_turn = 270;
    constexpr double each_turn = 360;
    const double degrees = pot.turns == 1 ? one_turn : each_turn * static_cast<double>(pot.turns);
    made.a_degree = (in.most - in.least) / degrees;
    return made;
}

/// The least fuse that carries this for long; one below 0.1 A would drop volts of its own.
std::optional<double> fuseAbove(double current_a)
{
    constexpr double least_a = 0.1;
    constexpr double carries = 0.8;
    const double wanted_a = std::max(least_a, current_a / carries);
    const auto* const value =
        std::ranges::find_if(fuse_values_a, [&](double a) { return atLeast(a, wanted_a); });
    return value == fuse_values_a.end() ? std::nullopt : std::optional(*value);
}

class RehouseRows
{
public:
    RehouseRows(const Job& job, const RehouseView& view)
        : m_job(job)
        , m_view(view)
        , m_plan(*job.plan.rehouse)
    {}

    std::vector<ConsequenceRow> run()
    {
        for (std::size_t i = 0; i < m_plan.pots.size(); ++i)
            pot(m_plan.pots[i], m_view.pots[i]);
        for (const Spacer& spacer : m_plan.spacers)
            m_rows.push_back(spacerRow(spacer));
        heat();
        fuse();
        for (const FrontReadout& readout : m_plan.readouts)
            m_rows.push_back(readoutRow(readout));
        return std::move(m_rows);
    }

private:
    void pot(const BroughtOut& pot, const PotView& view)
    {
        Judged broken{.verdict = Verdict::Fits, .fits_to = 1};
        std::string working;
        for (const BrokenWire& wire : view.broken.wires) {
            working += (working.empty() ? "" : "; ") + brokenWords(wire, pot.sets);
        }
        for (const Verdict verdict : view.verdicts)
            broken.verdict = worse(broken.verdict, verdict);
        ConsequenceRow row =
            planRow(RowId::BrokenWire, broken, "a broken wire must not let the output rise above the need",
                    working, "Pot " + pot.name);
        if (pot.sets == PotSets::Volts && !pot.other_ohm && pot.wiring != PotWiring::ReturnSide)
            row.assumed.emplace_back("the module's range, end to end, is that of its trimmer");
        if (pot.sets == PotSets::Volts && !pot.reference_v)
            row.assumed.push_back(
                "a reference of " +
                volts(usualReference(
                    m_view.module->entry.unit.outputs.front().trim_min_v.value_or(view.least))));
        m_rows.push_back(std::move(row));
        range(pot, view);
        if (pot.sets == PotSets::Volts && m_job.need.target) {
            const double window_v = m_job.need.target->max_v - m_job.need.target->min_v;
            constexpr UseBounds by_hand{0.25, 1};
            m_rows.push_back(planRow(RowId::PotStep, rows::most(view.a_degree, window_v, by_hand),
                                     "its span over the degrees of its turns, against the need's window",
                                     std::to_string(pot.turns) + (pot.turns == 1 ? " turn" : " turns"),
                                     "Pot " + pot.name));
        }
        const double lead_m = pot.twisted ? twisted_lead_m : short_lead_m;
        ConsequenceRow lead = planRow(RowId::PotLead,
                                      {.value = pot.wire_m,
                                       .limit = lead_m,
                                       .use = pot.wire_m / lead_m,
                                       .verdict = atMost(pot.wire_m, lead_m) ? Verdict::Fits : Verdict::Tight,
                                       .fits_to = 1},
                                      "the sensing input hears what its wires pick up",
                                      pot.twisted ? "twisted" : "not twisted", "Pot " + pot.name);
        lead.assumed.emplace_back("100 mm, twisted 300 mm: a guide");
        m_rows.push_back(std::move(lead));
    }

    /// What is wanted of it must lie inside what it turns to.
    void range(const BroughtOut& pot, const PotView& view)
    {
        const bool v = pot.sets == PotSets::Volts;
        const auto wanted = v ? std::optional(m_view.module->rails.front().set_v) : m_job.need.current_a;
        Judged judged{.value = wanted, .limit = view.most, .verdict = Verdict::Unknown, .fits_to = 1};
        if (wanted)
            judged.verdict = within(*wanted, view.least, view.most) ? Verdict::Fits : Verdict::Breaks;
        if (wanted && view.most > 0)
            judged.use = *wanted / view.most;
        std::string working = rangeWords(view.least, view.most, pot.sets);
        if (v && view.broken.most < m_view.reach->max_v)
            working += ", ended by its guard";
        m_rows.push_back(planRow(v ? RowId::PotVolts : RowId::PotAmps, judged,
                                 "what is wanted, inside what it turns to", std::move(working),
                                 "Pot " + pot.name));
    }

    static ConsequenceRow spacerRow(const Spacer& spacer)
    {
        Judged judged{.value = spacer.current_a, .verdict = Verdict::Unknown, .fits_to = 1};
        std::string working = "whether it carries current is not measured";
        if (spacer.carries && !*spacer.carries) {
            judged.verdict = spacer.insulated ? Verdict::Fits : Verdict::Tight;
            working = spacer.insulated ? "carries nothing, insulated from the case"
                                       : "carries nothing; insulate it from the case: board and case differ";
        } else if (spacer.carries && !spacer.area_m2) {
            judged.verdict = Verdict::Breaks;
            working = "it carries current, and no wire takes its place";
        } else if (spacer.carries && spacer.current_a) {
            judged = rows::most(spacer.current_a, most_a_per_m2 * *spacer.area_m2, {1, 1.5});
            working = formatValue(*spacer.area_m2, Quantity::WireSize) + " in its place";
        } else if (spacer.carries) {
            working = "what it carries is not known";
        }
        return planRow(RowId::SpacerPath, judged, "6 A for each mm² of the wire in its place", working,
                       spacer.name);
    }

    void heat()
    {
        Judged judged{.value = m_view.inside_k, .verdict = Verdict::Unknown, .fits_to = 1};
        std::string working = "the case inside is not measured";
        std::vector<std::string> assumed;
        if (m_view.inside_k) {
            const auto limit_k = hottest(assumed);
            judged.limit = limit_k;
            constexpr double near_k = 10;
            judged.verdict = !limit_k                                ? Verdict::Breaks
                             : *m_view.inside_k + near_k <= *limit_k ? Verdict::Fits
                             : *m_view.inside_k <= *limit_k          ? Verdict::Tight
                                                                     : Verdict::Breaks;
            working = watts(*m_view.loss_w) + " in a case of " + millimetres(m_job.found.space->inside.x_m) +
                      " × " + millimetres(m_job.found.space->inside.y_m) + " × " +
                      millimetres(m_job.found.space->inside.z_m) + " mm" +
                      (m_plan.vented ? ", vented" : ", closed");
            assumed.emplace_back("painted sheet steel that stands free, 5.5 W/(m²·K)");
            if (m_plan.vented)
                assumed.emplace_back("vents halve the rise");
            if (!m_view.module->entry.unit.efficiency)
                assumed.emplace_back("an efficiency of " + formatPercent(usual_efficiency));
        }
        ConsequenceRow row = planRow(RowId::CaseHeat, judged, "T = T_a + P/(k·A), A by IEC 60890", working);
        row.assumed = std::move(assumed);
        m_rows.push_back(std::move(row));
    }

    /// Up to where its derating still leaves the need's current; nothing where it never does.
    std::optional<double> hottest(std::vector<std::string>& assumed) const
    {
        const ShelfUnit& unit = m_view.module->entry.unit;
        const double wanted = m_job.need.current_a.value_or(0) / unit.outputs.front().rated_a;
        if (unit.derating.empty()) {
            assumed.emplace_back("60 °C, its derating is not known");
            return usual_case_limit_k;
        }
        std::optional<double> limit_k;
        constexpr double from_k = 273.15;
        constexpr double to_k = 400;
        for (double k = from_k; k <= to_k; k += 1)
            if (atLeast(deratedShare(unit.derating, k), wanted))
                limit_k = k;
        return limit_k ? std::min(*limit_k, unit.derating.back().k) : limit_k;
    }

    void fuse()
    {
        Judged judged{.value = m_view.input_a, .limit = m_plan.fuse_a, .verdict = Verdict::Unknown};
        std::string working = "what it draws from its feed is not known";
        if (m_view.input_a) {
            const std::string draws = amps(*m_view.input_a) + " from the feed at its lowest";
            const std::string would =
                m_view.fuse_a ? "; " + amps(*m_view.fuse_a) + " would do" : std::string();
            judged.use = useOf(m_view.input_a, m_plan.fuse_a);
            judged.verdict = m_plan.fuse_a ? judgeUse(judged.use) : Verdict::Tight;
            working = m_plan.fuse_a ? draws : draws + ", and no fuse" + would;
            constexpr double clears = 2;
            if (m_plan.fuse_a && m_plan.feed_a && *m_plan.feed_a < clears * *m_plan.fuse_a) {
                judged.verdict = worse(judged.verdict, Verdict::Tight);
                working += "; the feed gives no more than " + amps(*m_plan.feed_a) +
                           ", which clears it slowly or not at all";
            }
        }
        m_rows.push_back(planRow(RowId::FeedFuse, judged,
                                 "V·I/(η·V_feed) at the peak, up to 80 % of a fuse rated for DC", working));
    }

    ConsequenceRow readoutRow(const FrontReadout& readout) const
    {
        Judged judged{.verdict = Verdict::Unknown, .fits_to = 1};
        std::string working = "not held against a meter yet";
        if (const auto in = readoutInput(heldReadout(readout), m_job.meter)) {
            const ReadoutCheckResult r = readoutCheck(*in);
            judged.verdict = readout.claim ? r.verdict : Verdict::Unknown;
            const auto worst = std::ranges::max_element(
                r.points, {}, [](const CheckedPoint& point) { return std::abs(point.error); });
            working = "off by " + shown(std::abs(worst->error), readout.shows) + " at " +
                      shown(worst->truth, readout.shows) +
                      (readout.claim ? "" : "; what it claims is not known");
            if (r.cured_by && *r.cured_by != ReadoutCure::NothingNeeded)
                working += "; " + cureWords(*r.cured_by);
        }
        return planRow(RowId::ReadoutTrue, judged, "shown less true, against what it claims", working,
                       readout.name);
    }

    const Job& m_job;
    const RehouseView& m_view;
    const RehousePlan& m_plan;
    std::vector<ConsequenceRow> m_rows;
};

School potSchool(const RehouseView& view, const RehousePlan& plan)
{
    const auto pot = std::ranges::find(plan.pots, PotSets::Volts, &BroughtOut::sets);
    if (pot == plan.pots.end())
        return {};
    const bool falls = pot->wiring == PotWiring::ReturnSide;
    return {
        "Where the potentiometer of the volts sits",
        {{"In the module's own place",
          "as its maker drew it; " +
              brokenWords(view.pots[static_cast<std::size_t>(pot - plan.pots.begin())].broken.wires.front(),
                          PotSets::Volts)},
         {"On the return side", "other resistors, and more volts to the left; a broken wire lets the "
                                "output fall to the reference"}},
        falls || pot->guard_ohm ? std::size_t{0} : std::size_t{1},
        falls            ? "It sits there already."
        : pot->guard_ohm ? "Its guard on the board bounds what a broken wire can do."
                         : "A wire to a front moves, and one day breaks."};
}

std::string sentenceOf(const Job& job, const RehouseView& view)
{
    if (view.module == nullptr)
        return job.found.dcFed()
                   ? "Take an adjustable module under Choose: here it gets its case."
                   : "For a module on DC: this supply hangs on the mains, its replacement is planned under "
                     "Choose and Fit.";
    const std::string reaches = view.module->entry.unit.name + " reaches " +
                                rangeWords(view.reach->min_v, view.reach->max_v, PotSets::Volts);
    return reaches + (view.reach->by_feed ? ": the feed ends it." : ", all that it can.");
}

} // namespace

double caseRise(const BoxSize& inside, double loss_w, bool vented)
{
    constexpr double w_per_m2_k = 5.5;
    const double area_m2 = 1.8 * inside.z_m * (inside.x_m + inside.y_m) + 1.4 * inside.x_m * inside.y_m;
    return loss_w / (w_per_m2_k * area_m2) * (vented ? 0.5 : 1.0);
}

std::string wiringWords(PotWiring wiring, PotSets sets)
{
    const bool v = sets == PotSets::Volts;
    switch (wiring) {
    case PotWiring::OutputSide:
        return v ? "two wires, between output and sensing input" : "two wires, between reference and input";
    case PotWiring::ReturnSide:
        return v ? "two wires, between sensing input and return" : "two wires, between input and return";
    case PotWiring::AdjustPin:
        return "two wires, between adjusting pin and return";
    case PotWiring::Divider:
        return v ? "three wires, wiper to the sensing input" : "three wires, wiper to the control input";
    }
    return {};
}

std::string brokenWords(const BrokenWire& wire, PotSets sets)
{
    const std::string where = wire.wire + " broken: ";
    switch (wire.goes) {
    case BreakGoes::Nowhere:
        return where + "nobody knows where the output goes";
    case BreakGoes::Low:
        return where + (sets == PotSets::Volts ? "the output falls to " : "the limit falls to ") +
               shown(*wire.to, sets);
    case BreakGoes::High:
        return where + (sets == PotSets::Volts ? "the output rises to " : "the limit rises to ") +
               shown(*wire.to, sets);
    }
    return {};
}

std::string rangeWords(double least, double most, PotSets sets)
{
    return shown(least, sets) + " to " + shown(most, sets);
}

RehouseView rehouseView(const Job& job)
{
    RehouseView view{};
    view.module = plannedModule(job);
    if (view.module != nullptr)
        view.reach = reachOf(job.found, view.module->entry);
    view.sentence = sentenceOf(job, view);
    if (view.module == nullptr || !job.plan.rehouse)
        return view;
    const RehousePlan& plan = *job.plan.rehouse;
    const double efficiency = view.module->entry.unit.efficiency.value_or(usual_efficiency);
    const bool linear = view.module->entry.converts == ModuleKind::Linear;
    const double set_v = view.module->rails.front().set_v;
    if (job.need.current_a) {
        const double peak_a = std::max(*job.need.current_a, job.need.peak_a.value_or(0));
        view.input_a = linear ? peak_a : set_v * peak_a / (efficiency * *job.found.direct.min_v);
        view.fuse_a = fuseAbove(*view.input_a);
        view.loss_w = linear ? (*job.found.direct.max_v - set_v) * *job.need.current_a
                             : set_v * *job.need.current_a * (1 / efficiency - 1);
        if (const auto& space = job.found.space)
            view.inside_k = job.found.regulator.t_ambient_k.value_or(usual_ambient_k) +
                            caseRise(space->inside, *view.loss_w, plan.vented);
    }
    for (const BroughtOut& pot : plan.pots)
        view.pots.push_back(potView(view, pot, job.need));
    view.rows = RehouseRows(job, view).run();
    view.school = potSchool(view, plan);
    return view;
}

RehousePlan usualRehousing(const Job& job)
{
    constexpr std::int64_t helical = 10;
    Job trial = job;
    trial.plan.rehouse = RehousePlan{.pots = {{.name = "volts", .turns = helical, .twisted = true}},
                                     .readouts = {{.name = "volts"}}};
    trial.plan.rehouse->fuse_a = rehouseView(trial).fuse_a;
    return *trial.plan.rehouse;
}

} // namespace offshoot
