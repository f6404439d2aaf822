// The colours that wires are called by, in words or by the letters of IEC 60757.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace offshoot {

/// "#7a4a21" for "brown" or "BN"; two for "green-yellow", "GNYE" or "white/red". Empty where the word is no
/// colour: a drawing then shows none.
std::vector<std::string> wireColours(std::string_view words);

} // namespace offshoot
