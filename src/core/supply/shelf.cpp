#include "core/supply/shelf.h"

#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

void fields(Fields& f, TerminalSpot& value)
{
    f.need("terminal", value.terminal);
    f.need("x_m", value.x_m);
    f.need("y_m", value.y_m);
    f.need("z_m", value.z_m);
}

void fields(Fields& f, ShelfEntry& value)
{
    constexpr std::size_t most_holes = 50;
    constexpr std::size_t most_zones = 20;
    constexpr std::size_t most_terminals = 100;
    fields(f, value.unit);
    f.may("mounting", value.mounting);
    f.may("inrush_a", value.inrush_a, range::positive);
    f.may("load_max_f", value.load_max_f, range::positive);
    f.may("standby_w", value.standby_w, range::not_negative);
    f.may("converts", value.converts);
    f.may("headroom_v", value.headroom_v, range::not_negative);
    f.may("theta_k_per_w", value.theta_k_per_w, range::positive);
    f.may("t_j_max_k", value.t_j_max_k, range::positive);
    f.may("holes", value.holes, Lengths{0, most_holes});
    f.may("screw_depth_m", value.screw_depth_m, range::positive);
    f.may("spots", value.spots, Lengths{0, most_terminals});
    f.may("zones", value.zones, Lengths{0, most_zones});
    f.may("terminals", value.terminals, Lengths{0, most_terminals});
    f.may("mass_kg", value.mass_kg, range::positive);
    f.may("price", value.price, range::not_negative);
    f.may("note", value.note);
    f.demandUniqueNames("zones", value.zones);
    f.demandUniqueNames("terminals", value.terminals);
}

void fields(Fields& f, Shelf& value)
{
    f.need("version", value.version, 1, shelf_version);
    f.may("currency", value.currency);
    f.need("units", value.units, Lengths{0, most_on_shelf});
    if (!f.reading())
        return;
    for (std::size_t i = 0; i < value.units.size(); ++i)
        for (std::size_t k = 0; k < i; ++k)
            if (value.units[i].unit.name == value.units[k].unit.name)
                throw DocumentError(ErrorCode::Inconsistent,
                                    jsonPath(jsonPath(f.path(), "units"), i) + "/name",
                                    "this name stands here already");
}

const ShelfEntry* entryNamed(const std::vector<ShelfEntry>& units, std::string_view name)
{
    const auto found = std::ranges::find(
        units, name, [](const ShelfEntry& entry) { return std::string_view(entry.unit.name); });
    return found == units.end() ? nullptr : &*found;
}

Shelf readShelf(std::string_view text)
{
    const Json document = parseJson(text);
    Fields::expectObject(document, {});
    const auto version = document.find("version");
    if (version != document.end() && version->is_number_integer() &&
        version->get<std::int64_t>() > shelf_version)
        throw DocumentError(ErrorCode::OutOfRange, "/version",
                            "this shelf was written by a newer Offshoot (version " +
                                std::to_string(version->get<std::int64_t>()) + ")");
    return readJson<Shelf>(document, UnknownKeys::Keep);
}

std::string writeShelf(const Shelf& shelf)
{
    return writeJson(shelf, NullPolicy::Omit).dump(1, ' ', false) + '\n';
}

Json shelfSchema()
{
    return schemaOf<Shelf>("Offshoot shelf, version " + std::to_string(shelf_version), UnknownKeys::Keep);
}

namespace {

std::string rangeWords(double low, double high, const char* unit)
{
    const std::string from = significant(low, 4);
    return (low == high ? from : from + " to " + significant(high, 4)) + ' ' + unit;
}

std::string outputWords(const UnitOutput& output)
{
    std::string text = (output.polarity == OutputPolarity::Negative ? "−" : "") +
                       formatValue(output.v, Quantity::Voltage, 4) + ' ' +
                       formatValue(output.rated_a, Quantity::Current);
    if (output.trim_min_v && output.trim_max_v)
        text += ", trims " + rangeWords(*output.trim_min_v, *output.trim_max_v, "V");
    if (output.peak_a)
        text += ", peak " + formatValue(*output.peak_a, Quantity::Current);
    if (output.least_a > 0)
        text += ", at least " + formatValue(output.least_a, Quantity::Current);
    if (output.ripple_v)
        text += ", ripple " + formatValue(*output.ripple_v, Quantity::Voltage);
    if (output.isolated)
        text += ", isolated";
    if (output.bonded != Bond::Unknown)
        text += output.bonded == Bond::None ? ", not bonded" : ", " + phrase(output.bonded) + " bonded";
    return text;
}

} // namespace

std::string shelfWords(const ShelfEntry& entry)
{
    const ShelfUnit& unit = entry.unit;
    std::vector<std::string> parts;
    for (const UnitOutput& output : unit.outputs)
        parts.push_back(outputWords(output));
    std::string input;
    for (const InputRange& range : unit.input.ranges)
        input += (input.empty() ? "" : " or ") + rangeWords(range.min_v, range.max_v, "V") +
                 (range.selector ? " at " + *range.selector : "");
    parts.push_back("from " + input + (unit.input.kind == InputCurrent::Ac ? " AC" : " DC"));
    if (unit.input.f_min_hz && unit.input.f_max_hz)
        parts.push_back(rangeWords(*unit.input.f_min_hz, *unit.input.f_max_hz, "Hz"));
    if (unit.total_w)
        parts.push_back(formatValue(*unit.total_w, Quantity::Power) + " in all");
    if (unit.protection_class)
        parts.emplace_back(*unit.protection_class == 1 ? "class I" : "class II");
    if (unit.enable != EnablePin::None)
        parts.push_back("enable: " + phrase(unit.enable));
    if (unit.size) {
        const BoxSize& size = *unit.size;
        parts.push_back(millimetres(size.x_m) + " × " + millimetres(size.y_m) + " × " +
                        millimetres(size.z_m) + " mm");
    }
    if (entry.screw_depth_m)
        parts.push_back("screws " + millimetres(*entry.screw_depth_m) + " mm into it at most");
    if (entry.mass_kg)
        parts.push_back(significant(*entry.mass_kg, 3) + " kg");
    if (unit.quantity > 1)
        parts.push_back(std::to_string(unit.quantity) + " of them");
    std::string text = unit.name + ": ";
    for (std::size_t i = 0; i < parts.size(); ++i)
        text += (i == 0 ? "" : " · ") + parts[i];
    return text;
}

Supply supplyOf(const ShelfEntry& entry)
{
    const ShelfUnit& unit = entry.unit;
    Supply supply;
    supply.name = unit.name;
    supply.topology_assumed = unit.input.kind == InputCurrent::Ac; // what stays Flyback until somebody looks
    if (unit.input.kind == InputCurrent::Dc)
        supply.topology = Topology::Buck;
    supply.efficiency = unit.efficiency;
    supply.earth_class = unit.protection_class == 1 ? EarthClass::ClassI : EarthClass::ClassII;
    if (unit.input.kind == InputCurrent::Dc) {
        supply.direct.min_v = unit.input.ranges.front().min_v;
        supply.direct.max_v = unit.input.ranges.front().max_v;
    }
    supply.rails.clear();
    for (const UnitOutput& output : unit.outputs) {
        Rail rail;
        rail.name = output.name;
        rail.negative = output.polarity == OutputPolarity::Negative;
        rail.v_v = output.v;
        rail.i_rated_a = output.rated_a;
        rail.trim_min_v = output.trim_min_v;
        rail.trim_max_v = output.trim_max_v;
        supply.rails.push_back(std::move(rail));
    }
    supply.joint.bonded = unit.outputs.front().bonded;
    return supply;
}

std::optional<ShelfEntry> entryOf(const Supply& supply, const Mains& mains)
{
    ShelfEntry entry;
    ShelfUnit& unit = entry.unit;
    unit.name = supply.name;
    unit.efficiency = supply.efficiency;
    if (supply.dcFed()) {
        if (!supply.direct.min_v || !supply.direct.max_v)
            return std::nullopt;
        unit.input = {.kind = InputCurrent::Dc, .ranges = {{*supply.direct.min_v, *supply.direct.max_v}}};
    } else {
        if (mains.v_assumed)
            return std::nullopt;
        unit.input = {.kind = InputCurrent::Ac, .ranges = {{mains.lowest(), mains.highest()}}};
        unit.protection_class = supply.earth_class == EarthClass::ClassI ? 1 : 2;
    }
    for (const Rail& rail : supply.rails) {
        if (!rail.v_v || !rail.i_rated_a || *rail.v_v <= 0 || *rail.i_rated_a <= 0)
            return std::nullopt;
        UnitOutput output{.name = rail.name, .v = *rail.v_v, .rated_a = *rail.i_rated_a};
        output.polarity = rail.negative ? OutputPolarity::Negative : OutputPolarity::Positive;
        const bool around = rail.trim_min_v && rail.trim_max_v && *rail.trim_min_v <= output.v &&
                            output.v <= *rail.trim_max_v;
        if (around) {
            output.trim_min_v = rail.trim_min_v;
            output.trim_max_v = rail.trim_max_v;
        }
        unit.outputs.push_back(std::move(output));
    }
    unit.outputs.front().bonded = supply.joint.bonded;
    return entry;
}

} // namespace offshoot
