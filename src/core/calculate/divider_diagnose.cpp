#include "core/calculate/divider_diagnose.h"

#include "core/values/verdict.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <set>

namespace offshoot {

namespace {

/// A leg with its parts' values in the order of the network.
struct Leg
{
    NamedNetwork network;
    std::vector<DiagnosedPart> parts;

    explicit Leg(const DiagnosedLeg& leg)
        : network(*parseNamedNetwork(leg.network))
    {
        for (const std::string& name : network.names) {
            const auto found = std::find_if(leg.parts.begin(), leg.parts.end(),
                                            [&](const auto& entry) { return entry.first == name; });
            parts.push_back(found->second);
        }
    }
};

/// Nominal, lowest and highest ohms of a leg.
struct Ohms
{
    double nominal;
    OhmRange range;
    Ohms besides(const Ohms& other) const
    {
        return {parallelOhm(nominal, other.nominal),
                {parallelOhm(range.min_ohm, other.range.min_ohm),
                 parallelOhm(range.max_ohm, other.range.max_ohm)}};
    }
};

Ohms ohmsOf(const DiagnosedPart& part)
{
    return {part.ohm, {part.ohm * (1 - part.tolerance), part.ohm * (1 + part.tolerance)}};
}

/// The leg with one part's value multiplied: 0 for a short, infinity for open. `altered` may be no part.
Ohms ohmsOf(const Leg& leg, std::optional<std::size_t> altered = {}, double factor = 1)
{
    std::vector<double> nominal;
    std::vector<double> low;
    std::vector<double> high;
    for (std::size_t i = 0; i < leg.parts.size(); ++i) {
        const Ohms part = ohmsOf(leg.parts[i]);
        const double f = altered == i ? factor : 1;
        nominal.push_back(part.nominal * f);
        low.push_back(part.range.min_ohm * f);
        high.push_back(part.range.max_ohm * f);
    }
    const auto& root = leg.network.root;
    return {Network::evaluate(root, nominal), {Network::evaluate(root, low), Network::evaluate(root, high)}};
}

/// Is the part itself an operand of `||` at the top of its leg?
bool standsInParallel(const Leg& leg, std::size_t part)
{
    const auto& root = leg.network.root;
    return root.kind == Network::Kind::Parallel &&
           std::any_of(root.children.begin(), root.children.end(), [&](const Network::Node& child) {
               return child.kind == Network::Kind::Part && child.part == part;
           });
}

class Diagnosis
{
public:
    explicit Diagnosis(const DividerDiagnoseInput& in)
        : m_in(in)
        , m_top(in.top)
        , m_bottom(in.bottom)
    {
        const auto& r = in.reference;
        m_reference = {.v_ref_v = r.v_ref_v, .tolerance = r.tolerance, .i_ref_a = r.i_ref_a};
    }

    DividerDiagnoseResult run()
    {
        add(as_planned_class, DividerFault::AsPlanned, {}, m_reference, ohmsOf(m_top), ohmsOf(m_bottom));
        const FaultHypothesis planned = m_all.front().hypothesis;
        for (bool top : {true, false})
            addPartFaults(top);
        for (const double alternative : m_in.reference.others()) {
            Reference other = m_reference;
            other.v_ref_v = alternative;
            add(reference_class, DividerFault::Reference, {}, other, ohmsOf(m_top), ohmsOf(m_bottom));
        }
        judgeAll(*planned.v);
        sort();
        DividerDiagnoseResult result{{*planned.v, *planned.min_v, *planned.max_v}, verdict(), {}};
        for (const Entry& entry : m_all)
            if (result.hypotheses.size() < static_cast<std::size_t>(m_in.limit))
                result.hypotheses.push_back(entry.hypothesis);
        return result;
    }

private:
    enum FaultClass {
        as_planned_class,
        new_part_class,
        decade_class,
        wrong_leg_class,
        old_part_class,
        reference_class
    };
    struct Entry
    {
        FaultClass fault_class;
        FaultHypothesis hypothesis;
    };

    void addPartFaults(bool top)
    {
        const Leg& leg = top ? m_top : m_bottom;
        const Leg& other = top ? m_bottom : m_top;
        const auto add_altered = [&](FaultClass c, DividerFault fault, std::size_t part, double factor) {
            const Ohms own = ohmsOf(leg, part, factor);
            addFor(c, fault, leg.network.names[part], top, own, ohmsOf(other));
        };
        for (std::size_t part = 0; part < leg.parts.size(); ++part) {
            const bool is_new = leg.parts[part].is_new;
            const FaultClass joint = is_new ? new_part_class : old_part_class;
            add_altered(joint, DividerFault::Open, part, open_ohm);
            add_altered(joint, DividerFault::Short, part, 0);
            if (!is_new)
                continue;
            add_altered(decade_class, DividerFault::DecadeUp, part, 10);
            add_altered(decade_class, DividerFault::DecadeDown, part, 0.1);
            if (standsInParallel(leg, part))
                addFor(wrong_leg_class, DividerFault::WrongLeg, leg.network.names[part], top,
                       ohmsOf(leg, part, open_ohm), ohmsOf(other).besides(ohmsOf(leg.parts[part])));
        }
    }

    void addFor(FaultClass c, DividerFault fault, const std::string& part, bool own_is_top, const Ohms& own,
                const Ohms& other)
    {
        add(c, fault, part, m_reference, own_is_top ? own : other, own_is_top ? other : own);
    }

    void add(FaultClass c, DividerFault fault, std::optional<std::string> part, const Reference& reference,
             const Ohms& top, const Ohms& bottom)
    {
        FaultHypothesis h{};
        h.fault = fault;
        h.part = std::move(part);
        const Legs legs{top.nominal, bottom.nominal};
        h.runaway = runsAway(legs);
        if (!h.runaway) {
            const VoltageRange range = cornerRange(reference, top.range, bottom.range);
            h.v = dividerVoltage(reference.v_ref_v, reference.i_ref_a, legs);
            h.min_v = range.min_v;
            h.max_v = range.max_v;
        }
        if (std::isfinite(legs.top_ohm))
            h.top_ohm = legs.top_ohm;
        if (std::isfinite(legs.bottom_ohm))
            h.bottom_ohm = legs.bottom_ohm;
        m_all.push_back({c, std::move(h)});
    }

    void judgeAll(double planned_v)
    {
        constexpr double surely_high = 1.2;
        for (Entry& entry : m_all) {
            FaultHypothesis& h = entry.hypothesis;
            if (h.runaway) {
                h.explains = m_in.observed == Observed::Hunting || m_in.measured_v > surely_high * planned_v;
                continue;
            }
            const double below = *h.min_v - (m_in.measured_v + m_in.uncertainty_v);
            const double above = m_in.measured_v - m_in.uncertainty_v - *h.max_v;
            const double gap = std::max(below, above);
            h.distance_v = gap <= limit_share * std::abs(m_in.measured_v) ? 0 : gap;
            h.explains = *h.distance_v == 0 && m_in.observed == Observed::Steady;
        }
    }

    void sort()
    {
        const auto name = [](const Entry& e) { return e.hypothesis.part.value_or(""); };
        const auto off = [this](const Entry& e) {
            return e.hypothesis.runaway ? open_ohm : std::abs(*e.hypothesis.v - m_in.measured_v);
        };
        const auto distance = [](const Entry& e) { return e.hypothesis.distance_v.value_or(open_ohm); };
        std::stable_sort(m_all.begin(), m_all.end(), [&](const Entry& a, const Entry& b) {
            if (a.hypothesis.explains != b.hypothesis.explains)
                return a.hypothesis.explains;
            if (a.hypothesis.explains)
                return std::tuple(a.fault_class, off(a), name(a)) <
                       std::tuple(b.fault_class, off(b), name(b));
            return std::tuple(distance(a), a.fault_class, name(a)) <
                   std::tuple(distance(b), b.fault_class, name(b));
        });
    }

    DiagnosisVerdict verdict() const
    {
        const auto explains = [](const Entry& e) { return e.hypothesis.explains; };
        if (m_all.front().hypothesis.fault == DividerFault::AsPlanned && m_all.front().hypothesis.explains)
            return DiagnosisVerdict::AsPlanned;
        const auto count = std::count_if(m_all.begin(), m_all.end(), explains);
        if (count == 0)
            return DiagnosisVerdict::Unexplained;
        return count == 1 ? DiagnosisVerdict::Explained : DiagnosisVerdict::Ambiguous;
    }

    const DividerDiagnoseInput& m_in;
    Leg m_top;
    Leg m_bottom;
    Reference m_reference;
    std::vector<Entry> m_all;
};

} // namespace

std::vector<double> DividerDiagnoseInput::DiagnosedReference::others() const
{
    constexpr double apart = 0.01;
    std::vector<double> all;
    std::ranges::copy_if(alternatives_v, std::back_inserter(all),
                         [&](double v) { return std::abs(v - v_ref_v) > apart * v_ref_v; });
    return all;
}

DividerDiagnoseResult dividerDiagnose(const DividerDiagnoseInput& in) { return Diagnosis(in).run(); }

// ---- documents

void fields(Fields& f, DiagnosedPart& value)
{
    f.need("ohm", value.ohm, range::positive);
    f.may("tolerance", value.tolerance, range::fraction);
    f.may("new", value.is_new);
}

void fields(Fields& f, DiagnosedLeg& value)
{
    f.need("network", value.network, any_text);
    f.need("parts", value.parts);
    if (!f.reading())
        return;
    const auto parsed = parseNamedNetwork(value.network);
    if (!parsed)
        throw DocumentError(parsed.problem().code, jsonPath(f.path(), "network"), parsed.problem().message);
    const std::set<std::string> written(parsed->names.begin(), parsed->names.end());
    f.demand(written.size() == parsed->names.size(), ErrorCode::Inconsistent, "network",
             "a name stands here twice");
    std::set<std::string> listed;
    for (const auto& [name, part] : value.parts)
        listed.insert(name);
    for (const std::string& name : written)
        f.demand(listed.contains(name), ErrorCode::Inconsistent, "network", name + " is not among the parts");
    for (const std::string& name : listed)
        f.demand(written.contains(name), ErrorCode::Inconsistent, "network", name + " is not in the network");
}

void fields(Fields& f, DividerDiagnoseInput::DiagnosedReference& value)
{
    constexpr Range pin_current{-1e-3, 1e-3};
    f.need("v_ref_v", value.v_ref_v, range::positive);
    f.may("tolerance", value.tolerance, range::fraction);
    f.may("i_ref_a", value.i_ref_a, pin_current);
    f.may("alternatives_v", value.alternatives_v, range::positive);
}

void fields(Fields& f, DividerDiagnoseInput& in)
{
    f.need("reference", in.reference);
    f.need("top", in.top);
    f.need("bottom", in.bottom);
    for (const auto& [name, part] : in.bottom.parts)
        for (const auto& entry : in.top.parts)
            if (name == entry.first)
                throw DocumentError(ErrorCode::Inconsistent, jsonPath(jsonPath(f.path(), "bottom"), "parts"),
                                    name + " stands in both legs");
    f.need("measured_v", in.measured_v, range::not_negative);
    f.may("uncertainty_v", in.uncertainty_v, range::not_negative);
    f.may("observed", in.observed);
    f.may("limit", in.limit, 1, 50);
}

void fields(Fields& f, FaultHypothesis& out)
{
    f.need("fault", out.fault);
    f.may("part", out.part);
    f.may("v", out.v);
    f.may("min_v", out.min_v);
    f.may("max_v", out.max_v);
    f.need("runaway", out.runaway);
    f.may("distance_v", out.distance_v);
    f.need("explains", out.explains);
    f.may("top_ohm", out.top_ohm);
    f.may("bottom_ohm", out.bottom_ohm);
}

void fields(Fields& f, DividerDiagnoseResult& out)
{
    f.need("planned", out.planned);
    f.need("verdict", out.verdict);
    f.need("hypotheses", out.hypotheses);
}

} // namespace offshoot
