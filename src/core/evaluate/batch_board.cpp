#include "core/evaluate/batch_board.h"

#include "core/evaluate/step_times.h"
#include "core/kinds/kind.h"
#include "core/values/format.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <map>
#include <numeric>
#include <random>
#include <utility>

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

/// Seconds left of each unit from each of its steps on.
using LeftOver = std::vector<std::vector<double>>;

LeftOver leftOver(const std::vector<BoardUnit>& units)
{
    LeftOver all;
    for (const BoardUnit& unit : units) {
        std::vector<double> left(unit.open.size() + 1, 0);
        for (std::size_t i = unit.open.size(); i-- > 0;)
            left[i] = left[i + 1] + unit.open[i].hands_s + unit.open[i].wait_s;
        all.push_back(std::move(left));
    }
    return all;
}

/// A unit that could go on.
struct Waiting
{
    std::size_t at; ///< which of the units
    const BoardUnit& unit;
    std::size_t next; ///< its step
    bool same;        ///< hands are at it already
    double left_s;
    double idle_s; ///< until it could go on
    const BoardStep& step() const { return unit.open[next]; }
};
/// What goes first; the largest wins, of equals the first.
struct Rule
{
    std::function<double(const Waiting& waiting)> value;
    bool idles = false; ///< hands may wait for a unit while another could go on
};

/// A step in its turn: hundreds of orders are tried, and the words of one are wanted.
struct Turn
{
    std::size_t at;   ///< which of the units
    std::size_t step; ///< which of its open ones
    double from_s;
    double to_s;
    double done_s;
    bool live;
};

std::vector<Turn> carriedOut(const std::vector<BoardUnit>& units, const LeftOver& left, double now_s,
                             bool live_together, const Rule& rule)
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
    std::vector<Turn> plan;
    plan.reserve(std::transform_reduce(units.begin(), units.end(), std::size_t{0}, std::plus{},
                                       [](const BoardUnit& unit) { return unit.open.size(); }));
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
            const double idle_s = std::max(0.0, at[i].ready_s - t_s);
            next_ready_s = std::min(next_ready_s, at[i].ready_s);
            if (idle_s > 0 && !rule.idles)
                continue;
            const double value =
                rule.value({i, units[i], at[i].next, i == before, left[i][at[i].next], idle_s});
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
        t_s = std::max(t_s, now.ready_s);
        const BoardStep& step = units[best].open[now.next];
        now.live = (now.live || step.goes_live) && !step.goes_dead;
        plan.push_back({.at = best,
                        .step = now.next,
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
double switchesOf(const std::vector<Turn>& plan)
{
    double count = 0;
    for (std::size_t i = 1; i < plan.size(); ++i)
        count += plan[i].at != plan[i - 1].at ? 1 : 0;
    return count;
}

/// Of turns or tasks.
double endOf(const auto& plan, double now_s)
{
    double end_s = now_s;
    for (const auto& turn : plan)
        end_s = std::max(end_s, turn.done_s);
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
    std::map<std::string, int> joints; // of each drawing, at the first step that works by it
    for (const Connections& drawing : plannedConnections(one, e))
        joints[drawing.name] = jointsOf(drawing);
    const auto jointsAt = [&joints](const Step& step) {
        if (step.kind != StepKind::Touch)
            return 0;
        const auto drawn = joints.find(step.drawing);
        return drawn != joints.end() ? std::exchange(drawn->second, 0) : step.is(Does::ConnectWire) ? 1 : 0;
    };
    bool first = true;
    for (const StepView& view : e.steps) {
        const double joint_min = joint_minutes * jointsAt(view.step);
        unit.steps.push_back(view.status);
        unit.stages.push_back(view.step.stage);
        if (view.status == StepStatus::Done || e.signed_off)
            continue;
        BoardStep step{.title = view.step.title,
                       .hands_s = (handsMinutes(view.step) + joint_min) * minute_s,
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

/// The most work left first, each step with a weight of its own; so has staying at a unit, and going on with
/// one that is live.
struct Weights
{
    LeftOver steps; ///< of each step
    double stays = 0;
    double goes_on = 0;
    double impatience = 20; ///< with waiting for it
};

Rule weighted(const Weights& weights)
{
    const auto value = [&weights](const Waiting& w) {
        constexpr double hour_s = 3600;
        return w.left_s * weights.steps[w.at][w.next] + (w.same ? weights.stays * hour_s : 0) +
               (w.step().goes_live ? 0 : weights.goes_on * hour_s) - weights.impatience * w.idle_s;
    };
    return {value, true};
}

/// Some of them moved by chance.
Weights moved(Weights weights, std::minstd_rand& random)
{
    const auto share = [&random] {
        return static_cast<double>(random()) / static_cast<double>(std::minstd_rand::max());
    };
    constexpr double one_in = 0.1;
    for (std::vector<double>& unit : weights.steps)
        for (double& weight : unit)
            if (share() < one_in)
                weight = 0.25 + 1.5 * share();
    if (share() < 0.5)
        weights.stays = share();
    if (share() < 0.5)
        weights.goes_on = share();
    constexpr double most_impatient = 20;
    if (share() < 0.5)
        weights.impatience = most_impatient * share();
    return weights;
}

/// "3 h 20 min" of seconds, in whole minutes.
std::string lasts(double t_s) { return formatDuration(std::round(t_s / minute_s) * minute_s); }

} // namespace

double boardLeast(const std::vector<BoardUnit>& units, double now_s, bool live_together)
{
    double hands_s = 0;
    double longest_s = 0;
    double powered_s = 0;
    for (const BoardUnit& unit : units) {
        longest_s = std::max(longest_s, std::max(unit.ready_s - now_s, 0.0) + leftOf(unit, 0));
        bool live = unit.isolation == Isolation::Live;
        bool powered = false; // here; several may be live from before
        for (const BoardStep& step : unit.open) {
            hands_s += step.hands_s;
            powered = powered || (step.goes_live && !live);
            live = (live || step.goes_live) && !step.goes_dead;
            // It holds the others up until hands have made it dead.
            if (powered)
                powered_s += step.hands_s + (step.goes_dead ? 0 : step.wait_s);
            powered = powered && live;
        }
    }
    return std::max({hands_s, longest_s, live_together ? 0 : powered_s});
}

std::vector<BoardTask> boardPlan(const std::vector<BoardUnit>& units, double now_s, bool live_together)
{
    constexpr double first = 1e12;
    const Rule rules[] = {
        {[](const Waiting& w) { return w.left_s; }},
        {[](const Waiting& w) { return w.same ? first : w.left_s; }},
        {[](const Waiting& w) { return w.step().wait_s * 1e3 + w.left_s; }},
        {[](const Waiting& w) { return w.same ? 1 : -static_cast<double>(w.unit.unit); }},
        {[](const Waiting& w) { return -static_cast<double>(w.unit.unit); }},
        // Whoever is live goes on: the others wait for it.
        {[](const Waiting& w) { return (w.step().goes_live ? 0 : first) + w.left_s; }},
    };
    const LeftOver left = leftOver(units);
    std::vector<Turn> best;
    double best_s = std::numeric_limits<double>::infinity();
    // Whether it is no worse than the best so far.
    const auto try_rule = [&](const Rule& rule) {
        auto plan = carriedOut(units, left, now_s, live_together, rule);
        // A rule that leaves steps undone is no plan.
        const double end_s = endOf(plan, now_s) + minute_s * switchesOf(plan);
        if (plan.size() < best.size() || (plan.size() == best.size() && end_s > best_s))
            return false;
        if (plan.size() > best.size() || end_s < best_s) {
            best_s = end_s;
            best = std::move(plan);
        }
        return true;
    };
    for (const Rule& rule : rules)
        try_rule(rule);
    // From the most work left on uphill: some tens of milliseconds for twelve units. The same every time.
    constexpr int most = 600;
    const double least_s = boardLeast(units, now_s, live_together);
    Weights weights{.steps = left};
    for (std::vector<double>& unit : weights.steps)
        std::ranges::fill(unit, 1.0);
    std::minstd_rand random(1);
    for (int i = 0; i < most && endOf(best, now_s) - now_s > least_s; ++i) {
        Weights next = moved(weights, random);
        if (try_rule(weighted(next)))
            weights = std::move(next);
    }
    std::vector<BoardTask> plan;
    plan.reserve(best.size());
    for (const Turn& turn : best)
        plan.push_back({.unit = units[turn.at].unit,
                        .title = units[turn.at].open[turn.step].title,
                        .from_s = turn.from_s,
                        .to_s = turn.to_s,
                        .done_s = turn.done_s,
                        .live = turn.live});
    return plan;
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
    board.least_s = boardLeast(board.units, now_s, job.batch.live_together);
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
