#include "core/kinds/parts_list.h"

#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

void PartList::add(std::string name, std::string where, std::string replaces, bool to_get)
{
    m_lines.push_back({std::move(name), std::move(where), std::move(replaces), to_get, false});
}

void PartList::addResistor(double ohm, const std::optional<double>& tolerance,
                           const std::optional<double>& power_w, std::string where, std::string replaces)
{
    add(formatOhms(ohm) + (tolerance ? ", " + formatPercent(*tolerance) : "") +
            (power_w ? ", " + watts(*power_w) : ""),
        std::move(where), std::move(replaces), !inDrawer(ohm, power_w));
}

bool PartList::inDrawer(double ohm, const std::optional<double>& power_w) const
{
    return std::ranges::any_of(m_job.drawer, [&](const StockItem& item) {
        return std::abs(item.ohm - ohm) < 1e-9 * ohm && item.quantity != 0 &&
               (!power_w || item.power_w.value_or(0) >= *power_w);
    });
}

void PartList::addTool(const std::string& name, const std::string& where)
{
    if (std::ranges::none_of(m_lines, [&](const PartLine& line) { return line.name == name; }))
        m_lines.push_back({name, where, {}, true, true});
}

} // namespace offshoot
