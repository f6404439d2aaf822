// The file of an oscilloscope or a logger: headings, then the time and one column or more.
#pragma once

#include "core/values/fields.h"
#include "core/values/quantity.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace offshoot {

inline constexpr std::size_t least_samples = 16;
inline constexpr std::size_t most_samples = 1000000;

/// Samples at even times.
struct CaptureTrace
{
    double from_s;
    double dt_s;
    std::vector<double> values;
};

/// A column by its heading, or by its number behind the time, from 1.
using CaptureColumnName = Fields::NumberOrText;

/// Reads a column of numbers and the time, which is taken for seconds. Throws DocumentError at `at`/csv or
/// `at`/column.
CaptureTrace readCapture(std::string_view csv, const CaptureColumnName& column, const std::string& at = "");

/// What the headings say of a column.
struct CaptureHeading
{
    std::string name; ///< as written; empty of a file without headings
    std::string unit; ///< as written, in brackets behind the name or in a row of units; empty where none is
    std::optional<Quantity> quantity; ///< of the unit: volts, amperes or time
    double factor = 1;                ///< SI units per number
};
/// The time first. Throws DocumentError at /csv where there is no data.
std::vector<CaptureHeading> captureHeadings(std::string_view csv);

} // namespace offshoot
