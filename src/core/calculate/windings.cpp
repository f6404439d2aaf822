#include "core/calculate/windings.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <tuple>

namespace offshoot {

namespace {

constexpr double secondary_high = 1.10;
constexpr double secondary_low = 0.90;

/// A lead of a winding, by its volts from the start.
struct Lead
{
    std::string name;
    double v;
};

std::vector<Lead> leadsOf(const Primary& winding)
{
    std::vector<Lead> leads{{winding.start, 0}, {winding.end, winding.v_v}};
    for (const auto& [name, v] : winding.taps)
        leads.push_back({name, v});
    std::ranges::sort(leads, {}, &Lead::v);
    return leads;
}

/// One segment by places: winding, lower lead, upper lead.
struct Stretch
{
    std::size_t winding;
    std::size_t from;
    std::size_t to;
    double v;
    auto order() const { return std::tuple(winding, from, to); }
};
using String = std::vector<Stretch>;

double voltsOf(const String& string)
{
    double sum = 0;
    for (const Stretch& stretch : string)
        sum += stretch.v;
    return sum;
}

bool sameVolts(const String& a, const String& b)
{
    return std::ranges::equal(
        a, b, [](const Stretch& x, const Stretch& y) { return atMost(x.v, y.v) && atLeast(x.v, y.v); });
}

/// Windings of a string as bits, so that no winding is used twice.
unsigned usedBy(const String& string)
{
    unsigned bits = 0;
    for (const Stretch& stretch : string)
        bits |= 1U << stretch.winding;
    return bits;
}

/// Rounded, so that equal figures reached in different ways compare equal.
double rounded(double value) { return std::round(value * 1e9); }

class Windings
{
public:
    explicit Windings(const WindingsInput& in)
        : m_in(in)
    {
        double sum_v = 0;
        for (const Primary& winding : in.primaries) {
            m_leads.push_back(leadsOf(winding));
            sum_v += winding.v_v;
        }
        for (const Primary& winding : in.primaries) {
            m_i_max_a.push_back(winding.i_max_a.value_or(in.va / sum_v));
            if (!winding.i_max_a)
                m_out.assumed.push_back(winding.name);
        }
    }

    WindingsResult run()
    {
        collectStrings(0, {});
        std::vector<Candidate> all;
        for (const String& string : m_strings)
            all.push_back(candidate({string}));
        for (std::size_t i = 0; i < m_strings.size(); ++i)
            collectParallel({m_strings[i]}, usedBy(m_strings[i]), i, all);
        m_out.count = static_cast<std::int64_t>(all.size());
        std::ranges::stable_sort(all, [](const Candidate& a, const Candidate& b) { return a.key < b.key; });
        if (all.size() > static_cast<std::size_t>(m_in.limit))
            all.resize(static_cast<std::size_t>(m_in.limit));
        for (const Candidate& best : all)
            m_out.connections.push_back(detail(best.strings));
        addPhaseTests();
        return std::move(m_out);
    }

private:
    struct Candidate
    {
        std::vector<String> strings;
        std::tuple<int, double, double, ConnectionKind,
                   std::vector<std::tuple<std::size_t, std::size_t, std::size_t>>>
            key;
    };

    /// Every string whose first winding is `from` or later.
    void collectStrings(std::size_t from, const String& before)
    {
        for (std::size_t w = from; w < m_leads.size(); ++w)
            for (std::size_t a = 0; a < m_leads[w].size(); ++a)
                for (std::size_t b = a + 1; b < m_leads[w].size(); ++b) {
                    String string = before;
                    string.push_back({w, a, b, m_leads[w][b].v - m_leads[w][a].v});
                    m_strings.push_back(string);
                    collectStrings(w + 1, string);
                }
    }

    void collectParallel(const std::vector<String>& so_far, unsigned used, std::size_t last,
                         std::vector<Candidate>& all) const
    {
        for (std::size_t i = last + 1; i < m_strings.size(); ++i) {
            const String& next = m_strings[i];
            if ((used & usedBy(next)) != 0 || !sameVolts(so_far.front(), next))
                continue;
            std::vector<String> strings = so_far;
            strings.push_back(next);
            all.push_back(candidate(strings));
            collectParallel(strings, used | usedBy(next), i, all);
        }
    }

    double scaleOf(const std::vector<String>& strings) const
    {
        return m_in.target.v_v / voltsOf(strings.front());
    }

    double fluxOf(double scale) const { return scale * m_in.f_rated_hz / m_in.target.f_hz; }

    Verdict fluxVerdict(double flux) const
    {
        const double top = flux * (1 + m_in.target.spread) / (1 + m_in.spread_rated);
        return judgeUse(std::max(flux, top), flux_bounds);
    }

    /// Of each string in parallel; as conductances where every resistance is known.
    std::vector<double> shares(const std::vector<String>& strings) const
    {
        std::vector<double> conductance;
        bool known = true;
        for (const String& string : strings) {
            double ohm = 0;
            for (const Stretch& stretch : string) {
                known = known && m_in.primaries[stretch.winding].r_ohm;
                ohm += segmentOhm(stretch);
            }
            conductance.push_back(ohm > 0 ? 1 / ohm : 1);
        }
        double sum = 0;
        for (double& g : conductance) {
            if (!known)
                g = 1;
            sum += g;
        }
        for (double& g : conductance)
            g /= sum;
        return conductance;
    }

    double segmentOhm(const Stretch& stretch) const
    {
        const Primary& winding = m_in.primaries[stretch.winding];
        return winding.r_ohm.value_or(0) * stretch.v / winding.v_v;
    }

    double allowedCurrent(const std::vector<String>& strings) const
    {
        const auto parts = shares(strings);
        double allowed = Range::largest;
        for (std::size_t k = 0; k < strings.size(); ++k)
            for (const Stretch& stretch : strings[k])
                allowed = std::min(allowed, m_i_max_a[stretch.winding] / parts[k]);
        return allowed;
    }

    double powerShare(const std::vector<String>& strings) const
    {
        return std::min({1.0, scaleOf(strings), m_in.target.v_v * allowedCurrent(strings) / m_in.va});
    }

    static ConnectionKind kindOf(const std::vector<String>& strings)
    {
        if (strings.size() == 1)
            return strings.front().size() == 1 ? ConnectionKind::Single : ConnectionKind::Series;
        return strings.front().size() == 1 ? ConnectionKind::Parallel : ConnectionKind::SeriesParallel;
    }

    Candidate candidate(std::vector<String> strings) const
    {
        const double scale = scaleOf(strings);
        const Verdict worst =
            worse(fluxVerdict(fluxOf(scale)), judgeUse(std::abs(scale - 1), secondary_bounds));
        std::vector<std::tuple<std::size_t, std::size_t, std::size_t>> places;
        for (const String& string : strings)
            for (const Stretch& stretch : string)
                places.push_back(stretch.order());
        Candidate made{std::move(strings), {}};
        made.key = {badness(worst), rounded(std::abs(scale - 1)), -rounded(powerShare(made.strings)),
                    kindOf(made.strings), std::move(places)};
        return made;
    }

    Connection detail(const std::vector<String>& strings) const
    {
        Connection out{};
        out.kind = kindOf(strings);
        addLeads(strings, out);
        out.v_rated_v = voltsOf(strings.front());
        out.v_scale = scaleOf(strings);
        out.flux = fluxOf(out.v_scale);
        out.flux_top = out.flux * (1 + m_in.target.spread);
        out.verdict = fluxVerdict(out.flux);
        out.secondary_verdict = judgeUse(std::abs(out.v_scale - 1), secondary_bounds);
        out.i_allowed_a = allowedCurrent(strings);
        out.va_share = powerShare(strings);
        out.line_a = m_in.va / m_in.target.v_v;
        out.line_allowed_a = out.line_a * out.va_share;
        setCopper(strings, out);
        for (const Secondary& secondary : m_in.secondaries) {
            const double v = secondary.v_v * out.v_scale;
            out.secondaries.push_back(
                {secondary.name, v,
                 m_in.regulation ? std::optional(v * (1 + *m_in.regulation)) : std::nullopt});
        }
        addOpen(strings, out);
        addHazards(strings, out);
        if (strings.size() > 1)
            out.gap_wrong_v = 2 * m_in.test_v_v;
        return out;
    }

    void addLeads(const std::vector<String>& strings, Connection& out) const
    {
        const auto name = [this](std::size_t winding, std::size_t lead) {
            return m_leads[winding][lead].name;
        };
        for (const String& string : strings) {
            std::vector<Segment> segments;
            for (std::size_t k = 0; k < string.size(); ++k) {
                const Stretch& s = string[k];
                segments.push_back(
                    {m_in.primaries[s.winding].name, name(s.winding, s.from), name(s.winding, s.to), s.v});
                if (k > 0)
                    out.links.emplace_back(segments[k - 1].to, segments[k].from);
            }
            out.feed_a.push_back(segments.front().from);
            out.feed_b.push_back(segments.back().to);
            out.strings.push_back(std::move(segments));
        }
    }

    /// The power at which the copper as a whole is as warm as it was made for.
    void setCopper(const std::vector<String>& strings, Connection& out) const
    {
        double primary_w = 0;
        for (std::size_t w = 0; w < m_in.primaries.size(); ++w) {
            if (!m_in.primaries[w].r_ohm)
                return;
            primary_w += *m_in.primaries[w].r_ohm * m_i_max_a[w] * m_i_max_a[w];
        }
        double secondary_w = 0;
        for (const Secondary& secondary : m_in.secondaries) {
            if (!secondary.r_ohm || !secondary.i_a)
                return;
            secondary_w += *secondary.r_ohm * *secondary.i_a * *secondary.i_a;
        }
        if (m_in.secondaries.empty())
            return;
        const auto parts = shares(strings);
        double used_w = 0;
        for (std::size_t k = 0; k < strings.size(); ++k)
            for (const Stretch& stretch : strings[k]) {
                const double i_a = out.line_a * parts[k];
                used_w += i_a * i_a * segmentOhm(stretch);
            }
        const double share = std::min(
            {1.0, out.v_scale,
             std::sqrt((primary_w + secondary_w) / (used_w + secondary_w / (out.v_scale * out.v_scale)))});
        out.va_share_copper = share;
        double use = 0;
        for (std::size_t k = 0; k < strings.size(); ++k)
            for (const Stretch& stretch : strings[k])
                use = std::max(use, out.line_a * share * parts[k] / m_i_max_a[stretch.winding]);
        out.copper_current_use = use;
    }

    void addOpen(const std::vector<String>& strings, Connection& out) const
    {
        for (std::size_t w = 0; w < m_in.primaries.size(); ++w) {
            bool whole = false;
            for (const String& string : strings)
                for (const Stretch& s : string)
                    whole = whole || (s.winding == w && s.from == 0 && s.to + 1 == m_leads[w].size());
            if (!whole)
                out.open.push_back({m_in.primaries[w].name, m_in.primaries[w].v_v * out.v_scale});
        }
    }

    void addHazards(const std::vector<String>& strings, Connection& out) const
    {
        const auto add = [&out](bool there, WindingHazard hazard) {
            if (there)
                out.hazards.push_back(hazard);
        };
        add(strings.front().size() > 1, WindingHazard::SeriesReversed);
        add(strings.size() > 1, WindingHazard::ParallelReversed);
        add(out.verdict == Verdict::Breaks, WindingHazard::OverFlux);
        add(!atMost(out.v_scale, secondary_high), WindingHazard::SecondaryHigh);
        add(!atLeast(out.v_scale, secondary_low), WindingHazard::SecondaryLow);
        add(std::ranges::any_of(out.open,
                                [this](const OpenWinding& o) { return !atMost(o.v_v, m_in.target.v_v); }),
            WindingHazard::OpenAboveMains);
    }

    void addPhaseTests()
    {
        for (std::size_t i = 0; i < m_in.primaries.size(); ++i)
            for (std::size_t j = i + 1; j < m_in.primaries.size(); ++j) {
                const Primary& a = m_in.primaries[i];
                const Primary& b = m_in.primaries[j];
                const double ratio = b.v_v / a.v_v;
                m_out.phase_tests.push_back({a.name,
                                             b.name,
                                             {a.end, b.start},
                                             {a.start, b.end},
                                             m_in.test_v_v,
                                             m_in.test_v_v * (1 + ratio),
                                             m_in.test_v_v * std::abs(1 - ratio)});
            }
    }

    const WindingsInput& m_in;
    std::vector<std::vector<Lead>> m_leads; ///< of each primary, by volts
    std::vector<double> m_i_max_a;
    std::vector<String> m_strings;
    WindingsResult m_out{};
};

/// No two leads of a winding at one voltage, no lead's name twice anywhere.
void checkLeads(const Fields& f, const WindingsInput& in)
{
    std::set<std::string> names;
    for (std::size_t i = 0; i < in.primaries.size(); ++i) {
        const std::string at = f.path() + "/primaries/" + std::to_string(i);
        const auto leads = leadsOf(in.primaries[i]);
        for (std::size_t k = 0; k < leads.size(); ++k) {
            if (!names.insert(leads[k].name).second)
                throw DocumentError(ErrorCode::Inconsistent, at, "a lead of this name stands here already");
            if (k > 0 && atMost(leads[k].v, leads[k - 1].v))
                throw DocumentError(ErrorCode::Inconsistent, at, "two leads at one voltage");
        }
    }
}

Json pairJson(const std::pair<std::string, std::string>& pair)
{
    return Json::array({pair.first, pair.second});
}

} // namespace

WindingsResult mainsWindings(const WindingsInput& in) { return Windings(in).run(); }

void fields(Fields& f, WindingsInput& in)
{
    f.need("primaries", in.primaries, {1, 4});
    f.demandUniqueNames("primaries", in.primaries);
    f.need("f_rated_hz", in.f_rated_hz, mains_hz);
    f.need("va", in.va, range::positive);
    f.may("secondaries", in.secondaries, {0, 16});
    f.demandUniqueNames("secondaries", in.secondaries);
    f.may("regulation", in.regulation, {0, 1});
    f.need("target", in.target);
    f.may("spread_rated", in.spread_rated, range::fraction);
    f.may("test_v_v", in.test_v_v, range::positive);
    f.may("limit", in.limit, 1, 1000);
    if (f.reading())
        checkLeads(f, in);
}

void fields(Fields& f, Segment& out)
{
    f.need("winding", out.winding);
    f.need("from", out.from);
    f.need("to", out.to);
    f.need("v_v", out.v_v);
}

void fields(Fields& f, SecondaryVolts& out)
{
    f.need("name", out.name);
    f.need("v_v", out.v_v);
    f.may("v_open_v", out.v_open_v);
}

void fields(Fields& f, OpenWinding& out)
{
    f.need("winding", out.winding);
    f.need("v_v", out.v_v);
}

void fields(Fields& f, Connection& out)
{
    f.need("kind", out.kind);
    Json strings = Json::array();
    for (const auto& string : out.strings) {
        Json segments = Json::array();
        for (const Segment& segment : string)
            segments.push_back(writeJson(segment));
        strings.push_back(std::move(segments));
    }
    f.write("strings", std::move(strings));
    Json links = Json::array();
    for (const auto& link : out.links)
        links.push_back(pairJson(link));
    f.write("links", std::move(links));
    f.may("feed_a", out.feed_a);
    f.may("feed_b", out.feed_b);
    f.need("v_rated_v", out.v_rated_v);
    f.need("v_scale", out.v_scale);
    f.need("flux", out.flux);
    f.need("flux_top", out.flux_top);
    f.need("verdict", out.verdict);
    f.need("secondary_verdict", out.secondary_verdict);
    f.need("i_allowed_a", out.i_allowed_a);
    f.need("va_share", out.va_share);
    f.may("va_share_copper", out.va_share_copper);
    f.may("copper_current_use", out.copper_current_use);
    f.need("line_a", out.line_a);
    f.need("line_allowed_a", out.line_allowed_a);
    f.need("secondaries", out.secondaries);
    f.need("open", out.open);
    f.may("hazards", out.hazards, {0, 6});
    f.may("gap_wrong_v", out.gap_wrong_v);
}

void fields(Fields& f, PhaseTest& out)
{
    f.need("a", out.a);
    f.need("b", out.b);
    f.write("join", pairJson(out.join));
    f.write("read", pairJson(out.read));
    f.need("feed_v", out.feed_v);
    f.need("sum_v", out.sum_v);
    f.need("difference_v", out.difference_v);
}

void fields(Fields& f, WindingsResult& out)
{
    f.write("count", out.count);
    f.need("connections", out.connections);
    f.may("assumed", out.assumed);
    f.need("phase_tests", out.phase_tests);
}

} // namespace offshoot
