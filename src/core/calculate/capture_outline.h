// A stretch of a capture as a picture shows it.
#pragma once

#include "core/calculate/capture_study.h"

namespace offshoot {

/// Of the samples from one time to another, in seconds after the trace's first, in `columns` at most; one
/// sample beyond either end is taken in, so that lines lead out of the picture. Empty where none lies
/// between.
CaptureOutline outlineOf(const CaptureTrace& trace, double from_s, double to_s, std::size_t columns);

} // namespace offshoot
