// Text that stands in HTML and SVG.
#pragma once

#include <string>
#include <string_view>

namespace offshoot::html {

/// `&`, `<`, `>`, `"` and `'` as entities; control characters become blanks.
inline std::string escaped(std::string_view text)
{
    std::string out;
    for (const char c : text)
        switch (c) {
        case '&':
            out += "&amp;";
            break;
        case '<':
            out += "&lt;";
            break;
        case '>':
            out += "&gt;";
            break;
        case '"':
            out += "&quot;";
            break;
        case '\'':
            out += "&#39;";
            break;
        default:
            out += static_cast<unsigned char>(c) < 0x20 ? ' ' : c;
        }
    return out;
}

} // namespace offshoot::html
