// A typed line in words, and their letters.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace offshoot {

struct TypedWord
{
    std::string text;
    std::size_t at; ///< in characters, not bytes
};
/// Apart at blanks, tabs and commas.
std::vector<TypedWord> typedWords(std::string_view line);
/// ASCII letters in lower case.
std::string lowered(std::string_view text);
/// The first letter in upper case, where it is an ASCII one: what begins a sentence.
std::string capitalized(std::string text);

} // namespace offshoot
