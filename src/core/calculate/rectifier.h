// `rectifier.simulate` and `rectifier.dropper`: a rectifier with its smoothing chain in the time domain: half
// wave, full wave with centre tap, bridge or doubler; threshold, junction or valve diodes; chokes, resistors
// and capacitors with their losses; resistive, current and power loads with taps.
//
// The periodic state is found by Newton's method on the map of one cycle, so that a chain with a time
// constant of many seconds is as quick as a fast one. See simulation_run.h for the steps, rectifier_circuit.h
// for how one is solved.
#pragma once

#include "core/values/verdict.h"

#include <functional>
#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace offshoot {

enum class SimRectifier { Half, FullWaveCt, Bridge, Doubler };
template <>
struct Words<SimRectifier>
{
    static constexpr std::array<std::string_view, 4> list{"half", "full_wave_ct", "bridge", "doubler"};
};
enum class DiodeModel { Threshold, Exponential, Valve };
template <>
struct Words<DiodeModel>
{
    static constexpr std::array<std::string_view, 3> list{"threshold", "exponential", "valve"};
};

/// EMF √2·V·sin(2πft + phase) behind r and l, seen from the secondary; of each half with a centre tap.
struct SimSource
{
    double v_rms_v;
    double f_hz;
    double r_ohm; ///< with the primary's reflected share
    std::optional<double> l_h = {};
    double phase_rad = 0;
    double spread = 0.10;
    Json unknown = {};
    bool operator==(const SimSource&) const = default;
};
void fields(Fields& f, SimSource& value);

/// One rectifying element.
struct SimDiode
{
    DiodeModel model;
    double v_f_v = 0;
    double r_ohm = 0; ///< in series with the junction
    double i_s_a = 0;
    double n = 1;
    double t_k = 298.15;
    double perveance_a_v15 = 0; ///< i = K·v^1.5 (Child and Langmuir)
    double r_plate_ohm = 0;
    Json unknown = {};
    /// What stands in series with it, whatever the model.
    double seriesOhm() const { return model == DiodeModel::Valve ? r_plate_ohm : r_ohm; }
    bool operator==(const SimDiode&) const = default;
};
void fields(Fields& f, SimDiode& value);

enum class SmoothingKind { C, L, R };
template <>
struct Words<SmoothingKind>
{
    static constexpr std::array<std::string_view, 3> list{"c", "l", "r"};
};

/// A capacitor from the present node to the return, or a choke or resistor to the next node.
struct SmoothingSection
{
    SmoothingKind kind = SmoothingKind::C;
    double c_f = 0;
    double esr_ohm = 0;
    double v0_v = 0;
    std::optional<double> v_rated_v = {};
    std::optional<double> i_ripple_a = {};
    double l_h = 0;
    double r_ohm = 0; ///< of the resistor, or of the choke's wire
    Json unknown = {};
    bool operator==(const SmoothingSection&) const = default;
};
void fields(Fields& f, SmoothingSection& value);

struct SimRectifierPart
{
    SimRectifier kind;
    SimDiode diode;
    std::optional<SmoothingSection> upper = {}; ///< capacitors of a doubler
    std::optional<SmoothingSection> lower = {};
    Json unknown = {};
    bool operator==(const SimRectifierPart&) const = default;
};
void fields(Fields& f, SimRectifierPart& value);

/// One of the three; the last two fall to a resistance below v_min.
struct SimLoad
{
    std::optional<double> resistance_ohm = {};
    std::optional<double> current_a = {};
    std::optional<double> power_w = {};
    double v_min_v = 1;
    Json unknown = {};
    bool operator==(const SimLoad&) const = default;
};
void fields(Fields& f, SimLoad& value);

struct TapLoad
{
    std::int64_t section;
    SimLoad load;
    Json unknown = {};
    bool operator==(const TapLoad&) const = default;
};
void fields(Fields& f, TapLoad& value);

enum class SimMode { Steady, Start };
template <>
struct Words<SimMode>
{
    static constexpr std::array<std::string_view, 2> list{"steady", "start"};
};

struct RectifierRatings
{
    std::optional<double> v_piv_v = {};
    std::optional<double> i_peak_a = {};
    std::optional<double> i_mean_a = {};
    std::optional<double> i_hot_a = {};
    std::optional<double> c_first_max_f = {};
    std::optional<double> r_plate_min_ohm = {};
    Json unknown = {};
    bool operator==(const RectifierRatings&) const = default;
};
void fields(Fields& f, RectifierRatings& value);

/// The chain itself: what both calculations share.
struct RectifierChain
{
    SimSource source;
    SimRectifierPart rectifier;
    std::vector<SmoothingSection> filter;
    SimLoad load;
    std::vector<TapLoad> tap_loads = {};
    /// Whether any capacitor stands in it.
    bool hasCapacitor() const;
    double noLoadVolts() const;
    /// Puts a section in before `at`, or takes it out: every tap stays on its capacitor, or goes with it.
    void insertSection(std::size_t at, const SmoothingSection& section);
    void eraseSection(std::size_t at);
    /// Another rectifier: the first capacitor becomes both of a doubler, a doubler's upper one the first.
    void setKind(SimRectifier kind);
    bool operator==(const RectifierChain&) const = default;
};
void fields(Fields& f, RectifierChain& value);

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
