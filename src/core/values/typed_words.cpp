#include "core/values/typed_words.h"

#include <algorithm>

namespace offshoot {

std::vector<TypedWord> typedWords(std::string_view line)
{
    std::vector<TypedWord> words;
    std::size_t at = 0;
    bool inside = false;
    for (const char c : line) {
        const bool continues = (static_cast<unsigned char>(c) & 0xC0U) == 0x80U;
        if (c == ' ' || c == '\t' || c == ',') {
            inside = false;
        } else {
            if (!inside)
                words.push_back({"", at});
            inside = true;
            words.back().text += c;
        }
        at += continues ? 0 : 1;
    }
    return words;
}

std::string lowered(std::string_view text)
{
    std::string low(text);
    std::ranges::transform(low, low.begin(), [](char c) {
        return c >= 'A' && c <= 'Z' ? static_cast<char>(c + ('a' - 'A')) : c;
    });
    return low;
}

std::string capitalized(std::string text)
{
    if (!text.empty() && text.front() >= 'a' && text.front() <= 'z')
        text.front() = static_cast<char>(text.front() - ('a' - 'A'));
    return text;
}

} // namespace offshoot
