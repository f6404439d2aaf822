#include "core/kinds/joined/bus_view.h"

#include "core/judge/row_maker.h"
#include "core/kinds/chain/chain_view.h"
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

ParallelUnit busUnit(const Job& job, const Figures& figures, std::size_t unit,
                     std::vector<std::string>& assumed)
{
    const Joint& joint = figures.unit.of(unit).joint;
    const std::string name = unitName(job, unit);
    ParallelUnit out{.name = name, .v_set_v = unitSet(job, figures, unit).value_or(0)};
    if (joint.r_out_ohm)
        out.r_out_ohm = *joint.r_out_ohm;
    else
        assumed.push_back(name + ": output without droop");
    if (const auto lead = joint.leadOhm())
        out.r_lead_ohm = *lead;
    else
        assumed.push_back(name + ": leads of 0 Ω");
    if (const auto& join = job.plan.join; join && join->ballast)
        out.r_lead_ohm += join->ballast->ohm();
    out.i_limit_a = joint.i_limit_a;
    out.limit = joint.i_limit_a ? joint.limit : LimitKind::ConstantCurrent;
    out.diode = joint.diode;
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

std::string wayFigures(const Job& job, const ParallelResult& r)
{
    std::string text = "bus " + volts(r.bus.v_bus_v);
    if (r.bus.worst_use)
        text += ", most used " + formatPercent(*r.bus.worst_use);
    const double loss_w = r.bus.ballast_loss_w + r.bus.diode_loss_w;
    text += ", lost " + formatValue(loss_w, Quantity::Power);
    return text + (oneMayFail(job, r) ? "; one may fail" : "; none may fail");
}

class ParallelBuilder
{
public:
    ParallelBuilder(const Job& job, const Figures& figures)
        : m_job(job)
        , m_e(figures)
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
        setWays(in);
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
                              .spread_v = std::max(setSpread(in), meterMatch(m_job)),
                              .imbalance = tenth};
        m_view.ballasts = ballastOptions(m_view.ballast_for, m_job.drawer);
        std::ranges::copy(ballastLeads(m_view.ballast_for), std::back_inserter(m_view.ballasts));
    }

    void addWay(const std::string& name, ParallelInput in)
    {
        ShareWay way{name, {}, sourcesParallel(in), std::move(in)};
        way.figures = wayFigures(m_job, *way.result);
        m_view.ways.push_back(std::move(way));
    }

    void setWays(const ParallelInput& planned)
    {
        ParallelInput plain = planned;
        for (std::size_t i = 0; i < plain.units.size(); ++i) {
            plain.units[i].diode.reset();
            if (m_job.plan.join && m_job.plan.join->ballast)
                plain.units[i].r_lead_ohm -= m_job.plan.join->ballast->ohm();
            plain.units[i].r_lead_ohm = std::max(0.0, plain.units[i].r_lead_ohm);
        }
        addWay("Droop", plain);
        ParallelInput ballasted = plain;
        const double ballast_ohm = sourcesBallast(m_view.ballast_for).ballast_ohm;
        for (ParallelUnit& unit : ballasted.units)
            unit.r_lead_ohm += ballast_ohm;
        addWay("Ballast", ballasted);
        const auto lead = std::ranges::find_if(
            m_view.ballasts, [](const BallastOption& option) { return option.lead.has_value(); });
        const std::string longer = lead == m_view.ballasts.end()
                                       ? ""
                                       : ", or " + formatValue(lead->lead->length_m, Quantity::Length, 2) +
                                             " more of it at " +
                                             formatValue(lead->lead->area_m2, Quantity::WireSize);
        m_view.ways.back().figures =
            formatOhms(ballast_ohm) + " in each lead" + longer + ": " + m_view.ways.back().figures;
        ParallelInput diodes = plain;
        for (ParallelUnit& unit : diodes.units)
            unit.diode = usualDiode();
        addWay("Diodes", diodes);
        m_view.ways.back().figures =
            "one in each lead, 0.4 V and 20 mΩ assumed: " + m_view.ways.back().figures;
        constexpr double room = 1.25;
        m_view.ways.push_back({"One bigger",
                               "at least " + amps(m_load_a * room) + " at " + volts(highestSet(plain)) +
                                   "; nothing to share, none may fail",
                               std::nullopt,
                               {}});
        pickWay();
    }

    /// The better verdict, then one that outlives a failing unit, then the smaller loss. A bigger unit is the
    /// way out when nothing shares.
    void pickWay()
    {
        const auto rank = [this](const ShareWay& way) {
            const ParallelResult& r = *way.result;
            return std::tuple(badness(r.bus.verdict), oneMayFail(m_job, r) ? 0 : 1,
                              r.bus.ballast_loss_w + r.bus.diode_loss_w);
        };
        std::size_t pick = m_view.ways.size() - 1;
        for (std::size_t i = 0; i + 1 < m_view.ways.size(); ++i)
            if (m_view.ways[i].result->bus.verdict != Verdict::Breaks &&
                (pick + 1 == m_view.ways.size() || rank(m_view.ways[i]) < rank(m_view.ways[pick])))
                pick = i;
        static constexpr std::array<std::string_view, 4> reasons{
            "Their own droop shares well enough: nothing is added that could fail.",
            "A resistor in each lead makes them share; it costs heat and some volts.",
            "A diode keeps a dead unit from loading the bus; it costs its voltage.",
            "No way of sharing carries this load: one unit that can is the honest answer."};
        m_view.school = {
            "Droop, ballast, diodes, or one bigger unit", {}, pick, std::string(reasons.at(pick))};
        for (const ShareWay& way : m_view.ways)
            m_view.school.sides.push_back({way.name, way.figures});
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
            text += ", " + formatPercent(*most->use) + " of its limit";
        text += oneMayFail(m_job, *m_view.result) ? ". Any one may fail."
                                                  : ". If one fails, the rest cannot carry on.";
        return text;
    }

    const Job& m_job;
    const Figures& m_e;
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

BusModel busModel(const Job& job, const Figures& figures)
{
    if (figures.joined && job.plan.join->kind == Joining::SideBySide)
        return figures.joined->bus;
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
        if (!unitSet(job, figures, unit)) {
            model.missing = "Enter what " + unitName(job, unit) +
                            " gives, or read it: " + job.found.rails.front().name + " 15.02" +
                            (unit > 1 ? " #" + std::to_string(unit) : "") + ".";
            return model;
        }
        in.units.push_back(busUnit(job, figures, unit, model.assumed));
    }
    model.input = std::move(in);
    return model;
}

ParallelView parallelView(const Job& job, const Figures& figures)
{
    return ParallelBuilder(job, figures).run();
}

ShareBuilds shareBuilds(const Job& job, const ParallelInput& bus)
{
    const double highest_v = highestSet(bus);
    ParallelInput equal = bus;
    for (ParallelUnit& unit : equal.units)
        unit.v_set_v = highest_v;
    const double before_v = untrimmed_share * highest_v;
    const auto within = [&](double spread_v) {
        return shareSpread({.bus = equal, .set_spread_v = spread_v, .lead_spread = lead_spread});
    };
    return {before_v, within(before_v), within(meterMatch(job) / 2)};
}

std::vector<ConsequenceRow> shareRows(const JoinedUnits& joined)
{
    std::vector<ConsequenceRow> all;
    if (!joined.shared)
        return all;
    const BusModel& model = joined.bus;
    const BusState& bus = *joined.shared;
    for (std::size_t i = 0; i < bus.units.size(); ++i) {
        const UnitShare& unit = bus.units[i];
        const auto& limit = model.input->units[i].i_limit_a;
        const bool fails = unit.state == UnitState::Tripped || !bus.served;
        all.push_back(rows::planRow(RowId::UnitShare,
                                    {.value = unit.current_a,
                                     .limit = limit,
                                     .use = unit.use,
                                     .verdict = fails ? Verdict::Breaks : judgeUse(unit.use, default_bounds)},
                                    "I = (V_set − V_f − V_bus)/(R_out + R_lead), held at its limit",
                                    "V_bus " + volts(bus.v_bus_v) + ": " + amps(unit.current_a) +
                                        (unit.state == UnitState::Tripped ? ", tripped" : ""),
                                    unit.name));
        all.back().assumed = model.assumed;
    }
    return all;
}

Connections busConnections(const Job& job, const Figures& e)
{
    Connections out{.name = "bus",
                    .sentence = "Every negative to the common return, every positive to the bus.",
                    .parts = {},
                    .top = "bus",
                    .bottom = "common return"};
    const JoinPlan& join = *job.plan.join;
    for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
        const std::string name = unitName(job, unit);
        const std::string plus = name + " +";
        out.parts.push_back({name, PartKind::Source, plus, name + " −", unitSet(job, e, unit)});
        out.parts.push_back(
            {"return lead", PartKind::Wire, name + " −", "common return", std::nullopt, PartFate::Added});
        std::string at = plus;
        if (join.ballast) {
            const std::string next = join.diode ? name + " behind ballast" : "bus";
            out.parts.push_back(
                {"ballast", PartKind::Resistor, at, next, join.ballast->ohm(), PartFate::Added});
            at = next;
        }
        if (join.diode) {
            out.parts.push_back({"diode", PartKind::Diode, at, "bus", join.diode->v_f_v, PartFate::Added});
            at = "bus";
        }
        if (at != "bus")
            out.parts.push_back({"positive lead", PartKind::Wire, at, "bus", std::nullopt, PartFate::Added});
    }
    return out;
}

} // namespace offshoot
