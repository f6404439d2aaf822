#include "core/supply/connections.h"

#include "core/values/figures.h"

#include <Eigen/Dense>

#include <algorithm>
#include <limits>
#include <map>

namespace offshoot {

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
