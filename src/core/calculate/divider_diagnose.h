// `divider.diagnose`: a reading does not match its prediction; which single fault explains it?
// Every fault a hand can make is put into the divider, one at a time, and compared with the reading.
#pragma once

#include "core/calculate/divider.h"

#include <string>
#include <utility>
#include <vector>

namespace offshoot {

struct DiagnosedPart
{
    double ohm;
    double tolerance = 0;
    bool is_new = false; ///< fitted in this change
};
void fields(Fields& f, DiagnosedPart& value);

struct DiagnosedLeg
{
    std::string network; ///< part names with `+`, `||`, brackets
    std::vector<std::pair<std::string, DiagnosedPart>> parts;
};
void fields(Fields& f, DiagnosedLeg& value);

enum class Observed { Steady, Hunting };
template <>
struct Words<Observed>
{
    static constexpr std::array<std::string_view, 2> list{"steady", "hunting"};
};

struct DividerDiagnoseInput
{
    struct DiagnosedReference
    {
        double v_ref_v;
        double tolerance = 0;
        double i_ref_a = 0;
        std::vector<double> alternatives_v{1.24, 2.495};
        /// The alternatives that a meter tells from the reference: more than a hundredth away from it.
        std::vector<double> others() const;
    };
    DiagnosedReference reference;
    DiagnosedLeg top;
    DiagnosedLeg bottom;
    double measured_v;
    double uncertainty_v = 0;
    Observed observed = Observed::Steady;
    std::int64_t limit = 6;
};
void fields(Fields& f, DividerDiagnoseInput& in);

enum class DividerFault { AsPlanned, Open, Short, DecadeUp, DecadeDown, WrongLeg, Reference };
template <>
struct Words<DividerFault>
{
    static constexpr std::array<std::string_view, 7> list{"as_planned",  "open",      "short",    "decade_up",
                                                          "decade_down", "wrong_leg", "reference"};
};

struct FaultHypothesis
{
    DividerFault fault;
    std::optional<std::string> part;
    std::optional<double> v;
    std::optional<double> min_v;
    std::optional<double> max_v;
    bool runaway;
    std::optional<double> distance_v;
    bool explains;
    std::optional<double> top_ohm; ///< what the leg measures by itself; null when open
    std::optional<double> bottom_ohm;
};
void fields(Fields& f, FaultHypothesis& out);

enum class DiagnosisVerdict { AsPlanned, Explained, Ambiguous, Unexplained };
template <>
struct Words<DiagnosisVerdict>
{
    static constexpr std::array<std::string_view, 4> list{"as_planned", "explained", "ambiguous",
                                                          "unexplained"};
};

struct DividerDiagnoseResult
{
    PredictedVoltage planned;
    DiagnosisVerdict verdict;
    std::vector<FaultHypothesis> hypotheses; ///< likeliest first
};
void fields(Fields& f, DividerDiagnoseResult& out);

/// Each fault predicts a reading by V = V_ref·(1 + R_top/R_bottom) + I_ref·R_top; it explains the one that
/// was taken where the two differ by no more than tolerances and meter allow. The likeliest first. Throws
/// nothing.
DividerDiagnoseResult dividerDiagnose(const DividerDiagnoseInput& in);

} // namespace offshoot
