// What stands in for the load on the bench: resistors that can be bought, sized for the unit at hand.
#pragma once

#include "core/job/job.h"

#include <limits>
#include <optional>
#include <string>

namespace offshoot {

/// A load that can be bought: preferred ohms, the watts it must bear, and what it draws.
struct TestLoad
{
    double ohm;
    double power_w;
    double rated_w;
    double current_a;
    std::string text() const;
};
/// For `current_a` at `v_v`, both above zero: the nearest E24 value that draws no more than `most_a`, rated
/// for half as much again.
TestLoad testLoad(double v_v, double current_a, double most_a = std::numeric_limits<double>::infinity());

/// What a rail may give at `v_v`: less than its plate where its parts were read and bear less; nothing where
/// nobody knows.
std::optional<double> bearable(const Supply& supply, const Rail& rail, std::optional<double> v_v);

/// What the test loads of one unit are sized by, before the change or after it.
struct LoadLevel
{
    std::optional<double> v_v;      ///< what the output gives
    std::optional<double> wanted_a; ///< by the need; of units side by side each its even share
    std::optional<double> bears_a;  ///< what the weakest unit at hand may give, where that is known

    /// No more than the unit bears; all that it bears where the need says nothing.
    std::optional<double> fullAmps() const;
    /// The need asks for more than the unit may be loaded with.
    bool held() const;
    std::optional<TestLoad> load(double share) const;
    /// Whether a resistor of the other level does here too, for this share of the full load.
    bool servedBy(double ohm, double share) const;
};

/// By the plates, what the parts bear and the need, not by what is predicted: readings move that, and the
/// loads are clipped on before them.
struct TestLoads
{
    LoadLevel found;
    LoadLevel planned;

    const LoadLevel& at(bool changed) const { return changed ? planned : found; }
    /// This share of the full load before the change or after it: one resistor wherever one serves both.
    std::optional<TestLoad> load(double share, bool changed) const;
};
/// Of the first unit of the job, which the plan makes `planned`; the other units as weak as the weakest.
TestLoads testLoadsOf(const Job& job, const Supply& planned);

} // namespace offshoot
