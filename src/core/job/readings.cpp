#include "core/job/readings.h"

namespace offshoot {

std::set<std::string> struckIds(const std::vector<LogEntry>& log)
{
    std::set<std::string> struck;
    for (const LogEntry& entry : log)
        if (entry.kind == LogKind::Strike && entry.text)
            struck.insert(*entry.text);
    return struck;
}

const LogEntry* newestReading(const Job& job, std::string_view point, Quantity quantity,
                              const std::optional<std::string>& unit, std::optional<ReadingStage> stage)
{
    const auto struck = struckIds(job.log);
    const LogEntry* newest = nullptr;
    for (const LogEntry& entry : job.log)
        if (entry.kind == LogKind::Reading && entry.point == point && entry.quantity == quantity &&
            entry.unit == unit && (!stage || entry.stage == stage) && !struck.contains(entry.id))
            newest = &entry;
    return newest;
}

const LogEntry* newestAt(const Job& job, std::string_view point, const std::optional<std::string>& unit,
                         std::optional<Isolation> isolation, bool after_change)
{
    const auto struck = struckIds(job.log);
    const LogEntry* newest = nullptr;
    for (const LogEntry& entry : job.log)
        if (entry.kind == LogKind::Reading && entry.point == point && entry.unit == unit &&
            (!isolation || entry.isolation == isolation) &&
            !(after_change && entry.stage == ReadingStage::Found) && !struck.contains(entry.id))
            newest = &entry;
    return newest;
}

const LogEntry* newestTick(const Job& job, std::string_view step)
{
    const auto struck = struckIds(job.log);
    const LogEntry* newest = nullptr;
    for (const LogEntry& entry : job.log)
        if (entry.kind == LogKind::Tick && entry.step == step && !struck.contains(entry.id))
            newest = &entry;
    return newest;
}

std::vector<const LogEntry*> liveVolts(const Job& job, std::string_view point,
                                       std::optional<ReadingStage> stage,
                                       const std::optional<std::string>& unit)
{
    const auto struck = struckIds(job.log);
    std::vector<const LogEntry*> read;
    for (const LogEntry& entry : job.log)
        if (entry.kind == LogKind::Reading && entry.point == point && entry.quantity == Quantity::Voltage &&
            entry.isolation == Isolation::Live && entry.unit == unit && (!stage || entry.stage == stage) &&
            !struck.contains(entry.id))
            read.push_back(&entry);
    return read;
}

std::vector<const LogEntry*> foundReadings(const Job& job, const Rail& rail)
{
    return liveVolts(job, rail.name, ReadingStage::Found);
}

} // namespace offshoot
