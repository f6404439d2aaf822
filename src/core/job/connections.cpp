#include "core/job/connections.h"

#include "core/job/joining.h"
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

std::optional<AddedToDivider> plannedDivider(const Job& job)
{
    if (!job.plan.chosen)
        return std::nullopt;
    return AddedToDivider{job.plan.chosen->method, job.plan.chosen->network, tolerancesOf(*job.plan.chosen)};
}

std::string listed(const std::vector<std::string>& names)
{
    std::string text;
    for (std::size_t i = 0; i < names.size(); ++i)
        text += (i == 0 ? "" : i + 1 == names.size() ? " and " : ", ") + names[i];
    return text;
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

Connections stackConnections(const Job& job, const Evaluation& e)
{
    Connections out{.name = "stack",
                    .sentence =
                        "From the bottom up, each positive to the negative of the next. Every case keeps its "
                        "earth.",
                    .parts = {},
                    .top = unitName(job, unitCount(job)) + " +",
                    .bottom = unitName(job, 1) + " −"};
    const JoinPlan& join = *job.plan.join;
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

Connections chainConnections(const Job& job)
{
    const RectifierChain& chain = *job.plan.chain;
    const auto& found = job.found.mains_side.chain;
    Connections out{.name = "chain",
                    .sentence = chainSentence(job),
                    .parts = {},
                    .top = "secondary",
                    .bottom = std::string(ground)};
    out.parts.push_back({"rectifier", PartKind::Rectifier, "secondary", "node 1"});
    int node = 1;
    for (std::size_t i = 0; i < chain.filter.size(); ++i) {
        const SmoothingSection& s = chain.filter[i];
        const std::string at = "node " + std::to_string(node);
        const bool same = found && i < found->filter.size() && found->filter[i] == s;
        const PartFate fate = same ? PartFate::Stays : PartFate::Added;
        const std::string name = chainPartName(chain, std::to_string(i));
        if (s.kind == SmoothingKind::C) {
            out.parts.push_back({name, PartKind::Capacitor, at, std::string(ground), s.c_f, fate});
        } else {
            const std::string next = "node " + std::to_string(++node);
            out.parts.push_back({name, s.kind == SmoothingKind::L ? PartKind::Choke : PartKind::Resistor, at,
                                 next, s.kind == SmoothingKind::L ? s.l_h : s.r_ohm, fate});
        }
    }
    out.parts.push_back(
        {job.need.load.name, PartKind::Load, "node " + std::to_string(node), std::string(ground)});
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
    return {.name = "limiter",
            .sentence = "In series with the live conductor, its bypass contact across it.",
            .parts = {{"surge limiter", PartKind::Resistor, "live behind the switch",
                       "converter's live input", job.plan.limiter->r_ohm, PartFate::Added},
                      {"bypass contact", PartKind::Link, "live behind the switch", "converter's live input",
                       std::nullopt, PartFate::Added}},
            .top = "live behind the switch",
            .bottom = "converter's live input"};
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
            Flattener(out.parts, "added", PartFate::Added, added->tolerances)
                .add(added->network, inSeries(added->method) ? far : mid, end);
    };
    leg(feedback.top, true);
    leg(feedback.bottom, false);
    return out;
}

std::string fittingSentence(const Job& job)
{
    if (!job.plan.chosen)
        return {};
    const ChosenNetwork& chosen = *job.plan.chosen;
    const bool adjustable = isAdjustableRegulator(job.found);
    const bool top = joinsTop(chosen.method);
    const std::string pin = adjustable ? "the adjust pin" : "the reference pin";
    const std::string end = top != adjustable ? "the output" : "the return";
    const std::string leg = top ? "top leg" : "bottom leg";
    const std::string what = chosen.network.prettyText();
    switch (chosen.method) {
    case DividerMethod::ParallelBottom:
    case DividerMethod::ParallelTop:
        return what + " from " + pin + " to " + end + ", beside the " + leg + ", which stays.";
    case DividerMethod::ReplaceBottom:
    case DividerMethod::ReplaceTop:
        return "Take the " + leg + " out; " + what + " goes in its place, from " + pin + " to " + end + ".";
    case DividerMethod::SeriesBottom:
    case DividerMethod::SeriesTop:
        return "Lift the " + leg + "'s end at " + end + "; " + what + " goes between that lifted end and " +
               end + ", so that the current passes through both.";
    }
    return {};
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
    for (std::size_t i = 0; i < chain.filter.size(); ++i) {
        const SmoothingSection& s = chain.filter[i];
        const std::string name = chainPartName(chain, std::to_string(i));
        parts.push_back(name + " " +
                        (s.kind == SmoothingKind::C   ? formatValue(s.c_f, Quantity::Capacitance)
                         : s.kind == SmoothingKind::L ? significant(s.l_h, 3) + " H"
                                                      : formatOhms(s.r_ohm)));
    }
    return parts;
}

std::string chainSentence(const Job& job)
{
    if (!job.plan.chain)
        return {};
    const RectifierChain& chain = *job.plan.chain;
    const auto parts = chainParts(chain);
    std::string text = "Behind the rectifier:";
    for (std::size_t i = 0; i < chain.filter.size(); ++i)
        text += (i == 0 ? " " : ", ") + parts[i + 1] +
                (chain.filter[i].kind == SmoothingKind::C ? " to the return" : " in series");
    return text + (chain.filter.empty() ? " the load alone." : ", then the load.");
}

std::vector<Connections> plannedConnections(const Job& job, const Evaluation& evaluation)
{
    std::vector<Connections> all;
    const Plan& plan = job.plan;
    if (plan.limiter)
        all.push_back(limiterConnections(job));
    if (plan.connection) {
        all.push_back(primaryConnections(*plan.connection));
        all.back().sentence = primariesSentence(job);
    }
    if (plan.chain)
        all.push_back(chainConnections(job));
    if (plan.chosen) {
        all.push_back(dividerConnections(job.found.rails.front().feedback, plannedDivider(job),
                                         isAdjustableRegulator(job.found)));
        all.back().sentence = fittingSentence(job);
    }
    if (plan.join && !job.others.empty())
        all.push_back(plan.join->kind == Joining::SideBySide ? busConnections(job, evaluation)
                                                             : stackConnections(job, evaluation));
    if (plan.wire || plan.remote_sense)
        all.push_back(runConnections(job));
    return all;
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
    constexpr double link_ohm = 1e-9; // a short, of no weight beside any resistor
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
