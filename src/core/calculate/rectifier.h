// `rectifier.simulate` and `rectifier.dropper`: a rectifier with its smoothing chain in the time domain: half
// wave, full wave with centre tap, bridge or doubler; threshold, junction or valve diodes; chokes, resistors
// and capacitors with their losses; resistive, current and power loads with taps.
//
// The periodic state is found by Newton's method on the map of one cycle, so that a chain with a time
// constant of many seconds is as quick as a fast one. With threshold diodes and no load of constant power the
// chain is linear between switchings and is solved exactly there (exact_run.cpp); otherwise by steps
// (simulation_run.h).
#pragma once

#include "core/supply/rectifier_chain.h"
#include "core/values/verdict.h"

#include <functional>
#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace offshoot {

enum class SimMode { Steady, Start };
template <>
struct Words<SimMode>
{
    static constexpr std::array<std::string_view, 2> list{"steady", "start"};
};

struct RectifierInput
{
    RectifierChain chain;
    SimMode mode = SimMode::Steady;
    std::optional<double> t_end_s = {};
    std::optional<std::int64_t> points = {};
    RectifierRatings ratings = {};
    bool operator==(const RectifierInput&) const = default;
};
void fields(Fields& f, RectifierInput& in);

struct SimFigures
{
    double v_mean_v;
    double v_max_v;
    double v_min_v;
    double ripple_pp_v;
    double ripple_rms_v;
};
struct SimLoadFigures
{
    SimFigures v;
    double i_mean_a;
    double power_w;
    bool collapsed;
};
void fields(Fields& f, SimLoadFigures& out);

/// A capacitor: "upper", "lower" or the index of its section.
struct SimNode
{
    std::string section;
    SimFigures v; ///< with its ESR
    double capacitor_i_rms_a;
};
void fields(Fields& f, SimNode& out);

struct SimDiodeFigures
{
    std::string name;
    double i_peak_a;
    double i_rms_a;
    double i_mean_a;
    double conduction_rad;
    double v_reverse_peak_v;
};
void fields(Fields& f, SimDiodeFigures& out);

struct SimSeries
{
    std::int64_t section;
    double i_mean_a;
    double i_rms_a;
    double power_w;
};
void fields(Fields& f, SimSeries& out);

struct SimSourceFigures
{
    double i_rms_a;
    double i_peak_a;
    double va;
    double power_w;
    std::optional<double> power_factor;
    double loss_w;
};
void fields(Fields& f, SimSourceFigures& out);

struct SimVerdict
{
    std::string part;
    std::string quantity;
    double planned;
    double limit;
    double use;
    Verdict verdict;
};
void fields(Fields& f, SimVerdict& out);

struct SimUnread
{
    std::string part;
    std::string quantity;
};
void fields(Fields& f, SimUnread& out);

struct SimWaveforms
{
    std::vector<double> t_s;
    std::vector<double> v_load_v;
    std::vector<double> i_source_a;
    std::vector<double> v_source_v;
};
void fields(Fields& f, SimWaveforms& out);

/// One cycle at a part: "source", "rectifier" (its first path, forward), the index of a section, "load".
/// Volts are those across a capacitor, and behind a choke or resistor.
struct SimTrace
{
    std::string part;
    std::vector<double> v_v;
    std::vector<double> i_a;
};

struct SteadyResult
{
    SimLoadFigures load;
    std::vector<SimNode> nodes;
    std::vector<SimDiodeFigures> diodes;
    std::vector<SimSeries> series;
    SimSourceFigures source;
    double diode_loss_w;
    double no_load_v;
    std::optional<double> i_hot_a; ///< switched on hot at the crest, if asked for
    std::vector<SimVerdict> verdicts;
    std::vector<SimUnread> unread;
    Verdict verdict;
    std::optional<SimWaveforms> waveforms;
    // For pictures; no part of what offshoot-calc answers:
    std::vector<SimFigures> places; ///< behind the rectifier, then behind each choke and resistor
    std::vector<SimTrace> traces;   ///< at the times of `waveforms`
};

struct StartSeries
{
    std::int64_t section;
    double energy_j;
};
void fields(Fields& f, StartSeries& out);
struct StartFigures
{
    double i_peak_a;
    double t_peak_s;
    double diode_i_peak_a;
    double i2t_a2s;
    double source_j;
    double v_final_v;
    std::optional<double> t95_s;
    double v_end_v;
    double v_load_max_v;
    std::vector<StartSeries> series;
};
void fields(Fields& f, StartFigures& out);
struct StartNode
{
    std::string section;
    double v_max_v;
};
void fields(Fields& f, StartNode& out);
struct StartResult
{
    StartFigures start;
    std::vector<StartNode> nodes;
    double no_load_v;
    std::optional<SimWaveforms> waveforms;
};

/// Exactly one of the two.
struct RectifierResult
{
    std::optional<SteadyResult> steady;
    std::optional<StartResult> start;
};
void fields(Fields& f, RectifierResult& out);

/// Asked now and then with the share done, 0 to 1; false stops the run, which then throws SimCancelled.
using SimProgress = std::function<bool(double share)>;
struct SimCancelled
{};

/// Throws DocumentError `no_solution` where there is no steady state, or it does not get there in five
/// million steps.
RectifierResult rectifierSimulate(const RectifierInput& in);
RectifierResult rectifierSimulate(const RectifierInput& in, const SimProgress& progress);

struct DropperInput
{
    RectifierChain chain;
    std::int64_t place;                    ///< the `r` section whose value is sought
    std::optional<std::int64_t> node = {}; ///< a `c` section; the load when absent
    double v_target_v;
    std::optional<double> power_rated_w = {};
};
void fields(Fields& f, DropperInput& in);

struct DropperResult
{
    double r_ohm;
    double v_v;
    double i_rms_a;
    double power_w;
    Verdict power_verdict;
    double load_v;
    double load_ripple_pp_v;
};
void fields(Fields& f, DropperResult& out);

/// Throws DocumentError `no_solution` at /v_target_v.
DropperResult rectifierDropper(const DropperInput& in);
DropperResult rectifierDropper(const DropperInput& in, const SimProgress& progress);

} // namespace offshoot
