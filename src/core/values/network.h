// Networks of resistors: parts in series and in parallel, as people write them ("(10k||68k)+1k").
// A handful of parts each, so a small tree is all there is.
#pragma once

#include "core/values/parsed.h"

#include <functional>
#include <string>
#include <string_view>
#include <vector>

namespace offshoot {

class Network
{
public:
    enum class Kind { Part, Series, Parallel };
    struct Node
    {
        Kind kind;
        std::size_t part; ///< index of the part, for Kind::Part
        std::vector<Node> children;
    };

    /// A link of 0 Ω.
    Network()
        : Network(0.0)
    {}
    /// One part of `ohm`.
    explicit Network(double ohm);
    /// `values` are the parts' ohms in the order of their indices in `root`.
    Network(Node root, std::vector<double> values);

    /// Ohms of each part as written, left to right.
    const std::vector<double>& parts() const { return m_parts; }
    const Node& root() const { return m_root; }
    /// Ohms of the whole.
    double ohm() const { return ohmWith(m_parts); }
    /// Ohms of the whole with other values for its parts: 0 is a short, infinity an open part.
    double ohmWith(const std::vector<double>& values) const { return evaluate(m_root, values); }
    /// The whole with every part at (1 + `share`) of its value.
    double ohmScaled(double share) const { return ohm() * (1 + share); }
    /// Power in each part with `volts` across the whole, in watts; 0 for parts without current.
    std::vector<double> powers(double volts) const;
    /// A text that reads back to the same network; ohms as plain numbers.
    std::string text() const;
    /// The same with values as people write them ("20k || 68k").
    std::string prettyText() const;

    /// The same with names for the parts ("R1||R9").
    std::string textWith(const std::vector<std::string>& names) const;

    bool operator==(const Network& other) const { return text() == other.text(); }

    static double evaluate(const Node& node, const std::vector<double>& values);

private:
    Node m_root;
    std::vector<double> m_parts;
};

/// Ohms of two branches side by side; a short wins, an open branch (infinity) disappears.
inline double parallelOhm(double a_ohm, double b_ohm)
{
    return a_ohm == 0 || b_ohm == 0 ? 0 : 1 / (1 / a_ohm + 1 / b_ohm);
}

/// Most parts a network may have.
inline constexpr std::size_t max_network_parts = 64;

/// Reads "4k7", "10k||68k", "2k2+330", "2x15R", "(10k||68k)+1k". See parseValue for single values.
Parsed<Network> parseNetwork(std::string_view text);

/// A network over part names, such as "R1||R9".
struct NamedNetwork
{
    Network::Node root;
    std::vector<std::string> names; ///< by part index
};

/// Reads names (a letter, then letters, digits or `_`) combined with `+`, `||` and brackets.
Parsed<NamedNetwork> parseNamedNetwork(std::string_view text);

} // namespace offshoot
