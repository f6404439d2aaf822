// The windings found, proven and linked, the fuse and the selector; secondaries measured before anything
// hangs on them.
#include "core/kinds/windings/windings_steps.h"

#include "core/kinds/windings/windings_view.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot::kind {

namespace {

constexpr double phase_doubt = 0.10;
constexpr double secondary_doubt = 0.10;

/// Two windings in series behind a small transformer: their volts add where both starts are like ends.
void provePhase(ChangeProcedure& p, const PhaseTest& test)
{
    const MainsTransformer& t = p.job().found.mains_side.transformer;
    Step& step = p.add("change.phase." + test.a + "." + test.b, Stage::Change, StepKind::Touch,
                       "Prove the phase of " + test.a + " and " + test.b,
                       "Feed " + test.a + " with " + volts(test.feed_v) +
                           " AC from a small isolating transformer behind a fuse of 0.5 A; join " +
                           test.join.first + " to " + test.join.second + ", every other lead free; read " +
                           test.read.first + " to " + test.read.second + ": " + volts(test.sum_v) +
                           " where both starts are like ends, " + volts(test.difference_v) +
                           " where one is the other way round: then swap its ends in "
                           "Windings. Hands off while it is fed.",
                       {Does::PhaseTest});
    step.unit = p.stepUnit(1);
    step.parts = {test.a, test.b};
    const auto around = [&](double v) {
        return p.widened({v * (1 - phase_doubt), v * (1 + phase_doubt)}, Quantity::Voltage);
    };
    step.asks.push_back({"phase", Quantity::Voltage, around(test.sum_v), std::nullopt, "like ends add"});
    const auto fed = std::ranges::find(t.primaries, test.a, &Primary::name);
    std::string expected;
    double highest_v = test.sum_v;
    for (const Primary& primary : t.primaries) {
        const double v = test.feed_v * primary.v_v / fed->v_v;
        expected += (expected.empty() ? "" : ", ") + primary.name + " " + volts(v);
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

} // namespace

/// The leads of each winding found by ohms and tagged, every link off, like ends proven with a low voltage
/// behind a fuse; then each joint and each feed named by its leads.
void connectWindings(ChangeProcedure& p, const WindingsView& view)
{
    const MainsTransformer& t = p.job().found.mains_side.transformer;
    Step& open = p.add(
        "change.links", Stage::Change, StepKind::Touch, "Open every link between the primaries",
        "Photograph and note them first. Take off each link, and each lead that goes to the selector or "
        "the mains, until every primary lead hangs free; insulate each.",
        {Does::OpenLinks, Does::WorkMainsSide, Does::Photograph});
    open.unit = p.stepUnit(1);
    open.cautions = {Caution::PlugPins};
    std::string pairs;
    for (const Primary& primary : t.primaries) {
        std::vector<std::string> leads{primary.start};
        for (const auto& [lead, v] : primary.taps)
            leads.push_back(lead);
        leads.push_back(primary.end);
        pairs += (pairs.empty() ? "" : "; ") + primary.name + ": " + listed(leads) +
                 (primary.r_ohm ? ", about " + formatOhms(*primary.r_ohm) + " from " + primary.start +
                                      " to " + primary.end
                                : "");
    }
    Step& find =
        p.add("change.find", Stage::Change, StepKind::Touch, "Find each winding by ohms and tag its leads",
              "Ohms between leads of one winding, nothing to any other. " + pairs +
                  ". A tag on every lead, with winding and end: colours fade.",
              {Does::FindWindings, Does::LabelWires});
    find.unit = p.stepUnit(1);
    if (view.result)
        for (const PhaseTest& test : view.result->phase_tests)
            provePhase(p, test);
    Step& link =
        p.add("change.windings", Stage::Change, StepKind::Touch,
              "Connect the primaries for " + significant(p.job().need.mains.v_v, 4) + " V",
              primariesSentence(p.job()) +
                  " Joints soldered or crimped, sleeved and held; every free lead insulated by itself.",
              {Does::LinkWindings, Does::WorkMainsSide, Does::ConnectWire, Does::TugTest});
    link.unit = p.stepUnit(1);
    link.parts = {connectionText(*p.job().plan.connection)};
    link.drawing = "primaries";
    link.cautions = {Caution::PlugPins, Caution::FixedWiring};
    if (view.planned && !view.result->connections[*view.planned].open.empty())
        link.detail += " Free leads are live when it runs.";
    if (followingFuse(p.job(), view)) {
        Step& fuse =
            p.add("change.fuse", Stage::Change, StepKind::Touch, "Fit the fuse " + fuseText(p.planned().fuse),
                  "Another mains asks for another fuse. Mark it beside the holder.",
                  {Does::FitFuse, Does::WorkMainsSide});
        fuse.unit = p.stepUnit(1);
        fuse.parts = {fuseText(p.planned().fuse)};
    }
    if (!t.selector.empty()) {
        const std::string target = significant(p.job().need.mains.v_v, 3) + " V";
        Step& selector =
            p.add("change.selector", Stage::Change, StepKind::Touch, "Set the selector to " + target,
                  "It stood at " + t.selector + ". Set it to " + target +
                      " and seal it so that nobody turns it back by accident; where the links above take "
                      "its place, take it out of the circuit and mark the place " +
                      target + '.',
                  {Does::SetSelector, Does::WorkMainsSide});
        selector.unit = p.stepUnit(1);
        selector.parts = {target};
    }
}

/// Nothing hangs on the secondaries until they were read.
void measureSecondaries(ChangeProcedure& p, const WindingsView& view)
{
    if (!view.planned)
        return;
    Step& step =
        p.add("bringup.secondaries", Stage::BringUp, StepKind::Probe, "Measure every secondary",
              "AC, behind the limiter and with as little load as can be: they stand a little below or above "
              "their rating then.",
              {Does::ReadSecondaries});
    step.unit = p.stepUnit(1);
    constexpr double lamp_room = 0.85;
    for (const SecondaryVolts& s : view.result->connections[*view.planned].secondaries) {
        const double most_v = s.v_open_v.value_or(s.v_v * 1.15);
        step.asks.push_back(
            {s.name, Quantity::Voltage,
             p.widened({s.v_v * lamp_room * (1 - secondary_doubt), most_v * (1 + secondary_doubt)},
                       Quantity::Voltage),
             std::nullopt, "rated less what the lamp takes, to open circuit at the highest mains"});
    }
    step.cautions = {Caution::MainsPotential};
    if (step.asks.empty())
        step.detail += " Enter the secondaries in Windings: then their windows stand here.";
}

} // namespace offshoot::kind
