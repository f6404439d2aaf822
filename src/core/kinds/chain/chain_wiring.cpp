// The rectifier and its smoothing, as drawn and as said.
#include "core/kinds/chain/chain_view.h"
#include "core/supply/connections.h"
#include "core/values/figures.h"

namespace offshoot {

namespace {

constexpr std::string_view positive = "+";
constexpr std::string_view first_end = "end 1";
constexpr std::string_view second_end = "end 2";

std::string sectionText(const SmoothingSection& s)
{
    return s.kind == SmoothingKind::C   ? formatValue(s.c_f, Quantity::Capacitance)
           : s.kind == SmoothingKind::L ? significant(s.l_h, 3) + " H"
                                        : formatOhms(s.r_ohm);
}

std::string rectifierSentence(const SimRectifierPart& rectifier)
{
    switch (rectifier.kind) {
    case SimRectifier::Half:
        return "One rectifier: anode to one end of the secondary, cathode to +; the other end is the return.";
    case SimRectifier::FullWaveCt:
        return "Two rectifiers: an anode to each end of the secondary, both cathodes to +; the centre tap is "
               "the return.";
    case SimRectifier::Bridge:
        return "Bridge: from each end of the secondary one rectifier with its cathode to +, and one with its "
               "anode to the return.";
    case SimRectifier::Doubler: {
        const auto value = [](const std::optional<SmoothingSection>& s) {
            return s ? " " + sectionText(*s) : std::string();
        };
        return "Doubler: at the secondary's first end one rectifier with its cathode to +, and one with its "
               "anode to the return; the upper capacitor" +
               value(rectifier.upper) + " from + to the second end, the lower capacitor" +
               value(rectifier.lower) + " from the second end to the return.";
    }
    }
    return {};
}

/// The secondary and its rectifiers, each from its anode to its cathode.
void addRectifier(std::vector<ConnectedPart>& parts, const SimRectifierPart& rectifier, bool stays)
{
    const PartFate fate = stays ? PartFate::Stays : PartFate::Added;
    const auto winding = [&](const char* name, std::string_view from, std::string_view to) {
        parts.push_back({name, PartKind::Winding, std::string(from), std::string(to)});
    };
    const auto diode = [&](std::string_view anode, std::string_view cathode) {
        parts.push_back(
            {"rectifier", PartKind::Diode, std::string(anode), std::string(cathode), std::nullopt, fate});
    };
    switch (rectifier.kind) {
    case SimRectifier::Half:
        winding("secondary", first_end, return_node);
        diode(first_end, positive);
        return;
    case SimRectifier::FullWaveCt:
        winding("first half", first_end, return_node);
        winding("second half", return_node, second_end);
        diode(first_end, positive);
        diode(second_end, positive);
        return;
    case SimRectifier::Bridge:
        diode(second_end, positive);
        diode(return_node, second_end);
        [[fallthrough]];
    case SimRectifier::Doubler:
        winding("secondary", first_end, second_end);
        diode(first_end, positive);
        diode(return_node, first_end);
    }
}

} // namespace

std::vector<std::string> chainParts(const RectifierChain& chain)
{
    std::vector<std::string> parts{phrase(chain.rectifier.kind)};
    for (const auto* part : {&chain.rectifier.upper, &chain.rectifier.lower})
        if (*part)
            parts.push_back((part == &chain.rectifier.upper ? "upper capacitor " : "lower capacitor ") +
                            sectionText(**part));
    for (std::size_t i = 0; i < chain.filter.size(); ++i)
        parts.push_back(chainPartName(chain, std::to_string(i)) + " " + sectionText(chain.filter[i]));
    return parts;
}

std::string chainSentence(const Job& job)
{
    if (!job.plan.chain)
        return {};
    const RectifierChain& chain = *job.plan.chain;
    std::string text = rectifierSentence(chain.rectifier);
    text += " From + on:";
    for (std::size_t i = 0; i < chain.filter.size(); ++i) {
        text += (i == 0 ? " " : ", ") + chainPartName(chain, std::to_string(i)) + " " +
                sectionText(chain.filter[i]) +
                (chain.filter[i].kind == SmoothingKind::C ? " to the return" : " in series");
        for (const TapLoad& tap : chain.tap_loads)
            if (tap.section == static_cast<std::int64_t>(i))
                text += " with a tap of " + chainLoadText(tap.load) + " across it";
    }
    return text + (chain.filter.empty() ? " the load alone." : ", then the load.");
}

Connections chainConnections(const RectifierChain& chain, const std::optional<RectifierChain>& found,
                             const std::string& load)
{
    Connections out{.name = "chain",
                    .sentence = {},
                    .parts = {},
                    .top = std::string(positive),
                    .bottom = std::string(return_node)};
    addRectifier(out.parts, chain.rectifier,
                 found && found->rectifier.kind == chain.rectifier.kind &&
                     found->rectifier.diode == chain.rectifier.diode);
    for (const auto* part : {&chain.rectifier.upper, &chain.rectifier.lower}) {
        if (!*part)
            continue;
        const bool upper = part == &chain.rectifier.upper;
        const auto& old = upper ? &SimRectifierPart::upper : &SimRectifierPart::lower;
        const bool same = found && found->rectifier.*old == *part;
        out.parts.push_back({upper ? "upper capacitor" : "lower capacitor", PartKind::Capacitor,
                             std::string(upper ? positive : second_end),
                             std::string(upper ? second_end : return_node), (*part)->c_f,
                             same ? PartFate::Stays : PartFate::Added});
    }
    std::string at{positive};
    int node = 1;
    for (std::size_t i = 0; i < chain.filter.size(); ++i) {
        const SmoothingSection& s = chain.filter[i];
        const bool same = found && i < found->filter.size() && found->filter[i] == s;
        const PartFate fate = same ? PartFate::Stays : PartFate::Added;
        const std::string name = chainPartName(chain, std::to_string(i));
        if (s.kind == SmoothingKind::C) {
            out.parts.push_back({name, PartKind::Capacitor, at, std::string(return_node), s.c_f, fate});
        } else {
            const std::string next = "node " + std::to_string(++node);
            out.parts.push_back({name, s.kind == SmoothingKind::L ? PartKind::Choke : PartKind::Resistor, at,
                                 next, s.kind == SmoothingKind::L ? s.l_h : s.r_ohm, fate});
            at = next;
        }
        for (const TapLoad& tap : chain.tap_loads)
            if (tap.section == static_cast<std::int64_t>(i))
                out.parts.push_back(
                    {"tap, " + chainLoadText(tap.load), PartKind::Load, at, std::string(return_node)});
    }
    out.parts.push_back({load, PartKind::Load, at, std::string(return_node)});
    return out;
}

} // namespace offshoot
