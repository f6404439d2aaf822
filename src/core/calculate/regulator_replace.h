// `regulator.replace`: another regulator in the old one's place. Does the module take what the source gives
// it from trough to crest, what does it burn, and how far does the source rise when it is loaded less?
#pragma once

#include "core/supply/shelf_unit.h"
#include "core/values/usual.h"
#include "core/values/verdict.h"

#include <optional>

namespace offshoot {

/// What feeds the stage: volts fall with the current drawn, and a ripple rides on them.
struct RegulatorSource
{
    double open_v;                          ///< mean, unloaded, at nominal mains; above 0
    double r_ohm = 0;                       ///< slope
    double ripple_v = 0;                    ///< peak to peak, at ripple_at_a; grows with the current
    std::optional<double> ripple_at_a = {}; ///< absent: the output's current
    double spread = usual_mains_spread;     ///< of the mains, up and down
};
void fields(Fields& f, RegulatorSource& value);

struct RegulatorOutput
{
    double v;
    double current_a;
    std::optional<double> peak_a = {}; ///< absent: current_a
    double least_a = 0;
};
void fields(Fields& f, RegulatorOutput& value);

enum class OldRegulatorKind { Linear, Converter };
template <>
struct Words<OldRegulatorKind>
{
    static constexpr std::array<std::string_view, 2> list{"linear", "converter"};
};
struct OldRegulator
{
    OldRegulatorKind kind;
    double efficiency = usual_efficiency; ///< of a converter
};
void fields(Fields& f, OldRegulator& value);

/// The new one, as its data sheet has it.
struct RegulatorModule
{
    ModuleKind kind;
    std::optional<double> in_min_v = {};
    std::optional<double> in_max_v = {};
    double headroom_v = 0; ///< dropout of a linear one, what a buck needs above its output
    std::optional<double> out_min_v = {};
    std::optional<double> out_max_v = {};
    std::optional<double> rated_a = {};
    double efficiency = 0.85;                 ///< of converters
    std::optional<double> theta_k_per_w = {}; ///< junction to air
    std::optional<double> t_j_max_k = {};
    double ambient_k = 313.15;
};
void fields(Fields& f, RegulatorModule& value);

struct RegulatorReplaceInput
{
    RegulatorSource source;
    double others_a = 0; ///< what else draws on the source
    RegulatorOutput output;
    std::optional<OldRegulator> old = {};
    RegulatorModule module;
};
void fields(Fields& f, RegulatorReplaceInput& in);

/// How a stage sits on the source; nothing where it has no operating point there.
struct RegulatorPoint
{
    std::optional<double> in_a;        ///< at nominal mains and the output's current
    std::optional<double> in_trough_v; ///< lowest mains, peak current: the mean less half the ripple
    std::optional<double> in_crest_v;  ///< highest mains, least current: the mean and half the ripple
    std::optional<double> loss_w;      ///< highest mains, the output's current
    std::optional<double> source_v;    ///< nominal mains, the output's current
};
void fields(Fields& f, RegulatorPoint& out);

/// A use with its verdict; a null verdict does not count.
struct JudgedUse
{
    std::optional<double> use = {};
    std::optional<Verdict> verdict = {};
};

struct RegulatorReplaceResult
{
    std::optional<RegulatorPoint> before; ///< without an old one nothing
    RegulatorPoint after;
    std::optional<double> saved_w;
    std::optional<double> source_rise_v;
    JudgedUse headroom;                   ///< of a linear one and a buck
    std::optional<Verdict> boost_verdict; ///< of a boost: an input above the output passes straight through
    JudgedUse in_min;
    JudgedUse in_max;
    Verdict out_verdict;
    JudgedUse current;
    std::optional<double> junction_k;
    JudgedUse thermal;
    bool operating; ///< at every point that `after` names
    Verdict verdict;
};
void fields(Fields& f, RegulatorReplaceResult& out);

/// A converter draws P/(ηV): V = (E′ + √(E′² − 4rP/η))/2 is the upper of the two points where its hyperbola
/// meets the source's line, the stable one. A linear regulator draws what it gives.
RegulatorReplaceResult regulatorReplace(const RegulatorReplaceInput& in);

} // namespace offshoot
