// `rewind.options`: other turns on a secondary instead of, or besides, a changed divider.
//
// Flyback: V_or = (V+V_f)·N_p/N_s, rectifier reverse V + V_in·N_s/N_p, V_cc = (V+V_f)·N_aux/N_s − V_f,aux.
// Forward: rectifier reverse V_in·N_s/N_p. Mains winding: volts per turn stay. (Transformer design texts.)
#pragma once

#include "core/values/verdict.h"

#include <cstdint>
#include <optional>
#include <vector>

namespace offshoot {

enum class WoundTopology { Flyback, Forward, Line };
template <>
struct Words<WoundTopology>
{
    static constexpr std::array<std::string_view, 3> list{"flyback", "forward", "line"};
};

/// An output of the winding: volts, the rectifier's drop and the current drawn.
struct WoundOutput
{
    double v;
    std::optional<double> v_f_v;
    std::optional<double> i_a;
};
void fields(Fields& f, WoundOutput& value);

/// The controller's own winding on the same core.
struct AuxiliaryWinding
{
    std::int64_t turns;
    double v_f_v = 0;
    double min_v; ///< the controller's off-threshold
    double max_v;
};
void fields(Fields& f, AuxiliaryWinding& value);

struct RewindInput
{
    WoundTopology topology;
    std::int64_t secondary_turns;
    WoundOutput found;
    WoundOutput wanted; ///< its v_f_v stands in for an absent one from `found`
    std::optional<AuxiliaryWinding> aux;
    std::optional<std::int64_t> primary_turns;
    std::optional<double> v_in_max_v;
    double spike_v = 0;
    std::optional<double> switch_v;    ///< rating
    std::optional<double> rectifier_v; ///< rating
    std::int64_t count = 5;
};
void fields(Fields& f, RewindInput& in);

struct RewindOption
{
    std::int64_t turns;
    double v;
    double error_v;
    double volts_per_turn;
    std::optional<double> reflected_v;
    std::optional<double> switch_v;
    std::optional<double> rectifier_reverse_v;
    std::optional<double> v_cc_v;
    std::optional<double> wire_area_scale;
    std::optional<double> fill_scale; ///< above 1 the same copper loss does not fit the same space
    std::optional<Verdict> vcc_verdict;
    std::optional<Verdict> switch_verdict;
    std::optional<Verdict> rectifier_verdict;
    std::optional<Verdict> verdict;
};
void fields(Fields& f, RewindOption& out);

struct RewindResult
{
    double ideal_turns;
    std::int64_t best_turns;
    std::vector<RewindOption> options; ///< ascending; the found number (retune only) is among them
};
void fields(Fields& f, RewindResult& out);

/// The whole numbers of turns nearest to the target, with what each does to the rest, by the formulas at the
/// head of this file. Throws nothing.
RewindResult rewindOptions(const RewindInput& in);

} // namespace offshoot
