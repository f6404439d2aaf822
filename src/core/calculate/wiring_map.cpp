#include "core/calculate/wiring_map.h"

#include "core/values/typed_words.h"

#include <algorithm>
#include <numeric>

namespace offshoot {

namespace {

constexpr std::size_t most_wires = 200;
constexpr std::size_t most_terminals = 100;

/// Functions are compared case apart.
bool same(std::string_view a, std::string_view b) { return lowered(a) == lowered(b); }

bool earth(const OldWire& wire) { return same(wire.function, earth_function); }

/// Wires dealt out to terminals, one after another.
class Dealer
{
public:
    explicit Dealer(const WiringMapInput& in)
        : m_in(in)
        , m_at(in.wires.size())
        , m_count(in.terminals.size(), 0)
        , m_sum_a(in.terminals.size(), 0.0)
    {
        std::vector<std::size_t> order(in.wires.size());
        std::iota(order.begin(), order.end(), std::size_t{0});
        std::ranges::stable_sort(order, [&](std::size_t a, std::size_t b) {
            const OldWire& x = in.wires[a];
            const OldWire& y = in.wires[b];
            if (earth(x) != earth(y))
                return earth(x);
            // A choice that was made keeps its room.
            if (x.pulled_to.has_value() != y.pulled_to.has_value())
                return x.pulled_to.has_value();
            return x.current_a > y.current_a;
        });
        for (const std::size_t wire : order)
            deal(wire);
    }

    WiringMapResult result() const
    {
        WiringMapResult out{};
        Verdict worst = Verdict::Fits;
        for (std::size_t i = 0; i < m_in.wires.size(); ++i) {
            const OldWire& wire = m_in.wires[i];
            if (!wire.measured)
                out.unmeasured.push_back(wire.name);
            if (m_at[i]) {
                out.connections.push_back(connection(wire, *m_at[i]));
                worst = worse(worst, out.connections.back().verdict);
                continue;
            }
            out.left_over.push_back({wire.name, whyLeft(wire)});
            worst = worse(worst, earth(wire) ? Verdict::Breaks : Verdict::Unknown);
        }
        for (std::size_t t = 0; t < m_in.terminals.size(); ++t) {
            if (m_count[t] > 0)
                continue;
            out.empty.push_back(m_in.terminals[t].name);
            if (m_in.terminals[t].must) {
                out.missing.push_back(m_in.terminals[t].name);
                worst = Verdict::Breaks;
            }
        }
        out.verdict = worst;
        return out;
    }

private:
    bool mayTake(std::size_t terminal, const OldWire& wire) const
    {
        return !same(wire.function, unknown_function) &&
               same(m_in.terminals[terminal].function, wire.function);
    }

    bool hasRoom(std::size_t terminal) const
    {
        return m_count[terminal] < m_in.terminals[terminal].max_wires;
    }

    void deal(std::size_t wire)
    {
        const OldWire& what = m_in.wires[wire];
        const auto wanted = [&](std::size_t t) { return m_in.terminals[t].must && m_count[t] == 0; };
        const auto use = [&](std::size_t t) {
            const auto& rated_a = m_in.terminals[t].rated_a;
            return rated_a ? (m_sum_a[t] + what.current_a) / *rated_a : 0.0;
        };
        std::optional<std::size_t> best;
        for (std::size_t t = 0; t < m_in.terminals.size(); ++t) {
            if (!mayTake(t, what) || !hasRoom(t))
                continue;
            if (what.pulled_to && m_in.terminals[t].name == *what.pulled_to) {
                best = t;
                break;
            }
            if (!best || wanted(t) > wanted(*best) || (wanted(t) == wanted(*best) && use(t) < use(*best)))
                best = t;
        }
        if (!best)
            return;
        m_at[wire] = best;
        ++m_count[*best];
        m_sum_a[*best] += what.current_a;
    }

    LeftOver whyLeft(const OldWire& wire) const
    {
        if (same(wire.function, unknown_function))
            return LeftOver::UnknownFunction;
        const auto takes = [&](const NewTerminal& t) { return same(t.function, wire.function); };
        return std::ranges::any_of(m_in.terminals, takes) ? LeftOver::NoRoom : LeftOver::NoTerminal;
    }

    WireConnection connection(const OldWire& wire, std::size_t at) const
    {
        const NewTerminal& terminal = m_in.terminals[at];
        WireConnection out{.wire = wire.name, .terminal = terminal.name, .measured = wire.measured};
        out.load_use = useOf(m_sum_a[at], terminal.rated_a);
        if (out.load_use)
            out.load_verdict = judgeUse(out.load_use);
        if (wire.area_m2 && (terminal.area_min_m2 || terminal.area_max_m2)) {
            const bool takes = (!terminal.area_min_m2 || atLeast(*wire.area_m2, *terminal.area_min_m2)) &&
                               (!terminal.area_max_m2 || atMost(*wire.area_m2, *terminal.area_max_m2));
            out.size_verdict = takes ? Verdict::Fits : Verdict::Breaks;
        }
        if (wire.length_m && terminal.reach_m) {
            const double wanted_m = *terminal.reach_m + m_in.keep_slack_m;
            out.reach_verdict = atLeast(*wire.length_m, wanted_m)            ? Verdict::Fits
                                : atLeast(*wire.length_m, *terminal.reach_m) ? Verdict::Tight
                                                                             : Verdict::Breaks;
            out.splice_m = std::max(0.0, wanted_m - *wire.length_m);
        }
        if (m_in.mains_v && (same(wire.function, line_function) || same(wire.function, neutral_function)))
            out.insulation_verdict = !wire.insulation_v                           ? Verdict::Unknown
                                     : atLeast(*wire.insulation_v, *m_in.mains_v) ? Verdict::Fits
                                                                                  : Verdict::Breaks;
        out.verdict = wire.measured ? Verdict::Fits : Verdict::Unknown;
        for (const auto& verdict :
             {out.load_verdict, out.size_verdict, out.reach_verdict, out.insulation_verdict})
            if (verdict)
                out.verdict = worse(out.verdict, *verdict);
        return out;
    }

    const WiringMapInput& m_in;
    std::vector<std::optional<std::size_t>> m_at; ///< terminal of each wire
    std::vector<std::int64_t> m_count;            ///< wires on each terminal
    std::vector<double> m_sum_a;
};

} // namespace

void fields(Fields& f, OldWire& value)
{
    f.need("name", value.name);
    f.need("function", value.function);
    f.may("measured", value.measured);
    f.may("current_a", value.current_a, range::not_negative);
    f.may("area_m2", value.area_m2, range::positive);
    f.may("length_m", value.length_m, range::not_negative);
    f.may("insulation_v", value.insulation_v, range::not_negative);
}

void fields(Fields& f, WiringMapInput& in)
{
    f.need("wires", in.wires, Lengths{1, most_wires});
    f.need("terminals", in.terminals, Lengths{1, most_terminals});
    f.may("mains_v", in.mains_v, range::positive);
    f.may("keep_slack_m", in.keep_slack_m, range::not_negative);
    f.demandUniqueNames("wires", in.wires);
    f.demandUniqueNames("terminals", in.terminals);
}

void fields(Fields& f, WireConnection& out)
{
    f.need("wire", out.wire);
    f.need("terminal", out.terminal);
    f.may("load_use", out.load_use);
    f.may("load_verdict", out.load_verdict);
    f.may("size_verdict", out.size_verdict);
    f.may("reach_verdict", out.reach_verdict);
    f.may("splice_m", out.splice_m);
    f.may("insulation_verdict", out.insulation_verdict);
    f.need("measured", out.measured);
    f.need("verdict", out.verdict);
}

void fields(Fields& f, LeftWire& out)
{
    f.need("wire", out.wire);
    f.need("why", out.why);
}

void fields(Fields& f, WiringMapResult& out)
{
    f.need("connections", out.connections);
    f.may("unmeasured", out.unmeasured);
    f.need("left_over", out.left_over);
    f.may("empty", out.empty);
    f.may("missing", out.missing);
    f.need("verdict", out.verdict);
}

WiringMapResult wiringMap(const WiringMapInput& in) { return Dealer(in).result(); }

} // namespace offshoot
