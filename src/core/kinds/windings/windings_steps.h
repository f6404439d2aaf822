// The steps that connect the primaries of a mains transformer anew.
#pragma once

#include "core/kinds/windings/windings_view.h"
#include "core/procedure/change_procedure.h"

namespace offshoot::kind {

void connectWindings(ChangeProcedure& p, const WindingsView& view);
void measureSecondaries(ChangeProcedure& p, const WindingsView& view);

} // namespace offshoot::kind
