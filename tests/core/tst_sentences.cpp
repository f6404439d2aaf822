// What the workspaces say: every sentence of a view, reached by changing a demo job's file at one or two
// places.
#include "core/evaluate/evaluation.h"
#include "core/evaluate/evidence_view.h"
#include "core/evaluate/hiccup_view.h"
#include "core/evaluate/mains_bearing.h"
#include "core/evaluate/noise_view.h"
#include "core/evaluate/safe_view.h"
#include "core/kinds/chain/chain_view.h"
#include "core/kinds/current_limit/current_limit_view.h"
#include "core/kinds/divider/temporary_trimmer.h"
#include "core/kinds/dummy_load/dummy_load_view.h"
#include "core/kinds/joined/bus_view.h"
#include "core/kinds/joined/stack_view.h"
#include "core/kinds/replace/wiring_view.h"
#include "core/kinds/rewind/rewind_view.h"
#include "core/kinds/surge_limiter/inrush_view.h"
#include "core/kinds/trim/trim_view.h"
#include "core/kinds/windings/windings_view.h"
#include "core/kinds/wire/wire_view.h"
#include "core/values/figures.h"
#include "support/support.h"

#include <algorithm>
#include <functional>

using namespace offshoot;

namespace {

/// Replaces the value at a pointer, or takes it away where the text is empty.
struct Edit
{
    const char* pointer;
    const char* text;
};

Job edited(const std::string& demo, const std::vector<Edit>& edits)
{
    Json file = Json::parse(test::sourceFile(("data/jobs/" + demo + ".offshoot").c_str()));
    for (const Edit& edit : edits) {
        const Json::json_pointer at(edit.pointer);
        if (*edit.text != 0)
            file[at] = Json::parse(edit.text);
        else
            file[at.parent_pointer()].erase(at.back());
    }
    return jobFrom(file);
}

using View = std::string (*)(const Job&, const Evaluation&);

std::string trim(const Job& job, const Evaluation&)
{
    const TrimView view = trimView(job, 0);
    return view.sentence + " | " + view.next;
}
std::string load(const Job& job, const Evaluation& e)
{
    const MinimumLoadView view = minimumLoadView(job, e, job.found.rails.back());
    return view.sentence + (view.school.sides.empty() ? "" : " | " + view.school.why);
}
std::string firstLoad(const Job& job, const Evaluation& e)
{
    return minimumLoadView(job, e, job.found.rails.front()).sentence;
}
std::string rewind(const Job& job, const Evaluation& e)
{
    return rewindView(job, e, job.found.rails.front()).sentence;
}
std::string limit(const Job& job, const Evaluation& e) { return limitView(job, e).sentence; }
std::string hiccup(const Job& job, const Evaluation&) { return hiccupView(job).sentence; }
std::string wire(const Job& job, const Evaluation& e)
{
    const WireView view = wireView(job, e);
    return view.sentence + " | " + view.school.why;
}
std::string share(const Job& job, const Evaluation& e)
{
    const ParallelView view = parallelView(job, e);
    return view.model.missing + view.sentence;
}
std::string stack(const Job& job, const Evaluation& e)
{
    const StackView view = stackView(job, e);
    std::string text = view.model.missing + view.sentence;
    for (const std::string& line : view.advice)
        text += " | " + line;
    return text;
}
std::string inlet(const Job&, const Evaluation& evaluation)
{
    const auto at = std::ranges::find(evaluation.stations, Station::Inlet, &StationView::station);
    return at == evaluation.stations.end() ? "" : at->found;
}

std::string evidence(const Job& job, const Evaluation&)
{
    const EvidenceView view = evidenceView(job);
    std::string text = view.sentence + (view.next.empty() ? "" : " | " + view.next);
    for (const Contradiction& c : view.result.contradictions)
        text += " | " + contradictionText(c);
    return text;
}
std::string trimmer(const Job& job, const Evaluation&) { return trimmerSentence(job); }
std::string windings(const Job& job, const Evaluation&) { return windingsView(job).sentence; }
std::string surge(const Job& job, const Evaluation&)
{
    const InrushView view = inrushView(job);
    const School& school = view.school;
    const std::string taken = school.sides.empty() ? "" : school.sides.at(school.pick).name + ": ";
    return view.sentence + (view.direct ? " | " + view.stuck + " | " + taken + school.why : "");
}
std::string surgeDrawn(const Job& job, const Evaluation&)
{
    return significant(inrushView(job).bare.t_s.back() * job.need.mains.f_hz, 4) + " cycles are drawn";
}
std::string needed(const Job&, const Evaluation& e) { return e.need_line; }
std::string moved(const Job& job, const Evaluation&) { return wiringView(job).sentence; }
std::string mainsBearing(const Job& job, const Evaluation&)
{
    return bearsMains(job, 1, Condition::Planned).why;
}
std::string safe(const Job& job, const Evaluation& e) { return safeView(job, e).sentence; }
std::string noise(const Job& job, const Evaluation&) { return noiseView(job).sentence; }
std::string chain(const Job& job, const Evaluation&)
{
    const auto run = chainRunOf(job);
    return run ? rectifierSentence(*run) : "no steady state";
}

struct Case
{
    const char* demo;
    std::vector<Edit> edits;
    View view;
    const char* says;
};

const std::vector<Case>& cases()
{
    static const std::vector<Case> list{
        // one trimmer, several rails
        {"splicing-bench", {}, trim, "Turn up"},
        {"splicing-bench", {{"/log", "[]"}}, trim, "Log a reading of each rail"},
        {"splicing-bench", {{"/need/others", "[]"}}, trim, "5V (no window in Need)"},
        {"splicing-bench",
         {{"/found/trimmers/0/max_scale", "1.001"}},
         trim,
         "further up. | Measure the divider"},
        {"splicing-bench", {{"/need/target/max_v", "12.2"}}, trim, "wants down: no setting puts both"},
        {"splicing-bench",
         {{"/need/target", R"({"v":12.2,"min_v":12.15,"max_v":12.25})"},
          {"/found/trimmers/0/rails", R"(["12V"])"}},
         trim,
         "That is wiring drop or regulation"},
        {"ferry-shed-display", {}, trim, "no setting puts both"},
        {"fog-signal-amplifier", {}, trim, "nothing to trim"},
        {"rain-gauge-logger", {}, trim, "No trimmer is entered in Found"},
        // how much load a rail needs
        {"splicing-bench", {}, firstLoad, "12V needs no load to be in its window. "},
        {"ferry-shed-display", {}, load, "12V needs at least"},
        {"ferry-shed-display", {{"/need/others", "[]"}}, load, "no window in Need"},
        {"ferry-shed-display", {{"/log", "[]"}}, load, "Two steady readings at different loads"},
        {"ferry-shed-display",
         {{"/need/others/0/min_v", "15"}, {"/need/others/0/max_v", "16"}},
         load,
         "No load cures it"},
        {"ferry-shed-display", {{"/need/others/0/max_v", "12.6"}}, load, "to be in its window"},
        // turns
        {"rain-gauge-logger", {}, rewind, "turns"},
        {"rain-gauge-logger", {{"/found/topology", "\"buck\""}}, rewind, "no winding to rewind"},
        {"rain-gauge-logger", {{"/found/rails/0/winding/turns", ""}}, rewind, "Count the turns of 18V"},
        {"rain-gauge-logger", {{"/need/target", ""}}, rewind, "Say in Need what 18V is wanted at"},
        {"rain-gauge-logger",
         {{"/log", "[]"}, {"/found/rails/0/v_v", ""}, {"/found/rails/0/feedback/top", ""}},
         rewind,
         "Enter what 18V gives"},
        {"rain-gauge-logger", {{"/found/topology", "\"linear\""}}, rewind, "the trough"},
        {"rain-gauge-logger",
         {{"/found/topology", "\"linear\""}, {"/found/direct/min_v", "16"}, {"/found/regulator/drop_v", "2"}},
         rewind,
         "turns"},
        // current limit
        {"rain-gauge-logger", {}, limit, "the peak of the switch current, not the output"},
        {"splicing-bench", {}, limit, "Limits at"},
        {"splicing-bench", {{"/found/current_limit/threshold", ""}}, limit, "Enter the threshold"},
        {"splicing-bench", {{"/found/current_limit/shunt", ""}}, limit, "No shunt is entered"},
        {"splicing-bench",
         {{"/found/current_limit/shunt", ""}, {"/need/peak_a", ""}, {"/need/current_a", ""}},
         limit,
         "Enter the shunt, or the load's peak"},
        {"splicing-bench", {{"/need/peak_a", "12"}}, limit, "may trip it in normal use"},
        {"splicing-bench",
         {{"/need/peak_a", ""}, {"/need/current_a", ""}},
         limit,
         "What the load draws at its peak is not said"},
        {"splicing-bench", {{"/found/current_limit/shunt", "\"0.001\""}}, limit, "more than the"},
        // the inlet as a station
        {"chart-recorder", {{"/need/mains/v_v", "123.456"}}, inlet, "123.5 V"},
        {"sample-bath", {{"/found/direct", "{\"min_v\": 7, \"max_v\": 28}"}}, inlet, "7–28 V"},
        // no mains side
        {"sample-bath", {}, evidence, "It runs on DC: no mains reaches it."},
        {"sample-bath", {}, windings, "It runs on DC"},
        {"sample-bath", {}, surge, "It runs on DC"},
        {"sample-bath",
         {},
         safe,
         "It runs on DC: a bench supply with a current limit takes the lamp's place. "},
        // hiccup
        {"beacon-float-charge", {}, hiccup, "Nothing speaks for one cause yet"},
        {"fog-signal-amplifier", {}, hiccup, "no converter here that could hiccup"},
        {"beacon-float-charge",
         {{"/hiccup/stops_lamp_out", "true"}, {"/hiccup/lamp_in", "true"}},
         hiccup,
         "lamp too small"},
        {"beacon-float-charge", {{"/hiccup/stops_unloaded", "true"}}, hiccup, "an overload"},
        {"beacon-float-charge", {{"/hiccup/stops_with_load", "true"}}, hiccup, "minimum load"},
        // the wire to the load
        {"mast-camera", {}, wire, "inside the need's window"},
        {"mast-camera", {{"/plan/wire", ""}}, wire, "is the thinnest wire that keeps it inside"},
        {"mast-camera", {{"/need/current_a", ""}}, wire, "Say in Need what the load wants"},
        {"mast-camera",
         {{"/found/rails/0/cable/length_m", ""}, {"/found/rails/0/cable/r_loop_ohm", ""}},
         wire,
         "Enter how long the run"},
        {"mast-camera",
         {{"/plan/wire", ""}, {"/found/rails/0/cable/area_m2", ""}, {"/found/rails/0/cable/r_loop_ohm", ""}},
         wire,
         "Enter the size of the wire"},
        {"mast-camera",
         {{"/plan/wire", ""}, {"/found/rails/0/cable/length_m", "400"}},
         wire,
         "No load can draw"},
        {"mast-camera",
         {{"/plan/wire", ""}, {"/need/draws", "\"current\""}, {"/found/rails/0/cable/length_m", "400"}},
         wire,
         "More than the whole voltage"},
        {"mast-camera", {{"/plan/remote_sense", "true"}}, wire, "The sense wires make up for it"},
        {"mast-camera",
         {{"/plan/wire", ""},
          {"/plan/remote_sense", "true"},
          {"/found/rails/0/sense/range_v", "1"},
          {"/found/rails/0/sense/ceiling_v", "7"},
          {"/found/rails/0/sense/load_capacitor_f", ""},
          {"/found/rails/0/cable/area_m2", "6e-6"},
          {"/found/rails/0/cable/contact_ohm", "0.44"}},
         wire,
         "No size alone keeps the window; the sense terminals bear this drop."},
        {"mast-camera",
         {{"/plan/wire", ""}, {"/plan/remote_sense", "true"}, {"/found/rails/0/cable/contact_ohm", "0.44"}},
         wire,
         "Neither is enough as it stands: raise the set point or shorten the run."},
        // noise, into the load of the need
        {"mast-camera",
         {{"/found/mains_side/noise", R"([{"kind":"l","r_ohm":0,"l_h":1e-3}])"},
          {"/found/mains_side/noise_hz", "1000"},
          {"/found/mains_side/noise_pp_v", "1"}},
         noise,
         "1 V at 1 kHz becomes 702 mV"},
        // side by side
        {"hatch-heater", {}, share, "gives most"},
        {"hatch-heater",
         {{"/need/current_a", "7"}, {"/need/draws", "\"current\""}},
         share,
         ". Any one may fail."},
        {"hatch-heater", // a small one that stands lower carries less than it may, the others more than that
         {{"/need/current_a", "6"},
          {"/need/draws", "\"current\""},
          {"/others/1/rails/0/i_rated_a", "2.4"},
          {"/plan/join/settings",
           R"([{"unit":1,"v_set_v":15},{"unit":2,"v_set_v":15},{"unit":3,"v_set_v":14.9}])"}},
         share,
         ". Any one may fail."},
        {"hatch-heater",
         {{"/need/current_a", "7"}, {"/need/draws", "\"current\""}, {"/others/1/rails/0/i_rated_a", "3"}},
         share,
         "If one fails, the rest cannot carry on"},
        {"hatch-heater", {{"/others", "[]"}}, share, "One unit alone shares nothing"},
        {"hatch-heater", {{"/need/current_a", ""}}, share, "Say in Need what the load draws"},
        {"hatch-heater",
         {{"/need/current_a", "40"}, {"/need/draws", "\"current\""}},
         share,
         "They cannot carry 40 A"},
        {"hatch-heater",
         {{"/plan/join/settings",
           R"([{"unit":1,"v_set_v":14.9},{"unit":2,"v_set_v":15.0},{"unit":3,"v_set_v":15.9}])"},
          {"/need/current_a", "3"},
          {"/need/draws", "\"current\""}},
         share,
         "carries all of it, 3 A"},
        {"hatch-heater",
         {{"/plan/join/settings",
           R"([{"unit":1,"v_set_v":15},{"unit":2,"v_set_v":15},{"unit":3,"v_set_v":15}])"}},
         share,
         "They share, each within a tenth of the mean"},
        {"hatch-heater",
         {{"/others/0/rails/0/v_v", ""}, {"/others/0/joint/v_set_v", ""}, {"/log", "[]"}, {"/plan/join", ""}},
         share,
         "#2"},
        // stacked
        {"radio-link", {}, stack, "over the stack"},
        {"radio-link", {{"/others", "[]"}}, stack, "One unit alone is no stack"},
        {"radio-link", {{"/plan/join/opened_bonds", "[]"}}, stack, "is shorted through the earth"},
        {"radio-link", {{"/found/joint/isolation_v", "10"}}, stack, "insulation does not bear"},
        {"radio-link",
         {{"/found/joint/bonded", "\"unknown\""}, {"/log", "[]"}},
         stack,
         "Dead and unplugged, measure from each output"},
        {"radio-link",
         {{"/need/target", R"({"v":72,"min_v":70,"max_v":74})"},
          {"/plan/join/settings", R"([{"unit":1,"v_set_v":36},{"unit":2,"v_set_v":36}])"}},
         stack,
         "treat the stack as mains"},
        // evidence
        {"chart-recorder", {}, evidence, "Not known yet for 230 V"},
        {"chart-recorder", {{"/need/mains/v_v", "400"}}, evidence, "Not for 400 V"},
        {"chart-recorder",
         {{"/found/mains_side/clues/4", R"({"kind":"manual","part":"manual","min_v":220,"max_v":240})"}},
         evidence,
         "disagree"},
        {"chart-recorder",
         {{"/found/mains_side/clues/2/rating_v", "125"},
          {"/found/mains_side/clues/0/min_v", "220"},
          {"/found/mains_side/clues/0/max_v", "240"}},
         evidence,
         "does not: the part rules"},
        {"chart-recorder",
         {{"/found/mains_side/clues/3/seen", "true"}, {"/found/mains_side/clues/3/rating_v", "250"}},
         evidence,
         "label forbids it, the parts read permit it"},
        // the temporary trimmer, alone and behind a fixed resistor
        {"beacon-float-charge",
         {{"/plan/trimmer/pot_ohm", "10000"}, {"/plan/trimmer/fixed_ohm", "0"}},
         trimmer,
         "10k trimmer, the wiper joined to its far end,"},
        {"beacon-float-charge",
         {{"/plan/trimmer/pot_ohm", "10000"}, {"/plan/trimmer/fixed_ohm", "15000"}},
         trimmer,
         "10k trimmer with 15k in series, the wiper joined"},
        // windings
        {"chart-recorder", {}, windings, "Flux and outputs are right"},
        {"chart-recorder", {{"/found/mains_side/transformer/primaries", "[]"}}, windings, "nter"},
        // the surge
        {"fog-signal-amplifier", {}, surge, "If the bypass never closes: "},
        {"fog-signal-amplifier",
         {{"/found/mains_side/surge/load_w", ""}, {"/need/current_a", ""}},
         surge,
         "enter what the load draws"},
        {"fog-signal-amplifier", {{"/plan/limiter/power_w", "5000"}}, surge, "which it survives"},
        {"fog-signal-amplifier",
         {{"/plan/limiter/power_w", "0.5"}, {"/plan/limiter/fusible", "true"}},
         surge,
         "it opens, as a fusible one should"},
        {"fog-signal-amplifier",
         {{"/plan/limiter/power_w", "0.5"}, {"/plan/limiter/fusible", "false"}},
         surge,
         "it burns"},
        {"fog-signal-amplifier", {{"/plan/limiter/power_w", ""}}, surge, "enter its power rating"},
        // What is known of it cold alone decides nothing.
        {"fog-signal-amplifier",
         {{"/found/mains_side/surge/ntc", R"({"r25_ohm":47})"},
          {"/found/mains_side/surge/breaker_trip_a", "100000"}},
         surge,
         "Resistor: A resistor limits each time the same"},
        {"fog-signal-amplifier",
         {{"/found/mains_side/surge/ntc", R"({"r25_ohm":47,"b_k":3000,"t_hot_k":330})"},
          {"/found/mains_side/surge/breaker_trip_a", "100000"}},
         surge,
         "NTC: Even hot it keeps the breaker in"},
        {"fog-signal-amplifier",
         {{"/found/mains_side/surge/breaker_trip_a", "30"}},
         surge,
         "the breaker trips"},
        {"fog-signal-amplifier",
         {{"/found/mains_side/surge/breaker_trip_a", "100000"},
          {"/found/mains_side/surge/fuse_i2t_a2s", "0.001"}},
         surge,
         "the fuse goes"},
        {"fog-signal-amplifier",
         {{"/found/mains_side/surge/breaker_trip_a", "100000"},
          {"/found/mains_side/surge/fuse_i2t_a2s", "100000"},
          {"/found/mains_side/surge/i_surge_max_a", "1"}},
         surge,
         "more than a part bears"},
        {"fog-signal-amplifier", {}, surgeDrawn, "7.549 cycles are drawn"},
        {"fog-signal-amplifier", {{"/plan/limiter/r_ohm", "330"}}, surgeDrawn, "25 cycles are drawn"},
        {"fog-signal-amplifier", {{"/plan/limiter", ""}}, surgeDrawn, "4 cycles are drawn"},
        // what is wanted, in one line
        {"chart-recorder", {{"/need/mains/spread", "0.124"}}, needed, "V ±12 %, 50 Hz"},
        {"chart-recorder", {{"/need/mains/f_hz", "59.94"}}, needed, "V ±10 %, 59.9 Hz"},
        // the old unit's wires
        {"wind-recorder",
         {{"/found/wires", "[]"}, {"/plan/replace/new_wires", "[]"}},
         moved,
         "Enter in Found, under Rails, the wires"},
        {"wind-recorder",
         {{"/found/wires", R"([{"name":"PE","colour":"green-yellow","function":"earth","measured":true}])"},
          {"/plan/replace/new_wires", "[]"}},
         moved,
         "1 of 1 wire has a place."},
        // of the primaries that are planned
        {"chart-recorder",
         {{"/found/mains_side/transformer/selector", ""},
          {"/found/mains_side/transformer/primaries",
           R"([{"name":"A","start":"blue","end":"grey","v_v":115,"taps":{"red":95,"green":105}}])"},
          {"/plan/connection", R"({"segments":[{"string":0,"winding":"A","from":"blue","to":"green"}]})"}},
         mainsBearing,
         "primaries as planned forbids it."},
        {"chart-recorder",
         {{"/found/mains_side/transformer/selector", ""},
          {"/found/mains_side/transformer/primaries",
           R"([{"name":"A","start":"blue","end":"grey","v_v":250,"taps":{"red":95,"green":230}}])"},
          {"/plan/connection", R"({"segments":[{"string":0,"winding":"A","from":"blue","to":"green"}]})"}},
         mainsBearing,
         "A label or papers permit it; parts are still unread."},
        // the chain
        {"barograph-amplifier", {}, chain, "at the load, ripple"},
        {"barograph-amplifier", {{"/need/current_a", ""}, {"/plan/chain", ""}}, chain, "at the load, ripple"},
        // filter, lamp
        {"mast-camera", {}, noise, ""},
        {"beacon-float-charge", {}, safe, ""},
    };
    return list;
}

} // namespace

class TestSentences : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void says_data()
    {
        QTest::addColumn<int>("at");
        for (std::size_t i = 0; i < cases().size(); ++i)
            QTest::addRow("%zu %s: %s", i, cases()[i].demo, cases()[i].says) << static_cast<int>(i);
    }
    void says()
    {
        QFETCH(int, at);
        const Case& wanted = cases()[static_cast<std::size_t>(at)];
        std::string text;
        try {
            const Job job = edited(wanted.demo, wanted.edits);
            text = wanted.view(job, evaluate(job, job.log.empty() ? 0 : job.log.back().time_s));
        } catch (const std::exception& problem) {
            QFAIL(problem.what());
        }
        QVERIFY2(!text.empty() && text.find(wanted.says) != std::string::npos, text.c_str());
        for (const char* wrong : {"nan", "inf ", "  ", "..", " ,", "null"})
            QVERIFY2(text.find(wrong) == std::string::npos, text.c_str());
    }
};

REGISTER_TEST(TestSentences, void)
#include "tst_sentences.moc"
