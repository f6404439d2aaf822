// The meter of a simulated unit: moves make what happens at its bench, and the last one that clipped the
// leads somewhere says what the meter shows.
#pragma once

#include "bench/meter_stand_in.h"
#include "core/rehearse/benches.h"

namespace offshoot::bench {

class RehearsedMeter
{
public:
    RehearsedMeter(const Job& job, std::uint64_t seed, const UnitFault& fault)
        : m_bench(job, seed, fault)
    {}
    /// Makes a move as `bench.play` reads it; what is seen, what it would have done, or why it is none.
    std::string move(const std::string& text);
    /// What the clipped leads read now. Overload where nothing is clipped on, and for an ohmmeter on what is
    /// live or charged.
    MeterStandIn::Shown shown();

private:
    Benches m_bench;
    std::optional<BenchMove> m_clipped;
};

} // namespace offshoot::bench
