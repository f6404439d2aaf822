// A rehearsal led by the procedure: the moves that each step asks for, its readings held against its windows.
// What is read before the change is logged in a copy of the job, so that windows follow it as they do at the
// real bench; nothing of it reaches the job itself.
#pragma once

#include "core/rehearse/benches.h"

namespace offshoot {

/// One move of a step, with what its reading was to be.
struct PlayedMove
{
    std::string step = {}; ///< empty: of nobody's procedure
    BenchAnswer answer;
    std::optional<ReadingWindow> window = {};
    std::string because = {}; ///< where the window comes from
    std::optional<ReadingJudgement> judgement = {};

    /// Its reading is not where it was to be; overload is outside of every window.
    bool outside() const;
    /// Of its reading, nothing where none was asked for.
    std::optional<Verdict> verdict() const;
    /// A wrong move breaks; else that of its reading.
    std::optional<Verdict> moveVerdict() const;
};

struct ProcedurePlay
{
    std::vector<PlayedMove> moves;
    std::vector<std::string> not_played; ///< steps whose readings the simulated unit cannot give
    /// Of the first reading after the change outside its window.
    std::optional<DividerDiagnoseResult> diagnosis;
    std::string diagnosed_reading;
};

/// A copy of the job at the bench of its simulated unit: step by step, or leaving the path.
class RehearsedJob
{
public:
    RehearsedJob(Job job, std::uint64_t seed, const UnitFault& fault);

    const Benches& benches() const { return m_benches; }
    /// The unit under change, at its bench.
    const Bench& bench() const { return m_benches.unit(1); }
    const Job& job() const { return m_job; }
    /// The step to come; null after the last.
    const StepView* step() const;
    /// Does what it says and reads what it asks, whatever comes of it.
    void carryOut();
    /// Something of one's own. Throws DocumentError at `path`.
    const PlayedMove& play(const BenchMove& move, const std::string& path = {});

    const ProcedurePlay& played() const { return m_out; }
    /// What the moves so far make of the isolation state, as the log of the job would have it: pulling the
    /// last plug declares it, the meter is proven before and after each reading.
    IsolationView isolation() const;
    /// What was not carried out yet.
    std::vector<std::string> titlesToCome() const;

private:
    Evaluation evaluated() const;
    /// What can hold a charge now, as found or as changed.
    EnergyModel energy() const;
    void evaluateAnew(const std::string& after);
    PlayedMove& add(const Step& step, const BenchMove& move);
    /// Those that a step is about, by their numbers.
    std::vector<std::size_t> unitsOf(const Step& step) const;
    std::vector<BenchMove> movesOf(const Step& step) const;
    std::vector<BenchMove> drains() const;
    std::optional<BenchMove> moveFor(const Asked& asked) const;
    void lightLoads(const Step& step);
    void sharedLoads(const Step& step);
    void ask(const Step& step, const Asked& asked);
    static void hold(PlayedMove& played, const std::optional<ReadingWindow>& window,
                     const std::string& because, bool either_sign);
    void measureNow(const Step& step);
    void readAgain(const Step& step);
    void drainAgain(const Step& step, const BenchMove& probe);
    void log(const Step& step, const Asked& asked, const BenchReading& reading);

    Job m_job;
    std::optional<ChainRun> m_run;
    Evaluation m_evaluation;
    Benches m_benches;
    std::size_t m_at = 0;
    bool m_logged = false;
    ProcedurePlay m_out;
};

} // namespace offshoot
