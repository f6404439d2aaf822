// Making safe and powering: isolation, the plug's pins, cases, discharge, proof; the limiter and its checks.
#include "core/procedure/change_procedure.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

/// Of a reservoir whose capacitance nobody read, for the time a discharge takes.
constexpr double usual_output_f = 4.7e-3;
constexpr double pins_max_v = 10;
/// A tool that takes longer for another reservoir is not shared with it.
constexpr double share_tool_s = 60;
constexpr double one_joule = 1;
constexpr double heater_s = 60;

} // namespace

void ChangeProcedure::isolate(const std::string& id, Stage stage)
{
    const std::string battery = hasBattery() ? "Battery fuse out first. " : "";
    std::string detail;
    if (!anyMains())
        detail = battery +
                 (joined() ? "Switch every feed off and take it off its terminals: a unit that runs feeds "
                             "the others through the output. Declare each off."
                           : "Switch the feed off and take it off its terminals, in sight. Declare it off.");
    else if (joined())
        detail = battery +
                 "Pull the plug of every unit and keep them in sight: one that runs feeds the others "
                 "through the output. Declare each off.";
    else
        detail = battery + "Pull the mains plug and keep it in sight. Declare each source off.";
    if (anyMains() && !m_first_pins)
        detail += " Keep off the pins: measure across them if you must touch them.";
    Step& step = add(id, stage, StepKind::Isolate, "Switch every source off", detail, {Does::Isolate});
    if (anyMains())
        step.cautions = {Caution::PlugPins};
    if (hasBattery()) {
        step.does.push_back(Does::DisconnectSource);
        step.cautions.push_back(Caution::BatterySource);
    }
}

void ChangeProcedure::measurePins(const std::string& id, Stage stage)
{
    if (!anyMains())
        return;
    m_first_pins = false;
    Step& step =
        add(id, stage, StepKind::Prove, "Measure across the plug's pins",
            "Volts from pin to pin, as soon as it is out and again after ten seconds: capacitors across the "
            "mains hold the crest where their bleeder is open. Log the second reading: pins 1.2V.",
            {Does::MeasurePins});
    for (std::size_t unit = 1; unit <= unitCount(); ++unit)
        if (!supply(unit).dcFed())
            step.asks.push_back({.point = "pins",
                                 .quantity = Quantity::Voltage,
                                 .window = ReadingWindow{std::nullopt, pins_max_v},
                                 .load_a = std::nullopt,
                                 .because = "below 10 V counts as dead",
                                 .unit = unitTag(unit)});
    step.cautions = {Caution::PlugPins, Caution::OneHand};
}

void ChangeProcedure::openCases(const std::string& prefix, Stage stage)
{
    m_opened = true;
    for (std::size_t unit = 1; unit <= unitCount(); ++unit) {
        if (!openable(unit))
            continue;
        Step& step =
            add(idOf(prefix + ".open", unit), stage, StepKind::Prove, "Open the case" + of(unit),
                "Lift the cover off and keep your hands out of what is inside: its charge is not proven "
                "gone yet.",
                {Does::OpenCase});
        step.unit = stepUnit(unit);
    }
}

void ChangeProcedure::closeCases(const std::string& prefix, Stage stage)
{
    for (std::size_t unit = 1; m_opened && unit <= unitCount(); ++unit) {
        if (!openable(unit))
            continue;
        Step& step =
            add(idOf(prefix + ".close", unit), stage, StepKind::Touch, "Close the case" + of(unit),
                "Nothing loose inside, no wire under the edge, every screw back. Strain relief holds the "
                "cord and the output leads.",
                {Does::CloseCase});
        step.unit = stepUnit(unit);
    }
    m_opened = false;
}

/// One resistor serves every reservoir that it takes down within a minute.
void ChangeProcedure::discharge(const std::string& prefix, Stage stage)
{
    std::vector<const Reservoir*> left;
    for (const Reservoir& reservoir : energy().reservoirs)
        if (reservoir.v0_v > dead_v)
            left.push_back(&reservoir);
    std::ranges::stable_sort(left, [](const Reservoir* a, const Reservoir* b) { return a->v0_v > b->v0_v; });
    int number = 0;
    while (!left.empty()) {
        const Reservoir& first = *left.front();
        DischargeTool tool = dischargeTool(first.v0_v, first.c_f.value_or(usual_output_f));
        std::string names;
        bool assumed = false;
        double shortest_s = tool.seconds;
        std::erase_if(left, [&](const Reservoir* r) {
            const double c_f = r->c_f.value_or(usual_output_f);
            const double seconds = dischargeTime(tool.ohm, c_f, r->v0_v, dead_v);
            if (r != &first && seconds > std::max(share_tool_s, tool.seconds))
                return false;
            names += (names.empty() ? "" : ", ") + r->key();
            assumed = assumed || !r->c_f;
            tool.seconds = std::max(tool.seconds, seconds);
            shortest_s = std::min(shortest_s, seconds);
            tool.energy_j = std::max(tool.energy_j, 0.5 * c_f * r->v0_v * r->v0_v);
            return true;
        });
        ++number;
        Step& step =
            add(prefix + ".discharge" + (number > 1 ? "." + std::to_string(number) : ""), stage,
                StepKind::Prove, "Discharge " + names,
                "Clip a resistor across each for as long as it takes, insulated clips: " + tool.text() +
                    ". It may stay on. Not a screwdriver.",
                {Does::Discharge});
        if (tool.seconds > 1.05 * shortest_s + 1)
            step.detail += " From " + formatDuration(std::max(1.0, std::ceil(shortest_s))) + " to " +
                           formatDuration(std::ceil(tool.seconds)) + " each.";
        if (assumed)
            step.detail +=
                " Where no capacitance was read, 4.7 mF are assumed for the time: go by the meter.";
        step.discharge = tool;
        if (tool.v_v > extra_low_v || tool.energy_j > one_joule)
            step.cautions.push_back(Caution::Discharge);
        if (tool.v_v > extra_low_v)
            step.cautions.push_back(Caution::OneHand);
        if (hasValves() && tool.v_v > extra_low_v)
            step.cautions.push_back(Caution::ValveEquipment);
    }
}

void ChangeProcedure::waitAndProve(const std::string& prefix, Stage stage)
{
    double wait_s = 0;
    double highest_v = 0;
    std::string drained;
    std::string kept;
    for (const Reservoir& reservoir : energy().reservoirs) {
        std::string& names = reservoir.discharge_s ? drained : kept;
        if (reservoir.discharge_s || reservoir.v0_v > dead_v)
            names += (names.empty() ? "" : ", ") + reservoir.key();
        wait_s = std::max(wait_s, reservoir.discharge_s.value_or(0));
        highest_v = std::max(highest_v, reservoir.v0_v);
    }
    Step& wait = add(prefix + ".wait", stage, StepKind::Wait, "Let the charge drain", "");
    if (wait_s > 0) {
        wait.wait_s = wait_s;
        wait.detail = "Computed from the bleeders of " + drained +
                      " to 10 V. Then measure now: the countdown proves nothing.";
    } else if (kept.empty()) {
        wait.detail = "Nothing that was entered holds more than 10 V. Measure all the same.";
    }
    if (!kept.empty())
        wait.detail += (wait_s > 0 ? " " : "") + kept +
                       ": no known bleeder, so the charge stays until you discharge it.";
    if (stage == Stage::Found && !m_opened)
        openCases(prefix, stage);
    discharge(prefix, stage);
    Step& step =
        add(prefix + ".prove", stage, StepKind::Prove, "Prove it dead",
            "Try the meter on a known voltage, measure each reservoir, try the meter again.", {Does::Prove});
    for (const Reservoir& reservoir : energy().reservoirs) {
        step.asks.push_back({.point = reservoir.point,
                             .quantity = Quantity::Voltage,
                             .window = ReadingWindow{std::nullopt, dead_v},
                             .load_a = std::nullopt,
                             .because = "below 10 V counts as dead",
                             .unit = reservoir.unit});
        step.detail += ' ' + reservoir.key() + " may hold up to " + formatVolts(reservoir.v0_v) + '.';
        if (reservoir.needs_second)
            step.detail += " Measure " + reservoir.key() + " again after " +
                           formatDuration(reservoir.wait_s) + ": it may recover to " +
                           formatVolts(reservoir.v0_v * recoveryShare(reservoir.kind)) + '.';
    }
    if (const std::string& missing = energy().missing; !missing.empty())
        step.detail += " It cannot become proven dead yet: " + missing + '.';
    if (this->unit().sealed())
        step.detail += this->unit().opens()
                           ? " The unit is closed in itself: its outputs are all that can be "
                             "proven, so nothing inside of it is touched."
                           : " The case is sealed: its output is all that can be proven, so "
                             "nothing inside is touched.";
    if (highest_v > extra_low_v)
        step.cautions = {Caution::OneHand};
}

void ChangeProcedure::makeSafe(const std::string& prefix, Stage stage)
{
    isolate(prefix + ".isolate", stage);
    waitAndProve(prefix, stage);
}

void ChangeProcedure::earthTest(const std::string& id, Stage stage, std::size_t unit, const std::string& when)
{
    if (!earthed(unit))
        return;
    Step& step =
        add(idOf(id, unit), stage, StepKind::Touch, "Measure earth continuity" + of(unit),
            when + "From the plug's earth pin to every metal part that can be touched, while the cord is "
                   "flexed along its length: log the highest, below 0.5 Ω (a guide; local rules rule). The "
                   "protective earth stays connected, always.",
            {Does::EarthTest});
    step.unit = stepUnit(unit);
    step.asks.push_back({.point = "earth",
                         .quantity = Quantity::Resistance,
                         .window = ReadingWindow{std::nullopt, earth_max_ohm},
                         .load_a = std::nullopt,
                         .because = "usual guide for class I",
                         .unit = unitTag(unit)});
}

void ChangeProcedure::limiterIn(const std::string& id, Stage stage, const std::string& more)
{
    const auto& lamp_w = m_predictions.lamp_w;
    const std::string still = m_limited ? "It is in still: see that nothing came off. " : "";
    m_limited = true;
    Step& step =
        dc()
            ? add(id, stage, StepKind::Touch, "Clip the bench supply, the meter and the loads on",
                  still + "A bench supply in the place of the feed, switched off, its current limit set to " +
                      std::string(loadFor(0.1) ? "what the light load needs and half as much again"
                                               : "a little more than it draws idle") +
                      ", its polarity checked. " + loadBank() + more,
                  {Does::BenchSupplyIn, Does::LoadResistive})
            : add(id, stage, StepKind::Touch, "Put the limiter lamp in, clip meter and loads on",
                  still + "The lamp" + (lamp_w ? " (" + watts(*lamp_w) + ")" : std::string()) +
                      " goes in the live conductor of the cord's feed, in a box of its own that bears "
                      "mains. " +
                      loadBank() + more,
                  {Does::LampIn, Does::LoadResistive});
    if (hasBattery())
        step.detail += " Never the battery.";
    if (unit().rails.front().sense.fitted)
        step.detail += " Sense terminals linked to their output terminals.";
    if (const auto light = loadFor(0.1))
        step.parts.push_back(formatOhms(light->ohm));
    step.cautions = {Caution::HotParts};
}

void ChangeProcedure::limiterOut(const std::string& id, Stage stage)
{
    m_limited = false;
    if (dc())
        add(id, stage, StepKind::Touch, "Put its own feed back",
            "The bench supply off and away, the feed's own leads on, polarity checked. The feed stays "
            "switched off.",
            {Does::BenchSupplyOut});
    else
        add(id, stage, StepKind::Touch, "Take the limiter lamp out",
            "The plug stays out of the wall while you do.", {Does::LampOut});
}

/// What stands live within reach while it runs.
std::vector<Caution> ChangeProcedure::powered(bool inside) const
{
    std::vector<Caution> cautions;
    if (anyMains() && (inside || !this->unit().outsideOnly()))
        cautions.push_back(Caution::MainsPotential);
    if (highestOutput() > extra_low_v)
        cautions.push_back(Caution::HighOutput);
    return cautions;
}

void ChangeProcedure::outputCautions(Step& step) const
{
    if (anyMains() && !this->unit().outsideOnly() && m_opened)
        step.cautions.push_back(Caution::MainsPotential);
    if (highestOutput() > extra_low_v) {
        step.cautions.push_back(Caution::HighOutput);
        step.cautions.push_back(Caution::OneHand);
    }
}

std::vector<std::string> ChangeProcedure::checks(Stage stage, bool limited, const std::string& load) const
{
    std::vector<std::string> list;
    const bool mains = anyMains();
    if (mains)
        list.emplace_back(
            "Outlet behind a residual-current device; behind an isolating transformer it does not "
            "protect, and one hand counts double");
    list.emplace_back("Discharge clips and tools off the board");
    list.emplace_back(this->unit().outsideOnly() ? "Nobody within reach of bare terminals"
                                                 : "Covers on, or nobody within reach");
    const Fuse& fuse = stage == Stage::Found ? m_job.found.fuse : m_work.supply.fuse;
    if (mains || fuse.value_a)
        list.push_back(fuse.value_a ? "Fuse " + fuseText(fuse) + " fitted"
                                    : "Fuse of the planned value and type fitted");
    if (mains) {
        list.push_back("Voltage selector, if there is one, at " +
                       (m_job.need.mains.v_assumed ? "the mains there is"
                                                   : significant(m_job.need.mains.v_v, 3) + " V"));
        list.emplace_back(limited ? "Limiter lamp in series" : "Limiter lamp out");
    } else {
        list.emplace_back(limited ? "Bench supply with its current limit set" : "Its own feed connected");
    }
    list.push_back(load + ", polarity checked");
    list.push_back("Meter on DC, above " + formatVolts(1.2 * highestOutput()) +
                   ", leads in the volts sockets");
    bool any_earthed = false;
    for (std::size_t unit = 1; unit <= unitCount(); ++unit)
        any_earthed = any_earthed || earthed(unit);
    if (any_earthed)
        list.emplace_back("Earth continuity logged since anything on the mains side was touched");
    list.emplace_back("One hand behind the back, and somebody knows");
    return list;
}

Step& ChangeProcedure::power(const std::string& id, Stage stage, bool limited, const std::string& load,
                             std::optional<std::size_t> unit)
{
    const bool valves = hasValves();
    const bool dc_unit = supply(unit.value_or(1)).dcFed();
    std::string title;
    std::string detail = load + ". ";
    if (dc_unit) {
        title = limited ? "Power through the bench supply" : "Power from its own feed";
        detail +=
            limited
                ? "Raise it slowly to the feed's voltage and watch its current: in its limit, something is "
                  "shorted."
                : "Switch the feed on.";
    } else {
        title = limited ? "Power through the lamp" : "Full mains";
        detail += limited
                      ? valves
                            ? "The lamp glows and fades as heaters and capacitors take their current; bright "
                              "for good is a short."
                            : "A flash, then dim or dark is normal while the output is there; bright is a "
                              "short; pulsing is a hiccup. Dark with no output at all is no current."
                      : "The limiter lamp is out.";
        if (limited)
            detail += bearsLowMains(this->unit().topology)
                          ? " Or slowly on a variable transformer, watching its current."
                          : " Not on a variable transformer: at low mains it draws more current.";
    }
    if (unit && joined())
        title += ", " + unitName(m_job, *unit) + " by itself";
    Step& step = add(id, stage, StepKind::Power, title, detail, {Does::Power});
    step.unit = unit && joined() ? unit : std::nullopt;
    step.through = !limited ? Through::Direct : dc_unit ? Through::BenchSupply : Through::Lamp;
    step.checks = checks(stage, limited, load);
    if (const Fuse& fuse = stage == Stage::Found ? m_job.found.fuse : m_work.supply.fuse; fuse.value_a)
        step.parts = {fuseText(fuse)};
    step.cautions = powered(true);
    if (limited && !dc_unit) {
        step.cautions.push_back(Caution::SeriesLamp);
        if (bearsLowMains(this->unit().topology))
            step.cautions.push_back(Caution::VariableTransformer);
    }
    if (valves)
        step.cautions.push_back(Caution::ValveEquipment);
    return step;
}

void ChangeProcedure::heatUp(const std::string& id, Stage stage)
{
    if (!hasValves())
        return;
    add(id, stage, StepKind::Wait, "Let the heaters come up",
        "A valve passes nothing until it is warm; until then the capacitors stand higher than they will.")
        .wait_s = heater_s;
}

} // namespace offshoot
