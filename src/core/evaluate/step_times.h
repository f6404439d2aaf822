// How long the steps of a job take.
#pragma once

#include "core/procedure/procedure.h"
#include "core/supply/connections.h"

namespace offshoot {

/// A joint or a wire end; a usual figure.
inline constexpr double joint_minutes = 6;
/// Of a drawing: each part that goes in has two ends; a wire of a list has one that is done here.
int jointsOf(const Connections& connections);

/// Minutes that somebody practised is at it, without its joints; usual figures. What it waits for is not
/// among them.
double handsMinutes(const Step& step);

} // namespace offshoot
