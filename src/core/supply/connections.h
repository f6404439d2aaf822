// What joins what: parts with the two nodes they stand between, as found and as the plan leaves them. The
// drawing, the sentence of the step, the report and the calculation are made from this one list.
#pragma once

#include "core/supply/station.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace offshoot {

/// What every drawing calls the node that volts are counted from.
inline constexpr std::string_view return_node = "return";

enum class PartKind {
    Resistor,
    Trimmer,
    Capacitor,
    Choke,
    Diode,
    Winding,
    Link,
    Wire,
    Source,
    Bond,
    Rectifier,
    Load
};
template <>
struct Words<PartKind>
{
    static constexpr std::array<std::string_view, 12> list{"resistor", "trimmer", "capacitor", "choke",
                                                           "diode",    "winding", "link",      "wire",
                                                           "source",   "bond",    "rectifier", "load"};
};
/// What the plan does with a part.
enum class PartFate { Stays, TakenOut, Added };
template <>
struct Words<PartFate>
{
    static constexpr std::array<std::string_view, 3> list{"stays", "taken_out", "added"};
};

struct ConnectedPart
{
    std::string name;
    PartKind kind;
    std::string from; ///< node, or lead of a winding; anode of a diode, plus of a source
    std::string to;
    std::optional<double> value = {}; ///< Ω, F, H or V, by its kind
    PartFate fate = PartFate::Stays;
    std::optional<double> tolerance = {};
    bool operator==(const ConnectedPart&) const = default;
};
void fields(Fields& f, ConnectedPart& value);

/// One drawing.
struct Connections
{
    std::string name; ///< "trimmer", "divider", "primaries", "stack", "bus", "chain", "run", "limiter"
    std::string sentence;
    std::vector<ConnectedPart> parts;
    std::string top = {};             ///< node drawn uppermost
    std::string bottom = {};          ///< and lowest
    Station station = Station::Inlet; ///< where on the power path it is
    /// No circuit between two nodes but wires by themselves, each from here to there: they are drawn one
    /// below the other, in the order of the list.
    bool isList() const { return top.empty() && bottom.empty(); }
    /// "130R", "3.9 µF", "24.00 V": a part's value by its kind; empty where it has none.
    static std::string valueText(const ConnectedPart& part);
    /// Ohms between two nodes of the resistors and trimmers that are in after the change (or before it);
    /// infinity where nothing joins them. By nodal analysis (Kirchhoff's current law).
    double ohmBetween(const std::string& a, const std::string& b, bool planned = true) const;
};
void fields(Fields& f, Connections& value);

} // namespace offshoot
