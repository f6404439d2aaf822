#include "core/kinds/module/module_view.h"

#include "core/judge/row_maker.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

namespace {

using rows::Judged;
using rows::planRow;

RegulatorSource sourceOf(const Job& job)
{
    const RegulatorFeed& feed = *job.found.feed;
    return {.open_v = *feed.open_v,
            .r_ohm = feed.r_ohm.value_or(0),
            .ripple_v = feed.ripple_v.value_or(0),
            .ripple_at_a = feed.ripple_at_a,
            .spread = job.need.mains.spread};
}

std::optional<OldRegulator> oldOf(const Supply& found)
{
    if (isLinear(found.topology))
        return OldRegulator{.kind = OldRegulatorKind::Linear};
    if (found.dcFed())
        return OldRegulator{.kind = OldRegulatorKind::Converter,
                            .efficiency = found.efficiency.value_or(usual_efficiency)};
    return std::nullopt;
}

bool isModule(const ShelfEntry& entry)
{
    return entry.unit.input.kind == InputCurrent::Dc && entry.unit.outputs.size() == 1 && entry.converts;
}

/// What the old one burns now against what the module would, on this source.
School dropOrConvert(const ModuleView& view)
{
    School school{"Drop it in heat or convert it", {}, 0, {}};
    const auto best = [&](bool linear) {
        return std::ranges::find_if(view.options, [&](const ModuleOption& option) {
            return (option.input.module.kind == ModuleKind::Linear) == linear;
        });
    };
    const auto words = [&](std::vector<ModuleOption>::const_iterator option) {
        if (option == view.options.end())
            return std::string("none on the shelf");
        const auto& loss_w = option->result.after.loss_w;
        return (loss_w ? watts(*loss_w) + " lost" : std::string("it does not run on this source")) +
               (option->result.verdict == Verdict::Breaks ? ", and it breaks" : "");
    };
    const auto linear = best(true);
    const auto converter = best(false);
    school.sides = {{"Linear", words(linear) + "; nothing that switches, no ripple of its own"},
                    {"Converter", words(converter) + "; the source is loaded less and rises"}};
    const bool linear_serves = linear != view.options.end() && linear->result.verdict != Verdict::Breaks;
    school.pick = linear_serves ? 0 : 1;
    school.why =
        linear_serves ? "It bears the heat, and is the quieter one." : "Dropping it does not do here.";
    return school;
}

std::string sentenceOf(const Job& job, const ModuleView& view)
{
    if (!view.result)
        return view.options.empty() ? "No module on the shelf says how it regulates."
                                    : "Choose a module: the best stands first.";
    const RegulatorReplaceResult& r = *view.result;
    const std::string& name = job.plan.module->entry.unit.name;
    if (!r.operating)
        return name + " does not run on this source: it cannot give what it would draw.";
    std::string text = name + " sees " + volts(*r.after.in_trough_v) + " to " + volts(*r.after.in_crest_v) +
                       " and burns " + watts(*r.after.loss_w) + '.';
    if (r.before && r.before->loss_w)
        text += " The old one burns " + watts(*r.before->loss_w) + '.';
    if (r.source_rise_v && *r.source_rise_v > 0)
        text += " The source rises by " + volts(*r.source_rise_v) +
                (job.found.feed->others.empty() ? "" : ", and with it what feeds " + job.found.feed->others) +
                '.';
    return text;
}

} // namespace

std::vector<JudgedLine> judgedLines(const ModuleOption& option)
{
    const RegulatorReplaceResult& r = option.result;
    std::vector<JudgedLine> lines;
    const auto add = [&](const std::string& text, const std::optional<Verdict>& verdict) {
        if (verdict)
            lines.push_back({text, *verdict});
    };
    const auto share = [](const JudgedUse& judged) {
        return judged.use ? formatPercent(*judged.use) : std::string("not known");
    };
    add(r.operating ? "the source carries it" : "the source cannot give what it draws",
        r.operating ? Verdict::Fits : Verdict::Breaks);
    add("headroom above its output: " + share(r.headroom) + " used", r.headroom.verdict);
    add("input below its output", r.boost_verdict);
    add("least input: " + share(r.in_min), r.in_min.verdict);
    add("highest input: " + share(r.in_max), r.in_max.verdict);
    add("can be set to the need", r.out_verdict);
    add("peak current: " + share(r.current), r.current.verdict);
    add("heat: " + share(r.thermal) + " of what its junction bears", r.thermal.verdict);
    return lines;
}

std::string moduleKindWords(ModuleKind kind)
{
    switch (kind) {
    case ModuleKind::Linear:
        return "linear";
    case ModuleKind::Buck:
        return "converts down";
    case ModuleKind::Boost:
        return "converts up";
    case ModuleKind::BuckBoost:
        return "converts up and down";
    }
    return {};
}

std::string moduleMissing(const Job& job)
{
    if (!job.need.target || !job.need.current_a || *job.need.current_a <= 0)
        return "Say in Need what the load wants and draws.";
    if (!job.found.feed || !job.found.feed->open_v)
        return "Enter what the source in front of the regulator gives, unloaded.";
    return {};
}

std::optional<RegulatorReplaceInput> moduleInput(const Job& job, const ShelfEntry& entry)
{
    if (!moduleMissing(job).empty() || entry.unit.outputs.empty() || !entry.converts)
        return std::nullopt;
    const UnitOutput& out = entry.unit.outputs.front();
    const double low_v = out.trim_min_v.value_or(out.v);
    const double high_v = out.trim_max_v.value_or(out.v);
    const double current_a = *job.need.current_a;
    RegulatorReplaceInput in{.source = sourceOf(job),
                             .others_a = job.found.feed->others_a.value_or(0),
                             .output = {.v = std::clamp(job.need.target->v, low_v, high_v),
                                        .current_a = current_a,
                                        .peak_a = std::max(current_a, job.need.peak_a.value_or(current_a)),
                                        .least_a = std::min(current_a, job.need.least_a.value_or(0))},
                             .old = oldOf(job.found),
                             .module = {.kind = *entry.converts}};
    RegulatorModule& module = in.module;
    module.in_min_v = entry.unit.input.ranges.front().min_v;
    module.in_max_v = entry.unit.input.ranges.front().max_v;
    module.headroom_v = entry.headroom_v;
    module.out_min_v = low_v;
    module.out_max_v = high_v;
    module.rated_a = out.rated_a;
    module.efficiency = entry.unit.efficiency.value_or(module.efficiency);
    module.theta_k_per_w = entry.theta_k_per_w;
    module.t_j_max_k = entry.t_j_max_k;
    if (const auto& ambient_k = job.found.regulator.t_ambient_k)
        module.ambient_k = *ambient_k;
    return in;
}

ModuleView moduleView(const Job& job, const std::vector<ShelfEntry>& shelf)
{
    ModuleView view{};
    view.sentence = moduleMissing(job);
    if (!view.sentence.empty())
        return view;
    for (std::size_t i = 0; i < shelf.size(); ++i)
        if (isModule(shelf[i])) {
            const RegulatorReplaceInput in = *moduleInput(job, shelf[i]);
            RegulatorReplaceResult result = regulatorReplace(in);
            // A module that cannot be set to the window is none.
            if (!within(in.output.v, job.need.target->min_v, job.need.target->max_v))
                result.verdict = result.out_verdict = Verdict::Breaks;
            view.options.push_back({i, in, result});
        }
    std::ranges::stable_sort(view.options, {}, [](const ModuleOption& option) {
        return std::pair(badness(option.result.verdict), option.result.after.loss_w.value_or(1e9));
    });
    if (job.plan.module) {
        view.input = moduleInput(job, job.plan.module->entry);
        if (view.input)
            view.result = regulatorReplace(*view.input);
        const auto at = std::ranges::find_if(view.options, [&](const ModuleOption& option) {
            return shelf[option.at].unit.name == job.plan.module->entry.unit.name;
        });
        if (at != view.options.end())
            view.planned = static_cast<std::size_t>(at - view.options.begin());
    }
    view.school = dropOrConvert(view);
    const RegulatorFeed& feed = *job.found.feed;
    if (!feed.r_ohm)
        view.assumed.emplace_back("a source that does not sag");
    if (!feed.ripple_v)
        view.assumed.emplace_back("no ripple on it");
    if (!job.found.regulator.t_ambient_k)
        view.assumed.emplace_back("40 °C around it");
    view.sentence = sentenceOf(job, view);
    return view;
}

void planModule(Job& job, const ShelfEntry& entry)
{
    const auto in = moduleInput(job, entry);
    Plan made;
    made.wire = job.plan.wire;
    made.dummy_load = job.plan.dummy_load;
    made.limiter = job.plan.limiter;
    made.connection = job.plan.connection;
    made.panel = job.plan.panel;
    made.max_parts = job.plan.max_parts;
    made.unknown = job.plan.unknown;
    made.module = ModulePlan{.entry = entry, .set_v = in ? in->output.v : entry.unit.outputs.front().v};
    job.plan = std::move(made);
}

std::string regulatorParts(Topology topology)
{
    switch (topology) {
    case Topology::SeriesPass:
        return "the pass transistor, its driver, the reference and their resistors";
    case Topology::Linear:
        return "the regulator and its setting resistors";
    default:
        return "the old regulator with its setting resistors";
    }
}

std::vector<ConsequenceRow> moduleRows(const Job& job)
{
    std::vector<ConsequenceRow> all;
    if (!job.plan.module)
        return all;
    const ShelfEntry& entry = job.plan.module->entry;
    const std::string& name = entry.unit.name;
    const auto in = moduleInput(job, entry);
    if (!in) {
        all.push_back(planRow(RowId::ModuleInput, {.verdict = Verdict::Unknown}, "what it takes",
                              moduleMissing(job), name));
        return all;
    }
    const RegulatorReplaceResult r = regulatorReplace(*in);
    const auto add = [&](RowId id, const rows::Value& value, const rows::Value& limit, const JudgedUse& use,
                         const char* formula, std::string working) {
        if (use.verdict)
            all.push_back(planRow(id,
                                  {.value = value, .limit = limit, .use = use.use, .verdict = *use.verdict},
                                  formula, std::move(working), name));
    };
    const auto shown = [](const rows::Value& v) { return v ? volts(*v) : std::string("no operating point"); };
    rows::Value left;
    if (r.after.in_trough_v)
        left = *r.after.in_trough_v - in->output.v;
    add(RowId::ModuleHeadroom, left, in->module.headroom_v, r.headroom,
        "V_in,trough − V against the headroom it needs, at the lowest mains and the peak",
        shown(r.after.in_trough_v) + " − " + volts(in->output.v));
    if (r.boost_verdict)
        add(RowId::ModuleHeadroom, in->output.v, r.after.in_crest_v, {.use = {}, .verdict = r.boost_verdict},
            "V_in,crest ≤ 0.95·V, or the input passes straight through", shown(r.after.in_crest_v));
    add(RowId::ModuleInput, r.after.in_crest_v, in->module.in_max_v, r.in_max,
        "V_in,crest at the highest mains and the least load against its highest input",
        shown(r.after.in_crest_v));
    add(RowId::ModuleLow, r.after.in_trough_v, in->module.in_min_v, r.in_min,
        "V_in,trough at the lowest mains and the peak against its least input", shown(r.after.in_trough_v));
    const bool in_window = within(in->output.v, job.need.target->min_v, job.need.target->max_v);
    add(RowId::ModuleOutput, in->output.v, {},
        {.use = {}, .verdict = in_window ? r.out_verdict : Verdict::Breaks},
        "the need's window, inside what it can be set to", volts(in->output.v));
    add(RowId::ModuleCurrent, *in->output.peak_a, in->module.rated_a, r.current,
        "the load's peak against its rating", amps(*in->output.peak_a));
    add(RowId::ModuleJunction, r.junction_k, in->module.t_j_max_k, r.thermal,
        "T_j = T_a + P·θ at the highest mains", r.after.loss_w ? watts(*r.after.loss_w) + " lost" : "");
    if (r.source_rise_v) {
        const rows::Value most_v = in->source.open_v * (1 + in->source.spread);
        const auto use = useOf(most_v, job.found.bulk.v_rated_v);
        ConsequenceRow row = planRow(
            RowId::SourceRise,
            {.value = most_v, .limit = job.found.bulk.v_rated_v, .use = use, .verdict = judgeUse(use)},
            "a source that is loaded less rises: unloaded, at the highest mains, against "
            "its reservoir",
            "at its load " + volts(*r.after.source_v) + ", up by " + volts(*r.source_rise_v) +
                (job.found.feed->others.empty() ? "" : "; look what that does to " + job.found.feed->others));
        row.found = r.before->source_v;
        all.push_back(std::move(row));
    }
    return all;
}

Connections moduleConnections(const Job& job)
{
    const ShelfEntry& entry = job.plan.module->entry;
    const Rail& rail = job.found.rails.front();
    Connections c{
        .name = "module",
        .sentence = entry.unit.name +
                    " from the reservoir to the output, its return to the reservoir's "
                    "minus; " +
                    regulatorParts(job.found.topology) + " out.",
        .parts = {{"reservoir", PartKind::Capacitor, "source +", "0 V", job.found.bulk.c_f},
                  {"old regulator", PartKind::Link, "source +", rail.name, {}, PartFate::TakenOut},
                  {entry.unit.name, PartKind::Link, "source +", rail.name, {}, PartFate::Added},
                  {"its return", PartKind::Wire, "0 V", "return of " + entry.unit.name, {}, PartFate::Added},
                  {rail.capacitor.name, PartKind::Capacitor, rail.name, "0 V", rail.capacitor.c_f}},
        .top = "source +",
        .bottom = "0 V"};
    c.station = Station::Converter;
    return c;
}

} // namespace offshoot
