// The wiring card: one page for the bench and for inside the lid.
#pragma once

#include "core/kinds/replace/wiring_view.h"

#include <string>

namespace offshoot {

/// A4, in millimetres: every wire with its colour, what was measured and its terminal; what is left over; the
/// selector, the enable pins and the set points. `date` as it is to be read.
std::string wiringCard(const Job& job, const std::string& date);

} // namespace offshoot
