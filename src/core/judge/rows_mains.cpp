#include "core/judge/row_maker.h"
#include "core/values/format.h"

namespace offshoot::rows {

void RowMaker::fuseRows()
{
    const double mains_v = m_in.mains.v_v;
    add(
        RowId::FuseVoltage, m_s.fuse.v_rated_v, [&](const State&) -> Value { return mains_v; }, upToLimit,
        "nominal mains ≤ rated voltage", [&](const State&) { return volts(mains_v); });

    std::vector<std::string> assumed;
    const double efficiency = orAssume(m_s.efficiency, usual::efficiency, assumed, "efficiency 80 %");
    assumed.emplace_back("power factor 0.6");
    const auto line_a = [&](const State& s) -> Value {
        return totalPower(s) / (efficiency * usual::power_factor * m_in.mains.lowest());
    };
    add(
        RowId::FuseCurrent, m_s.fuse.value_a, line_a, upper, "P_out / (η·pf·V_mains,min)",
        [&](const State& s) {
            return formatValue(totalPower(s), Quantity::Power) + " / (" + significant(efficiency, 2) +
                   " × 0.6 × " + volts(m_in.mains.lowest()) + ") = " + amps(*line_a(s));
        },
        assumed);
}

void RowMaker::bulkRows()
{
    std::vector<std::string> bus;
    if (m_s.input.kind == InputKind::PowerFactorStage && !m_s.input.bus_v)
        bus.emplace_back("bus 385 V");
    const auto crest = [&](const State&) -> Value { return highestInput(); };
    const std::string crest_formula = m_s.input.kind == InputKind::Bridge ? "√2·V_mains,max"
                                      : m_s.input.kind == InputKind::Doubler
                                          ? "2√2·V_mains,max"
                                          : "bus behind the power factor stage";
    const auto crest_working = [&](const State&) {
        return crest_formula + " = " + volts(highestInput()) + " at " + volts(m_in.mains.highest());
    };
    add(RowId::InputRectifierReverse, m_s.input.v_rrm_v, crest, upper, crest_formula, crest_working, bus);
    add(RowId::BulkVoltage, m_s.bulk.v_rated_v, crest, upper, crest_formula, crest_working, bus);
}

} // namespace offshoot::rows
