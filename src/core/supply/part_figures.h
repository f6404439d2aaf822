// The figures of a supply's parts, one line each: where they stand, what they are called, which of them are
// read off a part on the board and which come from papers or a meter.
#pragma once

#include "core/supply/station.h"
#include "core/supply/supply.h"
#include "core/values/parsed.h"
#include "core/values/quantity.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace offshoot {

/// A part that says something about itself on its body.
enum class BoardPart {
    Entry, ///< inlet, switch and cord
    Fuse,
    Limiter,
    Bridge,
    Bulk,
    BulkBleeder,
    Switch,
    Clamp,
    Controller,
    Regulator,
    Transformer,
    Diode,
    Choke,
    Capacitor,
    Trip,
    MinimumLoad,
    Indicator,
    Reference,
    LedResistor,
    Plate, ///< of the whole unit
};
inline constexpr std::size_t board_part_count = static_cast<std::size_t>(BoardPart::Plate) + 1;

/// One optional number of a unit or of one of its rails.
struct PartFigure
{
    using Value = std::optional<double>;
    Station station;
    std::optional<BoardPart> part; ///< absent: from papers, or measured
    std::string_view label;
    Quantity quantity;
    Value& (*access)(Supply&, Rail&);
    std::string_view hint;
    bool percent = false; ///< written as a percentage, kept as a share
    bool zero = false;    ///< 0 may be entered
    double most = 1e15;
    bool (*applies)(Topology) = nullptr; ///< absent: to every topology

    bool isOf(Topology topology) const { return applies == nullptr || applies(topology); }
    Value read(const Supply& supply, std::size_t rail) const;
};
/// Along the power path.
std::span<const PartFigure> partFigures();

struct BoardPartInfo
{
    std::string_view name;
    std::string_view where; ///< on its body the figures stand
    std::string_view why;   ///< what they are good for besides the rows that want them
    bool of_rail;           ///< each rail has its own
};
const BoardPartInfo& infoOf(BoardPart part);

/// A part that is met on one walk along the board.
struct BoardPlace
{
    BoardPart part;
    std::size_t rail; ///< 0 where it is the unit's
    Station station;
    bool operator==(const BoardPlace&) const = default;
};
/// The parts that this kind of supply has, in the order of its energy; the plate first, what feeds back last.
std::vector<BoardPlace> boardWalk(const Supply& supply);
/// The figures that are read off a part.
std::vector<const PartFigure*> figuresOf(const Supply& supply, BoardPart part);

/// What a line read off a part says: "12V 1000u 25V 105C", "T2A 250V", "red red black brown brown 1W".
struct PartReading
{
    std::vector<std::pair<const PartFigure*, double>> figures;
    std::optional<double> rail_v; ///< what stands on it, where the line says two voltages
    std::optional<std::string> fuse_type;
    bool none = false; ///< the line says that there is no such part
    std::string echo;  ///< as it was understood
};
/// Whether somebody looked and there is no such part. Of the inlet to the transformer nobody can say so.
bool isAbsent(const Supply& supply, std::size_t rail, BoardPart part);
/// Whether a line may say "none" of it.
bool mayBeAbsent(BoardPart part);
/// Each word by its unit, or where only one figure is left without. Refused with the word that says nothing,
/// or says what is there already.
Parsed<PartReading> readPartLine(const Supply& supply, BoardPart part, std::string_view line);
void takePartLine(Supply& supply, std::size_t rail, BoardPart part, const PartReading& line);

} // namespace offshoot
