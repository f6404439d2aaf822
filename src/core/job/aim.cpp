#include "core/job/aim.h"

namespace offshoot {

namespace {

struct AimText
{
    std::string_view words;
    std::string_view note;
    std::string_view next;
};
constexpr std::array<AimText, Words<Aim>::list.size()> texts{{
    {"Make it give another voltage", "retuned, trimmed, rewound",
     "Say the voltage that is wanted, from and to, and the current. Then Found: what it is."},
    {"Make it run on this mains", "windings, rectifier, a transformer in front",
     "Say which mains there is. Then Found: what its label permits, and what stands behind the inlet."},
    {"Stop it tripping, humming, hiccuping", "limit, smoothing, surge, a dummy load",
     "Say what the load draws, at the least and at its peak: Measure the load. Then Found: what it is."},
    {"Get more from several", "side by side for current, stacked for voltage",
     "Say the voltage and the current that are wanted together. Then Found, Units: each of them."},
    {"Get the voltage to the far end", "thicker wire, remote sense",
     "Say what the load bears, from and to, and draws. Then Found: Cable, its length and size."},
    {"Replace it", "another unit, or a module in its regulator's place",
     "Say what the load wants on each rail. Then Plan, Replace: what the shelf has for it."},
    {"Make a bench supply out of it", "set by hand, posts at a front",
     "Say the highest voltage and current that are wanted. Then Found: what it is."},
}};

const AimText& textOf(Aim aim) { return texts.at(static_cast<std::size_t>(aim)); }

} // namespace

std::string_view aimWords(Aim aim) { return textOf(aim).words; }
std::string_view aimNote(Aim aim) { return textOf(aim).note; }
std::string_view aimNext(Aim aim) { return textOf(aim).next; }

} // namespace offshoot
