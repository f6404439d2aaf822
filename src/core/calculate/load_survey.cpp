#include "core/calculate/load_survey.h"

#include "core/values/quantity.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

constexpr double share_rounding = 1e-6; ///< within which shares of time make one

const RailDraw* drawOf(const LoadState& state, const std::string& rail)
{
    const auto found = std::ranges::find(state.draws, rail, &RailDraw::rail);
    return found == state.draws.end() ? nullptr : &*found;
}

/// A rail that is not drawn from gives exactly nothing.
struct Drawn
{
    double least_a = 0;
    double usual_a = 0; ///< as read
    double continuous_a = 0;
    double peak_a = 0;
    std::optional<double> peak_s = 0.0;
};

Drawn drawn(const LoadState& state, const std::string& rail, double steady_s)
{
    const RailDraw* draw = drawOf(state, rail);
    if (draw == nullptr)
        return {};
    const double peak_a = draw->peak_a.value_or(draw->usual_a) + draw->u_a;
    const bool lasts = draw->peak_s && *draw->peak_s >= steady_s;
    return {std::max(0.0, draw->least_a.value_or(draw->usual_a) - draw->u_a), draw->usual_a,
            lasts ? std::max(peak_a, draw->usual_a + draw->u_a) : draw->usual_a + draw->u_a, peak_a,
            draw->peak_s};
}

RailSurvey railSurvey(const LoadSurveyInput& in, const std::string& rail)
{
    RailSurvey out{.name = rail,
                   .least_a = 0,
                   .usual_a = {},
                   .continuous_a = 0,
                   .peak_a = 0,
                   .peak_s = {},
                   .wanted_a = 0,
                   .ruled_by = {}};
    for (std::size_t i = 0; i < in.states.size(); ++i) {
        const LoadState& state = in.states[i];
        const Drawn at = drawn(state, rail, in.steady_s);
        const bool first = i == 0;
        if (first || at.least_a < out.least_a) {
            out.least_a = at.least_a;
            out.ruled_by.least = state.name;
        }
        if (first || at.continuous_a > out.continuous_a) {
            out.continuous_a = at.continuous_a;
            out.ruled_by.continuous = state.name;
        }
        if (first || at.peak_a > out.peak_a) {
            out.peak_a = at.peak_a;
            out.peak_s = at.peak_s;
            out.ruled_by.peak = state.name;
        }
        if (state.time_share)
            out.usual_a = out.usual_a.value_or(0) + *state.time_share * at.usual_a;
    }
    out.wanted_a = out.continuous_a * (1 + in.margin);
    return out;
}

} // namespace

void fields(Fields& f, SurveyedRail& value)
{
    f.need("name", value.name);
    f.need("v", value.v, range::positive);
}

void fields(Fields& f, RailDraw& value)
{
    f.need("rail", value.rail);
    f.need("usual_a", value.usual_a, range::not_negative);
    f.may("least_a", value.least_a, range::not_negative);
    f.may("peak_a", value.peak_a, range::not_negative);
    f.may("peak_s", value.peak_s, range::not_negative);
    f.may("u_a", value.u_a, range::not_negative);
    f.demand(value.least_a.value_or(value.usual_a) <= value.usual_a, ErrorCode::Inconsistent, "least_a",
             "the least current lies above the usual one");
    f.demand(value.peak_a.value_or(value.usual_a) >= value.usual_a, ErrorCode::Inconsistent, "peak_a",
             "the peak lies below the usual current");
}

void fields(Fields& f, LoadState& value)
{
    f.need("name", value.name);
    f.may("time_share", value.time_share, Range{0, 1});
    f.need("draws", value.draws);
    for (std::size_t i = 0; f.reading() && i < value.draws.size(); ++i)
        for (std::size_t k = 0; k < i; ++k)
            if (value.draws[i].rail == value.draws[k].rail)
                throw DocumentError(ErrorCode::Inconsistent,
                                    jsonPath(jsonPath(f.path(), "draws"), i) + "/rail",
                                    "this rail stands here already");
}

void fields(Fields& f, LoadSurveyInput& in)
{
    constexpr std::size_t most_rails = 12;
    constexpr std::size_t most_listed = 100;
    constexpr Range margins{0, 10};
    f.need("rails", in.rails, Lengths{1, most_rails});
    f.need("states", in.states, Lengths{1, most_listed});
    f.may("steady_s", in.steady_s, range::positive);
    f.may("margin", in.margin, margins);
    f.demandUniqueNames("rails", in.rails);
    f.demandUniqueNames("states", in.states);
    if (!f.reading())
        return;
    double shares = 0;
    std::size_t shared = 0;
    for (std::size_t i = 0; i < in.states.size(); ++i) {
        const LoadState& state = in.states[i];
        if (state.time_share)
            ++shared;
        shares += state.time_share.value_or(0);
        for (std::size_t k = 0; k < state.draws.size(); ++k)
            if (std::ranges::find(in.rails, state.draws[k].rail, &SurveyedRail::name) == in.rails.end())
                throw DocumentError(
                    ErrorCode::Inconsistent,
                    jsonPath(jsonPath(jsonPath(jsonPath(f.path(), "states"), i), "draws"), k) + "/rail",
                    "there is no such rail");
    }
    f.demand(shared == 0 || shared == in.states.size(), ErrorCode::Inconsistent, "states",
             "every state has its share of the time, or none");
    f.demand(shared == 0 || std::abs(shares - 1) <= share_rounding, ErrorCode::Inconsistent, "states",
             "the shares of the time do not make one");
}

void fields(Fields& f, RailRulers& out)
{
    f.need("least", out.least);
    f.need("continuous", out.continuous);
    f.need("peak", out.peak);
}

void fields(Fields& f, RailSurvey& out)
{
    f.need("name", out.name);
    f.need("least_a", out.least_a);
    f.may("usual_a", out.usual_a);
    f.need("continuous_a", out.continuous_a);
    f.need("peak_a", out.peak_a);
    f.may("peak_s", out.peak_s);
    f.need("wanted_a", out.wanted_a);
    f.need("ruled_by", out.ruled_by);
}

void fields(Fields& f, PowerRulers& out)
{
    f.need("continuous", out.continuous);
    f.need("peak", out.peak);
}

void fields(Fields& f, PowerSurvey& out)
{
    f.need("continuous_w", out.continuous_w);
    f.need("peak_w", out.peak_w);
    f.may("mean_w", out.mean_w);
    f.may("energy_j_per_day", out.energy_j_per_day);
    f.need("wanted_w", out.wanted_w);
    f.need("ruled_by", out.ruled_by);
    f.need("sum_of_peaks_w", out.sum_of_peaks_w);
    f.may("diversity", out.diversity);
}

void fields(Fields& f, LoadSurveyResult& out)
{
    f.need("rails", out.rails);
    f.need("power", out.power);
}

LoadSurveyResult loadSurvey(const LoadSurveyInput& in)
{
    LoadSurveyResult out{};
    PowerSurvey& power = out.power;
    for (const SurveyedRail& rail : in.rails) {
        out.rails.push_back(railSurvey(in, rail.name));
        power.sum_of_peaks_w += rail.v * out.rails.back().peak_a;
    }
    for (std::size_t i = 0; i < in.states.size(); ++i) {
        const LoadState& state = in.states[i];
        double continuous_w = 0;
        double peak_w = 0;
        double usual_w = 0;
        for (const SurveyedRail& rail : in.rails) {
            const Drawn at = drawn(state, rail.name, in.steady_s);
            continuous_w += rail.v * at.continuous_a;
            peak_w += rail.v * at.peak_a;
            usual_w += rail.v * at.usual_a;
        }
        if (i == 0 || continuous_w > power.continuous_w) {
            power.continuous_w = continuous_w;
            power.ruled_by.continuous = state.name;
        }
        if (i == 0 || peak_w > power.peak_w) {
            power.peak_w = peak_w;
            power.ruled_by.peak = state.name;
        }
        if (state.time_share)
            power.mean_w = power.mean_w.value_or(0) + *state.time_share * usual_w;
    }
    if (power.mean_w)
        power.energy_j_per_day = seconds_per_day * *power.mean_w;
    power.wanted_w = power.continuous_w * (1 + in.margin);
    if (power.sum_of_peaks_w > 0)
        power.diversity = power.peak_w / power.sum_of_peaks_w;
    return out;
}

} // namespace offshoot
