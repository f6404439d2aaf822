// Everything shown of a job, computed from it in one pure step: see docs/ARCHITECTURE.md.
#pragma once

#include "core/calculate/divider_diagnose.h"
#include "core/calculate/divider_pot.h"
#include "core/calculate/limiter_lamp.h"
#include "core/job/chain.h"
#include "core/procedure/procedure.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// A choice of parts with both its spreads: from tolerances alone, and with the before-reading.
struct Candidate
{
    DividerOption option;
    VoltageRange plain;
};

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
    std::optional<double> ticked_at_s;
    std::vector<std::optional<TakenReading>> readings; ///< one for each asked
    std::string refusal;                               ///< why it cannot be ticked now, empty if it can
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
};

struct StageView
{
    double complete;  ///< 0 to 1
    std::string next; ///< what to do next, one sentence
};

/// A question on which good people disagree, with this job's figures.
struct School
{
    struct Side
    {
        std::string name;
        std::string figures;
    };
    std::string question;
    std::vector<Side> sides;
    std::size_t pick;
    std::string why;
};

struct Counts
{
    int breaks = 0;
    int tight = 0;
    int unknown = 0;
};

struct Evaluation
{
    std::string need_line;
    std::optional<FoundDivider> divider;
    std::optional<BeforeReading> before;
    bool before_possible = true; ///< the entered divider can give the before-reading
    std::string before_message;
    std::optional<VoltageRange> found_plain;
    std::optional<double> found_v;                    ///< of the first rail
    std::vector<std::optional<double>> rails_found_v; ///< of each
    /// What a leg must be for the before-reading, from the reference and the other leg at nominal.
    std::optional<double> inferred_top_ohm;
    std::optional<double> inferred_bottom_ohm;
    std::vector<Candidate> candidates; ///< best first; empty without need or divider
    ExactOhms exact;
    std::optional<Candidate> planned;
    std::optional<DividerPotResult> trimmer;
    std::optional<VoltageRange> trimmer_preset; ///< of the output with it preset, worst case
    std::optional<TrimmerChoice>
        usual_trimmer;               ///< for the place the plan's trimmer has, where one can reach the target
    std::optional<double> planned_v; ///< of the first rail: by its divider, or by a trimmer
    std::vector<std::optional<double>> rails_planned_v; ///< of each rail, its dummy load included
    std::optional<VoltageRange> planned_range;
    std::optional<Legs> planned_legs;
    ConsequencesResult consequences;
    Counts counts;
    std::vector<RailView> rails; ///< as the supply lists them
    std::vector<UnitView> units; ///< empty for a job of one
    /// What the unit on the bench gives of the need's current: all of it, or its share beside others.
    std::optional<double> own_current_a;
    std::optional<double> load_v; ///< what arrives at the far end of a run that is known
    std::vector<StationView> stations;
    EnergyModel energy;
    std::vector<Predictions::Bears> bears; ///< of each unit: the mains, as found and as planned
    IsolationView isolation;
    std::optional<LampLimitResult> lamp;
    std::optional<double> lamp_w;
    std::vector<StepView> steps;
    std::optional<DividerDiagnoseResult> diagnosis; ///< of a reading after the change that breaks its window
    std::string diagnosed_reading;
    std::vector<School> schools;
    std::array<StageView, 6> stages;
    std::vector<std::string> blocks; ///< what keeps the job from being signed off
    bool signed_off = false;
};

/// `now_s` is the time in seconds since 1970, for the isolation state alone. `run` is the latest simulation
/// of the job's rectifier chain; one of another chain counts as none.
Evaluation evaluate(const Job& job, double now_s, const ChainRun* run = nullptr);

/// The first open step of the stage whose kind the isolation allows to work towards; nothing when all are
/// done.
const StepView* nextStep(const Evaluation& evaluation, Stage stage);
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
