// Drill template and adapter plate at true scale, on sheets of A4: tiled with marks where one is too small.
#pragma once

#include "core/kinds/replace/fit_view.h"
#include "core/kinds/sheet_drawing.h"

namespace offshoot {

/// The floor from above with the unit's holes: to drill, reused, and old ones beside them.
TemplateSheets drillTemplate(const Job& job, std::size_t unit);
/// A plate that is screwed on by the old holes and carries the unit.
TemplateSheets adapterPlate(const Job& job, std::size_t unit);

} // namespace offshoot
