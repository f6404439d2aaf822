// How an evaluation is made: figures first (evaluator_figures.cpp), then what the steps are told
// (evaluator_predictions.cpp), the steps themselves (evaluator_steps.cpp), stages and what blocks the
// sign-off (evaluator_stages.cpp). For the files that an evaluation is made in; everybody else calls
// evaluate().
#pragma once

#include "core/evaluate/evaluation.h"
#include "core/job/readings.h"

#include <set>

namespace offshoot {

class Evaluator
{
public:
    Evaluator(const Job& job, double now_s, const ChainRun* run)
        : m_job(job)
        , m_now_s(now_s)
        , m_run(runOf(job, run))
        , m_rail(job.found.rails.front())
        , m_struck(struckIds(job.log))
    {}

    Evaluation run();
    /// The figures alone, with their consequences: without steps, stations and stages.
    Figures figures();

private:
    void makeFigures();
    void inferLegs(double before_v);
    void findRails();
    void evaluateFound();
    void evaluatePlan();
    void planSetPoint();
    void setOwnCurrent();
    void planRails();
    void evaluateConsequences();
    void foundAsItWas(ConsequencesInput in);
    void chooseLimiter();
    void predictPlanned(Predictions& predictions) const;
    void predictRails(Predictions& predictions) const;
    void predictUnits(Predictions& predictions) const;
    void evaluateSteps();
    void judgeStep(StepView& view);
    void diagnose(const StepView& view);
    void sinceLive();
    void predictLamp(Predictions& predictions) const;
    void predictPolarity(Predictions& predictions) const;
    std::string lampRefusal(const StepView& view) const;
    std::string refusalOf(std::size_t at) const;
    std::string powerRefusal(std::size_t at) const;
    std::string earthRefusal(std::size_t unit) const;
    std::string limiterRefusal(std::size_t at) const;
    void evaluateStages();
    void blockFalseBonds();
    void collectBlocks();
    double stepShare(Stage stage) const;

    DividerSolveInput solveInput() const;

    const Job& m_job;
    double m_now_s;
    const ChainRun* m_run;
    const Rail& m_rail;
    std::set<std::string> m_struck;
    EnergyModel m_energy_found;
    EnergyModel m_energy_planned;
    std::optional<LampSeen> m_lamp; ///< since the unit was last switched on
    bool m_hunting = false;         ///< likewise
    bool m_signed_by_words = false; ///< the signature is of a version-1 file
    Evaluation m_e{};
};

} // namespace offshoot
