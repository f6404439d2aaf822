#include "core/job/connections.h"

#include "core/job/joining.h"
#include "core/job/mains_views.h"
#include "core/job/temporary_trimmer.h"
#include "core/kinds/kind.h"
#include "core/values/figures.h"

#include <Eigen/Dense>

#include <algorithm>
#include <limits>
#include <map>

namespace offshoot {

namespace {

constexpr std::string_view output = "output";
constexpr std::string_view reference = "reference";
constexpr std::string_view ground = "return";
constexpr std::string_view positive = "+";
constexpr std::string_view first_end = "end 1";
constexpr std::string_view second_end = "end 2";

/// Flattens a network into its parts, with a node of its own between parts in series.
class Flattener
{
public:
    Flattener(std::vector<ConnectedPart>& parts, std::string prefix, PartFate fate,
              std::vector<double> tolerances)
        : m_parts(parts)
        , m_prefix(std::move(prefix))
        , m_fate(fate)
        , m_tolerances(std::move(tolerances))
    {}

    void add(const Network& network, const std::string& from, const std::string& to)
    {
        m_network = &network;
        walk(network.root(), from, to);
    }

private:
    void walk(const Network::Node& node, const std::string& from, const std::string& to)
    {
        switch (node.kind) {
        case Network::Kind::Part: {
            const bool several = m_network->parts().size() > 1;
            const double ohm = m_network->parts()[node.part];
            m_parts.push_back({.name = m_prefix + (several ? " " + std::to_string(node.part + 1) : ""),
                               .kind = ohm == 0 ? PartKind::Link : PartKind::Resistor,
                               .from = from,
                               .to = to,
                               .value = ohm,
                               .fate = m_fate,
                               .tolerance = node.part < m_tolerances.size()
                                                ? std::optional(m_tolerances[node.part])
                                            : m_tolerances.empty() ? std::nullopt
                                                                   : std::optional(m_tolerances.front())});
            break;
        }
        case Network::Kind::Parallel:
            for (const Network::Node& child : node.children)
                walk(child, from, to);
            break;
        case Network::Kind::Series: {
            std::string at = from;
            for (std::size_t i = 0; i < node.children.size(); ++i) {
                const bool last = i + 1 == node.children.size();
                const std::string next = last ? to : m_prefix + " joint " + std::to_string(++m_joints);
                walk(node.children[i], at, next);
                at = next;
            }
            break;
        }
        }
    }

    std::vector<ConnectedPart>& m_parts;
    std::string m_prefix;
    PartFate m_fate;
    std::vector<double> m_tolerances;
    const Network* m_network = nullptr;
    int m_joints = 0;
};

/// The added network, and behind it the trimmer, between two nodes.
void join(std::vector<ConnectedPart>& parts, const AddedToDivider& added, const std::string& from,
          const std::string& to)
{
    const std::string behind = added.network && added.trimmer_ohm ? "trimmer joint" : from;
    if (added.network)
        Flattener(parts, added.trimmer_ohm ? "in series" : "added", PartFate::Added, added.tolerances)
            .add(*added.network, from, added.trimmer_ohm ? behind : to);
    if (added.trimmer_ohm)
        parts.push_back({"trimmer", PartKind::Trimmer, behind, to, *added.trimmer_ohm, PartFate::Added});
}

bool inSeries(DividerMethod method)
{
    return method == DividerMethod::SeriesBottom || method == DividerMethod::SeriesTop;
}

std::vector<double> tolerancesOf(const ChosenNetwork& chosen)
{
    std::vector<double> list;
    for (const StockItem& part : chosen.parts)
        list.push_back(part.tolerance);
    return list;
}

} // namespace

Connections stackConnections(const Job& job, const Evaluation& e)
{
    Connections out{.name = "stack",
                    .sentence =
                        "From the bottom up, each positive to the negative of the next. Every case keeps its "
                        "earth.",
                    .parts = {},
                    .top = unitName(job, unitCount(job)) + " +",
                    .bottom = unitName(job, 1) + " −"};
    const JoinPlan join = job.plan.join.value_or(JoinPlan{});
    for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
        const std::string name = unitName(job, unit);
        const Joint& joint = unitSupply(job, unit).joint;
        const std::string low = name + " −";
        const std::string high = name + " +";
        out.parts.push_back({name, PartKind::Source, high, low, unitSet(job, e, unit)});
        if (unit > 1)
            out.parts.push_back({"link " + std::to_string(unit - 1), PartKind::Link,
                                 unitName(job, unit - 1) + " +", low, std::nullopt, PartFate::Added});
        if (joint.bonded == Bond::Negative || joint.bonded == Bond::Positive) {
            const bool opened = std::ranges::count(join.opened_bonds, static_cast<std::int64_t>(unit)) > 0;
            out.parts.push_back({"output bond", PartKind::Bond, joint.bonded == Bond::Negative ? low : high,
                                 name + " case", std::nullopt,
                                 opened ? PartFate::TakenOut : PartFate::Stays});
        }
        const auto& diode = join.reverse_diode ? join.reverse_diode : joint.reverse_diode;
        if (diode)
            out.parts.push_back({"reverse diode", PartKind::Diode, low, high, diode->v_rrm_v,
                                 join.reverse_diode ? PartFate::Added : PartFate::Stays});
        out.parts.push_back({"protective earth", PartKind::Bond, name + " case", "earth"});
    }
    return out;
}

namespace {

std::string sectionText(const SmoothingSection& s)
{
    return s.kind == SmoothingKind::C   ? formatValue(s.c_f, Quantity::Capacitance)
           : s.kind == SmoothingKind::L ? significant(s.l_h, 3) + " H"
                                        : formatOhms(s.r_ohm);
}

std::string loadText(const SimLoad& load)
{
    return load.resistance_ohm ? formatOhms(*load.resistance_ohm)
           : load.current_a    ? formatValue(*load.current_a, Quantity::Current)
                               : formatValue(load.power_w.value_or(0), Quantity::Power);
}

std::string rectifierSentence(const SimRectifierPart& rectifier)
{
    switch (rectifier.kind) {
    case SimRectifier::Half:
        return "One rectifier: anode to one end of the secondary, cathode to +; the other end is the return.";
    case SimRectifier::FullWaveCt:
        return "Two rectifiers: an anode to each end of the secondary, both cathodes to +; the centre tap is "
               "the return.";
    case SimRectifier::Bridge:
        return "Bridge: from each end of the secondary one rectifier with its cathode to +, and one with its "
               "anode to the return.";
    case SimRectifier::Doubler: {
        const auto value = [](const std::optional<SmoothingSection>& s) {
            return s ? " " + sectionText(*s) : std::string();
        };
        return "Doubler: at the secondary's first end one rectifier with its cathode to +, and one with its "
               "anode to the return; the upper capacitor" +
               value(rectifier.upper) + " from + to the second end, the lower capacitor" +
               value(rectifier.lower) + " from the second end to the return.";
    }
    }
    return {};
}

/// The secondary and its rectifiers, each from its anode to its cathode.
void addRectifier(std::vector<ConnectedPart>& parts, const SimRectifierPart& rectifier, bool stays)
{
    const PartFate fate = stays ? PartFate::Stays : PartFate::Added;
    const auto winding = [&](const char* name, std::string_view from, std::string_view to) {
        parts.push_back({name, PartKind::Winding, std::string(from), std::string(to)});
    };
    const auto diode = [&](std::string_view anode, std::string_view cathode) {
        parts.push_back(
            {"rectifier", PartKind::Diode, std::string(anode), std::string(cathode), std::nullopt, fate});
    };
    switch (rectifier.kind) {
    case SimRectifier::Half:
        winding("secondary", first_end, ground);
        diode(first_end, positive);
        return;
    case SimRectifier::FullWaveCt:
        winding("first half", first_end, ground);
        winding("second half", ground, second_end);
        diode(first_end, positive);
        diode(second_end, positive);
        return;
    case SimRectifier::Bridge:
        diode(second_end, positive);
        diode(ground, second_end);
        [[fallthrough]];
    case SimRectifier::Doubler:
        winding("secondary", first_end, second_end);
        diode(first_end, positive);
        diode(ground, first_end);
    }
}

} // namespace

bool isAdjustableRegulator(const Supply& supply)
{
    constexpr double least_v = 1.2;
    constexpr double most_v = 1.3;
    const auto& ref = supply.rails.front().feedback.reference;
    return isLinear(supply.topology) && ref && ref->v_ref_v >= least_v && ref->v_ref_v <= most_v;
}

Connections dividerConnections(const Feedback& feedback, const std::optional<AddedToDivider>& added,
                               bool adjustable)
{
    Connections out{.name = "divider",
                    .sentence = {},
                    .parts = {},
                    .top = std::string(output),
                    .bottom = std::string(ground)};
    const std::string mid{reference};
    // The leg that V_ref stands across: from the reference pin to the return, or from the output to the
    // adjust pin.
    const std::string bottom_end{adjustable ? output : ground};
    const std::string top_end{adjustable ? ground : output};
    const auto leg = [&](const std::optional<Network>& network, bool top) {
        if (!network)
            return;
        const bool changed = added && joinsTop(added->method) == top;
        const bool gone = changed && replaces(added->method);
        const std::string name = top ? "top" : "bottom";
        const std::string& end = top ? top_end : bottom_end;
        // In series: the found leg's far end is lifted, and the new part goes from there to where it was.
        const std::string far = changed && inSeries(added->method) ? name + " lifted end" : end;
        Flattener(out.parts, name, gone ? PartFate::TakenOut : PartFate::Stays, {feedback.tolerance})
            .add(*network, mid, far);
        if (changed)
            join(out.parts, *added, inSeries(added->method) ? far : mid, end);
    };
    leg(feedback.top, true);
    leg(feedback.bottom, false);
    return out;
}

std::string fittingSentence(const std::string& what, DividerMethod method, bool adjustable, LegNow now)
{
    const bool top = joinsTop(method);
    const std::string pin = adjustable ? "the adjust pin" : "the reference pin";
    const std::string end = top != adjustable ? "the output" : "the return";
    const std::string leg = top ? "top leg" : "bottom leg";
    const bool prepared = now == LegNow::Prepared;
    switch (method) {
    case DividerMethod::ParallelBottom:
    case DividerMethod::ParallelTop:
        return what + " from " + pin + " to " + end + ", beside the " + leg + ", which stays.";
    case DividerMethod::ReplaceBottom:
    case DividerMethod::ReplaceTop:
        return (prepared ? "The " + leg + " is out; " : "Take the " + leg + " out; ") + what +
               " goes in its place, from " + pin + " to " + end + ".";
    case DividerMethod::SeriesBottom:
    case DividerMethod::SeriesTop:
        return (prepared ? "The " : "Lift the ") + leg + "'s end at " + end +
               (prepared ? " is lifted; " : "; ") + what + " goes between that lifted end and " + end +
               ", so that the current passes through both.";
    }
    return {};
}

std::string fittingSentence(const Job& job)
{
    if (!job.plan.chosen)
        return {};
    return fittingSentence(job.plan.chosen->network.prettyText(), job.plan.chosen->method,
                           isAdjustableRegulator(job.found), LegNow::AsFound);
}

std::string primariesSentence(const Job& job)
{
    if (!job.plan.connection)
        return {};
    const Connections c = primaryConnections(*job.plan.connection);
    std::string text;
    std::vector<std::string> live;
    std::vector<std::string> neutral;
    for (const ConnectedPart& part : c.parts) {
        if (part.kind == PartKind::Link)
            text += (text.empty() ? "Join " : "; join ") + part.from + " to " + part.to;
        if (part.kind == PartKind::Wire)
            (part.from == "mains live" ? live : neutral).push_back(part.to);
    }
    if (live.size() == 1 && neutral.size() == 1)
        return text + (text.empty() ? "Mains to " : "; mains to ") + live.front() + " and " +
               neutral.front() + ".";
    return text + (text.empty() ? "One" : "; one") + " side of the mains to " + listed(live) +
           " together, the other side to " + listed(neutral) + " together.";
}

Connections primaryConnections(const ConnectionPlan& plan)
{
    Connections out{
        .name = "primaries", .sentence = {}, .parts = {}, .top = "mains live", .bottom = "mains neutral"};
    const auto& segments = plan.segments;
    for (const PlannedSegment& s : segments)
        out.parts.push_back({s.winding, PartKind::Winding, s.from, s.to});
    for (std::size_t i = 0; i < segments.size(); ++i) {
        const PlannedSegment& s = segments[i];
        const bool first = i == 0 || segments[i - 1].string != s.string;
        const bool last = i + 1 == segments.size() || segments[i + 1].string != s.string;
        if (first)
            out.parts.push_back(
                {"live feed", PartKind::Wire, "mains live", s.from, std::nullopt, PartFate::Added});
        else
            out.parts.push_back(
                {"joint", PartKind::Link, segments[i - 1].to, s.from, std::nullopt, PartFate::Added});
        if (last)
            out.parts.push_back(
                {"neutral feed", PartKind::Wire, "mains neutral", s.to, std::nullopt, PartFate::Added});
    }
    return out;
}

std::vector<std::string> chainParts(const RectifierChain& chain)
{
    std::vector<std::string> parts{std::string(word(chain.rectifier.kind))};
    for (const auto* part : {&chain.rectifier.upper, &chain.rectifier.lower})
        if (*part)
            parts.push_back((part == &chain.rectifier.upper ? "upper capacitor " : "lower capacitor ") +
                            sectionText(**part));
    for (std::size_t i = 0; i < chain.filter.size(); ++i)
        parts.push_back(chainPartName(chain, std::to_string(i)) + " " + sectionText(chain.filter[i]));
    return parts;
}

std::string chainSentence(const Job& job)
{
    if (!job.plan.chain)
        return {};
    const RectifierChain& chain = *job.plan.chain;
    std::string text = rectifierSentence(chain.rectifier);
    text += " From + on:";
    for (std::size_t i = 0; i < chain.filter.size(); ++i) {
        text += (i == 0 ? " " : ", ") + chainPartName(chain, std::to_string(i)) + " " +
                sectionText(chain.filter[i]) +
                (chain.filter[i].kind == SmoothingKind::C ? " to the return" : " in series");
        for (const TapLoad& tap : chain.tap_loads)
            if (tap.section == static_cast<std::int64_t>(i))
                text += " with a tap of " + loadText(tap.load) + " across it";
    }
    return text + (chain.filter.empty() ? " the load alone." : ", then the load.");
}

Connections chainConnections(const RectifierChain& chain, const std::optional<RectifierChain>& found,
                             const std::string& load)
{
    Connections out{.name = "chain",
                    .sentence = {},
                    .parts = {},
                    .top = std::string(positive),
                    .bottom = std::string(ground)};
    addRectifier(out.parts, chain.rectifier,
                 found && found->rectifier.kind == chain.rectifier.kind &&
                     found->rectifier.diode == chain.rectifier.diode);
    for (const auto* part : {&chain.rectifier.upper, &chain.rectifier.lower}) {
        if (!*part)
            continue;
        const bool upper = part == &chain.rectifier.upper;
        const auto& old = upper ? &SimRectifierPart::upper : &SimRectifierPart::lower;
        const bool same = found && found->rectifier.*old == *part;
        out.parts.push_back({upper ? "upper capacitor" : "lower capacitor", PartKind::Capacitor,
                             std::string(upper ? positive : second_end),
                             std::string(upper ? second_end : ground), (*part)->c_f,
                             same ? PartFate::Stays : PartFate::Added});
    }
    std::string at{positive};
    int node = 1;
    for (std::size_t i = 0; i < chain.filter.size(); ++i) {
        const SmoothingSection& s = chain.filter[i];
        const bool same = found && i < found->filter.size() && found->filter[i] == s;
        const PartFate fate = same ? PartFate::Stays : PartFate::Added;
        const std::string name = chainPartName(chain, std::to_string(i));
        if (s.kind == SmoothingKind::C) {
            out.parts.push_back({name, PartKind::Capacitor, at, std::string(ground), s.c_f, fate});
        } else {
            const std::string next = "node " + std::to_string(++node);
            out.parts.push_back({name, s.kind == SmoothingKind::L ? PartKind::Choke : PartKind::Resistor, at,
                                 next, s.kind == SmoothingKind::L ? s.l_h : s.r_ohm, fate});
            at = next;
        }
        for (const TapLoad& tap : chain.tap_loads)
            if (tap.section == static_cast<std::int64_t>(i))
                out.parts.push_back({"tap, " + loadText(tap.load), PartKind::Load, at, std::string(ground)});
    }
    out.parts.push_back({load, PartKind::Load, at, std::string(ground)});
    return out;
}

std::optional<AddedToDivider> plannedDivider(const Job& job)
{
    if (!job.plan.chosen)
        return std::nullopt;
    return AddedToDivider{job.plan.chosen->method, job.plan.chosen->network, tolerancesOf(*job.plan.chosen)};
}

Connections busConnections(const Job& job, const Evaluation& e)
{
    Connections out{.name = "bus",
                    .sentence = "Every negative to the common return, every positive to the bus.",
                    .parts = {},
                    .top = "bus",
                    .bottom = "common return"};
    const JoinPlan& join = *job.plan.join;
    for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
        const std::string name = unitName(job, unit);
        const std::string plus = name + " +";
        out.parts.push_back({name, PartKind::Source, plus, name + " −", unitSet(job, e, unit)});
        out.parts.push_back(
            {"return lead", PartKind::Wire, name + " −", "common return", std::nullopt, PartFate::Added});
        std::string at = plus;
        if (join.ballast) {
            const std::string next = join.diode ? name + " behind ballast" : "bus";
            out.parts.push_back(
                {"ballast", PartKind::Resistor, at, next, join.ballast->ohm(), PartFate::Added});
            at = next;
        }
        if (join.diode) {
            out.parts.push_back({"diode", PartKind::Diode, at, "bus", join.diode->v_f_v, PartFate::Added});
            at = "bus";
        }
        if (at != "bus")
            out.parts.push_back({"positive lead", PartKind::Wire, at, "bus", std::nullopt, PartFate::Added});
    }
    return out;
}

Connections runConnections(const Job& job)
{
    Connections out{.name = "run", .sentence = {}, .parts = {}, .top = "output +", .bottom = "output −"};
    const bool wire = job.plan.wire.has_value();
    const PartFate fate = wire ? PartFate::Added : PartFate::Stays;
    const Supply planned = plannedSupply(job);
    const auto loop_ohm = planned.rails.front().cable.loopOhm();
    const auto half = loop_ohm ? std::optional(*loop_ohm / 2) : std::nullopt;
    out.parts.push_back({"positive wire", PartKind::Wire, "output +", "load +", half, fate});
    out.parts.push_back({"return wire", PartKind::Wire, "output −", "load −", half, fate});
    out.parts.push_back({job.need.load.name, PartKind::Load, "load +", "load −"});
    out.sentence = "Output + to load +, output − to load −, side by side.";
    if (job.plan.remote_sense) {
        const double ohm = job.found.rails.front().sense.r_lead_ohm;
        out.parts.push_back({"sense + wire", PartKind::Wire, "sense +", "load +", ohm, PartFate::Added});
        out.parts.push_back({"sense − wire", PartKind::Wire, "sense −", "load −", ohm, PartFate::Added});
        out.parts.push_back(
            {"local link +", PartKind::Link, "sense +", "output +", std::nullopt, PartFate::TakenOut});
        out.parts.push_back(
            {"local link −", PartKind::Link, "sense −", "output −", std::nullopt, PartFate::TakenOut});
        out.sentence += " Sense + to load +, sense − to load −, at the load's own terminals.";
    }
    return out;
}

Connections limiterConnections(const Job& job)
{
    const auto limiter = plannedLimiter(job);
    const auto ohm = limiter ? std::optional(limiter->result.r_ohm) : job.plan.limiter->r_ohm;
    return {.name = "limiter",
            .sentence =
                "In series with the live conductor, behind the fuse and the switch; its bypass contact "
                "across it.",
            .parts = {{"surge limiter", PartKind::Resistor, "live behind the switch",
                       "converter's live input", ohm, PartFate::Added},
                      {"bypass contact", PartKind::Link, "live behind the switch", "converter's live input",
                       std::nullopt, PartFate::Added}},
            .top = "live behind the switch",
            .bottom = "converter's live input"};
}

std::string Connections::valueText(const ConnectedPart& part)
{
    if (!part.value)
        return {};
    switch (part.kind) {
    case PartKind::Resistor:
    case PartKind::Trimmer:
    case PartKind::Wire:
        return formatOhms(*part.value);
    case PartKind::Capacitor:
        return formatValue(*part.value, Quantity::Capacitance);
    case PartKind::Choke:
        return significant(*part.value, 3) + " H";
    case PartKind::Source:
    case PartKind::Diode:
        return volts(*part.value);
    case PartKind::Winding:
    case PartKind::Link:
    case PartKind::Bond:
    case PartKind::Rectifier:
    case PartKind::Load:
        break;
    }
    return {};
}

double Connections::ohmBetween(const std::string& a, const std::string& b, bool planned) const
{
    std::map<std::string, Eigen::Index> index;
    const auto at = [&index](const std::string& node) {
        return index.try_emplace(node, static_cast<Eigen::Index>(index.size())).first->second;
    };
    const Eigen::Index from = at(a);
    const Eigen::Index to = at(b);
    struct Branch
    {
        Eigen::Index from;
        Eigen::Index to;
        double ohm;
    };
    constexpr double link_ohm = 1e-5; // of no weight beside a resistor, nor does it spoil the sums
    std::vector<Branch> branches;
    for (const ConnectedPart& part : parts) {
        const bool in = planned ? part.fate != PartFate::TakenOut : part.fate != PartFate::Added;
        const bool resists =
            part.kind == PartKind::Resistor || part.kind == PartKind::Trimmer || part.kind == PartKind::Link;
        if (in && resists)
            branches.push_back({at(part.from), at(part.to), std::max(part.value.value_or(0), link_ohm)});
    }
    const auto n = static_cast<Eigen::Index>(index.size());
    Eigen::MatrixXd g = Eigen::MatrixXd::Zero(n, n);
    for (const Branch& branch : branches) {
        const double s = 1 / branch.ohm;
        g(branch.from, branch.from) += s;
        g(branch.to, branch.to) += s;
        g(branch.from, branch.to) -= s;
        g(branch.to, branch.from) -= s;
    }
    // One ampere in at `a`, out at `b`, which is the zero. A trace of conductance keeps loose nodes solvable.
    constexpr double trace_s = 1e-18;
    for (Eigen::Index i = 0; i < n; ++i)
        g(i, i) += trace_s;
    g.row(to).setZero();
    g(to, to) = 1;
    Eigen::VectorXd i_a = Eigen::VectorXd::Zero(n);
    i_a(from) = 1;
    i_a(to) = 0;
    const Eigen::VectorXd v = g.fullPivLu().solve(i_a);
    constexpr double open_ohm = 1e14;
    return v(from) > open_ohm ? std::numeric_limits<double>::infinity() : v(from);
}

void fields(Fields& f, ConnectedPart& value)
{
    f.need("name", value.name);
    f.need("kind", value.kind);
    f.need("from", value.from);
    f.need("to", value.to);
    f.may("value", value.value);
    f.need("fate", value.fate);
    f.may("tolerance", value.tolerance);
}

void fields(Fields& f, Connections& value)
{
    f.need("name", value.name);
    f.need("sentence", value.sentence, any_text);
    f.need("parts", value.parts);
}

} // namespace offshoot
