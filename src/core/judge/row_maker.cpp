#include "core/judge/row_maker.h"

#include <algorithm>
#include <cmath>

namespace offshoot::rows {

namespace {

constexpr double trip_breaks_share = 0.95;

} // namespace

Judged upper(double value, double limit) { return {value / limit, judgeUse(value / limit)}; }

Judged upToLimit(double value, double limit) { return {value / limit, judgeUse(value / limit, {1, 1})}; }

Judged resistorPower(double value, double limit)
{
    return {value / limit, judgeUse(value / limit, resistor_power_bounds)};
}

/// Below the off-threshold it starves; within a tenth above it is tight.
Judged lockout(double value, double limit) { return {limit / value, judgeUse(limit / value, {1 / 1.1, 1})}; }

/// Fits from 1.4 times the reflected voltage; at 1.1 times or less the clamp burns output energy.
Judged clamp(double value, double limit)
{
    const double room = limit / value;
    const Verdict verdict = atMost(room, 1.1)    ? Verdict::Breaks
                            : atLeast(room, 1.4) ? Verdict::Fits
                                                 : Verdict::Tight;
    return {1.1 / room, verdict};
}

Judged trip(double value, double limit)
{
    const double use = value / limit;
    return {use, atLeast(use, trip_breaks_share) ? Verdict::Breaks : judgeUse(use)};
}

/// `limit` must be available in `value`.
Judged needed(double value, double limit)
{
    if (value <= 0)
        return {std::nullopt, Verdict::Breaks};
    return {limit / value, judgeUse(limit / value)};
}

double rectifierDropOf(const Rail& rail)
{
    return rail.rectifier.v_f_v.value_or(rail.rectifier.kind == RectifierKind::Schottky ? usual::schottky_v
                                                                                        : usual::fast_v);
}

RowMaker::RowMaker(const ConsequencesInput& in, const Rail& rail, const RailPlan& plan, RailRole role)
    : m_in(in)
    , m_s(in.supply)
    , m_rail(rail)
    , m_plan(plan)
    , m_role(role)
    , m_planned{plan.low(), plan.high(), plan.i_a}
{
    if (rail.v_v)
        m_found = State{*rail.v_v, *rail.v_v, plan.i_a};
}

std::vector<ConsequenceRow> RowMaker::run()
{
    if (m_role == RailRole::First) {
        if (isMainsSwitcher(m_s.topology) || isLinear(m_s.topology) || m_s.topology == Topology::Unregulated)
            fuseRows();
        if (isMainsSwitcher(m_s.topology))
            bulkRows();
        converterRows();
    }
    outputCurrentRow();
    currentRows();
    rectifierRow();
    outputRows();
    hungOnRows();
    userRows();
    if (m_role != RailRole::Follows && !m_rail.regulated_by && m_s.topology != Topology::SealedModule)
        feedbackRows();
    if (m_role == RailRole::First && m_in.load.kind == LoadKind::Battery)
        batteryRows();
    return std::move(m_rows);
}

ConsequenceRow RowMaker::startRow(RowId id, Value limit, std::string formula,
                                  std::vector<std::string> assumed) const
{
    const RowInfo& info = rowInfo(id);
    ConsequenceRow row{};
    row.id = id;
    row.station = info.station;
    row.rail = info.of_rail ? m_rail.name : std::string();
    row.part = info.part;
    row.quantity = info.quantity;
    row.limit = limit;
    row.assumed = std::move(assumed);
    row.formula = std::move(formula);
    row.verdict = Verdict::Unknown;
    return row;
}

bool RowMaker::isWorse(const ConsequenceRow& row, const Judge& judge) const
{
    const bool moves =
        !m_found || std::abs(m_planned.high_v - m_found->high_v) > limit_share * m_planned.high_v;
    if (!row.planned)
        return moves && !rowInfo(row.id).mains_side;
    if (!row.found)
        return true;
    if (!row.limit)
        return *row.planned > *row.found * (1 + limit_share);
    const Judged before = judge(*row.found, *row.limit);
    return badness(row.verdict) > badness(before.second) ||
           (row.use && before.first && *row.use > *before.first * (1 + limit_share));
}

double RowMaker::orAssume(const Value& read, double usual, std::vector<std::string>& assumed,
                          std::string what)
{
    if (!read)
        assumed.push_back(std::move(what));
    return read.value_or(usual);
}

double RowMaker::rectifierDrop() const { return rectifierDropOf(m_rail); }

void RowMaker::assumeDrop(std::vector<std::string>& assumed) const
{
    if (!m_rail.rectifier.v_f_v)
        assumed.push_back("rectifier drop " + volts(rectifierDrop()));
}

double RowMaker::lowestBus(std::vector<std::string>& assumed) const
{
    const double crest_v = inputCrest(m_s.input, m_in.mains.lowest());
    if (m_s.input.kind == InputKind::PowerFactorStage)
        return crest_v;
    assumed.emplace_back("ripple trough 0.85 of the crest");
    return usual::trough_share * crest_v;
}

Value RowMaker::reflected(const State& s) const
{
    const Value turns = ratio();
    return turns ? Value((s.high_v + rectifierDrop()) * *turns) : Value();
}

double RowMaker::auxiliaryDrop(std::vector<std::string>& assumed) const
{
    assumeDrop(assumed);
    return orAssume(m_s.auxiliary.v_f_v, usual::auxiliary_drop_v, assumed, "auxiliary rectifier drop 0.9 V");
}

Value RowMaker::auxiliarySupply(double v, double drop_v) const
{
    const auto& turns = m_s.transformer.auxiliary_turns_per_secondary;
    return turns ? Value((v + rectifierDrop()) * *turns - drop_v) : Value();
}

std::string RowMaker::auxiliaryWorking(double v, double drop_v) const
{
    return "(" + volts(v) + " + " + volts(rectifierDrop()) + ") × " +
           significant(*m_s.transformer.auxiliary_turns_per_secondary, 4) + " − " + volts(drop_v) + " = " +
           volts(*auxiliarySupply(v, drop_v));
}

/// What all rails give together: this one at the load's current, the others at what their users draw.
double RowMaker::totalPower(const State& s) const
{
    double watts = s.high_v * s.i_a;
    const double share = m_found && m_found->high_v > 0 ? s.high_v / m_found->high_v : 1;
    for (const Rail& rail : m_s.rails)
        if (&rail != &m_rail)
            watts += rail.v_v.value_or(0) * (movesWith(rail, m_rail) ? share : 1) *
                     typicalCurrent(rail).value_or(0);
    return watts;
}

} // namespace offshoot::rows
