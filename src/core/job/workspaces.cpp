#include "core/job/workspaces.h"

#include "core/judge/row_maker.h"
#include "core/kinds/planned.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace offshoot {

namespace {

std::string percent(double share)
{
    return (share >= 0 ? "+" : "−") + significant(std::abs(share) * 100, 2) + " %";
}

/// Voltage readings of a rail that count: live, not struck, of the first unit, in the order of the log.
std::vector<const LogEntry*> readingsOf(const Job& job, const std::string& rail)
{
    const auto struck = struckIds(job.log);
    std::vector<const LogEntry*> readings;
    for (const LogEntry& entry : job.log)
        if (entry.kind == LogKind::Reading && entry.point == rail && entry.quantity == Quantity::Voltage &&
            entry.isolation == Isolation::Live && !entry.unit && !struck.contains(entry.id))
            readings.push_back(&entry);
    return readings;
}

std::string loadText(const LogEntry& entry)
{
    return entry.load ? "@" + formatValue(entry.load->value, entry.load->quantity) : "";
}

bool moves(const Job& job, const Trimmer& trimmer, const Rail& rail)
{
    const Rail& first = job.found.rails.front();
    return trimmer.rails.empty() ? &rail == &first || movesWith(rail, first)
                                 : std::ranges::count(trimmer.rails, rail.name) > 0;
}

// ---- trim

/// The last reading under each load since the trimmer was last turned: all at one setting.
void addTrimReadings(TrimInput& in, const Job& job, const Rail& rail, const VoltageWindow& window)
{
    double turned_s = 0;
    for (const LogEntry& entry : job.log)
        if (entry.kind == LogKind::Tick && entry.step == "bringup.trim")
            turned_s = entry.time_s;
    for (const LogEntry* entry : readingsOf(job, rail.name)) {
        if (entry->time_s < turned_s || *entry->value == 0)
            continue;
        const std::string load = loadText(*entry);
        std::erase_if(in.rails, [&](const TrimRail& r) { return r.name == rail.name && r.load == load; });
        const bool negative = rail.negative;
        in.rails.push_back({.name = rail.name,
                            .load = load,
                            .v = *entry->value,
                            .min_v = negative ? -window.max_v : window.min_v,
                            .max_v = negative ? -window.min_v : window.max_v});
    }
}

std::string nameOf(const RailId& id) { return id.load.empty() ? id.name : id.name + " " + id.load; }

void explainTrim(TrimView& view)
{
    const TrimResult& r = *view.result;
    if (r.feasible && r.now_in_windows && r.turn == Turn::None) {
        view.sentence = "Every rail is in its window, and this is the best setting.";
    } else if (r.feasible) {
        view.sentence = "Turn " + std::string(word(r.turn)) + ", " + percent(*r.change) +
                        ": every rail is in its window between " + percent(r.interval->min_scale - 1) +
                        " and " + percent(r.interval->max_scale - 1) + ".";
    } else if (r.blocked_by == TrimBlock::Travel) {
        view.sentence = "The trimmer's end stops it: it would have to go further " +
                        std::string(r.travel_end == TravelEnd::Max ? "up" : "down") + ".";
        view.next = "Measure the divider's legs, dead: a drifted resistor puts the range in the wrong place.";
    } else {
        const TrimConflict& c = *r.conflict;
        switch (c.cause) {
        case ConflictCause::Load:
            view.sentence = c.up.name + " alone cannot be cured by turning: " + nameOf(c.up) + " wants up, " +
                            nameOf(c.down) + " wants down. That is wiring drop or regulation.";
            view.next = "Read it at the supply's terminals and at the load, under the same load.";
            break;
        case ConflictCause::Sign:
            view.sentence =
                nameOf(c.up) + " has the wrong polarity for its window: no setting turns it round.";
            view.next = "Check the probes' polarity and which wire is which.";
            break;
        case ConflictCause::Cross:
            view.sentence = nameOf(c.up) + " wants up, " + nameOf(c.down) +
                            " wants down: no setting puts both in their windows. A missing load on " +
                            c.down.name + ", a tired part, or never meant to be this close.";
            view.next = "Read both again with a dummy load on " + c.down.name +
                        ": if it falls into its window, the load was missing; if not, look for a tired part.";
            break;
        }
    }
}

} // namespace

TrimView trimView(const Job& job, std::size_t at)
{
    TrimView view;
    if (job.found.topology == Topology::Unregulated) {
        view.sentence = "Nothing regulates here, so there is nothing to trim.";
        return view;
    }
    const Trimmer trimmer = at < job.found.trimmers.size() ? job.found.trimmers[at] : Trimmer{};
    view.trimmer = trimmer.name;
    std::string unread;
    for (const Rail& rail : job.found.rails) {
        if (!moves(job, trimmer, rail))
            continue;
        const auto window = windowOf(job, rail);
        const std::size_t before = view.input.rails.size();
        if (window)
            addTrimReadings(view.input, job, rail, *window);
        if (view.input.rails.size() == before)
            unread += (unread.empty() ? "" : ", ") + rail.name + (window ? "" : " (no window in Need)");
    }
    if (trimmer.min_scale && trimmer.max_scale)
        view.input.travel = ScaleRange{*trimmer.min_scale, *trimmer.max_scale};
    if (view.input.rails.empty()) {
        view.sentence =
            "Log a reading of each rail and give it a window in Need: the trimmer's line goes through it.";
        view.next = unread.empty() ? "" : "Still to read: " + unread + ".";
        return view;
    }
    view.result = railsTrim(view.input);
    explainTrim(view);
    if (!unread.empty() && view.next.empty())
        view.next = "Not read yet: " + unread + ".";
    if (job.found.trimmers.empty())
        view.next += (view.next.empty() ? "" : " ") +
                     std::string("No trimmer is entered in Found: one without ends is taken.");
    return view;
}

// ---- minimum and dummy load

namespace {

/// A "hunting" entry speaks of the reading logged just before it.
MinimumLoadInput loadReadings(const Job& job, const Rail& rail, const VoltageWindow& window, double moved)
{
    MinimumLoadInput in{.readings = {}, .window = window};
    const auto counted = readingsOf(job, rail.name);
    const auto struck = struckIds(job.log);
    const LogEntry* last = nullptr;
    for (const LogEntry& entry : job.log) {
        if (std::ranges::count(counted, &entry) > 0) {
            last = &entry;
            if (const auto a = loadAmps(entry))
                in.readings.push_back(
                    {.current_a = *a,
                     .v = *entry.value * rail.sign() * (entry.stage == ReadingStage::Found ? moved : 1)});
            else
                last = nullptr;
        } else if (entry.kind == LogKind::Hunting && last != nullptr && !struck.contains(entry.id)) {
            in.readings.back().hunting = true;
        } else if (entry.kind == LogKind::Reading) {
            last = nullptr;
        }
    }
    return in;
}

/// By what share the plan moves the readings from before it.
double movedShare(const Job& job, const Evaluation& evaluation, const Rail& rail)
{
    const Rail& first = job.found.rails.front();
    const bool moves_along = rail.name == first.name || movesWith(rail, first);
    return moves_along && evaluation.planned_v && evaluation.found_v
               ? *evaluation.planned_v / *evaluation.found_v
               : 1;
}

/// What its users draw at the least; the load in need may be one of those on the rail under change.
double leastCurrent(const Job& job, const Rail& rail)
{
    double sum_a = 0;
    for (const RailUser& user : rail.users)
        sum_a += user.least_a.value_or(0);
    const bool changed = rail.name == job.found.rails.front().name;
    return changed ? std::max(sum_a, job.need.least_a.value_or(0)) : sum_a;
}

void wantedLoad(MinimumLoadView& view, const Rail& rail)
{
    constexpr double room = 1.6;
    constexpr double usual_share = 0.05;
    const auto& least = view.fit ? view.fit->least_current_a : std::nullopt;
    view.assumed = !least;
    const double from = least ? *least : usual_share * rail.i_rated_a.value_or(0);
    const double missing = std::max(0.0, from - view.present_a);
    view.wanted = {missing, missing * room};
    if (least && view.fit->most_current_a)
        view.wanted.max_a =
            std::min(view.wanted.max_a, std::max(missing, *view.fit->most_current_a - view.present_a));
}

std::string loadSentence(const MinimumLoadView& view, const Rail& rail)
{
    if (!view.fit)
        return rail.name + " has no window in Need: without one no load is the right one.";
    const MinimumLoadResult& fit = *view.fit;
    switch (fit.verdict) {
    case Verdict::Unknown:
        return fit.steady < 2
                   ? "Two steady readings at different loads draw the line: " + rail.name + " 12.4 @0.5A."
                   : "It still hunts at the highest load read: read further up.";
    case Verdict::Breaks:
        return "No load cures it: the line never enters the window.";
    case Verdict::Fits:
    case Verdict::Tight:
        break;
    }
    const double least_a = *fit.least_current_a;
    std::string text =
        rail.name + " needs " + (least_a > 0 ? "at least " + amps(least_a) : "no load") +
        (fit.steady_from_a.value_or(0) >= least_a && least_a > 0 ? " to be steady" : " to be in its window");
    if (least_a == 0)
        text += '.';
    else
        text += atLeast(view.present_a, least_a)
                    ? "; its users draw that already."
                    : "; its users draw " + amps(view.present_a) + " at the least.";
    if (fit.bent)
        text += " The readings bend: take more near the least load.";
    if (fit.extrapolated)
        text += " That lies outside what was read.";
    return text;
}

} // namespace

std::optional<double> voltageWithDummy(const Job& job, const Evaluation& evaluation, const Rail& rail,
                                       double ohm)
{
    const VoltageWindow any{0, Range::largest};
    const MinimumLoadResult fit =
        minimumLoadFit(loadReadings(job, rail, any, movedShare(job, evaluation, rail)));
    if (!fit.v0_v)
        return std::nullopt;
    // V = V_0 − R·(I_users + V/R_dummy)
    return (*fit.v0_v - *fit.r_ohm * leastCurrent(job, rail)) / (1 + *fit.r_ohm / ohm);
}

namespace {

/// The planned bank, else the best of the drawer.
std::string dummyFigures(const Job& job, const MinimumLoadView& view, const Rail& rail)
{
    constexpr double day_s = 86400;
    constexpr double year_days = 365.25;
    constexpr double kilowatt_hour_j = 3.6e6;
    const auto& planned = job.plan.dummy_load;
    double power_w = 0;
    if (planned && planned->rail == rail.name && rail.v_v)
        power_w = *rail.v_v * *rail.v_v / planned->network.ohm();
    else if (!view.options.empty())
        power_w = view.options.front().power_w;
    else
        return view.wanted.max_a <= 0 ? "nothing is missing" : "nothing in the drawer does it";
    return formatValue(power_w, Quantity::Power) + " as heat, " +
           significant(power_w * day_s * year_days / kilowatt_hour_j, 2) + " kWh in a year of running";
}

School dummyOrAway(const Job& job, const MinimumLoadView& view, const Rail& rail)
{
    std::string lost;
    bool known = !rail.users.empty();
    for (const RailUser& user : rail.users) {
        known = known && !user.if_lost.empty();
        if (!user.if_lost.empty() && user.if_lost != "nothing")
            lost += (lost.empty() ? "" : "; ") + user.name + ": " + user.if_lost;
    }
    const bool nothing = known && lost.empty();
    const std::string away = !lost.empty() ? lost
                             : nothing     ? "nobody loses anything"
                                       : "not known: trace every wire and track of " + rail.name + " first";
    return {"A dummy load or the rail taken away",
            {{"Dummy load", dummyFigures(job, view, rail)}, {"Away", away}},
            nothing ? std::size_t{1} : std::size_t{0},
            nothing         ? "Nobody needs the rail: taking it away saves the heat."
            : !lost.empty() ? "Somebody loses something: the dummy load is the smaller change."
                            : "Until every user is known the rail stays."};
}

} // namespace

MinimumLoadView minimumLoadView(const Job& job, const Evaluation& evaluation, const Rail& rail)
{
    MinimumLoadView view{};
    view.present_a = leastCurrent(job, rail);
    const auto window = windowOf(job, rail);
    if (window) {
        view.input = loadReadings(job, rail, *window, movedShare(job, evaluation, rail));
        view.fit = minimumLoadFit(view.input);
    }
    wantedLoad(view, rail);
    view.sentence = loadSentence(view, rail);
    if (view.wanted.max_a > 0 && rail.v_v) {
        const double v =
            std::clamp(*rail.v_v, window ? window->min_v : 0, window ? window->max_v : *rail.v_v);
        constexpr std::int64_t shown = 40;
        view.options =
            dummyLoadOptions({.rail_v = v,
                              .rail_max_v = window ? std::optional(std::max(v, window->max_v)) : std::nullopt,
                              .current_a = view.wanted,
                              .stock = job.drawer,
                              .limit = shown})
                .options;
    }
    view.school = dummyOrAway(job, view, rail);
    return view;
}

DummyLoadPlan dummyLoadPlan(const std::string& rail, const DummyLoadOption& option)
{
    return {.rail = rail, .network = option.network, .part_power_w = option.part.power_w};
}

ShuntPlan shuntPlan(const ShuntOption& option)
{
    ShuntPlan plan{.network = option.network, .tolerance = 0};
    for (const StockItem& part : option.stock) {
        plan.tolerance = std::max(plan.tolerance, part.tolerance);
        if (part.power_w)
            plan.part_power_w = std::min(plan.part_power_w.value_or(*part.power_w), *part.power_w);
    }
    return plan;
}

// ---- rewind

namespace {

std::optional<WoundTopology> woundTopology(Topology topology)
{
    if (topology == Topology::Flyback)
        return WoundTopology::Flyback;
    if (isBuckDerived(topology))
        return WoundTopology::Forward;
    if (isLinear(topology))
        return WoundTopology::Line;
    return std::nullopt;
}

std::string rewindSentence(const RewindResult& result, const RewindInput& in)
{
    const bool line = in.topology == WoundTopology::Line;
    const auto best = std::ranges::find(result.options, result.best_turns, &RewindOption::turns);
    const auto keep = std::ranges::find(result.options, in.secondary_turns, &RewindOption::turns);
    std::string text = "Ideal " + significant(result.ideal_turns, 4) + " turns. ";
    if (result.best_turns == in.secondary_turns)
        return text + "Keep the winding: no other whole number of turns is better.";
    text += "Best " + std::to_string(result.best_turns) + " turns";
    if (line)
        return text + ": " + formatVolts(best->v) + " in front of the regulator at the trough.";
    if (best->v_cc_v)
        text += ", controller supply " + formatVolts(*best->v_cc_v);
    if (keep->verdict)
        text += "; the divider alone: " + std::string(word(*keep->verdict));
    return text + ".";
}

School rewindOrDivider(const RewindResult& result, const RewindInput& in)
{
    const auto at = [&](std::int64_t turns) {
        return *std::ranges::find(result.options, turns, &RewindOption::turns);
    };
    const RewindOption best = at(result.best_turns);
    const RewindOption keep = at(in.secondary_turns);
    const auto figures = [](const RewindOption& option) {
        std::string text = std::to_string(option.turns) + " turns";
        if (option.v_cc_v)
            text += ", controller supply " + formatVolts(*option.v_cc_v);
        if (option.switch_v)
            text += ", switch " + formatVolts(*option.switch_v);
        return text + (option.verdict ? ": " + std::string(word(*option.verdict)) : "");
    };
    const bool needs = keep.verdict &&
                       (*keep.verdict == Verdict::Breaks || *keep.verdict == Verdict::Tight) &&
                       best.turns != keep.turns;
    return {"Rewind or retune by the divider alone",
            {{"Rewind", figures(best) + "; core apart, insulation made again"}, {"Divider", figures(keep)}},
            needs ? std::size_t{0} : std::size_t{1},
            !keep.verdict ? "What the divider alone asks of the controller's supply is not known: read its "
                            "turns, lockout and maximum."
            : needs       ? "The divider alone takes a part to its limit."
                          : "Everything bears the divider alone, and the insulation stays as it was made."};
}

} // namespace

RewindView rewindView(const Job& job, const Evaluation& evaluation, const Rail& rail)
{
    RewindView view;
    const Supply& s = job.found;
    const auto topology = woundTopology(s.topology);
    const auto window = windowOf(job, rail);
    const bool first = &rail == &s.rails.front();
    const auto found_v = first ? evaluation.found_v : rail.v_v;
    if (!topology) {
        view.sentence = "This topology has no winding to rewind.";
        return view;
    }
    if (!rail.winding.turns || !found_v || !window) {
        view.sentence = !window ? "Say in Need what " + rail.name + " is wanted at."
                        : !found_v
                            ? "Enter what " + rail.name + " gives."
                            : "Count the turns of " + rail.name +
                                  "'s winding, or find them with a few turns of wire and a known voltage.";
        return view;
    }
    if (*topology == WoundTopology::Line && !(s.direct.min_v && s.regulator.drop_v)) {
        view.sentence = "Read the lowest voltage in front of the regulator and its dropout: the winding has "
                        "to reach the output and the dropout at the trough.";
        return view;
    }
    // A mains winding feeds the regulator: what it must reach at the trough is the output and the dropout.
    const bool line = *topology == WoundTopology::Line;
    const auto wanted_v = line                       ? window->max_v + *s.regulator.drop_v
                          : first && unitTarget(job) ? unitTarget(job)->v
                                                     : (window->min_v + window->max_v) / 2;
    RewindInput in{
        .topology = *topology,
        .secondary_turns = *rail.winding.turns,
        .found = {line ? *s.direct.min_v : *found_v, line ? 0 : rows::rectifierDropOf(rail), rail.i_rated_a},
        .wanted = {wanted_v, {}, first && job.need.current_a ? job.need.current_a : typicalCurrent(rail)},
        .aux = {},
        .primary_turns = s.transformer.primary_turns,
        .v_in_max_v = isMainsSwitcher(s.topology)
                          ? std::optional(inputCrest(s.input, job.need.mains.highest()))
                          : std::nullopt,
        .switch_v = s.converter.v_rated_v,
        .rectifier_v = rail.rectifier.v_rrm_v};
    if (const auto ratio = turnsRatio(s, rail))
        in.spike_v =
            s.converter.spike_v.value_or(rows::usual::spike_share * (*found_v + *in.found.v_f_v) * *ratio);
    if (s.transformer.auxiliary_turns && s.auxiliary.off_v && s.auxiliary.max_v)
        in.aux = AuxiliaryWinding{.turns = *s.transformer.auxiliary_turns,
                                  .v_f_v = s.auxiliary.v_f_v.value_or(rows::usual::auxiliary_drop_v),
                                  .min_v = *s.auxiliary.off_v,
                                  .max_v = *s.auxiliary.max_v};
    view.result = rewindOptions(in);
    view.sentence = rewindSentence(*view.result, in);
    if (!line)
        view.school = rewindOrDivider(*view.result, in);
    view.input = in;
    return view;
}

// ---- current limit

namespace {

std::string limitSentence(const LimitResult& r, const LimitInput& in, bool primary_side)
{
    if (!r.i_limit_a)
        return "No shunt is entered: read its marking, or choose one below.";
    std::string text = "Limits at " + amps(*r.i_limit_min_a) + " to " + amps(*r.i_limit_max_a) + ". ";
    if (primary_side)
        return text + "That is the peak of the switch current, not the output current.";
    text += !in.load_a ? "What the load draws at its peak is not said in Need. "
            : r.load_verdict == Verdict::Breaks
                ? "The load's " + amps(*in.load_a) + " may trip it in normal use. "
                : "The load's " + amps(*in.load_a) + " passes. ";
    text += !in.rated_a ? "What the supply bears was not read."
            : r.protect_verdict == Verdict::Breaks
                ? "It lets through more than the " + amps(*in.rated_a) + " the supply bears."
                : "It protects the supply.";
    return text;
}

} // namespace

LimitView limitView(const Job& job, const Evaluation& evaluation)
{
    LimitView view;
    const Supply planned = plannedSupply(job);
    const CurrentSense& sense = planned.current_limit;
    if (!sense.threshold) {
        view.sentence =
            "Enter the threshold: a stated voltage, or the reference and the divider that make it.";
        return view;
    }
    const Rail& rail = planned.rails.front();
    const auto load_a = job.need.peak_a ? job.need.peak_a : job.need.current_a;
    std::optional<double> rated_a = rail.i_rated_a;
    for (const auto& [name, allowed] : evaluation.consequences.allowed_current_a)
        if (name == rail.name && allowed)
            rated_a = allowed;
    LimitInput in{.threshold = *sense.threshold,
                  .shunt = sense.shunt,
                  .shunt_tolerance = sense.shunt_tolerance,
                  .part_power_w = sense.part_power_w,
                  .lead_ohm = sense.lead_ohm,
                  .load_a = sense.primary_side ? std::nullopt : load_a,
                  .rated_a = sense.primary_side ? std::nullopt : rated_a,
                  .hiccup_duty = sense.hiccup_duty,
                  .rail_v = rail.v_v,
                  .in_loop = sense.in_loop};
    // Between what the load must be let have and what the supply bears, with a fifth of room to the load.
    if (!sense.primary_side && load_a && rated_a && *rated_a > *load_a) {
        constexpr std::int64_t shown = 12;
        in.search = ShuntSearch{.min_a = *load_a,
                                .a = std::sqrt(*load_a * *rated_a),
                                .max_a = *rated_a,
                                .stock = job.drawer,
                                .limit = shown};
    }
    if (!in.shunt && !in.search) {
        view.sentence =
            "Enter the shunt, or the load's peak and the supply's rating: then the drawer is searched.";
        return view;
    }
    view.result = limitShunt(in);
    view.sentence = limitSentence(*view.result, in, sense.primary_side);
    view.input = std::move(in);
    return view;
}

// ---- hiccup

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
    const auto struck = struckIds(job.log);
    for (const LogEntry& entry : job.log)
        if (entry.kind == LogKind::Reading && entry.quantity == Quantity::Resistance &&
            entry.point == rail.name && !struck.contains(entry.id))
            in.output_ohm = entry.value;
    view.result = explainHiccup(in);
    view.sentence = hiccupSentence(view.result);
    return view;
}

// ---- batch

namespace {

/// The window a step asks of this point under this load.
std::optional<ReadingWindow> windowAsked(const Evaluation& evaluation, const LogEntry& entry)
{
    for (const StepView& view : evaluation.steps)
        if (view.step.stage == Stage::BringUp || view.step.stage == Stage::SignOff)
            for (const Asked& asked : view.step.asks) {
                const double asked_a = asked.load_a.value_or(0);
                const double load_a = loadAmps(entry).value_or(0);
                if (asked.window && asked.answeredBy(*entry.point, entry.quantity) &&
                    std::abs(asked_a - load_a) <= 0.1 * std::max(asked_a, load_a))
                    return asked.window;
            }
    return std::nullopt;
}

} // namespace

BatchView batchView(const Job& job, const Evaluation& evaluation)
{
    BatchView view;
    const auto struck = struckIds(job.log);
    std::vector<const LogEntry*> readings;
    std::set<std::string> units{"1"};
    for (const LogEntry& entry : job.log)
        if (entry.kind == LogKind::Reading && entry.stage != ReadingStage::Found &&
            !struck.contains(entry.id)) {
            readings.push_back(&entry);
            units.insert(entry.unit.value_or("1"));
        }
    view.units.assign(units.begin(), units.end());
    for (const LogEntry* entry : readings) {
        const std::string load = loadText(*entry);
        auto row = std::ranges::find_if(view.rows, [&](const BatchRow& r) {
            return r.point == *entry->point && r.load == load && r.quantity == *entry->quantity;
        });
        if (row == view.rows.end()) {
            view.rows.push_back({*entry->point,
                                 load,
                                 *entry->quantity,
                                 std::vector<std::optional<double>>(view.units.size()),
                                 {},
                                 windowAsked(evaluation, *entry),
                                 std::vector<Verdict>(view.units.size(), Verdict::Unknown)});
            row = std::prev(view.rows.end());
        }
        const auto unit = static_cast<std::size_t>(std::ranges::find(view.units, entry->unit.value_or("1")) -
                                                   view.units.begin());
        row->values[unit] = entry->value;
        row->verdicts[unit] = judgeReading({.value = *entry->value,
                                            .window = row->window,
                                            .uncertainty = entry->uncertainty.value_or(0)})
                                  .verdict;
    }
    for (BatchRow& row : view.rows) {
        std::vector<double> known;
        for (const auto& value : row.values)
            if (value)
                known.push_back(*value);
        if (known.size() > 1)
            row.spread = *std::ranges::max_element(known) - *std::ranges::min_element(known);
    }
    return view;
}

} // namespace offshoot
