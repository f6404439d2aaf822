#include "core/procedure/change_procedure.h"
#include "core/values/format.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

std::string_view cautionText(Caution caution)
{
    switch (caution) {
    case Caution::MainsPotential:
        return "Mains potential, and the reservoir at its crest. One hand behind your back, insulated "
               "probes, stand on "
               "something dry; no jewellery, no wrist strap.";
    case Caution::NoScope:
        return "No earthed oscilloscope on the primary: its clip shorts the live side to earth. An isolated "
               "differential probe, or not at all.";
    case Caution::Discharge:
        return "Discharge through a resistor, not a screwdriver. Measure, wait, measure again: it recovers.";
    case Caution::PlugPins:
        return "Capacitors across the mains may have no bleeder: the plug's pins may bite.";
    case Caution::HighOutput:
        return "Above 60 V DC: treat it as mains.";
    case Caution::BatterySource:
        return "A battery gives fault current without limit. Take its fuse out, use insulated spanners; it "
               "feeds back "
               "into an unpowered supply. Ventilate lead-acid cells.";
    case Caution::SeriesLamp:
        return "Behind the lamp the unit is live even when the lamp is dark. A dark lamp proves nothing.";
    case Caution::HotParts:
        return "Dummy loads, lamps and heatsinks above 60 °C burn. Keep them off wires and capacitors.";
    case Caution::OldCapacitors:
        return "Old electrolytics: check polarity and bulging; first charge slowly through the lamp; eye "
               "protection.";
    case Caution::LentOrUnattended:
        return "A unit that is lent, sold or left running unattended may need testing by a competent person "
               "under "
               "local rules.";
    case Caution::FixedWiring:
        return "Fixed wiring, sockets and consumer units are for licensed practice and are not planned here.";
    case Caution::VariableTransformer:
        return "A variable transformer does not isolate; only an isolating transformer does, and then a "
               "first "
               "fault is not cleared by a breaker.";
    case Caution::ValveEquipment:
        return "Hundreds of volts for minutes after switching off. Valves out changes the voltages upwards: "
               "check every capacitor's rating first.";
    case Caution::OutputFloats:
        return "The case keeps its earth. What is opened is the output's own bond to the case; insulate the "
               "mountings and connectors that touched both.";
    }
    return {};
}

ReadingWindow signedWindow(const Rail& rail, double low_v, double high_v)
{
    return rail.negative ? ReadingWindow{-high_v, -low_v} : ReadingWindow{low_v, high_v};
}

std::string Asked::name() const { return unit ? point + " #" + *unit : point; }

bool Asked::answeredBy(std::string_view logged_point, std::optional<Quantity> logged_quantity) const
{
    return logged_quantity == quantity && (logged_point == point || logged_point.starts_with(point + ' '));
}

std::string Step::fingerprint() const
{
    std::string text = title + '|' + detail;
    for (const Asked& asked : asks) {
        text += '|' + asked.name();
        if (asked.window)
            for (const auto& edge : {asked.window->min, asked.window->max})
                text += edge ? ' ' + significant(*edge, 4) : " -";
        if (asked.load_a)
            text += " @" + significant(*asked.load_a, 3);
    }
    for (const std::string& check : checks)
        text += '|' + check;
    return text;
}

namespace {

constexpr double guide_light_share = 0.05;

std::string rangeText(const VoltageRange& r) { return fixed(r.min_v, 2) + " to " + fixed(r.max_v, 2) + " V"; }

} // namespace

std::vector<Step> ChangeProcedure::run()
{
    identify();
    makeSafe("found", Stage::Found);
    inspectDead();
    measureBonds();
    if (m_job.plan.connection) {
        leaveUnpowered();
    } else {
        powerThroughLamp("found", Stage::Found);
        beforeReadings();
    }
    makeSafe("change", Stage::Change);
    fitParts();
    checkThroughLamp();
    loadSteps();
    joinUnits();
    connectLoad();
    signOff();
    return std::move(m_steps);
}

void ChangeProcedure::identify()
{
    add("found.plate", Stage::Found, StepKind::Look, "Read the plate",
        "Name, voltages, currents, earth sign. The label may be optimistic; the parts rule.");
    add("found.parts", Stage::Found, StepKind::Look, "Read the parts",
        std::string(m_job.found.topology == Topology::Unregulated
                        ? "Transformer, rectifier, every capacitor and choke"
                    : isLinear(m_job.found.topology)
                        ? "Transformer, rectifier, capacitors, regulator, divider"
                        : "Bulk and output capacitors, rectifier, switch, controller, divider") +
            ". Enter each on its station, or leave it unknown.")
        .cautions = {Caution::PlugPins};
}

void ChangeProcedure::isolate(const std::string& id, Stage stage)
{
    Step& step =
        add(id, stage, StepKind::Isolate, "Switch every source off",
            hasBattery() ? "Battery fuse out first, then pull the mains plug and keep it in sight. Declare "
                           "each source off."
            : m_job.others.empty()
                ? "Pull the mains plug and keep it in sight. Declare it off."
                : "Pull the plug of every unit and keep them in sight: one that runs feeds the others "
                  "through the output. Declare each off.");
    if (hasBattery())
        step.cautions.push_back(Caution::BatterySource);
}

void ChangeProcedure::prove(const std::string& prefix, Stage stage)
{
    double wait_s = 0;
    bool every_bleeder = true;
    for (const Reservoir& reservoir : m_model.reservoirs) {
        every_bleeder = every_bleeder && reservoir.discharge_s;
        wait_s = std::max(wait_s, reservoir.discharge_s.value_or(0));
    }
    Step& wait = add(
        prefix + ".wait", stage, StepKind::Wait, "Let the charge drain",
        every_bleeder ? "Computed from the bleeders to 10 V. Then measure now: the countdown proves nothing."
                      : "A reservoir has no known bleeder: it keeps its charge until you discharge it. "
                        "Measure now.");
    if (every_bleeder)
        wait.wait_s = wait_s;
    Step& step = add(prefix + ".prove", stage, StepKind::Prove, "Prove it dead",
                     "Try the meter on a known voltage, measure each reservoir, try the meter again.");
    for (const Reservoir& reservoir : m_model.reservoirs) {
        step.asks.push_back({.point = reservoir.point,
                             .quantity = Quantity::Voltage,
                             .window = ReadingWindow{std::nullopt, dead_v},
                             .load_a = std::nullopt,
                             .because = "below 10 V counts as dead",
                             .unit = reservoir.unit});
        step.detail += ' ' + reservoir.key() + ": above 10 V, discharge through at most " +
                       formatOhms(std::floor(reservoir.tool_ohm)) + " (5 s from " +
                       formatVolts(reservoir.v0_v) + ").";
        if (reservoir.needs_second)
            step.detail += " Measure " + reservoir.key() + " again after " +
                           formatDuration(reservoir.wait_s) + ": it may recover to " +
                           formatVolts(reservoir.v0_v * recoveryShare(reservoir.kind)) + '.';
    }
    step.cautions = {Caution::Discharge, Caution::PlugPins};
}

void ChangeProcedure::makeSafe(const std::string& prefix, Stage stage)
{
    isolate(prefix + ".isolate", stage);
    prove(prefix, stage);
}

void ChangeProcedure::inspectDead()
{
    Step& earth =
        add("found.earth", Stage::Found, StepKind::Touch,
            earthed() ? "Measure earth continuity" : "Look at the insulation",
            earthed() ? "From the plug's earth pin to the case, below 0.5 Ω (a guide; local rules rule). The "
                        "protective earth stays connected, always."
                      : "Class II: no earth is asked for. Cord, inlet and case sound, no bare metal within "
                        "reach of the mains side.");
    if (earthed())
        earth.asks.push_back({"earth", Quantity::Resistance, ReadingWindow{std::nullopt, earth_max_ohm},
                              std::nullopt, "usual guide for class I"});
    for (std::size_t unit = 2; unit <= m_job.others.size() + 1; ++unit)
        if (m_job.others.at(unit - 2).earth_class == EarthClass::ClassI)
            earth.asks.push_back({"earth", Quantity::Resistance, ReadingWindow{std::nullopt, earth_max_ohm},
                                  std::nullopt, "usual guide for class I", unitTag(unit)});
    add("found.inspect", Stage::Found, StepKind::Touch, "Inspect and clip the meter on",
        "Plug, cord, fuse value. Clip the meter leads and a light resistive load on the output" +
            std::string(hasBattery() ? "; never the battery." : "."))
        .cautions = {Caution::OldCapacitors, Caution::FixedWiring};
}

bool ChangeProcedure::highOutput() const
{
    const auto high = [](double v) { return v > 60; };
    return (m_job.need.target && high(m_job.need.target->max_v)) ||
           std::ranges::any_of(m_job.found.rails,
                               [&](const Rail& rail) { return high(rail.v_v.value_or(0)); });
}

std::vector<Caution> ChangeProcedure::liveCautions(bool lamp_in) const
{
    std::vector<Caution> cautions{Caution::MainsPotential, Caution::NoScope};
    if (lamp_in)
        cautions.push_back(Caution::SeriesLamp);
    if (highOutput())
        cautions.push_back(Caution::HighOutput);
    return cautions;
}

void ChangeProcedure::power(const std::string& id, Stage stage, bool lamp_in, const std::string& load)
{
    const std::string lamp =
        lamp_in ? "Limiter lamp in series" +
                      (m_predictions.lamp_w ? " (" + formatValue(*m_predictions.lamp_w, Quantity::Power) + ")"
                                            : "")
                : "Limiter lamp out";
    Step& step = add(id, stage, StepKind::Power, lamp_in ? "Power through the lamp" : "Full mains",
                     lamp + ". " + load +
                         ". A flash, then dim or dark is normal; bright is a short; pulsing is a "
                         "hiccup; no light at all is no current.");
    if (!lamp_in)
        step.detail = lamp + ". " + load + ".";
    const bool slowly = bearsLowMains(m_job.found.topology);
    if (lamp_in)
        step.detail += slowly ? " Or slowly on a variable transformer, watching its current."
                              : " Not on a variable transformer: at low mains it draws more current.";
    const Fuse& fuse = stage == Stage::Found ? m_job.found.fuse : m_planned_fuse;
    step.checks = {"Discharge clip and tools off the board",
                   "Covers on, or nobody within reach",
                   fuse.value_a ? "Fuse " + fuseText(fuse) + " fitted"
                                : "Fuse of the planned value and type fitted",
                   "Voltage selector, if there is one, at " + significant(m_job.need.mains.v_v, 3) + " V",
                   lamp,
                   load + ", polarity checked",
                   "Meter on DC, above " +
                       formatVolts(1.2 * std::max(m_rail.v_v.value_or(0),
                                                  unitTarget(m_job) ? unitTarget(m_job)->max_v : 0)) +
                       ", leads in the volts sockets",
                   "One hand behind the back, and somebody knows"};
    if (earthed())
        step.checks.emplace_back("Earth continuity logged");
    step.cautions = liveCautions(lamp_in);
    if (lamp_in && slowly)
        step.cautions.push_back(Caution::VariableTransformer);
    if (hasValves())
        step.cautions.push_back(Caution::ValveEquipment);
}

void ChangeProcedure::powerThroughLamp(const std::string& prefix, Stage stage)
{
    power(prefix + ".power_lamp", stage, true, "Light resistive load on the output");
    Step& step = add(prefix + ".lamp_output", stage, StepKind::Probe, "Read the output behind the lamp",
                     "And say what the lamp did: lamp flash, dark, bright or pulsing.");
    step.asks.push_back(outputAt(m_predictions.found, std::nullopt, "the divider as entered, worst case"));
    askOtherUnits(step);
    step.cautions = {Caution::SeriesLamp};
    step.watches_lamp = true;
}

std::optional<double> ChangeProcedure::droopShare(std::optional<double> load_a) const
{
    if (!load_a || m_job.found.topology == Topology::Unregulated) // its simulation knows the load
        return std::nullopt;
    std::optional<double> unloaded;
    std::optional<double> loaded;
    constexpr double same_load_share = 0.1;
    const auto struck = struckIds(m_job.log);
    for (const LogEntry& entry : m_job.log) {
        const bool counts = entry.kind == LogKind::Reading && entry.stage == ReadingStage::Found &&
                            entry.point == m_rail.name && entry.quantity == Quantity::Voltage &&
                            entry.isolation == Isolation::Live && !entry.unit && !struck.contains(entry.id);
        if (!counts)
            continue;
        const std::optional<double> a = entry.load ? loadAmps(entry) : 0.0;
        if (!a)
            continue;
        if (*a <= guide_light_share * *load_a)
            unloaded = entry.value;
        if (std::abs(*a - *load_a) <= same_load_share * *load_a)
            loaded = entry.value;
    }
    if (!unloaded || !loaded || *unloaded == 0)
        return std::nullopt;
    return *loaded / *unloaded;
}

std::optional<VoltageRange> ChangeProcedure::plannedAt(double share) const
{
    for (const auto& [at, range] : m_predictions.lighter)
        if (at == share)
            return range;
    return m_predictions.planned;
}

Asked ChangeProcedure::outputAt(const std::optional<VoltageRange>& unloaded, std::optional<double> load_a,
                                const std::string& because) const
{
    Asked asked{m_rail.name, Quantity::Voltage, std::nullopt, load_a, because};
    if (!unloaded)
        return asked;
    const bool loaded = load_a && *load_a > 0 && m_job.found.topology != Topology::Unregulated;
    const auto share = droopShare(load_a);
    const auto slope_ohm = loaded && !share ? m_job.found.joint.r_out_ohm : std::nullopt;
    const auto under_load = [&](double v) {
        return v * share.value_or(1) - slope_ohm.value_or(0) * load_a.value_or(0);
    };
    asked.window = signedWindow(m_rail, under_load(unloaded->min_v), under_load(unloaded->max_v));
    if (loaded)
        asked.because += share       ? ", with the droop of the before-readings"
                         : slope_ohm ? ", less its droop of " + formatOhms(*slope_ohm)
                                     : "; droop under load not known yet";
    return asked;
}

/// A colour is never taken for a function.
void ChangeProcedure::measureWires(Stage stage)
{
    std::string unmeasured;
    for (const Wire& wire : m_job.found.wires)
        if (!wire.measured)
            unmeasured += (unmeasured.empty() ? "" : ", ") + wire.name +
                          (wire.colour.empty() ? "" : " (" + wire.colour + ")");
    if (unmeasured.empty())
        return;
    add("found.wires", stage, StepKind::Probe, "Measure what each wire does",
        "Not measured yet: " + unmeasured +
            ". Against the return, running and in standby; then enter its function and mark it measured.")
        .cautions = {Caution::MainsPotential};
}

void ChangeProcedure::beforeReadings()
{
    isolate("found.lamp_off", Stage::Found);
    power("found.power_full", Stage::Found, false, "No load on the output");
    const std::string because = "the divider as entered, worst case";
    constexpr double example_a = 0.5;
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
        const auto load_a = m_load_a ? std::optional(*m_load_a * load.share) : std::nullopt;
        Step& step =
            add(load.id, Stage::Found, StepKind::Probe, load.title,
                load.share == 0 ? std::string(m_predictions.found ? "This reading ties reference and divider "
                                                                    "together: it makes the plan closer."
                                                                  : "The plan starts from this reading.")
                                : "Type the load behind the volts: @" +
                                      significant(load_a.value_or(example_a), 2) + "A.");
        step.asks.push_back(outputAt(m_predictions.found, load_a, because));
        if (load.share == 0) {
            askOthers(step, false);
            askOtherUnits(step);
        }
        step.cautions = {Caution::MainsPotential};
        if (load.share == 1)
            step.cautions.push_back(Caution::HotParts);
    }
    measureWires(Stage::Found);
}

/// Its primaries stand for another mains than the one there is, which would burn it or its fuse.
void ChangeProcedure::leaveUnpowered()
{
    add("found.unpowered", Stage::Found, StepKind::Look, "Leave it unpowered as found",
        "Its primaries do not stand for " + significant(m_job.need.mains.v_v, 4) +
            " V: the first power comes when they do. Whoever has the mains it was made for takes its "
            "readings "
            "there and enters them.")
        .cautions = {Caution::MainsPotential};
}

/// Deepest first: what needs the transformer out, then the board, then what is added from outside.
void ChangeProcedure::fitParts()
{
    const Plan& plan = m_job.plan;
    if (plan.chosen || !plan.changesAnything()) {
        Step& legs = add("change.legs", Stage::Change, StepKind::Touch, "Measure the legs",
                         "Ohmmeter in circuit, both ways round: other paths can only make it read low.");
        if (m_rail.feedback.top)
            legs.detail += " Top " + formatOhms(m_rail.feedback.top->ohm());
        if (m_rail.feedback.bottom)
            legs.detail += ", bottom " + formatOhms(m_rail.feedback.bottom->ohm()) + '.';
    }
    if (!plan.changesAnything())
        add("change.fit", Stage::Change, StepKind::Touch, "Fit the planned part",
            "Nothing is planned yet: choose in Plan.");
    fitOthers();
    if (plan.chosen)
        fitDivider();
    fitRefits();
    m_reading_stage = ReadingStage::PlannedCheck;
    if (plan.chosen || !plan.changesAnything()) {
        Step& measured =
            add("change.measure", Stage::Change, StepKind::Touch, "Measure the changed leg",
                "By itself or in circuit; a dead resistance tells faults apart before power does.");
        const bool top = plan.chosen && joinsTop(plan.chosen->method);
        if (const auto ohm = top ? m_predictions.top_ohm : m_predictions.bottom_ohm)
            measured.asks.push_back({top ? "top" : "bottom", Quantity::Resistance,
                                     ReadingWindow{*ohm * 0.97, *ohm * 1.03}, std::nullopt,
                                     "planned leg ± 3 %"});
    }
    add("change.inspect", Stage::Change, StepKind::Touch, "Inspect",
        "Joints, clearances, polarity, no solder splash on the primary side.");
    add("change.second_look", Stage::Change, StepKind::Look, "Second look before closing",
        "Somebody else, or you after a pause: against the plan's drawing, part by part.")
        .shows_plan = true;
}

void ChangeProcedure::fitDivider()
{
    const ChosenNetwork& chosen = *m_job.plan.chosen;
    Step& fit = add("change.fit", Stage::Change, StepKind::Touch,
                    "Fit " + chosen.network.prettyText() + " " + std::string(whereItJoins(chosen.method)),
                    "Short leads, sound joints, nothing within reach of the primary.");
    fit.shows_plan = true;
    if (m_job.plan.route == Route::TemporaryTrimmer)
        fit.detail = "Temporary trimmer " + formatOhms(m_job.plan.trimmer.pot_ohm) +
                     " first, preset as the plan says; then the fixed part it measured. " + fit.detail;
}

void ChangeProcedure::fitOthers()
{
    const Plan& plan = m_job.plan;
    if (plan.rewind) {
        const Rail* rail = railNamed(m_job.found, plan.rewind->rail);
        const auto turns = rail != nullptr ? rail->winding.turns : std::nullopt;
        add("change.rewind", Stage::Change, StepKind::Touch,
            "Rewind " + plan.rewind->rail + " to " + std::to_string(plan.rewind->turns) + " turns",
            (turns ? "Found " + std::to_string(*turns) + " turns. " : std::string()) +
                "Note start, finish and direction before the first turn comes off. Same wire class, the "
                "insulation between primary and secondary made again as it was; the core's gap unchanged.");
        m_steps.back().cautions = {Caution::LentOrUnattended};
    }
    if (plan.shunt)
        add("change.shunt", Stage::Change, StepKind::Touch,
            "Fit the shunt " + plan.shunt->network.prettyText(),
            "Sense leads at the part itself (Kelvin): solder and track inside the sensed path count.");
    fitMains();
    fitWire();
    if (plan.dummy_load) {
        const DummyLoadPlan& dummy = *plan.dummy_load;
        Step& step =
            add("change.dummy_load", Stage::Change, StepKind::Touch,
                "Fit the dummy load " + dummy.network.prettyText() + " on " + dummy.rail,
                "On metal or in moving air, away from wires and capacitors; behind the output's fuse or "
                "connector if there is one.");
        step.cautions = {Caution::HotParts};
    }
}

/// The other rails stand beside the first in the same step: one setting moves them all.
void ChangeProcedure::askOthers(Step& step, bool planned) const
{
    for (const Predictions::Other& other : m_predictions.others)
        step.asks.push_back({other.rail, Quantity::Voltage, planned ? other.planned : other.found,
                             std::nullopt, planned ? other.because : "as found"});
}

/// The units beside the one on the bench are met the same way, each by itself.
void ChangeProcedure::askOtherUnits(Step& step) const
{
    if (m_job.others.empty())
        return;
    step.detail += " Every unit by itself, one after the other.";
    for (std::size_t unit = 2; unit <= m_job.others.size() + 1; ++unit)
        step.asks.push_back({.point = m_rail.name,
                             .quantity = Quantity::Voltage,
                             .window = std::nullopt,
                             .load_a = std::nullopt,
                             .because = "as found",
                             .unit = unitTag(unit)});
}

void ChangeProcedure::turnTrimmer()
{
    if (!m_job.plan.trim)
        return;
    const TrimPlan& trim = *m_job.plan.trim;
    Step& step = add("bringup.trim", Stage::BringUp, StepKind::Adjust,
                     "Turn " + trim.trimmer + " by " + significant((trim.scale - 1) * 100, 2) + " %",
                     "Insulated trimming tool, slowly; watch every rail, not only the one you want.");
    step.asks.push_back(outputAt(m_predictions.planned, std::nullopt, m_predictions.planned_because));
    askOthers(step, true);
    step.cautions = {Caution::MainsPotential};
}

void ChangeProcedure::fitRefits()
{
    for (const Refit& refit : m_job.plan.refits) {
        const RowInfo& info = rowInfo(refit.row);
        add("change.refit." + std::string(word(refit.row)) + (refit.rail.empty() ? "" : "." + refit.rail),
            Stage::Change, StepKind::Touch, "Fit another " + std::string(info.part),
            std::string(info.rating) + ' ' +
                (info.unit ? formatValue(refit.rating, *info.unit) : significant(refit.rating, 3)) +
                ". Same polarity, same size or smaller, same or better ripple and temperature ratings.");
    }
}

void ChangeProcedure::checkThroughLamp()
{
    power("bringup.power_lamp", Stage::BringUp, true, "Light resistive load on the output");
    constexpr double light_share = 0.1;
    auto light = plannedAt(light_share);
    std::string because = m_predictions.planned_because;
    if (light && m_predictions.lamp_share < 1) {
        light->min_v *= m_predictions.lamp_share;
        because += ", less what the lamp takes";
    }
    if (light && m_job.plan.trim && !m_job.plan.chosen) {
        light = VoltageRange{light->min_v / m_job.plan.trim->scale, light->max_v / m_job.plan.trim->scale};
        because += ", before the trimmer is turned";
    }
    Step& step =
        add("bringup.lamp_output", Stage::BringUp, StepKind::Probe, "First reading behind the lamp",
            light ? "Predicted " + rangeText(*light) + ". Outside: isolate, then see which fault explains it."
                  : "Outside its window: isolate.");
    step.asks.push_back(outputAt(light, std::nullopt, because));
    step.cautions = {Caution::SeriesLamp};
    step.watches_lamp = true;
}

void ChangeProcedure::loadSteps()
{
    measureSecondaries();
    isolate("bringup.lamp_off", Stage::BringUp);
    power("bringup.power_full", Stage::BringUp, false, "No load on the output");
    m_reading_stage = ReadingStage::Measured;
    if (m_job.plan.connection)
        measureWires(Stage::BringUp);
    turnTrimmer();
    struct LoadStep
    {
        const char* id;
        const char* title;
        double share;
    };
    for (const LoadStep& load :
         {LoadStep{"bringup.no_load", "Without load", 0}, LoadStep{"bringup.light", "Light load", 0.1},
          LoadStep{"bringup.half", "Half load", 0.5}, LoadStep{"bringup.full", "Full load", 1}}) {
        const auto load_a = m_load_a ? std::optional(*m_load_a * load.share) : std::nullopt;
        Step& step = add(load.id, Stage::BringUp, StepKind::Probe, load.title);
        step.asks.push_back(outputAt(plannedAt(load.share), load_a, m_predictions.planned_because));
        if (load.share == 0 || load.share == 1)
            askOthers(step, true);
        step.cautions = {Caution::MainsPotential};
        if (load.share == 1)
            step.cautions.push_back(Caution::HotParts);
    }
    constexpr double warm_up_s = 900;
    add("bringup.warm", Stage::BringUp, StepKind::Wait, "Let it warm up at full load",
        "What ran near its limit shows itself in a quarter of an hour.")
        .wait_s = warm_up_s;
    Step& ripple =
        add("bringup.ripple", Stage::BringUp, StepKind::Probe, "Ripple and temperature at full load",
            "Output ripple peak to peak, and what ran near its limit: say which part it is.");
    ripple.asks.push_back({"ripple", Quantity::Voltage,
                           m_job.need.ripple_max_v
                               ? std::optional(ReadingWindow{std::nullopt, m_job.need.ripple_max_v})
                               : std::nullopt,
                           m_load_a, "the need"});
    ripple.asks.push_back({"temp", Quantity::Temperature, std::nullopt, m_load_a,
                           "against the part's own rating: temp rectifier 70C"});
    ripple.cautions = {Caution::HotParts, Caution::MainsPotential};
}

void ChangeProcedure::connectLoad()
{
    makeSafe("signoff", Stage::SignOff);
    add("signoff.connect", Stage::SignOff, StepKind::Touch, "Connect " + m_job.need.load.name,
        hasBattery() ? "The set point was set on a resistor and is only checked on the battery. Battery fuse "
                       "stays out."
                     : "Polarity, wire and joints.")
        .cautions = hasBattery() ? std::vector{Caution::BatterySource} : std::vector<Caution>{};
    power("signoff.power", Stage::SignOff, false,
          hasBattery() ? "Battery connected, its fuse in last" : m_job.need.load.name + " connected");
    if (hasBattery())
        m_steps.back().cautions.push_back(Caution::BatterySource);
    const auto& target = m_job.need.target;
    const auto wanted =
        target ? std::optional(signedWindow(m_rail, target->min_v, target->max_v)) : std::nullopt;
    Step& voltage =
        add("signoff.output", Stage::SignOff, StepKind::Probe, "Output on the real load",
            hasBattery() ? "A battery that is not full pulls the voltage down to its own until it is."
                         : "This reading wins over every earlier one.");
    voltage.cautions = {Caution::MainsPotential};
    if (!m_predictions.load_v) {
        voltage.asks.push_back(
            {m_rail.name, Quantity::Voltage, wanted, m_job.need.current_a, "the need's window"});
    } else {
        // The need is meant at the load; what the terminals give depends on the run.
        voltage.asks.push_back(outputAt(m_predictions.planned, m_load_a, "the plan, at the terminals"));
        Step& arrives = add("signoff.at_load", Stage::SignOff, StepKind::Probe, "Voltage at the load itself",
                            "On the load's own terminals, drawing what it draws: this reading wins over "
                            "every earlier one.");
        arrives.asks.push_back(
            {"load", Quantity::Voltage, wanted, m_job.need.current_a, "the need's window"});
        arrives.cautions = {Caution::MainsPotential};
    }
    if (hasBattery())
        checkOnBattery();
}

void ChangeProcedure::checkOnBattery()
{
    Step& current = add("signoff.charge", Stage::SignOff, StepKind::Probe, "Current into the battery",
                        "Flat battery: the supply limits or hiccups; watch that it settles.");
    const auto& most = m_job.need.load.battery.i_charge_max_a;
    current.asks.push_back({"load", Quantity::Current,
                            most ? std::optional(ReadingWindow{std::nullopt, most}) : std::nullopt,
                            std::nullopt, "the battery's charging limit"});
    current.cautions = {Caution::BatterySource};
}

void ChangeProcedure::signOff()
{
    add("signoff.label", Stage::SignOff, StepKind::Look, "Label and cover",
        "The label says what it gives now, and when it was changed.");
    add("signoff.report", Stage::SignOff, StepKind::Look, "Report", "Export it and keep it with the unit.")
        .cautions = {Caution::LentOrUnattended};
}

std::vector<Step> changeProcedure(const Job& job, const EnergyModel& model, const Predictions& predictions)
{
    return ChangeProcedure(job, model, predictions).run();
}

} // namespace offshoot
