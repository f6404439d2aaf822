// What the load draws in each of its states, and what of it becomes the need.
#pragma once

#include "core/calculate/load_survey.h"
#include "core/job/job.h"

#include <optional>
#include <string>

namespace offshoot {

struct SurveyView
{
    std::optional<LoadSurveyInput> input;
    std::optional<LoadSurveyResult> result;
    std::string sentence;
};
/// Of the rails that have a voltage: the need's on the first one, what they give on the others.
SurveyView surveyView(const Job& job);
/// The figures of the first rail as the need, with the states that rule them as its reason.
void takeSurvey(Job& job);

} // namespace offshoot
