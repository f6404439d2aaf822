// What every view tells of every job, how lines of its log are understood, and what happens at the bench when
// its procedure is rehearsed and when somebody leaves the path: lines in tests/golden/told, typed and played,
// made anew by tests/tools/remake. A line that changes is a finding.
#include "calc/calculations.h"
#include "core/evaluate/batch_board.h"
#include "core/evaluate/batch_view.h"
#include "core/evaluate/before_after.h"
#include "core/evaluate/captures_view.h"
#include "core/evaluate/choose_view.h"
#include "core/evaluate/evaluation.h"
#include "core/evaluate/evidence_view.h"
#include "core/evaluate/hiccup_view.h"
#include "core/evaluate/identity_view.h"
#include "core/evaluate/job_input.h"
#include "core/evaluate/log_line.h"
#include "core/evaluate/noise_view.h"
#include "core/evaluate/parts.h"
#include "core/evaluate/readout_view.h"
#include "core/evaluate/report.h"
#include "core/evaluate/safe_view.h"
#include "core/evaluate/survey_view.h"
#include "core/evaluate/unread.h"
#include "core/evaluate/walk_view.h"
#include "core/evaluate/ways.h"
#include "core/evaluate/wiring_drawing.h"
#include "core/kinds/chain/chain_ribbon.h"
#include "core/kinds/current_limit/current_limit_view.h"
#include "core/kinds/divider/temporary_trimmer.h"
#include "core/kinds/dummy_load/dummy_load_view.h"
#include "core/kinds/joined/bus_view.h"
#include "core/kinds/joined/stack_view.h"
#include "core/kinds/kind.h"
#include "core/kinds/module/module_view.h"
#include "core/kinds/panel/panel_view.h"
#include "core/kinds/rehouse/rehouse_view.h"
#include "core/kinds/replace/fit_view.h"
#include "core/kinds/replace/templates.h"
#include "core/kinds/replace/wiring_card.h"
#include "core/kinds/replace/wiring_view.h"
#include "core/kinds/rewind/rewind_view.h"
#include "core/kinds/surge_limiter/inrush_view.h"
#include "core/kinds/trim/trim_view.h"
#include "core/kinds/windings/windings_view.h"
#include "core/kinds/wire/wire_view.h"
#include "core/rehearse/rehearsal_end.h"
#include "core/supply/kind_clues.h"
#include "core/supply/part_figures.h"
#include "support/golden.h"
#include "support/job_files.h"
#include "support/spoiler.h"

#include <QRegularExpression>
#include <numeric>
#include <set>

using namespace offshoot;
using namespace Qt::StringLiterals;
using test::Told;

namespace {

const std::vector<ShelfEntry>& shelf()
{
    static const std::vector<ShelfEntry> entries =
        readShelf(test::sourceFile("data/shelves/saltmarsh-point.shelf")).units;
    return entries;
}

void tellSchool(Told& told, const School& school)
{
    if (school.sides.empty())
        return;
    told.line("school", school.question, school.pick, school.why);
    for (const School::Side& side : school.sides)
        told.line("side", side.name, side.figures);
}

template <class T>
void tellResult(Told& told, const char* of, const std::optional<T>& result)
{
    told.line(of, result ? Told::text(writeJson(*result)) : "-");
}

void tellAssumed(Told& told, const std::vector<std::string>& assumed)
{
    for (const std::string& one : assumed)
        told.line("assumed", one);
}

/// Every figure of many digits, a little smaller: what is rounded shows by how much.
void makeUneven(Json& value, std::mt19937& random)
{
    if (value.is_number_float())
        value = value.get<double>() * (1 - std::uniform_real_distribution(0.0, 0.002)(random));
    else if (value.is_structured())
        for (Json& part : value)
            makeUneven(part, random);
}

void tellRows(Told& told, const std::vector<ConsequenceRow>& rows)
{
    for (const ConsequenceRow& row : rows)
        told.line("row", row.id, row.part, row.found, row.planned, row.limit, row.verdict, row.working);
}

void tellWays(Told& told, const Job& job)
{
    const auto ways = waysOf(job, shelf());
    const WaysSentence says = waysSentence(job, ways);
    told.line("ways", says.answer, says.decides);
    for (const WorkedWay& way : ways)
        told.line("way", way.way, way.concerned, wayName(way), way.how, way.verdict, way.stopped_by,
                  way.reaches ? std::optional(way.reaches->min_v) : std::nullopt,
                  way.reaches ? std::optional(way.reaches->max_v) : std::nullopt, way.opens_mains_side,
                  way.joints, way.parts, way.to_get, way.minutes, way.reversible, way.needs.size());
}

void tellConnections(Told& told, const std::vector<Connections>& all)
{
    for (const Connections& one : all) {
        told.line("connections", one.name, one.sentence, one.station);
        for (const ConnectedPart& part : one.parts)
            told.line("part", part.name, part.kind, part.from, part.to, part.fate, part.value);
        const WiringDrawing drawn = wiringDrawing(one);
        for (const DrawnNode& node : drawn.nodes)
            told.line("node", node.name, node.level, node.first, node.last);
        for (const DrawnPart& part : drawn.parts)
            told.line("drawn", part.part, part.column, part.upper, part.lower, part.from_above);
    }
}

void tellChoice(Told& told, const Job& job, const Figures& figures)
{
    const ChooseView view = chooseView(job, figures, shelf(), 2);
    told.line("choose", view.sentence, view.options.size(), view.planned);
    tellSchool(told, view.school);
    tellAssumed(told, view.assumed);
    constexpr std::size_t most = 8;
    for (std::size_t i = 0; i < std::min(most, view.options.size()); ++i) {
        const UnitsOption& option = view.options[i];
        told.line("option", option.verdict, option.worst_use, option.rated_w, asksFor(option));
        for (const MatchedUnit& unit : option.units)
            for (const JudgedLine& line : judgedLines(unit))
                told.line("judged", line.verdict, line.text);
    }
    const ModuleView module = moduleView(job, shelf());
    told.line("modules", module.sentence, module.options.size(), module.planned, moduleMissing(job));
    for (const ModuleOption& option : module.options)
        for (const JudgedLine& line : judgedLines(option))
            told.line("judged", moduleKindWords(option.input.module.kind), line.verdict, line.text);
    tellResult(told, "module", module.result);
    tellSchool(told, module.school);
    tellAssumed(told, module.assumed);
}

void tellFit(Told& told, const Job& job)
{
    for (std::size_t unit = 0; job.plan.replace && unit < job.plan.replace->units.size(); ++unit) {
        const FitView view = fitView(job, unit);
        told.line("fit", view.sentence);
        if (!view.now)
            continue;
        told.line("place", Told::text(writeJson(*view.now)));
        tellSchool(told, view.school);
        if (view.screw)
            told.line("screw", view.screw->thread, view.screw->length_m, view.screw->least_m,
                      view.screw->most_m, view.screw->assumed);
        for (const FitGap& gap : view.gaps)
            told.line("gap", gap.what, gap.m, gap.from_x_m, gap.from_y_m, gap.to_x_m, gap.to_y_m);
        for (const NearThing& near : view.near)
            told.line("near", near.terminal, near.what, near.distance_m, near.wanted_m, near.from.x_m,
                      near.from.y_m, near.to.x_m, near.to.y_m);
        for (const JudgedLine& line : view.judged)
            told.line("judged", line.verdict, line.text);
    }
}

void tellWires(Told& told, const Job& job)
{
    const WiringView view = wiringView(job);
    told.line("wires", view.verdict, view.sentence);
    for (const PlannedTerminal& terminal : view.terminals)
        told.line("terminal", terminal.unit, terminal.name, terminal.words, terminal.swapped, terminal.must,
                  terminal.wires);
    for (const PlannedWire& wire : view.wires) {
        told.line("wire", wire.wire.name, wire.words, wire.added, wire.terminal, wire.left, wire.verdict);
        for (const std::string& remark : wire.remarks)
            told.line("remark", remark);
    }
    for (const std::string& missing : view.missing)
        told.line("missing", missing);
}

void tellFront(Told& told, const Job& job, const Figures& figures)
{
    if (job.plan.panel) {
        const PanelView view = panelView(job, figures);
        told.line("panel", view.sentence);
        for (const PlacedItem& item : view.items)
            told.line("item", item.cut.x_m, item.cut.y_m, item.body.dx_m, item.body.dy_m, item.letters,
                      item.above, item.below, item.why, item.output, item.verdict);
        tellRows(told, view.rows);
    }
    if (!job.plan.rehouse)
        return;
    const RehouseView view = rehouseView(job);
    told.line("rehouse", view.sentence, view.input_a, view.fuse_a, view.loss_w, view.inside_k);
    tellSchool(told, view.school);
    tellRows(told, view.rows);
    for (const PotView& pot : view.pots) {
        told.line("pot", pot.least, pot.most, pot.a_degree);
        for (std::size_t i = 0; i < pot.verdicts.size(); ++i)
            told.line("broken", pot.broken.wires[i].wire, pot.broken.wires[i].to, pot.broken.wires[i].goes,
                      pot.verdicts[i]);
    }
}

void tellSurge(Told& told, const char* of, const SurgeCurve& curve)
{
    const auto top = std::ranges::max_element(curve.i_a);
    if (top != curve.i_a.end())
        told.line(of, curve.t_s.size(), curve.t_s.back(), *top,
                  curve.t_s[static_cast<std::size_t>(top - curve.i_a.begin())], curve.i_a.back());
}

void tellMainsSide(Told& told, const Job& job, const Evaluation& evaluation)
{
    const EvidenceView evidence = evidenceView(job);
    told.line("evidence", evidence.sentence, evidence.next, Told::text(writeJson(evidence.result)));
    const InrushView inrush = inrushView(job);
    told.line("inrush", inrush.sentence, inrush.stuck);
    tellSchool(told, inrush.school);
    tellResult(told, "direct", inrush.direct);
    tellResult(told, "limiter", inrush.limiter);
    tellResult(told, "delay", inrush.delay);
    tellSurge(told, "bare", inrush.bare);
    tellSurge(told, "limited", inrush.limited);
    const WindingsView windings = windingsView(job);
    told.line("windings", windings.sentence, windings.planned);
    tellResult(told, "fuse", windings.fuse);
    const SafeView safe = safeView(job, evaluation);
    told.line("safe", safe.sentence, safe.chosen_w);
    for (const LampView& lamp : safe.lamps)
        told.line("lamp", lamp.lamp_w, Told::text(writeJson(lamp.result)));
    for (const SafeView::Bank& bank : safe.banks)
        told.line("bank", bank.reservoir.key(), bank.reservoir.leftAfter(1),
                  Told::text(writeJson(bank.plan)));
}

void tellOutputSide(Told& told, const Job& job, const Evaluation& evaluation)
{
    for (std::size_t i = 0; i < job.found.trimmers.size(); ++i) {
        const TrimView trim = trimView(job, i);
        told.line("trim", trim.sentence, trim.next);
        tellResult(told, "trimmed", trim.result);
    }
    if (const auto use = trimmerUse(job, evaluation))
        told.line("trimmer", use->preset_ohm, use->highest_v, use->problem);
    if (evaluation.trimmer_preset)
        told.line("preset", evaluation.trimmer_preset->min_v, evaluation.trimmer_preset->max_v);
    for (const Rail& rail : job.found.rails) {
        const MinimumLoadView load = minimumLoadView(job, evaluation, rail);
        told.line("least load", load.sentence, load.present_a, load.assumed);
        for (const DummyLoadOption& option : load.options)
            told.line("dummy", Told::text(writeJson(option)));
        tellResult(told, "fitted", load.fit);
        tellSchool(told, load.school);
        const RewindView rewind = rewindView(job, evaluation, rail);
        told.line("rewind", rewind.sentence);
        tellResult(told, "rewound", rewind.result);
    }
    const LimitView limit = limitView(job, evaluation);
    told.line("limit", limit.sentence);
    tellResult(told, "limited", limit.result);
    const WireView wire = wireView(job, evaluation);
    told.line("run", wire.sentence, wire.terminal_v, wire.merge_needed);
    for (const RunPoint& point : wire.run)
        told.line("at", point.name, point.at_m, point.positive_v, point.negative_v);
    for (const WireOption& size : wire.sizes)
        told.line("size", size.name, size.verdict, Told::text(writeJson(size.result)));
    tellResult(told, "sense", wire.sense);
    if (wire.merge)
        told.line("merged", wire.merge->each_a, wire.merge->most_a, wire.merge->rise_k, wire.merge->verdict);
    tellAssumed(told, wire.assumed);
    tellSchool(told, wire.school);
    const NoiseView noise = noiseView(job);
    told.line("noise", noise.sentence);
    tellResult(told, "filter", noise.result);
    if (noise.damping)
        told.line("damped", noise.damping->section, noise.damping->c_f, noise.damping->r_ohm,
                  noise.damping->peak_db);
    for (std::size_t i = 0; i < noise.gain_db.size(); i += 1 + noise.gain_db.size() / 5)
        told.line("gain", noise.f_hz[i], noise.gain_db[i]);
    told.line("hiccup", hiccupView(job).sentence, Told::text(writeJson(hiccupView(job).result)));
}

void tellJoined(Told& told, const Job& job, const Figures& figures)
{
    if (!job.plan.join)
        return;
    const ParallelView bus = parallelView(job, figures);
    told.line("bus", bus.sentence, bus.full_a, bus.match_v);
    tellResult(told, "shares", bus.result);
    tellAssumed(told, bus.model.assumed);
    for (const BallastOption& option : bus.ballasts)
        told.line("ballast", option.network.text(), option.part_power_w, option.lead.has_value(),
                  option.power_each_w, option.use, option.verdict);
    tellSchool(told, bus.school);
    for (const ShareWay& way : bus.ways)
        told.line("share", way.name, way.figures);
    for (std::size_t i = 0; i < bus.loads_a.size(); i += 1 + bus.loads_a.size() / 5)
        for (std::size_t unit = 0; unit < bus.currents_a[i].size(); ++unit)
            told.line("at", bus.loads_a[i], unit, bus.currents_a[i][unit]);
    const StackView stack = stackView(job, figures);
    told.line("stack", stack.sentence);
    tellResult(told, "stacked", stack.result);
    tellAssumed(told, stack.model.assumed);
    for (const std::string& advice : stack.advice)
        told.line("advice", advice);
}

void tellRecord(Told& told, const Job& job, const Evaluation& evaluation)
{
    told.line("parts", writePartsCsv(partsOf(job, evaluation)));
    for (const BeforeAfter& row : beforeAfter(evaluation))
        told.line("before", row.name, row.found, row.found_u, row.measured, row.measured_u, row.verdict,
                  row.difference);
    const CapturesView captures = capturesView(job);
    told.line("captures", captures.sentence);
    for (const ComparedCaptures& one : captures.all) {
        told.line("captured", one.point, one.limit, one.sentence);
        for (const CaptureRow& row : captureRows(one))
            told.line("figure", row.name, row.before, row.after);
        for (const std::string& remark : one.remarks)
            told.line("remark", remark);
        for (const std::string& doubt : one.doubts)
            told.line("doubt", doubt);
    }
    for (const ReadoutPlace& place : readoutPlaces(job)) {
        const ReadoutView readout = readoutView(job, place);
        told.line("readout", place.name, readout.sentence);
        tellResult(told, "checked", readout.result);
        tellAssumed(told, readout.assumed);
        if (readout.accuracy)
            told.line("accuracy", readout.accuracy->reading_fraction, readout.accuracy->counts,
                      readout.accuracy->resolution);
    }
    for (const BatchRow& row : batchView(job, evaluation).rows) {
        told.line("batch", row.point, row.load, row.spread, row.out);
        for (std::size_t i = 0; i < row.values.size(); ++i)
            told.line("value", row.values[i], row.verdicts[i]);
    }
    constexpr double long_after_s = 4e9;
    const BatchBoard board = batchBoard(job, long_after_s);
    told.line("board", board.sentence, board.one_by_one_s, board.least_s);
    for (const BoardTask& task : board.plan)
        told.line("task", task.unit, task.title, task.to_s - task.from_s, task.done_s - task.to_s, task.live);
    const BatchBoard soon = batchBoard(job, job.log.empty() ? 0 : job.log.back().time_s + 1);
    told.line("board soon", soon.sentence, soon.one_by_one_s, soon.least_s);
}

/// The planned chain part by part as it runs, and what its tolerances make of it.
void tellChain(Told& told, const Job& job)
{
    const auto run = chainRunOf(job);
    for (const ChainPart& part : chainRibbon(job, run ? &*run : nullptr).parts)
        told.line("chain", part.name, part.value, part.place, part.in_line, part.tapped, part.flow,
                  part.limit ? part.limit->working : std::string());
    if (!run)
        return;
    const RectifierChain& chain = *plannedChain(job);
    told.line("runs", rectifierSentence(*run), run->sound.min_v, run->sound.max_v);
    told.line("spreads", toleranceText(chain), spreadSentence(chain, chainSpread(chain, {})));
}

void tellFound(Told& told, const Job& job, const Evaluation& evaluation)
{
    const IdentityView identity = identityView(job.found);
    told.line("identity", identity.sentence, identity.outline, identity.asked, identity.why,
              identity.offered);
    for (const KindLane& lane : identity.lanes)
        told.line("kind", lane.topology, lane.left, lane.taken, lane.against);
    for (const ClueChoice& choice : identity.choices)
        told.line("clue", choice.words, choice.left, choice.leaves);
    for (const StationView& view : evaluation.stations)
        told.line("passes on", view.station, view.power_w, view.loss_w);
    for (const RailView& rail : evaluation.rails)
        told.line("rail", rail.name, rail.found, rail.planned, rail.measured, rail.verdict, rail.has_rows,
                  rail.follows, rail.users, rail.power_w);
    for (const UnitView& unit : evaluation.units)
        told.line("unit", unit.name, unit.tag, unit.found, unit.planned, unit.measured, unit.place,
                  unit.verdict, unit.has_rows);
    const WalkView walk = walkView(job, evaluation);
    told.line("walk", walk.summary);
    for (const WalkStop& stop : walk.stops) {
        told.line("stop", stop.name, stop.absent, stop.open(), stop.matters());
        for (const WalkFigure& figure : stop.figures)
            told.line("read", stop.name, figure.shown, figure.worth, figure.decides, figure.blocks);
    }
    const SurveyView survey = surveyView(job);
    told.line("survey", survey.sentence);
    tellResult(told, "drawn", survey.result);
    for (const SurveyLane& lane : survey.lanes)
        told.line("lane", lane.state, lane.rail, lane.least_a, lane.usual_a, lane.peak_a);
}

/// What a page begins with where nothing is planned, and what the log line knows.
void tellUsual(Told& told, const Job& job)
{
    told.line("usual front", writeJson(usualPanel(job)));
    told.line("usual housing", writeJson(usualRehousing(job)));
    for (const SimRectifier kind :
         {SimRectifier::Half, SimRectifier::FullWaveCt, SimRectifier::Bridge, SimRectifier::Doubler})
        told.line("usual chain", writeJson(usualChain(kind, job)));
    for (const LogPoint& point : logPoints(job))
        told.line("point", point.name, point.quantity, point.needs_power);
}

constexpr std::uint64_t seed = 7;

void tellMove(Told& told, const std::string& move, const BenchAnswer& answer)
{
    told.line(move, answer.t_s, answer.done, answer.seen);
    if (answer.reading)
        told.line("  reads", answer.reading->point, answer.reading->quantity, answer.reading->value,
                  answer.reading->u, answer.reading->load_a);
    if (answer.wrong)
        told.line("  wrong", answer.wrong->what, answer.wrong->would, answer.wrong->v_v, answer.wrong->i_a,
                  answer.wrong->energy_j);
}

/// Whatever may be touched or read, one after the other.
const std::vector<std::string>& everyPoint()
{
    static const std::vector<std::string> points{
        "probe out",     "probe bulk",      "probe mains",    "probe pins",   "probe line",
        "probe in",      "probe load",      "probe charge",   "probe ripple", "probe bypass",
        "probe leakage", "probe temp",      "probe polarity", "ohms earth",   "ohms bond",
        "ohms top",      "ohms insulation", "hand",           "screwdriver"};
    return points;
}

/// Off the path: charged, drained, behind the limiter, at full power, warm, changed, with its load.
std::vector<std::string> offThePath()
{
    std::vector<std::string> moves{"look", "fit"};
    const auto then = [&](const std::vector<std::string>& more) {
        moves.insert(moves.end(), more.begin(), more.end());
    };
    then(everyPoint());
    then({"wait 5", "probe bulk", "open_bond", "discharge 1k 2", "wait 120", "probe bulk", "discharge 1k 30",
          "ohms bottom", "lamp_in", "plug_in"});
    then(everyPoint());
    then({"fit", "lamp_out", "open_case", "discharge 1k", "load 47R", "probe out", "connect_load", "unplug",
          "wait 1", "probe out", "lamp_out", "plug_in", "load 10R", "wait 600"});
    then(everyPoint());
    then({"capture ripple", "capture surge", "unplug", "load none", "wait 3600", "discharge 1k 30", "fit",
          "connect_load reversed", "connect_load open", "plug_in"});
    then(everyPoint());
    then({"fuse_in", "adjust 12V", "unplug", "close_case", "connect_load", "plug_in"});
    then(everyPoint());
    then({"disconnect_load"});
    return moves;
}

/// Where a fault shows: found and changed, behind the limiter and at full power.
std::vector<std::string> whereFaultsShow()
{
    return {"wait 600",  "probe bulk",   "discharge 100R 60", "ohms earth",    "lamp_in",       "plug_in",
            "probe out", "unplug",       "discharge 100R 60", "ohms top",      "ohms bottom",   "fit",
            "ohms top",  "ohms bottom",  "plug_in",           "probe out",     "probe load",    "unplug",
            "wait 60",   "probe bulk",   "discharge 100R 60", "lamp_out",      "load 22R",      "plug_in",
            "probe out", "probe ripple", "probe line",        "probe leakage", "capture ripple"};
}

/// What is said when it is over, and how a guess is answered.
void tellEnd(Told& told, const RehearsedJob& rehearsed, const std::optional<UnitFault>& guess)
{
    const RehearsalEnd end = rehearsalEnd(rehearsed, guess);
    told.line("end", end.fault, end.guessed, end.told_by, end.time);
    for (const std::string& wrong : end.wrongs)
        told.line("was wrong", wrong);
    told.line("missed", end.missed.size(), end.missed.empty() ? "" : end.missed.back());
}

/// One move after the other; one that this unit has no place for says so.
void tellMoves(Told& told, const Job& job, const UnitFault& fault, const std::vector<std::string>& moves)
{
    RehearsedJob rehearsed(job, seed, fault);
    for (const std::string& text : moves)
        try {
            tellMove(told, text, rehearsed.play(benchMoveFrom(text, "/")).answer);
        } catch (const DocumentError& error) {
            told.line(text, error.what());
        }
    tellEnd(told, rehearsed, fault);
}

void tellAll(Told& told, const Job& job, const Evaluation& evaluation)
{
    tellUsual(told, job);
    tellFound(told, job, evaluation);
    tellWays(told, job);
    tellMainsSide(told, job, evaluation);
    tellOutputSide(told, job, evaluation);
    tellJoined(told, job, evaluation);
    tellChoice(told, job, evaluation);
    tellFit(told, job);
    tellWires(told, job);
    tellFront(told, job, evaluation);
    tellConnections(told, plannedConnections(job, evaluation));
    tellRecord(told, job, evaluation);
}

std::set<std::string> linesOf(const Told& told)
{
    std::set<std::string> all;
    for (const QString& line : QString::fromStdString(told.text()).split(QLatin1Char('\n')))
        all.insert(line.toStdString());
    return all;
}

/// The lines of all views, of the consequences and of every step.
std::set<std::string> toldWithSteps(const Job& job)
{
    const Evaluation evaluation = evaluateWhole({job, 0});
    Told told;
    tellAll(told, job, evaluation);
    tellRows(told, evaluation.consequences.rows);
    for (const StepView& view : evaluation.steps) {
        told.line("step", view.step.id, view.step.title, view.step.detail, view.step.wait_s);
        for (const Asked& asked : view.step.asks)
            if (asked.window)
                told.line("asks", view.step.id, asked.name(), asked.load_a, asked.window->min,
                          asked.window->max, asked.because);
    }
    return linesOf(told);
}

QString golden(const QString& file, const char* folder)
{
    return QLatin1StringView(folder) + QLatin1Char('/') +
           file.section(QLatin1Char('/'), -1).section(QLatin1Char('.'), 0, 0) + QLatin1StringView(".txt");
}

} // namespace

class TestTold : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void tells_data() { test::everyJobFile(); }
    void tells()
    {
        QFETCH(QString, file);
        Told told;
        const Job job = readJob(test::sourceFile(qPrintable(file)));
        tellAll(told, job, evaluateWhole({job, 0}));
        tellChain(told, job);
        test::compareGolden(golden(file, "told"), told.text());
    }

    /// What is told otherwise with each aim, where a part is refitted for every row that has a rating, with
    /// figures of many digits, where another job's need, supply or plan stands in it, and where figures are
    /// missing or others: need, supply and plan spoiled once each.
    void varied_data() { test::everyJobFile(); }
    void varied()
    {
        QFETCH(QString, file);
        const Json whole = Json::parse(test::sourceFile(qPrintable(file)));
        const std::set<std::string> as_it_is = toldWithSteps(jobFrom(whole));
        Told told;
        const auto tellOthers = [&](const std::string& what, const std::set<std::string>& lines) {
            told.line(what);
            for (const std::string& line : lines)
                if (!as_it_is.contains(line))
                    told.line(" ", line.substr(0, 400));
        };
        Job changed = jobFrom(whole);
        for (std::size_t aim = 0; aim < Words<Aim>::list.size(); ++aim) {
            changed.need.aim = static_cast<Aim>(aim);
            Told ways;
            tellWays(ways, changed);
            tellOthers("aim " + std::string(word(*changed.need.aim)), linesOf(ways));
        }
        changed = jobFrom(whole);
        for (const ConsequenceRow& row : figuresOf(changed).consequences.rows)
            if (row.limit && ratingOf(row.id, changed.found, changed.need.load, row.rail))
                changed.plan.refits.push_back({.row = row.id, .rating = 1.5 * *row.limit, .rail = row.rail});
        tellOthers("refits", toldWithSteps(changed));
        Json uneven = whole;
        std::mt19937 random(7);
        for (const char* part : {"need", "found", "plan"})
            makeUneven(uneven[part], random);
        tellOthers("uneven", toldWithSteps(jobFrom(uneven)));
        const QStringList files = test::jobFiles();
        const QString next = files[(files.indexOf(file) + 1) % files.size()];
        const Json stranger = Json::parse(test::sourceFile(qPrintable(next)));
        const std::vector<std::vector<const char*>> of_next{
            {"need"}, {"found"}, {"plan"}, {"readouts", "batch", "meter", "hiccup"}};
        for (const std::vector<const char*>& parts : of_next) {
            Json mixed = whole;
            std::string what = "of " + next.toStdString() + ":";
            for (const char* part : parts) {
                mixed[part] = stranger.value(part, Json());
                if (mixed[part].is_null())
                    mixed.erase(part);
                what += std::string(" ") + part;
            }
            try {
                tellOthers(what, toldWithSteps(jobFrom(mixed)));
            } catch (const DocumentError& error) {
                told.line(what, error.what());
            }
        }
        constexpr unsigned variations = 4;
        unsigned taken = 0;
        for (unsigned draw = 0; taken < variations; ++draw) {
            test::Spoiler spoiler(draw);
            Json other = whole;
            std::string what;
            for (const char* part : {"need", "found", "plan"})
                what += std::string(part) + " " + spoiler.spoil(other[part]) + "; ";
            std::optional<Job> job;
            try {
                job = jobFrom(other);
            } catch (const DocumentError&) {
                continue; // that is no job
            }
            ++taken;
            tellOthers(what, toldWithSteps(*job));
        }
        test::compareGolden(golden(file, "varied"), told.text());
    }

    /// How lines of the log are understood, typed right, with a letter too few and with one twice.
    void types_data() { test::everyJobFile(); }
    void types()
    {
        QFETCH(QString, file);
        const Job job = readJob(test::sourceFile(qPrintable(file)));
        const Evaluation evaluation = evaluate(job, 0);
        Told told;
        const auto tellLine = [&](const std::string& text) {
            const LogLine line = readLogLine(text, job, evaluation, {});
            told.line(text, line.echo, line.question, line.problem, line.problem_at, line.problem_length,
                      line.suggestion, line.judgement ? Told::text(line.judgement->verdict) : "-",
                      Told::text(Json(completions(text, job))).substr(0, 100));
        };
        std::vector<std::string> lines{"unplugged",
                                       "lamp flash",
                                       "meter ok",
                                       "note cap looks cooked",
                                       "photo a.jpg",
                                       "strike l1",
                                       "battery off",
                                       "hunting",
                                       "live",
                                       "3.3V @500mA",
                                       "capture a.csv ripple @2A",
                                       "",
                                       "temp 71C",
                                       "ripple 42mV @2A +-1m"};
        for (const LogPoint& point : logPoints(job))
            lines.push_back(point.name + " 1.5");
        for (std::size_t number = 0; number < lines.size(); ++number) {
            const std::string& text = lines[number];
            tellLine(text);
            // One letter of each, another one in the next.
            if (const std::size_t at = number % std::max<std::size_t>(text.size(), 1); at < text.size()) {
                tellLine(text.substr(0, at) + text.substr(at + 1));
                tellLine(text.substr(0, at) + text[at] + text.substr(at));
            }
        }
        test::compareGolden(golden(file, "typed"), told.text());
    }

    void plays_data() { test::everyJobFile(); }
    void plays()
    {
        QFETCH(QString, file);
        const Job job = readJob(test::sourceFile(qPrintable(file)));
        Told told;
        RehearsedJob led(job, seed, {});
        while (led.step() != nullptr)
            led.carryOut();
        for (const PlayedMove& move : led.played().moves) {
            tellMove(told, move.step + ": " + move.answer.move.text(), move.answer);
            told.line("  in words", moveText(move.answer.move),
                      move.answer.reading ? pointText(move.answer) + readingText(*move.answer.reading) : "");
            if (move.window)
                told.line("  window", move.window->min, move.window->max, move.because, move.verdict());
        }
        for (const auto& [name, value] : rehearsalEnd(led).truth)
            told.line("truth", name, value);
        tellEnd(told, led, UnitFault{.kind = UnitFaultKind::OpenBleeder});
        tellMoves(told, job, {}, offThePath());
        for (const UnitFault& fault : possibleFaults(job)) {
            told.line("fault", fault.text());
            tellMoves(told, job, fault, whereFaultsShow());
        }
        test::compareGolden(golden(file, "played"), told.text());
    }

    /// Which parts are thought of where a rating is not read: for every row, whatever it asks, in steps of 2
    /// %.
    void ratings()
    {
        Told told;
        for (std::size_t id = 0; id < Words<RowId>::list.size(); ++id) {
            Evaluation evaluation;
            ConsequenceRow row = blankRow(static_cast<RowId>(id), "Part");
            std::string fits;
            std::string breaks;
            for (double asked = 0.01; asked < 3000; asked *= 1.02) {
                row.planned = asked;
                evaluation.consequences.rows = {row};
                const Unread unread = unreadOf({}, evaluation).at(0);
                const auto add = [](std::string& all, const std::optional<double>& rating) {
                    const std::string words = Told::text(rating);
                    if (rating && !all.ends_with(" " + words))
                        all += " " + words;
                };
                add(fits, unread.would_fit);
                add(breaks, unread.would_break);
            }
            if (!fits.empty())
                told.line(row.id, "fits" + fits, "breaks" + breaks);
        }
        test::compareGolden(u"ratings.txt"_s, told.text());
    }

    /// What is asked of somebody who does not know what it is; and every row's station, parts and words.
    void tables()
    {
        Told told;
        for (std::size_t i = 0; i < Words<KindClue>::list.size(); ++i) {
            const auto clue = static_cast<KindClue>(i);
            told.line(clueName(clue), clueQuestion(clue), clueHelp(clue), underTheLid(clue));
            for (const ClueAnswer answer : answersOf(clue)) {
                std::string of;
                for (const Topology topology : kindsInOrder())
                    if (admits(topology, clue, answer))
                        of += ' ' + std::string(kindWords(topology));
                told.line("  " + std::string(seenWords(clue, answer)), of);
            }
        }
        for (std::size_t i = 0; i < Words<RowId>::list.size(); ++i) {
            const RowInfo& row = rowInfo(static_cast<RowId>(i));
            told.line(row.id, row.station, row.of_rail, row.part, row.quantity, row.unit, row.mains_side,
                      row.needed_for_sign_off, row.rating, row.read_next);
        }
        for (std::size_t i = 0; i < Words<PanelPart>::list.size(); ++i) {
            const PanelPartSize size = usualSize(static_cast<PanelPart>(i));
            told.line("on a panel", Words<PanelPart>::list[i], size.d_m, size.dx_m, size.dy_m, size.over_m,
                      size.depth_m);
        }
        test::compareGolden(u"tables.txt"_s, told.text());
    }

    /// A drawing that fits a sheet, one that fits it lying, one on several sheets and one that is too large;
    /// a wiring card so long that its letters are small.
    void tiles()
    {
        std::string all;
        for (const double size : {150.0, 230.0, 420.0, 3000.0}) {
            SheetDrawing drawing(-5, -10, size, size / 1.5);
            drawing.drilled({.x_m = 0.12, .y_m = 0.02, .d_m = 0.004}, "to drill");
            drawing.old({.x_m = 0.02, .y_m = 0.02, .d_m = 0.003});
            drawing.cut(0.05, 0.05, 0.02, 0.01, "cut");
            const TemplateSheets sheets = drawing.sheets("Board", seen_from_above);
            all += sheets.problem + '\n';
            for (const std::string& page : sheets.pages)
                all += page + '\n';
        }
        Job job = readJob(test::sourceFile("data/jobs/tide-house-cabinet.offshoot"));
        while (job.found.wires.size() < 50) {
            job.found.wires.push_back(job.found.wires.front());
            job.found.wires.back().name = "wire " + std::to_string(job.found.wires.size());
        }
        all += wiringCard(job, "1 May");
        test::compareGolden(u"tiles.txt"_s,
                            QString::fromStdString(all).replace(u"><"_s, u">\n<"_s).toStdString());
    }

    /// Which figures are asked of which kind of supply, and what may be entered.
    void figures()
    {
        Told told;
        for (const PartFigure& figure : partFigures()) {
            std::string of;
            for (std::size_t topology = 0; topology < Words<Topology>::list.size(); ++topology)
                if (figure.isOf(static_cast<Topology>(topology)))
                    of += ' ' + std::string(Words<Topology>::list[topology]);
            told.line(figure.label, figure.station, figure.quantity, figure.hint, figure.percent, figure.zero,
                      figure.most, of);
        }
        test::compareGolden(u"figures.txt"_s, told.text());
    }

    /// Columns of tables in reports take all of their width, however many units a batch has.
    void columns_data() { test::everyJobFile(); }
    void columns()
    {
        QFETCH(QString, file);
        Job job = readJob(test::sourceFile(qPrintable(file)));
        const Evaluation evaluation = evaluate(job, 0);
        for (const std::int64_t units : {1, 2, 5}) {
            job.batch.units = units;
            for (const ReportBlock& block : reportOf(job, evaluation).blocks) {
                if (block.head.empty())
                    continue;
                QCOMPARE(block.widths.size(), block.head.size());
                const double all = std::accumulate(block.widths.begin(), block.widths.end(), 0.0);
                QVERIFY2(std::abs(all - 1) < 1e-9, QByteArray::number(all));
            }
        }
    }

    /// Sheets that are printed, at true scale, and reports; one line an element.
    void prints_data() { test::everyJobFile(); }
    void prints()
    {
        QFETCH(QString, file);
        const Job job = readJob(test::sourceFile(qPrintable(file)));
        const Evaluation evaluation = evaluateWhole({job, 0});
        std::string all;
        const auto sheets = [&](const TemplateSheets& made) {
            all += made.problem + '\n';
            for (const std::string& page : made.pages)
                all += page + '\n';
        };
        for (std::size_t unit = 0; job.plan.replace && unit < job.plan.replace->units.size(); ++unit) {
            sheets(drillTemplate(job, unit));
            sheets(adapterPlate(job, unit));
        }
        if (job.plan.replace)
            all += wiringCard(job, "1 May") + '\n';
        if (job.plan.panel)
            sheets(panelTemplate(job, evaluation));
        for (const Connections& one : plannedConnections(job, evaluation))
            all += wiringSvg(one) + '\n';
        for (const ComparedCaptures& one : capturesView(job).all)
            all += captureSvg(one) + '\n';
        all += findCalculation("job.report")
                   ->run(parseJson(test::sourceFile(qPrintable(file))))["html"]
                   .get<std::string>();
        const QString lines = QString::fromStdString(all).replace(u"><"_s, u">\n<"_s);
        test::compareGolden(golden(file, "printed"), lines.toStdString());
    }
};

REGISTER_TEST(TestTold, void)
#include "tst_told.moc"
