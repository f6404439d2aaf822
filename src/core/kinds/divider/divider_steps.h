// The steps that change the feedback divider.
#pragma once

#include "core/kinds/divider/temporary_trimmer.h"
#include "core/procedure/change_procedure.h"

#include <optional>

namespace offshoot::kind {

/// What its steps need to know.
struct DividerChange
{
    /// The changed leg, worst case: by itself, and in circuit, where the other leg may stand beside it.
    struct Leg
    {
        OhmRange alone;
        double in_circuit_min_ohm;
    };
    std::optional<Leg> leg;
    std::optional<TrimmerUse> trimmer;
};
/// What the plan does to the divider, worked out once for its steps.
DividerChange dividerChange(const Job& job, const Figures& figures);
/// Adds the steps from the temporary trimmer to the fixed part.
void changeDivider(ChangeProcedure& p, const DividerChange& change);

} // namespace offshoot::kind
