// The steps of units that are joined, side by side or stacked, and of the run to the load.
#include "core/procedure/change_procedure.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

constexpr double bonded_below_ohm = 1;
constexpr double free_above_ohm = 1e6;
/// A predicted share is good to this part of the mean: the match of the set points, the leads, the meter.
constexpr double share_doubt = 0.15;
constexpr double node_doubt = 0.03;

} // namespace

/// Nobody may stack or join what is earthed in an unknown place.
void ChangeProcedure::measureBonds()
{
    if (m_job.others.empty())
        return;
    Step& step = add("found.bonds", Stage::Found, StepKind::Touch, "Measure what is tied to the case",
                     "From each output's negative to its own case, then from its positive: below " +
                         formatOhms(bonded_below_ohm) + " it is bonded, above " + formatOhms(free_above_ohm) +
                         " it floats. Log the negative; enter the bond in Found, under Units.");
    for (std::size_t unit = 1; unit <= m_job.others.size() + 1; ++unit)
        step.asks.push_back({.point = "bond",
                             .quantity = Quantity::Resistance,
                             .window = std::nullopt,
                             .load_a = std::nullopt,
                             .because = "records where it is earthed",
                             .unit = unitTag(unit)});
}

void ChangeProcedure::joinUnits()
{
    if (m_predictions.units.empty())
        return;
    m_reading_stage = ReadingStage::Measured;
    if (m_job.plan.join->kind == Joining::SideBySide)
        joinSideBySide();
    else
        joinStacked();
}

/// Set points first, returns joined, positives matched; the last link only when they agree.
void ChangeProcedure::joinSideBySide()
{
    const JoinPlan& join = *m_job.plan.join;
    makeSafe("join", Stage::BringUp);
    Step& returns = add("join.returns", Stage::BringUp, StepKind::Touch, "Join the returns",
                        "Every unit's negative to one point by leads of one length and size. The positives "
                        "stay apart, insulated.");
    returns.shows_plan = true;
    if (join.ballast)
        returns.detail +=
            " Ballast " + join.ballastText() +
            (join.ballast_lead
                 ? " for each unit, go and return together: all alike, laid open, not coiled up."
                 : " in each positive lead, in free air.");
    if (join.diode)
        returns.detail += " A diode in each positive lead, anode to the unit, on its heatsink.";
    if (join.ballast || join.diode)
        returns.cautions.push_back(Caution::HotParts);
    power("join.power", Stage::BringUp, false, "Every unit on, no load, positives apart");
    // Without droop no match would be near enough: then what the meter can tell apart counts.
    const double match_v = std::max(m_predictions.match_v,
                                    std::sqrt(2.0) * m_job.meter.volts.counts * m_job.meter.volts.resolution);
    for (const Predictions::Unit& unit : m_predictions.units) {
        Step& set = add("join.set." + unit.tag.value_or("1"), Stage::BringUp, StepKind::Adjust,
                        "Set " + unit.name + " to " + volts(unit.set_v),
                        "Its own trimmer, insulated tool, the same meter on the same range for every unit.");
        set.asks.push_back({.point = m_rail.name,
                            .quantity = Quantity::Voltage,
                            .window = ReadingWindow{unit.set_v - match_v, unit.set_v + match_v},
                            .load_a = 0,
                            .because = "the match that shares within a tenth, ± " + volts(match_v),
                            .unit = unit.tag});
        set.cautions = {Caution::MainsPotential};
    }
    Step& difference =
        add("join.difference", Stage::BringUp, StepKind::Probe, "Measure from positive to positive",
            "From the first unit's positive to each other's. The difference itself, not two readings: trim "
            "until it is inside.");
    for (const Predictions::Unit& unit : m_predictions.units) {
        if (!unit.tag)
            continue;
        const double wanted_v = unit.set_v - m_predictions.units.front().set_v;
        difference.asks.push_back({.point = "difference",
                                   .quantity = Quantity::Voltage,
                                   .window = ReadingWindow{wanted_v - match_v, wanted_v + match_v},
                                   .load_a = std::nullopt,
                                   .because = "the match that shares within a tenth",
                                   .unit = unit.tag});
    }
    difference.cautions = {Caution::MainsPotential};
    makeSafe("join.last", Stage::BringUp);
    add("join.link", Stage::BringUp, StepKind::Touch, "Make the last link",
        "Every positive to the common point, behind its own fuse where one unit could feed a failed one.");
    power("join.power_load", Stage::BringUp, false,
          m_job.need.load.name + " on the bus, or a resistor like it");
    Step& share = add("join.share", Stage::BringUp, StepKind::Probe, "Prove the share under load",
                      "Each lead by itself, by clamp or over a shunt: lead 3.6A, lead 3.4A #2.");
    double mean_a = 0;
    for (const Predictions::Unit& unit : m_predictions.units)
        mean_a += unit.lead_a.value_or(0) / static_cast<double>(m_predictions.units.size());
    for (const Predictions::Unit& unit : m_predictions.units) {
        const double doubt_a = share_doubt * mean_a;
        share.asks.push_back({.point = "lead",
                              .quantity = Quantity::Current,
                              .window = unit.lead_a ? std::optional(ReadingWindow{*unit.lead_a - doubt_a,
                                                                                  *unit.lead_a + doubt_a})
                                                    : std::nullopt,
                              .load_a = m_load_a,
                              .because = "the share computed, ± 15 % of the mean",
                              .unit = unit.tag});
    }
    share.cautions = {Caution::MainsPotential, Caution::HotParts};
}

void ChangeProcedure::joinStacked()
{
    const JoinPlan& join = *m_job.plan.join;
    makeSafe("join", Stage::BringUp);
    for (const std::int64_t number : join.opened_bonds) {
        const auto unit = static_cast<std::size_t>(number);
        if (unit > m_predictions.units.size())
            continue;
        const auto tag = unitTag(unit);
        Step& open = add("join.bond." + std::to_string(number), Stage::BringUp, StepKind::Touch,
                         "Open the output bond of " + unitName(m_job, unit),
                         "The strap, screw or track from output to case. Then measure output to case, and "
                         "the plug's earth pin to the case.");
        open.asks.push_back({.point = "bond",
                             .quantity = Quantity::Resistance,
                             .window = ReadingWindow{free_above_ohm, std::nullopt},
                             .load_a = std::nullopt,
                             .because = "free of its case",
                             .unit = tag});
        open.asks.push_back({.point = "earth",
                             .quantity = Quantity::Resistance,
                             .window = ReadingWindow{std::nullopt, earth_max_ohm},
                             .load_a = std::nullopt,
                             .because = "the case keeps its earth",
                             .unit = tag});
        open.cautions = {Caution::OutputFloats};
    }
    if (join.reverse_diode)
        add("join.diodes", Stage::BringUp, StepKind::Touch, "Fit the reverse diodes",
            "One across each output, cathode to positive, for " +
                formatValue(join.reverse_diode->i_a, Quantity::Current) + " and " +
                volts(join.reverse_diode->v_rrm_v) + " or more.");
    add("join.link", Stage::BringUp, StepKind::Touch, "Stack them",
        "From the bottom up: each positive to the negative of the next. Cover every terminal.")
        .shows_plan = true;
    power("join.power", Stage::BringUp, false, "Every unit on, no load on the stack");
    Step& nodes = add("join.nodes", Stage::BringUp, StepKind::Probe, "Measure every terminal to earth",
                      "From the upper terminal of each unit to the case: node 24.0, node 48.1 #2.");
    for (const Predictions::Unit& unit : m_predictions.units) {
        const double doubt_v = unit.top_v ? node_doubt * std::max(unit.set_v, std::abs(*unit.top_v)) : 0;
        nodes.asks.push_back(
            {.point = "node",
             .quantity = Quantity::Voltage,
             .window = unit.top_v ? std::optional(ReadingWindow{*unit.top_v - doubt_v, *unit.top_v + doubt_v})
                                  : std::nullopt,
             .load_a = std::nullopt,
             .because = unit.top_v ? "sums along the stack, ± 3 %" : "it floats: whatever it is, log it",
             .unit = unit.tag});
    }
    nodes.cautions = {Caution::MainsPotential};
    double total_v = 0;
    for (const Predictions::Unit& unit : m_predictions.units)
        total_v += unit.set_v;
    if (total_v > 60)
        nodes.cautions.push_back(Caution::HighOutput);
}

void ChangeProcedure::fitWire()
{
    if (m_job.plan.wire)
        add("change.wire", Stage::Change, StepKind::Touch,
            "Run " + wireText(*m_job.plan.wire) + " to the load",
            "Go and return side by side, strain relief at both ends; crimps with the tool that belongs to "
            "them. A fuse at the supply's end for the wire's own rating.")
            .cautions = {Caution::FixedWiring};
    if (m_job.plan.remote_sense)
        add("change.sense", Stage::Change, StepKind::Touch, "Connect the sense wires",
            "Power leads first, at both ends. Then a twisted pair from the sense terminals to the load's own "
            "terminals, positive to positive; links between sense and output taken off last. Never opened "
            "or swapped while live: the output would run away.")
            .shows_plan = true;
}

} // namespace offshoot
