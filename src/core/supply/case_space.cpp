#include "core/supply/case_space.h"

namespace offshoot {

void fields(Fields& f, BoxSize& value)
{
    f.need("x_m", value.x_m, range::positive);
    f.need("y_m", value.y_m, range::positive);
    f.need("z_m", value.z_m, range::positive);
}

namespace {

template <typename Box>
void boxFields(Fields& f, Box& value)
{
    f.need("name", value.name);
    f.need("x_m", value.x_m);
    f.need("y_m", value.y_m);
    f.need("z_m", value.z_m);
    f.need("dx_m", value.dx_m, range::positive);
    f.need("dy_m", value.dy_m, range::positive);
    f.need("dz_m", value.dz_m, range::positive);
}

} // namespace

void fields(Fields& f, NamedBox& value) { boxFields(f, value); }

void fields(Fields& f, KeptPart& value)
{
    boxFields(f, value);
    f.may("surface", value.surface);
}

std::string phrase(Surface surface)
{
    static constexpr std::array<std::string_view, Words<Surface>::list.size()> phrases{
        "as the case", "earthed metal", "metal, not earthed", "insulating"};
    return std::string(phrases.at(static_cast<std::size_t>(surface)));
}

void fields(Fields& f, RoundHole& value)
{
    f.need("x_m", value.x_m);
    f.need("y_m", value.y_m);
    f.need("d_m", value.d_m, range::positive);
}

void fields(Fields& f, FloorPoint& value)
{
    f.need("x_m", value.x_m);
    f.need("y_m", value.y_m);
}

void fields(Fields& f, CaseSpace& value)
{
    constexpr std::size_t most_boxes = 100;
    constexpr std::size_t most_holes = 200;
    f.need("inside", value.inside);
    f.may("keep_out", value.keep_out, Lengths{0, most_boxes});
    f.may("vents", value.vents, Lengths{0, most_boxes});
    f.may("holes", value.holes, Lengths{0, most_holes});
    f.may("mains_from", value.mains_from);
    f.may("output_from", value.output_from);
    f.may("clear_m", value.clear_m, range::not_negative);
    f.may("floor_m", value.floor_m, range::not_negative);
    f.may("earthed_metal", value.earthed_metal);
    f.demandUniqueNames("keep_out", value.keep_out);
}

} // namespace offshoot
