#include "demo_shelf.h"

#include "core/values/figures.h"

#include <algorithm>
#include <stdexcept>

namespace offshoot {

namespace {

using offshoot::lengths::mm;

/// Sizes in millimetres: holes in the corners, so far from the edges.
void holes(ShelfEntry& entry, double in_mm, double d_mm)
{
    const BoxSize& size = *entry.unit.size;
    for (const double x_m : {in_mm * mm, size.x_m - in_mm * mm})
        for (const double y_m : {in_mm * mm, size.y_m - in_mm * mm})
            entry.holes.push_back({x_m, y_m, d_mm * mm});
}

/// Terminals along its front: mains first, then two screws for each output.
void terminals(ShelfEntry& entry, double screw_a, std::int64_t wires)
{
    const bool ac = entry.unit.input.kind == InputCurrent::Ac;
    constexpr double thinnest_m2 = 0.5e-6;
    constexpr double thickest_m2 = 4e-6;
    const auto add = [&](const std::string& name, const std::string& function, bool must, std::int64_t most) {
        entry.terminals.push_back({.name = name,
                                   .function = function,
                                   .rated_a = screw_a,
                                   .max_wires = most,
                                   .area_min_m2 = thinnest_m2,
                                   .area_max_m2 = thickest_m2,
                                   .must = must});
    };
    if (ac) {
        if (entry.unit.protection_class == 1)
            add("PE", "PE", true, 1);
        add("L", "L", true, 1);
        add("N", "N", true, 1);
    } else {
        add("IN +", "feed +", true, wires);
        add("IN -", "feed return", true, wires);
    }
    for (const UnitOutput& output : entry.unit.outputs) {
        add(output.name + " out", output.name, true, wires);
        add(output.name + " return", output.name + " return", true, wires);
    }
    if (entry.unit.enable != EnablePin::None)
        add("EN", "enable", true, 1);
    const BoxSize& size = *entry.unit.size;
    constexpr double screwdriver_mm = 25;
    entry.zones.push_back({.name = "terminals",
                           .x_m = 0,
                           .y_m = -screwdriver_mm * mm,
                           .z_m = 0,
                           .dx_m = size.x_m,
                           .dy_m = screwdriver_mm * mm,
                           .dz_m = size.z_m});
}

/// Its screws in a row along the front, mains at the left.
void spots(ShelfEntry& entry)
{
    const BoxSize& size = *entry.unit.size;
    constexpr double in_mm = 9;
    const auto count = static_cast<double>(entry.terminals.size());
    double at = 0.5;
    for (const NewTerminal& terminal : entry.terminals) {
        entry.spots.push_back({.terminal = terminal.name,
                               .x_m = size.x_m * at / count,
                               .y_m = std::min(in_mm * mm, size.y_m / 2),
                               .z_m = size.z_m / 2});
        at += 1;
    }
}

/// By what its rectifier and filter draw at the crest, cold, and what its slow start bears.
void habits(ShelfEntry& entry, Mounting mounting)
{
    entry.mounting = mounting;
    if (entry.unit.input.kind != InputCurrent::Ac)
        return;
    double power_w = 0;
    for (const UnitOutput& output : entry.unit.outputs)
        power_w += output.v * output.rated_a;
    entry.inrush_a = power_w > 200 ? 45 : power_w > 60 ? 35 : 25;
    entry.load_max_f = power_w > 200 ? 20e-3 : 6.8e-3;
    entry.standby_w = power_w > 200 ? 4 : 0.5;
}

void fan(ShelfEntry& entry)
{
    const BoxSize& size = *entry.unit.size;
    constexpr double air_mm = 30;
    entry.zones.push_back({.name = "fan",
                           .x_m = 0,
                           .y_m = size.y_m,
                           .z_m = 0,
                           .dx_m = size.x_m,
                           .dy_m = air_mm * mm,
                           .dz_m = size.z_m});
}

ShelfEntry& add(Shelf& shelf, const char* plate, const char* note)
{
    const auto entry = readPlateLine(plate);
    if (!entry)
        throw std::logic_error(std::string(plate) + ": " + entry.problem().message);
    ShelfEntry& made = shelf.units.emplace_back(*entry);
    made.note = note;
    return made;
}

/// Full up to 50 °C, half at 70 °C, as most open ones are.
const std::vector<DeratingPoint> usual_derating{{323.15, 1}, {343.15, 0.5}};

} // namespace

Shelf demoShelf()
{
    Shelf shelf;
    const auto board = [&](const char* plate, const char* note) {
        ShelfEntry& entry = add(shelf, plate, note);
        entry.unit.derating = usual_derating;
        holes(entry, 4, 3.2);
        terminals(entry, 10, 1);
        spots(entry);
        habits(entry, Mounting::OpenBoard);
    };
    const auto caged = [&](const char* plate, const char* note) {
        ShelfEntry& entry = add(shelf, plate, note);
        entry.unit.derating = usual_derating;
        holes(entry, 12, 3.5);
        terminals(entry, std::max(16.0, entry.unit.outputs.front().rated_a), 2);
        if (entry.unit.outputs.front().rated_a > 16)
            for (NewTerminal& terminal : entry.terminals)
                if (terminal.function != "L" && terminal.function != "N" && terminal.function != "PE") {
                    terminal.max_wires = 9; // a bar with a row of screws
                    terminal.area_max_m2 = 16e-6;
                }
        spots(entry);
        habits(entry, Mounting::Cage);
    };
    const auto module = [&](const char* plate, const char* note) {
        ShelfEntry& entry = add(shelf, plate, note);
        holes(entry, 2.5, 2.2);
        terminals(entry, 5, 1);
        spots(entry);
        habits(entry, Mounting::Module);
    };
    board(
        "Dunlet 25: 5V 5A ±3% peak 6A ripple 80mV bonded none 90-264V 47-63Hz class 2 99x51x28 80% 0.15kg x3",
        "open board");
    board("Dunlet 60: 12V 5A ±3% trim 11-13.2 peak 6A ripple 100mV bonded none 90-264V 47-63Hz class 1 "
          "101x51x30 86% 0.21kg",
          "open board");
    board("Dunlet 60-24: 24V 2.5A ±2% trim 21.6-26.4 ripple 120mV bonded none 90-264V 47-63Hz class 1 "
          "101x51x30 87% 0.21kg x2",
          "open board");
    board("Dunlet 15: 15V 1.2A ±2% trim 14.2-15.8 isolated bonded none ripple 60mV 90-264V 47-63Hz class 1 "
          "88x46x26 82% 0.12kg x2",
          "open board, its output free of everything");
    caged("Oyster 40: 5V 4A ±3% least 0.2A ripple 80mV 12V 1.5A ±5% ripple 120mV 40W 88-264V 47-63Hz class 1 "
          "97x100x38 78% 0.35kg",
          "cage with terminals");
    caged("Oyster 75: 5V 8A ±3% least 0.5A ripple 80mV 12V 3A ±6% ripple 120mV -12V 0.5A ±6% ripple 120mV "
          "75W 115/230V 47-63Hz class 1 129x97x38 77% 0.42kg",
          "cage with terminals and a selector");
    caged("Oyster 100: 24V 4.2A ±1% trim 21.6-28.8 ripple 120mV bonded none 88-264V 47-63Hz class 1 "
          "129x97x30 screws 4mm 88% 0.35kg x2",
          "cage with terminals");
    caged("Oyster 150: 24V 6.5A ±1% trim 21.6-28.8 ripple 150mV bonded none 115/230V 47-63Hz class 1 "
          "159x97x38 86% 0.5kg",
          "cage with terminals and a selector");
    caged("Oyster 350: 48V 7.3A ±1% trim 41-56 ripple 200mV bonded none 115/230V 47-63Hz class 1 215x115x30 "
          "screws 3mm 88% 0.8kg",
          "cage with terminals");
    fan(shelf.units.back());
    add(shelf,
        "Winkle 12: 12V 1A ±5% isolated bonded none ripple 120mV 100-240V 47-63Hz class 2 75x45x32 80% "
        "0.12kg x4",
        "sealed adapter");
    add(shelf,
        "Winkle 36: 12V 3A ±5% isolated bonded none ripple 120mV 100-240V 47-63Hz class 2 90x50x33 85% 0.2kg",
        "sealed adapter");
    add(shelf,
        "Winkle 65: 19.5V 3.34A ±4% bonded negative ripple 150mV 100-240V 47-63Hz class 1 108x46x30 87% "
        "0.28kg x2",
        "sealed adapter, its shell on the plug's earth");
    caged("Cormorant 480: 48V 10A ±1% trim 42-57 least 0.5A ripple 250mV bonded none 5V 1A ±5% bonded none "
          "90-264V 47-63Hz class 1 enable low 270x105x41 91% 1.2kg",
          "rack unit, 5 V standby");
    fan(shelf.units.back());
    caged("Cormorant 720: 12V 60A ±2% trim 11.4-12.9 least 1A ripple 120mV bonded negative 12V 1.5A ±5% "
          "180-264V 47-63Hz class 1 enable resistor 265x100x40 92% 1.3kg",
          "rack unit, 12 V standby");
    fan(shelf.units.back());
    caged("Gannet 300: 5V 20A ±5% least 1A ripple 50mV bonded negative 3.3V 14A ±5% least 0.3A bonded "
          "negative 12V 12A ±5% least 0.5A ripple 120mV bonded negative -12V 0.3A ±10% bonded negative 5V 2A "
          "±5% bonded negative 300W 115/230V 47-63Hz class 1 enable jumper 150x140x86 75% 1.6kg",
          "computer type, standby rail");
    fan(shelf.units.back());
    caged(
        "Turnstone 24: 24V 1A ±10% ripple 1.5V bonded negative 207-253V 47-63Hz class 1 100x80x70 55% 1.1kg",
        "iron transformer, linear");
    module("Sprat 5: 5V 1A ±2% ripple 50mV dc 7-28V 20x14x6 90% x5", "buck module, fixed");
    module("Sprat L: 5V 0.5A ±2% ripple 1mV dc 7-18V 22x10x12 45% x3", "linear module, three legs");
    module("Sprat L9: 9V 1A ±2% ripple 1mV dc 11-35V 22x10x12 50% x2", "linear module, on a small heatsink");
    module("Sprat 9: 9V 1A ±2% ripple 40mV dc 11-30V 20x14x6 92% x2", "buck module, fixed");
    module("Periwinkle 12: 12V 1.5A ±3% ripple 100mV dc 5-10V 43x21x14 88%", "boost module");
    module("Periwinkle BB: 12V 2A ±3% trim 1.2-30 ripple 100mV dc 5-30V 52x26x14 85%",
           "up and down, adjustable");
    module("Limpet 3: 12V 3A ±2% trim 1.25-30 ripple 60mV dc 6-36V 43x21x14 88% x2",
           "buck module, adjustable");
    module("Limpet 10: 12V 10A ±1% trim 1.2-36 ripple 50mV dc 10-65V 65x57x21 92%",
           "adjustable volts and amperes, with a readout");
    constexpr double hot_k = 398.15; // 125 °C
    for (ShelfEntry& entry : shelf.units) {
        const std::string& note = entry.note;
        if (entry.mounting == Mounting::Module)
            entry.converts = note.starts_with("linear")  ? ModuleKind::Linear
                             : note.starts_with("boost") ? ModuleKind::Boost
                             : note.starts_with("up")    ? ModuleKind::BuckBoost
                                                         : ModuleKind::Buck;
        if (entry.converts == ModuleKind::Linear) {
            entry.headroom_v = 2;
            entry.theta_k_per_w = 19;
            entry.t_j_max_k = hot_k;
        } else if (entry.converts == ModuleKind::Buck) {
            entry.headroom_v = 1.5;
        }
        if (entry.note.starts_with("sealed"))
            habits(entry, Mounting::Adapter);
        else if (entry.note.starts_with("rack"))
            entry.mounting = Mounting::Rack;
        else if (entry.note.starts_with("computer"))
            entry.mounting = Mounting::Computer;
    }
    return shelf;
}

} // namespace offshoot
