#include "core/judge/row_maker.h"
#include "core/values/format.h"

#include <algorithm>
#include <cmath>

namespace offshoot::rows {

const MovedRail* RowMaker::movedRail(const Rail& rail) const
{
    const auto at =
        std::ranges::find_if(m_moved, [&](const MovedRail& moved) { return moved.rail == &rail; });
    return at == m_moved.end() ? nullptr : &*at;
}

/// What all rails take from the line, before the power factor. A regulator that passes its current takes
/// the same at any output: the found voltage counts.
Value RowMaker::givenPower(bool planned, Notes& notes) const
{
    const bool passes = isLinear(m_s.topology);
    const Value v_in = m_s.direct.mean_v;
    double watts = 0;
    bool known = true;
    bool assumes_efficiency = false;
    for (const Rail& rail : m_s.rails) {
        const MovedRail* moved = movedRail(rail);
        const Value i_a = moved != nullptr ? moved->planned.i_a : typicalCurrent(rail);
        const Value v = moved == nullptr || passes ? rail.v_v
                        : planned                  ? moved->planned.loaded_v
                                                   : moved->found.loaded_v;
        notes.need(i_a.has_value(), "the current on " + rail.name);
        notes.need(v.has_value(), "the voltage of " + rail.name + " as found");
        double efficiency = m_s.efficiency.value_or(usual_efficiency);
        if (!m_s.efficiency && passes && v && v_in) {
            efficiency = *v / *v_in;
            notes.assumed.push_back("efficiency " + significant(efficiency, 3) + " (" + volts(*v) + " of " +
                                    volts(*v_in) + ")");
        } else if (!m_s.efficiency) {
            assumes_efficiency = true;
        }
        known = known && i_a && v;
        if (known)
            watts += *v * *i_a / efficiency;
        if (planned && moved != nullptr && !passes)
            notes.assumed.insert(notes.assumed.end(), moved->assumed.begin(), moved->assumed.end());
    }
    if (assumes_efficiency)
        notes.assumed.emplace_back("efficiency 80 %");
    return known ? Value(watts) : std::nullopt;
}

void RowMaker::fuseRows()
{
    const Value& mains_v = m_in.mains.v_v;
    Notes rated;
    rated.need(mains_v.has_value(), "the mains there is");
    rated.need(m_s.fuse.v_rated_v.has_value(), "the fuse's rated voltage");
    const Judged voltage = most(mains_v, m_s.fuse.v_rated_v, to_the_limit);
    addShared(RowId::FuseVoltage, Drive::None, voltage, voltage, "nominal mains ≤ rated voltage",
              mains_v ? volts(*mains_v) : std::string(), rated);

    Notes notes;
    const bool corrected = isMainsSwitcher(m_s.topology) && m_s.input.stage() == InputKind::PowerFactorStage;
    if (isMainsSwitcher(m_s.topology) && !m_s.input.kind)
        notes.assumed.emplace_back("a bridge at the input");
    const double factor = corrected ? usual::corrected_power_factor : usual::power_factor;
    Notes unused;
    const Value found_w = givenPower(false, unused);
    const Value planned_w = givenPower(true, notes);
    notes.assumed.push_back("power factor " + significant(factor, 2));
    const Value lowest_v = lowestMains(notes);
    notes.need(m_s.fuse.value_a.has_value(), "the fuse's value");
    const auto line = [&](Value w) {
        return when([&](double watts, double v) { return watts / (factor * v); }, w, lowest_v);
    };
    const Value line_a = line(planned_w);
    addShared(RowId::FuseCurrent, isLinear(m_s.topology) ? Drive::None : Drive::Rise,
              most(line(found_w), m_s.fuse.value_a), most(line_a, m_s.fuse.value_a),
              "P_out / (η·pf·V_mains,min)",
              line_a ? formatValue(*planned_w, Quantity::Power) + " from the line / (" +
                           significant(factor, 2) + " × " + volts(*lowest_v) + ") = " + amps(*line_a)
                     : std::string(),
              notes);
}

/// Behind a power factor stage the bridge bears the crest of the mains and the capacitor the bus; of a
/// doubler each capacitor bears one crest, each diode both.
void RowMaker::bulkRows()
{
    const InputKind kind = m_s.input.stage();
    const auto row = [&](RowId id, const Value& rating, std::string_view what, Value value,
                         const std::string& formula, Notes notes) {
        notes.need(rating.has_value(), std::string(what));
        const Judged j = most(value, rating);
        std::string working;
        if (value)
            working = formula + " = " + volts(*value);
        if (value && m_in.mains.v_v && kind != InputKind::PowerFactorStage) {
            Notes unused;
            working += " at " + volts(*highestMains(unused));
        }
        addShared(id, Drive::None, j, j, formula, working, notes);
    };
    Notes of_crest;
    if (!m_s.input.kind)
        of_crest.assumed.emplace_back("a bridge at the input");
    const Value crest_v = when([](double v) { return std::sqrt(2.0) * v; }, highestMains(of_crest));
    Notes of_bus;
    const Value bus_v = highestBus(of_bus);
    const std::string crest = "√2·V_mains,max";
    if (kind == InputKind::PowerFactorStage)
        row(RowId::InputRectifierReverse, m_s.input.v_rrm_v, "the mains rectifier's reverse rating", crest_v,
            crest, of_crest);
    else
        row(RowId::InputRectifierReverse, m_s.input.v_rrm_v, "the mains rectifier's reverse rating", bus_v,
            busFormula(), of_bus);
    if (kind == InputKind::Doubler)
        row(RowId::BulkVoltage, m_s.bulk.v_rated_v, "the rated voltage of each bulk capacitor", crest_v,
            crest + " on each of the two", of_crest);
    else
        row(RowId::BulkVoltage, m_s.bulk.v_rated_v, "the bulk capacitor's rated voltage", bus_v, busFormula(),
            of_bus);
}

/// What stands in front of a regulator or a DC-fed converter, or behind the rectifier of an unregulated one.
void RowMaker::reservoirRow()
{
    const Value& v = m_s.direct.max_v;
    Notes notes;
    notes.need(v.has_value(), "the highest voltage on it");
    notes.need(m_s.bulk.v_rated_v.has_value(), "the capacitor's rated voltage");
    const Judged j = most(v, m_s.bulk.v_rated_v);
    addShared(RowId::BulkVoltage, Drive::None, j, j, "V_in,max ≤ rated voltage",
              v ? "highest: " + volts(*v) : std::string(), notes)
        .part = m_s.dcFed() ? "Input capacitor" : "Reservoir";
}

} // namespace offshoot::rows
