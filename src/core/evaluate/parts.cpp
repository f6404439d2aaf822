#include "core/evaluate/parts.h"

#include "core/kinds/kind.h"
#include "core/values/figures.h"

namespace offshoot {

std::vector<PartLine> partsOf(const Job& job, const Evaluation& evaluation)
{
    PartList list = plannedParts(job, evaluation);
    for (const StepView& view : evaluation.steps)
        if (view.step.discharge)
            list.addTool("discharge resistor " + formatOhms(view.step.discharge->ohm) + ", " +
                             watts(view.step.discharge->rated_w),
                         "discharging");
    if (evaluation.lamp_w && !job.found.dcFed())
        list.addTool("limiter lamp " + watts(*evaluation.lamp_w), "first power");
    return list.take();
}

} // namespace offshoot
