#include "core/job/report_pictures.h"

#include "core/job/before_after.h"
#include "core/job/joining.h"
#include "core/job/mains_views.h"
#include "core/job/wiring.h"
#include "core/job/workspaces.h"
#include "core/values/figures.h"
#include "core/values/html.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

using html::escaped;

constexpr std::string_view ink = "#1d2930";
constexpr std::string_view soft = "#4a5b65";
constexpr std::string_view planned_colour = "#075a57";

std::string number(double v) { return significant(v, 6); }

std::string svgHead(double height)
{
    return "<svg xmlns='http://www.w3.org/2000/svg' width='680' height='" + number(height) +
           "' viewBox='0 0 680 " + number(height) +
           "' font-family='Offshoot B612, B612, sans-serif' font-size='12'>";
}

std::string textAt(double x, double y, const std::string& words, std::string_view anchor = "start",
                   std::string_view colour = ink)
{
    return "<text x='" + number(x) + "' y='" + number(y) + "' text-anchor='" + std::string(anchor) +
           "' fill='" + std::string(colour) + "'>" + escaped(words) + "</text>";
}

std::string stroke(double x1, double y1, double x2, double y2, std::string_view colour, double width)
{
    return "<line x1='" + number(x1) + "' y1='" + number(y1) + "' x2='" + number(x2) + "' y2='" + number(y2) +
           "' stroke='" + std::string(colour) + "' stroke-width='" + number(width) + "'/>";
}

/// A figure on its own axis: the window it must lie in, where it stands now and where it comes to.
struct Lane
{
    std::string name;
    Quantity quantity;
    std::optional<double> least; ///< of the window; open at its side where absent
    std::optional<double> most;
    std::optional<double> found;
    std::optional<double> planned;
};

/// Found is a ring, planned a full mark, so that both can be told without colour.
std::string lanesSvg(const std::vector<Lane>& lanes)
{
    constexpr double line = 44;
    constexpr double left = 150;
    constexpr double wide = 390;
    std::string svg = svgHead(line * static_cast<double>(lanes.size()) + 8);
    double y = 24;
    for (const Lane& lane : lanes) {
        double low = 1e300;
        double high = -1e300;
        for (const auto& v : {lane.least, lane.most, lane.found, lane.planned})
            if (v) {
                low = std::min(low, *v);
                high = std::max(high, *v);
            }
        const double room = 0.12 * std::max(high - low, 0.01 * std::abs(high) + 1e-12);
        low -= room;
        high += room;
        const auto x = [&](double v) { return left + wide * (v - low) / (high - low); };
        const auto said = [&](double v) {
            return lane.quantity == Quantity::Voltage ? volts(v) : formatValue(v, lane.quantity);
        };
        svg += textAt(left - 10, y + 4, lane.name, "end");
        svg += stroke(left, y, left + wide, y, soft, 1);
        const double from = lane.least ? x(*lane.least) : left;
        const double to = lane.most ? x(*lane.most) : left + wide;
        svg += "<rect x='" + number(from) + "' y='" + number(y - 9) + "' width='" + number(to - from) +
               "' height='18' fill='#e3eeea' stroke='" + std::string(ink) + "' stroke-dasharray='4 2'/>";
        if (lane.least)
            svg += textAt(from, y + 22, said(*lane.least), "middle", soft);
        if (lane.most)
            svg += textAt(to, y + 22, said(*lane.most), "middle", soft);
        if (lane.found)
            svg += "<circle cx='" + number(x(*lane.found)) + "' cy='" + number(y) +
                   "' r='5' fill='none' stroke='" + std::string(soft) + "' stroke-width='2'/>";
        if (lane.planned)
            svg += "<circle cx='" + number(x(*lane.planned)) + "' cy='" + number(y) + "' r='5' fill='" +
                   std::string(planned_colour) + "'/>";
        const double shift = lane.found && lane.planned ? 7 : 0;
        if (lane.found)
            svg += textAt(left + wide + 10, y + 4 - shift, "found " + said(*lane.found), "start", soft);
        if (lane.planned)
            svg += textAt(left + wide + 10, y + 4 + shift, "planned " + said(*lane.planned), "start",
                          planned_colour);
        y += line;
    }
    return svg + "</svg>";
}

/// Round figures within the range, about five of them.
std::vector<double> ticks(double low, double high)
{
    constexpr double about = 5;
    const double rough = (high - low) / about;
    const double decade = std::pow(10, std::floor(std::log10(rough)));
    double step = 10 * decade;
    for (const double nice : {5.0, 2.0, 1.0})
        if (nice * decade >= rough * (1 - 1e-9))
            step = nice * decade;
    std::vector<double> all;
    for (double k = std::ceil(low / step); k * step <= high; ++k)
        all.push_back(k * step);
    return all;
}

struct Curve
{
    std::string name;
    std::vector<double> y;
    bool dashed;
};

/// Curves over one axis.
std::string curvesSvg(const std::vector<double>& x, const std::vector<Curve>& curves,
                      const std::string& below, const std::string& beside)
{
    constexpr double left = 64;
    constexpr double top = 22;
    constexpr double wide = 470;
    constexpr double high = 170;
    double low_y = 1e300;
    double high_y = -1e300;
    for (const Curve& curve : curves)
        for (const double v : curve.y) {
            low_y = std::min(low_y, v);
            high_y = std::max(high_y, v);
        }
    const double room = 0.08 * std::max(high_y - low_y, 0.01 * std::abs(high_y) + 1e-12);
    low_y -= room;
    high_y += room;
    const auto at_x = [&](double v) { return left + wide * (v - x.front()) / (x.back() - x.front()); };
    const auto at_y = [&](double v) { return top + high * (high_y - v) / (high_y - low_y); };
    std::string svg = svgHead(top + high + 40);
    svg += textAt(left, 14, beside);
    svg += textAt(left + wide / 2, top + high + 34, below, "middle");
    for (const double v : ticks(low_y, high_y)) {
        svg += stroke(left, at_y(v), left + wide, at_y(v), "#d5cfbf", 1);
        svg += textAt(left - 6, at_y(v) + 4, significant(v, 5), "end", soft);
    }
    for (const double v : ticks(x.front(), x.back()))
        svg += textAt(at_x(v), top + high + 16, significant(v, 5), "middle", soft);
    double named = left + wide;
    for (const Curve& curve : curves) {
        const std::string colour(curve.dashed ? soft : planned_colour);
        const std::string dashes = curve.dashed ? " stroke-dasharray='6 3'" : "";
        svg += "<polyline fill='none' stroke='" + colour + "' stroke-width='2'" + dashes + " points='";
        for (std::size_t i = 0; i < x.size(); ++i)
            svg += number(at_x(x[i])) + "," + number(at_y(curve.y[i])) + " ";
        svg += "'/>";
        // Named above the plot, from the right, each behind a piece of its line.
        constexpr double name_wide = 110;
        constexpr double piece = 26;
        named -= name_wide;
        svg += "<line x1='" + number(named - piece - 6) + "' y1='10' x2='" + number(named - 6) +
               "' y2='10' stroke='" + colour + "' stroke-width='2'" + dashes + "/>" +
               textAt(named, 14, curve.name);
    }
    return svg + "</svg>";
}

/// No more than a page can show.
std::vector<double> thinned(const std::vector<double>& all)
{
    constexpr std::size_t most = 400;
    const std::size_t step = std::max<std::size_t>(1, all.size() / most);
    std::vector<double> kept;
    for (std::size_t i = 0; i < all.size(); i += step)
        kept.push_back(all[i]);
    return kept;
}

void addLanes(std::vector<ReportPicture>& all, const std::string& title, const std::vector<Lane>& lanes)
{
    if (!lanes.empty())
        all.push_back({title, lanesSvg(lanes)});
}

} // namespace

std::string rulerSvg(const Job& job, const Evaluation& e)
{
    const auto target = unitTarget(job);
    if (!target)
        return {};
    struct Bar
    {
        std::string name;
        double low;
        double high;
        std::string_view colour;
        double height;
    };
    std::vector<Bar> bars;
    if (e.found_plain)
        bars.push_back(
            {"found, by its tolerances", e.found_plain->min_v, e.found_plain->max_v, "#d5cfbf", 10});
    if (e.found_v)
        bars.push_back({"found " + volts(*e.found_v), *e.found_v, *e.found_v, "#4a5b65", 16});
    if (e.planned)
        bars.push_back(
            {"planned, by tolerances alone", e.planned->plain.min_v, e.planned->plain.max_v, "#9cc2bc", 10});
    if (e.planned_range)
        bars.push_back(
            {"planned " + fixed(e.planned_range->min_v, 2) + " to " + fixed(e.planned_range->max_v, 2) + " V",
             e.planned_range->min_v, e.planned_range->max_v, "#075a57", 16});
    for (const BeforeAfter& row : beforeAfter(e))
        if (row.measured && row.quantity == Quantity::Voltage && !row.name.starts_with("ripple"))
            bars.push_back({"measured, " + row.name + " " + volts(*row.measured), std::abs(*row.measured),
                            std::abs(*row.measured), "#6b3fa0", 16});
    if (bars.empty())
        return {};
    double low = target->min_v;
    double high = target->max_v;
    for (const Bar& bar : bars) {
        low = std::min(low, bar.low);
        high = std::max(high, bar.high);
    }
    const double room = 0.06 * std::max(high - low, 0.02 * high);
    low -= room;
    high += room;
    constexpr double left = 8;
    constexpr double wide = 430;
    constexpr double line = 22;
    const auto x = [&](double v) { return significant(left + wide * (v - low) / (high - low), 6); };
    const double height = 40 + line * static_cast<double>(bars.size());
    std::string svg = svgHead(height);
    svg += "<rect x='" + x(target->min_v) + "' y='18' width='" +
           significant(wide * (target->max_v - target->min_v) / (high - low), 6) + "' height='" +
           significant(height - 34, 5) +
           "' fill='#e3eeea' stroke='#1d2930' stroke-width='1' stroke-dasharray='4 2'/>";
    svg += "<text x='" + x(target->min_v) + "' y='13' fill='#1d2930'>wanted " + fixed(target->min_v, 2) +
           " to " + fixed(target->max_v, 2) + " V</text>";
    double y = 26;
    for (const Bar& bar : bars) {
        const double least = 3; // a single value is a stroke
        const double w = std::max(least, wide * (bar.high - bar.low) / (high - low));
        svg += "<rect x='" + x(bar.low) + "' y='" + significant(y + (16 - bar.height) / 2, 5) + "' width='" +
               significant(w, 6) + "' height='" + significant(bar.height, 3) + "' fill='" +
               std::string(bar.colour) + "'/><text x='452' y='" + significant(y + 12, 5) +
               "' fill='#1d2930'>" + escaped(bar.name) + "</text>";
        y += line;
    }
    for (const auto& [v, anchor] : {std::pair(low, "start"), std::pair(high, "end")})
        svg += "<text x='" + x(v) + "' y='" + significant(height - 2, 5) + "' text-anchor='" + anchor +
               "' fill='#5a6972'>" + fixed(v, 1) + " V</text>";
    return svg + "</svg>";
}

void trimPictures(const Job& job, const Evaluation& /*evaluation*/, const ChainRun* /*run*/,
                  std::vector<ReportPicture>& all)
{
    const auto& trimmers = job.found.trimmers;
    const auto at = std::ranges::find(trimmers, job.plan.trim->trimmer, &Trimmer::name);
    const auto index =
        at == trimmers.end() ? std::size_t{0} : static_cast<std::size_t>(at - trimmers.begin());
    std::vector<Lane> rails;
    for (const TrimRail& rail : trimView(job, index).input.rails)
        rails.push_back({rail.name + " " + rail.load, Quantity::Voltage, rail.min_v, rail.max_v, rail.v,
                         rail.v * job.plan.trim->scale});
    addLanes(all, "Every rail that the trimmer moves", rails);
}

void dummyLoadPictures(const Job& job, const Evaluation& evaluation, const ChainRun* /*run*/,
                       std::vector<ReportPicture>& all)
{
    const std::string& name = job.plan.dummy_load->rail;
    for (std::size_t i = 0; i < job.found.rails.size(); ++i) {
        const Rail& rail = job.found.rails[i];
        if (rail.name != name && !(i == 0 && name.empty()))
            continue;
        Lane lane{rail.name, Quantity::Voltage,           {},
                  {},        evaluation.rails_found_v[i], evaluation.rails_planned_v[i]};
        for (const RailUser& user : rail.users) {
            if (user.min_v)
                lane.least = std::max(lane.least.value_or(*user.min_v), *user.min_v);
            if (user.max_v)
                lane.most = std::min(lane.most.value_or(*user.max_v), *user.max_v);
        }
        if (lane.found || lane.planned)
            addLanes(all, "The rail with its dummy load", {lane});
    }
}

void limitPictures(const Job& job, const Evaluation& evaluation, const ChainRun* /*run*/,
                   std::vector<ReportPicture>& all)
{
    const LimitView view = limitView(job, evaluation);
    if (!view.result || !view.result->i_limit_a)
        return;
    const LimitResult& r = *view.result;
    addLanes(
        all, "The limit between what the load draws and what the supply bears",
        {{"limits at least at",
          Quantity::Current,
          view.input->load_a,
          view.input->rated_a,
          {},
          r.i_limit_min_a},
         {"limits at", Quantity::Current, view.input->load_a, view.input->rated_a, {}, r.i_limit_a},
         {"at most at", Quantity::Current, view.input->load_a, view.input->rated_a, {}, r.i_limit_max_a}});
}

void sharePictures(const Job& job, const Evaluation& evaluation, const ChainRun* /*run*/,
                   std::vector<ReportPicture>& all)
{
    const ParallelView view = parallelView(job, evaluation);
    if (!view.result)
        return;
    std::vector<Lane> units;
    for (const UnitShare& unit : view.result->bus.units)
        units.push_back({unit.name,
                         Quantity::Current,
                         0.0,
                         unit.use && *unit.use > 0 ? std::optional(unit.current_a / *unit.use) : std::nullopt,
                         {},
                         unit.current_a});
    addLanes(all, "What each unit gives, up to its limit", units);
}

void runPictures(const Job& job, const Evaluation& evaluation, const ChainRun* /*run*/,
                 std::vector<ReportPicture>& all)
{
    const WireView view = wireView(job, evaluation);
    if (view.run.size() < 2)
        return;
    std::vector<double> x;
    Curve rail{"between the wires", {}, false};
    for (const RunPoint& point : view.run) {
        x.push_back(point.at_m);
        rail.y.push_back(point.positive_v - point.negative_v);
    }
    if (x.back() > x.front())
        all.push_back({"The voltage along the run", curvesSvg(x, {rail}, "metres from the unit", "V")});
}

void surgePictures(const Job& job, const Evaluation& /*evaluation*/, const ChainRun* /*run*/,
                   std::vector<ReportPicture>& all)
{
    const InrushView view = inrushView(job);
    if (view.limited.t_s.size() < 2)
        return;
    std::vector<double> ms = thinned(view.limited.t_s);
    for (double& t : ms)
        t *= 1e3;
    std::vector<Curve> curves{{"limited", thinned(view.limited.i_a), false}};
    if (view.bare.t_s == view.limited.t_s)
        curves.push_back({"as found", thinned(view.bare.i_a), true});
    all.push_back({"The surge at switch-on", curvesSvg(ms, curves, "milliseconds", "A")});
}

void chainPictures(const Job& /*job*/, const Evaluation& /*evaluation*/, const ChainRun* run,
                   std::vector<ReportPicture>& all)
{
    if (run == nullptr || !run->result.waveforms || run->result.waveforms->t_s.size() < 2)
        return;
    const SimWaveforms& waves = *run->result.waveforms;
    std::vector<double> ms = thinned(waves.t_s);
    for (double& t : ms)
        t *= 1e3;
    all.push_back({"One cycle at the load",
                   curvesSvg(ms, {{"load", thinned(waves.v_load_v), false}}, "milliseconds", "V")});
    all.push_back({"One cycle from the source",
                   curvesSvg(ms, {{"source", thinned(waves.i_source_a), false}}, "milliseconds", "A")});
}

} // namespace offshoot
