// A net of conductances between named nodes, and the potentials in it by nodal analysis: Kirchhoff's law of
// currents at each node, a textbook method.
#pragma once

#include <cstddef>
#include <string>
#include <utility>
#include <vector>

namespace offshoot {

class Conductances
{
public:
    /// From each node to the zero so many siemens, above 0: of no weight beside what is joined, so that what
    /// is joined to nothing can be solved.
    explicit Conductances(double trace_s)
        : m_trace_s(trace_s)
    {}

    /// Where the node stands among all; it is added if it is new.
    std::size_t node(const std::string& name);
    /// Joins two nodes; siemens above 0.
    void join(const std::string& from, const std::string& to, double siemens);
    const std::vector<std::string>& nodes() const { return m_names; }

    using AtNode = std::pair<std::size_t, double>;
    /// The volts of each node, where some are held at a voltage and a current in amperes flows into others.
    std::vector<double> potentials(const std::vector<AtNode>& held_v,
                                   const std::vector<AtNode>& into_a) const;

private:
    struct Branch
    {
        std::size_t from;
        std::size_t to;
        double siemens;
    };
    double m_trace_s;
    std::vector<std::string> m_names;
    std::vector<Branch> m_branches;
};

} // namespace offshoot
