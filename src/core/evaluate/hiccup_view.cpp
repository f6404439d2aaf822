#include "core/evaluate/hiccup_view.h"

#include "core/evaluate/evaluation.h"
#include "core/job/readings.h"
#include "core/kinds/dummy_load/dummy_load_view.h"
#include "core/values/figures.h"

#include <algorithm>
#include <array>

namespace offshoot {

namespace {

std::string hiccupSentence(const HiccupResult& result)
{
    static constexpr std::array<std::string_view, 5> names{"a controller that starves", "an overload",
                                                           "a short", "a limiter lamp too small",
                                                           "a missing minimum load"};
    std::string likely;
    std::size_t count = 0;
    for (const HiccupExplanation& e : result.causes)
        if (e.likelihood == Likelihood::Likely) {
            likely +=
                (likely.empty() ? "" : ", or ") + std::string(names.at(static_cast<std::size_t>(e.cause)));
            ++count;
        }
    if (result.causes.front().likelihood == Likelihood::RuledOut)
        return "Something seen speaks against every cause: look again at what was seen.";
    if (count == 0)
        return "Nothing speaks for one cause yet: " + result.causes.front().next;
    return (count == 1 ? "It points to " : "It may be ") + likely + ". Next: " + result.causes.front().next;
}

} // namespace

HiccupView hiccupView(const Job& planned)
{
    HiccupView view;
    if (bearsLowMains(planned.found.topology)) {
        view.sentence =
            "There is no converter here that could hiccup. One that comes and goes protects itself, "
            "against overload or heat.";
        return view;
    }
    Job job = planned;
    job.plan.rewind.reset();
    job.plan.dummy_load.reset();
    job.plan.shunt.reset();
    const Evaluation evaluation = evaluate(job, 0);
    HiccupInput& in = view.input;
    const HiccupSeen& seen = job.hiccup;
    in.lamp_in = seen.lamp_in;
    in.stops_lamp_out = seen.stops_lamp_out;
    in.stops_unloaded = seen.stops_unloaded;
    in.stops_with_load = seen.stops_with_load;
    in.reaches_output = seen.reaches_output;
    for (const ConsequenceRow& row : evaluation.consequences.rows)
        if (row.id == RowId::AuxiliaryLow && row.planned && row.limit) {
            in.v_cc_v = row.planned;
            in.off_v = row.limit;
        }
    in.load_a = job.need.peak_a ? job.need.peak_a : job.need.current_a;
    const Rail& rail = job.found.rails.front();
    for (const auto& [name, allowed] : evaluation.consequences.allowed_current_a)
        if (name == rail.name)
            in.allowed_a = allowed;
    if (evaluation.lamp)
        in.lamp_use = evaluation.lamp->use;
    if (const auto fit = minimumLoadView(job, evaluation, rail).fit; fit && !fit->extrapolated)
        in.least_load_a = fit->least_current_a;
    if (const LogEntry* read = newestReading(job, rail.name, Quantity::Resistance))
        in.output_ohm = read->value;
    view.result = explainHiccup(in);
    view.sentence = hiccupSentence(view.result);
    return view;
}

} // namespace offshoot
