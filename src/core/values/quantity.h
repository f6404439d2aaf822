// Values as people write them: "4k7", "0R22", "100n", "1/4W", "1.5mm2", "AWG18", "27V6", "25 °C".
#pragma once

#include "core/values/fields.h"
#include "core/values/parsed.h"

#include <optional>
#include <string_view>
#include <vector>

namespace offshoot {

enum class Quantity {
    Resistance,
    Capacitance,
    Inductance,
    Voltage,
    Current,
    Power,
    Frequency,
    Time,
    Length,
    Area,
    WireSize,
    Temperature,
    Energy,                ///< joules
    SquaredCurrentTime,    ///< A²s: what a fuse lets through or bears
    TemperatureDifference, ///< kelvins, also a thermistor's B value
    Number,                ///< without a unit
};
template <>
struct Words<Quantity>
{
    static constexpr std::array<std::string_view, 16> list{"resistance",
                                                           "capacitance",
                                                           "inductance",
                                                           "voltage",
                                                           "current",
                                                           "power",
                                                           "frequency",
                                                           "time",
                                                           "length",
                                                           "area",
                                                           "wire_size",
                                                           "temperature",
                                                           "energy",
                                                           "squared_current_time",
                                                           "temperature_difference",
                                                           "number"};
};

struct ParsedValue
{
    double value;                     ///< SI unit of the quantity
    std::vector<double> parts;        ///< resistance: ohms of each part as written
    std::optional<double> diameter_m; ///< wire size: of a round conductor
};

inline constexpr double seconds_per_day = 86400;

/// Reads one value of the quantity. Bare numbers are in the SI unit; what could be read in two ways
/// ("4,700", "10MF") is refused with the reason. At most 200 characters.
Parsed<ParsedValue> parseValue(std::string_view text, Quantity quantity);

/// Cross-section of American wire gauge `n` (0 for 1/0, −1 for 2/0 …), in m². d = 0.127 mm·92^((36−n)/39).
double awgArea(int n);

struct ValueParseInput
{
    std::string text;
    Quantity quantity;
};
void fields(Fields& f, ValueParseInput& in);
struct ValueParseResult
{
    double value;
    std::optional<std::vector<double>> parts;
    std::optional<double> diameter_m;
};
void fields(Fields& f, ValueParseResult& out);
/// `value.parse`. Throws DocumentError at /text.
ValueParseResult valueParse(const ValueParseInput& in);

} // namespace offshoot
