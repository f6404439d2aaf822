// What the workspaces of the mains side show, computed from the job: one function for each.
#pragma once

#include "core/calculate/delay.h"
#include "core/calculate/discharge.h"
#include "core/calculate/filter_response.h"
#include "core/calculate/inrush.h"
#include "core/calculate/limiter_lamp.h"
#include "core/calculate/mains_evidence.h"
#include "core/calculate/mains_fuse.h"
#include "core/calculate/windings.h"
#include "core/job/evaluation.h"
#include "core/supply/mains_side.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct EvidenceView
{
    EvidenceInput input;
    EvidenceResult result;
    std::string sentence; ///< the verdict
    std::string next;     ///< which part to read
};
/// The clues entered, and those that follow from the parts of the path: bulk capacitor, fuse.
EvidenceView evidenceView(const Job& job);
/// What a contradiction means, in words.
std::string contradictionText(const Contradiction& contradiction);

struct WindingsView
{
    std::optional<WindingsInput> input;
    std::optional<WindingsResult> result;
    std::optional<std::size_t> planned; ///< place among the connections
    std::optional<FuseResult> fuse;     ///< that follows from the connection planned, or the best
    std::string sentence;
};
WindingsView windingsView(const Job& job);
/// The plan of a connection, and whether it is the one planned.
ConnectionPlan connectionPlan(const Connection& connection);
bool isPlanned(const ConnectionPlan& plan, const Connection& connection);

/// The surge over time: one point for each step.
struct SurgeCurve
{
    std::vector<double> t_s;
    std::vector<double> i_a;
};
/// One or two resistors from the drawer for the relay's delay, and what they make of it.
struct DelayParts
{
    Network network;
    DelayResult delay;
};
struct InrushView
{
    std::optional<InrushInput> direct_input;
    std::optional<InrushResult> direct;
    std::optional<LimiterInput> limiter_input;
    std::optional<LimiterResult> limiter;
    SurgeCurve bare;    ///< at the crest, as found
    SurgeCurve limited; ///< through the planned limiter
    std::optional<DelayResult> delay;
    std::optional<DelayParts> delay_parts; ///< nothing where the drawer has none that comes near
    std::string sentence;
    std::string stuck; ///< what if the bypass never closes
    School school;     ///< a resistor with a bypass or an NTC
};
InrushView inrushView(const Job& job);
/// The planned limiter by itself, without the curves; nothing where nothing says how many ohms.
struct PlannedLimiter
{
    LimiterInput input;
    LimiterResult result;
    std::string stuck; ///< what if the bypass never closes
};
std::optional<PlannedLimiter> plannedLimiter(const Job& job);

struct LampView
{
    double lamp_w;
    LampLimitResult result;
};
struct SafeView
{
    std::vector<LampView> lamps; ///< the usual ones
    std::optional<double> chosen_w;
    struct Bank
    {
        Reservoir reservoir;
        DischargePlanResult plan;
    };
    std::vector<Bank> banks;
    std::string sentence;
};
/// The rating in amperes, slow, that follows from the planned connection of the primaries; nothing without
/// one, or where another fuse was planned by hand.
std::optional<double> followingFuse(const Job& job);
/// The fuse that belongs in the holder once the plan is carried out.
Fuse plannedFuse(const Job& job);
/// The limiter lamp's sums but for the lamp: the unit on the bench at first power, idle and with a light
/// load.
LampLimitInput lampInput(const Job& job, const Evaluation& evaluation);
SafeView safeView(const Job& job, const Evaluation& evaluation);

struct NoiseView
{
    std::optional<FilterInput> input;
    std::optional<FilterResult> result;
    std::vector<double> f_hz; ///< of the curve
    std::vector<double> gain_db;
    std::optional<Damping> damping; ///< where it peaks
    std::string sentence;
};
NoiseView noiseView(const Job& job);

/// The mains side's rows for the consequences panel; those of the rectifier stand in chain.h.
std::vector<ConsequenceRow> evidenceRows(const Job& job);

/// A captured surge from an oscilloscope's CSV: two columns of numbers, time and current, any heading
/// skipped.
Parsed<CapturedSurge> readSurgeCsv(std::string_view text);

} // namespace offshoot
