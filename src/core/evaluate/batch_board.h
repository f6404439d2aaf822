// A batch at work: where each unit stands, what can go on while another drains or warms up, and the order
// that ends soonest.
#pragma once

#include "core/evaluate/evaluation.h"

#include <cstddef>
#include <string>
#include <vector>

namespace offshoot {

/// One open step of a unit.
struct BoardStep
{
    std::string title;
    double hands_s; ///< somebody is at it
    double wait_s;  ///< then it goes on by itself
    bool goes_live = false;
    bool goes_dead = false;
};

struct BoardUnit
{
    std::size_t unit; ///< from 1
    Isolation isolation;
    bool signed_off;
    std::vector<StepStatus> steps; ///< of every step, in order
    std::vector<Stage> stages;     ///< likewise
    std::vector<BoardStep> open;
    double ready_s; ///< when the wait it is in ends, since 1970; now where it is in none
};

/// Somebody at a step of a unit, and what then goes on by itself.
struct BoardTask
{
    std::size_t unit;
    std::string title;
    double from_s;
    double to_s;   ///< hands free
    double done_s; ///< waited out
    bool live;
};

struct BatchBoard
{
    std::vector<BoardUnit> units;
    std::vector<BoardTask> plan;
    double ends_s = 0;       ///< since 1970
    double one_by_one_s = 0; ///< how long it would take one after the other
    double least_s = 0;      ///< no order takes less: all the hands, the longest unit, what is live by turns
    std::string sentence;
};
/// Times of steps are those of `ways`: minutes as a practised person takes.
BatchBoard batchBoard(const Job& job, double now_s);

/// One pair of hands at steps in their order, units live one at a time or together: the best of several rules
/// of precedence, and from there uphill by chance. Units begin when they are ready.
std::vector<BoardTask> boardPlan(const std::vector<BoardUnit>& units, double now_s, bool live_together);

/// No order takes less, in seconds: all the hands, the longest unit, or one after the other what is powered.
double boardLeast(const std::vector<BoardUnit>& units, double now_s, bool live_together);

/// Units that are live, but for one.
std::vector<std::size_t> otherUnitsLive(const Job& job, std::size_t unit, double now_s);

} // namespace offshoot
