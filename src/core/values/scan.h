// The scanner below parseValue and parseNetwork: characters, numbers, prefixes and units.
#pragma once

#include "core/values/quantity.h"

#include <string>
#include <string_view>

namespace offshoot::scan {

/// A cursor over the characters of a text; bad UTF-8 becomes U+FFFD and so never reads.
class Cursor
{
public:
    explicit Cursor(std::string_view utf8);

    bool atEnd() const { return m_at >= m_text.size(); }
    char32_t peek(std::size_t ahead = 0) const
    {
        return m_at + ahead < m_text.size() ? m_text[m_at + ahead] : 0;
    }
    void step(std::size_t count = 1) { m_at += count; }
    std::size_t position() const { return m_at; }
    void moveTo(std::size_t position) { m_at = position; }
    std::size_t length() const { return m_text.size(); }
    /// Skips blanks; true if there was one.
    bool skipBlanks();
    /// Skips `word` (lower case ASCII), whatever its case; true if it stood here.
    bool skipWord(std::string_view word);

private:
    std::u32string m_text;
    std::size_t m_at = 0;
};

bool isDigit(char32_t c);
bool isLetter(char32_t c);
char32_t lower(char32_t c);

/// The longest text a person may type as a value, in characters.
inline constexpr std::size_t max_text = 200;

TextProblem unreadable(std::size_t position, std::string message);
TextProblem outOfRange(std::size_t position, std::string message);

/// Reads one number with its prefix and unit at the cursor and stops behind it. A sign was read before and
/// comes in as `sign` (+1 or −1): it belongs to the digits, not to the offset of °C.
Parsed<double> scanValue(Cursor& cursor, Quantity quantity, double sign = 1);

} // namespace offshoot::scan
