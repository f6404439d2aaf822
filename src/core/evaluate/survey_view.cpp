#include "core/evaluate/survey_view.h"

#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

namespace {

LoadSurveyInput inputOf(const Job& job)
{
    LoadSurveyInput in;
    for (std::size_t i = 0; i < job.found.rails.size(); ++i) {
        const Rail& rail = job.found.rails[i];
        const auto v = i == 0 && job.need.target ? std::optional(job.need.target->v) : rail.v_v;
        if (v && *v > 0)
            in.rails.push_back({.name = rail.name, .v = *v});
    }
    for (const StateDraw& draw : job.need.measured) {
        if (std::ranges::find(in.rails, draw.rail, &SurveyedRail::name) == in.rails.end())
            continue;
        auto state = std::ranges::find(in.states, draw.state, &LoadState::name);
        if (state == in.states.end())
            state = in.states.insert(in.states.end(), LoadState{.name = draw.state});
        state->draws.push_back({.rail = draw.rail,
                                .usual_a = draw.usual_a,
                                .least_a = draw.least_a,
                                .peak_a = draw.peak_a,
                                .peak_s = draw.peak_s,
                                .u_a = draw.u_a});
    }
    return in;
}

std::string rulesWords(const RailSurvey& rail)
{
    std::string text = rail.ruled_by.continuous + " rules what is drawn for good";
    if (rail.peak_a > rail.continuous_a)
        text += ", " + rail.ruled_by.peak + " the peak";
    return text;
}

} // namespace

SurveyView surveyView(const Job& job)
{
    SurveyView view;
    LoadSurveyInput in = inputOf(job);
    if (job.need.measured.empty()) {
        view.sentence = "Measure what the load draws, state by state: off, standby, starting, everything on.";
        return view;
    }
    if (in.rails.empty() || in.states.empty()) {
        view.sentence = "Say what the rails give: the voltage that is wanted, or in Found what is there.";
        return view;
    }
    view.result = loadSurvey(in);
    const RailSurvey& first = view.result->rails.front();
    view.sentence = first.name + " wants " + amps(first.continuous_a) + " for good" +
                    (first.peak_a > first.continuous_a ? " and " + amps(first.peak_a) + " at its peak" : "") +
                    ": " + rulesWords(first) + ".";
    for (const LoadState& state : in.states)
        for (const RailDraw& draw : state.draws)
            view.lanes.push_back({.state = state.name,
                                  .rail = draw.rail,
                                  .least_a = std::max(0.0, draw.least_a.value_or(draw.usual_a) - draw.u_a),
                                  .usual_a = draw.usual_a,
                                  .peak_a = draw.peak_a.value_or(draw.usual_a) + draw.u_a});
    return view;
}

void takeSurvey(Job& job)
{
    const SurveyView view = surveyView(job);
    if (!view.result)
        return;
    const auto first = std::ranges::find(view.result->rails, job.found.rails.front().name, &RailSurvey::name);
    if (first == view.result->rails.end() || first->continuous_a <= 0)
        return;
    job.need.current_a = first->continuous_a;
    job.need.least_a = first->least_a;
    job.need.peak_a.reset();
    if (first->peak_a > first->continuous_a)
        job.need.peak_a = first->peak_a;
    const std::string reason = "measured: " + rulesWords(*first);
    const auto before = job.need.why.find("measured: ");
    std::string kept = job.need.why.substr(0, before);
    job.need.why =
        kept.empty() || before == 0 ? reason : kept + (before == std::string::npos ? "; " : "") + reason;
}

Parsed<StateDraw> readDrawCsv(std::string_view text)
{
    const auto read = readSurgeCsv(text);
    if (!read)
        return read.problem();
    const auto& t = read->t_s;
    const auto& i = read->i_a;
    StateDraw draw;
    draw.least_a = *std::ranges::min_element(i);
    draw.peak_a = *std::ranges::max_element(i);
    if (*draw.least_a < 0)
        return TextProblem{ErrorCode::OutOfRange, 1, "the current is below zero: turn the probe round"};
    const double span_s = t.back() - t.front();
    for (std::size_t k = 1; k < t.size(); ++k)
        draw.usual_a += (i[k - 1] + i[k]) / 2 * (span_s > 0 ? (t[k] - t[k - 1]) / span_s : 1);
    draw.usual_a = std::clamp(draw.usual_a, *draw.least_a, *draw.peak_a);
    const double high_a = (draw.usual_a + *draw.peak_a) / 2;
    double longest_s = 0;
    std::optional<double> since_s;
    for (std::size_t k = 0; k < t.size(); ++k) {
        if (i[k] < high_a)
            since_s.reset();
        else
            since_s = since_s.value_or(t[k]);
        longest_s = std::max(longest_s, since_s ? t[k] - *since_s : 0);
    }
    if (longest_s > 0)
        draw.peak_s = longest_s;
    return draw;
}

void putDraw(Job& job, StateDraw draw)
{
    std::erase_if(job.need.measured, [&](const StateDraw& other) {
        return other.state == draw.state && other.rail == draw.rail;
    });
    job.need.measured.push_back(std::move(draw));
}

} // namespace offshoot
