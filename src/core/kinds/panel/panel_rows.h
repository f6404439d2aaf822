// What a front is judged by.
#pragma once

#include "core/kinds/panel/panel_letters.h"
#include "core/kinds/panel/panel_view.h"

namespace offshoot {

/// Adds the rows of the planned panel to the view whose items are placed, and each item's worst verdict.
void judgePanel(const Job& job, const std::vector<Letters>& planned, PanelView& view);

} // namespace offshoot
