#include "core/values/scan.h"

#include <array>
#include <charconv>
#include <cmath>
#include <span>

namespace offshoot::scan {

namespace {

/// One character from UTF-8 at `at`, which moves on. Anything malformed is U+FFFD.
char32_t decode(std::string_view utf8, std::size_t& at)
{
    constexpr char32_t bad = 0xFFFD;
    const auto first = static_cast<unsigned char>(utf8[at++]);
    if (first < 0x80)
        return first;
    const int more = first >= 0xF0 ? 3 : first >= 0xE0 ? 2 : first >= 0xC0 ? 1 : 0;
    if (more == 0 || first > 0xF4)
        return bad;
    auto code = static_cast<char32_t>(first & (0x3F >> more));
    for (int i = 0; i < more; ++i) {
        if (at >= utf8.size() || (static_cast<unsigned char>(utf8[at]) & 0xC0) != 0x80)
            return bad;
        code = (code << 6) | (static_cast<unsigned char>(utf8[at++]) & 0x3F);
    }
    return code;
}

} // namespace

Cursor::Cursor(std::string_view utf8)
{
    std::size_t at = 0;
    while (at < utf8.size())
        m_text += decode(utf8, at);
}

bool Cursor::skipBlanks()
{
    const auto from = m_at;
    while (peek() == U' ' || peek() == U'\t' || peek() == 0xA0)
        step();
    return m_at != from;
}

bool Cursor::skipWord(std::string_view word)
{
    for (std::size_t i = 0; i < word.size(); ++i)
        if (lower(peek(i)) != static_cast<char32_t>(word[i]))
            return false;
    step(word.size());
    return true;
}

bool isDigit(char32_t c) { return c >= U'0' && c <= U'9'; }

bool isLetter(char32_t c)
{
    const char32_t l = lower(c);
    return l >= U'a' && l <= U'z';
}

char32_t lower(char32_t c) { return c >= U'A' && c <= U'Z' ? c + 32 : c; }

TextProblem unreadable(std::size_t position, std::string message)
{
    return {ErrorCode::Unreadable, position, std::move(message)};
}

TextProblem outOfRange(std::size_t position, std::string message)
{
    return {ErrorCode::OutOfRange, position, std::move(message)};
}

namespace {

struct PrefixRule
{
    char32_t letter; ///< lower case where either case will do
    bool any_case;
    double factor;
};
constexpr PrefixRule pico{U'p', true, 1e-12};
constexpr PrefixRule nano{U'n', true, 1e-9};
constexpr PrefixRule micro{U'u', true, 1e-6};
constexpr PrefixRule milli{U'm', false, 1e-3};
constexpr PrefixRule kilo{U'k', true, 1e3};
constexpr PrefixRule mega{U'M', false, 1e6};
constexpr PrefixRule giga{U'G', false, 1e9};

struct UnitRule
{
    std::string_view word; ///< lower case ASCII; characters beyond it are handled in skipUnit
    double factor;
    double offset = 0;
};

/// How one quantity is written. `points` are unit letters that may stand for the decimal point.
struct Notation
{
    std::span<const PrefixRule> prefixes;
    std::span<const UnitRule> units; ///< longer words before their beginnings
    std::u32string_view points;
    bool prefix_alone; ///< "10k" without a unit
    bool bare;         ///< a number without anything is in the SI unit
};

constexpr std::array resistance_prefixes{micro, milli, kilo, mega, giga};
constexpr std::array capacitance_prefixes{pico, nano, micro, milli};
constexpr std::array inductance_prefixes{nano, micro, milli};
constexpr std::array voltage_prefixes{micro, milli, kilo};
constexpr std::array current_prefixes{nano, micro, milli, kilo};
constexpr std::array frequency_prefixes{kilo, mega, giga};
constexpr std::array time_prefixes{nano, micro, milli};

constexpr std::array resistance_units{UnitRule{"ohms", 1}, UnitRule{"ohm", 1}, UnitRule{"r", 1}};
constexpr std::array capacitance_units{UnitRule{"f", 1}};
constexpr std::array inductance_units{UnitRule{"h", 1}};
constexpr std::array voltage_units{UnitRule{"v", 1}};
constexpr std::array current_units{UnitRule{"a", 1}};
constexpr std::array power_units{UnitRule{"va", 1}, UnitRule{"w", 1}};
constexpr std::array frequency_units{UnitRule{"hz", 1}};
constexpr std::array time_units{UnitRule{"min", 60}, UnitRule{"s", 1}, UnitRule{"h", 3600}};
constexpr std::array length_units{UnitRule{"cm", 1e-2}, UnitRule{"mm", 1e-3},   UnitRule{"um", 1e-6},
                                  UnitRule{"km", 1e3},  UnitRule{"in", 0.0254}, UnitRule{"ft", 0.3048},
                                  UnitRule{"m", 1}};
constexpr std::array area_units{UnitRule{"cm2", 1e-4}, UnitRule{"mm2", 1e-6}, UnitRule{"m2", 1}};
constexpr std::array temperature_units{UnitRule{"k", 1}, UnitRule{"c", 1, 273.15},
                                       UnitRule{"f", 5.0 / 9.0, 273.15 - 32 * 5.0 / 9.0}};

constexpr std::array energy_prefixes{micro, milli, kilo};
constexpr std::array energy_units{UnitRule{"j", 1}, UnitRule{"ws", 1}};
constexpr std::array squared_current_time_units{UnitRule{"a2s", 1}};
constexpr std::array kelvin_units{UnitRule{"k", 1}};

constexpr std::array<Notation, 16> notations{{
    {resistance_prefixes, resistance_units, U"rR", true, true},
    {capacitance_prefixes, capacitance_units, U"", true, true},
    {inductance_prefixes, inductance_units, U"", true, true},
    {voltage_prefixes, voltage_units, U"vV", true, true},
    {current_prefixes, current_units, U"aA", true, true},
    {voltage_prefixes, power_units, U"wW", true, true},
    {frequency_prefixes, frequency_units, U"", true, true},
    {time_prefixes, time_units, U"", false, true},
    {{}, length_units, U"mM", false, true},
    {{}, area_units, U"", false, true},
    {{}, area_units, U"", false, false},
    {{}, temperature_units, U"", false, false},
    {energy_prefixes, energy_units, U"", false, true},
    {{}, squared_current_time_units, U"", false, true},
    {{}, kelvin_units, U"", false, true},
    {{}, {}, U"", false, true},
}};

constexpr char32_t micro_sign = 0xB5;
constexpr char32_t greek_mu = 0x3BC;
constexpr char32_t greek_omega = 0x3A9;
constexpr char32_t ohm_sign = 0x2126;
constexpr char32_t degree_sign = 0xB0;
constexpr char32_t squared_sign = 0xB2;

const PrefixRule* prefixAt(const Cursor& cursor, const Notation& notation)
{
    char32_t c = cursor.peek();
    if (c == micro_sign || c == greek_mu)
        c = U'u';
    for (const PrefixRule& rule : notation.prefixes)
        if (c == rule.letter || (rule.any_case && lower(c) == rule.letter))
            return &rule;
    return nullptr;
}

/// Skips a unit word such as "mm2", also written "mm²" or "mm^2".
bool skipUnitWord(Cursor& cursor, std::string_view word)
{
    const auto from = cursor.position();
    for (const char wanted : word) {
        const char32_t c = cursor.peek();
        if (wanted == '2' && c == U'^' && cursor.peek(1) == U'2')
            cursor.step(2);
        else if (lower(c) == static_cast<char32_t>(wanted) || (wanted == '2' && c == squared_sign) ||
                 (wanted == 'u' && (c == micro_sign || c == greek_mu)))
            cursor.step();
        else {
            cursor.moveTo(from);
            return false;
        }
    }
    return true;
}

const UnitRule* skipUnit(Cursor& cursor, const Notation& notation, Quantity quantity)
{
    if (quantity == Quantity::Resistance && (cursor.peek() == greek_omega || cursor.peek() == ohm_sign)) {
        cursor.step();
        return &notation.units.back();
    }
    const auto from = cursor.position();
    if (quantity == Quantity::Temperature && cursor.peek() == degree_sign)
        cursor.step();
    for (const UnitRule& rule : notation.units)
        if (skipUnitWord(cursor, rule.word))
            return &rule;
    cursor.moveTo(from);
    return nullptr;
}

/// A run of digits with at most one point or comma and an exponent, or with a letter for the point.
struct Number
{
    std::string digits; ///< ready for from_chars
    double factor = 1;  ///< of a prefix that stood for the point
    bool letter_point = false;
    bool prefix_point = false;
};

std::string scanDigits(Cursor& cursor)
{
    std::string digits;
    for (; isDigit(cursor.peek()); cursor.step())
        digits += static_cast<char>(cursor.peek());
    return digits;
}

bool skipExponent(Cursor& cursor, std::string& digits)
{
    if (lower(cursor.peek()) != U'e')
        return false;
    const bool sign = cursor.peek(1) == U'+' || cursor.peek(1) == U'-';
    if (!isDigit(cursor.peek(sign ? 2 : 1)))
        return false;
    digits += 'e';
    if (cursor.peek(1) == U'-')
        digits += '-';
    cursor.step(sign ? 2 : 1);
    digits += scanDigits(cursor);
    return true;
}

/// A letter in the place of the point, with a digit behind it: a prefix or the quantity's own unit letter.
bool skipLetterPoint(Cursor& cursor, const Notation& notation, Number& number)
{
    if (!isDigit(cursor.peek(1)))
        return false;
    if (const PrefixRule* prefix = notation.prefix_alone ? prefixAt(cursor, notation) : nullptr) {
        number.factor = prefix->factor;
        number.prefix_point = true;
    } else if (cursor.peek() == 0 || notation.points.find(cursor.peek()) == std::u32string_view::npos) {
        return false;
    }
    cursor.step();
    number.letter_point = true;
    return true;
}

Parsed<Number> scanNumber(Cursor& cursor, const Notation& notation)
{
    const auto from = cursor.position();
    Number number;
    const std::string whole = scanDigits(cursor);
    if (skipLetterPoint(cursor, notation, number)) {
        number.digits = (whole.empty() ? "0" : whole) + "." + scanDigits(cursor);
        return number;
    }
    std::string places;
    const bool comma = cursor.peek() == U',';
    if ((comma || cursor.peek() == U'.') && isDigit(cursor.peek(1))) {
        cursor.step();
        places = scanDigits(cursor);
    }
    if (whole.empty() && places.empty())
        return unreadable(from, "a number is wanted here");
    if (comma && places.size() == 3 && !whole.empty() && whole.size() <= 3 && whole.front() != '0')
        return unreadable(from, "\"" + whole + "," + places + "\" can be read in two ways: write " + whole +
                                    "." + places + " or " + whole + places);
    number.digits = (whole.empty() ? "0" : whole) + (places.empty() ? "" : "." + places);
    skipExponent(cursor, number.digits);
    return number;
}

Parsed<double> toDouble(const Number& number, std::size_t position)
{
    double value = 0;
    const char* first = number.digits.data();
    const auto result = std::from_chars(first, first + number.digits.size(), value);
    if (result.ec == std::errc::result_out_of_range) {
        // from_chars says the same of too large and too small; only a negative exponent can be too small.
        if (number.digits.find("e-") == std::string::npos)
            return outOfRange(position, "this number is too large");
        value = 0;
    }
    return value;
}

/// Old capacitors say M, MF or mf for microfarad; "mfd" and "mmfd" can only mean µF and pF.
Parsed<double> capacitanceSuffix(Cursor& cursor)
{
    const auto from = cursor.position();
    if (cursor.skipWord("mmfd"))
        return 1e-12;
    if (cursor.skipWord("mfd"))
        return 1e-6;
    if (lower(cursor.peek()) == U'm') {
        const bool milli_farad = cursor.peek() == U'm' && cursor.peek(1) == U'F';
        const bool milli_alone = cursor.peek() == U'm' && lower(cursor.peek(1)) != U'f';
        if (!milli_farad && !milli_alone)
            return unreadable(from, "on old capacitors this meant µF: write u for micro, m or mF for milli");
    }
    return 0.0;
}

/// What follows the digits: prefix and unit. Gives the factor and offset to the SI unit.
Parsed<UnitRule> scanSuffix(Cursor& cursor, const Number& number, const Notation& notation, Quantity quantity)
{
    const auto behind_number = cursor.position();
    cursor.skipBlanks();
    if (quantity == Quantity::Capacitance && !number.prefix_point) {
        const auto old = capacitanceSuffix(cursor);
        if (!old)
            return old.problem();
        if (*old != 0)
            return UnitRule{"", *old};
    }
    if (number.letter_point) {
        const bool old_milli = quantity == Quantity::Capacitance && number.factor == milli.factor;
        if (old_milli && cursor.peek() == U'f')
            return unreadable(behind_number,
                              "on old capacitors this meant µF: write u for micro, mF for milli");
        if (!number.prefix_point || skipUnit(cursor, notation, quantity) == nullptr)
            cursor.moveTo(behind_number);
        return UnitRule{"", 1};
    }
    const auto before_suffix = cursor.position();
    if (const UnitRule* unit = skipUnit(cursor, notation, quantity);
        unit != nullptr && !isLetter(cursor.peek()))
        return *unit;
    cursor.moveTo(before_suffix);
    const PrefixRule* prefix = prefixAt(cursor, notation);
    if (prefix == nullptr) {
        cursor.moveTo(behind_number);
        if (!notation.bare)
            return unreadable(behind_number, "which unit?");
        return UnitRule{"", 1};
    }
    cursor.step();
    const UnitRule* unit = skipUnit(cursor, notation, quantity);
    const bool takes_prefix = unit != nullptr && (quantity == Quantity::Energy || unit->word == "s");
    if (!notation.prefix_alone && !takes_prefix)
        return unreadable(before_suffix, "which unit?");
    return UnitRule{"", prefix->factor};
}

} // namespace

Parsed<double> scanValue(Cursor& cursor, Quantity quantity, double sign)
{
    const Notation& notation = notations.at(static_cast<std::size_t>(quantity));
    const auto from = cursor.position();
    const auto number = scanNumber(cursor, notation);
    if (!number)
        return number.problem();
    auto digits = toDouble(*number, from);
    if (!digits)
        return digits;
    const auto suffix = scanSuffix(cursor, *number, notation, quantity);
    if (!suffix)
        return suffix.problem();
    return sign * *digits * number->factor * suffix->factor + suffix->offset;
}

} // namespace offshoot::scan
