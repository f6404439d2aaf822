// On x86-64: where somebody left the upper halves of the vector registers in use, every scalar instruction
// after it has to carry them along, and long sums take more than twice as long (Intel's optimization manual,
// "mixing AVX code with SSE code"). Libraries do; whoever begins a long sum empties them first.
#pragma once

namespace offshoot {

#if defined(__x86_64__) && defined(__GNUC__)
__attribute__((target("avx"))) inline void emptyUpperHalves() { __builtin_ia32_vzeroupper(); }
inline void freshRegisters()
{
    if (__builtin_cpu_supports("avx"))
        emptyUpperHalves();
}
#else
inline void freshRegisters() {}
#endif

} // namespace offshoot
