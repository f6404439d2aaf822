#include "core/values/network.h"

#include "core/values/format.h"
#include "core/values/scan.h"

#include <cmath>
#include <numeric>

namespace offshoot {

using scan::Cursor;
using Node = Network::Node;
using Kind = Network::Kind;

Network::Network(double ohm)
    : m_root{Kind::Part, 0, {}}
    , m_parts{ohm}
{}

Network::Network(Node root, std::vector<double> values)
    : m_root(std::move(root))
    , m_parts(std::move(values))
{}

double Network::evaluate(const Node& node, const std::vector<double>& values)
{
    if (node.kind == Kind::Part)
        return values[node.part];
    double sum = 0;
    for (const Node& child : node.children) {
        const double ohm = evaluate(child, values);
        if (node.kind == Kind::Parallel && ohm == 0)
            return 0;
        sum += node.kind == Kind::Series ? ohm : 1 / ohm;
    }
    return node.kind == Kind::Series ? sum : 1 / sum;
}

namespace {

void spreadPower(const Node& node, const std::vector<double>& values, double volts,
                 std::vector<double>& powers)
{
    if (node.kind == Kind::Part) {
        powers[node.part] = values[node.part] > 0 ? volts * volts / values[node.part] : 0;
        return;
    }
    const double whole = Network::evaluate(node, values);
    for (const Node& child : node.children) {
        const double share =
            node.kind == Kind::Parallel || whole == 0 ? 1 : Network::evaluate(child, values) / whole;
        spreadPower(child, values, volts * share, powers);
    }
}

template <class Write>
std::string writeNode(const Node& node, std::string_view between, Write write, bool inside_parallel = false)
{
    if (node.kind == Kind::Part)
        return write(node.part);
    const bool parallel = node.kind == Kind::Parallel;
    const std::string blank = between.empty() ? "" : " ";
    const std::string joint = blank + (parallel ? "||" : "+") + blank;
    std::string text;
    for (const Node& child : node.children)
        text.append(text.empty() ? "" : joint).append(writeNode(child, between, write, parallel));
    return !parallel && inside_parallel ? "(" + text + ")" : text;
}

} // namespace

std::vector<double> Network::powers(double volts) const
{
    std::vector<double> result(m_parts.size(), 0);
    spreadPower(m_root, m_parts, volts, result);
    return result;
}

std::string Network::text() const
{
    return writeNode(m_root, "", [this](std::size_t part) { return plainNumber(m_parts[part]); });
}

std::string Network::textWith(const std::vector<std::string>& names) const
{
    return writeNode(m_root, "", [&names](std::size_t part) { return names[part]; });
}

std::string Network::prettyText() const
{
    return writeNode(m_root, " ", [this](std::size_t part) { return formatOhms(m_parts[part]); });
}

namespace {

/// Recursive descent over `+`, `||` and brackets. What an atom is, the caller says.
template <class Atom>
class NetworkParser
{
public:
    NetworkParser(Cursor& cursor, Atom atom)
        : m_cursor(cursor)
        , m_atom(std::move(atom))
    {}

    /// Throws TextProblem, which stays inside this file.
    Node parse()
    {
        m_cursor.skipBlanks();
        if (m_cursor.atEnd())
            throw scan::unreadable(m_cursor.position(), "nothing to read");
        Node node = sum();
        if (!m_cursor.atEnd())
            throw scan::unreadable(m_cursor.position(), stray());
        return node;
    }

private:
    std::string stray() const
    {
        if (m_cursor.peek() == U'/')
            return "write || for side by side, as in 15R||15R";
        return m_cursor.peek() == U')' ? "this bracket closes nothing" : "this part does not read";
    }

    Node sum()
    {
        return chain(
            Kind::Series, [this] { return product(); },
            [this] {
                if (m_cursor.peek() != U'+')
                    return false;
                m_cursor.step();
                return true;
            });
    }

    Node product()
    {
        return chain(
            Kind::Parallel, [this] { return m_atom(*this); },
            [this] {
                constexpr char32_t parallel_sign = 0x2225;
                if (m_cursor.peek() == parallel_sign)
                    m_cursor.step();
                else if (m_cursor.peek() == U'|' && m_cursor.peek(1) == U'|')
                    m_cursor.step(2);
                else
                    return false;
                return true;
            });
    }

    template <class Operand, class Operator>
    Node chain(Kind kind, Operand operand, Operator skip_operator)
    {
        Node node{kind, 0, {}};
        do {
            m_cursor.skipBlanks();
            Node child = operand();
            // a||(b||c) is a||b||c
            if (child.kind == kind)
                std::move(child.children.begin(), child.children.end(), std::back_inserter(node.children));
            else
                node.children.push_back(std::move(child));
            m_cursor.skipBlanks();
        } while (skip_operator());
        if (node.children.size() > 1)
            return node;
        Node only = std::move(node.children.front());
        return only;
    }

public:
    Cursor& cursor() { return m_cursor; }

    bool atBracket() const { return m_cursor.peek() == U'('; }

    Node bracket()
    {
        constexpr int deepest = 50;
        const auto from = m_cursor.position();
        if (++m_depth > deepest)
            throw scan::unreadable(from, "too many brackets");
        m_cursor.step();
        Node node = sum();
        if (m_cursor.peek() != U')')
            throw scan::unreadable(m_cursor.atEnd() ? from : m_cursor.position(),
                                   m_cursor.atEnd() ? "this bracket is not closed" : stray());
        m_cursor.step();
        --m_depth;
        return node;
    }

private:
    Cursor& m_cursor;
    Atom m_atom;
    int m_depth = 0;
};

class ValueAtom
{
public:
    explicit ValueAtom(std::vector<double>& values)
        : m_values(values)
    {}

    template <class P>
    Node operator()(P& parser)
    {
        Cursor& cursor = parser.cursor();
        const auto count = repeats(cursor);
        Node repeated{Kind::Series, 0, {}};
        const auto start = cursor.position();
        for (std::size_t i = 0; i < count; ++i) {
            cursor.moveTo(start);
            Node one = parser.atBracket() ? parser.bracket() : value(cursor);
            if (one.kind == Kind::Series)
                std::move(one.children.begin(), one.children.end(), std::back_inserter(repeated.children));
            else
                repeated.children.push_back(std::move(one));
        }
        return repeated.children.size() > 1 ? repeated : repeated.children.front();
    }

private:
    static bool isTimes(char32_t c) { return c == U'x' || c == U'X' || c == U'*' || c == 0xD7; }

    /// The "2x" before a value, or 1.
    static std::size_t repeats(Cursor& cursor)
    {
        const auto from = cursor.position();
        std::size_t count = 0;
        constexpr std::size_t most = 99;
        for (; scan::isDigit(cursor.peek()); cursor.step())
            count = std::min<std::size_t>(count * 10 + (cursor.peek() - U'0'), 1000);
        const bool digits = cursor.position() != from;
        cursor.skipBlanks();
        if (!digits || !isTimes(cursor.peek())) {
            cursor.moveTo(from);
            return 1;
        }
        if (count < 1 || count > most)
            throw scan::outOfRange(from, "a count of 1 to 99 is wanted before the x");
        cursor.step();
        cursor.skipBlanks();
        return count;
    }

    Node value(Cursor& cursor)
    {
        const auto from = cursor.position();
        const auto ohm = scan::scanValue(cursor, Quantity::Resistance);
        if (!ohm)
            throw ohm.problem();
        if (m_values.size() >= max_network_parts)
            throw scan::outOfRange(from, "more than 64 parts");
        if (!(*ohm <= Range::largest))
            throw scan::outOfRange(from, "this number is too large");
        m_values.push_back(*ohm);
        return {Kind::Part, m_values.size() - 1, {}};
    }

    std::vector<double>& m_values;
};

/// Skips a leading sign; true if it was a minus.
bool beginsNegative(Cursor& cursor)
{
    constexpr char32_t minus_sign = 0x2212;
    cursor.skipBlanks();
    const bool negative = cursor.peek() == U'-' || cursor.peek() == minus_sign;
    if (negative || (cursor.peek() == U'+' && cursor.peek(1) != U'+'))
        cursor.step();
    return negative;
}

} // namespace

Parsed<Network> parseNetwork(std::string_view text)
{
    Cursor cursor(text);
    if (cursor.length() > scan::max_text)
        return scan::outOfRange(scan::max_text, "more than 200 characters");
    const bool negative = beginsNegative(cursor);
    const auto behind_sign = cursor.position();
    if (cursor.skipBlanks() && behind_sign > 0 && negative)
        return scan::unreadable(behind_sign, "no blank after a sign");
    std::vector<double> values;
    try {
        NetworkParser parser(cursor, ValueAtom(values));
        Node root = parser.parse();
        Network network(std::move(root), std::move(values));
        if (negative && network.ohm() != 0)
            return scan::outOfRange(0, "a resistance cannot be negative");
        if (!(network.ohm() <= Range::largest))
            return scan::outOfRange(0, "this resistance is too large");
        return network;
    } catch (const TextProblem& problem) {
        return problem;
    }
}

Parsed<NamedNetwork> parseNamedNetwork(std::string_view text)
{
    Cursor cursor(text);
    std::vector<std::string> names;
    const auto atom = [&names](auto& parser) {
        if (parser.atBracket())
            return parser.bracket();
        Cursor& at = parser.cursor();
        if (!scan::isLetter(at.peek()))
            throw scan::unreadable(at.position(), "the name of a part is wanted here");
        std::string name;
        for (; scan::isLetter(at.peek()) || scan::isDigit(at.peek()) || at.peek() == U'_'; at.step())
            name += static_cast<char>(at.peek());
        names.push_back(std::move(name));
        return Node{Kind::Part, names.size() - 1, {}};
    };
    try {
        NetworkParser parser(cursor, atom);
        Node root = parser.parse();
        return NamedNetwork{std::move(root), std::move(names)};
    } catch (const TextProblem& problem) {
        return problem;
    }
}

} // namespace offshoot
