#include "core/evaluate/parts.h"

#include "core/kinds/kind.h"
#include "core/values/csv_rows.h"
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

std::string writePartsCsv(const std::vector<PartLine>& parts)
{
    const auto yes = [](bool on) { return on ? "yes" : "no"; };
    std::string text = "part,where,replaces,to_get,tool\n";
    for (const PartLine& part : parts)
        text += csv::joined({part.name, part.where, part.replaces, yes(part.to_get), yes(part.tool)});
    return text;
}

} // namespace offshoot
