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
        std::optional<Quantity> quantity = {}; ///< which of what is asked; absent: the first
    };
    static constexpr std::array<Pair, 11> pairs{
        {{"behind the limiter", "found.lamp_output", "bringup.lamp_output"},
         {"no load", "found.no_load", "bringup.no_load"},
         {"light load", "found.light", "bringup.light"},
         {"half load", "found.half", "bringup.half"},
         {"full load", "found.full", "bringup.full"},
         {"peak load", "", "bringup.peak"},
         {"ripple, full load", "found.ripple", "bringup.ripple"},
         {"mains current, full load", "found.line", "bringup.line"},
         {"temperature", "found.line", "bringup.ripple", Quantity::Temperature},
         {"real load", "", "signoff.output"},
         {"at the load", "", "signoff.at_load"}}};
    const auto find = [&](std::string_view id) -> const StepView* {
        const auto at =
            std::ranges::find_if(evaluation.steps, [&](const StepView& v) { return v.step.id == id; });
        return at == evaluation.steps.end() ? nullptr : &*at;
    };
    // Its place among what the step asks; nothing where it does not ask for it.
    const auto place = [](const StepView* view, const Pair& pair) -> std::optional<std::size_t> {
        if (view == nullptr)
            return std::nullopt;
        for (std::size_t i = 0; i < view->step.asks.size(); ++i)
            if (!pair.quantity || view->step.asks[i].quantity == *pair.quantity)
                return i;
        return std::nullopt;
    };
    const auto reading = [](const StepView* view,
                            const std::optional<std::size_t>& at) -> const TakenReading* {
        return at && *at < view->readings.size() && view->readings[*at] ? &*view->readings[*at] : nullptr;
    };
    std::vector<BeforeAfter> rows;
    for (const Pair& pair : pairs) {
        const StepView* before = find(pair.found);
        const StepView* after = find(pair.measured);
        const auto asked_before = place(before, pair);
        const auto asked_after = place(after, pair);
        const bool steps = before != nullptr || after != nullptr;
        if (!steps || (pair.quantity && !asked_before)) // what is not compared has its row in its step
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
        if (asked_after)
            row.quantity = after->step.asks[*asked_after].quantity;
        else if (asked_before)
            row.quantity = before->step.asks[*asked_before].quantity;
        if (asked_after)
            row.planned = after->step.asks[*asked_after].window;
        const TakenReading* found = reading(before, asked_before);
        const TakenReading* measured = reading(after, asked_after);
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
