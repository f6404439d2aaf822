#include "calc/calculations.h"

#include "core/calculate/ballast.h"
#include "core/calculate/cable.h"
#include "core/calculate/capture.h"
#include "core/calculate/current_limit.h"
#include "core/calculate/delay.h"
#include "core/calculate/discharge.h"
#include "core/calculate/divider_diagnose.h"
#include "core/calculate/divider_pot.h"
#include "core/calculate/divider_search.h"
#include "core/calculate/divider_tolerance.h"
#include "core/calculate/dummy_load.h"
#include "core/calculate/filter_response.h"
#include "core/calculate/fit_place.h"
#include "core/calculate/hiccup.h"
#include "core/calculate/identify.h"
#include "core/calculate/inrush.h"
#include "core/calculate/limiter_lamp.h"
#include "core/calculate/load_survey.h"
#include "core/calculate/mains_evidence.h"
#include "core/calculate/mains_fuse.h"
#include "core/calculate/parallel.h"
#include "core/calculate/reading.h"
#include "core/calculate/readout_check.h"
#include "core/calculate/rectifier.h"
#include "core/calculate/regulator_replace.h"
#include "core/calculate/rewind.h"
#include "core/calculate/sense.h"
#include "core/calculate/stack.h"
#include "core/calculate/trim.h"
#include "core/calculate/units_match.h"
#include "core/calculate/windings.h"
#include "core/calculate/wiring_map.h"
#include "core/evaluate/job_input.h"
#include "core/evaluate/report.h"
#include "core/evaluate/whole_job.h"
#include "core/judge/consequences.h"
#include "core/rehearse/bench_play.h"
#include "core/values/marking.h"
#include "core/values/quantity.h"

#include <algorithm>

namespace offshoot {

namespace {

template <class Function>
struct InputOf;
template <class Out, class In>
struct InputOf<Out (*)(const In&)>
{
    using Type = In;
};

/// One row: the input is read, the function called and its result written.
template <auto function>
constexpr Calculation row(std::string_view name, std::string_view description)
{
    using In = typename InputOf<decltype(function)>::Type;
    return {name, description, [](const Json& input) { return writeJson(function(readJson<In>(input))); },
            [] { return schemaOf<In>("input"); }};
}

constexpr std::array table{
    row<valueParse>("value.parse", "read a value as people write it"),
    row<markingRead>("marking.read", "read colour bands, a chip code or a capacitor code"),
    row<markingWrite>("marking.write", "the bands or code of a resistor"),
    row<dividerSolve>("divider.solve", "parts from the drawer that bring a feedback divider to its target"),
    row<dividerPot>("divider.pot", "a temporary trimmer in the divider"),
    row<dividerTolerance>("divider.tolerance", "how a divider's voltage spreads over many builds"),
    row<dividerPredict>("divider.predict", "what a before-reading is worth"),
    row<dividerDiagnose>("divider.diagnose", "which single fault explains a reading"),
    row<consequences>("consequences", "what a new output voltage drags along"),
    row<explainHiccup>("hiccup.explain", "why a supply hiccups, by what was seen and measured"),
    row<rewindOptions>("rewind.options", "other turns on a secondary"),
    row<dummyLoadOptions>("dummyload.options", "resistors from the drawer that load a rail"),
    row<minimumLoadFit>("minimumload.fit", "how much load a rail needs, from readings"),
    row<railsTrim>("rails.trim", "one trimmer, several rails: is any setting good for all"),
    row<limitShunt>("limit.shunt", "a current limit: where it trips, and which shunt makes another"),
    row<sourcesParallel>("sources.parallel", "supplies side by side: how they share, and what if one fails"),
    row<sourcesBallast>("sources.ballast", "how much resistance makes equal supplies share"),
    row<sourcesSeries>("sources.series", "supplies stacked: potentials to earth, bonds, reverse diodes"),
    row<cableDrop>("cable.drop", "the wire to the load: drop, loss, and the size that would do"),
    row<sensePlan>("sense.plan", "remote sense: what arrives, and what an opened sense lead does"),
    row<judgeReading>("reading.judge", "is a reading good, given the meter"),
    row<mainsWindings>("mains.windings", "every way to connect the primaries, and what each gives"),
    row<mainsFuse>("mains.fuse", "the fuse that follows from another mains or a rating"),
    row<mainsEvidence>("mains.evidence", "is it good for this mains: parts, label and papers weighed"),
    row<inrushDirect>("inrush.direct", "the surge at switch-on, cold and hot"),
    row<inrushLimiter>("inrush.limiter", "a limiter with a bypass: its resistor, its time, and if it sticks"),
    row<delayRc>("delay.rc", "how long an R and a C delay, and which R makes a wanted time"),
    row<static_cast<RectifierResult (*)(const RectifierInput&)>(rectifierSimulate)>(
        "rectifier.simulate", "a rectifier with its smoothing chain, steady or at switch-on"),
    row<static_cast<DropperResult (*)(const DropperInput&)>(rectifierDropper)>(
        "rectifier.dropper", "the dropping resistor for a wanted voltage"),
    row<filterResponse>("filter.response", "what a filter lets through, its peak, and ripple through it"),
    row<lampLimit>("lamp.limit", "the lamp in series for first power"),
    row<dischargePlan>("discharge.plan", "how long until a reservoir is dead, and with what"),
    row<captureAnalyse>("capture.analyse", "what an oscilloscope saw: ripple, its lines, the mains' share"),
    row<captureCompare>("capture.compare", "two captures beside each other"),
    row<supplyIdentify>("supply.identify",
                        "which kind of supply it is, by what is seen, and where to look next"),
    row<loadSurvey>("load.survey", "what a load draws in each of its states, and what that asks for"),
    row<readoutCheck>("readout.check", "is what a readout shows true, and what would cure it"),
    row<unitsMatch>("units.match", "which unit of the shelf, or which two, would serve"),
    row<regulatorReplace>("regulator.replace", "another regulator in the old one's place"),
    row<fitPlace>("fit.place", "does a unit go into a case, where, and on which holes"),
    row<wiringMap>("wiring.map", "which wire goes to which terminal"),
    Calculation{"job.evaluate", "everything that the window shows of a job", jobEvaluate, jobInputSchema},
    Calculation{"bench.play", "a job worked on a simulated unit, wrong moves included", benchPlay,
                benchPlayInputSchema},
    Calculation{"job.report", "the report of a job as HTML", jobReport, jobInputSchema},
};

} // namespace

std::span<const Calculation> calculations() { return table; }

const Calculation* findCalculation(std::string_view name)
{
    const auto found =
        std::find_if(table.begin(), table.end(), [&](const Calculation& c) { return c.name == name; });
    return found == table.end() ? nullptr : &*found;
}

} // namespace offshoot
