#include "core/judge/row_maker.h"

#include "core/calculate/current_limit.h"
#include "core/values/format.h"

#include <algorithm>
#include <cmath>

namespace offshoot::rows {

namespace {

constexpr double trip_breaks_share = 0.95;
constexpr double clamp_breaks = 1.1;
constexpr double clamp_fits = 1.4;

Judged judged(Value value, Value limit, Value use, UseBounds bounds)
{
    return {value, limit, use, judgeUse(use, bounds), bounds.fits};
}

} // namespace

Judged most(Value value, Value limit, UseBounds bounds)
{
    return judged(value, limit, when([](double v, double l) { return v / l; }, value, limit), bounds);
}

Judged least(Value value, Value need, UseBounds bounds)
{
    if (value && need && *value <= 0)
        return {value, need, std::nullopt, Verdict::Breaks, bounds.fits};
    return judged(value, need, when([](double v, double n) { return n / v; }, value, need), bounds);
}

Judged clampRoom(Value reflected_v, Value clamp_v)
{
    return judged(reflected_v, clamp_v,
                  when([](double v, double clamp) { return clamp_breaks * v / clamp; }, reflected_v, clamp_v),
                  {clamp_breaks / clamp_fits, 1 - 2 * limit_share});
}

Judged belowTrip(Value value, Value trip_v)
{
    Judged j = most(value, trip_v);
    if (j.use && atLeast(*j.use, trip_breaks_share))
        j.verdict = Verdict::Breaks;
    return j;
}

Judged reached(Value value, Value reach_v)
{
    if (value && reach_v && *reach_v <= 0)
        return {value, reach_v, std::nullopt, Verdict::Breaks};
    return most(value, reach_v);
}

Judged between(const State& s, Value least_v, Value most_v, Value found_low_v)
{
    const bool lowered = s.low_v && (!found_low_v || *s.low_v < *found_low_v * (1 - limit_share));
    const Judged low = s.low_v && least_v && !atLeast(*s.low_v, *least_v)
                           ? Judged{s.low_v, least_v, *least_v / *s.low_v, Verdict::Breaks, 1}
                           : Judged{};
    const Judged high = most(s.high_v, most_v, to_the_limit);
    if (low.use && (high.verdict != Verdict::Breaks || *low.use > *high.use))
        return low;
    if (high.verdict == Verdict::Fits && lowered && !least_v)
        return {s.low_v, least_v, std::nullopt, Verdict::Unknown, 1};
    return high;
}

double Notes::orAssume(const Value& read, double usual, std::string what)
{
    if (!read)
        assumed.push_back(std::move(what));
    return read.value_or(usual);
}

void Notes::need(bool known, std::string what)
{
    if (!known && std::ranges::find(unread, what) == unread.end())
        unread.push_back(std::move(what));
}

double rectifierDropOf(const Rail& rail)
{
    return rail.rectifier.v_f_v.value_or(rail.rectifier.kind == RectifierKind::Schottky ? usual::schottky_v
                                                                                        : usual::fast_v);
}

Value limitCurrent(const Supply& supply, const Rail& rail)
{
    if (&rail != &supply.rails.front())
        return std::nullopt; // both are of the first rail
    Value limit_a = supply.joint.i_limit_a;
    const CurrentSense& sense = supply.current_limit;
    if (sense.threshold && sense.shunt && !sense.primary_side) {
        const auto sensed_a = limitShunt({.threshold = *sense.threshold,
                                          .shunt = sense.shunt,
                                          .shunt_tolerance = sense.shunt_tolerance,
                                          .lead_ohm = sense.lead_ohm})
                                  .i_limit_a;
        if (sensed_a && (!limit_a || *sensed_a < *limit_a))
            limit_a = sensed_a;
    }
    return limit_a;
}

RowMaker::RowMaker(const ConsequencesInput& in)
    : m_in(in)
    , m_s(in.supply)
    , m_moved(movedRails(in))
{}

std::vector<ConsequenceRow> RowMaker::run()
{
    std::vector<ConsequenceRow> shared;
    const auto gather = [&](const auto& make) {
        std::vector<ConsequenceRow> outer = std::move(m_rows);
        m_rows.clear();
        make();
        shared.insert(shared.end(), m_rows.begin(), m_rows.end());
        m_rows = std::move(outer);
    };
    for (const MovedRail& moved : m_moved) {
        m_at = &moved;
        if (moved.leads)
            gather([this] {
                converterRows();
                if (m_in.load.kind == LoadKind::Battery)
                    batteryRows();
            });
        railRows();
    }
    if (!m_moved.empty()) {
        m_at = &m_moved.front();
        if (!m_s.dcFed() && m_s.topology != Topology::SealedModule)
            fuseRows();
        if (isMainsSwitcher(m_s.topology))
            bulkRows();
        else if (m_s.topology != Topology::SealedModule)
            reservoirRow();
    }
    keepWorst(std::move(shared));
    if (m_s.topology_assumed)
        for (ConsequenceRow& row : m_rows)
            row.assumed.emplace_back("a flyback converter");
    return std::move(m_rows);
}

void RowMaker::keepWorst(std::vector<ConsequenceRow> shared)
{
    const auto weight = [](const ConsequenceRow& row) {
        const bool counts = row.verdict == Verdict::Breaks || (row.worse && row.verdict != Verdict::Fits);
        return std::tuple(counts, badness(row.verdict), row.use.value_or(0), row.planned.value_or(0));
    };
    std::vector<ConsequenceRow> kept;
    for (ConsequenceRow& row : shared) {
        const auto same =
            std::ranges::find_if(kept, [&](const ConsequenceRow& k) { return k.key() == row.key(); });
        if (same == kept.end())
            kept.push_back(std::move(row));
        else if (weight(row) > weight(*same))
            *same = std::move(row);
    }
    m_rows.insert(m_rows.begin(), kept.begin(), kept.end());
}

bool RowMaker::moves(Drive drive, const MovedRail& rail)
{
    if (drive == Drive::None)
        return false;
    const State& f = rail.found;
    const State& p = rail.planned;
    if (!f.high_v || !f.low_v || !p.high_v || !p.low_v)
        return true; // nobody can say that it does not
    const bool rises = *p.high_v > *f.high_v * (1 + limit_share);
    const bool falls = *p.low_v < *f.low_v * (1 - limit_share);
    return drive == Drive::Both ? rises || falls : drive == Drive::Rise ? rises : falls;
}

ConsequenceRow& RowMaker::add(RowId id, Drive drive, const JudgeAt& judge, std::string formula,
                              const WorkingAt& working, Notes notes)
{
    const Judged planned = judge(m_at->planned);
    if (drive != Drive::None) {
        notes.assumed.insert(notes.assumed.end(), m_at->assumed.begin(), m_at->assumed.end());
        notes.need(m_at->planned.high_v.has_value(), "the voltage of " + m_at->rail->name + " as found");
    }
    return addJudged(id, moves(drive, *m_at), judge(m_at->found), planned, std::move(formula),
                     planned.value ? working(m_at->planned) : std::string(), std::move(notes));
}

ConsequenceRow& RowMaker::addShared(RowId id, Drive drive, const Judged& found, const Judged& planned,
                                    std::string formula, std::string working, Notes notes)
{
    const bool moved =
        std::ranges::any_of(m_moved, [drive](const MovedRail& rail) { return moves(drive, rail); });
    return addJudged(id, moved, found, planned, std::move(formula), std::move(working), std::move(notes));
}

namespace {

ConsequenceRow judgedRow(RowId id, const Judged& planned, std::string formula, std::string working,
                         std::string part = {})
{
    ConsequenceRow row = blankRow(id, std::move(part));
    row.planned = planned.value;
    row.limit = planned.limit;
    row.use = planned.use;
    row.verdict = planned.verdict;
    row.fits_to = planned.fits_to;
    row.formula = std::move(formula);
    row.working = std::move(working);
    return row;
}

} // namespace

ConsequenceRow planRow(RowId id, const Judged& planned, std::string formula, std::string working,
                       std::string part)
{
    ConsequenceRow row = judgedRow(id, planned, std::move(formula), std::move(working), std::move(part));
    row.worse = true;
    return row;
}

ConsequenceRow& RowMaker::addJudged(RowId id, bool moved, const Judged& found, const Judged& planned,
                                    std::string formula, std::string working, Notes notes)
{
    ConsequenceRow row = judgedRow(id, planned, std::move(formula), std::move(working));
    row.rail = rowInfo(id).of_rail ? m_at->rail->name : std::string();
    row.found = found.value;
    for (std::string& what : notes.assumed)
        if (std::ranges::find(row.assumed, what) == row.assumed.end())
            row.assumed.push_back(std::move(what));
    if (row.verdict == Verdict::Unknown)
        for (const std::string& what : notes.unread)
            row.read_next += (row.read_next.empty() ? "" : ", ") + what;
    if (planned.verdict == Verdict::Unknown || found.verdict == Verdict::Unknown)
        row.worse = moved;
    else
        row.worse = badness(planned.verdict) > badness(found.verdict) ||
                    (planned.use && found.use && *planned.use > *found.use * (1 + limit_share));
    m_rows.push_back(std::move(row));
    return m_rows.back();
}

double RowMaker::rectifierDrop(Notes& notes) const
{
    const double drop_v = rectifierDropOf(*m_at->rail);
    notes.orAssume(m_at->rail->rectifier.v_f_v, drop_v, "rectifier drop " + volts(drop_v));
    return drop_v;
}

double RowMaker::auxiliaryDrop(Notes& notes) const
{
    return notes.orAssume(m_s.auxiliary.v_f_v, usual::auxiliary_drop_v, "auxiliary rectifier drop 0.9 V");
}

double RowMaker::efficiency(Notes& notes) const
{
    return notes.orAssume(m_s.efficiency, usual_efficiency, "efficiency " + formatPercent(usual_efficiency));
}

double RowMaker::ambient(Notes& notes) const
{
    return notes.orAssume(m_s.regulator.t_ambient_k, usual::ambient_k, "ambient 40 °C");
}

Value RowMaker::highestMains(Notes& notes) const
{
    notes.need(m_in.mains.v_v.has_value(), "the mains there is");
    const double spread = notes.orAssume(m_in.mains.spread, usual_mains_spread,
                                         "mains spread " + formatPercent(usual_mains_spread));
    return when([&](double v) { return v * (1 + spread); }, m_in.mains.v_v);
}

Value RowMaker::lowestMains(Notes& notes) const
{
    notes.need(m_in.mains.v_v.has_value(), "the mains there is");
    const double spread = notes.orAssume(m_in.mains.spread, usual_mains_spread,
                                         "mains spread " + formatPercent(usual_mains_spread));
    return when([&](double v) { return v * (1 - spread); }, m_in.mains.v_v);
}

Value RowMaker::stageBus(Notes& notes) const
{
    // The crest bounds it either way; only an assumed bus has to be lifted above it.
    Notes of_crest;
    const Value crest_v = when([](double v) { return std::sqrt(2.0) * v; }, highestMains(of_crest));
    if (m_s.input.bus_v) {
        const bool possible = !crest_v || atLeast(*m_s.input.bus_v, *crest_v);
        notes.need(possible, "the bus once more: it cannot stand below the crest of the mains");
        return possible ? m_s.input.bus_v : std::nullopt;
    }
    if (!crest_v) {
        notes.need(false, "the bus behind the power factor stage");
        return std::nullopt;
    }
    const double bus_v = std::max(usual_bus_v, *crest_v);
    if (bus_v > usual_bus_v)
        notes.assumed.insert(notes.assumed.end(), of_crest.assumed.begin(), of_crest.assumed.end());
    notes.assumed.push_back("bus " + volts(bus_v));
    return bus_v;
}

Value RowMaker::highestBus(Notes& notes) const
{
    if (!m_s.input.kind)
        notes.assumed.emplace_back("a bridge at the input");
    if (m_s.input.stage() == InputKind::PowerFactorStage)
        return stageBus(notes);
    return when([this](double v) { return inputCrest(m_s.input, v); }, highestMains(notes));
}

Value RowMaker::lowestBus(Notes& notes) const
{
    if (!m_s.input.kind)
        notes.assumed.emplace_back("a bridge at the input");
    if (m_s.input.stage() == InputKind::PowerFactorStage)
        return stageBus(notes);
    notes.assumed.emplace_back("ripple trough 0.85 of the crest");
    return when([this](double v) { return usual::trough_share * inputCrest(m_s.input, v); },
                lowestMains(notes));
}

std::string RowMaker::busFormula() const
{
    switch (m_s.input.stage()) {
    case InputKind::Bridge:
        return "√2·V_mains,max";
    case InputKind::Doubler:
        return "2√2·V_mains,max";
    case InputKind::PowerFactorStage:
        break;
    }
    return "bus behind the power factor stage";
}

Value RowMaker::ratio(Notes& notes) const
{
    const Value turns = turnsRatio(m_s, *m_at->rail);
    notes.need(turns.has_value(), "the transformer's turns ratio");
    return turns;
}

Value RowMaker::auxiliaryRatio(Notes& notes) const
{
    const Rail& rail = *m_at->rail;
    Value turns;
    if (m_s.transformer.auxiliary_turns && rail.winding.turns)
        turns =
            static_cast<double>(*m_s.transformer.auxiliary_turns) / static_cast<double>(*rail.winding.turns);
    else if (&rail == &m_s.rails.front())
        turns = m_s.transformer.auxiliary_turns_per_secondary;
    else // the ratio is the first rail's: over the primary to this one
        turns = when([](double aux, double own, double first) { return aux * own / first; },
                     m_s.transformer.auxiliary_turns_per_secondary, turnsRatio(m_s, rail),
                     turnsRatio(m_s, m_s.rails.front()));
    notes.need(turns.has_value(), "the auxiliary turns over the rail's");
    return turns;
}

Value RowMaker::auxiliarySupply(Value v, Value turns, double drop_v, double aux_drop_v) const
{
    return when([&](double output_v, double n) { return (output_v + drop_v) * n - aux_drop_v; }, v, turns);
}

} // namespace offshoot::rows
