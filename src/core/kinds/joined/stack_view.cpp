#include "core/kinds/joined/stack_view.h"

#include "core/judge/row_maker.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

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

StackModel stackModel(const Job& job, const Figures& figures)
{
    if (figures.joined && job.plan.join->kind == Joining::Stacked)
        return figures.joined->stack;
    StackModel model;
    if (job.others.empty()) {
        model.missing = "One unit alone is no stack. Enter the others in Found, under Units.";
        return model;
    }
    StackInput in{.units = {}};
    for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
        const Supply& supply = figures.unit.of(unit);
        const std::string name = unitName(job, unit);
        const auto v = unitSet(job, figures, unit);
        const auto& rated_a = supply.rails.front().i_rated_a;
        const auto limit_a = supply.joint.i_limit_a ? supply.joint.i_limit_a : rated_a;
        if (!v || !limit_a) {
            model.missing = "Enter what " + name + (v ? " limits at." : " gives.");
            return model;
        }
        if (!supply.joint.i_limit_a)
            model.assumed.push_back(name + ": limits at its rating");
        in.units.push_back({.name = name,
                            .v_v = *v,
                            .i_limit_a = *limit_a,
                            .bonded = supply.joint.bonded,
                            .isolation_v = supply.joint.isolation_v,
                            .reverse_diode = supply.joint.reverse_diode});
    }
    if (job.plan.join && job.plan.join->earthed_node)
        in.earthed_node =
            std::min<std::int64_t>(*job.plan.join->earthed_node, static_cast<std::int64_t>(in.units.size()));
    model.input = std::move(in);
    return model;
}

StackView stackView(const Job& job, const Figures& figures)
{
    StackView view;
    view.model = stackModel(job, figures);
    if (!view.model.input) {
        view.sentence = view.model.missing;
        return view;
    }
    view.result = sourcesSeries(*view.model.input);
    view.wiring = stackConnections(job, figures);
    view.as_found = *view.model.input;
    for (std::size_t i = 0; i < view.as_found.units.size(); ++i)
        view.as_found.units[i].bonded = unitSupply(job, i + 1).joint.bonded;
    view.sentence = stackSentence(*view.result);
    view.advice = stackAdvice(view);
    return view;
}

std::vector<ConsequenceRow> stackRows(const JoinedUnits& joined)
{
    std::vector<ConsequenceRow> all;
    if (!joined.stacked)
        return all;
    const StackModel& model = joined.stack;
    const StackResult& stack = *joined.stacked;
    for (std::size_t i = 0; i < stack.units.size(); ++i) {
        const StackedUnit& unit = stack.units[i];
        const StackUnit& in = model.input->units[i];
        all.push_back(
            rows::planRow(RowId::StackIsolation,
                          {.value = unit.to_earth_max_v,
                           .limit = in.isolation_v,
                           .use = unit.isolation_use,
                           .verdict = unit.shorted ? Verdict::Breaks : unit.isolation_verdict},
                          "largest potential of its terminals to earth against its working insulation",
                          unit.shorted ? "shorted through the earth: two bonds in one stack"
                          : unit.low_v ? volts(*unit.low_v) + " to " + volts(*unit.high_v)
                                       : "floating: either end earthed by a fault",
                          unit.name));
        rows::Judged diode{.verdict = unit.diode_verdict.value_or(Verdict::Unknown)};
        std::string working;
        if (in.reverse_diode) {
            double pushed_a = 0;
            for (std::size_t k = 0; k < model.input->units.size(); ++k)
                if (k != i)
                    pushed_a = std::max(pushed_a, model.input->units[k].i_limit_a);
            diode.value = pushed_a;
            diode.limit = in.reverse_diode->i_a;
            diode.use = unit.diode_use;
            working = amps(pushed_a) + " against " + amps(in.reverse_diode->i_a) + ", " + volts(in.v_v) +
                      " against " + volts(in.reverse_diode->v_rrm_v);
        }
        all.push_back(rows::planRow(RowId::StackDiode, diode,
                                    "the larger of V/V_RRM and the others' limit/I_F", working, unit.name));
        all.back().assumed = model.assumed;
    }
    return all;
}

Connections stackConnections(const Job& job, const Figures& e)
{
    Connections out{.name = "stack",
                    .sentence =
                        "From the bottom up, each positive to the negative of the next. Every case keeps its "
                        "earth.",
                    .parts = {},
                    .top = unitName(job, unitCount(job)) + " +",
                    .bottom = unitName(job, 1) + " −"};
    const JoinPlan join = job.plan.join.value_or(JoinPlan{});
    for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
        const std::string name = unitName(job, unit);
        const Joint& joint = unitSupply(job, unit).joint;
        const std::string low = name + " −";
        const std::string high = name + " +";
        out.parts.push_back({name, PartKind::Source, high, low, unitSet(job, e, unit)});
        if (unit > 1)
            out.parts.push_back({"link " + std::to_string(unit - 1), PartKind::Link,
                                 unitName(job, unit - 1) + " +", low, std::nullopt, PartFate::Added});
        if (joint.bonded == Bond::Negative || joint.bonded == Bond::Positive) {
            const bool opened = std::ranges::count(join.opened_bonds, static_cast<std::int64_t>(unit)) > 0;
            out.parts.push_back({"output bond", PartKind::Bond, joint.bonded == Bond::Negative ? low : high,
                                 name + " case", std::nullopt,
                                 opened ? PartFate::TakenOut : PartFate::Stays});
        }
        if (const auto& diode = e.unit.of(unit).joint.reverse_diode)
            out.parts.push_back({"reverse diode", PartKind::Diode, low, high, diode->v_rrm_v,
                                 join.reverse_diode ? PartFate::Added : PartFate::Stays});
        out.parts.push_back({"protective earth", PartKind::Bond, name + " case", "earth"});
    }
    return out;
}

} // namespace offshoot
