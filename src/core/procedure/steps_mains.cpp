// The steps of the mains side: windings found, proven and linked, fuse and selector, the surge limiter, the
// rectifier and its smoothing, secondaries measured before anything hangs on them.
#include "core/job/connections.h"
#include "core/job/mains_views.h"
#include "core/procedure/change_procedure.h"
#include "core/values/figures.h"

#include <algorithm>
#include <numbers>

namespace offshoot {

namespace {

constexpr double phase_doubt = 0.10;
constexpr double secondary_doubt = 0.10;

} // namespace

bool ChangeProcedure::hasValves() const
{
    const RectifierChain* chain = plannedChain(m_job);
    const auto& found = m_job.found.mains_side.chain;
    return (chain != nullptr && chain->rectifier.diode.model == DiodeModel::Valve) ||
           (found && found->rectifier.diode.model == DiodeModel::Valve);
}

/// Two windings in series behind a small transformer: their volts add where both starts are like ends.
void ChangeProcedure::provePhase(const PhaseTest& test)
{
    const MainsTransformer& t = m_job.found.mains_side.transformer;
    Step& step = add("change.phase." + test.a + "." + test.b, Stage::Change, StepKind::Touch,
                     "Prove the phase of " + test.a + " and " + test.b,
                     "Feed " + test.a + " with " + volts(test.feed_v) +
                         " AC from a small isolating transformer behind a fuse of 0.5 A; join " +
                         test.join.first + " to " + test.join.second + ", every other lead free; read " +
                         test.read.first + " to " + test.read.second + ": " + volts(test.sum_v) +
                         " where both starts are like ends, " + volts(test.difference_v) +
                         " where one is the other way round: then swap its ends in "
                         "Windings. Hands off while it is fed.",
                     {Does::PhaseTest});
    step.unit = stepUnit(1);
    step.parts = {test.a, test.b};
    const auto around = [&](double v) {
        return widened({v * (1 - phase_doubt), v * (1 + phase_doubt)}, Quantity::Voltage);
    };
    step.asks.push_back({"phase", Quantity::Voltage, around(test.sum_v), std::nullopt, "like ends add"});
    const auto fed = std::ranges::find(t.primaries, test.a, &Primary::name);
    std::string expected;
    double highest_v = test.sum_v;
    for (const Primary& p : t.primaries) {
        const double v = test.feed_v * p.v_v / fed->v_v;
        expected += (expected.empty() ? "" : ", ") + p.name + " " + volts(v);
        highest_v = std::max(highest_v, v);
    }
    for (const Secondary& s : t.secondaries) {
        const double v = test.feed_v * s.v_v / fed->v_v;
        expected += ", " + s.name + " " + volts(v);
        highest_v = std::max(highest_v, v);
    }
    step.detail += " On every winding then: " + expected +
                   ". Much more, or a blown fuse: it is fed into another winding than " + test.a + ".";
    constexpr double touch_ac_v = 25;
    if (highest_v > touch_ac_v)
        step.cautions.push_back(Caution::OneHand);
}

/// The leads of each winding found by ohms and tagged, every link off, like ends proven with a low voltage
/// behind a fuse; then each joint and each feed named by its leads.
void ChangeProcedure::connectWindings()
{
    const WindingsView view = windingsView(m_job);
    const MainsTransformer& t = m_job.found.mains_side.transformer;
    Step& open =
        add("change.links", Stage::Change, StepKind::Touch, "Open every link between the primaries",
            "Photograph and note them first. Take off each link, and each lead that goes to the selector or "
            "the mains, until every primary lead hangs free; insulate each.",
            {Does::OpenLinks, Does::WorkMainsSide, Does::Photograph});
    open.unit = stepUnit(1);
    open.cautions = {Caution::PlugPins};
    std::string pairs;
    for (const Primary& p : t.primaries) {
        std::vector<std::string> leads{p.start};
        for (const auto& [lead, v] : p.taps)
            leads.push_back(lead);
        leads.push_back(p.end);
        pairs += (pairs.empty() ? "" : "; ") + p.name + ": " + listed(leads) +
                 (p.r_ohm ? ", about " + formatOhms(*p.r_ohm) + " from " + p.start + " to " + p.end : "");
    }
    Step& find =
        add("change.find", Stage::Change, StepKind::Touch, "Find each winding by ohms and tag its leads",
            "Ohms between leads of one winding, nothing to any other. " + pairs +
                ". A tag on every lead, with winding and end: colours fade.",
            {Does::FindWindings, Does::LabelWires});
    find.unit = stepUnit(1);
    if (view.result)
        for (const PhaseTest& test : view.result->phase_tests)
            provePhase(test);
    Step& link =
        add("change.windings", Stage::Change, StepKind::Touch,
            "Connect the primaries for " + significant(m_job.need.mains.v_v, 4) + " V",
            primariesSentence(m_job) +
                " Joints soldered or crimped, sleeved and held; every free lead insulated by itself.",
            {Does::LinkWindings, Does::WorkMainsSide, Does::ConnectWire, Does::TugTest});
    link.unit = stepUnit(1);
    link.parts = {connectionText(*m_job.plan.connection)};
    link.drawing = "primaries";
    link.cautions = {Caution::PlugPins, Caution::FixedWiring};
    if (view.planned && !view.result->connections[*view.planned].open.empty())
        link.detail += " Free leads are live when it runs.";
    if (followingFuse(m_job)) {
        Step& fuse =
            add("change.fuse", Stage::Change, StepKind::Touch, "Fit the fuse " + fuseText(m_planned_fuse),
                "Another mains asks for another fuse. Mark it beside the holder.",
                {Does::FitFuse, Does::WorkMainsSide});
        fuse.unit = stepUnit(1);
        fuse.parts = {fuseText(m_planned_fuse)};
    }
    if (!t.selector.empty()) {
        const std::string target = significant(m_job.need.mains.v_v, 3) + " V";
        Step& selector =
            add("change.selector", Stage::Change, StepKind::Touch, "Set the selector to " + target,
                "It stood at " + t.selector + ". Set it to " + target +
                    " and seal it so that nobody turns it back by accident; where the links above take "
                    "its place, take it out of the circuit and mark the place " +
                    target + '.',
                {Does::SetSelector, Does::WorkMainsSide});
        selector.unit = stepUnit(1);
        selector.parts = {target};
    }
}

/// Nothing hangs on the secondaries until they were read.
void ChangeProcedure::measureSecondaries()
{
    if (!m_job.plan.connection)
        return;
    const WindingsView view = windingsView(m_job);
    if (!view.planned)
        return;
    Step& step =
        add("bringup.secondaries", Stage::BringUp, StepKind::Probe, "Measure every secondary",
            "AC, behind the limiter and with as little load as can be: they stand a little below or above "
            "their rating then.",
            {Does::ReadSecondaries});
    step.unit = stepUnit(1);
    constexpr double lamp_room = 0.85;
    for (const SecondaryVolts& s : view.result->connections[*view.planned].secondaries) {
        const double most_v = s.v_open_v.value_or(s.v_v * 1.15);
        step.asks.push_back(
            {s.name, Quantity::Voltage,
             widened({s.v_v * lamp_room * (1 - secondary_doubt), most_v * (1 + secondary_doubt)},
                     Quantity::Voltage),
             std::nullopt, "rated less what the lamp takes, to open circuit at the highest mains"});
    }
    step.cautions = {Caution::MainsPotential};
    if (step.asks.empty())
        step.detail += " Enter the secondaries in Windings: then their windows stand here.";
}

bool ChangeProcedure::bearsNoLoad() const { return noLoadWords().ends_with("every one bears it."); }

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
