// A unit as it really is: its values drawn within the tolerances entered, with one fault or none. What it
// gives at a mains, behind a limiter lamp or not, with loads on its rails, before and after the change.
#pragma once

#include "core/rehearse/draw.h"
#include "core/rehearse/scope.h"
#include "core/rehearse/unit_fault.h"

#include <limits>
#include <map>
#include <string>
#include <utility>
#include <vector>

namespace offshoot {

/// What is connected to it.
struct Connected
{
    bool limiter = false; ///< the lamp in series; for a DC-fed unit a bench supply at its current limit
    bool changed = false; ///< the plan is carried out
    std::vector<double> load_s = {}; ///< on each rail, in siemens
    double on_s = 0;                 ///< how long the power has been on: cathodes warm up
    std::vector<double> trim = {};   ///< of each rail: what its trimmer makes of its set point, a factor
};

/// How it runs.
struct Running
{
    enum class How { Runs, Hiccups, BlowsFuse, Short, Open };
    How how = How::Runs;
    std::optional<Glow> glow = {};     ///< of the limiter lamp
    double unit_v = 0;                 ///< at its input
    std::vector<double> rails_v = {};  ///< magnitudes
    std::vector<double> ripple_v = {}; ///< peak to peak
    double load_w = 0;                 ///< what its loads make it take, its own losses on the way included
    double taken_w = 0;                ///< by the converter out of its reservoir
    double line_a = 0;
};

/// An output seen from its terminals: V = v − ohm·I, up to its limit.
struct OutputSource
{
    double v_v;
    double ohm;
    double limit_a;
};

/// A reservoir with what it truly is; held at `v_at_unit` for each volt at the unit's input.
struct TrueReservoir
{
    std::string point;
    double c_f;
    double recovered_share; ///< of its volts, that the dielectric gives back
    double bleeder_s;       ///< conductance across it
    double v_per_unit_v;
    std::optional<std::size_t> rail = {}; ///< held at that rail's volts instead
};

class TrueUnit
{
public:
    /// `evaluation` of the job without a log.
    TrueUnit(Job job, const Evaluation& evaluation, const Draw& draw, UnitFault fault);
    /// One of several on one bench: `shared` draws what is the same for all of them, mains and room.
    TrueUnit(Job job, const Evaluation& evaluation, const Draw& draw, const Draw& shared, UnitFault fault);

    Running running(const Connected& connected) const;
    const std::vector<TrueReservoir>& reservoirs(bool changed) const
    {
        return changed ? m_reservoirs_planned : m_reservoirs_found;
    }
    const UnitFault& fault() const { return m_fault; }
    /// Its output's wires are in each other's place.
    bool swapped(bool changed) const { return changed && m_fault.kind == UnitFaultKind::SwappedWires; }
    double mainsV() const { return m_mains_v; }
    /// From the earth pin to the case; infinite where it is not connected.
    double earthOhm() const;
    double insulationOhm() const { return m_insulation_ohm; }
    /// Of the leg as an ohmmeter finds it in the dead circuit: the other leg and what hangs on the output lie
    /// across it. Infinite where both are open; nothing without a divider.
    std::optional<double> legOhm(bool top, bool changed) const;
    /// What its converter stops at when nothing feeds its reservoir.
    double stopShare() const { return m_stop_share; }
    bool holdsUp(bool changed) const { return isMainsSwitcher(supply(changed).topology); }
    bool dcFed(bool changed) const { return supply(changed).dcFed(); }
    /// How far the rail's trimmer goes either way: as entered, else as usual, factors of where it stands.
    std::pair<double, double> trimRange(std::size_t rail, bool changed) const;
    /// Across the plug's pins so long after it was pulled: what the filter capacitors have left, volts in
    /// magnitude; 0 of a DC-fed unit. They were left anywhere in the cycle, and drain with up to a second, as
    /// IEC 62368-1 asks of pluggable equipment.
    double pinsVolts(double off_s, bool changed) const;
    /// Until its valves rectify, in seconds; 0 without any.
    double warmsInS() const { return m_warms_in_s; }
    /// Warm parts: their rise above the room at full load, in kelvins.
    double riseK() const { return m_rise_k; }
    double roomK() const { return m_room_k; }

    /// What an oscilloscope on a rail sees while it runs so.
    RippleSource ripple(std::size_t rail, const Running& running, bool changed) const;
    /// What limits the surge into its reservoir; nothing where the job does not say enough, or without mains.
    std::optional<SurgeSource> surge(bool limiter, bool changed, double phase_rad) const;

    /// Its first output while it runs so. One that nothing regulates is taken for straight from no load to
    /// full load.
    OutputSource output(const Connected& connected, double input_v) const;
    /// After how long the bypass of a planned surge limiter closes.
    std::optional<double> bypassS() const { return m_bypass_s; }
    /// A poor joint in the lead from its output to where units join; 0 for a good one.
    double leadJointOhm() const { return m_joint_ohm; }
    /// From the output to the case, where the two are tied together.
    double bondOhm() const { return m_bond_ohm; }
    /// Volts AC over 1 kΩ from an output that floats to the case: what a capacitor of 1 to 4.7 nF lets
    /// through from half of the mains, U·2πf·C·R (textbook).
    double leakageV() const { return m_leakage_v; }

    /// What was drawn, in words for the end: name, SI value.
    const std::map<std::string, double>& truth() const { return m_truth; }

private:
    /// What feeds a unit on DC, as far as it was entered.
    static double feedVolts(const Supply& unit);
    void drawSource(const Draw& draw, const Draw& shared);
    void drawLegs(const Draw& draw);
    struct TrueRail
    {
        double found_v = 0;
        double planned_v = 0;
        double droop_share = 0; ///< of its volts, at full load
        double r_out_ohm = 0;
        double full_a = 1;
        double limit_a = std::numeric_limits<double>::infinity();
        double ripple_v = 0;
        bool follows = false; ///< moves with the first rail
    };
    TrueRail drawnRail(std::size_t at, const Evaluation& evaluation, const Draw& draw);
    void drawRails(const Evaluation& evaluation, const Draw& draw);
    void drawReservoirs(const Draw& draw);
    std::vector<TrueReservoir> reservoirsOf(const Draw& draw, Condition condition) const;
    double keep(const std::string& name, double value) { return m_truth[name] = value; }
    const Supply& supply(bool changed) const { return changed ? m_planned : m_job.found; }
    /// The rail as it then is, by its name.
    const Rail& rail(std::size_t at, bool changed) const;
    Legs legs(bool changed) const;
    double alteredOhm(const std::string& part, double ohm, bool changed) const;
    /// Without load; infinite where nothing regulates it.
    double setVolts(std::size_t rail, const Connected& connected) const;
    OutputSource source(std::size_t rail, const Connected& connected, double input_share) const;
    double railVolts(std::size_t rail, const Connected& connected, double input_share) const;
    /// A rail would rise above its trip, which takes it down again and again.
    bool trips(const Connected& connected) const;
    std::optional<SteadyResult> chainAt(const Connected& connected, double input_share) const;
    double drivingVolts(std::size_t at, const Running& running, const Connected& connected) const;
    void setRails(Running& running, const Connected& connected) const;
    LampState behindLamp(const Running& at_full, const Connected& connected) const;

    Job m_job;
    Supply m_planned;
    UnitFault m_fault;
    LampLimitInput m_lamp;
    std::optional<double> m_lamp_w;
    double m_mains_v = 0;
    double m_efficiency = usual_efficiency;
    double m_idle_w = 0;
    double m_earth_ohm = 0;
    double m_insulation_ohm = 0;
    double m_stop_share = 0;
    double m_rise_k = 0;
    double m_warms_in_s = 0;
    double m_pins_share = 0; ///< of the crest, when the plug is pulled
    double m_pins_tau_s = 1;
    double m_room_k = 0;
    double m_switching_hz = 0;    ///< 0 of what does not switch
    double m_reservoir_share = 1; ///< of the capacitance entered
    double m_leak_w = 0;          ///< in a leaky reservoir, at the highest mains
    double m_across_ohm = 0;      ///< what hangs on the dead output
    std::optional<double> m_bypass_s;
    double m_joint_ohm = 0;
    double m_bond_ohm = 0;
    double m_leakage_v = 0;
    double m_v_ref_v = 0;
    double m_i_ref_a = 0;
    std::map<std::string, double> m_parts_ohm;
    std::optional<DividerDiagnoseInput> m_planned_legs;
    std::vector<TrueRail> m_rails;
    std::optional<RectifierInput> m_chain_found;
    std::optional<RectifierInput> m_chain_planned;
    std::vector<TrueReservoir> m_reservoirs_found;
    std::vector<TrueReservoir> m_reservoirs_planned;
    std::map<std::string, double> m_truth;
};

/// Of the output's volts, what arrives at the load over the planned run: a resistance takes the same share,
/// whatever it stands at. 1 where no run is known, or remote sense makes up for it.
double runShare(const Job& job, const Evaluation& evaluation);

/// `seed`, or one drawn from it, by which a sound unit gives what the need asks for once it is changed as
/// planned. Where a plan's worst case leaves the need, so may a unit within its tolerances: that judges the
/// plan, on its own rows, and not the person who works by it. The seed itself where no unit would do.
Draw suitedDraw(const Job& job, const Evaluation& evaluation, const Draw& seed);

} // namespace offshoot
