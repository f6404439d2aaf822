// A typed line in words.
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

} // namespace offshoot
