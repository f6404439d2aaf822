// `mains.windings`: every way to connect the primaries of a transformer for a mains voltage, with the flux,
// the power left, what the secondaries give, what stays open and live, and the tests that prove the phase.
//
// A string is segments of different windings in series aiding; a connection is one string, or several alike
// in parallel. Flux goes as V/f (Faraday's law for a sine).
#pragma once

#include "core/calculate/mains_evidence.h"
#include "core/supply/mains_parts.h"

#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace offshoot {

/// Of the flux against the rated one (V/f over V_rated/f_rated), and of how far a secondary lies off its
/// rated voltage, as a share of it.
inline constexpr UseBounds flux_bounds{1.05, 1.10};
inline constexpr UseBounds secondary_bounds{0.05, 0.10};

struct WindingsInput
{
    std::vector<Primary> primaries;
    double f_rated_hz;
    double va;
    std::vector<Secondary> secondaries = {};
    std::optional<double> regulation = {}; ///< open-circuit rise
    MainsTarget target;
    double spread_rated = usual_mains_spread; ///< the windings were made for
    double test_v_v = 12;
    std::int64_t limit = 20;
};
void fields(Fields& f, WindingsInput& in);

enum class ConnectionKind { Single, Series, Parallel, SeriesParallel };
template <>
struct Words<ConnectionKind>
{
    static constexpr std::array<std::string_view, 4> list{"single", "series", "parallel", "series_parallel"};
};

enum class WindingHazard {
    SeriesReversed,
    ParallelReversed,
    OverFlux,
    SecondaryHigh,
    SecondaryLow,
    OpenAboveMains,
};
template <>
struct Words<WindingHazard>
{
    static constexpr std::array<std::string_view, 6> list{"series_reversed", "parallel_reversed",
                                                          "over_flux",       "secondary_high",
                                                          "secondary_low",   "open_above_mains"};
};

struct Segment
{
    std::string winding;
    std::string from;
    std::string to;
    double v_v;
};
void fields(Fields& f, Segment& out);

struct SecondaryVolts
{
    std::string name;
    double v_v;
    std::optional<double> v_open_v;
};
void fields(Fields& f, SecondaryVolts& out);

/// A winding not wholly used: its free leads are live.
struct OpenWinding
{
    std::string winding;
    double v_v;
};
void fields(Fields& f, OpenWinding& out);

struct Connection
{
    ConnectionKind kind;
    std::vector<std::vector<Segment>> strings;
    std::vector<std::pair<std::string, std::string>> links; ///< inside the strings
    std::vector<std::string> feed_a;
    std::vector<std::string> feed_b;
    double v_rated_v;
    double v_scale;
    double flux;
    double flux_top;
    Verdict verdict;
    Verdict secondary_verdict;
    double i_allowed_a;
    double va_share;
    std::optional<double> va_share_copper;
    std::optional<double> copper_current_use;
    double line_a;
    double line_allowed_a;
    std::vector<SecondaryVolts> secondaries;
    std::vector<OpenWinding> open;
    std::vector<WindingHazard> hazards;
    std::optional<double> gap_wrong_v; ///< last link open, wrong way round, fed with the test voltage

    /// Of the primary and the secondaries.
    Verdict worst() const { return worse(verdict, secondary_verdict); }
};
void fields(Fields& f, Connection& out);

/// Two windings in series, fed with a low voltage: the reading tells like ends.
struct PhaseTest
{
    std::string a;
    std::string b;
    std::pair<std::string, std::string> join;
    std::pair<std::string, std::string> read;
    double feed_v;
    double sum_v;        ///< read where the starts are like ends
    double difference_v; ///< where they are not
};
void fields(Fields& f, PhaseTest& out);

struct WindingsResult
{
    std::int64_t count;                  ///< of all connections
    std::vector<Connection> connections; ///< the best of them
    std::vector<std::string> assumed;    ///< windings whose current was taken from the rating
    std::vector<PhaseTest> phase_tests;
};
void fields(Fields& f, WindingsResult& out);

/// V of a string is the sum of its segments'; flux goes as (V/V_rated)·(f_rated/f); counts all
/// connections and gives the best. Throws nothing.
WindingsResult mainsWindings(const WindingsInput& in);

} // namespace offshoot
