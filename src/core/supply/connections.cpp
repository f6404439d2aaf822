#include "core/supply/connections.h"

#include "core/supply/conductances.h"
#include "core/values/figures.h"

#include <algorithm>
#include <limits>

namespace offshoot {

std::string Connections::valueText(const ConnectedPart& part)
{
    if (!part.value)
        return {};
    switch (part.kind) {
    case PartKind::Resistor:
    case PartKind::Trimmer:
    case PartKind::Wire:
        return formatOhms(*part.value);
    case PartKind::Capacitor:
        return formatValue(*part.value, Quantity::Capacitance);
    case PartKind::Choke:
        return significant(*part.value, 3) + " H";
    case PartKind::Source:
    case PartKind::Diode:
        return volts(*part.value);
    case PartKind::Winding:
    case PartKind::Link:
    case PartKind::Bond:
    case PartKind::Rectifier:
    case PartKind::Load:
        break;
    }
    return {};
}

double Connections::ohmBetween(const std::string& a, const std::string& b, bool planned) const
{
    constexpr double trace_s = 1e-18;
    constexpr double link_ohm = 1e-5; // of no weight beside a resistor, nor does it spoil the sums
    Conductances net(trace_s);
    const std::size_t from = net.node(a);
    const std::size_t to = net.node(b);
    for (const ConnectedPart& part : parts) {
        const bool in = planned ? part.fate != PartFate::TakenOut : part.fate != PartFate::Added;
        const bool resists =
            part.kind == PartKind::Resistor || part.kind == PartKind::Trimmer || part.kind == PartKind::Link;
        if (in && resists)
            net.join(part.from, part.to, 1 / std::max(part.value.value_or(0), link_ohm));
    }
    constexpr double in_a = 1;
    const double v = net.potentials({{to, 0}}, {{from, in_a}})[from];
    constexpr double open_ohm = 1e14;
    const double ohm = v / in_a;
    return ohm > open_ohm ? std::numeric_limits<double>::infinity() : ohm;
}

void fields(Fields& f, ConnectedPart& value)
{
    f.need("name", value.name);
    f.need("kind", value.kind);
    f.need("from", value.from);
    f.need("to", value.to);
    f.may("value", value.value);
    f.need("fate", value.fate);
    f.may("tolerance", value.tolerance);
}

void fields(Fields& f, Connections& value)
{
    f.need("name", value.name);
    f.need("sentence", value.sentence, any_text);
    f.need("parts", value.parts);
}

} // namespace offshoot
