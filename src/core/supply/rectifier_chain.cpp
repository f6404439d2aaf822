#include "core/supply/rectifier_chain.h"

#include <algorithm>
#include <array>
#include <numbers>

namespace offshoot {

namespace {

constexpr Range fromZero(double most) { return {0, most}; }

DocumentError inconsistent(const std::string& path, const std::string& message)
{
    return DocumentError(ErrorCode::Inconsistent, path, message);
}

/// Conductance of the ESRs side by side; nothing where one of them is 0 (then the sum has no ESR).
struct NodeCapacitors
{
    bool any = false;
    bool stiff = false;
    double siemens = 0;
    std::optional<double> stiff_v0;
    double esr() const { return !any || stiff ? 0 : 1 / siemens; }
};

class ChainCheck
{
public:
    explicit ChainCheck(const RectifierChain& chain)
        : m_chain(chain)
    {
        std::size_t node = 0;
        for (const SmoothingSection& section : chain.filter) {
            m_node_of.push_back(node);
            node += section.kind == SmoothingKind::C ? 0U : 1U;
        }
        m_nodes.resize(node + 1);
        m_watts.assign(node + 1, 0.0);
    }

    void run()
    {
        checkDoubler();
        checkChokes();
        checkCapacitors();
        checkLoads();
    }

private:
    void checkDoubler() const
    {
        if (m_chain.rectifier.kind == SimRectifier::Doubler && !m_chain.filter.empty() &&
            m_chain.filter.front().kind == SmoothingKind::C)
            throw inconsistent("/filter/0", "the doubler's capacitors are not in the filter");
    }

    void checkChokes() const
    {
        const bool doubler = m_chain.rectifier.kind == SimRectifier::Doubler;
        bool loose =
            m_chain.source.l_h.has_value() && !doubler; // an inductance without a capacitor behind it
        bool of_source = loose;
        for (std::size_t i = 0; i < m_chain.filter.size(); ++i) {
            const SmoothingKind kind = m_chain.filter[i].kind;
            if (kind == SmoothingKind::C) {
                loose = false;
            } else if (kind == SmoothingKind::L) {
                if (loose)
                    throw of_source ? inconsistent("/source/l_h",
                                                   "no capacitor before the first choke: add it to the choke")
                                    : inconsistent("/filter/" + std::to_string(i),
                                                   "two chokes without a capacitor between");
                loose = true;
                of_source = false;
            }
        }
    }

    void checkCapacitors()
    {
        if (m_chain.rectifier.kind == SimRectifier::Doubler) {
            NodeCapacitors& first = m_nodes.front();
            const double esr_ohm = m_chain.rectifier.upper->esr_ohm + m_chain.rectifier.lower->esr_ohm;
            first.any = true;
            first.stiff = esr_ohm == 0;
            first.siemens = esr_ohm > 0 ? 1 / esr_ohm : 0;
        }
        for (std::size_t i = 0; i < m_chain.filter.size(); ++i) {
            const SmoothingSection& section = m_chain.filter[i];
            if (section.kind != SmoothingKind::C)
                continue;
            NodeCapacitors& node = m_nodes[m_node_of[i]];
            node.any = true;
            if (section.esr_ohm > 0) {
                node.siemens += 1 / section.esr_ohm;
                continue;
            }
            if (node.stiff_v0 && *node.stiff_v0 != section.v0_v)
                throw inconsistent("/filter/" + std::to_string(i) + "/v0_v",
                                   "capacitors without ESR at one node start equal");
            node.stiff = true;
            node.stiff_v0 = section.v0_v;
        }
    }

    void checkLoads()
    {
        checkLoad(m_chain.load, m_nodes.size() - 1, "/load");
        for (std::size_t i = 0; i < m_chain.tap_loads.size(); ++i) {
            const TapLoad& tap = m_chain.tap_loads[i];
            const std::string at = "/tap_loads/" + std::to_string(i);
            if (tap.section < 0 || static_cast<std::size_t>(tap.section) >= m_chain.filter.size())
                throw DocumentError(ErrorCode::OutOfRange, at + "/section", "no such section");
            if (m_chain.filter[static_cast<std::size_t>(tap.section)].kind != SmoothingKind::C)
                throw inconsistent(at + "/section", "a tap stands at a capacitor");
            checkLoad(tap.load, m_node_of[static_cast<std::size_t>(tap.section)], at + "/load");
        }
    }

    void checkLoad(const SimLoad& load, std::size_t at, const std::string& path)
    {
        if (load.resistance_ohm)
            return;
        const NodeCapacitors& node = m_nodes[at];
        if (!node.any)
            throw inconsistent(path, "a current or power load needs a capacitor at its node");
        m_watts[at] += load.power_w.value_or(0) / (load.v_min_v * load.v_min_v);
        if (node.esr() * m_watts[at] >= 1)
            throw inconsistent(path, "the capacitor's ESR is too large for so much power at v_min_v");
    }

    const RectifierChain& m_chain;
    std::vector<std::size_t> m_node_of;
    std::vector<NodeCapacitors> m_nodes;
    std::vector<double> m_watts; ///< ΣP/v_min² at each node
};

/// A capacitor of a doubler: the keys of a `c` section without its kind.
constexpr Range tolerance_range{0, 0.9};

void capacitorFields(Fields& f, SmoothingSection& value)
{
    f.need("c_f", value.c_f, {1e-12, 10});
    f.may("esr_ohm", value.esr_ohm, range::not_negative);
    f.may("v0_v", value.v0_v, fromZero(1e5));
    f.may("v_rated_v", value.v_rated_v, range::positive);
    f.may("i_ripple_a", value.i_ripple_a, range::positive);
    f.may("tolerance", value.tolerance, tolerance_range);
}

struct DoublerCapacitor
{
    SmoothingSection section = {};
};
void fields(Fields& f, DoublerCapacitor& value) { capacitorFields(f, value.section); }

} // namespace

void fields(Fields& f, SimSource& value)
{
    f.need("v_rms_v", value.v_rms_v, {1e-3, 1e5});
    f.need("f_hz", value.f_hz, {10, 1e6});
    f.need("r_ohm", value.r_ohm, {1e-6, 1e9});
    f.may("l_h", value.l_h, {1e-9, 1e3});
    f.may("phase_rad", value.phase_rad, {-100, 100});
    f.may("spread", value.spread, range::fraction);
}

void fields(Fields& f, SimDiode& value)
{
    f.need("model", value.model);
    const bool threshold = value.model == DiodeModel::Threshold;
    const bool junction = value.model == DiodeModel::Exponential;
    const bool valve = value.model == DiodeModel::Valve;
    f.demandOwn({{"v_f_v", threshold, threshold},
                 {"r_ohm", !valve, threshold},
                 {"i_s_a", junction, junction},
                 {"n", junction, junction},
                 {"t_k", junction, false},
                 {"perveance_a_v15", valve, valve},
                 {"r_plate_ohm", valve, false}},
                "belongs to another model");
    const bool every = f.mode() == Fields::Mode::Schema;
    if (threshold || every)
        f.may("v_f_v", value.v_f_v, range::not_negative);
    if (!valve || every)
        f.may("r_ohm", value.r_ohm, threshold && !every ? Range{1e-6, Range::largest} : range::not_negative);
    if (junction || every) {
        f.may("i_s_a", value.i_s_a, {1e-30, 1});
        f.may("n", value.n, {0.5, 100});
        f.may("t_k", value.t_k, range::positive);
    }
    if (valve || every) {
        f.may("perveance_a_v15", value.perveance_a_v15, {1e-9, 10});
        f.may("r_plate_ohm", value.r_plate_ohm, range::not_negative);
    }
}

void fields(Fields& f, SmoothingSection& value)
{
    f.need("kind", value.kind);
    const bool c = value.kind == SmoothingKind::C;
    const bool l = value.kind == SmoothingKind::L;
    f.demandOwn({{"c_f", c, c},
                 {"esr_ohm", c, false},
                 {"v0_v", c, false},
                 {"v_rated_v", c, false},
                 {"i_ripple_a", c, false},
                 {"l_h", l, l},
                 {"r_ohm", !c, !c && !l},
                 {"i_rated_a", l, false},
                 {"power_rated_w", !c && !l, false},
                 {"tolerance", c || l, false}},
                "belongs to another kind of section");
    const bool every = f.mode() == Fields::Mode::Schema;
    if (c || every) {
        f.may("c_f", value.c_f, {1e-12, 10});
        f.may("esr_ohm", value.esr_ohm, range::not_negative);
        f.may("v0_v", value.v0_v, fromZero(1e5));
        f.may("v_rated_v", value.v_rated_v, range::positive);
        f.may("i_ripple_a", value.i_ripple_a, range::positive);
    }
    if (l || every) {
        f.may("l_h", value.l_h, {1e-9, 1e4});
        f.may("i_rated_a", value.i_rated_a, range::positive);
    }
    if (value.kind == SmoothingKind::R || every)
        f.may("power_rated_w", value.power_rated_w, range::positive);
    if (!c || every)
        f.may("r_ohm", value.r_ohm, l || every ? range::not_negative : Range{1e-6, 1e9});
    if (c || l || every)
        f.may("tolerance", value.tolerance, tolerance_range);
}

void fields(Fields& f, SimRectifierPart& value)
{
    f.need("kind", value.kind);
    f.need("diode", value.diode);
    const bool doubler = value.kind == SimRectifier::Doubler;
    f.demandOwn({{"upper", doubler, doubler}, {"lower", doubler, doubler}}, "belongs to a doubler");
    const auto capacitor = [&f](const char* key, std::optional<SmoothingSection>& part) {
        auto wrapped = part ? std::optional(DoublerCapacitor{*part}) : std::nullopt;
        f.may(key, wrapped);
        if (f.reading())
            part = wrapped ? std::optional(wrapped->section) : std::nullopt;
    };
    capacitor("upper", value.upper);
    capacitor("lower", value.lower);
}

void fields(Fields& f, SimLoad& value)
{
    f.oneOf({"current_a", "resistance_ohm", "power_w"}, "current_a");
    f.may("resistance_ohm", value.resistance_ohm, {1e-3, 1e9});
    f.may("current_a", value.current_a, fromZero(1e5));
    f.may("power_w", value.power_w, fromZero(1e6));
    if (f.mode() != Fields::Mode::Write || !value.resistance_ohm)
        f.may("v_min_v", value.v_min_v, range::positive);
    if (!f.reading())
        return;
    f.demand(!value.resistance_ohm || !f.present("v_min_v"), ErrorCode::Inconsistent, "v_min_v",
             "belongs to a current or power load");
    f.demand(!value.power_w || f.present("v_min_v"), ErrorCode::Missing, "v_min_v",
             "a power load needs the voltage below which it gives up");
}

void fields(Fields& f, TapLoad& value)
{
    f.need("section", value.section, 0, 15);
    f.need("load", value.load);
}

void fields(Fields& f, RectifierRatings& value)
{
    f.may("v_piv_v", value.v_piv_v, range::positive);
    f.may("i_peak_a", value.i_peak_a, range::positive);
    f.may("i_mean_a", value.i_mean_a, range::positive);
    f.may("i_hot_a", value.i_hot_a, range::positive);
    f.may("c_first_max_f", value.c_first_max_f, range::positive);
    f.may("r_plate_min_ohm", value.r_plate_min_ohm, range::positive);
}

void fields(Fields& f, RectifierChain& value)
{
    f.need("source", value.source);
    f.need("rectifier", value.rectifier);
    f.need("filter", value.filter, {0, 16});
    f.need("load", value.load);
    f.may("tap_loads", value.tap_loads, {0, 16});
    if (f.reading())
        ChainCheck(value).run();
}

void RectifierChain::insertSection(std::size_t at, const SmoothingSection& section)
{
    filter.insert(filter.begin() + static_cast<std::ptrdiff_t>(at), section);
    for (TapLoad& tap : tap_loads)
        tap.section += tap.section >= static_cast<std::int64_t>(at) ? 1 : 0;
}

void RectifierChain::eraseSection(std::size_t at)
{
    const auto gone = static_cast<std::int64_t>(at);
    filter.erase(filter.begin() + static_cast<std::ptrdiff_t>(at));
    std::erase_if(tap_loads, [gone](const TapLoad& tap) { return tap.section == gone; });
    for (TapLoad& tap : tap_loads)
        tap.section -= tap.section > gone ? 1 : 0;
}

void RectifierChain::setKind(SimRectifier kind)
{
    rectifier.kind = kind;
    const bool doubler = kind == SimRectifier::Doubler;
    if (doubler && !rectifier.upper) {
        constexpr double usual_f = 100e-6;
        const bool first = !filter.empty() && filter.front().kind == SmoothingKind::C;
        rectifier.upper = first ? filter.front() : SmoothingSection{.c_f = usual_f};
        rectifier.lower = rectifier.upper;
        if (first)
            eraseSection(0);
    } else if (!doubler && rectifier.upper) {
        insertSection(0, *rectifier.upper);
        rectifier.upper.reset();
        rectifier.lower.reset();
    }
}

bool RectifierChain::hasCapacitor() const
{
    return rectifier.kind == SimRectifier::Doubler ||
           std::ranges::any_of(filter, [](const SmoothingSection& s) { return s.kind == SmoothingKind::C; });
}

double RectifierChain::noLoadVolts() const
{
    return std::numbers::sqrt2 * source.v_rms_v * (1 + source.spread) *
           (rectifier.kind == SimRectifier::Doubler ? 2 : 1);
}

std::string phrase(SimRectifier rectifier)
{
    static constexpr std::array<std::string_view, 4> phrases{
        "one rectifier", "two rectifiers on a centre tap", "bridge", "doubler"};
    return std::string(phrases.at(static_cast<std::size_t>(rectifier)));
}

std::string chainPartName(const RectifierChain& chain, const std::string& part)
{
    if (part == "rectifier")
        return part;
    if (part == "upper" || part == "lower")
        return part + " capacitor";
    const auto section = static_cast<std::size_t>(std::stoul(part));
    const SmoothingKind kind = chain.filter.at(section).kind;
    const auto number =
        std::count_if(chain.filter.begin(), chain.filter.begin() + static_cast<std::ptrdiff_t>(section) + 1,
                      [kind](const SmoothingSection& s) { return s.kind == kind; });
    const char* letter = kind == SmoothingKind::C ? "C" : kind == SmoothingKind::L ? "L" : "R";
    return letter + std::to_string(number);
}

} // namespace offshoot
