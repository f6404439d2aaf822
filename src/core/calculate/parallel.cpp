#include "core/calculate/parallel.h"

#include "core/calculate/cable.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>
#include <random>
#include <set>

namespace offshoot {

namespace {

constexpr double infinite = std::numeric_limits<double>::infinity();
/// A unit with this share of the total carries it.
constexpr double carries_share = 0.9;
/// Up to this imbalance the current counts as shared.
constexpr double shared_imbalance = 0.10;

/// One unit as the solver sees it. Everything is counted in the drop x of the bus below the highest
/// open-circuit voltage: currents are differences of small numbers there, not of large ones.
struct Source
{
    std::size_t index;
    double starts_x; ///< drop at which it begins to give current
    double r_ohm;
    double cap_a; ///< most it gives; infinite where its limit does not hold it
    bool stiff() const { return r_ohm == 0; }
    double fullX() const { return stiff() ? starts_x : starts_x + r_ohm * cap_a; }
};

/// Amperes of all sources as a line in x: `slope`·x + `offset`.
struct SourceLine
{
    double slope = 0;
    double offset = 0;
    double at(double x) const { return slope * x + offset; }
};

double openVoltage(const ParallelUnit& unit) { return unit.v_set_v - (unit.diode ? unit.diode->v_f_v : 0); }

double totalOhm(const ParallelUnit& unit)
{
    return unit.r_out_ohm + unit.r_lead_ohm + (unit.diode ? unit.diode->r_ohm : 0);
}

/// The operating point of units that have not tripped.
class BusSolver
{
public:
    BusSolver(const ParallelInput& in, const std::vector<bool>& tripped)
        : m_in(in)
        , m_currents(in.units.size(), 0.0)
    {
        m_top_v = -infinite;
        for (std::size_t i = 0; i < in.units.size(); ++i)
            if (!tripped[i])
                m_top_v = std::max(m_top_v, openVoltage(in.units[i]));
        for (std::size_t i = 0; i < in.units.size(); ++i)
            if (!tripped[i])
                addSource(i);
    }

    /// Sets voltage and currents. False where the load collapses.
    bool solve()
    {
        if (m_sources.empty() || m_top_v <= 0)
            return !hasLoad();
        if (!hasLoad()) {
            m_bus_v = m_top_v;
            return true;
        }
        std::vector<double> stops = breakpoints();
        for (std::size_t k = 0; k < stops.size(); ++k) {
            const double x = stops[k];
            const double demand = demandAt(x);
            if (std::isfinite(demand) && atLeast(currentBelow(x), demand))
                return settle(x);
            if (k + 1 == stops.size())
                break;
            if (const auto found = crossing(x, stops[k + 1]))
                return settle(*found);
        }
        m_bus_v = 0;
        for (const Source& source : m_sources)
            m_currents[source.index] = given(source, m_top_v);
        return false;
    }

    double busVoltage() const { return m_bus_v; }
    const std::vector<double>& currents() const { return m_currents; }

private:
    void addSource(std::size_t i)
    {
        const ParallelUnit& unit = m_in.units[i];
        double below = m_top_v - openVoltage(unit);
        if (below <= limit_share * std::abs(m_top_v))
            below = 0; // equal set points, up to rounding
        if (below > m_top_v)
            return; // below 0 V: gives nothing to any bus
        double cap_a = infinite;
        if (unit.i_limit_a && unit.limit == LimitKind::ConstantCurrent)
            cap_a = *unit.i_limit_a;
        m_sources.push_back({i, below, totalOhm(unit), cap_a});
    }

    bool hasLoad() const
    {
        return m_in.load.ohm || m_in.load.current_a.value_or(0) > 0 || m_in.load.power_w.value_or(0) > 0;
    }

    double demandAt(double x) const
    {
        const double v = m_top_v - x;
        if (m_in.load.current_a)
            return *m_in.load.current_a;
        if (m_in.load.ohm)
            return v / *m_in.load.ohm;
        return v > 0 ? *m_in.load.power_w / v : infinite;
    }

    static double given(const Source& source, double x)
    {
        if (x <= source.starts_x)
            return 0;
        return source.stiff() ? source.cap_a : std::min((x - source.starts_x) / source.r_ohm, source.cap_a);
    }

    /// The most that is given at a drop of x: stiff units that begin there count in full.
    double currentBelow(double x) const
    {
        double sum = 0;
        for (const Source& source : m_sources)
            sum += source.stiff() && source.starts_x <= x ? source.cap_a : given(source, x);
        return sum;
    }

    std::vector<double> breakpoints() const
    {
        std::set<double> stops{0, m_top_v};
        for (const Source& source : m_sources)
            for (const double x : {source.starts_x, source.fullX()})
                if (x < m_top_v)
                    stops.insert(x);
        return {stops.begin(), stops.end()};
    }

    SourceLine lineWithin(double from, double to) const
    {
        SourceLine line;
        for (const Source& source : m_sources) {
            if (source.starts_x >= to)
                continue;
            if (source.fullX() <= from) {
                line.offset += source.cap_a;
            } else {
                line.slope += 1 / source.r_ohm;
                line.offset -= source.starts_x / source.r_ohm;
            }
        }
        return line;
    }

    /// The smallest drop between two breakpoints at which the units meet the load.
    std::optional<double> crossing(double from, double to) const
    {
        const SourceLine line = lineWithin(from, to);
        std::optional<double> x;
        if (m_in.load.current_a)
            x = (*m_in.load.current_a - line.offset) / line.slope;
        else if (m_in.load.ohm)
            x = (m_top_v / *m_in.load.ohm - line.offset) / (line.slope + 1 / *m_in.load.ohm);
        else
            x = powerCrossing(line);
        if (!x || !std::isfinite(*x) || !within(*x, from, to))
            return std::nullopt;
        return std::clamp(*x, from, to);
    }

    /// (V − x)(a·x + b) = P: the smaller drop is the upper crossing.
    std::optional<double> powerCrossing(SourceLine line) const
    {
        const double a = line.slope;
        const double power_w = *m_in.load.power_w;
        if (a == 0)
            return line.offset > 0 ? std::optional(m_top_v - power_w / line.offset) : std::nullopt;
        const double half = a * m_top_v - line.offset;
        const double sum = a * m_top_v + line.offset; // twice the most current the line could give at V/2
        double root = sum * sum - 4 * a * power_w;
        if (root < 0 && root >= -4 * limit_share * a * power_w)
            root = 0; // as much as can be drawn at all
        if (root < 0 || half <= 0)
            return std::nullopt;
        return 2 * (power_w - line.offset * m_top_v) / (half + std::sqrt(root));
    }

    bool settle(double x)
    {
        m_bus_v = m_top_v - x;
        double left = demandAt(x);
        std::vector<Source> stiff;
        for (const Source& source : m_sources) {
            if (source.stiff() && source.starts_x == x) {
                stiff.push_back(source);
                continue;
            }
            m_currents[source.index] = given(source, x);
            left -= m_currents[source.index];
        }
        shareOut(stiff, std::max(left, 0.0));
        return true;
    }

    /// Equal shares; what one's limit refuses goes to the others.
    void shareOut(std::vector<Source>& stiff, double left)
    {
        std::ranges::sort(stiff, {}, &Source::cap_a);
        for (std::size_t k = 0; k < stiff.size(); ++k) {
            const double part = std::min(left / static_cast<double>(stiff.size() - k), stiff[k].cap_a);
            m_currents[stiff[k].index] = part;
            left -= part;
        }
    }

    const ParallelInput& m_in;
    std::vector<Source> m_sources;
    std::vector<double> m_currents;
    double m_top_v;
    double m_bus_v = 0;
};

/// The shutdown unit that is furthest over its limit.
std::optional<std::size_t> nextToTrip(const ParallelInput& in, const std::vector<double>& currents)
{
    std::optional<std::size_t> found;
    double worst = 1 + limit_share;
    for (std::size_t i = 0; i < in.units.size(); ++i) {
        const ParallelUnit& unit = in.units[i];
        if (unit.limit != LimitKind::Shutdown || currents[i] <= worst * *unit.i_limit_a)
            continue;
        worst = currents[i] / *unit.i_limit_a;
        found = i;
    }
    return found;
}

class BusReport
{
public:
    BusReport(const ParallelInput& in, const BusSolver& solver, bool met, const std::vector<bool>& tripped)
        : m_in(in)
        , m_tripped(tripped)
    {
        m_out.v_bus_v = solver.busVoltage();
        for (const ParallelUnit& unit : in.units)
            m_out.no_load_v = std::max(m_out.no_load_v, openVoltage(unit));
        m_out.total_a = std::accumulate(solver.currents().begin(), solver.currents().end(), 0.0);
        for (std::size_t i = 0; i < in.units.size(); ++i)
            addUnit(i, solver.currents()[i]);
        m_out.imbalance = imbalance();
        m_out.served = met && isServed();
        m_out.worst_use = worstUse();
        m_out.status = status();
    }

    BusState take(std::vector<std::string> trips)
    {
        m_out.trips = std::move(trips);
        m_out.verdict =
            m_out.served && m_out.trips.empty() ? judgeUse(m_out.worst_use, default_bounds) : Verdict::Breaks;
        return std::move(m_out);
    }

private:
    void addUnit(std::size_t i, double current_a)
    {
        const ParallelUnit& unit = m_in.units[i];
        UnitShare share{};
        share.name = unit.name;
        share.current_a = current_a;
        if (m_out.total_a > 0)
            share.share = current_a / m_out.total_a;
        share.use = useOf(current_a, unit.i_limit_a);
        share.state = stateOf(i, share);
        if (!unit.diode && current_a == 0)
            share.held_up_v = std::max(0.0, m_out.v_bus_v - unit.v_set_v);
        m_out.units.push_back(std::move(share));
        m_out.ballast_loss_w += current_a * current_a * unit.r_lead_ohm;
        if (unit.diode)
            m_out.diode_loss_w += current_a * (unit.diode->v_f_v + current_a * unit.diode->r_ohm);
    }

    UnitState stateOf(std::size_t i, const UnitShare& share) const
    {
        if (m_tripped[i])
            return UnitState::Tripped;
        if (share.current_a == 0)
            return UnitState::Idle;
        const bool held = m_in.units[i].limit == LimitKind::ConstantCurrent;
        return held && share.use && atLeast(*share.use, 1) ? UnitState::Limiting : UnitState::Sharing;
    }

    std::optional<double> imbalance() const
    {
        if (m_out.total_a <= 0)
            return std::nullopt;
        const double mean = m_out.total_a / static_cast<double>(m_out.units.size());
        double worst = 0;
        for (const UnitShare& unit : m_out.units)
            worst = std::max(worst, std::abs(unit.current_a - mean));
        return worst / mean;
    }

    std::optional<double> worstUse() const
    {
        double worst = 0;
        for (const UnitShare& unit : m_out.units) {
            if (!unit.use)
                return std::nullopt;
            worst = std::max(worst, *unit.use);
        }
        return worst;
    }

    /// The load met is not enough: at 0 V, or into a resistance with every unit at its limit, it gets less
    /// than it asks for.
    bool isServed() const
    {
        const bool loaded =
            m_in.load.ohm || m_in.load.current_a.value_or(0) > 0 || m_in.load.power_w.value_or(0) > 0;
        if (!loaded)
            return true;
        if (m_out.v_bus_v <= 0)
            return false;
        return !m_in.load.ohm || !std::ranges::all_of(m_out.units, [](const UnitShare& unit) {
            return unit.state == UnitState::Limiting || unit.state == UnitState::Tripped;
        });
    }

    ShareStatus status() const
    {
        if (!m_out.served)
            return ShareStatus::Overload;
        if (m_out.total_a == 0)
            return ShareStatus::NoLoad;
        if (m_out.units.size() > 1 && std::ranges::any_of(m_out.units, [](const UnitShare& unit) {
                return atLeast(unit.share.value_or(0), carries_share);
            }))
            return ShareStatus::OneCarries;
        return atMost(m_out.imbalance.value_or(0), shared_imbalance) ? ShareStatus::Shared
                                                                     : ShareStatus::Uneven;
    }

    const ParallelInput& m_in;
    const std::vector<bool>& m_tripped;
    BusState m_out{};
};

} // namespace

BusState busState(const ParallelInput& in)
{
    std::vector<bool> tripped(in.units.size(), false);
    std::vector<std::string> trips;
    while (true) {
        BusSolver solver(in, tripped);
        const bool met = solver.solve();
        if (const auto next = nextToTrip(in, solver.currents())) {
            tripped[*next] = true;
            trips.push_back(in.units[*next].name);
            continue;
        }
        return BusReport(in, solver, met, tripped).take(std::move(trips));
    }
}

ParallelResult sourcesParallel(const ParallelInput& in)
{
    ParallelResult out{.bus = busState(in), .without = {}, .redundant = in.units.size() > 1};
    if (in.units.size() < 2)
        return out;
    for (std::size_t i = 0; i < in.units.size(); ++i) {
        ParallelInput rest = in;
        rest.units.erase(rest.units.begin() + static_cast<std::ptrdiff_t>(i));
        const BusWithout& left = out.without.emplace_back(BusWithout{in.units[i].name, busState(rest)});
        out.redundant = out.redundant && left.bus.served && left.bus.trips.empty();
    }
    return out;
}

namespace {

/// Uniform in −1 to 1 from the generator's upper 53 bits: the same on every machine.
double centred(std::mt19937_64& random)
{
    constexpr double step = 0x1p-52;
    return static_cast<double>(random() >> 11) * step - 1;
}

} // namespace

ShareSpreadResult shareSpread(const ShareSpreadInput& in)
{
    std::mt19937_64 random(in.seed);
    std::vector<double> highest;
    highest.reserve(static_cast<std::size_t>(in.samples));
    std::int64_t good = 0;
    ParallelInput build = in.bus;
    for (std::int64_t sample = 0; sample < in.samples; ++sample) {
        for (std::size_t i = 0; i < build.units.size(); ++i) {
            const ParallelUnit& unit = in.bus.units[i];
            build.units[i].v_set_v = std::max(0.0, unit.v_set_v + in.set_spread_v * centred(random));
            build.units[i].r_lead_ohm = unit.r_lead_ohm * (1 + in.lead_spread * centred(random));
        }
        const BusState bus = busState(build);
        double share = 0;
        bool held = false;
        for (const UnitShare& unit : bus.units) {
            share = std::max(share, unit.share.value_or(0));
            held = held || unit.state == UnitState::Limiting;
        }
        highest.push_back(share);
        good += bus.served && bus.trips.empty() && !held ? 1 : 0;
    }
    std::ranges::sort(highest);
    const auto at = [&highest](double share) {
        return highest[static_cast<std::size_t>(share * static_cast<double>(highest.size() - 1))];
    };
    return {at(0.05), at(0.5), at(0.95), static_cast<double>(good) / static_cast<double>(in.samples)};
}

Verdict UnitShare::verdict() const { return state == UnitState::Tripped ? Verdict::Breaks : judgeUse(use); }

void fields(Fields& f, ParallelUnit& value)
{
    f.need("name", value.name);
    f.need("v_set_v", value.v_set_v, range::not_negative);
    f.may("r_out_ohm", value.r_out_ohm, range::not_negative);
    f.may("r_lead_ohm", value.r_lead_ohm, range::not_negative);
    f.may("i_limit_a", value.i_limit_a, range::positive);
    f.may("limit", value.limit);
    f.may("diode", value.diode);
    f.demand(value.limit == LimitKind::ConstantCurrent || value.i_limit_a, ErrorCode::Inconsistent, {},
             "a unit that shuts down needs its i_limit_a");
}

void fields(Fields& f, ParallelInput& in)
{
    f.need("units", in.units, {1, 100});
    f.demandUniqueNames("units", in.units);
    f.oneOf({"load_current_a", "load_ohm", "load_power_w"});
    f.may("load_current_a", in.load.current_a, range::not_negative);
    f.may("load_ohm", in.load.ohm, range::positive);
    f.may("load_power_w", in.load.power_w, range::not_negative);
}

void fields(Fields& f, UnitShare& out)
{
    f.need("name", out.name);
    f.need("current_a", out.current_a);
    f.may("share", out.share);
    f.may("use", out.use);
    f.need("state", out.state);
    f.need("held_up_v", out.held_up_v);
}

void fields(Fields& f, BusState& out)
{
    f.need("v_bus_v", out.v_bus_v);
    f.need("no_load_v", out.no_load_v);
    f.need("total_a", out.total_a);
    f.need("served", out.served);
    f.need("units", out.units);
    f.may("trips", out.trips);
    f.may("imbalance", out.imbalance);
    f.need("ballast_loss_w", out.ballast_loss_w);
    f.need("diode_loss_w", out.diode_loss_w);
    f.may("worst_use", out.worst_use);
    f.need("status", out.status);
    f.need("verdict", out.verdict);
}

void fields(Fields& f, BusWithout& out)
{
    f.need("removed", out.removed);
    fields(f, out.bus);
}

void fields(Fields& f, ParallelResult& out)
{
    fields(f, out.bus);
    f.need("without", out.without);
    f.need("redundant", out.redundant);
}

} // namespace offshoot
