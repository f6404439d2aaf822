// What a value in a document must be to be taken.
#include "core/values/fields.h"
#include "core/values/format.h"

#include <cmath>

namespace offshoot {

std::string Range::text() const
{
    std::string low = min_open ? "above " : "at least ";
    std::string high = max_open ? "below " : "at most ";
    const bool low_matters = min > -largest;
    const bool high_matters = max < largest;
    if (!low_matters && !high_matters)
        return "within 1e15";
    std::string result;
    if (low_matters)
        result += low + plainNumber(min);
    if (low_matters && high_matters)
        result += " and ";
    if (high_matters)
        result += high + plainNumber(max);
    return result;
}

void Fields::expectObject(const Json& j, const DocumentPlace& at)
{
    if (!j.is_object())
        throw DocumentError(ErrorCode::WrongType, at.pointer(), "an object is wanted here");
}

void Fields::expectArray(const Json& j, const DocumentPlace& at, Lengths length)
{
    if (!j.is_array())
        throw DocumentError(ErrorCode::WrongType, at.pointer(), "a list is wanted here");
    if (j.size() < length.min || j.size() > length.max)
        throw DocumentError(ErrorCode::OutOfRange, at.pointer(),
                            "the list wants " + std::to_string(length.min) + " to " +
                                std::to_string(length.max) + " items");
}

double Fields::readNumber(const Json& j, const DocumentPlace& at, Range r)
{
    if (!j.is_number())
        throw DocumentError(ErrorCode::WrongType, at.pointer(), "a number is wanted here");
    double value = j.get<double>();
    if (std::abs(value) < Range::smallest)
        value = 0;
    const bool inside = value >= -Range::largest && value <= Range::largest &&
                        (r.min_open ? value > r.min : value >= r.min) &&
                        (r.max_open ? value < r.max : value <= r.max);
    if (!inside)
        throw DocumentError(ErrorCode::OutOfRange, at.pointer(), "must be " + r.text());
    return value;
}

std::int64_t Fields::readInteger(const Json& j, const DocumentPlace& at, std::int64_t min, std::int64_t max)
{
    if (!j.is_number())
        throw DocumentError(ErrorCode::WrongType, at.pointer(), "a whole number is wanted here");
    const double value = j.get<double>();
    if (value != std::floor(value))
        throw DocumentError(ErrorCode::WrongType, at.pointer(), "a whole number is wanted here");
    if (value < static_cast<double>(min) || value > static_cast<double>(max))
        throw DocumentError(ErrorCode::OutOfRange, at.pointer(),
                            "must be " + std::to_string(min) + " to " + std::to_string(max));
    return static_cast<std::int64_t>(value);
}

std::string Fields::readText(const Json& j, const DocumentPlace& at, Lengths length)
{
    if (!j.is_string())
        throw DocumentError(ErrorCode::WrongType, at.pointer(), "a text is wanted here");
    auto text = j.get<std::string>();
    if (text.size() < length.min || text.size() > length.max)
        throw DocumentError(ErrorCode::OutOfRange, at.pointer(),
                            text.empty() ? "must not be empty" : "is too long");
    return text;
}

Network Fields::readNetwork(const Json& j, const DocumentPlace& at, bool zero_allowed)
{
    const Range r{0, Range::largest, !zero_allowed};
    if (j.is_number())
        return Network(readNumber(j, at, r));
    if (!j.is_string())
        throw DocumentError(ErrorCode::WrongType, at.pointer(), "ohms or a resistor text is wanted here");
    const auto parsed = parseNetwork(j.get<std::string>());
    if (!parsed)
        throw DocumentError(parsed.problem().code, at.pointer(), parsed.problem().message);
    readNumber(Json(parsed->ohm()), at, r);
    return *parsed;
}

} // namespace offshoot
