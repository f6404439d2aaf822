#include "core/kinds/rewind/rewind_view.h"

#include "core/judge/row_maker.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

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
        text += "; the divider alone: " + phrase(*keep->verdict);
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
        return text + (option.verdict ? ": " + phrase(*option.verdict) : "");
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

RewindView rewindView(const Job& job, const Figures& figures, const Rail& rail)
{
    RewindView view;
    const Supply& s = job.found;
    const auto topology = woundTopology(s.topology);
    const auto window = windowOf(job, rail);
    const bool first = &rail == &s.rails.front();
    const auto found_v = first ? figures.found_v : rail.v_v;
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

} // namespace offshoot
