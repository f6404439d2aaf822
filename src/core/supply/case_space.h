// Boxes and holes in metres: a case from its inner corner, x to the right, y to the back, z up.
#pragma once

#include "core/values/fields.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct BoxSize
{
    double x_m;
    double y_m;
    double z_m;
    bool operator==(const BoxSize&) const = default;
};
void fields(Fields& f, BoxSize& value);

/// A box with its lower corner: something in the way, or room that must stay free.
struct NamedBox
{
    std::string name;
    double x_m;
    double y_m;
    double z_m = 0;
    double dx_m;
    double dy_m;
    double dz_m;
    bool operator==(const NamedBox&) const = default;
};
void fields(Fields& f, NamedBox& value); ///< its corner may lie outside of what it belongs to

/// What a thing in a case shows to mains terminals that come near it.
enum class Surface {
    AsCase, ///< taken for what the case is: nobody said
    EarthedMetal,
    OtherMetal, ///< not earthed, or tied to an output
    Insulating,
};
template <>
struct Words<Surface>
{
    static constexpr std::array<std::string_view, 4> list{"as_case", "earthed_metal", "other_metal",
                                                          "insulating"};
};
/// "earthed metal".
std::string phrase(Surface surface);

/// What stays in a case.
struct KeptPart
{
    std::string name;
    double x_m;
    double y_m;
    double z_m = 0;
    double dx_m;
    double dy_m;
    double dz_m;
    Surface surface = Surface::AsCase;
    NamedBox box() const { return {name, x_m, y_m, z_m, dx_m, dy_m, dz_m}; }
    bool operator==(const KeptPart&) const = default;
};
void fields(Fields& f, KeptPart& value);

/// In metres from the corner of what it is in.
struct RoundHole
{
    double x_m;
    double y_m;
    double d_m;
    bool operator==(const RoundHole&) const = default;
};
void fields(Fields& f, RoundHole& value);

/// On the floor.
struct FloorPoint
{
    double x_m;
    double y_m;
    bool operator==(const FloorPoint&) const = default;
};
void fields(Fields& f, FloorPoint& value);

/// The inside of the case that a unit sits in, as measured.
struct CaseSpace
{
    BoxSize inside;
    std::vector<KeptPart> keep_out = {};        ///< what stays in it
    std::vector<NamedBox> vents = {};           ///< openings that must stay free
    std::vector<RoundHole> holes = {};          ///< in its floor
    std::optional<FloorPoint> mains_from = {};  ///< where the mains wires are held
    std::optional<FloorPoint> output_from = {}; ///< and those of the outputs
    double clear_m = 0.005;                     ///< wanted around a unit
    double floor_m = 0.001;                     ///< thickness of the floor
    bool earthed_metal = true;                  ///< else hands or insulation are what is nearest
    Json unknown = {};
    bool operator==(const CaseSpace&) const = default;
};
void fields(Fields& f, CaseSpace& value);

} // namespace offshoot
