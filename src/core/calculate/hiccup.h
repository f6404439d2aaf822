// Why does it hiccup? Five causes look alike from outside: a controller that starves, an overload, a short, a
// limiter lamp too small, and a missing minimum load. Each is held against everything that is known.
//
// Nothing is scored: a fact speaks for a cause, against it, or not at all. One fact against rules a cause
// out; a cause with something for it and nothing against is likely. What nobody has looked at stays possible
// and says which observation would settle it.
#pragma once

#include "core/values/verdict.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

enum class HiccupCause { Starvation, Overload, Short, LampTooSmall, MissingMinimumLoad };
template <>
struct Words<HiccupCause>
{
    static constexpr std::array<std::string_view, 5> list{"starvation", "overload", "short", "lamp_too_small",
                                                          "missing_minimum_load"};
};
enum class Likelihood { Likely, Possible, RuledOut };
template <>
struct Words<Likelihood>
{
    static constexpr std::array<std::string_view, 3> list{"likely", "possible", "ruled_out"};
};

/// What is seen and what is known. Absent: nobody has looked, or no rating was read.
struct HiccupInput
{
    std::optional<bool> lamp_in = {};         ///< a limiter lamp is in series now
    std::optional<bool> stops_lamp_out = {};  ///< it runs without the lamp
    std::optional<bool> stops_unloaded = {};  ///< it runs with the load taken off
    std::optional<bool> stops_with_load = {}; ///< a light resistive load makes it run
    std::optional<bool> reaches_output = {};  ///< each burst reaches the full output voltage
    std::optional<double> output_ohm = {};    ///< across the output, unplugged and proven dead
    std::optional<double> v_cc_v = {};        ///< predicted controller supply at the lowest output
    std::optional<double> off_v = {};         ///< its lockout
    std::optional<double> load_a = {};
    std::optional<double> allowed_a = {};
    std::optional<double> lamp_use = {};     ///< input power over what the lamp lets through
    std::optional<double> least_load_a = {}; ///< that the rail needs, from readings
};
void fields(Fields& f, HiccupInput& in);

struct HiccupExplanation
{
    HiccupCause cause;
    Likelihood likelihood;
    std::vector<std::string> speaks_for;
    std::vector<std::string> speaks_against;
    std::string next; ///< what to look at or measure next to settle this one
};
void fields(Fields& f, HiccupExplanation& out);

struct HiccupResult
{
    std::vector<HiccupExplanation> causes; ///< likely, possible, ruled out; causes in their order within each
};
void fields(Fields& f, HiccupResult& out);

/// The five causes, each with what speaks for it, against it and would settle it; unknown facts speak for
/// nothing. Throws nothing.
HiccupResult explainHiccup(const HiccupInput& in);

} // namespace offshoot
