// The steps of the mains side: windings proven and linked, fuse and selector, the surge limiter, the
// rectifier and its smoothing, secondaries measured before anything hangs on them.
#include "core/job/mains_views.h"
#include "core/procedure/change_procedure.h"
#include "core/values/figures.h"

#include <algorithm>
#include <numbers>

namespace offshoot {

namespace {

constexpr double phase_doubt = 0.10;
constexpr double secondary_doubt = 0.10;
constexpr double extra_low_v = 60; ///< DC above it is treated as mains

} // namespace

bool ChangeProcedure::hasValves() const
{
    const RectifierChain* chain = plannedChain(m_job);
    const auto& found = m_job.found.mains_side.chain;
    return (chain != nullptr && chain->rectifier.diode.model == DiodeModel::Valve) ||
           (found && found->rectifier.diode.model == DiodeModel::Valve);
}

void ChangeProcedure::fitMains()
{
    if (m_job.plan.connection)
        connectWindings();
    if (m_job.plan.limiter) {
        const InrushView view = inrushView(m_job);
        Step& step =
            add("change.limiter", Stage::Change, StepKind::Touch, "Fit the surge limiter",
                "In the live conductor, behind the fuse; its bypass across it. Sleeved leads, away from "
                "wires and plastics.");
        if (view.limiter) {
            step.title += ", " + formatOhms(view.limiter->r_ohm);
            step.detail += " Bypass not before " + formatValue(view.limiter->bypass_min_s, Quantity::Time) +
                           ". " + view.stuck;
        }
        step.cautions = {Caution::HotParts, Caution::PlugPins};
    }
    formCapacitors();
    if (m_job.plan.chain) {
        Step& step =
            add("change.chain", Stage::Change, StepKind::Touch, "Change rectifier and smoothing",
                "Polarity of every capacitor, the rectifier's way round, a bleeder across each reservoir.");
        if (!m_job.found.mains_side.idle_years)
            step.detail +=
                " A capacitor that has lain for two years or more is formed again first: enter how "
                "long it lay under Lamp, discharge.";
        step.shows_plan = true;
        step.cautions = {Caution::OldCapacitors};
        if (hasValves())
            step.cautions.push_back(Caution::ValveEquipment);
    }
}

/// Out of the circuit, from a bench supply through a resistor, until the leakage has gone down.
void ChangeProcedure::formCapacitors()
{
    for (const Forming& forming : formingsOf(m_job)) {
        Step& step =
            add("change.form." + forming.name, Stage::Change, StepKind::Touch,
                "Form " + forming.name + " again at " + volts(forming.v_v),
                "One lead out of the circuit; a bench supply through " + formatOhms(forming.r_ohm) + ", " +
                    formatValue(forming.r_power_w, Quantity::Power) +
                    " at least, raised slowly to its rating. An hour, or until the leakage stands below " +
                    formatValue(forming.leakage_max_a, Quantity::Current) + " (" +
                    volts(forming.leakage_max_a * forming.r_ohm) +
                    " across the resistor): if it does not get there, or warms, fit another. Hands off while "
                    "it is charged; then supply off, discharge through a resistor, measure.");
        step.asks.push_back({forming.name, Quantity::Current,
                             ReadingWindow{std::nullopt, forming.leakage_max_a}, std::nullopt,
                             "usual datasheet limit 0.01·C·V + 3 µA"});
        step.cautions = {Caution::OldCapacitors, Caution::Discharge};
        if (forming.v_v > extra_low_v)
            step.cautions.push_back(Caution::HighOutput);
    }
}

/// The series test proves which ends are alike before mains does.
void ChangeProcedure::connectWindings()
{
    const WindingsView view = windingsView(m_job);
    const MainsTransformer& t = m_job.found.mains_side.transformer;
    if (view.result)
        for (const PhaseTest& test : view.result->phase_tests) {
            Step& step = add("change.phase." + test.a + "." + test.b, Stage::Change, StepKind::Touch,
                             "Prove the phase of " + test.a + " and " + test.b,
                             "Feed " + test.a + " with " + volts(test.feed_v) +
                                 " AC from a small isolated transformer, join " + test.join.first + " to " +
                                 test.join.second + ", read " + test.read.first + " to " + test.read.second +
                                 ". " + volts(test.difference_v) +
                                 " means that one is the other way round: change its ends in Windings.");
            step.asks.push_back(
                {"phase", Quantity::Voltage,
                 ReadingWindow{test.sum_v * (1 - phase_doubt), test.sum_v * (1 + phase_doubt)}, std::nullopt,
                 "like ends add"});
        }
    Step& link = add("change.windings", Stage::Change, StepKind::Touch,
                     "Connect the primaries for " + significant(m_job.need.mains.v_v, 4) + " V",
                     connectionText(*m_job.plan.connection) +
                         ". Links soldered or crimped and sleeved; every free lead insulated by itself.");
    link.shows_plan = true;
    link.cautions = {Caution::PlugPins, Caution::FixedWiring};
    if (view.planned && !view.result->connections[*view.planned].open.empty())
        link.detail += " Free leads are live when it runs.";
    if (followingFuse(m_job))
        add("change.fuse", Stage::Change, StepKind::Touch, "Fit the fuse " + fuseText(m_planned_fuse),
            "Another mains asks for another fuse. Mark it beside the holder.");
    if (!t.selector.empty())
        add("change.selector", Stage::Change, StepKind::Touch, "Set the selector and seal it",
            "It stood at " + t.selector + ". Nobody turns it back by accident.");
}

/// Nothing hangs on the secondaries until they were read.
void ChangeProcedure::measureSecondaries()
{
    if (hasValves())
        add("bringup.valves_out", Stage::BringUp, StepKind::Look, "Valves out only if the capacitors bear it",
            noLoadWords())
            .cautions = {Caution::ValveEquipment};
    if (!m_job.plan.connection)
        return;
    const WindingsView view = windingsView(m_job);
    if (!view.planned)
        return;
    Step& step = add("bringup.secondaries", Stage::BringUp, StepKind::Probe, "Measure every secondary",
                     "AC, without load if it can be taken off: they stand above their rating then.");
    for (const SecondaryVolts& s : view.result->connections[*view.planned].secondaries) {
        const double most_v = s.v_open_v.value_or(s.v_v * 1.15);
        step.asks.push_back({s.name, Quantity::Voltage,
                             ReadingWindow{s.v_v * (1 - secondary_doubt), most_v * (1 + secondary_doubt / 2)},
                             std::nullopt, "rated, to open circuit"});
    }
    step.cautions = {Caution::MainsPotential};
    if (!step.asks.empty())
        return;
    step.detail += " Enter the secondaries in Windings: then their windows stand here.";
}

std::string ChangeProcedure::noLoadWords() const
{
    const RectifierChain* chain = plannedChain(m_job);
    if (chain == nullptr)
        return "Without load every capacitor stands at the crest.";
    std::string text = "Without load every capacitor stands at " + volts(chain->noLoadVolts()) + ": ";
    std::string weak;
    const auto check = [&weak](const std::string& name, const SmoothingSection& capacitor, double v) {
        if (!capacitor.v_rated_v || *capacitor.v_rated_v < v)
            weak += (weak.empty() ? "" : ", ") + name +
                    (capacitor.v_rated_v ? " (" + volts(*capacitor.v_rated_v) + ")" : " (not read)");
    };
    for (std::size_t i = 0; i < chain->filter.size(); ++i)
        if (chain->filter[i].kind == SmoothingKind::C)
            check(chainPartName(*chain, std::to_string(i)), chain->filter[i], chain->noLoadVolts());
    for (const auto& [name, half] :
         {std::pair("upper", &chain->rectifier.upper), std::pair("lower", &chain->rectifier.lower)})
        if (*half)
            check(chainPartName(*chain, name), **half, chain->noLoadVolts() / 2);
    return text + (weak.empty() ? "every one bears it." : "not these: " + weak + ". Leave the valves in.");
}

} // namespace offshoot
