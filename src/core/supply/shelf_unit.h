// A unit as its plate and data sheet have it, not yet opened: what one has on the shelf or could buy.
#pragma once

#include "core/supply/case_space.h"
#include "core/supply/output_parts.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct NewTerminal
{
    std::string name;
    std::string function;
    std::optional<double> rated_a = {};
    std::int64_t max_wires = 1;
    std::optional<double> area_min_m2 = {};
    std::optional<double> area_max_m2 = {};
    std::optional<double> reach_m = {}; ///< way from where the wires come
    bool must = false;                  ///< the unit cannot serve without it
    bool operator==(const NewTerminal&) const = default;
};
void fields(Fields& f, NewTerminal& value);

enum class OutputPolarity { Positive, Negative };
template <>
struct Words<OutputPolarity>
{
    static constexpr std::array<std::string_view, 2> list{"positive", "negative"};
};

enum class InputCurrent { Ac, Dc };
template <>
struct Words<InputCurrent>
{
    static constexpr std::array<std::string_view, 2> list{"ac", "dc"};
};
struct InputRange
{
    double min_v;
    double max_v;
    std::optional<std::string> selector = {};
    bool operator==(const InputRange&) const = default;
};
void fields(Fields& f, InputRange& value);
struct UnitInput
{
    InputCurrent kind = InputCurrent::Ac;
    std::vector<InputRange> ranges; ///< 1 to 8
    std::optional<double> f_min_hz = {};
    std::optional<double> f_max_hz = {};
    bool operator==(const UnitInput&) const = default;
};
void fields(Fields& f, UnitInput& value);

struct UnitOutput
{
    std::string name;
    double v;
    double regulation = 0.05;
    std::optional<double> trim_min_v = {};
    std::optional<double> trim_max_v = {};
    double rated_a;
    std::optional<double> peak_a = {}; ///< absent: rated_a
    double least_a = 0;
    std::optional<double> ripple_v = {};
    OutputPolarity polarity = OutputPolarity::Positive;
    bool isolated = false;       ///< from the unit's input and other outputs: it serves either polarity
    Bond bonded = Bond::Unknown; ///< to case or earth
    bool operator==(const UnitOutput&) const = default;
};
void fields(Fields& f, UnitOutput& value);

struct DeratingPoint
{
    double k;
    double share;
    bool operator==(const DeratingPoint&) const = default;
};
void fields(Fields& f, DeratingPoint& value);

enum class EnablePin { None, Jumper, Resistor, Low, High };
template <>
struct Words<EnablePin>
{
    static constexpr std::array<std::string_view, 5> list{"none", "jumper", "resistor", "low", "high"};
};

/// How a module makes its output from its input.
enum class ModuleKind { Linear, Buck, Boost, BuckBoost };
template <>
struct Words<ModuleKind>
{
    static constexpr std::array<std::string_view, 4> list{"linear", "buck", "boost", "buck_boost"};
};

/// A unit as its plate and data sheet have it.
struct ShelfUnit
{
    std::string name;
    std::int64_t quantity = 1;
    UnitInput input;
    std::vector<UnitOutput> outputs; ///< 1 to 8
    std::optional<double> total_w = {};
    std::vector<DeratingPoint> derating = {};
    std::optional<std::int64_t> protection_class = {}; ///< 1 or 2
    std::optional<BoxSize> size = {};
    EnablePin enable = EnablePin::None; ///< what its on-pin asks for
    std::optional<double> efficiency = {};
    bool operator==(const ShelfUnit&) const = default;
};
void fields(Fields& f, ShelfUnit& value);

/// What is left of a rating at a temperature: 1 below the first point, linear between points, the last one's
/// share beyond it.
double deratedShare(const std::vector<DeratingPoint>& derating, double ambient_k);
} // namespace offshoot
