// The legs measured, the value found by a trimmer behind the limiter, the part fitted and measured.
#include "core/kinds/divider/divider_steps.h"

#include "core/kinds/divider/divider_wiring.h"
#include "core/kinds/divider/temporary_trimmer.h"
#include "core/values/figures.h"

namespace offshoot::kind {

namespace {

/// In circuit whatever stands across the output closes a way through the other leg: then it reads lower.
void measureLeg(ChangeProcedure& p, const std::optional<DividerChange::Leg>& leg)
{
    Step& step =
        p.add("change.measure", Stage::Change, StepKind::Touch, "Measure the changed leg",
              "Ohms from end to end, both ways round: a dead resistance tells faults apart before power "
              "does.");
    step.unit = p.stepUnit(1);
    if (!leg)
        return;
    const auto& [alone, in_circuit_min_ohm] = *leg;
    step.detail += " With one end out it reads " + formatOhms(alone.min_ohm) + " to " +
                   formatOhms(alone.max_ohm) + "; in circuit perhaps less, the other leg beside it.";
    step.asks.push_back({joinsTop(p.job().plan.chosen->method) ? "top" : "bottom", Quantity::Resistance,
                         p.widened({in_circuit_min_ohm, alone.max_ohm}, Quantity::Resistance), std::nullopt,
                         "the planned leg, worst case, by itself or in circuit"});
}

/// Live, behind the limiter: where it stands as preset, then turned.
void turnToTarget(ChangeProcedure& p, const TrimmerUse& use, std::optional<double> light_a)
{
    std::string because = "the trimmer as preset, worst case";
    Step& preset = p.add("change.trimmer.preset", Stage::Change, StepKind::Probe,
                         "Read the output before the trimmer is turned",
                         "Outside its window: isolate; the trimmer is not where the drawing has it, or not "
                         "preset.",
                         {Does::ReadOutput});
    preset.unit = p.stepUnit(1);
    preset.asks.push_back(p.outputAt(p.behindLimiter(use.preset, because), light_a, because));
    preset.watches_lamp = !p.dc();
    p.outputCautions(preset);

    const auto target = unitTarget(p.job());
    because = "the target's window";
    Asked asked =
        p.outputAt(p.behindLimiter(VoltageRange{target->min_v, target->max_v}, because), light_a, because);
    Step& turn = p.add("change.trimmer.turn", Stage::Change, StepKind::Adjust,
                       "Turn the trimmer until " + p.rail().name + " reads " + volts(target->v),
                       "Insulated trimming tool, slowly, the primary covered; watch every rail.",
                       {Does::Adjust, Does::ReadOutput});
    if (const auto& end_v = use.highest_v) {
        turn.detail += " At the far end of its travel it would be " + volts(*end_v);
        if (const auto& rated_v = p.rail().capacitor.v_rated_v; rated_v && *end_v > *rated_v)
            turn.detail += ", above the output capacitor's " + volts(*rated_v);
        if (const auto& trip_v = p.rail().trip.v_v; trip_v && *end_v > *trip_v)
            turn.detail += ", past its trip at " + volts(*trip_v);
        turn.detail += '.';
    }
    turn.unit = p.stepUnit(1);
    turn.parts = {"trimmer"};
    turn.asks.push_back(std::move(asked));
    p.askOthers(turn, true);
    p.outputCautions(turn);
}

void takeTrimmerOut(ChangeProcedure& p, const TrimmerUse& use)
{
    Step& out =
        p.add("change.trimmer.value", Stage::Change, StepKind::Touch, "Take the trimmer out and read it",
              "With what is in series with it, between the two ends that were soldered in; do not turn "
              "it. Log it: trimmer 3.92k.",
              {Does::WorkOutputSide, Does::TakeOut});
    const std::string planned = p.job().plan.chosen->network.prettyText();
    if (use.serves_ohm)
        out.detail += " From " + formatOhms(*use.serves_ohm->min) + " to " +
                      formatOhms(*use.serves_ohm->max) + " the planned " + planned +
                      " serves; otherwise choose in Plan the part nearest to it.";
    out.unit = p.stepUnit(1);
    out.asks.push_back({std::string(trimmer_point), Quantity::Resistance, std::nullopt, std::nullopt,
                        "what the output asked for"});
}

void fitTrimmer(ChangeProcedure& p, const TrimmerUse& use)
{
    const TrimmerPlan& plan = p.job().plan.trimmer;
    const double preset_ohm = use.preset_ohm;
    Step& fit = p.add("change.trimmer.fit", Stage::Change, StepKind::Touch, "Fit the trimmer for a time",
                      std::string("First turn it ") +
                          (preset_ohm == 0              ? "to its least resistance"
                           : preset_ohm == plan.pot_ohm ? "to its highest resistance"
                                                        : "to " + formatOhms(preset_ohm)) +
                          ", by the ohmmeter. " + trimmerSentence(p.job()) +
                          " Short leads, sound joints, nothing within reach of the primary.",
                      {Does::WorkOutputSide});
    if (replaces(plan.method))
        fit.does.push_back(Does::TakeOut);
    fit.unit = p.stepUnit(1);
    fit.drawing = "trimmer";
    fit.parts = {formatOhms(plan.pot_ohm), formatOhms(preset_ohm), std::string(whereItJoins(plan.method))};
    if (plan.fixed_ohm > 0)
        fit.parts.push_back(formatOhms(plan.fixed_ohm));
    Step& look = p.add("change.trimmer.look", Stage::Change, StepKind::Look, "Look at the trimmer's joints",
                       "Against the drawing: both ends where it has them, the wiper's joint sound.",
                       {Does::SecondLook});
    look.drawing = "trimmer";
}

void fitDivider(ChangeProcedure& p, bool prepared)
{
    const ChosenNetwork& chosen = *p.job().plan.chosen;
    const std::string network = chosen.network.prettyText();
    Step& fit = p.add("change.fit", Stage::Change, StepKind::Touch,
                      "Fit " + network + " " + std::string(whereItJoins(chosen.method)),
                      fittingSentence(network, chosen.method, isAdjustableRegulator(p.job().found),
                                      prepared ? LegNow::Prepared : LegNow::AsFound) +
                          " Short leads, sound joints, nothing within reach of the primary.",
                      {Does::WorkOutputSide});
    if (replaces(chosen.method) && !prepared)
        fit.does.push_back(Does::TakeOut);
    fit.unit = p.stepUnit(1);
    fit.drawing = "divider";
    fit.parts = {network, std::string(whereItJoins(chosen.method))};
}

/// The value is found first, behind the limiter: the trimmer in, preset; turned until the output stands; out
/// again and read.
void findByTrimmer(ChangeProcedure& p, const std::optional<TrimmerUse>& use)
{
    if (!use)
        return;
    if (!use->problem.empty()) {
        p.add("change.no_trimmer", Stage::Change, StepKind::Look, "The trimmer is left out",
              use->problem + " Mend it in Plan, or fit the planned part without it.");
        return;
    }
    fitTrimmer(p, *use);
    p.retestMains("change.trimmer");
    p.tieEnable(Stage::Change);
    p.limiterIn("change.trimmer.limiter", Stage::Change, "");
    const auto light = p.loadFor(0.1);
    const auto light_a = light ? std::optional(light->current_a) : std::nullopt;
    p.power("change.trimmer.power", Stage::Change, true,
            light ? "The light load switched on: " + light->text() : "A light resistive load on the output",
            1);
    p.measureWires(Stage::Change);
    p.heatUp("change.trimmer.heat", Stage::Change);
    turnToTarget(p, *use, light_a);
    p.makeSafe("change.trimmer", Stage::Change);
    takeTrimmerOut(p, *use);
}

} // namespace

DividerChange dividerChange(const Job& job, const Figures& figures)
{
    DividerChange change{.leg = std::nullopt, .trimmer = trimmerUse(job, figures)};
    if (!figures.planned || !figures.divider)
        return change;
    const DividerOption& option = figures.planned->option;
    const FoundDivider& divider = *figures.divider;
    const bool top = joinsTop(option.method);
    const OhmRange leg = OhmRange::of(top ? divider.top : divider.bottom, divider.found_tolerance);
    const OhmRange other = OhmRange::of(top ? divider.bottom : divider.top, divider.found_tolerance);
    const OhmRange& added = option.added_range;
    const OhmRange alone{joinedLeg(option.method, leg.min_ohm, added.min_ohm),
                         joinedLeg(option.method, leg.max_ohm, added.max_ohm)};
    change.leg = DividerChange::Leg{alone, parallelOhm(alone.min_ohm, other.min_ohm)};
    return change;
}

void changeDivider(ChangeProcedure& p, const DividerChange& change)
{
    p.pastTheChange();
    findByTrimmer(p, change.trimmer);
    fitDivider(p, change.trimmer && change.trimmer->problem.empty());
    measureLeg(p, change.leg);
}

} // namespace offshoot::kind
