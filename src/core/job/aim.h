// What is to be done, in the words of the work.
#pragma once

#include "core/values/fields.h"

#include <array>
#include <string_view>

namespace offshoot {

/// It leads the eye and locks nothing.
enum class Aim {
    Voltage, ///< make it give another one
    Mains,   ///< make it run on the mains there is
    Cure,    ///< stop it tripping, humming, hiccuping
    Several, ///< more current or more voltage from several
    FarEnd,  ///< the voltage is wanted at the far end
    Replace,
    Bench ///< a bench supply out of it
};
template <>
struct Words<Aim>
{
    static constexpr std::array<std::string_view, 7> list{"voltage", "mains",   "cure", "several",
                                                          "far_end", "replace", "bench"};
};

/// "Make it give another voltage"
std::string_view aimWords(Aim aim);
/// How that is done, in a few words.
std::string_view aimNote(Aim aim);
/// What to say first, and where to go then.
std::string_view aimNext(Aim aim);

} // namespace offshoot
