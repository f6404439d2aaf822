// The four verdicts and the comparisons behind them: one place for what "within" and "at the limit" mean.
#pragma once

#include "core/values/fields.h"

#include <functional>
#include <optional>

namespace offshoot {

enum class Verdict { Fits, Tight, Breaks, Unknown };
template <>
struct Words<Verdict>
{
    static constexpr std::array<std::string_view, 4> list{"fits", "tight", "breaks", "unknown"};
};

/// Values this close (relative) to a limit count as at it.
inline constexpr double limit_share = 1e-9;
bool atMost(double value, double limit);
bool atLeast(double value, double limit);
inline bool within(double value, double min, double max) { return atLeast(value, min) && atMost(value, max); }

/// Bounds on use = planned/limit: fits up to the first, tight up to the second, else breaks.
struct UseBounds
{
    double fits;
    double tight;
};
inline constexpr UseBounds default_bounds{0.80, 1.00};
inline constexpr UseBounds resistor_power_bounds{0.50, 1.00};

Verdict judgeUse(double use, UseBounds bounds = default_bounds);
/// Unknown when there is no use, because a limit is not known.
Verdict judgeUse(std::optional<double> use, UseBounds bounds = default_bounds);

/// Order of badness: breaks, unknown, tight, fits.
int badness(Verdict verdict);
Verdict worse(Verdict a, Verdict b);
/// Fits from `min` to `max`, breaks outside.
Verdict judgeWithin(double value, double min, double max);
/// The worst of the verdicts that `verdict_of` takes from each item; fits where there is none.
template <class Range, class VerdictOf>
Verdict worstOf(const Range& items, VerdictOf verdict_of)
{
    Verdict worst = Verdict::Fits;
    for (const auto& item : items)
        worst = worse(worst, std::invoke(verdict_of, item));
    return worst;
}

/// value/limit, or nothing where either is absent.
std::optional<double> useOf(std::optional<double> value, std::optional<double> limit);

} // namespace offshoot
