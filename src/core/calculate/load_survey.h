// `load.survey`: what the load draws in each of its states. What must the supply give for good, for a moment,
// in all, and which state rules it?
#pragma once

#include "core/values/verdict.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct SurveyedRail
{
    std::string name;
    double v; ///< above 0
};
void fields(Fields& f, SurveyedRail& value);

/// What one rail gives in one state. The meter's doubt counts against the supply.
struct RailDraw
{
    std::string rail;
    double usual_a;
    std::optional<double> least_a = {}; ///< absent: usual
    std::optional<double> peak_a = {};  ///< absent: usual
    std::optional<double> peak_s = {};  ///< how long; absent: not known
    double u_a = 0;
};
void fields(Fields& f, RailDraw& value);

struct LoadState
{
    std::string name;
    std::optional<double> time_share = {};
    std::vector<RailDraw> draws = {};
};
void fields(Fields& f, LoadState& value);

struct LoadSurveyInput
{
    std::vector<SurveyedRail> rails; ///< 1 to 12
    std::vector<LoadState> states;   ///< 1 to 100
    double steady_s = 1;             ///< a peak that lasts so long is drawn for good
    double margin = 0.25;
};
void fields(Fields& f, LoadSurveyInput& in);

/// Names of the states that rule each figure.
struct RailRulers
{
    std::string least;
    std::string continuous;
    std::string peak;
};
struct RailSurvey
{
    std::string name;
    double least_a;
    std::optional<double> usual_a; ///< mean over time; nothing without shares of it
    double continuous_a;
    double peak_a;
    std::optional<double> peak_s;
    double wanted_a;
    RailRulers ruled_by;
};
void fields(Fields& f, RailSurvey& out);

struct PowerRulers
{
    std::string continuous;
    std::string peak;
};
struct PowerSurvey
{
    double continuous_w;
    double peak_w;
    std::optional<double> mean_w;
    std::optional<double> energy_j_per_day;
    double wanted_w;
    PowerRulers ruled_by;
    double sum_of_peaks_w;           ///< of the rails, which need not come at once
    std::optional<double> diversity; ///< peak over that sum
};
void fields(Fields& f, PowerSurvey& out);

struct LoadSurveyResult
{
    std::vector<RailSurvey> rails;
    PowerSurvey power;
};
void fields(Fields& f, LoadSurveyResult& out);

/// For each rail and for all together: the most, in A and W, that any state draws for good and for a moment,
/// a peak of `steady_s` or longer counted as for good, `margin` on top. Throws nothing.
LoadSurveyResult loadSurvey(const LoadSurveyInput& in);

} // namespace offshoot
