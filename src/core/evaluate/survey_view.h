// What the load draws in each of its states, and what of it becomes the need.
#pragma once

#include "core/calculate/load_survey.h"
#include "core/job/job.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace offshoot {

/// One rail in one state, A, the meter's doubt included.
struct SurveyLane
{
    std::string state;
    std::string rail;
    double least_a;
    double usual_a;
    double peak_a;
};

struct SurveyView
{
    std::vector<SurveyLane> lanes;
    std::optional<LoadSurveyResult> result;
    std::string sentence;
};
/// Of the rails that have a voltage: the need's on the first one, what they give on the others.
SurveyView surveyView(const Job& job);
/// The figures of the first rail as the need, with the states that rule them as its reason.
void takeSurvey(Job& job);

/// What a recording shows (time in s, current in A): least, mean over time, most, and the longest time at or
/// above the middle between mean and most. Refused with its line; a current below zero is a probe the wrong
/// way round.
Parsed<StateDraw> readDrawCsv(std::string_view text);
/// Puts it in the place of what stood for that state and rail.
void putDraw(Job& job, StateDraw draw);

} // namespace offshoot
