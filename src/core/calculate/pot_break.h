// A potentiometer on wires: which way the output goes when one of them breaks.
#pragma once

#include "core/values/fields.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

enum class PotSets { Volts, Amps };
template <>
struct Words<PotSets>
{
    static constexpr std::array<std::string_view, 2> list{"volts", "amps"};
};

/// Where it sits in the divider that it sets.
enum class PotWiring {
    OutputSide, ///< a rheostat between the output (or a reference) and the sensing input
    ReturnSide, ///< a rheostat between the sensing input and the return
    AdjustPin,  ///< a rheostat below the adjusting pin of a 317-type regulator
    Divider,    ///< three wires, the wiper to the sensing input
};
template <>
struct Words<PotWiring>
{
    static constexpr std::array<std::string_view, 4> list{"output_side", "return_side", "adjust_pin",
                                                          "divider"};
};

struct PotBreakInput
{
    PotSets sets;
    PotWiring wiring;
    double ohm;                             ///< end to end
    double set;                             ///< V or A that it stands at
    double least;                           ///< what it can be turned to
    double most;                            ///< likewise; at or above `least`
    double reach;                           ///< the highest the module gives on its feed
    std::optional<double> reference_v = {}; ///< at the sensing input; volts only
    std::optional<double> other_ohm = {};   ///< the fixed resistor; absent: from the range
    std::optional<double> guard_ohm = {};   ///< on the board, across it or (divider) from wiper to output
};

enum class BreakGoes { Low, High, Nowhere };
struct BrokenWire
{
    std::string wire;         ///< "either wire", "wire to the wiper"
    std::optional<double> to; ///< V or A; absent where the input then floats
    BreakGoes goes;           ///< below what it was set to, above it, or nobody knows where
};

struct PotBreakResult
{
    std::vector<BrokenWire> wires;
    double least; ///< what it can be turned to
    double most;  ///< likewise, with the guard across it
};

/// V at the sensing input where nobody read it: 1.25 V, as small modules and 317-type regulators have it, and
/// never above the least that the output can be turned to.
double usualReference(double least_v);

/// Volts: the amplifier holds its sensing input at the reference, V = V_ref·(1 + R_out/R_ret) (textbook
/// feedback divider; currents of the input neglected). With the wire open, R is the guard alone, or infinite:
/// nothing then holds the output below `reach`. A divider without its upper wire senses the return and rises,
/// without its lower one senses the output and falls to the reference. A guard from wiper to output is taken
/// for at least ten times the potentiometer: what it shifts while all is whole is left out. Amps: the
/// potentiometer divides a reference; 0 where the control input falls to the return, `most` where it rises to
/// the reference.
PotBreakResult potBreak(const PotBreakInput& in);

} // namespace offshoot
