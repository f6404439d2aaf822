// Any text as a job file: refused with a place, or read, evaluated and written back to the same job.
#include "core/evaluate/evaluation.h"

#include <cstdint>
#include <cstdlib>

using namespace offshoot;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    try {
        const Job job = readJob({reinterpret_cast<const char*>(data), size});
        if (!(readJob(writeJob(job)) == job))
            std::abort();
        (void)evaluate(job, 0);
    } catch (const DocumentError&) {
    }
    return 0;
}
