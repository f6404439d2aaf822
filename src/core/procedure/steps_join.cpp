// The steps of units that are joined, side by side or stacked, and of the run to the load.
#include "core/procedure/change_procedure.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

/// A predicted share is good to this part of the mean: the match of the set points, the leads, the meter.
constexpr double share_doubt = 0.15;
constexpr double node_doubt = 0.03;
/// Of a set point that a person turned and a droop that nobody measured.
constexpr double set_doubt = 0.05;
/// Through 1 kΩ from an output that floats to its case: usual guide for touch current.
constexpr double leakage_max_v = 3.5;

} // namespace

bool ChangeProcedure::joinUnits()
{
    if (m_predictions.units.empty())
        return true;
    m_reading_stage = ReadingStage::Measured;
    for (const auto& bears : m_predictions.bears)
        if (bears.planned == Verdict::Breaks || bears.planned == Verdict::Unknown) {
            add("join.not_yet", Stage::BringUp, StepKind::Look, "Not to be joined yet",
                "A unit is not known to bear this mains: " + bears.planned_why);
            return false;
        }
    if (m_job.plan.join->kind == Joining::SideBySide)
        joinSideBySide();
    else
        joinStacked();
    return true;
}

/// What draws together what the load does.
std::string ChangeProcedure::busLoadWords() const
{
    const std::string words = "a resistor that draws what " + m_job.need.load.name + " does";
    const LoadLevel& each = level();
    const auto full_a = each.fullAmps();
    return each.v_v && full_a
               ? words + ", " + testLoad(*each.v_v, *full_a * static_cast<double>(unitCount())).text()
               : words;
}

/// After hands were on the units or on what joins them: each behind the limiter first, read, then without it.
void ChangeProcedure::joinedBehindLimiter(const std::string& prefix, bool on_bus)
{
    limiterIn(prefix + ".limiter", Stage::BringUp,
              std::string(" Every unit behind a limiter of its own, all on at once.") +
                  (on_bus ? " The light load on the bus, and beside it, switched off: " + busLoadWords() + "."
                          : std::string()));
    const auto light = loadFor(0.1);
    const std::string light_words = light ? ": " + light->text() : std::string();
    power(prefix + ".power_lamp", Stage::BringUp, true,
          on_bus ? "Every unit on, the light load on the bus" + light_words
                 : "Every unit on, a light load on each" + light_words);
    heatUp(prefix + ".heat", Stage::BringUp);
    Step& step =
        add(prefix + ".lamp_output", Stage::BringUp, StepKind::Probe, "Read each unit behind the limiter",
            on_bus ? "At its own terminals, and look at every limiter."
                   : "Each at its own terminals: the difference shows a wrong link before full power does.",
            {Does::ReadOutput});
    for (const Predictions::Unit& unit : m_predictions.units)
        step.asks.push_back(
            {.point = rail().name,
             .quantity = Quantity::Voltage,
             .window =
                 widened({unit.set_v * (1 - 2 * set_doubt), unit.set_v * (1 + set_doubt)}, Quantity::Voltage),
             .load_a = std::nullopt,
             .because = "its set point; the limiter and an unknown droop allowed for",
             .unit = unit.tag});
    if (anyMains())
        step.cautions = {Caution::SeriesLamp};
    step.watches_lamp = !dc();
    outputCautions(step);
    isolate(prefix + ".lamp_off", Stage::BringUp);
    waitAndProve(prefix + ".lamp", Stage::BringUp);
    limiterOut(prefix + ".lamp_out", Stage::BringUp);
}

/// Set points first, returns joined, positives matched; the last link only when they agree.
void ChangeProcedure::joinSideBySide()
{
    const JoinPlan& join = *m_job.plan.join;
    makeSafe("join", Stage::BringUp);
    Step& returns = add("join.returns", Stage::BringUp, StepKind::Touch, "Join the returns",
                        "Every unit's negative to one point by leads of one length and size. The positives "
                        "stay apart, insulated.",
                        {Does::JoinUnits, Does::RunCable});
    returns.drawing = "bus";
    if (join.ballast) {
        returns.detail +=
            " Ballast " + join.ballastText() +
            (join.ballast_lead
                 ? " for each unit, go and return together: all alike, laid open, not coiled up."
                 : " in series in each positive lead, in free air.");
        returns.parts.push_back(join.ballastText());
    }
    if (join.diode) {
        returns.detail +=
            " A diode in series in each positive lead, anode to the unit, on its heatsink with its "
            "insulating pad.";
        returns.parts.emplace_back("diode");
    }
    if (join.ballast || join.diode)
        returns.cautions.push_back(Caution::HotParts);
    joinedBehindLimiter("join.first", false);
    power("join.power", Stage::BringUp, false, "Every unit on, no load, positives apart");
    matchUnits();
    makeSafe("join.last", Stage::BringUp);
    add("join.link", Stage::BringUp, StepKind::Touch, "Make the last link",
        "Every positive to the common point, behind its own fuse where one unit could feed a failed one.",
        {Does::JoinUnits})
        .drawing = "bus";
    joinedBehindLimiter("join.bus", true);
    power("join.power_load", Stage::BringUp, false, "On the bus, switched on: " + busLoadWords());
    proveShare();
}

/// How far set points may lie apart, from the lowest to the highest. Without droop no match would be near
/// enough: then what the meter can tell apart counts.
double ChangeProcedure::matchSpread() const
{
    return std::max(m_predictions.match_v,
                    std::sqrt(2.0) * m_job.meter.volts.counts * m_job.meter.volts.resolution);
}

/// Live, the positives apart: each unit set, then what stands between them.
void ChangeProcedure::matchUnits()
{
    const double half_v = matchSpread() / 2;
    for (const Predictions::Unit& unit : m_predictions.units) {
        Step& set = add("join.set." + unit.tag.value_or("1"), Stage::BringUp, StepKind::Adjust,
                        "Set " + unit.name + " to " + volts(unit.set_v),
                        "Its own trimmer, insulated tool, the same meter on the same range for every unit.",
                        {Does::Adjust, Does::ReadOutput});
        set.unit = unit.tag ? std::stoul(*unit.tag) : 1;
        set.parts = {volts(unit.set_v)};
        set.asks.push_back({.point = rail().name,
                            .quantity = Quantity::Voltage,
                            .window = widened({unit.set_v - half_v, unit.set_v + half_v}, Quantity::Voltage),
                            .load_a = 0,
                            .because = "the match that shares within a tenth of the mean, ± " +
                                       volts(half_v) + ", and the meter's doubt",
                            .unit = unit.tag});
        outputCautions(set);
    }
    Step& difference =
        add("join.difference", Stage::BringUp, StepKind::Probe, "Measure from positive to positive",
            "From the first unit's positive to each other's. The difference itself, not two readings: trim "
            "until it is inside.");
    for (const Predictions::Unit& unit : m_predictions.units) {
        if (!unit.tag)
            continue;
        const double wanted_v = unit.set_v - m_predictions.units.front().set_v;
        difference.asks.push_back(
            {.point = "difference",
             .quantity = Quantity::Voltage,
             .window = widened({wanted_v - half_v, wanted_v + half_v}, Quantity::Voltage),
             .load_a = std::nullopt,
             .because = "the match that shares within a tenth of the mean, ± " + volts(half_v),
             .unit = unit.tag});
    }
    outputCautions(difference);
}

void ChangeProcedure::proveShare()
{
    std::string example;
    for (const Predictions::Unit& unit : m_predictions.units)
        if (unit.lead_a)
            example += (example.empty() ? ": " : ", ") + std::string("lead ") + significant(*unit.lead_a, 2) +
                       "A" + (unit.tag ? " #" + *unit.tag : "");
    Step& share = add("join.share", Stage::BringUp, StepKind::Probe, "Prove the share under load",
                      "Each lead by itself, by clamp or over a shunt" + example + "." + heldWords());
    const bool known = m_predictions.match_v > 0 && !level().held();
    const double doubt_a = shareDoubt();
    double mean_a = 0;
    for (const Predictions::Unit& unit : m_predictions.units)
        mean_a += unit.lead_a.value_or(0) / static_cast<double>(m_predictions.units.size());
    const double doubt = mean_a > 0 ? doubt_a / mean_a : 0;
    for (const Predictions::Unit& unit : m_predictions.units) {
        share.asks.push_back(
            {.point = "lead",
             .quantity = Quantity::Current,
             .window = known && unit.lead_a
                           ? std::optional(
                                 widened({*unit.lead_a - doubt_a, *unit.lead_a + doubt_a}, Quantity::Current))
                           : std::nullopt,
             .load_a = level().fullAmps(),
             .because = known            ? "the share computed, ± " + formatPercent(doubt) + " of the mean"
                        : level().held() ? "the share computed is that of the need's current: log it"
                                         : "no droop and no ballast is known: what shares is not; log it",
             .unit = unit.tag});
    }
    share.cautions = {Caution::HotParts};
    outputCautions(share);
}

/// The set points may lie as far apart as the steps before allow, with the meter's doubt at both ends.
double ChangeProcedure::shareDoubt() const
{
    if (m_predictions.match_v <= 0)
        return 0;
    double mean_a = 0;
    double apart_v = 0;
    for (const Predictions::Unit& unit : m_predictions.units) {
        mean_a += unit.lead_a.value_or(0) / static_cast<double>(m_predictions.units.size());
        apart_v = std::max(apart_v, std::abs(unit.set_v - m_predictions.units.front().set_v));
    }
    const double spread_v =
        matchSpread() + 2 * m_job.meter.uncertainty(apart_v + matchSpread() / 2, Quantity::Voltage);
    return share_doubt * std::max(1.0, spread_v / m_predictions.match_v) * mean_a;
}

Asked ChangeProcedure::outputOnBus(const std::string& because) const
{
    const Predictions::Unit& own = m_predictions.units.front();
    // Where the step before may have left its set point, by a meter that is off; another's may be higher.
    const auto set = [this](const Predictions::Unit& unit) {
        const double off_v = matchSpread() / 2 + m_job.meter.uncertainty(unit.set_v, Quantity::Voltage);
        return VoltageRange{unit.set_v - off_v, unit.set_v + off_v};
    };
    Asked asked = outputAt(set(own), level().fullAmps(), because);
    if (level().held())
        asked.window.reset();
    if (!own.lead_a || !asked.window)
        return asked;
    const double most_a = *own.lead_a + shareDoubt();
    const double least_a = std::max(0.0, *own.lead_a - shareDoubt());
    const auto take_in = [&](const Predictions::Unit& unit, double load_a) {
        const auto window = outputAt(set(unit), load_a, because).window;
        asked.window = ReadingWindow{std::min(*asked.window->min, *window->min),
                                     std::max(*asked.window->max, *window->max)};
    };
    take_in(own, least_a);
    for (const Predictions::Unit& unit : m_predictions.units) {
        // At its limit it stands where the others hold the bus; a higher one holds it up.
        take_in(unit, unit.lead_a.value_or(0) + shareDoubt());
        if (unit.set_v > own.set_v)
            take_in(unit, 0);
    }
    asked.because += ", for its share of " + formatValue(least_a, Quantity::Current) + " to " +
                     formatValue(most_a, Quantity::Current);
    return asked;
}

void ChangeProcedure::joinStacked()
{
    const JoinPlan& join = *m_job.plan.join;
    makeSafe("join", Stage::BringUp);
    std::vector<std::size_t> freed;
    for (const std::int64_t number : join.opened_bonds) {
        const auto unit = static_cast<std::size_t>(number);
        if (unit > m_predictions.units.size() || supply(unit).sealed())
            continue;
        freed.push_back(unit);
        const auto tag = unitTag(unit);
        Step& open =
            add("join.bond." + std::to_string(number), Stage::BringUp, StepKind::Touch,
                "Open the output bond of " + unitName(m_job, unit),
                std::string("The strap, screw or track from output to case, and nothing else") +
                    (earthed(unit) ? ": the protective earth of the case stays. Then measure output to case, "
                                     "and the plug's earth pin to the case."
                                   : ". Then measure output to case."),
                {Does::OpenBond, Does::WorkOutputSide});
        if (earthed(unit))
            open.does.push_back(Does::EarthTest);
        open.unit = unit;
        open.asks.push_back({.point = "bond",
                             .quantity = Quantity::Resistance,
                             .window = ReadingWindow{free_above_ohm, std::nullopt},
                             .load_a = std::nullopt,
                             .because = "free of its case",
                             .unit = tag});
        if (earthed(unit))
            open.asks.push_back({.point = "earth",
                                 .quantity = Quantity::Resistance,
                                 .window = ReadingWindow{std::nullopt, earth_max_ohm},
                                 .load_a = std::nullopt,
                                 .because = "the case keeps its earth",
                                 .unit = tag});
        open.cautions = {Caution::OutputFloats};
    }
    if (join.reverse_diode) {
        Step& diodes = add("join.diodes", Stage::BringUp, StepKind::Touch, "Fit the reverse diodes",
                           "One across each output, cathode to positive, for " +
                               formatValue(join.reverse_diode->i_a, Quantity::Current) + " and " +
                               volts(join.reverse_diode->v_rrm_v) + " or more.",
                           {Does::JoinUnits});
        diodes.parts = {formatValue(join.reverse_diode->i_a, Quantity::Current),
                        volts(join.reverse_diode->v_rrm_v)};
    }
    for (const std::size_t unit : freed)
        measureLeakage(unit);
    Step& link = add("join.link", Stage::BringUp, StepKind::Touch, "Stack them",
                     "From the bottom up: each positive to the negative of the next. Cover every terminal.",
                     {Does::JoinUnits});
    link.drawing = "stack";
    if (!freed.empty())
        link.detail += " Every resistor from an output to its case is off again.";
    if (!freed.empty())
        add("join.second_look", Stage::BringUp, StepKind::Look, "Second look at the bonds",
            "Against the plan's drawing: which bond is open, and every case still on its earth.",
            {Does::SecondLook})
            .drawing = "stack";
    joinedBehindLimiter("join.first", false);
    power("join.power", Stage::BringUp, false, "Every unit on, no load on the stack");
    Step& nodes =
        add("join.nodes", Stage::BringUp, StepKind::Probe, "Measure every terminal to earth",
            "From the upper terminal of each unit to the case: node 24.0, the next with its number: "
            "node 48.1 #2.");
    for (const Predictions::Unit& unit : m_predictions.units) {
        const double doubt_v = unit.top_v ? node_doubt * std::max(unit.set_v, std::abs(*unit.top_v)) : 0;
        nodes.asks.push_back(
            {.point = "node",
             .quantity = Quantity::Voltage,
             .window = unit.top_v ? std::optional(widened({*unit.top_v - doubt_v, *unit.top_v + doubt_v},
                                                          Quantity::Voltage))
                                  : std::nullopt,
             .load_a = std::nullopt,
             .because = unit.top_v ? "sums along the stack, ± 3 %" : "it floats: whatever it is, log it",
             .unit = unit.tag});
    }
    outputCautions(nodes);
}

/// Of a unit by itself, before anything holds its output: in the stack a freed output stands where the stack
/// puts it.
void ChangeProcedure::measureLeakage(std::size_t unit)
{
    if (supply(unit).dcFed())
        return;
    const std::string prefix = idOf("join.leak", unit);
    limiterIn(prefix + ".limiter", Stage::BringUp,
              " Clip 1k from the freed output's negative to its case: what leaks is read over it.");
    m_steps.back().title += ": " + unitName(m_job, unit);
    const auto light = loadFor(0.1);
    power(prefix + ".power", Stage::BringUp, true,
          light ? "The light load switched on: " + light->text() : "A light resistive load on the output",
          unit);
    heatUp(prefix + ".heat", Stage::BringUp);
    Step& leakage = add(prefix + ".read", Stage::BringUp, StepKind::Probe,
                        "Measure what leaks to earth: " + unitName(m_job, unit),
                        "Volts AC over the 1k resistor: leakage 0.4V. More than it should: the bond is not "
                        "free, or a capacitor to the case is larger than usual. Isolate and look.",
                        {Does::LeakageTest});
    leakage.unit = stepUnit(unit);
    leakage.asks.push_back({.point = "leakage",
                            .quantity = Quantity::Voltage,
                            .window = ReadingWindow{std::nullopt, leakage_max_v},
                            .load_a = std::nullopt,
                            .because = "3.5 mA through 1 kΩ, a usual guide",
                            .unit = unitTag(unit)});
    outputCautions(leakage);
    makeSafe(prefix, Stage::BringUp);
}

/// With the load, after the output read right on a resistor; never before.
void ChangeProcedure::connectSense()
{
    if (!m_job.plan.remote_sense)
        return;
    add("signoff.sense", Stage::SignOff, StepKind::Touch, "Connect the sense wires",
        "Power leads first, at both ends. Then a twisted pair from the sense terminals to the load's own "
        "terminals, positive to positive, tugged; the links between sense and output taken off last. Never "
        "opened "
        "or swapped while live: the output would run away.",
        {Does::ConnectLoad, Does::TugTest})
        .drawing = "run";
}

} // namespace offshoot
