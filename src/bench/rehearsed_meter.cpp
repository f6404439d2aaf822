#include "bench/rehearsed_meter.h"

#include <limits>

namespace offshoot::bench {

namespace {

QByteArray functionOf(Quantity quantity)
{
    switch (quantity) {
    case Quantity::Resistance:
        return "RES";
    case Quantity::Current:
        return "CURR";
    case Quantity::Temperature:
        return "TEMP";
    default:
        return "VOLT";
    }
}

} // namespace

std::string RehearsedMeter::move(const std::string& text)
{
    try {
        const BenchMove move = benchMoveFrom(text, "/move");
        const BenchAnswer answer = m_bench.play(move, "/move");
        if (move.kind == MoveKind::Probe || move.kind == MoveKind::Ohms)
            m_clipped = move;
        if (answer.wrong)
            return answer.wrong->would;
        return answer.seen.empty() ? "Clipped on." : answer.seen;
    } catch (const DocumentError& error) {
        return error.what();
    }
}

MeterStandIn::Shown RehearsedMeter::shown()
{
    const double overload = std::numeric_limits<double>::infinity();
    if (!m_clipped)
        return {"VOLT", overload};
    const BenchAnswer answer = m_bench.play(*m_clipped);
    if (!answer.reading)
        return {"RES", overload};
    const double value = answer.reading->value.value_or(overload);
    constexpr double zero_celsius_k = 273.15;
    const bool warm = answer.reading->quantity == Quantity::Temperature; // a meter tells degrees
    return {functionOf(answer.reading->quantity), warm ? value - zero_celsius_k : value};
}

} // namespace offshoot::bench
