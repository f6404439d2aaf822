// The bench of a rehearsal with all the units of a job on it: each with its own plug, limiter, lid and
// charge, one wall, one meter and one clock; and what they do to each other once their outputs are joined.
#pragma once

#include "core/rehearse/bench.h"

#include <string>
#include <vector>

namespace offshoot {

class Benches
{
public:
    /// The units as this job has them, whatever its log says.
    Benches(const Job& job, std::uint64_t seed, const UnitFault& fault);
    /// `evaluation` of the job without a log. The fault is the first unit's, but for a lead's.
    Benches(const Job& job, const Evaluation& evaluation, std::uint64_t seed, const UnitFault& fault);

    /// A move at the unit that it names. Throws DocumentError at `path` for one that there is not.
    BenchAnswer play(const BenchMove& move, const std::string& path = {});

    std::size_t count() const { return m_units.size(); }
    /// 1 is the one under change.
    const Bench& unit(std::size_t number) const { return m_units.at(number - 1); }
    const UnitFault& fault() const { return m_fault; }
    double timeS() const { return m_units.front().timeS(); }
    /// Any of them.
    bool live() const;
    bool joined() const { return m_joined; }
    /// They are to share one load.
    bool sideBySide() const { return m_bus.has_value(); }
    /// What a unit gives to the shared load; nothing while they are not joined.
    std::optional<double> leadAmps(std::size_t number) const;
    /// How often each wrong move was made, at any of them.
    const std::map<WrongMove, int>& wrongs() const { return m_wrongs; }
    /// What was drawn, the others' with their number: name, SI value.
    std::map<std::string, double> truth() const;

private:
    Bench& at(std::size_t number) { return m_units.at(number - 1); }
    std::optional<WrongAnswer> joinWrong();
    StackInput stackNow() const;
    /// Points of the join: "lead", "difference", "node"; false for any other.
    bool probeJoin(const BenchMove& move, BenchAnswer& answer);
    void settle();
    ParallelInput busNow(const std::vector<std::size_t>& running) const;
    void settleBus();
    void settleStack();
    void unload();
    OutputSource sourceOf(std::size_t number) const;

    UnitFault m_fault;
    std::vector<Bench> m_units;
    std::optional<ParallelInput> m_bus; ///< with the planned leads, ballast and diodes
    std::optional<StackInput> m_stack;  ///< as planned
    std::vector<double> m_lead_a;
    double m_full_load_s = 0; ///< of the load that they are to serve together; 0 where it is not known
    bool m_joined = false;
    std::map<WrongMove, int> m_wrongs;
};

} // namespace offshoot
