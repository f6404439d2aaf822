// After the change: behind the limiter, then load steps and what the change asks to be tried, the real load,
// and the sign-off.
#include "core/procedure/change_procedure.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

namespace {

constexpr double warm_up_s = 900;

} // namespace

void ChangeProcedure::bringUp()
{
    const auto& bears = m_predictions.bears.front();
    if (barredBySeal() || bears.planned == Verdict::Breaks) {
        add("bringup.unpowered", Stage::BringUp, StepKind::Look, "Not to be powered",
            barredBySeal() ? "The plan cannot be carried out on a sealed case: change it first."
                           : bears.planned_why + " Nothing planned cures it: choose in Plan what does.");
        signOff();
        return;
    }
    checkBehindLimiter();
    if (bears.planned == Verdict::Unknown) {
        add("bringup.limited_only", Stage::BringUp, StepKind::Look, "No full mains yet",
            bears.planned_why +
                " Until then it is powered through the limiter alone; load steps and the real load "
                "wait.");
        signOff();
        return;
    }
    loadSteps();
    if (joinUnits())
        connectLoad();
    signOff();
}

void ChangeProcedure::checkBehindLimiter()
{
    const bool valves_out = hasValves() && m_job.plan.connection && bearsNoLoad();
    tieEnable(Stage::BringUp);
    limiterIn("bringup.limiter", Stage::BringUp, "");
    if (joined())
        m_steps.back().title += ": " + unitName(m_job, 1);
    if (valves_out) {
        Step& out = add("bringup.valves_out", Stage::BringUp, StepKind::Touch, "Take the valves out",
                        noLoadWords() + " Cold, straight up, each marked with its place.", {Does::ValvesOut});
        out.unit = stepUnit(1);
        out.cautions = {Caution::ValveEquipment};
        power("bringup.power_secondaries", Stage::BringUp, true, "Nothing on the output", 1);
        each(&Work::at_first_power);
        makeSafe("bringup.valves", Stage::BringUp);
        Step& in = add("bringup.valves_in", Stage::BringUp, StepKind::Touch, "Put the valves back",
                       "Each in its place, pins straight.", {Does::ValvesIn});
        in.unit = stepUnit(1);
        in.cautions = {Caution::ValveEquipment};
    }
    const auto light_load = loadFor(0.1);
    Step& first = power("bringup.power_lamp", Stage::BringUp, true,
                        light_load ? "The light load switched on: " + light_load->text()
                                   : "A light resistive load on the output",
                        1);
    if (const std::string words = noLoadWords();
        hasValves() && m_job.plan.connection && !valves_out && !words.empty())
        first.detail += " " + words;
    measureWires(Stage::BringUp);
    heatUp("bringup.heat", Stage::BringUp);
    if (!valves_out)
        each(&Work::at_first_power);
    constexpr double light_share = 0.1;
    std::string because = m_predictions.planned_because;
    auto light = behindLimiter(plannedAt(light_share), because);
    if (light && m_job.plan.trim && !m_job.plan.chosen) {
        light = VoltageRange{light->min_v / m_job.plan.trim->scale, light->max_v / m_job.plan.trim->scale};
        because += ", before the trimmer is turned";
    }
    Step& step =
        add("bringup.lamp_output", Stage::BringUp, StepKind::Probe, "First reading behind the limiter",
            "Outside its window: isolate, then see which fault explains it.", {Does::ReadOutput});
    step.unit = stepUnit(1);
    step.asks.push_back(
        outputAt(light, light_load ? std::optional(light_load->current_a) : std::nullopt, because));
    if (!dc()) {
        step.detail += " Say what the lamp did: dim or dark is normal while the output is there.";
        step.cautions = {Caution::SeriesLamp};
    }
    outputCautions(step);
    step.watches_lamp = !dc();
    isolate("bringup.lamp_off", Stage::BringUp);
}

void ChangeProcedure::loadSteps()
{
    waitAndProve("bringup.lamp", Stage::BringUp);
    limiterOut("bringup.lamp_out", Stage::BringUp);
    power("bringup.power_full", Stage::BringUp, false, "Every test load switched off", 1);
    m_reading_stage = ReadingStage::Measured;
    each(&Work::at_full_mains);
    heatUp("bringup.heat_full", Stage::BringUp);
    each(&Work::set);
    struct LoadStep
    {
        const char* id;
        const char* title;
        double share;
    };
    std::vector<LoadStep> loads{{"bringup.no_load", "Without load", 0},
                                {"bringup.light", "Light load", 0.1},
                                {"bringup.half", "Half load", 0.5},
                                {"bringup.full", "Full load", 1}};
    if (const auto peak = peakShare())
        loads.push_back({"bringup.peak", "The load's peak, for as long as it lasts", *peak});
    for (const LoadStep& load : loads) {
        const auto test = loadFor(load.share);
        const std::optional<double> load_a = load.share == 0 ? std::optional(0.0)
                                             : test          ? std::optional(test->current_a)
                                                             : std::nullopt;
        Step& step = add(load.id, Stage::BringUp, StepKind::Probe, load.title,
                         load.share == 0 ? "Every test load switched off."
                         : test          ? "Switch on " + test->text() + ", the others off." +
                                      (load.share == 1 ? heldWords() : std::string())
                                : "",
                         {Does::ReadOutput});
        step.unit = stepUnit(1);
        step.asks.push_back(outputAt(plannedAt(load.share), load_a, m_predictions.planned_because));
        if (load.share == 0 || load.share == 1)
            askOthers(step, true);
        outputCautions(step);
        if (load.share >= 1)
            step.cautions.push_back(Caution::HotParts);
    }
    if (!m_predictions.others.empty()) {
        Step& cross =
            add("bringup.cross", Stage::BringUp, StepKind::Probe, "The other rails under cross load",
                rail().name + " at light load with the other rails' test loads on; then " + rail().name +
                    " at full load and theirs off. " + otherLoads() + "Log the farthest of each.",
                {Does::ReadOutput});
        cross.unit = stepUnit(1);
        askOthers(cross, true);
        outputCautions(cross);
        cross.cautions.push_back(Caution::HotParts);
    }
    each(&Work::at_load);
    warmUp();
}

/// "5V 0R82, 50 W (6 A, 30 W)" of every other rail; says which nobody gave.
std::string ChangeProcedure::otherLoads() const
{
    std::string known;
    std::string missing;
    for (const Predictions::Other& other : m_predictions.others) {
        const auto load = loadOf(other);
        std::string& list = load ? known : missing;
        list += (list.empty() ? "" : load ? "; " : ", ") + other.rail + (load ? " " + load->text() : "");
    }
    return (known.empty() ? "" : "Theirs: " + known + ". ") +
           (missing.empty() ? "" : "What the users of " + missing + " draw is not entered: as they are. ");
}

void ChangeProcedure::warmUp()
{
    add("bringup.warm", Stage::BringUp, StepKind::Wait, "Let it warm up at full load",
        "What ran near its limit shows itself in a quarter of an hour.")
        .wait_s = warm_up_s;
    const auto full = loadFor(1);
    const auto load_a = full ? std::optional(full->current_a) : std::nullopt;
    Step& ripple =
        add("bringup.ripple", Stage::BringUp, StepKind::Probe, "Ripple and temperature at full load",
            "Output ripple peak to peak, and what ran near its limit: say which part it is.",
            {Does::ReadOutput, Does::ReadTemperature});
    ripple.unit = stepUnit(1);
    ripple.asks.push_back({"ripple", Quantity::Voltage,
                           m_job.need.ripple_max_v
                               ? std::optional(ReadingWindow{std::nullopt, m_job.need.ripple_max_v})
                               : std::nullopt,
                           load_a, "the need"});
    for (const Work& work : m_work.kinds)
        if (work.warm && std::ranges::none_of(ripple.asks, [&](const Asked& asked) {
                return asked.point == "temp " + work.warm->what;
            }))
            ripple.asks.push_back({"temp " + work.warm->what, Quantity::Temperature,
                                   ReadingWindow{std::nullopt, work.warm->most_k}, load_a, work.warm->why});
    if (std::ranges::none_of(m_work.kinds, [](const Work& work) { return work.warm.has_value(); }))
        ripple.asks.push_back({"temp", Quantity::Temperature, std::nullopt, load_a,
                               "against the part's own rating: temp rectifier 70C"});
    ripple.cautions = {Caution::HotParts, Caution::NoScope};
    outputCautions(ripple);
    readLine("bringup.line", Stage::BringUp);
}

void ChangeProcedure::connectLoad()
{
    makeSafe("signoff", Stage::SignOff);
    closeCases("signoff", Stage::SignOff);
    for (std::size_t unit = 1; unit <= unitCount(); ++unit)
        if (openable(unit))
            earthTest("signoff.earth", Stage::SignOff, unit, "With the case closed. ");
    add("signoff.connect", Stage::SignOff, StepKind::Touch, "Connect " + m_job.need.load.name,
        std::string("Test loads off. ") +
            (hasBattery()
                 ? "The battery's leads on, its fuse out and its holder open: the set point was set on a "
                   "resistor and is only checked on the battery."
                 : "Polarity, wire and joints; strain relief at both ends."),
        {Does::ConnectLoad})
        .cautions = hasBattery() ? std::vector{Caution::BatterySource} : std::vector<Caution>{};
    connectSense();
    const auto only = m_predictions.units.empty() ? stepUnit(1) : std::nullopt;
    Step& on = power(
        "signoff.power", Stage::SignOff, false,
        hasBattery() ? "Battery connected, its fuse still out" : m_job.need.load.name + " connected", only);
    if (hasBattery())
        on.cautions.push_back(Caution::BatterySource);
    heatUp("signoff.heat", Stage::SignOff);
    if (hasBattery())
        connectBattery();
    readOnLoad();
}

/// Across the open fuse holder stands the small difference; the wrong way round, the sum.
void ChangeProcedure::connectBattery()
{
    Step& polarity = add(
        "signoff.polarity", Stage::SignOff, StepKind::Probe, "Measure across the battery's open fuse holder",
        "Fuse out, unit running. The small difference is right; the sum of both is the wrong way "
        "round: isolate and swap the leads. Log its size: polarity 1.9V.",
        {Does::PolarityTest});
    polarity.asks.push_back({"polarity", Quantity::Voltage, m_predictions.polarity_v, std::nullopt,
                             "what is planned less what a flat battery gives"});
    polarity.cautions = {Caution::BatterySource};
    outputCautions(polarity);
    Step& fuse = power("signoff.fuse", Stage::SignOff, false, "The battery's fuse in, last of all",
                       m_predictions.units.empty() ? stepUnit(1) : std::nullopt);
    fuse.title = "Put the battery's fuse in";
    fuse.detail = "The difference read right. Insulated tool, one hand; a small spark is the difference.";
    fuse.does.push_back(Does::ConnectSource);
    fuse.cautions.push_back(Caution::BatterySource);
}

void ChangeProcedure::readOnLoad()
{
    const auto& target = m_job.need.target;
    const auto wanted =
        target ? std::optional(widened(signedWindow(rail(), target->min_v, target->max_v), Quantity::Voltage))
               : std::nullopt;
    Step& voltage =
        add("signoff.output", Stage::SignOff, StepKind::Probe, "Output on the real load",
            hasBattery() ? "A battery that is not full pulls the voltage down to its own until it is."
                         : "This reading wins over every earlier one.",
            {Does::ReadOutput});
    outputCautions(voltage);
    if (!m_predictions.load_v) {
        voltage.asks.push_back(
            {rail().name, Quantity::Voltage, wanted, m_job.need.current_a, "the need's window"});
    } else {
        // The need is meant at the load; what the terminals give depends on the run.
        const bool bus = !m_predictions.units.empty() && m_job.plan.join->kind == Joining::SideBySide;
        const std::string because = "the plan, at the terminals";
        const auto& drawn_a = level().wanted_a;
        voltage.asks.push_back(
            bus ? outputOnBus(because)
                : outputAt(m_predictions.planned, drawn_a ? drawn_a : level().fullAmps(), because));
        Step& arrives = add("signoff.at_load", Stage::SignOff, StepKind::Probe, "Voltage at the load itself",
                            "On the load's own terminals, drawing what it draws: this reading wins over "
                            "every earlier one.",
                            {Does::ReadOutput});
        arrives.asks.push_back(
            {"load", Quantity::Voltage, wanted, m_job.need.current_a, "the need's window"});
        outputCautions(arrives);
    }
    if (!hasBattery())
        return;
    Step& current = add("signoff.charge", Stage::SignOff, StepKind::Probe, "Current into the battery",
                        "Flat battery: the supply limits or hiccups; watch that it settles.");
    const auto& most = m_job.need.load.battery.i_charge_max_a;
    current.asks.push_back({"load", Quantity::Current,
                            most ? std::optional(ReadingWindow{std::nullopt, most}) : std::nullopt,
                            std::nullopt, "the battery's charging limit"});
    current.cautions = {Caution::BatterySource};
}

/// A job that was not brought up is made safe and closed all the same.
void ChangeProcedure::signOff()
{
    isolate("signoff.off", Stage::SignOff);
    if (m_opened) {
        waitAndProve("signoff.end", Stage::SignOff);
        closeCases("signoff", Stage::SignOff);
    }
    Step& label =
        add("signoff.label", Stage::SignOff, StepKind::Look, "Label it",
            "Switched off. The label says what it gives now, and when it was changed.", {Does::Label});
    label.parts = {};
    Step& report =
        add("signoff.report", Stage::SignOff, StepKind::Look, "Report",
            hasBattery() ? "Export it and keep it with the unit. Back into service: the unit first, the "
                           "battery's fuse last."
                         : "Export it and keep it with the unit.");
    if (!dc())
        report.cautions = {Caution::LentOrUnattended};
}

} // namespace offshoot
