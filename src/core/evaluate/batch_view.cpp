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

double medianOf(std::vector<double> values)
{
    std::ranges::sort(values);
    const std::size_t middle = values.size() / 2;
    return values.size() % 2 == 1 ? values[middle] : (values[middle - 1] + values[middle]) / 2;
}

/// Farthest from the median by more than 3.5 times the scaled median deviation (Iglewicz and Hoaglin, 1993)
/// and than what the meter can tell.
std::optional<std::size_t> outOf(const BatchRow& row, const std::vector<double>& known, const Meter& meter)
{
    constexpr std::size_t least = 3;
    constexpr double scale = 1.4826; // of a median deviation to a standard one
    constexpr double far = 3.5;
    if (known.size() < least)
        return std::nullopt;
    const double middle = medianOf(known);
    std::vector<double> away;
    for (const double value : known)
        away.push_back(std::abs(value - middle));
    double most = std::max(far * scale * medianOf(away), 2 * meter.uncertainty(middle, row.quantity));
    std::optional<std::size_t> out;
    for (std::size_t i = 0; i < row.values.size(); ++i)
        if (row.values[i] && std::abs(*row.values[i] - middle) > most) {
            most = std::abs(*row.values[i] - middle);
            out = i;
        }
    return out;
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
        row.out = outOf(row, known, job.meter);
        if (known.size() > 1)
            row.spread = *std::ranges::max_element(known) - *std::ranges::min_element(known);
    }
    return view;
}

} // namespace offshoot
