#include "core/evaluate/before_after.h"

#include <algorithm>
#include <array>

namespace offshoot {

std::vector<BeforeAfter> beforeAfter(const Evaluation& evaluation)
{
    struct Pair
    {
        const char* name;
        const char* found;
        const char* measured;
    };
    static constexpr std::array<Pair, 9> pairs{
        {{"behind the limiter", "found.lamp_output", "bringup.lamp_output"},
         {"no load", "found.no_load", "bringup.no_load"},
         {"light load", "found.light", "bringup.light"},
         {"half load", "found.half", "bringup.half"},
         {"full load", "found.full", "bringup.full"},
         {"peak load", "", "bringup.peak"},
         {"ripple, full load", "found.ripple", "bringup.ripple"},
         {"real load", "", "signoff.output"},
         {"at the load", "", "signoff.at_load"}}};
    const auto find = [&](std::string_view id) -> const StepView* {
        const auto at =
            std::ranges::find_if(evaluation.steps, [&](const StepView& v) { return v.step.id == id; });
        return at == evaluation.steps.end() ? nullptr : &*at;
    };
    const auto reading = [](const StepView* view) -> const TakenReading* {
        return view != nullptr && !view->readings.empty() && view->readings.front() ? &*view->readings.front()
                                                                                    : nullptr;
    };
    std::vector<BeforeAfter> rows;
    for (const Pair& pair : pairs) {
        const StepView* before = find(pair.found);
        const StepView* after = find(pair.measured);
        if (before == nullptr && after == nullptr)
            continue;
        BeforeAfter row{.name = pair.name,
                        .found = {},
                        .found_u = {},
                        .planned = {},
                        .measured = {},
                        .measured_u = {},
                        .verdict = {},
                        .difference = {},
                        .is = {}};
        const StepView* any = after != nullptr ? after : before;
        if (!any->step.asks.empty())
            row.quantity = any->step.asks.front().quantity;
        if (after != nullptr && !after->step.asks.empty())
            row.planned = after->step.asks.front().window;
        const TakenReading* found = reading(before);
        const TakenReading* measured = reading(after);
        if (found != nullptr) {
            row.found = found->value;
            row.found_u = found->u;
        }
        if (measured != nullptr) {
            row.measured = measured->value;
            row.measured_u = measured->u;
            row.verdict = measured->judgement.verdict;
        }
        if (found != nullptr && measured != nullptr) {
            const auto judged = judgeReading(
                {.value = measured->value,
                 .uncertainty = measured->u,
                 .other = ReadingJudgeInput::Other{.value = found->value, .uncertainty = found->u}});
            row.difference = judged.other->difference;
            row.is = judged.other->difference_verdict;
        }
        rows.push_back(std::move(row));
    }
    return rows;
}

} // namespace offshoot
