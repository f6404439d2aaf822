#include "core/evaluate/noise_view.h"

#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

NoiseView noiseView(const Job& job)
{
    NoiseView view;
    const MainsSide& side = job.found.mains_side;
    if (side.noise.empty()) {
        view.sentence = "Put the filter together, from the noisy side to the load.";
        return view;
    }
    FilterInput in{.sections = side.noise};
    constexpr double usual_source_ohm = 0.05;
    in.source_ohm = usual_source_ohm;
    const auto target = unitTarget(job);
    if (target && job.need.current_a)
        in.load_ohm = target->v / *job.need.current_a;
    in.from_hz = 10;
    in.to_hz = 1e8;
    constexpr int points = 350;
    for (int k = 0; k <= points; ++k)
        in.f_hz.push_back(in.from_hz * std::pow(in.to_hz / in.from_hz, double(k) / points));
    if (side.noise_hz)
        in.ripple = {{.f_hz = *side.noise_hz, .in_pp_v = side.noise_pp_v.value_or(1)}};
    view.result = filterResponse(in);
    for (const FilterPoint& point : view.result->points)
        if (point.gain_db) {
            view.f_hz.push_back(point.f_hz);
            view.gain_db.push_back(*point.gain_db);
        }
    view.sentence = side.noise_hz && view.result->ripple.front().out_pp_v
                        ? formatValue(view.result->ripple.front().in_pp_v, Quantity::Voltage) + " at " +
                              formatValue(*side.noise_hz, Quantity::Frequency) + " becomes " +
                              formatValue(*view.result->ripple.front().out_pp_v, Quantity::Voltage) + ". "
                        : std::string("Enter where it switches. ");
    if (const auto& peak = view.result->peak) {
        view.sentence += "It peaks by " +
                         (peak->gain_db ? significant(*peak->gain_db, 2) + " dB" : std::string("far")) +
                         " at " + formatValue(peak->f_hz, Quantity::Frequency) + ".";
        constexpr double harmless_db = 3;
        if (peak->gain_db.value_or(harmless_db + 1) > harmless_db)
            view.damping = dampingOf(in);
    }
    constexpr double flat_db = 0.2;
    if (view.damping)
        view.sentence +=
            " The cure: " + formatValue(view.damping->c_f, Quantity::Capacitance) + " with " +
            formatOhms(view.damping->r_ohm) + " in series, across the " +
            formatValue(*side.noise[view.damping->section].c_f, Quantity::Capacitance) +
            (view.damping->peak_db < flat_db ? ": then it does not."
                                             : ": then by " + significant(view.damping->peak_db, 2) + " dB.");
    view.input = std::move(in);
    return view;
}

} // namespace offshoot
