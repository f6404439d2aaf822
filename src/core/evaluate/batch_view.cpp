#include "core/evaluate/batch_view.h"

#include "core/job/readings.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace offshoot {

namespace {

/// The window a step asks of this point under this load.
std::optional<ReadingWindow> windowAsked(const Evaluation& evaluation, const LogEntry& entry)
{
    for (const StepView& view : evaluation.steps)
        if (view.step.stage == Stage::BringUp || view.step.stage == Stage::SignOff)
            for (const Asked& asked : view.step.asks) {
                const double asked_a = asked.load_a.value_or(0);
                const double load_a = loadAmps(entry).value_or(0);
                if (asked.window && asked.answeredBy(*entry.point, entry.quantity) &&
                    std::abs(asked_a - load_a) <= 0.1 * std::max(asked_a, load_a))
                    return asked.window;
            }
    return std::nullopt;
}

} // namespace

BatchView batchView(const Job& job, const Evaluation& evaluation)
{
    BatchView view;
    const auto struck = struckIds(job.log);
    std::vector<const LogEntry*> readings;
    std::set<std::string> units{"1"};
    for (const LogEntry& entry : job.log)
        if (entry.kind == LogKind::Reading && entry.stage != ReadingStage::Found &&
            !struck.contains(entry.id)) {
            readings.push_back(&entry);
            units.insert(entry.unit.value_or("1"));
        }
    view.units.assign(units.begin(), units.end());
    for (const LogEntry* entry : readings) {
        const std::string load = loadText(*entry);
        auto row = std::ranges::find_if(view.rows, [&](const BatchRow& r) {
            return r.point == *entry->point && r.load == load && r.quantity == *entry->quantity;
        });
        if (row == view.rows.end()) {
            view.rows.push_back({*entry->point,
                                 load,
                                 *entry->quantity,
                                 std::vector<std::optional<double>>(view.units.size()),
                                 {},
                                 windowAsked(evaluation, *entry),
                                 std::vector<Verdict>(view.units.size(), Verdict::Unknown)});
            row = std::prev(view.rows.end());
        }
        const auto unit = static_cast<std::size_t>(std::ranges::find(view.units, entry->unit.value_or("1")) -
                                                   view.units.begin());
        row->values[unit] = entry->value;
        row->verdicts[unit] = judgeReading({.value = *entry->value,
                                            .window = row->window,
                                            .uncertainty = entry->uncertainty.value_or(0)})
                                  .verdict;
    }
    for (BatchRow& row : view.rows) {
        std::vector<double> known;
        for (const auto& value : row.values)
            if (value)
                known.push_back(*value);
        if (known.size() > 1)
            row.spread = *std::ranges::max_element(known) - *std::ranges::min_element(known);
    }
    return view;
}

} // namespace offshoot
