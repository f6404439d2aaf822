// Readouts held against something better: the display of a unit, or the person's own meter.
#pragma once

#include "core/calculate/readout_check.h"
#include "core/values/quantity.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// What it showed, and what was true beside it.
struct ReadoutPair
{
    double shown;
    double truth;                 ///< of amperes through a known resistance: the volts across it
    std::optional<double> u = {}; ///< the doubt of that; absent: of the bench meter, of its own readout none
    Json unknown = {};
    bool operator==(const ReadoutPair&) const = default;
};
void fields(Fields& f, ReadoutPair& value);

struct HeldReadout
{
    std::string name;
    Quantity shows = Quantity::Voltage; ///< volts, amperes or ohms
    bool own_meter = false;             ///< it is the bench meter of the job
    std::optional<KnownResistance> through = {};
    std::vector<ReadoutPair> points = {};
    std::optional<ReadoutClaim> claim = {};
    Json unknown = {};
    bool operator==(const HeldReadout&) const = default;
};
void fields(Fields& f, HeldReadout& value);

struct Meter;
/// What is held against what, for `readout.check`; nothing without points.
std::optional<ReadoutCheckInput> readoutInput(const HeldReadout& readout, const Meter& meter);
/// "its zero cures it".
std::string cureWords(ReadoutCure cure);

} // namespace offshoot
