// Before the change: read the plate, make safe, read the parts, earth and inspection, capacitors formed, then
// power as found where the unit is known to bear it, and the before-readings.
#include "core/procedure/change_procedure.h"
#include "core/procedure/forming.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

std::vector<Step> ChangeProcedure::run()
{
    identify();
    isolate("found.isolate", Stage::Found);
    measurePins("found.pins", Stage::Found);
    waitAndProve("found", Stage::Found);
    inspectDead();
    measureBonds();
    formCapacitors();
    powerAsFound();
    makeSafe("change", Stage::Change);
    fitParts();
    inspectChange();
    bringUp();
    return std::move(m_steps);
}

void ChangeProcedure::identify()
{
    add("found.plate", Stage::Found, StepKind::Look, "Read the plate, unopened",
        m_job.found.outsideOnly()
            ? "Name, voltages, currents, earth sign. The case is sealed: nothing inside is "
              "touched, and the job is "
              "worked at its output."
        : dc() ? "Name, voltages, currents, polarity of its feed. Smell it, shake it: what rattles is loose. "
                 "The label "
                 "may be optimistic; the parts rule."
               : "Name, voltages, currents, earth sign; cord, plug, the fuse on the panel, where the "
                 "selector stands. "
                 "Smell it, shake it: what rattles is loose. The label may be optimistic; the parts rule.",
        {Does::Photograph});
}

void ChangeProcedure::inspectDead()
{
    if (!m_job.found.sealed()) {
        Step& parts = add(
            "found.parts", Stage::Found, StepKind::Look, "Read the parts",
            std::string(unit().topology == Topology::Unregulated
                            ? "Transformer, rectifier, every capacitor and choke"
                        : isLinear(unit().topology)
                            ? "Transformer, rectifier, capacitors, regulator, divider"
                            : "Bulk and output capacitors, rectifier, switch, controller, divider") +
                ". Enter each on its station, or leave it unknown. Photograph it before anything is moved.",
            {Does::ReadParts, Does::Photograph});
        parts.unit = stepUnit(1);
        parts.cautions = {Caution::OldCapacitors};
    }
    for (std::size_t unit = 1; unit <= unitCount(); ++unit) {
        earthTest("found.earth", Stage::Found, unit, "");
        if (!earthed(unit) && !supply(unit).dcFed()) {
            Step& insulation = add(
                idOf("found.earth", unit), Stage::Found, StepKind::Look, "Look at the insulation" + of(unit),
                "Class II: no earth is asked for. Cord, inlet and case sound, no bare metal "
                "within reach of the mains side.");
            insulation.unit = stepUnit(unit);
        }
    }
    Step& inspect = add(
        "found.inspect", Stage::Found, StepKind::Touch, "Inspect",
        dc() ? "Feed leads and their polarity, fuse value and type, joints, bulging or leaking capacitors."
        : m_job.found.outsideOnly()
            ? "Plug and cord sound, strain relief holds, output lead sound to its end."
            : "Plug, cord and strain relief; live goes through switch and fuse, neutral "
              "does not go through the "
              "fuse; fuse value and type; joints, bulging or leaking capacitors.");
    inspect.cautions = {Caution::OldCapacitors};
    if (anyMains())
        inspect.cautions.push_back(Caution::FixedWiring);
}

/// Nobody may stack or join what is earthed in an unknown place.
void ChangeProcedure::measureBonds()
{
    if (!joined())
        return;
    Step& step =
        add("found.bonds", Stage::Found, StepKind::Touch, "Measure what is tied to the case",
            "From each output's negative to its own case, then from its positive: below " +
                formatOhms(bonded_below_ohm) + " it is bonded, above " + formatOhms(free_above_ohm) +
                " it floats. Log the negative; enter the bond in Found, under Units. Then from the load's "
                "negative, and its positive, to the load's case: log load-earth and enter where the load is "
                "earthed under Stacked or Side by side.",
            {Does::MeasureBonds});
    for (std::size_t unit = 1; unit <= unitCount(); ++unit)
        step.asks.push_back({.point = "bond",
                             .quantity = Quantity::Resistance,
                             .window = std::nullopt,
                             .load_a = std::nullopt,
                             .because = "records where it is earthed",
                             .unit = unitTag(unit)});
    step.asks.push_back({"load-earth", Quantity::Resistance, std::nullopt, std::nullopt,
                         "records where the load is earthed"});
}

/// Out of the circuit, from a bench supply through a resistor, until the leakage has gone down: before the
/// first power of any kind. The bench supply is a source, and what was formed is charged.
void ChangeProcedure::formCapacitors()
{
    const auto formings = m_job.found.sealed() ? std::vector<Forming>{} : formingsOf(m_job);
    for (const Forming& forming : formings) {
        Step& lift = add(
            "found.lift." + forming.name, Stage::Found, StepKind::Touch, "Lift one lead of " + forming.name,
            "Note which way round it stands. Clip the bench supply on, switched off, through " +
                formatOhms(forming.r_ohm) + ", " + watts(forming.r_power_w) + " at least; plus to plus.",
            {Does::WorkOutputSide});
        lift.unit = stepUnit(1);
        lift.parts = {forming.name};
        Step& step =
            add("found.form." + forming.name, Stage::Found, StepKind::Touch,
                "Form " + forming.name + " again at " + volts(forming.v_v),
                "Raise the bench supply slowly to its rating. An hour, or until the leakage stands below " +
                    formatValue(forming.leakage_max_a, Quantity::Current) + " (" +
                    volts(forming.leakage_max_a * forming.r_ohm) +
                    " across the resistor): if it does not get there, or warms, fit another. Hands off while "
                    "it is "
                    "charged. Then the bench supply off and away.",
                {Does::FormCapacitors});
        step.unit = stepUnit(1);
        step.asks.push_back({forming.name, Quantity::Current,
                             ReadingWindow{std::nullopt, forming.leakage_max_a}, std::nullopt,
                             "usual datasheet limit 0.01·C·V + 3 µA"});
        step.parts = {forming.name, volts(forming.v_v)};
        step.cautions = {Caution::OldCapacitors};
        if (forming.v_v > extra_low_v)
            step.cautions.insert(step.cautions.end(), {Caution::HighOutput, Caution::OneHand});
        isolate("found.formed." + forming.name, Stage::Found);
        waitAndProve("found.formed." + forming.name, Stage::Found);
        Step& back = add("found.back." + forming.name, Stage::Found, StepKind::Touch,
                         "Solder the lead of " + forming.name + " back", "The way round it stood.",
                         {Does::WorkOutputSide});
        back.unit = stepUnit(1);
        back.parts = {forming.name};
    }
}

std::string ChangeProcedure::unmeasuredWires() const
{
    std::string names;
    for (const Wire& wire : unit().wires)
        if (!wire.measured)
            names += (names.empty() ? "" : ", ") + wire.name +
                     (wire.colour.empty() ? "" : " (" + wire.colour + ")");
    return names;
}

const Wire* ChangeProcedure::enableWire() const
{
    const auto wire =
        std::ranges::find_if(unit().wires, [](const Wire& w) { return w.function == WireFunction::Enable; });
    return wire == unit().wires.end() ? nullptr : &*wire;
}

void ChangeProcedure::tieEnable(Stage stage)
{
    const Wire* wire = enableWire();
    if (wire == nullptr || any(Does::TieEnable))
        return;
    add(std::string(idPrefix(stage)) + ".enable", stage, StepKind::Touch, "Tie the enable wire " + wire->name,
        "Through 1k to the level that its papers or the measurement gave, insulated: without it the unit "
        "stays in "
        "standby.",
        {Does::TieEnable})
        .parts = {wire->name};
}

/// Law: no power at a mains that a unit is not known to bear; through the limiter alone where nothing read
/// says so.
void ChangeProcedure::powerAsFound()
{
    const bool strapped = m_job.plan.connection.has_value();
    std::size_t first = 1;
    while (first <= unitCount() &&
           (m_predictions.bears.at(first - 1).found == Verdict::Breaks || (first == 1 && strapped)))
        ++first;
    if (first <= unitCount()) {
        tieEnable(Stage::Found);
        limiterIn("found.limiter", Stage::Found, "");
        if (joined())
            m_steps.back().title += ": " + unitName(m_job, first);
    }
    for (std::size_t unit = 1; unit <= unitCount(); ++unit) {
        const auto& bears = m_predictions.bears.at(unit - 1);
        if (bears.found == Verdict::Breaks || (unit == 1 && strapped))
            leaveUnpowered(unit);
        else
            unitAsFound(unit);
    }
}

/// A colour is never taken for a function: measured when it first runs, behind the limiter.
void ChangeProcedure::measureWires(Stage stage)
{
    if (unmeasuredWires().empty() || any(Does::MeasureWires))
        return;
    Step& step =
        add(std::string(idPrefix(stage)) + ".wires", stage, StepKind::Probe, "Measure what each wire does",
            "Not measured yet: " + unmeasuredWires() +
                ". Against the return, in standby and running, behind the limiter; then enter its "
                "function and mark it measured. An enable wire is tied, dead, before it is to run.",
            {Does::MeasureWires});
    step.cautions = powered(true);
}

void ChangeProcedure::leaveUnpowered(std::size_t unit)
{
    const auto& bears = m_predictions.bears.at(unit - 1);
    Step& step = add(idOf("found.unpowered", unit), Stage::Found, StepKind::Look,
                     "Leave it unpowered as found" + of(unit),
                     (bears.found == Verdict::Breaks ? bears.found_why
                                                     : "Its primaries are to be connected anew for " +
                                                           volts(m_job.need.mains.v_v) + ".") +
                         " The first power comes when it bears " + volts(m_job.need.mains.v_v) +
                         ". Whoever has the mains it was made for takes its readings there and enters them.");
    step.unit = stepUnit(unit);
}

std::string ChangeProcedure::foundBecause() const
{
    return m_predictions.found ? "the divider as entered, worst case" : "as found";
}

/// One unit by itself, met behind the limiter, then without it where its label, papers or parts permit that.
void ChangeProcedure::unitAsFound(std::size_t unit)
{
    const auto& bears = m_predictions.bears.at(unit - 1);
    const std::string light = loadFor(0.1) ? "The light load switched on: " + loadFor(0.1)->text()
                                           : std::string("A light resistive load on the output");
    power(idOf("found.power_lamp", unit), Stage::Found, true, light, unit);
    if (unit == 1)
        measureWires(Stage::Found);
    heatUp(idOf("found.heat", unit), Stage::Found);
    Step& behind =
        add(idOf("found.lamp_output", unit), Stage::Found, StepKind::Probe,
            "Read the output behind the limiter" + of(unit),
            dc() ? "Outside its window, or the bench supply in its limit: isolate."
                 : "And say what the lamp did: lamp flash, dark, bright or pulsing. Dark is normal while "
                   "the output is there.",
            {Does::ReadOutput});
    behind.unit = stepUnit(unit);
    std::string because = foundBecause();
    Asked asked = unit == 1 ? outputAt(behindLimiter(m_predictions.found, because), std::nullopt, because)
                            : Asked{rail().name, Quantity::Voltage, std::nullopt, std::nullopt, "as found"};
    asked.unit = unitTag(unit);
    if (unit == 1 && loadFor(0.1))
        asked.load_a = loadFor(0.1)->current_a;
    behind.asks.push_back(asked);
    if (anyMains())
        behind.cautions = {Caution::SeriesLamp};
    outputCautions(behind);
    behind.watches_lamp = !supply(unit).dcFed();
    isolate(idOf("found.lamp_off", unit), Stage::Found);
    const auto next = [&] {
        if (unit == unitCount())
            return;
        waitAndProve(idOf("found.next", unit), Stage::Found);
        limiterIn(idOf("found.limiter", unit + 1), Stage::Found, "");
        m_steps.back().title += ": " + unitName(m_job, unit + 1);
    };
    if (bears.found == Verdict::Unknown) {
        Step& no = add(idOf("found.limited_only", unit), Stage::Found, StepKind::Look,
                       "No full mains as found" + of(unit),
                       bears.found_why +
                           " Until then it is powered through the limiter alone, and the readings under "
                           "load wait.");
        no.unit = stepUnit(unit);
        next();
        return;
    }
    waitAndProve(idOf("found.lamp", unit), Stage::Found);
    limiterOut(idOf("found.lamp_out", unit), Stage::Found);
    power(idOf("found.power_full", unit), Stage::Found, false, "Every test load switched off", unit);
    heatUp(idOf("found.heat_full", unit), Stage::Found);
    if (unit == 1) {
        beforeReadings();
    } else {
        Step& step = add(idOf("found.no_load", unit), Stage::Found, StepKind::Probe,
                         "Before-reading without load" + of(unit), "By itself, nothing else joined to it.",
                         {Does::ReadOutput});
        step.unit = unit;
        step.asks.push_back({.point = rail().name,
                             .quantity = Quantity::Voltage,
                             .window = std::nullopt,
                             .load_a = 0,
                             .because = "as found",
                             .unit = unitTag(unit)});
        outputCautions(step);
    }
    if (unit < unitCount())
        isolate(idOf("found.off", unit), Stage::Found);
    next();
}

void ChangeProcedure::readLine(const std::string& id, Stage stage)
{
    if (dc() || !m_work.other_unit)
        return;
    const auto full = loadFor(1);
    const auto load_a = full ? std::optional(full->current_a) : std::nullopt;
    const auto& fuse_a = unit().fuse.value_a;
    Step& step =
        add(id, stage, StepKind::Probe, "Read the mains current at full load",
            "By a meter that is plugged in between outlet and plug: neither the cord nor the case is "
            "opened for it. Type it as line 0.2A, and what its hottest place has as temp unit 45C.");
    step.unit = stepUnit(1);
    step.asks.push_back({"line", Quantity::Current,
                         fuse_a ? std::optional(ReadingWindow{std::nullopt, *fuse_a}) : std::nullopt, load_a,
                         "the fuse"});
    if (stage == Stage::Found)
        step.asks.push_back({"temp unit", Quantity::Temperature, std::nullopt, load_a, "as found"});
}

void ChangeProcedure::beforeReadings()
{
    const std::string because = foundBecause();
    struct LoadStep
    {
        const char* id;
        const char* title;
        double share;
    };
    for (const LoadStep& load : {LoadStep{"found.no_load", "Before-reading without load", 0},
                                 LoadStep{"found.light", "Before-reading at light load", 0.1},
                                 LoadStep{"found.half", "Before-reading at half load", 0.5},
                                 LoadStep{"found.full", "Before-reading at full load", 1}}) {
        const auto test = loadFor(load.share);
        const std::optional<double> load_a = load.share == 0 ? std::optional(0.0)
                                             : test          ? std::optional(test->current_a)
                                                             : std::nullopt;
        Step& step =
            add(load.id, Stage::Found, StepKind::Probe, load.title,
                load.share == 0
                    ? std::string(m_predictions.found
                                      ? "This reading ties reference and divider together: it makes the plan "
                                        "closer."
                                      : "The plan starts from this reading.")
                : test ? "Switch on " + test->text() +
                             ", the others off. Type the load behind the volts: " + rail().name + " " +
                             fixed(rail().sign() * *level().v_v, 2) + " @" + significant(test->current_a, 2) +
                             "A." + (load.share == 1 ? heldWords() : std::string())
                       : "Type the load behind the volts: @0.5A.",
                {Does::ReadOutput});
        step.unit = stepUnit(1);
        step.asks.push_back(outputAt(m_predictions.found, load_a, because));
        if (load.share == 0)
            askOthers(step, false);
        outputCautions(step);
        if (load.share == 1)
            step.cautions.push_back(Caution::HotParts);
    }
    Step& ripple =
        add("found.ripple", Stage::Found, StepKind::Probe, dc() ? "Ripple and feed" : "Ripple and mains",
            dc() ? "At full load: output ripple peak to peak, and the feed's volts."
                 : "At full load: output ripple peak to peak, and the mains at the outlet.",
            {Does::ReadOutput});
    ripple.unit = stepUnit(1);
    const auto full = loadFor(1);
    ripple.asks.push_back({"ripple", Quantity::Voltage, std::nullopt,
                           full ? std::optional(full->current_a) : std::nullopt, "as found"});
    if (dc()) {
        ripple.asks.push_back({"in", Quantity::Voltage, std::nullopt, std::nullopt, "as found"});
    } else {
        const Mains& mains = m_job.need.mains;
        const auto window =
            mains.v_assumed || mains.spread_assumed
                ? std::nullopt
                : std::optional(widened({mains.lowest(), mains.highest()}, Quantity::Voltage));
        ripple.asks.push_back({"mains", Quantity::Voltage, window, std::nullopt, "the mains of the need"});
    }
    ripple.cautions = {Caution::NoScope, Caution::HotParts};
    outputCautions(ripple);
    readLine("found.line", Stage::Found);
}

} // namespace offshoot
