// `readout.check`: is what a readout shows true, by readings beside it? What would cure it: its zero, its
// gain, both, or nothing that can be turned?
#pragma once

#include "core/values/verdict.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// What was shown, and what was true: read directly, or as the voltage across a known resistance.
struct ReadoutPoint
{
    double shown;
    std::optional<double> truth = {};
    double u_truth = 0;
    std::optional<double> across_v = {};
    double u_v = 0;
};
void fields(Fields& f, ReadoutPoint& value);

struct KnownResistance
{
    double ohm;
    double tolerance = 0;
    bool operator==(const KnownResistance&) const = default;
};
void fields(Fields& f, KnownResistance& value);

/// What its maker claims: a share of the reading, and counts of a resolution.
struct ReadoutClaim
{
    double reading_fraction = 0;
    double counts = 0;
    double resolution = 0;
    bool operator==(const ReadoutClaim&) const = default;
};
void fields(Fields& f, ReadoutClaim& value);

struct ReadoutCheckInput
{
    std::vector<ReadoutPoint> points; ///< 1 to 200, all of one kind
    std::optional<KnownResistance> through = {};
    std::optional<ReadoutClaim> claim = {};
    double resolution = 0; ///< of the readout
};
void fields(Fields& f, ReadoutCheckInput& in);

struct CheckedPoint
{
    double shown;
    double truth;
    double u_truth;
    double error;
    std::optional<double> allowed;
    Verdict verdict;
};
void fields(Fields& f, CheckedPoint& out);

enum class ReadoutCure { NothingNeeded, Offset, Gain, Both, Neither };
template <>
struct Words<ReadoutCure>
{
    static constexpr std::array<std::string_view, 5> list{"nothing_needed", "offset", "gain", "both",
                                                          "neither"};
};

struct ReadoutCheckResult
{
    std::vector<CheckedPoint> points;
    std::optional<double> gain; ///< shown = offset + gain·truth by least squares
    std::optional<double> offset;
    std::optional<double> worst_residual;
    std::optional<ReadoutCure> cured_by;
    Verdict verdict;
};
void fields(Fields& f, ReadoutCheckResult& out);

/// A point is judged with the doubt of its truth and half a step of the readout.
ReadoutCheckResult readoutCheck(const ReadoutCheckInput& in);

} // namespace offshoot
