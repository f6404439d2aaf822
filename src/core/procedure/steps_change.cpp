// The change itself: deepest first, then inspected; after work on the mains side earth and insulation
// measured again.
#include "core/job/connections.h"
#include "core/job/temporary_trimmer.h"
#include "core/kinds/kind.h"
#include "core/procedure/change_procedure.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

namespace {

/// Usual guides for basic and for reinforced insulation at 500 V DC.
constexpr double class_1_insulation_ohm = 1e6;
constexpr double class_2_insulation_ohm = 7e6;

} // namespace

bool ChangeProcedure::worksOnMains() const
{
    return !dc() && !barredBySeal() && std::ranges::any_of(plannedKinds(m_job), [this](const Kind* kind) {
        return kind->on_mains_side != nullptr && kind->on_mains_side(m_job);
    });
}

/// A sealed case leaves what is done outside of it.
void ChangeProcedure::fitParts()
{
    const bool barred = barredBySeal();
    if (barred)
        add("change.sealed", Stage::Change, StepKind::Look, "It cannot be fitted: the case is sealed",
            "What is planned is inside a case that does not open. Work at its output, or take another unit: "
            "change the plan.");
    else if (!changesAnything(m_job))
        add("change.fit", Stage::Change, StepKind::Look, "Nothing is planned yet",
            "Choose in Plan what to change.");
    std::vector<const Kind*> fitted = plannedKinds(m_job);
    std::erase_if(fitted, [barred](const Kind* kind) { return barred && kind->inside; });
    for (const Kind* kind : fitted)
        if (kind->before != nullptr)
            kind->before(*this);
    for (const Kind* kind : fitted)
        if (kind->steps != nullptr)
            kind->steps(*this);
}

std::optional<double> ChangeProcedure::testVolts(const std::string& rail) const
{
    std::optional<double> v = m_test_v;
    for (const Predictions::Other& other : m_predictions.others)
        if (other.rail == rail)
            v = other.v_v;
    return v;
}

void ChangeProcedure::changeDivider()
{
    m_changed = true;
    m_reading_stage = ReadingStage::PlannedCheck;
    findByTrimmer();
    fitDivider();
    measureLeg();
}

/// In circuit whatever stands across the output closes a way through the other leg: then it reads lower.
void ChangeProcedure::measureLeg()
{
    Step& step =
        add("change.measure", Stage::Change, StepKind::Touch, "Measure the changed leg",
            "Ohms from end to end, both ways round: a dead resistance tells faults apart before power "
            "does.");
    step.unit = stepUnit(1);
    if (!m_predictions.changed_leg)
        return;
    const auto& [alone, in_circuit_min_ohm] = *m_predictions.changed_leg;
    step.detail += " With one end out it reads " + formatOhms(alone.min_ohm) + " to " +
                   formatOhms(alone.max_ohm) + "; in circuit perhaps less, the other leg beside it.";
    step.asks.push_back({joinsTop(m_job.plan.chosen->method) ? "top" : "bottom", Quantity::Resistance,
                         widened({in_circuit_min_ohm, alone.max_ohm}, Quantity::Resistance), std::nullopt,
                         "the planned leg, worst case, by itself or in circuit"});
}

/// The value is found first, behind the limiter: the trimmer in, preset; turned until the output stands; out
/// again and read.
void ChangeProcedure::findByTrimmer()
{
    const auto& use = m_predictions.trimmer;
    if (!use)
        return;
    if (!use->problem.empty()) {
        add("change.no_trimmer", Stage::Change, StepKind::Look, "The trimmer is left out",
            use->problem + " Mend it in Plan, or fit the planned part without it.");
        return;
    }
    fitTrimmer();
    retestMains("change.trimmer");
    tieEnable(Stage::Change);
    limiterIn("change.trimmer.limiter", Stage::Change, "");
    const auto light = loadFor(0.1);
    const auto light_a = light ? std::optional(light->current_a) : std::nullopt;
    power("change.trimmer.power", Stage::Change, true,
          light ? "The light load switched on: " + light->text() : "A light resistive load on the output", 1);
    measureWires(Stage::Change);
    heatUp("change.trimmer.heat", Stage::Change);
    turnToTarget(*use, light_a);
    makeSafe("change.trimmer", Stage::Change);
    takeTrimmerOut(*use);
}

/// Live, behind the limiter: where it stands as preset, then turned.
void ChangeProcedure::turnToTarget(const TrimmerUse& use, std::optional<double> light_a)
{
    std::string because = "the trimmer as preset, worst case";
    Step& preset = add("change.trimmer.preset", Stage::Change, StepKind::Probe,
                       "Read the output before the trimmer is turned",
                       "Outside its window: isolate; the trimmer is not where the drawing has it, or not "
                       "preset.",
                       {Does::ReadOutput});
    preset.unit = stepUnit(1);
    preset.asks.push_back(outputAt(behindLimiter(use.preset, because), light_a, because));
    preset.watches_lamp = !dc();
    outputCautions(preset);

    const auto target = unitTarget(m_job);
    because = "the target's window";
    Asked asked =
        outputAt(behindLimiter(VoltageRange{target->min_v, target->max_v}, because), light_a, because);
    Step& turn = add("change.trimmer.turn", Stage::Change, StepKind::Adjust,
                     "Turn the trimmer until " + m_rail.name + " reads " + volts(target->v),
                     "Insulated trimming tool, slowly, the primary covered; watch every rail.",
                     {Does::Adjust, Does::ReadOutput});
    if (const auto& end_v = use.highest_v) {
        turn.detail += " At the far end of its travel it would be " + volts(*end_v);
        if (const auto& rated_v = m_rail.capacitor.v_rated_v; rated_v && *end_v > *rated_v)
            turn.detail += ", above the output capacitor's " + volts(*rated_v);
        if (const auto& trip_v = m_rail.trip.v_v; trip_v && *end_v > *trip_v)
            turn.detail += ", past its trip at " + volts(*trip_v);
        turn.detail += '.';
    }
    turn.unit = stepUnit(1);
    turn.parts = {"trimmer"};
    turn.asks.push_back(std::move(asked));
    askOthers(turn, true);
    outputCautions(turn);
}

void ChangeProcedure::takeTrimmerOut(const TrimmerUse& use)
{
    Step& out =
        add("change.trimmer.value", Stage::Change, StepKind::Touch, "Take the trimmer out and read it",
            "With what is in series with it, between the two ends that were soldered in; do not turn "
            "it. Log it: trimmer 3.92k.",
            {Does::WorkOutputSide, Does::TakeOut});
    const std::string planned = m_job.plan.chosen->network.prettyText();
    if (use.serves_ohm)
        out.detail += " From " + formatOhms(*use.serves_ohm->min) + " to " +
                      formatOhms(*use.serves_ohm->max) + " the planned " + planned +
                      " serves; otherwise choose in Plan the part nearest to it.";
    out.unit = stepUnit(1);
    out.asks.push_back({std::string(trimmer_point), Quantity::Resistance, std::nullopt, std::nullopt,
                        "what the output asked for"});
}

void ChangeProcedure::fitTrimmer()
{
    const TrimmerPlan& plan = m_job.plan.trimmer;
    const double preset_ohm = m_predictions.trimmer->preset_ohm;
    Step& fit = add("change.trimmer.fit", Stage::Change, StepKind::Touch, "Fit the trimmer for a time",
                    std::string("First turn it ") +
                        (preset_ohm == 0              ? "to its least resistance"
                         : preset_ohm == plan.pot_ohm ? "to its highest resistance"
                                                      : "to " + formatOhms(preset_ohm)) +
                        ", by the ohmmeter. " + trimmerSentence(m_job) +
                        " Short leads, sound joints, nothing within reach of the primary.",
                    {Does::WorkOutputSide});
    if (replaces(plan.method))
        fit.does.push_back(Does::TakeOut);
    fit.unit = stepUnit(1);
    fit.drawing = "trimmer";
    fit.parts = {formatOhms(plan.pot_ohm), formatOhms(preset_ohm), std::string(whereItJoins(plan.method))};
    if (plan.fixed_ohm > 0)
        fit.parts.push_back(formatOhms(plan.fixed_ohm));
    Step& look =
        add("change.trimmer.look", Stage::Change, StepKind::Look, "Look at the trimmer's joints",
            "Against the drawing: both ends where it has them, the wiper's joint sound.", {Does::SecondLook});
    look.drawing = "trimmer";
}

void ChangeProcedure::fitDivider()
{
    const ChosenNetwork& chosen = *m_job.plan.chosen;
    const bool prepared = m_predictions.trimmer && m_predictions.trimmer->problem.empty();
    const std::string network = chosen.network.prettyText();
    Step& fit = add("change.fit", Stage::Change, StepKind::Touch,
                    "Fit " + network + " " + std::string(whereItJoins(chosen.method)),
                    fittingSentence(network, chosen.method, isAdjustableRegulator(m_job.found),
                                    prepared ? LegNow::Prepared : LegNow::AsFound) +
                        " Short leads, sound joints, nothing within reach of the primary.",
                    {Does::WorkOutputSide});
    if (replaces(chosen.method) && !prepared)
        fit.does.push_back(Does::TakeOut);
    fit.unit = stepUnit(1);
    fit.drawing = "divider";
    fit.parts = {network, std::string(whereItJoins(chosen.method))};
}

void ChangeProcedure::inspectChange()
{
    m_changed = true;
    m_reading_stage = ReadingStage::PlannedCheck;
    if (barredBySeal())
        return;
    if (!m_job.found.sealed())
        add("change.inspect", Stage::Change, StepKind::Touch, "Inspect",
            dc() ? "Joints, clearances, polarity, no solder splash; strain relief on every lead."
                 : "Joints, clearances, polarity, no solder splash on the primary side; strain relief on "
                   "cord and "
                   "output leads.");
    Step& look = add("change.second_look", Stage::Change, StepKind::Look, "Second look before power",
                     "Somebody else, or you after a pause: against the plan's drawing, part by part.",
                     {Does::SecondLook});
    look.drawing = "plan";
    look.parts = plannedChanges(m_job);
    if (!m_mains_retested)
        retestMains("change");
}

/// After work on the mains side, before the next power.
void ChangeProcedure::retestMains(const std::string& prefix)
{
    if (!worksOnMains())
        return;
    m_mains_retested = true;
    earthTest(prefix + ".earth", Stage::Change, 1, "Again, for the mains side was worked on. ");
    const bool class_1 = earthed(1);
    Step& insulation = add(
        prefix + ".insulation", Stage::Change, StepKind::Touch, "Measure the insulation at 500 V DC",
        std::string(
            "Plug out. Line and neutral pins joined, switch on, 500 V DC for a minute between them and ") +
            (class_1 ? "the earth pin" : "the output's terminals joined, and the case's metal") +
            "; off first with what it would break: surge arresters, varistors to earth, filters that bleed. "
            "By "
            "somebody equipped for it; otherwise leave it open: it stays an open point of the sign-off. What "
            "was "
            "tested is charged afterwards.",
        {Does::InsulationTest});
    insulation.unit = stepUnit(1);
    insulation.asks.push_back(
        {"insulation", Quantity::Resistance,
         ReadingWindow{class_1 ? class_1_insulation_ohm : class_2_insulation_ohm, std::nullopt}, std::nullopt,
         class_1 ? "usual guide for basic insulation" : "usual guide for reinforced insulation"});
    insulation.cautions = {Caution::OneHand, Caution::LentOrUnattended};
    isolate(prefix + ".tested", Stage::Change);
    waitAndProve(prefix + ".tested", Stage::Change);
}

} // namespace offshoot
