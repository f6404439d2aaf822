#include "bench/meter_commands.h"

#include "core/values/csv_rows.h"

#include <algorithm>

namespace offshoot::bench {

Parsed<std::vector<MeterCommands>> readMeterCommands(std::string_view text)
{
    const auto rows = csv::split(text);
    std::vector<MeterCommands> table;
    if (rows.empty())
        return table;
    const auto& header = rows.front().second;
    for (std::size_t i = 1; i < rows.size(); ++i) {
        const csv::Cells cells(header, rows[i].second);
        const auto cell = [&](const char* name) { return QString::fromStdString(cells[name]).trimmed(); };
        MeterCommands row;
        row.name = cell("name");
        row.answers = cell("answers");
        row.identify = cell("identify").toLatin1();
        row.function = cell("function").toLatin1();
        row.value = cell("value").toLatin1();
        const QString ends = cell("ends").toLower();
        if (row.name.isEmpty() || row.value.isEmpty())
            return csv::problemAt(rows[i].first, "a meter has a name and what its value is asked with");
        if (row.function.isEmpty())
            return csv::problemAt(rows[i].first, "what it measures is asked (FUNC?) or said (=VOLT)");
        if (ends == QLatin1StringView("crlf"))
            row.ends = "\r\n";
        else if (ends == QLatin1StringView("cr"))
            row.ends = "\r";
        else if (!ends.isEmpty() && ends != QLatin1StringView("lf"))
            return csv::problemAt(rows[i].first, "a question ends with lf, cr or crlf");
        table.push_back(std::move(row));
    }
    return table;
}

const MeterCommands* commandsNamed(const std::vector<MeterCommands>& table, const QString& name)
{
    const auto at = std::ranges::find_if(
        table, [&](const MeterCommands& row) { return row.name.compare(name, Qt::CaseInsensitive) == 0; });
    return at == table.end() ? nullptr : &*at;
}

const MeterCommands* commandsFor(const std::vector<MeterCommands>& table, const QString& identity)
{
    const auto at = std::ranges::find_if(table, [&](const MeterCommands& row) {
        return !row.answers.isEmpty() && identity.contains(row.answers, Qt::CaseInsensitive);
    });
    return at == table.end() ? nullptr : &*at;
}

} // namespace offshoot::bench
