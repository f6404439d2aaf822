#include "core/job/joining.h"

#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

constexpr double tenth = 0.10;
/// Of set points nobody matched: what a 1 % reference with 1 % resistors leaves.
constexpr double untrimmed_share = 0.01;
constexpr double lead_spread = 0.10;
/// A Schottky diode as it is used in a lead of some amperes.
OringDiode usualDiode() { return {.v_f_v = 0.4, .r_ohm = 0.02}; }

std::string percent(double share) { return significant(share * 100, 2) + " %"; }

const LogEntry* lastReading(const Job& job, std::size_t unit)
{
    const auto struck = struckIds(job.log);
    const LogEntry* last = nullptr;
    for (const LogEntry& entry : job.log)
        if (entry.kind == LogKind::Reading && entry.quantity == Quantity::Voltage &&
            entry.stage == ReadingStage::Found && entry.isolation == Isolation::Live &&
            entry.unit == unitTag(unit) && entry.point == job.found.rails.front().name &&
            !struck.contains(entry.id))
            last = &entry;
    return last;
}

} // namespace

std::size_t unitCount(const Job& job) { return job.others.size() + 1; }

const Supply& unitSupply(const Job& job, std::size_t unit)
{
    return unit == 1 ? job.found : job.others.at(unit - 2);
}

std::optional<double> unitFound(const Job& job, const Evaluation& evaluation, std::size_t unit)
{
    if (unit == 1)
        return evaluation.found_v;
    if (const LogEntry* reading = lastReading(job, unit))
        return std::abs(*reading->value);
    const Supply& supply = unitSupply(job, unit);
    return supply.joint.v_set_v ? supply.joint.v_set_v : supply.rails.front().v_v;
}

std::optional<double> unitSet(const Job& job, const Evaluation& evaluation, std::size_t unit)
{
    if (job.plan.join)
        for (const UnitSetting& setting : job.plan.join->settings)
            if (static_cast<std::size_t>(setting.unit) == unit)
                return setting.v_set_v;
    if (unit == 1 && evaluation.planned_v)
        return evaluation.planned_v;
    return unitFound(job, evaluation, unit);
}

// ---- side by side

namespace {

/// The load on the bus as the need says it behaves.
std::optional<BusLoad> busLoad(const Need& need)
{
    if (!need.current_a)
        return std::nullopt;
    const double v = need.target ? need.target->v : 0;
    switch (need.draws) {
    case LoadDraw::Current:
        return BusLoad{.current_a = need.current_a};
    case LoadDraw::Power:
        return v > 0 ? std::optional(BusLoad{.power_w = v * *need.current_a}) : std::nullopt;
    case LoadDraw::Resistance:
        return v > 0 ? std::optional(BusLoad{.ohm = v / *need.current_a}) : std::nullopt;
    }
    return std::nullopt;
}

ParallelUnit busUnit(const Job& job, const Evaluation& evaluation, std::size_t unit,
                     std::vector<std::string>& assumed)
{
    const Joint& joint = unitSupply(job, unit).joint;
    const std::string name = unitName(job, unit);
    const auto& join = job.plan.join;
    ParallelUnit out{.name = name, .v_set_v = unitSet(job, evaluation, unit).value_or(0)};
    if (joint.r_out_ohm)
        out.r_out_ohm = *joint.r_out_ohm;
    else
        assumed.push_back(name + ": output without droop");
    if (const auto lead = joint.leadOhm())
        out.r_lead_ohm = *lead;
    else
        assumed.push_back(name + ": leads of 0 Ω");
    if (join && join->ballast)
        out.r_lead_ohm += join->ballast->ohm();
    out.i_limit_a = joint.i_limit_a;
    out.limit = joint.i_limit_a ? joint.limit : LimitKind::ConstantCurrent;
    out.diode = join && join->diode ? join->diode : joint.diode;
    return out;
}

double highestSet(const ParallelInput& in)
{
    return std::ranges::max_element(in.units, {}, &ParallelUnit::v_set_v)->v_set_v;
}

double setSpread(const ParallelInput& in)
{
    return highestSet(in) - std::ranges::min_element(in.units, {}, &ParallelUnit::v_set_v)->v_set_v;
}

double meanOhm(const ParallelInput& in)
{
    double sum = 0;
    for (const ParallelUnit& unit : in.units)
        sum += unit.r_out_ohm + unit.r_lead_ohm + (unit.diode ? unit.diode->r_ohm : 0);
    return sum / static_cast<double>(in.units.size());
}

/// Two readings with one meter on one range: its counts are left.
double meterMatch(const Job& job)
{
    return std::sqrt(2.0) * job.meter.volts.counts * job.meter.volts.resolution;
}

/// Whether any one may fail: the rest must serve, none tripped, and none beyond its plate.
bool oneMayFail(const Job& job, const ParallelResult& r)
{
    if (!r.redundant)
        return false;
    for (const BusWithout& without : r.without)
        for (const UnitShare& share : without.bus.units)
            for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
                const auto& plate_a = unitSupply(job, unit).rails.front().i_rated_a;
                if (unitName(job, unit) == share.name && plate_a && !atMost(share.current_a, *plate_a))
                    return false;
            }
    return true;
}

std::string schoolFigures(const Job& job, const ParallelResult& r)
{
    std::string text = "bus " + volts(r.bus.v_bus_v);
    if (r.bus.worst_use)
        text += ", most used " + percent(*r.bus.worst_use);
    const double loss_w = r.bus.ballast_loss_w + r.bus.diode_loss_w;
    text += ", lost " + formatValue(loss_w, Quantity::Power);
    return text + (oneMayFail(job, r) ? "; one may fail" : "; none may fail");
}

class ParallelBuilder
{
public:
    ParallelBuilder(const Job& job, const Evaluation& evaluation)
        : m_job(job)
        , m_e(evaluation)
    {}

    ParallelView run()
    {
        m_view.model = busModel(m_job, m_e);
        if (!m_view.model.input) {
            m_view.sentence = m_view.model.missing;
            return std::move(m_view);
        }
        const ParallelInput& in = *m_view.model.input;
        m_view.result = sourcesParallel(in);
        m_load_a = std::max(m_job.need.current_a.value_or(0), 1e-6);
        setCurves(in);
        setMatch(in);
        setSchools(in);
        setSpread(in);
        m_view.sentence = sentence();
        return std::move(m_view);
    }

private:
    void setCurves(const ParallelInput& in)
    {
        constexpr int steps = 80;
        double sum_a = 0;
        for (const ParallelUnit& unit : in.units)
            sum_a += unit.i_limit_a.value_or(m_load_a);
        m_view.full_a = std::max(sum_a, m_load_a) * 1.15;
        ParallelInput at = in;
        for (int k = 0; k <= steps; ++k) {
            const double load_a = m_view.full_a * k / steps;
            at.load = {.current_a = load_a};
            const BusState bus = busState(at);
            m_view.loads_a.push_back(load_a);
            std::vector<double> currents;
            std::vector<UnitState> states;
            for (const UnitShare& unit : bus.units) {
                currents.push_back(unit.current_a);
                states.push_back(unit.state);
            }
            m_view.currents_a.push_back(std::move(currents));
            m_view.states.push_back(std::move(states));
        }
    }

    void setMatch(const ParallelInput& in)
    {
        const auto count = static_cast<std::int64_t>(in.units.size());
        m_view.match_v = matchFor(m_job, in);
        double own_ohm = meanOhm(in);
        if (m_job.plan.join && m_job.plan.join->ballast)
            own_ohm -= m_job.plan.join->ballast->ohm();
        m_view.ballast_for = {.units = count,
                              .current_a = m_load_a,
                              .r_unit_ohm = std::max(0.0, own_ohm),
                              .spread_v = std::max(offshoot::setSpread(in), meterMatch(m_job)),
                              .imbalance = tenth};
        m_view.ballasts = ballastOptions(m_view.ballast_for, m_job.drawer);
        std::ranges::copy(ballastLeads(m_view.ballast_for), std::back_inserter(m_view.ballasts));
    }

    void addSchool(const std::string& name, ParallelInput in)
    {
        ShareSchool school{name, {}, sourcesParallel(in), std::move(in)};
        school.figures = schoolFigures(m_job, *school.result);
        m_view.schools.push_back(std::move(school));
    }

    void setSchools(const ParallelInput& planned)
    {
        ParallelInput plain = planned;
        for (std::size_t i = 0; i < plain.units.size(); ++i) {
            plain.units[i].diode.reset();
            if (m_job.plan.join && m_job.plan.join->ballast)
                plain.units[i].r_lead_ohm -= m_job.plan.join->ballast->ohm();
            plain.units[i].r_lead_ohm = std::max(0.0, plain.units[i].r_lead_ohm);
        }
        addSchool("Droop", plain);
        ParallelInput ballasted = plain;
        const double ballast_ohm = sourcesBallast(m_view.ballast_for).ballast_ohm;
        for (ParallelUnit& unit : ballasted.units)
            unit.r_lead_ohm += ballast_ohm;
        addSchool("Ballast", ballasted);
        const auto lead = std::ranges::find_if(
            m_view.ballasts, [](const BallastOption& option) { return option.lead.has_value(); });
        const std::string longer = lead == m_view.ballasts.end()
                                       ? ""
                                       : ", or " + formatValue(lead->lead->length_m, Quantity::Length, 2) +
                                             " more of it at " +
                                             formatValue(lead->lead->area_m2, Quantity::WireSize);
        m_view.schools.back().figures =
            formatOhms(ballast_ohm) + " in each lead" + longer + ": " + m_view.schools.back().figures;
        ParallelInput diodes = plain;
        for (ParallelUnit& unit : diodes.units)
            unit.diode = usualDiode();
        addSchool("Diodes", diodes);
        m_view.schools.back().figures =
            "one in each lead, 0.4 V and 20 mΩ assumed: " + m_view.schools.back().figures;
        constexpr double room = 1.25;
        m_view.schools.push_back({"One bigger",
                                  "at least " + amps(m_load_a * room) + " at " + volts(highestSet(plain)) +
                                      "; nothing to share, none may fail",
                                  std::nullopt,
                                  {}});
        pickSchool();
    }

    /// The better verdict, then one that outlives a failing unit, then the smaller loss. A bigger unit is the
    /// way out when nothing shares.
    void pickSchool()
    {
        const auto rank = [this](const ShareSchool& school) {
            const ParallelResult& r = *school.result;
            return std::tuple(badness(r.bus.verdict), oneMayFail(m_job, r) ? 0 : 1,
                              r.bus.ballast_loss_w + r.bus.diode_loss_w);
        };
        m_view.pick = m_view.schools.size() - 1;
        for (std::size_t i = 0; i + 1 < m_view.schools.size(); ++i)
            if (m_view.schools[i].result->bus.verdict != Verdict::Breaks &&
                (m_view.pick + 1 == m_view.schools.size() ||
                 rank(m_view.schools[i]) < rank(m_view.schools[m_view.pick])))
                m_view.pick = i;
        static constexpr std::array<std::string_view, 4> reasons{
            "Their own droop shares well enough: nothing is added that could fail.",
            "A resistor in each lead makes them share; it costs heat and some volts.",
            "A diode keeps a dead unit from loading the bus; it costs its voltage.",
            "No way of sharing carries this load: one unit that can is the honest answer."};
        m_view.why = reasons.at(m_view.pick);
    }

    void setSpread(const ParallelInput& in)
    {
        m_view.before_spread_v = untrimmed_share * highestSet(in);
        ParallelInput equal = in; // a builder sets them all to one voltage
        for (ParallelUnit& unit : equal.units)
            unit.v_set_v = highestSet(in);
        m_view.before_trimming =
            shareSpread({.bus = equal, .set_spread_v = m_view.before_spread_v, .lead_spread = lead_spread});
        m_view.after_trimming =
            shareSpread({.bus = equal, .set_spread_v = meterMatch(m_job) / 2, .lead_spread = lead_spread});
    }

    std::string sentence() const
    {
        const BusState& bus = m_view.result->bus;
        const auto most = std::ranges::max_element(bus.units, {}, &UnitShare::current_a);
        switch (bus.status) {
        case ShareStatus::Overload:
            return bus.trips.empty() ? "They cannot carry " + amps(m_load_a) + ": the bus falls to " +
                                           volts(bus.v_bus_v) + "."
                                     : bus.trips.front() + " trips first, and takes the others with it.";
        case ShareStatus::NoLoad:
            return "Without load the highest set point holds the bus: " + volts(bus.v_bus_v) + ".";
        case ShareStatus::OneCarries:
            return most->name + " carries all of it, " + amps(most->current_a) +
                   "; the others idle until it reaches its limit.";
        case ShareStatus::Shared:
        case ShareStatus::Uneven:
            break;
        }
        std::string text = bus.status == ShareStatus::Shared ? "They share, each within a tenth of the mean. "
                                                             : "They share unevenly. ";
        text += most->name + " gives most, " + amps(most->current_a);
        if (most->use)
            text += ", " + percent(*most->use) + " of its limit";
        text += oneMayFail(m_job, *m_view.result) ? ". Any one may fail."
                                                  : ". If one fails, the rest cannot carry on.";
        return text;
    }

    const Job& m_job;
    const Evaluation& m_e;
    double m_load_a = 0;
    ParallelView m_view{};
};

} // namespace

double matchFor(const Job& job, const ParallelInput& bus)
{
    return sourcesBallast({.units = static_cast<std::int64_t>(bus.units.size()),
                           .current_a = std::max(job.need.current_a.value_or(0), 1e-6),
                           .r_unit_ohm = meanOhm(bus),
                           .imbalance = tenth,
                           .ballast_ohm = 0})
        .spread_v;
}

BusModel busModel(const Job& job, const Evaluation& evaluation)
{
    BusModel model;
    if (job.others.empty()) {
        model.missing = "One unit alone shares nothing. Enter the others in Found, under Units.";
        return model;
    }
    const auto load = busLoad(job.need);
    if (!load) {
        model.missing = "Say in Need what the load draws, and at what voltage.";
        return model;
    }
    ParallelInput in{.units = {}, .load = *load};
    for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
        if (!unitSet(job, evaluation, unit)) {
            model.missing = "Enter what " + unitName(job, unit) +
                            " gives, or read it: " + job.found.rails.front().name + " 15.02" +
                            (unit > 1 ? " #" + std::to_string(unit) : "") + ".";
            return model;
        }
        in.units.push_back(busUnit(job, evaluation, unit, model.assumed));
    }
    model.input = std::move(in);
    return model;
}

ParallelView parallelView(const Job& job, const Evaluation& evaluation)
{
    return ParallelBuilder(job, evaluation).run();
}

// ---- stacked

namespace {

/// Fits the plan's answer to the bonds: which are opened, and the diodes.
StackUnit stackUnit(const Job& job, std::size_t unit, double v_v, double i_limit_a)
{
    const Joint& joint = unitSupply(job, unit).joint;
    StackUnit out{.name = unitName(job, unit),
                  .v_v = v_v,
                  .i_limit_a = i_limit_a,
                  .bonded = joint.bonded,
                  .isolation_v = joint.isolation_v,
                  .reverse_diode = joint.reverse_diode};
    if (const auto& join = job.plan.join) {
        if (std::ranges::count(join->opened_bonds, static_cast<std::int64_t>(unit)) > 0)
            out.bonded = Bond::None;
        if (join->reverse_diode)
            out.reverse_diode = join->reverse_diode;
    }
    return out;
}

std::string joined(const std::vector<std::string>& names)
{
    std::string text;
    for (std::size_t i = 0; i < names.size(); ++i)
        text += (i == 0 ? "" : i + 1 == names.size() ? " and " : ", ") + names[i];
    return text;
}

std::string stackSentence(const StackResult& r)
{
    if (!r.conflicts.empty())
        return joined(r.conflicts.front().shorted) +
               (r.conflicts.front().shorted.size() == 1 ? " is shorted" : " are shorted") +
               " through the earth: open the output bond of " + joined(r.open_bonds) +
               ". The case keeps its earth.";
    std::string text = volts(r.total_v) + " over the stack, at most " + amps(r.current_limit_a) + " by " +
                       r.limited_by + ". ";
    for (const StackedUnit& unit : r.units) {
        if (unit.isolation_verdict == Verdict::Breaks)
            return text + unit.name + "'s insulation does not bear " + volts(unit.to_earth_max_v) +
                   " to earth.";
        if (unit.diode_verdict == Verdict::Breaks)
            return text + unit.name + "'s reverse diode does not bear what the others push.";
    }
    if (r.verdict == Verdict::Unknown)
        return text + "A bond, an insulation or a diode is not known yet: measure it.";
    return text + (r.floating ? "Nothing earths it: either end may become live by a fault."
                              : "One point is earthed, and every part bears its place.");
}

std::vector<std::string> stackAdvice(const StackView& view)
{
    std::vector<std::string> lines;
    const StackResult& r = *view.result;
    std::vector<std::string> unknown;
    for (const StackUnit& unit : view.model.input->units)
        if (unit.bonded == Bond::Unknown)
            unknown.push_back(unit.name);
    if (!unknown.empty())
        lines.push_back("Dead and unplugged, measure from each output terminal of " + joined(unknown) +
                        " to its case: below 1 Ω it is bonded, above 1 MΩ it floats.");
    if (!r.open_bonds.empty())
        lines.push_back("Open the output's bond of " + joined(r.open_bonds) +
                        ": a strap, a screw or a track between output and case. Insulate mountings and "
                        "connectors that touched both.");
    lines.emplace_back("The protective earth of every case stays connected, always.");
    const bool diodes = std::ranges::all_of(view.model.input->units,
                                            [](const StackUnit& u) { return u.reverse_diode.has_value(); });
    if (!diodes)
        lines.push_back(
            "Across each output a diode, cathode to positive: for at least " +
            amps(std::ranges::max_element(view.model.input->units, {}, &StackUnit::i_limit_a)->i_limit_a) +
            ", so that a dead unit is passed by.");
    if (r.hazard)
        lines.emplace_back("Above 60 V: treat the stack as mains, cover every terminal.");
    return lines;
}

} // namespace

StackModel stackModel(const Job& job, const Evaluation& evaluation)
{
    StackModel model;
    if (job.others.empty()) {
        model.missing = "One unit alone is no stack. Enter the others in Found, under Units.";
        return model;
    }
    StackInput in{.units = {}};
    for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
        const Supply& supply = unitSupply(job, unit);
        const std::string name = unitName(job, unit);
        const auto v = unitSet(job, evaluation, unit);
        const auto& rated_a = supply.rails.front().i_rated_a;
        const auto limit_a = supply.joint.i_limit_a ? supply.joint.i_limit_a : rated_a;
        if (!v || !limit_a) {
            model.missing = "Enter what " + name + (v ? " limits at." : " gives.");
            return model;
        }
        if (!supply.joint.i_limit_a)
            model.assumed.push_back(name + ": limits at its rating");
        in.units.push_back(stackUnit(job, unit, *v, *limit_a));
    }
    if (job.plan.join && job.plan.join->earthed_node)
        in.earthed_node =
            std::min<std::int64_t>(*job.plan.join->earthed_node, static_cast<std::int64_t>(in.units.size()));
    model.input = std::move(in);
    return model;
}

StackView stackView(const Job& job, const Evaluation& evaluation)
{
    StackView view;
    view.model = stackModel(job, evaluation);
    if (!view.model.input) {
        view.sentence = view.model.missing;
        return view;
    }
    view.result = sourcesSeries(*view.model.input);
    view.wiring = stackConnections(job, evaluation);
    view.as_found = *view.model.input;
    for (std::size_t i = 0; i < view.as_found.units.size(); ++i)
        view.as_found.units[i].bonded = unitSupply(job, i + 1).joint.bonded;
    view.sentence = stackSentence(*view.result);
    view.advice = stackAdvice(view);
    return view;
}

// ---- rows

namespace {

void shareRows(std::vector<ConsequenceRow>& rows, const BusModel& model)
{
    if (!model.input)
        return;
    const BusState bus = busState(*model.input);
    for (std::size_t i = 0; i < bus.units.size(); ++i) {
        const UnitShare& unit = bus.units[i];
        const auto& limit = model.input->units[i].i_limit_a;
        ConsequenceRow row = blankRow(RowId::UnitShare, unit.name);
        row.planned = unit.current_a;
        row.limit = limit;
        row.use = unit.use;
        row.verdict = unit.state == UnitState::Tripped || !bus.served ? Verdict::Breaks
                                                                      : judgeUse(unit.use, default_bounds);
        row.assumed = model.assumed;
        row.formula = "I = (V_set − V_f − V_bus)/(R_out + R_lead), held at its limit";
        row.working = "V_bus " + volts(bus.v_bus_v) + ": " + amps(unit.current_a) +
                      (unit.state == UnitState::Tripped ? ", tripped" : "");
        row.worse = true; // the plan brings it about
        rows.push_back(std::move(row));
    }
}

void stackRows(std::vector<ConsequenceRow>& rows, const StackModel& model)
{
    if (!model.input)
        return;
    const StackResult stack = sourcesSeries(*model.input);
    for (std::size_t i = 0; i < stack.units.size(); ++i) {
        const StackedUnit& unit = stack.units[i];
        const StackUnit& in = model.input->units[i];
        ConsequenceRow isolation = blankRow(RowId::StackIsolation, unit.name);
        isolation.planned = unit.to_earth_max_v;
        isolation.limit = in.isolation_v;
        isolation.use = unit.isolation_use;
        isolation.verdict = unit.shorted ? Verdict::Breaks : unit.isolation_verdict;
        isolation.formula = "largest potential of its terminals to earth against its working insulation";
        isolation.working = unit.shorted ? "shorted through the earth: two bonds in one stack"
                            : unit.low_v ? volts(*unit.low_v) + " to " + volts(*unit.high_v)
                                         : "floating: either end earthed by a fault";
        isolation.worse = true;
        rows.push_back(std::move(isolation));
        ConsequenceRow diode = blankRow(RowId::StackDiode, unit.name);
        if (in.reverse_diode) {
            double pushed_a = 0;
            for (std::size_t k = 0; k < model.input->units.size(); ++k)
                if (k != i)
                    pushed_a = std::max(pushed_a, model.input->units[k].i_limit_a);
            diode.planned = pushed_a;
            diode.limit = in.reverse_diode->i_a;
            diode.use = unit.diode_use;
            diode.working = amps(pushed_a) + " against " + amps(in.reverse_diode->i_a) + ", " +
                            volts(in.v_v) + " against " + volts(in.reverse_diode->v_rrm_v);
        }
        diode.verdict = unit.diode_verdict.value_or(Verdict::Unknown);
        diode.assumed = model.assumed;
        diode.formula = "the larger of V/V_RRM and the others' limit/I_F";
        diode.worse = true;
        rows.push_back(std::move(diode));
    }
}

} // namespace

std::vector<ConsequenceRow> joinRows(const Job& job, const Evaluation& evaluation)
{
    std::vector<ConsequenceRow> rows;
    if (!job.plan.join)
        return rows;
    if (job.plan.join->kind == Joining::SideBySide)
        shareRows(rows, busModel(job, evaluation));
    else
        stackRows(rows, stackModel(job, evaluation));
    return rows;
}

} // namespace offshoot
