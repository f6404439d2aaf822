#include "core/kinds/panel/panel_letters.h"

#include "core/kinds/rehouse/rehouse_view.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cctype>
#include <charconv>

namespace offshoot {

namespace {

/// "1.5 to 20.5 V": what fits under a knob.
std::string onFront(double least, double most, PotSets sets)
{
    return significant(least, 3) + " to " + significant(most, 3) + (sets == PotSets::Volts ? " V" : " A");
}

/// What is written at a part, from the plan.
class Lettering
{
public:
    Lettering(const Job& job, const Figures& figures)
        : m_job(job)
        , m_figures(figures)
        , m_rehoused(rehouseView(job))
    {}

    Letters of(const PanelItem& item) const
    {
        switch (item.kind) {
        case PanelPart::Post:
        case PanelPart::Socket:
            return rail(item);
        case PanelPart::Potentiometer:
            return potentiometer(item);
        case PanelPart::Readout:
            return readout(item);
        case PanelPart::FuseHolder:
            return fuse(item);
        case PanelPart::Inlet:
        case PanelPart::Gland:
            return inlet(item);
        case PanelPart::Switch:
        case PanelPart::Lamp:
            return {.text = "on"};
        case PanelPart::Other:
            break;
        }
        return {.text = item.name};
    }

private:
    Letters rail(const PanelItem& item) const
    {
        const auto& rails = m_job.found.rails;
        const auto found = std::ranges::find(rails, item.serves, &Rail::name);
        if (found == rails.end())
            return {.text = item.name};
        const auto at = static_cast<std::size_t>(found - rails.begin());
        if (item.returns)
            return {.text = "0 V", .why = "the return of " + found->name};
        if (const auto range = turned(*found))
            return *range;
        const auto v = at != 0               ? m_figures.rails_planned_v[at]
                       : m_figures.planned_v ? m_figures.planned_v
                                             : m_figures.found_v;
        if (!v)
            return {.text = found->name, .why = "its volts are not known yet"};
        std::string text = (found->negative ? "−\n" : "+\n") + significant(*v, 3) + " V";
        const Rail* planned = railNamed(m_figures.unit.supply, found->name);
        if (planned != nullptr && planned->i_rated_a)
            text += " " + amps(*planned->i_rated_a);
        return {.text = std::move(text), .why = "as planned", .most_v = v};
    }

    /// Of a rail that a potentiometer on the front sets.
    std::optional<Letters> turned(const Rail& rail) const
    {
        if (m_rehoused.module == nullptr || m_rehoused.pots.empty() ||
            m_rehoused.module->rails.front().rail != rail.name)
            return std::nullopt;
        const auto& pots = m_job.plan.rehouse->pots;
        const auto pot = std::ranges::find(pots, PotSets::Volts, &BroughtOut::sets);
        if (pot == pots.end())
            return std::nullopt;
        const PotView& view = m_rehoused.pots[static_cast<std::size_t>(pot - pots.begin())];
        return Letters{.text = "+\n" + onFront(view.least, view.most, PotSets::Volts),
                       .why = m_rehoused.reach->by_feed
                                  ? "ended by " + m_rehoused.reach->because
                                  : "what " + m_rehoused.module->entry.unit.name + " can be set to",
                       .most_v = view.most};
    }

    Letters potentiometer(const PanelItem& item) const
    {
        if (m_job.plan.rehouse && !m_rehoused.pots.empty()) {
            const auto& pots = m_job.plan.rehouse->pots;
            const auto pot = std::ranges::find(pots, item.serves, &BroughtOut::name);
            if (pot != pots.end()) {
                const PotView& view = m_rehoused.pots[static_cast<std::size_t>(pot - pots.begin())];
                Letters letters{.text = pot->name + "\n" + onFront(view.least, view.most, pot->sets),
                                .why = "its range on this feed"};
                if (pot->sets == PotSets::Volts)
                    letters.most_v = view.most;
                return letters;
            }
        }
        return {.text = item.serves.empty() ? item.name : item.serves};
    }

    Letters readout(const PanelItem& item) const
    {
        if (m_job.plan.rehouse) {
            const auto& all = m_job.plan.rehouse->readouts;
            const auto readout = std::ranges::find(all, item.serves, &FrontReadout::name);
            if (readout != all.end())
                return {.text = readout->shows == PotSets::Volts ? "V" : "A"};
        }
        return {.text = item.name};
    }

    Letters fuse(const PanelItem& item) const
    {
        if (!item.mains && m_job.plan.rehouse && m_job.plan.rehouse->fuse_a)
            return {.text = amps(*m_job.plan.rehouse->fuse_a) + " DC", .why = "the fuse of the feed"};
        const Fuse& fuse = m_figures.unit.supply.fuse;
        if (fuse.value_a)
            return {.text = fuse.type.value_or("") + (fuse.type ? " " : "") + amps(*fuse.value_a),
                    .why = "the fuse as planned"};
        return {.text = item.name, .why = "its value is not known yet"};
    }

    Letters inlet(const PanelItem& item) const
    {
        if (item.mains)
            return {.text = volts(m_job.need.mains.v_v) + " " +
                            formatValue(m_job.need.mains.f_hz, Quantity::Frequency),
                    .why = "the mains of the need"};
        const DirectInput& feed = m_job.found.direct;
        if (item.kind == PanelPart::Inlet && m_job.found.dcFed() && feed.min_v && feed.max_v)
            return {.text = volts(*feed.min_v) + " to " + volts(*feed.max_v) + " DC", .why = "its feed"};
        return {.text = item.name};
    }

    const Job& m_job;
    const Figures& m_figures;
    RehouseView m_rehoused;
};

} // namespace

std::vector<Letters> plannedLetters(const Job& job, const Figures& figures)
{
    const Lettering lettering(job, figures);
    std::vector<Letters> all;
    for (const PanelItem& item : job.plan.panel->items)
        all.push_back(lettering.of(item));
    return all;
}

std::string oneLine(std::string letters)
{
    std::ranges::replace(letters, '\n', ' ');
    return letters;
}

std::optional<double> promisedVolts(const std::string& letters)
{
    std::optional<double> most;
    for (std::size_t i = 0; i < letters.size();) {
        if (std::isdigit(static_cast<unsigned char>(letters[i])) == 0) {
            ++i;
            continue;
        }
        const char* const end = letters.data() + letters.size();
        double value = 0;
        const auto read = std::from_chars(letters.data() + i, end, value);
        i = static_cast<std::size_t>(read.ptr - letters.data());
        const std::size_t unit = letters.find_first_not_of(' ', i);
        if (read.ec == std::errc() && unit != std::string::npos && letters[unit] == 'V')
            most = std::max(most.value_or(0), value);
    }
    return most;
}

} // namespace offshoot
