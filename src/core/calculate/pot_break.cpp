#include "core/calculate/pot_break.h"

#include <algorithm>

namespace offshoot {

namespace {

/// The fixed resistor of a divider whose range ends at `most`.
double fixedOhm(const PotBreakInput& in, double reference_v)
{
    if (in.other_ohm)
        return *in.other_ohm;
    return in.most > reference_v ? in.ohm / (in.most / reference_v - 1) : in.ohm;
}

BrokenWire gone(const PotBreakInput& in, std::string wire, std::optional<double> to)
{
    if (to)
        to = std::min(*to, in.reach);
    return {std::move(wire), to, !to ? BreakGoes::Nowhere : *to > in.set ? BreakGoes::High : BreakGoes::Low};
}

PotBreakResult breakOfVolts(const PotBreakInput& in)
{
    const double reference_v = in.reference_v.value_or(usualReference(in.least));
    PotBreakResult out{{}, in.least, in.most};
    switch (in.wiring) {
    case PotWiring::OutputSide:
    case PotWiring::AdjustPin: {
        const double fixed_ohm = fixedOhm(in, reference_v);
        if (!in.guard_ohm) {
            out.wires.push_back(gone(in, "either wire", in.reach));
            break;
        }
        const double guard_ohm = *in.guard_ohm;
        out.wires.push_back(gone(in, "either wire", reference_v * (1 + guard_ohm / fixed_ohm)));
        out.most =
            std::min(in.most, reference_v * (1 + in.ohm * guard_ohm / (in.ohm + guard_ohm) / fixed_ohm));
        break;
    }
    case PotWiring::ReturnSide:
        out.wires.push_back(gone(in, "either wire", reference_v));
        if (in.other_ohm)
            out.least = std::max(in.least, reference_v * (1 + *in.other_ohm / in.ohm));
        break;
    case PotWiring::Divider: {
        const double below_ohm = in.ohm * std::min(1.0, reference_v / in.set);
        out.wires.push_back(gone(in, "wire to the output end",
                                 in.guard_ohm ? reference_v * (1 + *in.guard_ohm / below_ohm) : in.reach));
        out.wires.push_back(
            gone(in, "wire to the wiper", in.guard_ohm ? std::optional(reference_v) : std::nullopt));
        out.wires.push_back(gone(in, "wire to the return end", reference_v));
        break;
    }
    }
    return out;
}

PotBreakResult breakOfAmps(const PotBreakInput& in)
{
    PotBreakResult out{{}, in.least, in.most};
    switch (in.wiring) {
    case PotWiring::OutputSide:
        out.wires.push_back(gone(in, "either wire", 0));
        break;
    case PotWiring::ReturnSide:
    case PotWiring::AdjustPin:
        out.wires.push_back(gone(in, "either wire", in.most));
        break;
    case PotWiring::Divider:
        out.wires.push_back(gone(in, "wire to the reference end", 0));
        out.wires.push_back(gone(in, "wire to the wiper", in.guard_ohm ? std::optional(0.0) : std::nullopt));
        out.wires.push_back(gone(in, "wire to the return end", in.most));
        break;
    }
    return out;
}

} // namespace

double usualReference(double least_v)
{
    constexpr double usual_v = 1.25;
    return std::min(usual_v, least_v);
}

PotBreakResult potBreak(const PotBreakInput& in)
{
    return in.sets == PotSets::Volts ? breakOfVolts(in) : breakOfAmps(in);
}

} // namespace offshoot
