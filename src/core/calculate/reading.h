// Is a reading good, given what the meter can know?
#pragma once

#include "core/values/verdict.h"

#include <optional>

namespace offshoot {

struct MeterAccuracy
{
    double reading_fraction; ///< share of the reading, 0.005 for 0.5 %
    double counts = 0;       ///< of the last digit
    double resolution = 0;   ///< one count, in the unit of the value
    /// u = reading_fraction·|value| + counts·resolution, as datasheets of meters state it.
    double uncertainty(double value) const;
    Json unknown = {};
    bool operator==(const MeterAccuracy&) const = default;
};
void fields(Fields& f, MeterAccuracy& value);

struct ReadingWindow
{
    std::optional<double> min;
    std::optional<double> max;
    bool operator==(const ReadingWindow&) const = default;
};
void fields(Fields& f, ReadingWindow& value);

struct ReadingJudgeInput
{
    struct Through
    {
        double ohm;
        double tolerance = 0;
    };
    struct Other
    {
        double value;
        std::optional<MeterAccuracy> meter = {};
        std::optional<double> uncertainty = {};
    };
    double value;
    std::optional<ReadingWindow> window = {};
    std::optional<MeterAccuracy> meter = {};
    std::optional<double> uncertainty = {};
    std::optional<Through> through = {}; ///< value is a voltage across it; the current is judged
    std::optional<Other> other = {};
    bool same_meter = false;
};
void fields(Fields& f, ReadingJudgeInput& in);

enum class Place { Below, Inside, Above };
template <>
struct Words<Place>
{
    static constexpr std::array<std::string_view, 3> list{"below", "inside", "above"};
};
enum class DifferenceVerdict { Real, WithinAccuracy };
template <>
struct Words<DifferenceVerdict>
{
    static constexpr std::array<std::string_view, 2> list{"real", "within_accuracy"};
};

struct ReadingJudgement
{
    struct Difference
    {
        double difference;
        double difference_u;
        DifferenceVerdict difference_verdict;
    };
    double value; ///< the judged one: amperes when read through a resistor
    double u;
    bool u_known;
    Verdict verdict;
    std::optional<Place> place;
    std::optional<double> margin; ///< to the nearer edge, negative outside
    bool meter_too_coarse;
    std::optional<Difference> other;
};
void fields(Fields& f, ReadingJudgement& out);

/// `reading.judge`: fits when value ± u is inside the window, breaks when entirely outside, else tight.
ReadingJudgement judgeReading(const ReadingJudgeInput& in);

} // namespace offshoot
