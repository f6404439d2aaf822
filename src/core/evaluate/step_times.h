// How long the steps of a job take.
#pragma once

#include "core/procedure/procedure.h"

namespace offshoot {

/// Minutes that somebody practised is at it; usual figures. What it waits for is not among them.
double handsMinutes(const Step& step);

} // namespace offshoot
