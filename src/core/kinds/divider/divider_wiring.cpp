#include "core/kinds/divider/divider_wiring.h"

namespace offshoot {

namespace {

constexpr std::string_view output = "output";
constexpr std::string_view reference = "reference";

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
                    .bottom = std::string(return_node)};
    const std::string mid{reference};
    // The leg that V_ref stands across: from the reference pin to the return, or from the output to the
    // adjust pin.
    const std::string bottom_end{adjustable ? output : return_node};
    const std::string top_end{adjustable ? return_node : output};
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

std::optional<AddedToDivider> plannedDivider(const Job& job)
{
    if (!job.plan.chosen)
        return std::nullopt;
    return AddedToDivider{job.plan.chosen->method, job.plan.chosen->network, tolerancesOf(*job.plan.chosen)};
}

} // namespace offshoot
