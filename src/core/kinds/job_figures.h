// The figures of a job: what was found, what is planned and what that makes of it, worked out once.
#pragma once

#include "core/calculate/divider_pot.h"
#include "core/job/job.h"
#include "core/judge/consequences.h"
#include "core/kinds/joined/joined_units.h"
#include "core/kinds/planned.h"
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
    bool operator==(const Candidate&) const = default;
};

struct Figures
{
    PlannedUnit unit = {}; ///< the unit on the bench as the plan leaves it
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
    std::vector<std::size_t> rails_set;                 ///< those that a kind of change sets, not the loop
    std::optional<VoltageRange> planned_range;
    std::optional<Legs> planned_legs;
    ConsequencesResult consequences = {};
    std::optional<JoinedUnits> joined; ///< where the plan joins the job's units
    /// What the unit on the bench gives of the need's current: all of it, or its share beside others.
    std::optional<double> own_current_a;
    std::optional<double> load_v;          ///< what arrives at the far end of a run that is known
    std::vector<Predictions::Bears> bears; ///< of each unit: the mains, as found and as planned
    // Compiled once, in job_figures.cpp.
    Figures();
    Figures(const Figures&);
    Figures(Figures&&) noexcept;
    Figures& operator=(const Figures&);
    Figures& operator=(Figures&&) noexcept;
    ~Figures();
};

} // namespace offshoot
