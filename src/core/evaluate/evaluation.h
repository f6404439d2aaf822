// Everything shown of a job, computed from it in one pure step: see docs/ARCHITECTURE.md.
#pragma once

#include "core/calculate/divider_diagnose.h"
#include "core/calculate/limiter_lamp.h"
#include "core/kinds/chain/chain_view.h"
#include "core/kinds/job_figures.h"
#include "core/procedure/procedure.h"
#include "core/supply/station.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct TakenReading
{
    std::string id;
    double time_s;
    double value;
    double u;
    Quantity quantity;
    std::optional<ReadingLoad> load;
    ReadingJudgement judgement;
};

enum class StepStatus { Open, Done, Again };
template <>
struct Words<StepStatus>
{
    static constexpr std::array<std::string_view, 3> list{"open", "done", "again"};
};

struct StepView
{
    Step step;
    StepStatus status;
    std::vector<std::optional<TakenReading>> readings; ///< one for each asked
    std::string refusal;                               ///< why it cannot be ticked now, empty if it can

    /// The worst of its readings; nothing before the first.
    std::optional<Verdict> verdict() const;
};

struct StationView
{
    Station station;
    std::string name;
    std::string found;
    std::string planned;
    std::string measured;
    // The same in SI units:
    std::optional<double> found_si = {};
    std::optional<double> planned_si = {};
    std::optional<double> measured_si = {};
    Verdict verdict;
    bool has_rows;
    std::string reason; ///< why there is none
    double power_w = 0; ///< passing on behind it
    double loss_w = 0;  ///< leaving the path here
    std::string loss_name;
    bool operator==(const StationView&) const = default;
};

/// One rail of the power path, from the fork to its users.
struct RailView
{
    std::string name;
    std::string found;
    std::string planned;
    std::string measured;
    Verdict verdict;
    bool has_rows;
    bool follows;      ///< moves with the loop of the first rail
    std::size_t users; ///< who draws on it
    double power_w;
    bool operator==(const RailView&) const = default;
};

/// One unit of the job, from its own output to where they join.
struct UnitView
{
    std::string name;
    std::optional<std::string> tag; ///< its readings' number
    std::string found;
    std::string planned;
    std::string measured;
    std::string place; ///< "3.6 A of 11 A", "24 to 48 V to earth"
    Verdict verdict;
    bool has_rows;
    bool operator==(const UnitView&) const = default;
};

struct StageView
{
    double complete = 0; ///< 0 to 1
    std::string next;    ///< what to do next, one sentence
};

struct Counts
{
    int breaks = 0;
    int tight = 0;
    int unknown = 0;
    bool operator==(const Counts&) const = default;
};

/// The figures, and what follows from them.
struct Evaluation : Figures
{
    std::string need_line;
    Counts counts;
    std::vector<RailView> rails;       ///< as the supply lists them
    std::vector<UnitView> units;       ///< empty for a job of one
    std::vector<StationView> stations; ///< all there can be, in the order of their enumeration
    std::vector<Station> path;         ///< those that this kind of supply has, along its energy
    EnergyModel energy;
    IsolationView isolation;
    std::optional<LampLimitResult> lamp;
    std::optional<double> lamp_w;
    std::vector<StepView> steps;
    std::optional<DividerDiagnoseResult> diagnosis; ///< of a reading after the change that breaks its window
    std::string diagnosed_reading;
    std::array<StageView, 6> stages;
    std::vector<std::string> blocks; ///< what keeps the job from being signed off
    bool signed_off = false;
    // Compiled once, in evaluation.cpp.
    Evaluation();
    Evaluation(const Evaluation&);
    Evaluation(Evaluation&&) noexcept;
    Evaluation& operator=(const Evaluation&);
    Evaluation& operator=(Evaluation&&) noexcept;
    ~Evaluation();
};

/// `now_s` is the time in seconds since 1970, for the isolation state alone. `run` is the latest simulation
/// of the job's rectifier chain; one of another chain counts as none.
Evaluation evaluate(const Job& job, double now_s, const ChainRun* run = nullptr);
/// The figures alone, with their consequences: without steps, stations and stages.
Figures figuresOf(const Job& job);

/// The first open step of the stage whose kind the isolation allows one to work towards; nothing when all are
/// done.
const StepView* nextStep(const Evaluation& evaluation, Stage stage);
/// The first open step, if that is what it does: what is seen of the work ticks no later stage's step.
const StepView* openStep(const Evaluation& evaluation, Does what);
/// Whether a reading counts as found, as a check on the way or as measured: as its step says, else by whether
/// the change has begun.
ReadingStage stageOf(const LogEntry& reading, const Evaluation& evaluation);
/// What is asked, and by which step.
struct Question
{
    const StepView* view;
    const Asked* asked;
};
/// The first open step that asks for this point of this unit and may be measured now, to attach a reading to.
/// The readings of a batch's other units answer what the first one was asked.
std::optional<Question> stepAsking(const Evaluation& evaluation, const std::string& point, Quantity quantity,
                                   const std::optional<std::string>& unit);

/// The input of divider.diagnose for a reading of the changed rail.
std::optional<DividerDiagnoseInput> diagnosisInput(const Job& job, double measured_v, double uncertainty_v,
                                                   Observed observed);

} // namespace offshoot
