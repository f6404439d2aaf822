#include "core/evaluate/batch_board.h"

#include "core/evaluate/step_times.h"
#include "core/values/format.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <random>

namespace offshoot {

namespace {

constexpr double minute_s = 60;

double leftOf(const BoardUnit& unit, std::size_t from)
{
    double sum = 0;
    for (std::size_t i = from; i < unit.open.size(); ++i)
        sum += unit.open[i].hands_s + unit.open[i].wait_s;
    return sum;
}

/// What goes first among the units that could go on; the largest wins, of equals the first.
using Rule = std::function<double(const BoardUnit& unit, std::size_t next, bool same_as_before)>;

std::vector<BoardTask> carriedOut(const std::vector<BoardUnit>& units, double now_s, bool live_together,
                                  const Rule& rule)
{
    struct At
    {
        std::size_t next = 0;
        double ready_s;
        bool live;
    };
    std::vector<At> at;
    for (const BoardUnit& unit : units)
        at.push_back({.ready_s = std::max(unit.ready_s, now_s), .live = unit.isolation == Isolation::Live});
    std::vector<BoardTask> plan;
    double t_s = now_s;
    std::size_t before = units.size();
    while (true) {
        std::size_t best = units.size();
        double best_value = -std::numeric_limits<double>::infinity();
        double next_ready_s = std::numeric_limits<double>::infinity();
        for (std::size_t i = 0; i < units.size(); ++i) {
            if (at[i].next == units[i].open.size())
                continue;
            const bool power = units[i].open[at[i].next].goes_live && !at[i].live;
            const bool barred = power && !live_together && std::ranges::any_of(at, &At::live);
            if (barred)
                continue;
            if (at[i].ready_s > t_s) {
                next_ready_s = std::min(next_ready_s, at[i].ready_s);
                continue;
            }
            const double value = rule(units[i], at[i].next, i == before);
            if (value > best_value) {
                best = i;
                best_value = value;
            }
        }
        if (best == units.size()) {
            if (!std::isfinite(next_ready_s))
                return plan; // done, or live units that will never be dead stand in the way
            t_s = next_ready_s;
            continue;
        }
        At& now = at[best];
        const BoardStep& step = units[best].open[now.next];
        now.live = (now.live || step.goes_live) && !step.goes_dead;
        plan.push_back({.unit = units[best].unit,
                        .title = step.title,
                        .from_s = t_s,
                        .to_s = t_s + step.hands_s,
                        .done_s = t_s + step.hands_s + step.wait_s,
                        .live = now.live});
        t_s += step.hands_s;
        now.ready_s = t_s + step.wait_s;
        ++now.next;
        before = best;
    }
}

/// Taking another unit in hand costs a minute: of orders that end alike the one that stays at a unit is
/// better.
double switchesOf(const std::vector<BoardTask>& plan)
{
    double count = 0;
    for (std::size_t i = 1; i < plan.size(); ++i)
        count += plan[i].unit != plan[i - 1].unit ? 1 : 0;
    return count;
}

double endOf(const std::vector<BoardTask>& plan, double now_s)
{
    double end_s = now_s;
    for (const BoardTask& task : plan)
        end_s = std::max(end_s, task.done_s);
    return end_s;
}

BoardUnit boardUnit(const Job& job, std::size_t number, double now_s)
{
    const Job one = unitOfBatch(job, number);
    const Evaluation e = evaluate(one, now_s);
    BoardUnit unit{.unit = number,
                   .isolation = e.isolation.state,
                   .signed_off = e.signed_off,
                   .steps = {},
                   .stages = {},
                   .open = {},
                   .ready_s = now_s};
    bool first = true;
    for (const StepView& view : e.steps) {
        unit.steps.push_back(view.status);
        unit.stages.push_back(view.step.stage);
        if (view.status == StepStatus::Done || e.signed_off)
            continue;
        BoardStep step{.title = view.step.title,
                       .hands_s = handsMinutes(view.step) * minute_s,
                       .wait_s = view.step.wait_s.value_or(0),
                       .goes_live = view.step.kind == StepKind::Power,
                       .goes_dead = view.step.kind == StepKind::Isolate};
        // A wait runs from what was logged last.
        if (first && step.wait_s > 0 && !one.log.empty()) {
            unit.ready_s = std::max(now_s, one.log.back().time_s + step.wait_s);
            step.wait_s = 0;
        }
        first = false;
        unit.open.push_back(std::move(step));
    }
    return unit;
}

/// No order is shorter: all the hands, the longest unit, or what is live one after the other.
double leastSeconds(const std::vector<BoardUnit>& units, double now_s, bool live_together)
{
    double hands_s = 0;
    double longest_s = 0;
    double live_s = 0;
    for (const BoardUnit& unit : units) {
        longest_s = std::max(longest_s, std::max(unit.ready_s - now_s, 0.0) + leftOf(unit, 0));
        bool live = unit.isolation == Isolation::Live;
        for (const BoardStep& step : unit.open) {
            hands_s += step.hands_s;
            live = live || step.goes_live;
            // It holds the others up until hands have made it dead.
            if (live)
                live_s += step.hands_s + (step.goes_dead ? 0 : step.wait_s);
            live = live && !step.goes_dead;
        }
    }
    return std::max({hands_s, longest_s, live_together ? 0 : live_s});
}

/// Rules by chance around that of the most work left: each step of a unit gets its own weight, and so does
/// staying at a unit. The same for every seed.
Rule drawnRule(std::uint32_t seed)
{
    const auto share = [seed](std::size_t unit, std::size_t step) {
        constexpr std::uint32_t apart = 2654435761U; // Knuth's multiplier
        std::minstd_rand random(seed * apart + static_cast<std::uint32_t>(unit * 1009 + step) + 1);
        random.discard(2);
        return static_cast<double>(random()) / static_cast<double>(std::minstd_rand::max());
    };
    const double stays = share(0, 0);
    const double goes_on = share(0, 1);
    return [share, stays, goes_on](const BoardUnit& unit, std::size_t next, bool same) {
        constexpr double hour_s = 3600;
        const double weight = 0.5 + share(unit.unit, next);
        return leftOf(unit, next) * weight + (same ? stays * hour_s : 0) +
               (unit.open[next].goes_live ? 0 : goes_on * hour_s);
    };
}

/// "3 h 20 min" of seconds, in whole minutes.
std::string lasts(double t_s) { return formatDuration(std::round(t_s / minute_s) * minute_s); }

} // namespace

std::vector<BoardTask> boardPlan(const std::vector<BoardUnit>& units, double now_s, bool live_together)
{
    const auto wait_of = [](const BoardUnit& unit, std::size_t next) { return unit.open[next].wait_s; };
    std::vector<Rule> rules{
        [](const BoardUnit& unit, std::size_t next, bool) { return leftOf(unit, next); },
        [](const BoardUnit& unit, std::size_t next, bool same) { return same ? 1e12 : leftOf(unit, next); },
        [&](const BoardUnit& unit, std::size_t next, bool) {
            return wait_of(unit, next) * 1e3 + leftOf(unit, next);
        },
        [](const BoardUnit& unit, std::size_t, bool same) { return same ? 1 : -double(unit.unit); },
        [](const BoardUnit& unit, std::size_t, bool) { return -double(unit.unit); },
        // Whoever is live goes on: the others wait for it.
        [](const BoardUnit& unit, std::size_t next, bool) {
            const bool goes_on = !unit.open[next].goes_live;
            return (goes_on ? 1e12 : 0) + leftOf(unit, next);
        },
    };
    constexpr std::uint32_t drawn = 60; // about a millisecond for twelve units
    for (std::uint32_t seed = 0; seed < drawn; ++seed)
        rules.push_back(drawnRule(seed));
    std::vector<BoardTask> best;
    double best_s = std::numeric_limits<double>::infinity();
    for (const Rule& rule : rules) {
        auto plan = carriedOut(units, now_s, live_together, rule);
        // A rule that leaves steps undone is no plan.
        const double end_s = endOf(plan, now_s) + minute_s * switchesOf(plan);
        if (plan.size() > best.size() || (plan.size() == best.size() && end_s < best_s)) {
            best_s = end_s;
            best = std::move(plan);
        }
    }
    return best;
}

BatchBoard batchBoard(const Job& job, double now_s)
{
    BatchBoard board;
    for (std::size_t unit = 1; unit <= batchUnits(job); ++unit)
        board.units.push_back(boardUnit(job, unit, now_s));
    board.plan = boardPlan(board.units, now_s, job.batch.live_together);
    board.ends_s = endOf(board.plan, now_s);
    for (const BoardUnit& unit : board.units)
        board.one_by_one_s += unit.ready_s - now_s + leftOf(unit, 0);
    board.least_s = leastSeconds(board.units, now_s, job.batch.live_together);
    if (board.units.size() < 2) {
        board.sentence = "Several units that get the same change are worked on side by side: say how many.";
        return board;
    }
    if (board.plan.empty()) {
        board.sentence = "Every unit is done.";
        return board;
    }
    const BoardTask& next = board.plan.front();
    board.sentence = next.from_s > now_s + 1
                         ? "Nothing for hands for " + lasts(next.from_s - now_s) + ", then unit "
                         : "Next: unit ";
    board.sentence +=
        std::to_string(next.unit) + ", " + next.title + ". All done in " + lasts(board.ends_s - now_s) +
        (board.ends_s - now_s < board.least_s + 1 ? ", which no order beats"
                                                  : "; no order takes less than " + lasts(board.least_s)) +
        "; one after the other it would be " + lasts(board.one_by_one_s) + ".";
    return board;
}

std::vector<std::size_t> otherUnitsLive(const Job& job, std::size_t unit, double now_s)
{
    std::vector<std::size_t> live;
    for (std::size_t other = 1; other <= batchUnits(job); ++other) {
        if (other == unit)
            continue;
        const Job one = unitOfBatch(job, other);
        if (isolationAt(one.log, energyModel(one), now_s).state == Isolation::Live)
            live.push_back(other);
    }
    return live;
}

} // namespace offshoot
