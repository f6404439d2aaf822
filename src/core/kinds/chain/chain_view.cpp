#include "core/kinds/chain/chain_view.h"

#include "core/calculate/rectifier_spread.h"
#include "core/judge/row_maker.h"
#include "core/values/figures.h"
#include "core/values/format.h"
#include "core/values/remembered.h"

#include <algorithm>
#include <map>
#include <numbers>

namespace offshoot {

namespace {

/// The row that a verdict of the simulator stands for.
RowId rowOf(std::string_view quantity)
{
    static const std::map<std::string_view, RowId> rows{
        {"v_piv_v", RowId::ChainReverse},     {"i_peak_a", RowId::ChainPeak},
        {"i_mean_a", RowId::ChainMean},       {"i_hot_a", RowId::ChainHotStart},
        {"c_first_max_f", RowId::ChainFirst}, {"r_plate_min_ohm", RowId::ChainPlate},
        {"v_rated_v", RowId::ChainCapacitor}, {"i_ripple_a", RowId::ChainRipple},
        {"i_rated_a", RowId::ChainChoke},     {"power_rated_w", RowId::ChainResistor},
    };
    return rows.at(quantity);
}

std::string_view formulaOf(RowId id)
{
    switch (id) {
    case RowId::ChainReverse:
        return "simulated; with a capacitor at least √2·V·(1 + spread), twice that unless it is a bridge";
    case RowId::ChainPlate:
        return "R_source + R_plate";
    case RowId::ChainFirst:
        return "the first capacitor";
    case RowId::ChainCapacitor:
        return "without load: the crest at the highest mains";
    case RowId::ChainHotStart:
        return "simulated: hot, switched on at the crest, capacitors empty";
    case RowId::ChainChoke:
        return "mean of its current, simulated";
    case RowId::ChainResistor:
        return "I²·R with the rms of its current, simulated";
    default:
        return "simulated over one cycle of the steady state";
    }
}

/// The figures behind a verdict of the simulator: the crest that decides without load, the resistances that
/// add up, or what the simulation gave.
std::string workingOf(const ConsequenceRow& row, const RectifierChain& chain)
{
    const auto shown = [&row](double value) {
        return formatValue(value, rowInfo(row.id).unit.value_or(Quantity::Voltage));
    };
    const double planned = *row.planned;
    if (row.id == RowId::ChainPlate)
        return shown(chain.source.r_ohm) + " + " + shown(chain.rectifier.diode.seriesOhm()) + " = " +
               shown(planned);
    const double crest_v = std::numbers::sqrt2 * chain.source.v_rms_v * (1 + chain.source.spread);
    for (const int times : {1, 2}) {
        if (within(planned, times * crest_v, times * crest_v))
            return (times == 2 ? "2 × √2 × " : "√2 × ") + formatVolts(chain.source.v_rms_v) + " × " +
                   significant(1 + chain.source.spread, 3) + " = " + shown(planned);
    }
    return shown(planned) + " against " + shown(*row.limit);
}

/// What an unregulated supply gives against the need's window, over the mains' spread.
ConsequenceRow outputRow(const Job& job, const ChainRun& run)
{
    const SteadyResult& result = run.result;
    const Target target = *unitTarget(job);
    const double v = result.load.v.v_mean_v;
    const bool low = v * v < target.min_v * target.max_v; // the nearer end of the window
    rows::Judged judged{.value = v, .limit = low ? target.min_v : target.max_v};
    if (v > 0)
        judged.use = low ? target.min_v / v : v / target.max_v;
    const VoltageRange mains = withSpread(run, v);
    const auto inside = [&target](double volts) { return within(volts, target.min_v, target.max_v); };
    judged.verdict = result.load.collapsed || !inside(v)          ? Verdict::Breaks
                     : inside(mains.min_v) && inside(mains.max_v) ? Verdict::Fits
                                                                  : Verdict::Tight;
    ConsequenceRow row =
        rows::planRow(RowId::ChainOutput, judged,
                      "mean of one cycle of the steady state, simulated at the nominal mains; tight where "
                      "the mains' spread "
                      "takes it out of the window",
                      result.load.collapsed
                          ? "the source cannot feed this load"
                          : formatVolts(result.load.v.v_min_v) + " to " + formatVolts(result.load.v.v_max_v) +
                                " within the cycle; mean " + formatVolts(mains.min_v) + " to " +
                                formatVolts(mains.max_v) + " over the mains' spread");
    constexpr double about = 0.1; // of the current
    const Need& need = job.need;
    if (need.current_a && std::abs(result.load.i_mean_a - *need.current_a) > about * *need.current_a)
        row.assumed = {"the chain's own load, " + amps(result.load.i_mean_a) + ", where the need says " +
                       amps(*need.current_a)};
    return row;
}

} // namespace

ChainRun::ChainRun() = default;
ChainRun::ChainRun(const ChainRun&) = default;
ChainRun::ChainRun(ChainRun&&) noexcept = default;
ChainRun& ChainRun::operator=(const ChainRun&) = default;
ChainRun& ChainRun::operator=(ChainRun&&) noexcept = default;
ChainRun::~ChainRun() = default;

std::string chainLoadText(const SimLoad& load)
{
    return load.resistance_ohm ? formatOhms(*load.resistance_ohm)
           : load.current_a    ? formatValue(*load.current_a, Quantity::Current)
                               : formatValue(load.power_w.value_or(0), Quantity::Power);
}

std::string chainPartTitle(const RectifierChain& chain, const std::string& part)
{
    std::string text = chainPartName(chain, part);
    if (text[0] >= 'a' && text[0] <= 'z')
        text[0] = static_cast<char>(text[0] - 'a' + 'A');
    return text;
}

RectifierChain usualChain(SimRectifier kind, const Job& job)
{
    const auto target = unitTarget(job);
    constexpr double usual_v = 24;
    constexpr double usual_f = 2200e-6;
    const double rms_share = kind == SimRectifier::Doubler ? 0.425 : 0.85; // a crest 1.2 times the DC wanted
    RectifierChain chain{
        .source = {.v_rms_v = std::max(1.0, (target ? target->v : usual_v) * rms_share),
                   .f_hz = job.need.mains.f_hz,
                   .r_ohm = 0.5,
                   .spread = job.need.mains.spread},
        .rectifier = {.kind = SimRectifier::Bridge, .diode = usualDiode(DiodeModel::Threshold)},
        .filter = {{.kind = SmoothingKind::C, .c_f = usual_f}},
        .load = {.current_a = job.need.current_a.value_or(1)}};
    chain.setKind(kind);
    return chain;
}

SimDiode usualDiode(DiodeModel model)
{
    switch (model) {
    case DiodeModel::Threshold:
        return {.model = model, .v_f_v = 0.8, .r_ohm = 0.03};
    case DiodeModel::Exponential:
        return {.model = model, .r_ohm = 0.02, .i_s_a = 2e-9, .n = 1.7};
    case DiodeModel::Valve:
        return {.model = model, .perveance_a_v15 = 2.5e-4, .r_plate_ohm = 50};
    }
    return {.model = model};
}

LoadDraw drawOf(const SimLoad& load)
{
    return load.resistance_ohm ? LoadDraw::Resistance : load.current_a ? LoadDraw::Current : LoadDraw::Power;
}

SimLoad loadAs(LoadDraw draw, const SimLoad& load, double v)
{
    const double i = load.current_a ? *load.current_a
                     : load.power_w ? *load.power_w / v
                                    : v / *load.resistance_ohm;
    constexpr double least_a = 1e-6; // an idle load as a resistance
    switch (draw) {
    case LoadDraw::Current:
        return {.current_a = i};
    case LoadDraw::Power:
        return {.power_w = v * i, .v_min_v = v / 2};
    case LoadDraw::Resistance:
        return {.resistance_ohm = v / std::max(i, least_a)};
    }
    return load;
}

double chainVolts(const RectifierChain& chain, const ChainRun* run, const std::string& capacitor)
{
    constexpr double kept_share = 0.7;
    double v = chain.noLoadVolts() * kept_share;
    if (run != nullptr) {
        const auto& nodes = run->result.nodes;
        const auto node = std::ranges::find(nodes, capacitor, &SimNode::section);
        if (capacitor.empty())
            v = run->result.load.v.v_mean_v;
        else if (node != nodes.end())
            v = node->v.v_mean_v;
    }
    return std::max(1.0, v);
}

std::optional<RectifierInput> chainInput(const Job& job)
{
    const RectifierChain* chain = plannedChain(job);
    if (chain == nullptr)
        return std::nullopt;
    constexpr std::int64_t waveform_points = 400;
    return RectifierInput{
        .chain = *chain, .points = waveform_points, .ratings = job.found.mains_side.ratings};
}

namespace {

RectifierInput withLoad(RectifierInput input, double share)
{
    SimLoad& load = input.chain.load;
    if (load.resistance_ohm)
        *load.resistance_ohm /= share;
    if (load.current_a)
        *load.current_a *= share;
    if (load.power_w)
        *load.power_w *= share;
    input.points.reset();
    input.ratings = {};
    return input;
}

/// The outermost of the means at the load at four corners: the mains' ends, with every part at the same end
/// of its tolerance. Nothing where one of them has no steady state.
std::optional<VoltageRange> soundRange(const RectifierInput& input, const SimProgress& progress)
{
    std::optional<VoltageRange> range;
    for (const double mains : {-1.0, 1.0})
        for (const double parts : {-1.0, 1.0}) {
            ChainCorner corner{.mains = 1 + mains * input.chain.source.spread};
            for (const SmoothingSection& section : input.chain.filter)
                corner.sections.push_back(section.kind == SmoothingKind::R
                                              ? 1
                                              : 1 + parts * section.tolerance.value_or(usual_tolerance));
            corner.upper = corner.lower = 1 + parts * usual_tolerance;
            RectifierInput at = input;
            at.chain = atCorner(input.chain, corner);
            try {
                const double v = rectifierSimulate(at, progress).steady->load.v.v_mean_v;
                range = range ? VoltageRange{std::min(range->min_v, v), std::max(range->max_v, v)}
                              : VoltageRange{v, v};
            } catch (const DocumentError&) {
                return std::nullopt;
            }
        }
    return range;
}

/// Without load, and without taps, the capacitors stand at the mains' crest, less what the diodes keep at the
/// little that still flows.
VoltageRange unloadedRange(const RectifierChain& chain)
{
    const double crest_v = chain.noLoadVolts() / (1 + chain.source.spread);
    constexpr double junction_v = 0.6; // at a thousandth of its rated current
    const SimDiode& diode = chain.rectifier.diode;
    const double kept_v = diode.model == DiodeModel::Threshold     ? diode.v_f_v
                          : diode.model == DiodeModel::Exponential ? junction_v
                                                                   : 0;
    const bool two =
        chain.rectifier.kind == SimRectifier::Bridge || chain.rectifier.kind == SimRectifier::Doubler;
    return {crest_v * (1 - chain.source.spread) - (two ? 2 : 1) * kept_v, chain.noLoadVolts()};
}

} // namespace

ChainRun runChain(const RectifierInput& input, const SimProgress& progress)
{
    ChainRun run;
    run.input = input;
    run.result = *rectifierSimulate(input, progress).steady;
    run.sound =
        soundRange(withLoad(input, 1), progress).value_or(withSpread(run, run.result.load.v.v_mean_v));
    if (input.chain.tap_loads.empty())
        run.lighter.push_back({0, unloadedRange(input.chain)});
    for (const double share : {0.1, 0.5})
        if (const auto range = soundRange(withLoad(input, share), progress))
            run.lighter.push_back({share, *range});
    return run;
}

std::optional<ChainRun> chainRunOf(const Job& job, const SimProgress& progress)
{
    const auto input = chainInput(job);
    if (!input)
        return std::nullopt;
    // The same chain is asked for by each rehearsal of a job, each unit, each report.
    thread_local Remembered<RectifierInput, std::optional<ChainRun>, 4> runs;
    return runs.of(*input, [&progress](const RectifierInput& chain) -> std::optional<ChainRun> {
        try {
            return runChain(chain, progress);
        } catch (const DocumentError&) {
            return std::nullopt;
        }
    });
}

const ChainRun* runOf(const Job& job, const ChainRun* run)
{
    return run != nullptr && run->input == chainInput(job) ? run : nullptr;
}

VoltageRange withSpread(const ChainRun& run, double v)
{
    const double spread = run.input.chain.source.spread;
    return {v * (1 - spread), v * (1 + spread)};
}

std::string rectifierSentence(const ChainRun& run)
{
    const SteadyResult& r = run.result;
    std::string text = formatVolts(r.load.v.v_mean_v) + " at the load, ripple " +
                       formatValue(r.load.v.ripple_pp_v, Quantity::Voltage) + " peak to peak. ";
    if (r.load.collapsed)
        return text + "The source cannot feed this load: it has collapsed.";
    const auto worst = std::ranges::max_element(r.verdicts, {}, &SimVerdict::use);
    if (worst != r.verdicts.end() && worst->verdict != Verdict::Fits)
        return text + "Nearest its limit: " + chainPartName(run.input.chain, worst->part) + ", " +
               std::string(rowInfo(rowOf(worst->quantity)).quantity) + ", " + formatPercent(worst->use, 3) +
               ".";
    return text + (r.unread.empty() ? "Everything bears it." : "Not every rating was read.");
}

std::vector<ConsequenceRow> chainRows(const Job& job, const ChainRun* run)
{
    const auto input = chainInput(job);
    if (!input)
        return {};
    std::vector<ConsequenceRow> all;
    run = runOf(job, run);
    if (run == nullptr) {
        all.push_back(rows::planRow(RowId::ChainOutput, {}, "simulated, in the background",
                                    "the simulation of this chain has not come in yet"));
    } else {
        if (job.found.topology == Topology::Unregulated && job.need.target)
            all.push_back(outputRow(job, *run));
        const auto part_name = [&](const std::string& part) { return chainPartTitle(input->chain, part); };
        for (const SimVerdict& verdict : run->result.verdicts) {
            const RowId id = rowOf(verdict.quantity);
            all.push_back(rows::planRow(
                id,
                {.value = verdict.planned,
                 .limit = verdict.limit,
                 .use = verdict.use,
                 .verdict = verdict.verdict,
                 .fits_to = id == RowId::ChainResistor ? resistor_power_bounds.fits : default_bounds.fits},
                std::string(formulaOf(id)), {}, part_name(verdict.part)));
            all.back().working = workingOf(all.back(), input->chain);
        }
        for (const SimUnread& unread : run->result.unread) {
            const RowId id = rowOf(unread.quantity);
            all.push_back(rows::planRow(id, {}, std::string(formulaOf(id)), {}, part_name(unread.part)));
        }
    }
    const bool changed = job.plan.chain && job.plan.chain != job.found.mains_side.chain;
    for (ConsequenceRow& row : all)
        row.worse = changed;
    return all;
}

std::vector<DropperChoice> dropperChoices(const DropperResult& sought, const std::vector<StockItem>& drawer)
{
    const auto error = [&sought](double ohm) { return ohm - sought.r_ohm; };
    constexpr std::size_t most_parts = 3;
    constexpr std::size_t kept = 40;
    constexpr std::size_t shown = 20;
    const auto stock = sortedStock(drawer);
    std::vector<DropperChoice> all;
    for (std::size_t count = 1; count <= most_parts; ++count)
        for (PartChoice& choice : CombinationSearch(stock, count, kept, error).run()) {
            const double ohm = choice.network.ohm();
            const PartsPower power = partsPower(choice.network, choice.parts, sought.i_rms_a * ohm);
            all.push_back({std::move(choice), ohm, power});
        }
    std::ranges::stable_sort(all, {}, [&](const DropperChoice& choice) {
        return std::tuple(badness(choice.power.verdict), std::abs(error(choice.ohm)));
    });
    if (all.size() > shown)
        all.resize(shown);
    return all;
}

} // namespace offshoot
