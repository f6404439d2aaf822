#include "core/values/quantity.h"

#include "core/values/format.h"
#include "core/values/scan.h"

#include <cmath>
#include <numbers>

namespace offshoot {

using scan::Cursor;

double awgArea(int n)
{
    const double diameter_m = 0.127e-3 * std::pow(92.0, (36.0 - n) / 39.0);
    return std::numbers::pi / 4 * diameter_m * diameter_m;
}

namespace {

bool mayBeNegative(Quantity quantity)
{
    return quantity == Quantity::Voltage || quantity == Quantity::Current ||
           quantity == Quantity::Temperature;
}

constexpr int awg_thinnest = 50;
constexpr int awg_thickest = -3;

/// The gauge number behind or before "AWG": 18, 0, 00, 4/0.
Parsed<int> scanGauge(Cursor& cursor)
{
    const auto from = cursor.position();
    std::string digits;
    for (; scan::isDigit(cursor.peek()); cursor.step())
        digits += static_cast<char>(cursor.peek());
    if (digits.empty())
        return scan::unreadable(from, "a gauge from 4/0 to 50 is wanted here");
    constexpr std::size_t most_digits = 6;
    if (digits.size() > most_digits)
        return scan::outOfRange(from, "AWG goes from 4/0 to 50");
    int gauge = std::stoi(digits);
    if (cursor.peek() == U'/' && cursor.peek(1) == U'0') {
        cursor.step(2);
        gauge = 1 - gauge;
        if (gauge > 0)
            return scan::unreadable(from, "a gauge from 4/0 to 50 is wanted here");
    } else if (gauge == 0) {
        gauge = 1 - static_cast<int>(digits.size());
    }
    if (gauge < awg_thickest || gauge > awg_thinnest)
        return scan::outOfRange(from, "AWG goes from 4/0 to 50");
    return gauge;
}

/// A gauge in any of its spellings, or nothing if the text does not speak of AWG.
std::optional<Parsed<int>> scanAwg(Cursor& cursor)
{
    const auto from = cursor.position();
    if (cursor.skipWord("awg")) {
        cursor.skipBlanks();
        return scanGauge(cursor);
    }
    const auto gauge = scanGauge(cursor);
    cursor.skipBlanks();
    if (cursor.skipWord("awg"))
        return gauge;
    cursor.moveTo(from);
    return std::nullopt;
}

/// "1/4W": two whole numbers. Nothing if the text is no fraction.
std::optional<Parsed<double>> scanFraction(Cursor& cursor)
{
    const auto from = cursor.position();
    const auto digits = [&cursor] {
        double value = 0;
        for (; scan::isDigit(cursor.peek()); cursor.step())
            value = value * 10 + static_cast<double>(cursor.peek() - U'0');
        return value;
    };
    const double above = digits();
    const bool starts = cursor.position() != from;
    if (!starts || cursor.peek() != U'/') {
        cursor.moveTo(from);
        return std::nullopt;
    }
    cursor.step();
    const auto second = cursor.position();
    const double below = digits();
    if (cursor.position() == second || below == 0)
        return scan::unreadable(second, "a fraction such as 1/4W is wanted here");
    cursor.skipBlanks();
    if (!cursor.skipWord("va"))
        cursor.skipWord("w");
    return above / below;
}

Parsed<ParsedValue> checked(ParsedValue value, Quantity quantity, std::size_t from)
{
    constexpr double rounding_k = 1e-9;
    if (quantity == Quantity::Temperature) {
        if (value.value < -rounding_k)
            return scan::outOfRange(from, "this is below absolute zero");
        value.value = std::max(0.0, value.value);
    }
    if (value.value < 0 && !mayBeNegative(quantity))
        return scan::outOfRange(from, "this cannot be negative");
    if (!(std::abs(value.value) <= Range::largest))
        return scan::outOfRange(from, "this number is too large");
    return value;
}

Parsed<ParsedValue> scanOne(Cursor& cursor, Quantity quantity, bool negative)
{
    const auto from = cursor.position();
    if (quantity == Quantity::WireSize)
        if (const auto gauge = scanAwg(cursor)) {
            if (!*gauge)
                return gauge->problem();
            if (negative)
                return scan::unreadable(from, "a gauge has no sign");
            return ParsedValue{awgArea(**gauge), {}, {}};
        }
    if (quantity == Quantity::Power)
        if (const auto fraction = scanFraction(cursor)) {
            if (!*fraction)
                return fraction->problem();
            return ParsedValue{negative ? -**fraction : **fraction, {}, {}};
        }
    const auto value = scan::scanValue(cursor, quantity, negative ? -1 : 1);
    if (!value)
        return value.problem();
    return ParsedValue{*value, {}, {}};
}

} // namespace

Parsed<ParsedValue> parseValue(std::string_view text, Quantity quantity)
{
    Cursor cursor(text);
    if (cursor.length() > scan::max_text)
        return scan::outOfRange(scan::max_text, "more than 200 characters");
    if (quantity == Quantity::Resistance) {
        const auto network = parseNetwork(text);
        if (!network)
            return network.problem();
        return ParsedValue{network->ohm(), network->parts(), {}};
    }
    cursor.skipBlanks();
    const auto from = cursor.position();
    const bool negative = cursor.peek() == U'-' || cursor.peek() == 0x2212;
    if (negative || cursor.peek() == U'+')
        cursor.step();
    auto value = scanOne(cursor, quantity, negative);
    if (!value)
        return value;
    cursor.skipBlanks();
    if (!cursor.atEnd())
        return scan::unreadable(cursor.position(),
                                "this part does not read as " +
                                    (quantity == Quantity::WireSize ? "a wire size" : phrase(quantity)));
    auto result = checked(*value, quantity, from);
    if (!result || quantity != Quantity::WireSize)
        return result;
    ParsedValue wire = *result;
    wire.diameter_m = std::sqrt(4 * wire.value / std::numbers::pi);
    return wire;
}

void fields(Fields& f, ValueParseInput& in)
{
    f.need("text", in.text, any_text);
    f.need("quantity", in.quantity);
}

void fields(Fields& f, ValueParseResult& out)
{
    f.need("value", out.value);
    if (out.parts)
        f.need("parts", *out.parts, range::not_negative);
    if (out.diameter_m)
        f.need("diameter_m", *out.diameter_m);
}

ValueParseResult valueParse(const ValueParseInput& in)
{
    const auto parsed = parseValue(in.text, in.quantity);
    if (!parsed)
        throw DocumentError(parsed.problem().code, "/text", parsed.problem().message);
    ValueParseResult result{parsed->value, std::nullopt, parsed->diameter_m};
    if (in.quantity == Quantity::Resistance)
        result.parts = parsed->parts;
    return result;
}

} // namespace offshoot
