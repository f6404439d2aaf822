// What joins what: parts with the two nodes they stand between, as found and as the plan leaves them. The
// drawing, the sentence of the step, the report and the calculation are made from this one list.
#pragma once

#include "core/job/evaluation.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

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
    /// "130R", "3.9 µF", "24.00 V": a part's value by its kind; empty where it has none.
    static std::string valueText(const ConnectedPart& part);
    /// Ohms between two nodes of the resistors and trimmers that are in after the change (or before it);
    /// infinity where nothing joins them. By nodal analysis (Kirchhoff's current law).
    double ohmBetween(const std::string& a, const std::string& b, bool planned = true) const;
};
void fields(Fields& f, Connections& value);

/// What joins a leg of the divider: a network, or a trimmer with an optional network in series.
struct AddedToDivider
{
    DividerMethod method;
    std::optional<Network> network;
    std::vector<double> tolerances;
    std::optional<double> trimmer_ohm = {}; ///< what it is set to
};
/// The feedback divider between "output", "reference" and "return", with what is added. In a 317-type
/// regulator the reference leg stands from the output to the adjust pin.
Connections dividerConnections(const Feedback& feedback, const std::optional<AddedToDivider>& added,
                               bool adjustable);
/// Whether the reference of a supply is that of a 317-type regulator.
bool isAdjustableRegulator(const Supply& supply);

/// "From the reference pin to the return, beside the bottom leg": where the planned network's two ends go.
std::string fittingSentence(const Job& job);
/// The leg that something joins: as it was found, or lifted or out already.
enum class LegNow { AsFound, Prepared };
/// The same of any part; `adjustable` of a 317-type regulator.
std::string fittingSentence(const std::string& what, DividerMethod method, bool adjustable, LegNow leg);
/// Each joint and each feed by its leads: "Join grey to violet; mains to blue and brown."
std::string primariesSentence(const Job& job);
Connections primaryConnections(const ConnectionPlan& plan);
/// What the plan adds to the divider.
std::optional<AddedToDivider> plannedDivider(const Job& job);
/// The units side by side: each positive over its ballast and diode to the bus.
Connections busConnections(const Job& job, const Evaluation& evaluation);
/// The units from the bottom up, with links, bonds, diodes and earths; as found where nothing is planned.
Connections stackConnections(const Job& job, const Evaluation& evaluation);
/// From the secondary over each rectifier, anode to cathode, to `load`; new where `found` differs.
Connections chainConnections(const RectifierChain& chain, const std::optional<RectifierChain>& found,
                             const std::string& load);
/// The run to the load; with remote sense its wires, in the place of the local links.
Connections runConnections(const Job& job);
/// The planned surge limiter and its bypass.
Connections limiterConnections(const Job& job);
/// The planned chain from the rectifier to the load.
std::string chainSentence(const Job& job);
std::vector<std::string> chainParts(const RectifierChain& chain);

} // namespace offshoot
