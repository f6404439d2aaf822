#include "core/kinds/chain/chain_ribbon.h"

#include "core/kinds/chain/chain_view.h"
#include "core/values/figures.h"
#include "core/values/format.h"
#include "core/values/preferred.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

double nearestPreferred(double value)
{
    constexpr double hundreds = 100;
    const double power = std::pow(10, std::floor(std::log10(value)));
    double best = power * 10;
    for (const int number : decade(Series::E24)) {
        const double candidate = number / hundreds * power;
        if (std::abs(std::log(candidate / value)) < std::abs(std::log(best / value)))
            best = candidate;
    }
    return best;
}

/// What a section's figure is: farads, henries or ohms.
double& mainValue(SmoothingSection& section)
{
    return section.kind == SmoothingKind::C   ? section.c_f
           : section.kind == SmoothingKind::L ? section.l_h
                                              : section.r_ohm;
}

std::string valueText(SmoothingSection section)
{
    const Quantity quantity = section.kind == SmoothingKind::C   ? Quantity::Capacitance
                              : section.kind == SmoothingKind::L ? Quantity::Inductance
                                                                 : Quantity::Resistance;
    return formatValue(mainValue(section), quantity);
}

std::string rectifierName(SimRectifier kind)
{
    switch (kind) {
    case SimRectifier::Half:
        return "half wave";
    case SimRectifier::FullWaveCt:
        return "full wave";
    case SimRectifier::Bridge:
        return "bridge";
    case SimRectifier::Doubler:
        return "doubler";
    }
    return {};
}

/// "+20 %", "−10 %"; empty where it is as it should be.
std::string shareText(double share)
{
    constexpr double nothing = 5e-4;
    if (std::abs(share - 1) < nothing)
        return {};
    return (share > 1 ? "+" : "−") + formatPercent(std::abs(share - 1));
}

/// Parts that are beside their value by as much stand together: "mains −10 %, C1 L1 −20 %".
std::string cornerText(const RectifierChain& chain, const ChainCorner& corner)
{
    std::vector<std::pair<std::string, std::string>> groups; // how much, which
    const auto add = [&groups](const std::string& what, double share) {
        const std::string by = shareText(share);
        if (by.empty())
            return;
        if (groups.size() > 1 && groups.back().first == by)
            groups.back().second += " " + what;
        else
            groups.emplace_back(by, what);
    };
    add("mains", corner.mains);
    if (chain.rectifier.kind == SimRectifier::Doubler) {
        add("upper", corner.upper);
        add("lower", corner.lower);
    }
    for (std::size_t i = 0; i < std::min(corner.sections.size(), chain.filter.size()); ++i)
        add(chainPartName(chain, std::to_string(i)), corner.sections[i]);
    std::string text;
    for (const auto& [by, which] : groups)
        text += (text.empty() ? "" : ", ") + which + " " + by;
    return text.empty() ? "as it stands" : text;
}

class Parts
{
public:
    Parts(const RectifierChain& chain, const Job& job, const ChainRun* run)
        : m_chain(chain)
        , m_run(runOf(job, run))
        , m_rows(m_run != nullptr ? chainRows(job, m_run) : std::vector<ConsequenceRow>{})
    {}

    std::vector<ChainPart> run()
    {
        const SimRectifierPart& rectifier = m_chain.rectifier;
        add({ChainThing::Source, "source", "secondary", formatVolts(m_chain.source.v_rms_v), 0}, {});
        add({rectifier.diode.model == DiodeModel::Valve ? ChainThing::Valve : ChainThing::Diodes, "rectifier",
             rectifierName(rectifier.kind),
             rectifier.upper ? formatValue(rectifier.upper->c_f, Quantity::Capacitance) + " each" : "", 0},
            rectifier.upper ? std::vector<std::string>{"rectifier", "upper", "lower"}
                            : std::vector<std::string>{"rectifier"});
        std::size_t place = 0;
        for (std::size_t i = 0; i < m_chain.filter.size(); ++i) {
            const SmoothingSection& section = m_chain.filter[i];
            const std::string name = std::to_string(i);
            const bool in_line = section.kind != SmoothingKind::C;
            add({section.kind == SmoothingKind::C   ? ChainThing::Can
                 : section.kind == SmoothingKind::L ? ChainThing::Choke
                                                    : ChainThing::Resistor,
                 name, chainPartName(m_chain, name), valueText(section), place, in_line, tapped(i)},
                {name});
            place += in_line ? 1U : 0U;
        }
        add({ChainThing::Load, "load", "load", chainLoadText(m_chain.load), place}, {});
        return std::move(m_parts);
    }

private:
    void add(ChainPart part, const std::vector<std::string>& rated)
    {
        for (const ConsequenceRow& row : m_rows) {
            const bool mine = row.id == RowId::ChainOutput
                                  ? part.thing == ChainThing::Load
                                  : std::ranges::any_of(rated, [&](const std::string& name) {
                                        return row.part == chainPartTitle(m_chain, name);
                                    });
            if (mine && (!part.limit || worseThan(row, *part.limit)))
                part.limit = row;
        }
        part.flow = flowing(part);
        m_parts.push_back(std::move(part));
    }

    static bool worseThan(const ConsequenceRow& a, const ConsequenceRow& b)
    {
        const auto key = [](const ConsequenceRow& row) {
            return std::pair(badness(row.verdict), row.use.value_or(0));
        };
        return key(a) > key(b);
    }

    std::string flowing(const ChainPart& part) const
    {
        if (m_run == nullptr)
            return {};
        const SteadyResult& result = m_run->result;
        if (part.thing == ChainThing::Source)
            return amps(result.source.i_rms_a) + " rms, " + significant(result.source.va, 3) + " VA";
        if (part.thing == ChainThing::Load)
            return amps(result.load.i_mean_a);
        const auto series = std::ranges::find_if(
            result.series, [&](const SimSeries& s) { return std::to_string(s.section) == part.part; });
        if (series == result.series.end())
            return {};
        return part.thing == ChainThing::Choke ? amps(series->i_mean_a) : watts(series->power_w);
    }

    std::string tapped(std::size_t section) const
    {
        const auto tap =
            std::ranges::find(m_chain.tap_loads, static_cast<std::int64_t>(section), &TapLoad::section);
        return tap != m_chain.tap_loads.end() ? chainLoadText(tap->load) : std::string();
    }

    const RectifierChain& m_chain;
    const ChainRun* m_run;
    std::vector<ConsequenceRow> m_rows;
    std::vector<ChainPart> m_parts;
};

} // namespace

ChainRibbon chainRibbon(const Job& job, const ChainRun* run)
{
    const RectifierChain* chain = plannedChain(job);
    if (chain == nullptr)
        return {};
    ChainRibbon ribbon{.parts = Parts(*chain, job, run).run(),
                       .unloaded_v = chain->noLoadVolts() / (1 + chain->source.spread)};
    ribbon.places = ribbon.parts.back().place + 1;
    if (job.found.topology == Topology::Unregulated)
        ribbon.window = unitTarget(job);
    return ribbon;
}

std::string spreadSentence(const RectifierChain& chain, const ChainSpread& spread)
{
    if (spread.states == 0)
        return "There is no steady state at the ends of the tolerances.";
    std::string text = "Lowest " + formatVolts(spread.low_v) + ": " + cornerText(chain, spread.lowest) +
                       ". Highest " + formatVolts(spread.high_v) + ": " + cornerText(chain, spread.highest) +
                       ". Most ripple " + formatValue(spread.ripple_v, Quantity::Voltage) + ": " +
                       cornerText(chain, spread.roughest) + ".";
    if (spread.without > 0)
        text += " At " + std::to_string(spread.without) + " of " +
                std::to_string(spread.states + spread.without) + " corners there is no steady state.";
    return text;
}

std::string toleranceText(const RectifierChain& chain)
{
    std::string text = "mains ±" + formatPercent(chain.source.spread);
    std::string usual;
    const auto add = [&](const std::string& name, const SmoothingSection& section) {
        if (section.kind == SmoothingKind::R)
            return;
        if (section.tolerance)
            text += ", " + name + " ±" + formatPercent(*section.tolerance);
        else
            usual += (usual.empty() ? "" : " ") + name;
    };
    if (chain.rectifier.upper) {
        add("upper", *chain.rectifier.upper);
        add("lower", *chain.rectifier.lower);
    }
    for (std::size_t i = 0; i < chain.filter.size(); ++i)
        add(chainPartName(chain, std::to_string(i)), chain.filter[i]);
    if (!usual.empty())
        text += ", " + usual + " ±" + formatPercent(usual_tolerance) + " assumed";
    return text;
}

SmoothingSection usualSection(SmoothingKind kind)
{
    switch (kind) {
    case SmoothingKind::C:
        return {.kind = kind, .c_f = 100e-6};
    case SmoothingKind::L:
        return {.kind = kind, .l_h = 1, .r_ohm = 10};
    case SmoothingKind::R:
        return {.kind = kind, .r_ohm = 10};
    }
    return {};
}

SmoothingSection scaledSection(const SmoothingSection& section, double share)
{
    SmoothingSection made = section;
    const auto [least, most] = section.kind == SmoothingKind::C   ? std::pair(1e-12, 10.0)
                               : section.kind == SmoothingKind::L ? std::pair(1e-9, 1e4)
                                                                  : std::pair(1e-6, 1e9);
    double& value = mainValue(made);
    value = std::clamp(nearestPreferred(std::clamp(value * share, least, most)), least, most);
    return made;
}

void moveSection(RectifierChain& chain, std::size_t from, std::size_t to)
{
    const SmoothingSection taken = chain.filter[from];
    std::vector<TapLoad> taps;
    for (const TapLoad& tap : chain.tap_loads)
        if (tap.section == static_cast<std::int64_t>(from))
            taps.push_back(tap);
    chain.eraseSection(from);
    to -= to > from ? 1 : 0;
    chain.insertSection(to, taken);
    for (TapLoad& tap : taps) {
        tap.section = static_cast<std::int64_t>(to);
        chain.tap_loads.push_back(tap);
    }
}

} // namespace offshoot
