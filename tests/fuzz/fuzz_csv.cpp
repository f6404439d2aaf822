// Any text as a drawer or a list of readings: a message with a line, or what writes back to the same.
#include "core/job/job.h"

#include <cstdint>
#include <cstdlib>

using namespace offshoot;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const std::string text(reinterpret_cast<const char*>(data), size);
    if (const auto drawer = readDrawerCsv(text)) {
        const auto again = readDrawerCsv(writeDrawerCsv(*drawer));
        if (!again || !(*again == *drawer))
            std::abort();
    }
    if (const auto readings = readReadingsCsv(text))
        (void)readReadingsCsv(writeReadingsCsv(*readings));
    return 0;
}
