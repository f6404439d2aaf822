#include "core/rehearse/rehearsal_end.h"

#include "core/values/figures.h"
#include "core/values/format.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

/// "mains_v" 230: the name ends in its unit.
std::pair<std::string, std::string> truthLine(const std::string& name, double value)
{
    const std::size_t at = name.rfind('_');
    const std::string unit = name.substr(at + 1);
    std::string words = name.substr(0, at);
    std::ranges::replace(words, '_', ' ');
    const std::string text = unit == "v"     ? formatValue(value, Quantity::Voltage, 4)
                             : unit == "ohm" ? formatValue(value, Quantity::Resistance, 4)
                             : unit == "f"   ? formatValue(value, Quantity::Capacitance)
                             : unit == "hz"  ? formatValue(value, Quantity::Frequency, 4)
                             : unit == "k"   ? formatValue(value, Quantity::Temperature)
                             : unit == "s"   ? formatDuration(value)
                             : unit == "w"   ? formatValue(value, Quantity::Power)
                                             : plainNumber(value);
    return {unit == "f" ? words + " capacitance" : words, text};
}

std::string toldBy(const PlayedMove& move)
{
    if (!move.outside())
        return {};
    const BenchReading& reading = *move.answer.reading;
    return pointText(move.answer) + " read " + readingText(reading) + ", wanted " +
           windowText(*move.window, reading.quantity) + (move.because.empty() ? "" : ": " + move.because) +
           ".";
}

/// Of a poor lead its own reading tells, not those of the units that make up for it.
bool speaksOf(const UnitFault& fault, const PlayedMove& move)
{
    return fault.kind != UnitFaultKind::PoorLead || fault.part == "#" + std::to_string(move.answer.move.unit);
}

} // namespace

std::string faultSentence(const UnitFault& fault)
{
    switch (fault.kind) {
    case UnitFaultKind::None:
        return "Nothing was wrong with it.";
    case UnitFaultKind::Open:
        return "A part of the divider was open: " + fault.part + ".";
    case UnitFaultKind::Short:
        return "A part of the divider was shorted: " + fault.part + ".";
    case UnitFaultKind::DecadeUp:
        return "A part of ten times its value was fitted: " + fault.part + ".";
    case UnitFaultKind::DecadeDown:
        return "A part of a tenth of its value was fitted: " + fault.part + ".";
    case UnitFaultKind::WrongLeg:
        return "A part was fitted across the other leg: " + fault.part + ".";
    case UnitFaultKind::Reference:
        return "Its reference is another one: " + volts(fault.v_v.value_or(0)) + ".";
    case UnitFaultKind::NoEarth:
        return "Its protective earth was not connected.";
    case UnitFaultKind::OpenBleeder:
        return "The bleeder of its reservoirs was open: they kept their charge.";
    case UnitFaultKind::DriedCapacitor:
        return "Its output capacitor had dried out.";
    case UnitFaultKind::ShortedInput:
        return "Its input was shorted behind the fuse.";
    case UnitFaultKind::LeakyCapacitor:
        return "Its reservoir leaked: it drew watts that went nowhere.";
    case UnitFaultKind::OpenLink:
        return "A link or wire of the change was left open.";
    case UnitFaultKind::SwappedWires:
        return "The two wires of its output were in each other's place.";
    case UnitFaultKind::PoorLead:
        return "The lead of unit " + fault.part + " had a poor joint: it gave less than its share.";
    }
    return {};
}

std::string moveText(const BenchMove& move)
{
    if (move.unit > 1) {
        BenchMove own = move;
        own.unit = 1;
        return "#" + std::to_string(move.unit) + ": " + moveText(own);
    }
    const std::string at = move.point.empty() ? "" : " " + move.point;
    switch (move.kind) {
    case MoveKind::PlugIn:
        return "power on";
    case MoveKind::Unplug:
        return "power off";
    case MoveKind::LampIn:
        return "limiter in";
    case MoveKind::LampOut:
        return "limiter out";
    case MoveKind::Load:
        return move.value ? "load" + at + " " + formatOhms(*move.value) : "load" + at + " off";
    case MoveKind::Probe:
        return "volts at" + at;
    case MoveKind::Ohms:
        return "ohms at" + at;
    case MoveKind::Discharge:
        return "drained" + at + " through " + formatOhms(move.value.value_or(0)) +
               (move.time_s ? " for " + formatDuration(*move.time_s) : std::string());
    case MoveKind::Screwdriver:
        return "a blade across" + at;
    case MoveKind::Hand:
        return "a hand on" + at;
    case MoveKind::OpenCase:
        return "case opened";
    case MoveKind::CloseCase:
        return "case closed";
    case MoveKind::Fit:
        return "the change fitted";
    case MoveKind::Adjust:
        return "trimmed" + at + " to " + volts(move.value.value_or(0));
    case MoveKind::Wait:
        return "waited " + formatDuration(move.value.value_or(0));
    case MoveKind::ConnectLoad:
        return std::string("the load connected") + (move.open ? ", its fuse out" : "") +
               (move.reversed ? ", reversed" : "");
    case MoveKind::Look:
        return "looked";
    case MoveKind::Capture:
        return move.point + " captured";
    case MoveKind::DisconnectLoad:
        return "the load taken off";
    case MoveKind::OpenBond:
        return "the output's bond opened";
    case MoveKind::Join:
        return "the outputs joined";
    case MoveKind::FuseIn:
        return "the battery's fuse in";
    }
    return {};
}

std::string windowText(const ReadingWindow& window, Quantity quantity)
{
    const auto edge = [quantity](double v) { return formatValue(v, quantity, 4); };
    if (window.min && window.max)
        return edge(*window.min) + " to " + edge(*window.max);
    return window.min ? "at least " + edge(*window.min) : window.max ? "at most " + edge(*window.max) : "";
}

std::string pointText(const BenchAnswer& answer) { return atUnit(answer.reading->point, answer.move.unit); }

std::string readingText(const BenchReading& reading)
{
    if (!reading.value)
        return "overload";
    return reading.quantity == Quantity::Voltage && std::abs(*reading.value) >= 1
               ? volts(*reading.value)
               : formatValue(*reading.value, reading.quantity, 4);
}

RehearsalEnd rehearsalEnd(const RehearsedJob& rehearsed, const std::optional<UnitFault>& guess)
{
    const UnitFault& fault = rehearsed.benches().fault();
    RehearsalEnd end{.fault = faultSentence(fault),
                     .guessed = !guess            ? ""
                                : *guess == fault ? "You named it."
                                                  : "You named another: " + faultSentence(*guess),
                     .told_by = {},
                     .wrongs = {},
                     .missed = rehearsed.titlesToCome(),
                     .time = formatDuration(rehearsed.bench().timeS()) + " on the bench",
                     .truth = {}};
    for (const PlayedMove& move : rehearsed.played().moves) {
        if (end.told_by.empty() && speaksOf(fault, move))
            end.told_by = toldBy(move);
        if (!move.answer.wrong || !move.answer.wrong->first)
            continue;
        const int times = rehearsed.benches().wrongs().at(move.answer.wrong->what);
        end.wrongs.push_back(phrase(move.answer.wrong->what) +
                             (times > 1 ? ", " + std::to_string(times) + " times" : "") + ": " +
                             move.answer.wrong->would);
    }
    for (const auto& [name, value] : rehearsed.benches().truth())
        end.truth.push_back(truthLine(name, value));
    return end;
}

} // namespace offshoot
