#include "bench/meters.h"

#include <algorithm>
#include <cmath>

namespace offshoot::bench {

Meters::Meters(QObject* parent)
    : QObject(parent)
{
    for (MeterLink& link : m_links) {
        connect(&link, &MeterLink::changed, this, &Meters::changed);
        connect(&link, &MeterLink::problem, this, &Meters::said);
        connect(&link, &MeterLink::noticed, this, &Meters::said);
    }
}

bool Meters::attached() const { return std::ranges::any_of(m_links, &MeterLink::attached); }

std::optional<MeterReading> Meters::of(Quantity quantity) const
{
    for (const MeterLink& link : m_links)
        if (link.reading() && link.reading()->quantity == quantity)
            return link.reading();
    return std::nullopt;
}

std::optional<MeterReading> Meters::any() const
{
    for (const MeterLink& link : m_links)
        if (link.reading())
            return link.reading();
    return std::nullopt;
}

std::optional<double> Meters::loadA() const
{
    const auto amps = of(Quantity::Current);
    return amps && of(Quantity::Voltage) ? std::optional(std::abs(amps->value)) : std::nullopt;
}

QString Meters::behind() const
{
    constexpr int digits = 4;
    const auto load = loadA();
    return load ? QStringLiteral(" @%1A").arg(*load, 0, 'g', digits) : QString();
}

} // namespace offshoot::bench
