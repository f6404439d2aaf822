// The stations of a supply, along the way of its energy.
#pragma once

#include "core/values/fields.h"

namespace offshoot {

/// Where power passes, from the inlet to the load; Feedback carries none and is drawn as a loop.
enum class Station {
    Inlet,
    Fuse,
    Inrush,
    InputRectifier,
    Reservoir,
    Converter,
    Transformer,
    OutputRectifier,
    Smoothing,
    Cable,
    Load,
    Feedback,
};
template <>
struct Words<Station>
{
    static constexpr std::array<std::string_view, 12> list{
        "inlet",     "fuse",      "inrush",      "input_rectifier",
        "reservoir", "converter", "transformer", "output_rectifier",
        "smoothing", "cable",     "load",        "feedback"};
};
inline constexpr std::size_t station_count = Words<Station>::list.size();

} // namespace offshoot
