// core/values/figures.h for the window.
#pragma once

#include "core/values/figures.h"
#include "ui/look.h"

namespace offshoot::ui {

inline QString volts(double v_v) { return qs(offshoot::volts(v_v)); }
inline QString amps(double i_a) { return qs(offshoot::amps(i_a)); }
inline QString watts(double p_w) { return qs(offshoot::watts(p_w)); }

} // namespace offshoot::ui
