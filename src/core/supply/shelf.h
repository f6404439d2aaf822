// The shelf: units that one has or could buy, as the drawer is for resistors. A file of its own (`*.shelf`),
// CSV in and out, and entry by one line as it stands on a plate.
#pragma once

#include "core/supply/shelf_unit.h"
#include "core/supply/supply.h"
#include "core/values/parsed.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace offshoot {

inline constexpr std::int64_t shelf_version = 1;
inline constexpr std::size_t most_on_shelf = 200;

/// How a unit is built, and so what of it can be reached.
enum class Mounting { OpenBoard, Cage, Adapter, Rack, Computer, Module };
template <>
struct Words<Mounting>
{
    static constexpr std::array<std::string_view, 6> list{"open_board", "cage",     "adapter",
                                                          "rack",       "computer", "module"};
};

/// Where a wire is screwed on, from the unit's corner.
struct TerminalSpot
{
    std::string terminal;
    double x_m;
    double y_m;
    double z_m;
    bool operator==(const TerminalSpot&) const = default;
};
void fields(Fields& f, TerminalSpot& value);

/// A unit with what it takes to mount and to connect it.
struct ShelfEntry
{
    ShelfUnit unit = {};
    std::optional<Mounting> mounting = {};
    std::optional<double> inrush_a = {};      ///< crest at switching on, cold
    std::optional<double> load_max_f = {};    ///< the largest capacitance that it starts into
    std::optional<double> standby_w = {};     ///< drawn with nothing on its outputs
    std::optional<ModuleKind> converts = {};  ///< of a module on DC
    double headroom_v = 0;                    ///< dropout of a linear one, what a buck needs above its output
    std::optional<double> theta_k_per_w = {}; ///< junction to air
    std::optional<double> t_j_max_k = {};
    std::vector<TerminalSpot> spots = {};
    std::vector<RoundHole> holes = {};        ///< in its base
    std::optional<double> screw_depth_m = {}; ///< how far a screw may go into it
    std::vector<NamedBox> zones = {};         ///< room that must stay free before its terminals, its fan
    std::vector<NewTerminal> terminals = {};
    std::optional<double> mass_kg = {};
    std::optional<double> price = {}; ///< of one, in whatever the shelf counts in
    std::string note = {};
    Json unknown = {};
    bool operator==(const ShelfEntry&) const = default;
};
void fields(Fields& f, ShelfEntry& value);

struct Shelf
{
    std::int64_t version = shelf_version;
    std::string currency = {};
    std::vector<ShelfEntry> units = {};
    Json unknown = {};
};
void fields(Fields& f, Shelf& value);

/// Nothing where none is called so.
const ShelfEntry* entryNamed(const std::vector<ShelfEntry>& units, std::string_view name);

/// Throws DocumentError; one from a newer Offshoot is `out_of_range` at /version.
Shelf readShelf(std::string_view text);
std::string writeShelf(const Shelf& shelf);
Json shelfSchema();

/// One row for each output; rows of one name are one unit. Holes, zones and terminals stay in the shelf's own
/// file.
std::string writeShelfCsv(const std::vector<ShelfEntry>& units);
/// Nothing is taken where a line does not read: the problem names it.
Parsed<std::vector<ShelfEntry>> readShelfCsv(std::string_view text);

/// A unit from what stands on its plate, in any order:
///     Sandpiper 100: 24V 4.2A 100-240V class 1 129x97x30 trim 21.6-28.8
/// Volts and the amperes behind them are an output; what follows it is of that output (trim, peak, least,
/// ripple, ±, isolated, bonded). Sizes are in millimetres. A mains voltage by itself is taken with ±10 %.
Parsed<ShelfEntry> readPlateLine(std::string_view text);
/// How it was understood, in words.
std::string shelfWords(const ShelfEntry& entry);

/// A unit of a job of which only the plate is known: nobody has looked inside yet.
Supply supplyOf(const ShelfEntry& entry);
/// What a unit of a job would say on its plate, on the mains that it ran on. Nothing while the voltage or the
/// current of its outputs is not known.
std::optional<ShelfEntry> entryOf(const Supply& supply, const Mains& mains);

} // namespace offshoot
