// The isolation state of a job, computed from its log. Safety rests on this file: it is small, pure, and
// tested over every order of events up to a useful length.
//
//   live ──each source declared off──► unproven ──each reservoir read below 10 V, meter proven before and
//   after──► proven dead;  a reading of 10 V or more, a new source or reservoir, or a missed second reading
//   goes back to unproven;  power goes back to live from anywhere.
#pragma once

#include "core/job/job.h"

#include <map>
#include <set>

namespace offshoot {

/// A capacitor (or bank) that can hold more than 10 V and more than 1 mJ.
struct Reservoir
{
    std::string point;               ///< the name its readings are logged under
    std::optional<std::string> unit; ///< of another unit of the job: its readings carry this number
    /// What it is called: "bulk", "bulk #2".
    std::string key() const;
    double v0_v; ///< highest voltage it can hold
    std::optional<double> c_f;
    CapacitorKind kind;
    std::optional<double> bleeder_ohm;
    double wait_s;                     ///< until the second reading
    bool needs_second;                 ///< it may recover to 10 V or more
    std::optional<double> discharge_s; ///< to 10 V through its bleeder; absent without one
    double tool_ohm;                   ///< largest resistor that takes it down in 5 s
    /// What its bleeder should leave on it so long after the last source went off: V0·exp(−t/RC); all of it
    /// without a bleeder. It proves nothing.
    double leftAfter(double seconds) const;
};

/// What can push energy into the unit, and what can hold it.
struct EnergyModel
{
    std::vector<std::string> sources;
    std::vector<Reservoir> reservoirs;
    /// Why it cannot become proven dead yet; empty if it can.
    std::string missing;
};
/// Of a job whose unit on the bench is this supply with this chain, if it has one: its reservoirs at the
/// highest voltage they can have held, without load and at the highest mains.
EnergyModel energyModel(const Job& job, const Supply& supply, const RectifierChain* chain);
/// Whether the log has it powered after the step that alters its reservoirs.
bool poweredSinceChange(const Job& job);

struct IsolationView
{
    Isolation state = Isolation::Live;
    bool assumed = true; ///< live only because nobody has declared anything
    std::vector<std::string> sources_off;
    std::vector<std::string> sources_on;
    std::vector<std::string> proven;   ///< reservoirs read below 10 V and counted
    std::vector<std::string> to_prove; ///< reservoirs still to be read
    bool meter_proven = false;         ///< since the sources went off
    bool meter_pending = false;        ///< readings wait for the meter to be proven again
    /// When the next second reading may be taken, and by when it must be, in seconds since 1970.
    std::optional<double> second_from_s;
    std::optional<double> second_until_s;
    std::string second_point;
    std::optional<double> off_since_s; ///< when the last source went off; nothing while live
    /// When the reservoirs should be below 10 V by their bleeders: "measure now" then, never "safe".
    std::optional<double> discharged_at_s;
    std::string missing; ///< as in EnergyModel
};

/// The state at `now_s`. Struck entries that raised the state stop counting; struck ones that lowered it do
/// not.
IsolationView isolationAt(const std::vector<LogEntry>& log, const EnergyModel& model, double now_s);

/// May a step of this kind be ticked in this state?
enum class StepKind { Look, Isolate, Prove, Touch, Power, Probe, Adjust, Wait };
template <>
struct Words<StepKind>
{
    static constexpr std::array<std::string_view, 8> list{"look",  "isolate", "prove",  "touch",
                                                          "power", "probe",   "adjust", "wait"};
};
bool allowedIn(StepKind kind, Isolation state);
/// Why not, and what to do about it; empty if it may.
std::string refusal(StepKind kind, const IsolationView& isolation);

} // namespace offshoot
