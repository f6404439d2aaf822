// The first byte chooses the quantity (or a marking), the rest is the text. What reads must read back.
#include "core/values/format.h"
#include "core/values/marking.h"

#include <cmath>
#include <cstdint>
#include <cstdlib>

using namespace offshoot;

namespace {

void checkValue(const std::string& text, Quantity quantity)
{
    const auto parsed = parseValue(text, quantity);
    if (!parsed)
        return;
    if (!std::isfinite(parsed->value))
        std::abort();
    if (quantity == Quantity::Resistance) {
        const auto network = parseNetwork(text);
        const auto again = parseNetwork(network->text());
        // A text of 200 characters may print longer than may be typed.
        if (again && again->ohm() != network->ohm())
            std::abort();
    }
    formatValue(parsed->value, quantity);
    formatOhms(std::abs(parsed->value));
}

void checkMarking(const std::string& text, MarkingKind kind)
{
    try {
        const auto read = markingRead({.kind = kind, .bands = {}, .text = text});
        if (!std::isfinite(read.value) || read.value < 0)
            std::abort();
    } catch (const DocumentError&) {
    }
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    if (size == 0)
        return 0;
    const std::string text(reinterpret_cast<const char*>(data) + 1, size - 1);
    constexpr std::size_t quantities = Words<Quantity>::list.size();
    const std::size_t choice = data[0] % (quantities + 3);
    if (choice < quantities)
        checkValue(text, static_cast<Quantity>(choice));
    else if (choice == quantities)
        (void)parseNamedNetwork(text);
    else
        checkMarking(text, choice == quantities + 1 ? MarkingKind::Smd : MarkingKind::Capacitor);
    return 0;
}
