#include "core/supply/conductances.h"

#include <Eigen/LU>

#include <algorithm>

namespace offshoot {

std::size_t Conductances::node(const std::string& name)
{
    const auto found = std::ranges::find(m_names, name);
    const auto at = static_cast<std::size_t>(found - m_names.begin());
    if (found == m_names.end())
        m_names.push_back(name);
    return at;
}

void Conductances::join(const std::string& from, const std::string& to, double siemens)
{
    const std::size_t first = node(from);
    m_branches.push_back({first, node(to), siemens});
}

std::vector<double> Conductances::potentials(const std::vector<AtNode>& held_v,
                                             const std::vector<AtNode>& into_a) const
{
    const auto n = static_cast<Eigen::Index>(m_names.size());
    const auto at = [](std::size_t node) { return static_cast<Eigen::Index>(node); };
    Eigen::MatrixXd g = Eigen::MatrixXd::Zero(n, n);
    for (const Branch& branch : m_branches) {
        const Eigen::Index from = at(branch.from);
        const Eigen::Index to = at(branch.to);
        g(from, from) += branch.siemens;
        g(to, to) += branch.siemens;
        g(from, to) -= branch.siemens;
        g(to, from) -= branch.siemens;
    }
    g.diagonal().array() += m_trace_s;
    Eigen::VectorXd known = Eigen::VectorXd::Zero(n);
    for (const auto& [node, a] : into_a)
        known(at(node)) = a;
    for (const auto& [node, v] : held_v) {
        g.row(at(node)).setZero();
        g(at(node), at(node)) = 1;
        known(at(node)) = v;
    }
    const Eigen::VectorXd v = g.fullPivLu().solve(known);
    return {v.begin(), v.end()};
}

} // namespace offshoot
