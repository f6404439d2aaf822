#include "core/values/verdict.h"

#include <cmath>

namespace offshoot {

bool atMost(double value, double limit) { return value <= limit + limit_share * std::abs(limit); }

bool atLeast(double value, double limit) { return value >= limit - limit_share * std::abs(limit); }

Verdict judgeUse(double use, UseBounds bounds)
{
    if (atMost(use, bounds.fits))
        return Verdict::Fits;
    return atMost(use, bounds.tight) ? Verdict::Tight : Verdict::Breaks;
}

Verdict judgeUse(std::optional<double> use, UseBounds bounds)
{
    return use ? judgeUse(*use, bounds) : Verdict::Unknown;
}

int badness(Verdict verdict)
{
    switch (verdict) {
    case Verdict::Fits:
        return 0;
    case Verdict::Tight:
        return 1;
    case Verdict::Unknown:
        return 2;
    case Verdict::Breaks:
        return 3;
    }
    return 0;
}

Verdict judgeWithin(double value, double min, double max)
{
    return within(value, min, max) ? Verdict::Fits : Verdict::Breaks;
}

Verdict worse(Verdict a, Verdict b) { return badness(a) >= badness(b) ? a : b; }

std::optional<double> useOf(std::optional<double> value, std::optional<double> limit)
{
    if (!value || !limit)
        return std::nullopt;
    return *value / *limit;
}

} // namespace offshoot
