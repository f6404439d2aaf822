// The steps that connect the primaries of a mains transformer anew.
#pragma once

#include "core/kinds/windings/windings_view.h"
#include "core/procedure/change_procedure.h"

namespace offshoot::kind {

/// Adds the steps that connect the primaries as planned, prove their phase and read the secondaries.
void connectWindings(ChangeProcedure& p, const WindingsView& view);
void measureSecondaries(ChangeProcedure& p, const WindingsView& view);

} // namespace offshoot::kind
