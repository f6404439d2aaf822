#include "core/kinds/replace/wire_colour.h"

#include "core/values/typed_words.h"

#include <algorithm>
#include <array>

namespace offshoot {

namespace {

struct NamedColour
{
    std::string_view word;
    std::string_view letters;
    std::string_view colour;
};
constexpr std::array<NamedColour, 16> named{{{"brown", "bn", "#7a4a21"},
                                             {"blue", "bu", "#2f64b0"},
                                             {"green", "gn", "#2f8a4c"},
                                             {"yellow", "ye", "#e3c13a"},
                                             {"red", "rd", "#c0352b"},
                                             {"black", "bk", "#2a2622"},
                                             {"white", "wh", "#f4f2ea"},
                                             {"grey", "gy", "#8b8f92"},
                                             {"gray", "gy", "#8b8f92"},
                                             {"orange", "og", "#d9772b"},
                                             {"violet", "vt", "#7c4fa3"},
                                             {"purple", "vt", "#7c4fa3"},
                                             {"pink", "pk", "#e39bb0"},
                                             {"turquoise", "tq", "#2fa8a3"},
                                             {"gold", "gd", "#b8923a"},
                                             {"silver", "sr", "#b4b7b9"}}};

const NamedColour* byWord(std::string_view text)
{
    const auto at = std::ranges::find_if(
        named, [&](const NamedColour& c) { return c.word == text || c.letters == text; });
    return at == named.end() ? nullptr : &*at;
}

} // namespace

std::vector<std::string> wireColours(std::string_view words)
{
    std::vector<std::string> colours;
    const auto take = [&](std::string_view text) {
        if (const NamedColour* colour = byWord(text))
            colours.emplace_back(colour->colour);
    };
    std::string word;
    for (const char c : lowered(words) + ' ') {
        if (std::isalpha(static_cast<unsigned char>(c)) != 0) {
            word += c;
            continue;
        }
        const bool two = word.size() == 4 && byWord(word) == nullptr;
        take(two ? std::string_view(word).substr(0, 2) : std::string_view(word));
        if (two)
            take(std::string_view(word).substr(2));
        word.clear();
    }
    return colours;
}

} // namespace offshoot
