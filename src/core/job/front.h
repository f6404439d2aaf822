// What comes out to a front: the panel with its cut-outs and letters, and what is brought out of a bare
// module that gets a case of its own.
#pragma once

#include "core/calculate/pot_break.h"
#include "core/job/readouts.h"
#include "core/supply/case_space.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

enum class PanelPart { Post, Socket, Switch, FuseHolder, Inlet, Potentiometer, Readout, Lamp, Gland, Other };
template <>
struct Words<PanelPart>
{
    static constexpr std::array<std::string_view, 10> list{"post",  "socket",        "switch",  "fuse_holder",
                                                           "inlet", "potentiometer", "readout", "lamp",
                                                           "gland", "other"};
};

/// A part that is fitted to a front, by its middle from the panel's lower left corner.
struct PanelItem
{
    std::string name; ///< once on a panel
    PanelPart kind = PanelPart::Post;
    double x_m = 0;
    double y_m = 0;
    std::string serves = {}; ///< a rail, a potentiometer or a readout by its name
    bool returns = false;    ///< the return of that rail
    bool mains = false;      ///< something of it stands at mains potential
    // Its own cut-out; absent: the usual one of its kind. Round, or two sides.
    std::optional<double> d_m = {};
    std::optional<double> dx_m = {};
    std::optional<double> dy_m = {};
    std::string letters = {}; ///< empty: they follow the plan
    Json unknown = {};
    bool operator==(const PanelItem&) const = default;
};
void fields(Fields& f, PanelItem& value);

/// A hole that the panel has already: round, or with two sides.
struct PanelHole
{
    double x_m = 0;
    double y_m = 0;
    std::optional<double> d_m = {};
    std::optional<double> dx_m = {};
    std::optional<double> dy_m = {};
    bool covered = false;
    Json unknown = {};
    bool operator==(const PanelHole&) const = default;
};
void fields(Fields& f, PanelHole& value);

struct PanelPlan
{
    double width_m;
    double height_m;
    double thick_m = 0.002;
    bool metal = true;
    bool fresh = false; ///< a new one; else the panel of the case as it is
    std::vector<PanelItem> items = {};
    std::vector<PanelHole> holes = {};
    Json unknown = {};
    bool operator==(const PanelPlan&) const = default;
};
void fields(Fields& f, PanelPlan& value);

/// What the line or the feed goes through at the front, in the order of its energy; a neutral passes by the
/// fuse.
std::vector<std::string> throughFront(const PanelPlan& panel, bool mains, bool neutral = false);
/// The first post or socket of a rail, or of its return; null where none comes out.
const PanelItem* postOf(const PanelPlan& panel, const std::string& rail, bool returns);

/// A trimmer of the module as a potentiometer on wires.
struct BroughtOut
{
    std::string name; ///< "volts"
    PotSets sets = PotSets::Volts;
    PotWiring wiring = PotWiring::OutputSide;
    double ohm = 10000;
    std::int64_t turns = 1;
    double wire_m = 0.1;
    bool twisted = false;
    std::optional<double> reference_v = {};
    std::optional<double> other_ohm = {}; ///< the fixed resistor of its divider
    std::optional<double> guard_ohm = {}; ///< soldered on the board, for when a wire breaks
    Json unknown = {};
    bool operator==(const BroughtOut&) const = default;
};
void fields(Fields& f, BroughtOut& value);

/// A spacer under the board.
struct Spacer
{
    std::string name;
    std::optional<bool> carries = {}; ///< current of the circuit, by ohms
    std::optional<double> current_a = {};
    std::optional<double> area_m2 = {}; ///< of the wire that takes its place
    bool insulated = false;             ///< between it and the case
    Json unknown = {};
    bool operator==(const Spacer&) const = default;
};
void fields(Fields& f, Spacer& value);

/// A readout on the front, held against a good meter.
struct FrontReadout
{
    std::string name;
    PotSets shows = PotSets::Volts;
    std::vector<ReadoutPair> points = {};
    std::optional<ReadoutClaim> claim = {};
    Json unknown = {};
    bool operator==(const FrontReadout&) const = default;
};
void fields(Fields& f, FrontReadout& value);
/// As if it were held by itself.
HeldReadout heldReadout(const FrontReadout& front);

/// A bare adjustable module in a case of its own.
struct RehousePlan
{
    std::vector<BroughtOut> pots = {};
    std::vector<Spacer> spacers = {};
    std::vector<FrontReadout> readouts = {};
    std::optional<double> fuse_a = {};
    std::optional<double> feed_a = {}; ///< what its feed gives at the most
    bool vented = false;
    Json unknown = {};
    bool operator==(const RehousePlan&) const = default;
};
void fields(Fields& f, RehousePlan& value);

} // namespace offshoot
